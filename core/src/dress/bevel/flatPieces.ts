import { foldBent, sizeOf, topologyOf, type PolyMesh } from '../../mesh/index.ts';

/** Faces that bend by less than this share of the size are flat. */
export const FLAT_FACE = 1e-9;

/** Edges of a mesh, and widths that some of them have. */
interface OnEdges {
  edges: readonly number[];
  widths?: ReadonlyMap<number, number>;
}

/** A mesh with its bent faces in flat pieces, and edges of it with their numbers there; null where none is bent. */
export function onFlatPieces<O extends OnEdges>(m: PolyMesh, options: O): { mesh: PolyMesh; options: O } | null {
  const folded = foldBent(m, FLAT_FACE * sizeOf(m), () => true);
  if (!folded) return null;
  const [t, now] = [topologyOf(m), topologyOf(folded.mesh)];
  const edge = (e: number): number => now.edge[folded.corner[t.edgeCorner[e]!]!]!;
  const widths = options.widths && new Map([...options.widths].map(([e, w]) => [edge(e), w]));
  return { mesh: folded.mesh, options: { ...options, edges: options.edges.map(edge), widths } };
}
