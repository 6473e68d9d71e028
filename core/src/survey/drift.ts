import { checkCancelled, SpatialIndex, type OpContext, type PolyMesh } from '../mesh/index.ts';

/** The vertex of one mesh that is furthest from the other, mm. */
export interface Furthest {
  distance: number;
  point: [number, number, number];
}

/** Between looks at the signal. */
const EVERY = 4096;

/**
 * How far the vertices of a mesh get from the surface of another: the greatest distance, mm, and where. One way only: what the other has beside it is
 * found the other way round. Null where either has no faces.
 */
export function furthestVertex(from: PolyMesh, to: PolyMesh, ctx?: OpContext): Furthest | null {
  if (!from.corners.length || !to.corners.length) return null;
  const index = new SpatialIndex(to);
  const P = from.positions;
  let best: Furthest = { distance: 0, point: [P[0]!, P[1]!, P[2]!] };
  for (let v = 0; v < P.length / 3; v++) {
    if (v % EVERY === 0) checkCancelled(ctx);
    const p: [number, number, number] = [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!];
    const d = index.closest(p)!.distance;
    if (d > best.distance) best = { distance: d, point: p };
  }
  return best;
}
