import { faceBegin, faceEnd, type PolyMesh } from './polymesh.ts';

/**
 * Writes the plane of a polygon into `out` at `at`: unit normal (3), a point on it (3, the mean of the corners),
 * by Newell's method over the corners `begin … end − 1` of one boundary. Returns twice the area.
 * Coordinates are taken relative to the first corner, so that a part far from the origin keeps its digits.
 * Source: Sutherland, Sproull and Schumacker, "A Characterization of Ten Hidden-Surface Algorithms", 1974 (Newell).
 */
export function newellPlane(
  P: Float64Array,
  corners: ArrayLike<number>,
  begin: number,
  end: number,
  out: Float64Array,
  at: number,
): number {
  const o = 3 * corners[begin]!;
  const rx = P[o]!;
  const ry = P[o + 1]!;
  const rz = P[o + 2]!;
  let nx = 0;
  let ny = 0;
  let nz = 0;
  let cx = 0;
  let cy = 0;
  let cz = 0;
  const last = 3 * corners[end - 1]!;
  let ax = P[last]! - rx;
  let ay = P[last + 1]! - ry;
  let az = P[last + 2]! - rz;
  for (let c = begin; c < end; c++) {
    const b = 3 * corners[c]!;
    const bx = P[b]! - rx;
    const by = P[b + 1]! - ry;
    const bz = P[b + 2]! - rz;
    nx += ay * bz - az * by;
    ny += az * bx - ax * bz;
    nz += ax * by - ay * bx;
    cx += bx;
    cy += by;
    cz += bz;
    ax = bx;
    ay = by;
    az = bz;
  }
  const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
  const s = length > 0 ? 1 / length : 0;
  const k = 1 / (end - begin);
  out[at] = nx * s;
  out[at + 1] = ny * s;
  out[at + 2] = nz * s;
  out[at + 3] = rx + cx * k;
  out[at + 4] = ry + cy * k;
  out[at + 5] = rz + cz * k;
  return length;
}

/** Writes two unit vectors that span the plane of unit normal n = N[at …] into out[0 … 5], so that u × v = n. */
export function planeBasis(N: ArrayLike<number>, at: number, out: Float64Array): void {
  const x = N[at]!;
  const y = N[at + 1]!;
  const z = N[at + 2]!;
  const ax = Math.abs(x);
  const ay = Math.abs(y);
  const az = Math.abs(z);
  let ux = 0;
  let uy = 0;
  let uz = 0;
  if (ax <= ay && ax <= az) {
    uy = -z;
    uz = y;
  } else if (ay <= az) {
    ux = z;
    uz = -x;
  } else {
    ux = -y;
    uy = x;
  }
  const k = 1 / Math.sqrt(ux * ux + uy * uy + uz * uz);
  ux *= k;
  uy *= k;
  uz *= k;
  out[0] = ux;
  out[1] = uy;
  out[2] = uz;
  out[3] = y * uz - z * uy;
  out[4] = z * ux - x * uz;
  out[5] = x * uy - y * ux;
}

/** Unit normal and mean corner of face f's outer boundary, six numbers. */
export function facePlane(m: PolyMesh, f: number): Float64Array {
  const out = new Float64Array(6);
  newellPlane(m.positions, m.corners, faceBegin(m, f), m.loopStart[m.faceLoops[f]! + 1]!, out, 0);
  return out;
}

const own = new Float64Array(6);

/** Greatest distance (mm) of a face's corners from its own mean plane: 0 for a flat face. */
export function faceBend(m: PolyMesh, f: number): number {
  const begin = faceBegin(m, f);
  const end = faceEnd(m, f);
  if (end - begin < 4) return 0;
  newellPlane(m.positions, m.corners, begin, m.loopStart[m.faceLoops[f]! + 1]!, own, 0);
  return boundaryBend(m.positions, m.corners, begin, end, own, 0);
}

/** Greatest distance of the corners `begin … end − 1` from the plane Q[at …] (normal, point). */
export function boundaryBend(
  P: Float64Array,
  corners: ArrayLike<number>,
  begin: number,
  end: number,
  Q: Float64Array,
  at: number,
): number {
  let worst = 0;
  for (let c = begin; c < end; c++) {
    const v = 3 * corners[c]!;
    const d =
      Q[at]! * (P[v]! - Q[at + 3]!) + Q[at + 1]! * (P[v + 1]! - Q[at + 4]!) + Q[at + 2]! * (P[v + 2]! - Q[at + 5]!);
    if (d > worst) worst = d;
    else if (-d > worst) worst = -d;
  }
  return worst;
}
