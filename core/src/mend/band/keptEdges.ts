import { dot, faceNormals, topologyOf, type PolyMesh, type Vec3 } from '../../mesh/index.ts';

/** Edges where the surface bends by more (degrees) are kept. */
const BEND = 35;

/** Which edges (by a corner) a band keeps: sharp ones, those that carry a mark, and those between two paints. */
export function keptEdges(m: PolyMesh): (corner: number) => boolean {
  const { face, opposite } = topologyOf(m);
  const { hard, crease, bevelWidth, seam, slot, mark } = m.layers;
  const normals = faceNormals(m);
  const normal = (f: number): Vec3 => [normals[3 * f]!, normals[3 * f + 1]!, normals[3 * f + 2]!];
  const bent = Math.cos((BEND * Math.PI) / 180);
  return (c) => {
    const o = opposite[c]!;
    if ([hard, crease, bevelWidth, seam].some((layer) => layer?.[c] || (o >= 0 && layer?.[o]))) return true;
    if (o < 0) return true;
    const [f, g] = [face[c]!, face[o]!];
    return dot(normal(f), normal(g)) < bent || [slot, mark].some((layer) => layer && layer[f] !== layer[g]);
  };
}
