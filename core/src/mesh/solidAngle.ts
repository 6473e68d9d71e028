/**
 * The solid angle of a triangle, whose nine coordinates begin at `i`, from a place: positive where its back is seen, 0
 * in its plane beside it.
 * Source: A. van Oosterom, J. Strackee, The Solid Angle of a Plane Triangle, IEEE Transactions on Biomedical
 * Engineering 30 (1983).
 */
export function solidAngle(P: Float64Array, i: number, p: ArrayLike<number>): number {
  const ax = P[i]! - p[0]!;
  const ay = P[i + 1]! - p[1]!;
  const az = P[i + 2]! - p[2]!;
  const bx = P[i + 3]! - p[0]!;
  const by = P[i + 4]! - p[1]!;
  const bz = P[i + 5]! - p[2]!;
  const cx = P[i + 6]! - p[0]!;
  const cy = P[i + 7]! - p[1]!;
  const cz = P[i + 8]! - p[2]!;
  const a = Math.sqrt(ax * ax + ay * ay + az * az);
  const b = Math.sqrt(bx * bx + by * by + bz * bz);
  const c = Math.sqrt(cx * cx + cy * cy + cz * cz);
  const volume = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
  const below =
    a * b * c +
    (ax * bx + ay * by + az * bz) * c +
    (bx * cx + by * cy + bz * cz) * a +
    (cx * ax + cy * ay + cz * az) * b;
  return 2 * Math.atan2(volume, below);
}
