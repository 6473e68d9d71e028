import {
  faceCount,
  faceNormals,
  topologyOf,
  type Flat,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../../mesh/index.ts';
import { corner, MeshEdit } from '../meshEdit.ts';
import { badness } from './flatMesh.ts';
import { isConvex, paired } from './pairs.ts';

/**
 * Makes triangles beside each other quads, the best pairs first: where the surface bends by at most so many degrees
 * between them, the edge between is neither hard nor cut nor a border of slots, and the quad is convex. `of` tells for
 * each face of the result the face that it was, or the first of its pair; `pairs` the second by the first.
 */
export function pairTriangles(
  m: PolyMesh,
  wanted: (f: number) => boolean,
  bend: number,
): { mesh: PolyMesh; pairs: ReadonlyMap<number, number>; of: Int32Array } {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const { hard, seam, slot } = m.layers;
  const isTriangle = (f: number) =>
    m.faceLoops[f + 1]! - m.faceLoops[f]! === 1 &&
    m.loopStart[m.faceLoops[f + 1]!]! - m.loopStart[m.faceLoops[f]!]! === 3;
  const level = Math.cos((bend * Math.PI) / 180);
  const at = (v: number): Vec3 => vertexPlace(m, v);
  const pairs: { one: number; two: number; cost: number; corner: number }[] = [];
  for (const c of t.edgeCorner) {
    const o = t.opposite[c]!;
    if (o < 0 || hard?.[c] || hard?.[o] || seam?.[c] || seam?.[o]) continue;
    const [f, g] = [t.face[c]!, t.face[o]!];
    if (!isTriangle(f) || !isTriangle(g) || f === g || !wanted(f) || !wanted(g) || slot?.[f] !== slot?.[g]) continue;
    const [n, k] = [f, g].map((x): Vec3 => [N[3 * x]!, N[3 * x + 1]!, N[3 * x + 2]!]) as [Vec3, Vec3];
    if (n[0] * k[0] + n[1] * k[1] + n[2] * k[2] < level) continue;
    const ring = [m.corners[c]!, m.corners[t.prev[o]!]!, m.corners[o]!, m.corners[t.prev[c]!]!];
    if (new Set(ring).size < 4) continue;
    const flat = laidFlat(ring.map(at), [n[0] + k[0], n[1] + k[1], n[2] + k[2]]);
    if (isConvex(flat)) pairs.push({ one: f, two: g, cost: badness(flat), corner: c });
  }
  const chosen = paired(pairs);
  if (!chosen.length) return { mesh: m, pairs: new Map(), of: Int32Array.from({ length: faceCount(m) }, (_, f) => f) };
  const e = new MeshEdit(m);
  const gone = new Set<number>();
  for (const { one, two, corner: c } of chosen) {
    const o = t.opposite[c]!;
    const ring = [t.next[o]!, t.prev[o]!, t.next[c]!, t.prev[c]!];
    e.replace(one, [{ from: one, boundaries: [ring.map((x) => corner(m.corners[x]!, x))] }]);
    e.remove(two);
    gone.add(two);
  }
  const of = Int32Array.from(Array.from({ length: faceCount(m) }, (_, f) => f).filter((f) => !gone.has(f)));
  return { mesh: e.done(), pairs: new Map(chosen.map(({ one, two }) => [one, two])), of };
}

/** Places seen along a way. */
function laidFlat(points: readonly Vec3[], way: Vec3): Flat[] {
  const l = Math.hypot(...way);
  const n = way.map((x) => x / l) as unknown as Vec3;
  const a: Vec3 = Math.abs(n[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0];
  const u: Vec3 = [n[1] * a[2] - n[2] * a[1], n[2] * a[0] - n[0] * a[2], n[0] * a[1] - n[1] * a[0]];
  const w: Vec3 = [n[1] * u[2] - n[2] * u[1], n[2] * u[0] - n[0] * u[2], n[0] * u[1] - n[1] * u[0]];
  const along = (p: Vec3, d: Vec3) => p[0] * d[0] + p[1] * d[1] + p[2] * d[2];
  return points.map((p): Flat => [along(p, u), along(p, w)]);
}
