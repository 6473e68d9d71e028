import type { Flat } from '../../../mesh/index.ts';
import { towards } from '../flatMesh.ts';
import { mirrored, mirrorsOf, Places, SAME_IMAGE, type Mirrors } from '../symmetry.ts';
import type { Draft } from './draft.ts';

/** A mirror line of a layout: the image of a place, and of each point the point that is its image. */
export interface Mirror {
  image(p: Flat): Flat;
  of: Int32Array;
}

/** The mirror lines of a face. */
export function mirrorsOfFace(rings: readonly (readonly Flat[])[]): Mirrors {
  let at = 0;
  return mirrorsOf(
    { points: rings.flat() },
    rings.map((r) => r.map(() => at++)),
  );
}

/**
 * The mirror lines of a face that a layout keeps before its points are moved: every point and every quad has its image;
 * `enough` of them at the most.
 */
export function mirrorsKept(m: Draft, { centre, radius, angles }: Mirrors, enough = Infinity): Mirror[] {
  if (!angles.length) return [];
  const used = [...new Set(m.quads.flat())];
  const places = new Places(m, SAME_IMAGE * radius);
  for (const v of used) places.add(v);
  const nameOf = (q: readonly number[]): string => [...q].sort((a, b) => a - b).join();
  const quads = new Set(m.quads.map(nameOf));
  const kept: Mirror[] = [];
  for (const angle of angles) {
    const image = mirrored(centre, angle);
    const of = new Int32Array(m.points.length).fill(-1);
    if (!used.every((v) => (of[v] = places.find(image(m.points[v]!)) ?? -1) >= 0)) continue;
    if (m.quads.every((q) => quads.has(nameOf(q.map((v) => of[v]!))))) kept.push({ image, of });
    if (kept.length >= enough) break;
  }
  return kept;
}

/** Moves each point to the middle between where it is and the image of its image, for every mirror line in turn. */
export function evenOut(m: Draft, mirrors: readonly Mirror[]): void {
  for (let round = 0; round < mirrors.length; round++)
    for (const { image, of } of mirrors) {
      const before = m.points.slice();
      for (const [v, w] of of.entries()) if (w >= 0) m.points[v] = towards(before[v]!, image(before[w]!), 0.5);
    }
}
