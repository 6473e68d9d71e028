import { faceBegin, faceEnd, topologyOf, type PolyMesh } from '../mesh/index.ts';

/** What elements of a mesh are: vertices, edges (each by the first corner that leaves along it) or faces. */
export type ElementKind = 'vertex' | 'edge' | 'face';

/** The edge that leaves along a corner, by its first corner. */
export function edgeAt(m: PolyMesh, corner: number): number {
  const { edge, edgeCorner } = topologyOf(m);
  return edgeCorner[edge[corner]!]!;
}

/** The vertices of an element. */
export function verticesOfElement(m: PolyMesh, on: ElementKind, x: number): number[] {
  if (on === 'vertex') return [x];
  if (on === 'edge') return [m.corners[x]!, m.corners[topologyOf(m).next[x]!]!];
  return [...m.corners.subarray(faceBegin(m, x), faceEnd(m, x))];
}
