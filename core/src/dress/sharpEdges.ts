import { faceNormals, topologyOf, type PolyMesh } from '../mesh/index.ts';

/**
 * A chain that has begun goes on over edges of this share of the angle, so that a seam does not end where it turns a
 * little less.
 */
const GOES_ON = 0.6;

/**
 * Edges (by number) at which the surface turns by more than an angle (degrees), and those that lead on from them at
 * hardly less: a chain that would end at a vertex goes on along the one edge there that turns by 0.6 of the angle at
 * least.
 */
export function sharpEdges(m: PolyMesh, angle: number): number[] {
  const t = topologyOf(m);
  const normals = faceNormals(m);
  const turn = new Float64Array(t.edgeCount);
  for (const c of t.edgeCorner) {
    const o = t.opposite[c]!;
    if (o < 0) continue;
    const [a, b] = [3 * t.face[c]!, 3 * t.face[o]!];
    const dot = normals[a]! * normals[b]! + normals[a + 1]! * normals[b + 1]! + normals[a + 2]! * normals[b + 2]!;
    turn[t.edge[c]!] = (Math.acos(Math.max(-1, Math.min(1, dot))) * 180) / Math.PI;
  }
  const at = new Map<number, number[]>();
  for (let e = 0; e < t.edgeCount; e++) {
    if (!(turn[e]! > GOES_ON * angle)) continue;
    const c = t.edgeCorner[e]!;
    for (const v of [m.corners[c]!, m.corners[t.next[c]!]!]) at.set(v, [...(at.get(v) ?? []), e]);
  }
  const taken = new Set<number>();
  const ends: number[] = [];
  const take = (e: number) => {
    taken.add(e);
    const c = t.edgeCorner[e]!;
    ends.push(m.corners[c]!, m.corners[t.next[c]!]!);
  };
  for (let e = 0; e < t.edgeCount; e++) if (turn[e]! > angle) take(e);
  while (ends.length) {
    const here = at.get(ends.pop()!)!;
    const others = here.filter((e) => !taken.has(e));
    if (here.length === 2 && others.length === 1) take(others[0]!);
  }
  return [...taken].sort((a, b) => a - b);
}
