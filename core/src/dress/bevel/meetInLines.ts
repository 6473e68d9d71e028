import {
  faceBegin,
  faceEnd,
  lengthOf,
  nearestOn,
  sub,
  topologyOf,
  vertexCount,
  type PolyMesh,
  type Vec3,
  vertexPlace,
  pairsThatMeet,
} from '../../mesh/index.ts';
import { mergeVertices, MeshEdit, putIntoEdges } from '../../mend/index.ts';

/**
 * Whether a face is nowhere wider than a distance, mm: each of its corners is as near to an edge of its boundaries that
 * does not begin or end there.
 */
function isThin(m: PolyMesh, f: number, within: number): boolean {
  const { next } = topologyOf(m);
  for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
    const v = m.corners[c]!;
    let near = false;
    for (let d = faceBegin(m, f); d < faceEnd(m, f) && !near; d++) {
      const [a, b] = [m.corners[d]!, m.corners[next[d]!]!];
      near =
        a !== v && b !== v && nearestOn(vertexPlace(m, v), vertexPlace(m, a), vertexPlace(m, b)).distance <= within;
    }
    if (!near) return false;
  }
  return true;
}

/** Those of the first `count` faces that are nowhere wider than a distance, mm. */
export const thinFaces = (m: PolyMesh, count: number, within: number): number[] =>
  Array.from({ length: count }, (_, f) => f).filter((f) => isThin(m, f, within));

/**
 * Lets what lies on both sides of faces that are hardly wider than nothing meet in lines: edges of the one side take
 * the vertices of the other, vertices nearer to each other than the distance (mm) become one, and the faces go. Of the
 * first `count` faces those are looked at. Null where there is no such face, or where other edges would be open or
 * crowded afterwards, or faces cut through each other.
 */
export function meetInLines(m: PolyMesh, count: number, within: number): PolyMesh | null {
  const thin = thinFaces(m, count, within);
  if (!thin.length) return null;
  const e = new MeshEdit(m);
  const t = e.topology;
  const into = Int32Array.from({ length: vertexCount(m) }, (_, v) => v);
  const root = (v: number): number => (into[v] === v ? v : (into[v] = root(into[v]!)));
  const places = new Map<number, { v: number; share: number }[]>();
  for (const f of thin) {
    const corners = Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) => faceBegin(m, f) + i);
    for (const c of corners) {
      const v = m.corners[c]!;
      for (const d of corners) {
        const [a, b] = [m.corners[d]!, m.corners[t.next[d]!]!];
        if (lengthOf(sub(vertexPlace(m, v), vertexPlace(m, a))) <= within) into[root(v)] = root(a);
        if (a === v || b === v) continue;
        const { share, distance } = nearestOn(vertexPlace(m, v), vertexPlace(m, a), vertexPlace(m, b));
        const long = lengthOf(sub(vertexPlace(m, b), vertexPlace(m, a)));
        if (distance > within || share * long <= within || (1 - share) * long <= within) continue;
        const edge = t.edge[d]!;
        const along = m.corners[t.edgeCorner[edge]!] === a ? share : 1 - share;
        places.set(edge, [...(places.get(edge) ?? []), { v, share: along }]);
      }
    }
  }
  putIntoEdges(
    e,
    new Map([...places].map(([edge, list]) => [edge, list.sort((x, y) => x.share - y.share).map((x) => x.v)])),
  );
  const split = e.done();
  // Vertices that become one go half way to each other.
  const groups = new Map<number, number[]>();
  for (let v = 0; v < into.length; v++)
    if (root(v) !== v) groups.set(root(v), [...(groups.get(root(v)) ?? [root(v)]), v]);
  const number = (v: number) => e.numbers[v]!;
  const now = Int32Array.from({ length: vertexCount(split) }, (_, v) => v);
  const middles = new Map<number, Vec3>();
  for (const [r, list] of groups) {
    const middle = [0, 1, 2].map(
      (k) => list.reduce((s, v) => s + m.positions[3 * v + k]!, 0) / list.length,
    ) as unknown as Vec3;
    middles.set(number(r), middle);
    for (const v of list) now[number(v)] = number(r);
  }
  const { mesh } = mergeVertices(split, { into: now, places: middles });
  return openEdges(mesh) === openEdges(m) && !pairsThatMeet(mesh).length ? mesh : null;
}

/** Edges that have not two faces. */
const openEdges = (m: PolyMesh): number => topologyOf(m).opposite.reduce((n, o) => n + (o < 0 ? 1 : 0), 0);
