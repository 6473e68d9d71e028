import {
  faceBegin,
  faceCount,
  faceEnd,
  sizeOf,
  topologyOf,
  withSlot,
  withSource,
  type PolyMesh,
} from '../../mesh/index.ts';
import { damaged, DAMAGES, type Damage, elementsOf, type ElementKind } from '../../mend/index.ts';

/** Random values for a trial: numbers from 0 to 1, one of a list, and a length that suits the mesh, mm. */
export interface Dice {
  random: () => number;
  one: <T>(...list: T[]) => T;
  some: number;
}

/** Dice for a mesh of a size, mm. */
export const diceOf = (size: number, random: () => number): Dice => ({
  random,
  one: (...list) => list[Math.floor(random() * list.length)]!,
  some: size * 0.3 * random() + 1e-3,
});

/** How a stroke is tried on random meshes, and what must hold of what comes out. */
export interface StrokeTrial {
  /** Its settings; left out, each field of its declaration at random. */
  settings?(dice: Dice): Record<string, unknown>;
  /** What it works on; left out or null, a few elements at random. */
  picks?(m: PolyMesh, dice: Dice, on: ElementKind): number[] | null;
  /** What is made of a sound mesh before. */
  given?(m: PolyMesh, random: () => number): PolyMesh;
  /** It works on sheets alone. */
  sheets?: boolean;
  /** What stays: the surface itself, its area and volume; or its form, in how many holes go through it. */
  keeps?: 'surface' | 'form';
  /** The surface is shaped anew, so that its light is that of its faces again. */
  relit?: boolean;
  /** No texture coordinates come out. */
  dropsUvs?: boolean;
  /** It may open what was closed. */
  opens?: boolean;
}

/** Both ends of an edge. */
export function edgeEnds(m: PolyMesh, random: () => number): number[] {
  const t = topologyOf(m);
  const edge = t.edgeCorner[Math.floor(random() * t.edgeCount)]!;
  return [m.corners[edge]!, m.corners[t.next[edge]!]!];
}

/** A cut’s own seam, where there is one, or the edges of a face. */
export function seamOrFace(m: PolyMesh, random: () => number): number[] {
  const t = topologyOf(m);
  const seam = elementsOf(m, 'edge').filter((c) => m.layers.seam?.[c]);
  if (seam.length) return seam;
  const f = Math.floor(random() * faceCount(m));
  const around = Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) => t.edge[faceBegin(m, f) + i]!);
  return [...new Set(around.map((e) => t.edgeCorner[e]!))];
}

export const everything = (m: PolyMesh, _dice: Dice, on: ElementKind): number[] => elementsOf(m, on);

/** The edges of two faces that have as many corners and no vertex in common. */
export function twoBoundaries(m: PolyMesh): number[] | null {
  const t = topologyOf(m);
  const corners = (f: number) => Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) => faceBegin(m, f) + i);
  for (let f = 0; f < faceCount(m); f++)
    for (let g = f + 1; g < faceCount(m); g++) {
      const [a, b] = [corners(f), corners(g)];
      const own = new Set(a.map((c) => m.corners[c]!));
      if (a.length !== b.length || b.some((c) => own.has(m.corners[c]!))) continue;
      return [...a, ...b].map((c) => t.edgeCorner[t.edge[c]!]!);
    }
  return null;
}

/** A mesh with damage of some kinds, its layers with it. */
export function hurt(m: PolyMesh, random: () => number, kinds: readonly Damage[] = DAMAGES): PolyMesh {
  const whole = Array.from({ length: faceCount(m) }, (_, f) => m.faceLoops[f + 1]! - m.faceLoops[f]! === 1);
  if (!whole.every(Boolean)) return m;
  const some = kinds.length > 1 ? kinds.filter(() => random() < 0.2) : kinds;
  const made = damaged(m, some, random, sizeOf(m));
  if (!faceCount(made)) return m;
  const sourced = withSource(made, 1, 1);
  return { ...withSlot(sourced, 'Steel'), layers: { ...sourced.layers, slot: new Int32Array(faceCount(sourced)) } };
}
