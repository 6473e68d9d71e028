import { meshFromFaces, topologyOf, triangulateMesh, type PolyMesh } from '../mesh/index.ts';

// Meshes that tests of mends share, and how they name what they work on.

/** A square grid of n × n quads, `side` mm each, the vertices row by row. */
export function grid(n: number, side = 1): PolyMesh {
  const P = Array.from({ length: (n + 1) ** 2 }, (_, i) => [
    side * (i % (n + 1)),
    side * Math.floor(i / (n + 1)),
    0,
  ]).flat();
  const faces = Array.from({ length: n * n }, (_, f) => {
    const v = (f % n) + (n + 1) * Math.floor(f / n);
    return [v, v + 1, v + n + 2, v + n + 1];
  });
  return meshFromFaces(P, faces);
}

/** The number of the vertex at a place. */
export function vertexAt(m: PolyMesh, ...p: number[]): number {
  for (let v = 0; v < m.positions.length / 3; v++)
    if (p.every((x, k) => Math.abs(m.positions[3 * v + k]! - x) < 1e-9)) return v;
  throw new Error(`No vertex at ${p.join()}.`);
}

/** The edge between two vertices, by its first corner. */
export function edgeOf(m: PolyMesh, a: number, b: number): number {
  const t = topologyOf(m);
  const found = [...t.edgeCorner].find(
    (c) => [a, b].includes(m.corners[c]!) && [a, b].includes(m.corners[t.next[c]!]!),
  );
  if (found === undefined) throw new Error(`No edge between ${a} and ${b}.`);
  return found;
}

/** The place of a vertex. */
export const placeOfVertex = (m: PolyMesh, v: number): number[] => [...m.positions.slice(3 * v, 3 * v + 3)];

/** Corners of each face, sorted. */
export const sidesOf = (m: PolyMesh): number[] =>
  Array.from(
    { length: m.faceLoops.length - 1 },
    (_, f) => m.loopStart[m.faceLoops[f + 1]!]! - m.loopStart[m.faceLoops[f]!]!,
  ).sort((a, b) => a - b);

/** A mesh with every face cut into triangles. */
export function inTriangles(m: PolyMesh): PolyMesh {
  const { triangles } = triangulateMesh(m);
  const corners = [...triangles].map((c) => m.corners[c]!);
  return meshFromFaces(
    [...m.positions],
    Array.from({ length: corners.length / 3 }, (_, i) => corners.slice(3 * i, 3 * i + 3)),
  );
}
