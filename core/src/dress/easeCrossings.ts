import {
  faceBegin,
  faceCount,
  faceEnd,
  pairsThatMeet,
  sharedTopology,
  vertexCount,
  type OpContext,
  type PolyMesh,
} from '../mesh/index.ts';

/** A smoothed mesh whose vertices are held back where it would cut through itself. */
export interface Eased {
  mesh: PolyMesh;
  /** Those that are held back. */
  vertices: Set<number>;
  /** Faces that meet even so. */
  left: number[];
}

/** A vertex of faces that meet goes half as far each time; when it goes less far than this share, not at all. */
const LEAST_SHARE = 1 / 8;

/**
 * Holds vertices back where a smoothed mesh cuts through itself: those of faces that meet go half of the way, a quarter
 * of it, …, none of it, from where they were, until the faces no longer meet. Faces that met before are left as they
 * come. `straight`: where vertices were, three numbers each; `still`: vertices that do not go at all.
 */
export function easeCrossings(
  smooth: PolyMesh,
  straight: Float64Array,
  still: ReadonlySet<number>,
  ctx?: OpContext,
): Eased {
  const share = new Float64Array(vertexCount(smooth)).fill(1);
  for (const v of still) share[v] = 0;
  const vertices = new Set(still);
  const placed = (): PolyMesh => {
    if (!vertices.size) return smooth;
    const positions = smooth.positions.slice();
    for (const v of vertices)
      for (let i = 3 * v; i < 3 * v + 3; i++)
        positions[i] = straight[i]! + share[v]! * (smooth.positions[i]! - straight[i]!);
    return sharedTopology({ ...smooth, positions }, smooth);
  };
  let mesh = placed();
  let met = pairsThatMeet(mesh, { ctx });
  if (!met.length) return { mesh, vertices, left: [] };
  const nameOf = ([f, g]: readonly [number, number]): number => f * faceCount(smooth) + g;
  const before = new Set(pairsThatMeet({ ...smooth, positions: straight }, { ctx }).map(nameOf));
  for (;;) {
    const now = new Set<number>();
    for (const pair of met) {
      if (before.has(nameOf(pair))) continue;
      for (const f of pair) for (const v of verticesOf(smooth, f)) if (share[v]! > 0) now.add(v);
    }
    if (!now.size) return { mesh, vertices, left: [...new Set(met.flat())] };
    for (const v of now) {
      const half = share[v]! / 2;
      share[v] = half < LEAST_SHARE ? 0 : half;
      vertices.add(v);
    }
    mesh = placed();
    met = pairsThatMeet(mesh, { wanted: (f) => verticesOf(smooth, f).some((v) => vertices.has(v)), ctx });
  }
}

/** The vertices of a face, of all its boundaries. */
export const verticesOf = (m: PolyMesh, f: number): Int32Array => m.corners.subarray(faceBegin(m, f), faceEnd(m, f));
