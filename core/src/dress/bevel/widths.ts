import {
  add,
  cross,
  dot,
  lengthOf,
  sub,
  topologyOf,
  unit,
  type PolyMesh,
  type Surface,
  type Vec3,
  vertexPlace,
} from '../../mesh/index.ts';
import { RAIL, ROUNDED, SOFT } from './bevelLoops.ts';

/**
 * How the size of a bevel is meant: along the faces, as the radius of the ball that rolls in it, as the depth of its
 * flat below the edge, or as a share of the shortest edge that meets the chain.
 */
export const BEVEL_MEASURES = ['offset', 'radius', 'depth', 'share'] as const;
export type BevelMeasure = (typeof BEVEL_MEASURES)[number];

/** Edges that are not rounded hold where the surface turns by more (degrees) or where they are marked as hard. */
const HOLDS = 30;

/**
 * What becomes of each edge: rounded those asked for that have two faces, rails those that hold, the others are walked
 * over.
 */
export function edgeRoles(m: PolyMesh, edges: readonly number[], surface: Surface): Uint8Array {
  const t = topologyOf(m);
  const role = new Uint8Array(t.edgeCount);
  const limit = Math.cos((HOLDS * Math.PI) / 180);
  const { hard } = m.layers;
  for (const c of t.edgeCorner) {
    const o = t.opposite[c]!;
    const holds =
      o < 0 || hard?.[c] || hard?.[o] || dot(surface.normal(t.face[c]!), surface.normal(t.face[o]!)) < limit;
    role[t.edge[c]!] = holds ? RAIL : SOFT;
  }
  for (const e of edges) {
    const c = t.edgeCorner[e]!;
    if (t.opposite[c]! >= 0 && turnAt(m, surface, c) !== 0) role[e] = ROUNDED;
  }
  return role;
}

/**
 * The angle by which the surface turns over the edge of a corner, radians: negative in a hollow, 0 where it is flat.
 */
export function turnAt(m: PolyMesh, surface: Surface, c: number): number {
  const t = topologyOf(m);
  const [a, b] = [surface.normal(t.face[c]!), surface.normal(t.face[t.opposite[c]!]!)];
  const n = cross(a, b);
  const along = unit(sub(surface.at(m.corners[t.next[c]!]!), surface.at(m.corners[c]!)));
  const angle = Math.atan2(lengthOf(n), dot(a, b));
  return angle < NO_TURN ? 0 : dot(n, along) < 0 ? -angle : angle;
}

/** Edges over which the surface turns by less (radians) have nothing to round. */
const NO_TURN = 1e-6;

/**
 * How far along the faces a bevel of a size goes at an edge over which the surface turns by an angle (radians);
 * `beside` is the shortest edge that meets its chain, mm.
 */
export function alongFaces(size: number, turn: number, measure: BevelMeasure, beside: number): number {
  const half = Math.abs(turn) / 2;
  if (measure === 'share') return size * beside;
  return measure === 'offset' ? size : measure === 'radius' ? size * Math.tan(half) : size / Math.sin(half);
}

/** Chains of rounded edges: those that meet at vertices. Per vertex the number of its chain, −1 for none. */
export function chainsOf(m: PolyMesh, role: Uint8Array): { of: Int32Array; count: number } {
  const t = topologyOf(m);
  const of = new Int32Array(m.positions.length / 3).fill(-1);
  const next = new Map<number, number[]>();
  const ends = (c: number) => [m.corners[c]!, m.corners[t.next[c]!]!] as const;
  for (const c of t.edgeCorner) {
    if (role[t.edge[c]!] !== ROUNDED) continue;
    const [a, b] = ends(c);
    for (const [x, y] of [
      [a, b],
      [b, a],
    ] as const)
      next.set(x, [...(next.get(x) ?? []), y]);
  }
  let count = 0;
  for (const first of next.keys()) {
    if (of[first]! >= 0) continue;
    const todo = [first];
    of[first] = count;
    while (todo.length)
      for (const v of next.get(todo.pop()!)!)
        if (of[v]! < 0) {
          of[v] = count;
          todo.push(v);
        }
    count++;
  }
  return { of, count };
}

/** For each chain the shortest edge that meets it, mm, of those that hold; where none does, of its own. */
export function shortestBeside(
  m: PolyMesh,
  role: Uint8Array,
  { of, count }: ReturnType<typeof chainsOf>,
): Float64Array {
  const t = topologyOf(m);
  const beside = new Float64Array(count).fill(Infinity);
  const own = new Float64Array(count).fill(Infinity);
  for (const c of t.edgeCorner) {
    const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
    const long = Math.hypot(...[0, 1, 2].map((k) => m.positions[3 * a + k]! - m.positions[3 * b + k]!));
    const list = role[t.edge[c]!] === ROUNDED ? own : role[t.edge[c]!] === RAIL ? beside : null;
    for (const v of [a, b]) if (list && of[v]! >= 0) list[of[v]!] = Math.min(list[of[v]!]!, long);
  }
  return beside.map((x, k) => (Number.isFinite(x) ? x : own[k]!));
}

/** Along rounded edges no width changes faster than this, mm for each mm. */
const SLOPE = 0.25;

/**
 * Lessens shares until widths change no faster than they may along the edges: by `slope`, mm for each mm, which may
 * hang on the width.
 */
export function levelled(
  m: PolyMesh,
  role: Uint8Array,
  width: Float64Array,
  share: Float64Array,
  slope: (width: number) => number = () => SLOPE,
): void {
  const t = topologyOf(m);
  const edges: { a: number; b: number; step: number }[] = [];
  for (const c of t.edgeCorner) {
    const e = t.edge[c]!;
    if (role[e] !== ROUNDED) continue;
    const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
    const at = (v: number): Vec3 => vertexPlace(m, v);
    edges.push({ a, b, step: (slope(width[e]!) * lengthOf(add(at(a), at(b), -1))) / width[e]! });
  }
  for (let moved = true; moved;) {
    moved = false;
    for (const { a, b, step } of edges)
      for (const [x, y] of [
        [a, b],
        [b, a],
      ] as const)
        if (share[x]! > share[y]! + step + 1e-12) {
          share[x] = share[y]! + step;
          moved = true;
        }
  }
}
