import { expect } from 'vitest';
import {
  areaAndVolume,
  components,
  genus,
  isClosed,
  topologyOf,
  transformMesh,
  type Affine,
  type PolyMesh,
  pairsThatMeet,
} from '../../mesh/index.ts';
import { carve, type CutOperation } from '../../carve/index.ts';
import { bevel, sharpEdges, type BevelWish } from '../index.ts';

// What tests of bevels have in common: bodies, and the closed forms of their roundings.

export const WISH: BevelWish = { width: 1, measure: 'offset', segments: 1, profile: 1, past: 'stop' };
export const round = (m: PolyMesh, wish: Partial<BevelWish> = {}, edges = sharpEdges(m, 30)) =>
  bevel(m, { edges, ...WISH, ...wish });
export const volume = (m: PolyMesh) => areaAndVolume(m).volume;
export const moved = (m: PolyMesh, x: number, y: number, z: number) =>
  transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z] as Affine);
export const cut = (m: PolyMesh, cutter: PolyMesh, operation: CutOperation = 'subtract') =>
  carve(m, { cutters: [cutter], operation }).mesh;
/** Edges of which both ends pass a test on their places. */
export function edgesWhere(m: PolyMesh, test: (x: number, y: number, z: number) => boolean): number[] {
  const t = topologyOf(m);
  const fits = (v: number) => test(m.positions[3 * v]!, m.positions[3 * v + 1]!, m.positions[3 * v + 2]!);
  return sharpEdges(m, 30).filter(
    (e) => fits(m.corners[t.edgeCorner[e]!]!) && fits(m.corners[t.next[t.edgeCorner[e]!]!]!),
  );
}
/** Closed, in as many pieces, of the same genus, and no face cuts through another. */
export function sound(m: PolyMesh, before: PolyMesh): void {
  expect([isClosed(m), genus(m), components(m).count]).toEqual([
    isClosed(before),
    genus(before),
    components(before).count,
  ]);
  expect(pairsThatMeet(m)).toEqual([]);
}
/** Places of a quarter circle of s parts: how far in and how far down, from the face to the wall. */
export const quarter = (w: number, s: number) =>
  Array.from({ length: s + 1 }, (_, k) => {
    const a = (Math.PI / 2) * (k / s);
    return { inward: w - w * Math.sin(a), down: w - w * Math.cos(a) };
  });
/**
 * What a rounded rim of an n-gon (apothem a) takes off or adds: frusta between n-gons of the apothems a + sign ·
 * inward.
 */
export function rim(a: number, n: number, w: number, s: number, sign: 1 | -1): number {
  const q = quarter(w, s);
  let sum = 0;
  for (let k = 0; k < s; k++) {
    const [p, r] = [a + sign * q[k]!.inward, a + sign * q[k + 1]!.inward];
    sum += ((q[k + 1]!.down - q[k]!.down) / 3) * (p * p + p * r + r * r) - a * a * (q[k + 1]!.down - q[k]!.down);
  }
  return n * Math.tan(Math.PI / n) * sum;
}
/** The area that a rounding of s parts takes off a right angle. */
export const corner = (w: number, s: number) => w * w - (s / 2) * w * w * Math.sin(Math.PI / 2 / s);
/** How far a place is from a box about the origin, outside. */
export const offBox = (p: number[], half: number[]) =>
  Math.hypot(...p.map((x, k) => Math.max(0, Math.abs(x) - half[k]!)));
export const places = (m: PolyMesh) =>
  Array.from({ length: m.positions.length / 3 }, (_, v) => [...m.positions.subarray(3 * v, 3 * v + 3)]);
