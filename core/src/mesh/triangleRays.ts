import { alongRay, Bvh, type TreeArrays } from './bvh.ts';
import type { Vec3 } from './vec.ts';

/** Up to this many triangles trying each takes less than a thousandth of a second. */
const TRY_EACH = 10_000;

/**
 * A tree over triangles of nine numbers each, for `firstTriangle`; null where there are so few that each may be tried.
 */
export function triangleTree(positions: Float32Array): TreeArrays | null {
  const n = positions.length / 9;
  if (n <= TRY_EACH) return null;
  const boxes = new Float32Array(6 * n);
  const items = new Int32Array(n);
  for (let t = 0; t < n; t++) {
    items[t] = t;
    for (let k = 0; k < 3; k++) {
      const a = positions[9 * t + k]!;
      const b = positions[9 * t + 3 + k]!;
      const c = positions[9 * t + 6 + k]!;
      boxes[6 * t + k] = Math.min(a, b, c);
      boxes[6 * t + 3 + k] = Math.max(a, b, c);
    }
  }
  return new Bvh(boxes, items).arrays();
}

/** First hit of a ray. */
export interface TriangleHit {
  triangle: number;
  /** In lengths of the direction. */
  distance: number;
}

/**
 * How far along a ray from `o`, in lengths of its direction `d`, a triangle is met whose corners stand in `P` from `a`,
 * `b` and `c` on; from either side. Infinity where it is not. Möller and Trumbore, "Fast, Minimum Storage Ray/Triangle
 * Intersection", 1997.
 */
export function alongTriangle(P: ArrayLike<number>, a: number, b: number, c: number, o: Vec3, d: Vec3): number {
  const [ax, ay, az] = [P[a]!, P[a + 1]!, P[a + 2]!];
  const [ex, ey, ez] = [P[b]! - ax, P[b + 1]! - ay, P[b + 2]! - az];
  const [gx, gy, gz] = [P[c]! - ax, P[c + 1]! - ay, P[c + 2]! - az];
  const [dx, dy, dz] = [d[0], d[1], d[2]];
  const [px, py, pz] = [dy * gz - dz * gy, dz * gx - dx * gz, dx * gy - dy * gx];
  const det = ex * px + ey * py + ez * pz;
  // Along its plane a ray meets no triangle: its neighbours have the hit.
  if (det === 0) return Infinity;
  const [wx, wy, wz] = [o[0] - ax, o[1] - ay, o[2] - az];
  const u = (wx * px + wy * py + wz * pz) / det;
  const [qx, qy, qz] = [wy * ez - wz * ey, wz * ex - wx * ez, wx * ey - wy * ex];
  const v = (dx * qx + dy * qy + dz * qz) / det;
  const distance = (gx * qx + gy * qy + gz * qz) / det;
  return u < 0 || v < 0 || u + v > 1 || distance < 0 ? Infinity : distance;
}

/**
 * The first of some triangles (nine numbers each, with their tree where there is one) that a ray meets; null for none.
 */
export function firstTriangle(P: Float32Array, tree: TreeArrays | null, o: Vec3, d: Vec3): TriangleHit | null {
  const best: TriangleHit = { triangle: -1, distance: Infinity };
  const meet = (triangle: number): undefined => {
    const at = 9 * triangle;
    const distance = alongTriangle(P, at, at + 3, at + 6, o, d);
    if (distance < best.distance) Object.assign(best, { triangle, distance });
  };
  if (tree) alongRay(tree, o, d, 0, meet);
  else for (let t = 0; t < P.length / 9; t++) meet(t);
  return best.triangle < 0 ? null : best;
}
