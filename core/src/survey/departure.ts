import { shadingNormals, triangulateMesh, type PolyMesh, type Vec3 } from '../mesh/index.ts';

/**
 * The normal that a surface is meant to have at a point on a face of it, unit; any length is taken, and either way
 * round.
 */
export type Intended = (face: number, point: Vec3) => Vec3;

/** Places in each triangle that are looked at, as shares of its corners: corners, middles of its sides, its middle. */
const TRIANGLE_SAMPLES = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
  [0.5, 0.5, 0],
  [0, 0.5, 0.5],
  [0.5, 0, 0.5],
  [1 / 3, 1 / 3, 1 / 3],
] as const;

export interface Departure {
  /** At the corners of each triangle of the picture (see `renderBuffers`), degrees. */
  values: Float32Array;
  /** At all places that were looked at, degrees. */
  samples: Float32Array;
  /** The worst of them, and where it is, mm. */
  worst: { angle: number; point: [number, number, number]; face: number };
}

/**
 * By how much the shading departs from the surface that is meant: at places over every triangle the angle between the
 * normal that a renderer will interpolate and the intended one. The triangles are those of the picture; another
 * receiver may cut polygons otherwise.
 */
export function departure(m: PolyMesh, intended: Intended): Departure {
  const shading = shadingNormals(m);
  const { triangles, face } = triangulateMesh(m);
  const values = new Float32Array(triangles.length);
  const samples = new Float32Array(TRIANGLE_SAMPLES.length * face.length);
  const worst: Departure['worst'] = { angle: 0, point: [0, 0, 0], face: 0 };
  const P = m.positions;
  for (let t = 0; t < face.length; t++) {
    const [a, b, c] = [triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!];
    const [p, q, r] = [3 * m.corners[a]!, 3 * m.corners[b]!, 3 * m.corners[c]!];
    TRIANGLE_SAMPLES.forEach(([u, v, w], s) => {
      const point = [0, 1, 2].map((k) => u * P[p + k]! + v * P[q + k]! + w * P[r + k]!) as [number, number, number];
      const n = [0, 1, 2].map(
        (k) => u * shading[3 * a + k]! + v * shading[3 * b + k]! + w * shading[3 * c + k]!,
      ) as unknown as Vec3;
      const angle = between(n, intended(face[t]!, point));
      samples[TRIANGLE_SAMPLES.length * t + s] = angle;
      if (s < 3) values[3 * t + s] = angle;
      if (angle > worst.angle) Object.assign(worst, { angle, point, face: face[t]! });
    });
  }
  return { values, samples, worst };
}

/** The angle between two directions, whichever way round the second is, degrees. Exact for small angles, too. */
function between(a: Vec3, b: Vec3): number {
  const x = a[1] * b[2] - a[2] * b[1];
  const y = a[2] * b[0] - a[0] * b[2];
  const z = a[0] * b[1] - a[1] * b[0];
  return (Math.atan2(Math.hypot(x, y, z), Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2])) * 180) / Math.PI;
}
