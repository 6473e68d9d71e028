import { dot, lengthOf, type Vec3 } from '../../mesh/index.ts';

/** A surface of the second degree: f(p) = c + b · p + ½ pᵀ A p, near the distance from it where it was fitted. */
export interface Quadric {
  value(p: Vec3): number;
  gradient(p: Vec3): Vec3;
}

/** How much the normals count against the places, for lengths of about 1. */
const OF_NORMALS = 0.5;

/**
 * The quadric that passes nearest to some places with their normals there: f ≈ 0 and ∇f ≈ n, by least squares, so that
 * planes, balls, cylinders and cones come out as they are. Linear in its ten coefficients. Null where places do not
 * settle them.
 */
export function fitQuadric(points: readonly Vec3[], normals: readonly Vec3[]): Quadric | null {
  const n = points.length;
  const middle = [0, 1, 2].map((k) => points.reduce((s, p) => s + p[k]!, 0) / n);
  const size = Math.max(...points.map((p) => Math.hypot(...p.map((x, k) => x - middle[k]!))));
  if (!(size > 0)) return null;
  const M = new Float64Array(100);
  const r = new Float64Array(10);
  const addRow = (row: readonly number[], value: number, weight: number) => {
    for (let i = 0; i < 10; i++) {
      r[i]! += weight * row[i]! * value;
      for (let j = 0; j < 10; j++) M[10 * i + j]! += weight * row[i]! * row[j]!;
    }
  };
  points.forEach((p, i) => {
    const [x, y, z] = p.map((v, k) => (v - middle[k]!) / size) as [number, number, number];
    const [a, b, c] = normals[i]!;
    addRow([1, x, y, z, (x * x) / 2, (y * y) / 2, (z * z) / 2, x * y, y * z, x * z], 0, 1);
    addRow([0, 1, 0, 0, x, 0, 0, y, 0, z], a, OF_NORMALS);
    addRow([0, 0, 1, 0, 0, y, 0, x, z, 0], b, OF_NORMALS);
    addRow([0, 0, 0, 1, 0, 0, z, 0, y, x], c, OF_NORMALS);
  });
  // What the places leave open is kept small.
  for (let i = 4; i < 10; i++) M[11 * i]! += 1e-9 * n;
  const q = solved(M, r);
  if (!q) return null;
  const [c, bx, by, bz, xx, yy, zz, xy, yz, xz] = q as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const own = (p: Vec3) => p.map((v, k) => (v - middle[k]!) / size) as unknown as Vec3;
  const gradient = (p: Vec3): Vec3 => {
    const [x, y, z] = own(p);
    return [bx + xx * x + xy * y + xz * z, by + xy * x + yy * y + yz * z, bz + xz * x + yz * y + zz * z];
  };
  const value = (p: Vec3): number => {
    const [x, y, z] = own(p);
    return (
      size *
      (c + bx * x + by * y + bz * z + (xx * x * x + yy * y * y + zz * z * z) / 2 + xy * x * y + yz * y * z + xz * x * z)
    );
  };
  return { value, gradient };
}

/** The place on a quadric that is reached from another along its gradient; null where it leads away. Newton. */
export function ontoQuadric(q: Quadric, from: Vec3, reach: number): Vec3 | null {
  let p = from;
  for (let i = 0; i < 20; i++) {
    const [f, g] = [q.value(p), q.gradient(p)];
    const gg = dot(g, g);
    if (!(gg > 1e-6)) return null;
    p = p.map((x, k) => x - (f * g[k]!) / gg) as unknown as Vec3;
    if (Math.abs(f) < 1e-12 * reach) break;
  }
  return lengthOf(p.map((x, k) => x - from[k]!) as unknown as Vec3) <= reach ? p : null;
}

/** The solution of ten equations, by elimination with the largest pivot; null where they do not settle it. */
function solved(M: Float64Array, r: Float64Array): number[] | null {
  const n = r.length;
  const A = Array.from({ length: n }, (_, i) => [...M.subarray(n * i, n * i + n), r[i]!]);
  for (let k = 0; k < n; k++) {
    let best = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(A[i]![k]!) > Math.abs(A[best]![k]!)) best = i;
    [A[k], A[best]] = [A[best]!, A[k]!];
    if (!(Math.abs(A[k]![k]!) > 1e-14)) return null;
    for (let i = k + 1; i < n; i++) {
      const f = A[i]![k]! / A[k]![k]!;
      for (let j = k; j <= n; j++) A[i]![j]! -= f * A[k]![j]!;
    }
  }
  const x = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--)
    x[i] = (A[i]![n]! - A[i]!.slice(i + 1, n).reduce((s, a, j) => s + a * x[i + 1 + j]!, 0)) / A[i]![i]!;
  return x;
}
