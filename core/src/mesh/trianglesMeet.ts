import { orient2d, orient3d } from 'robust-predicates';

/** Numbers of a triangle that is looked at: its corners relative to the middle of the box, its normal and distance. */
export const STRIDE = 13;

/** Whether triangle T[s …] reaches to both sides of the plane of T[t …] by more than a tolerance. */
export function straddles(T: Float64Array, s: number, t: number, tol: number): boolean {
  const x = T[t + 9]!;
  const y = T[t + 10]!;
  const z = T[t + 11]!;
  const d = T[t + 12]!;
  const a = x * T[s]! + y * T[s + 1]! + z * T[s + 2]! - d;
  const b = x * T[s + 3]! + y * T[s + 4]! + z * T[s + 5]! - d;
  const c = x * T[s + 6]! + y * T[s + 7]! + z * T[s + 8]! - d;
  // NaN where there is no plane: nothing is greater.
  return (a > tol || b > tol || c > tol) && (a < -tol || b < -tol || c < -tol);
}

/**
 * Whether an edge of triangle T[s …] with an end on either side of the plane of T[t …] hits it within `slack` of that
 * triangle.
 */
export function mayPierce(T: Float64Array, s: number, t: number, tol: number, slack: number): boolean {
  const x = T[t + 9]!;
  const y = T[t + 10]!;
  const z = T[t + 11]!;
  const d = T[t + 12]!;
  let p = s + 6;
  let g = x * T[p]! + y * T[p + 1]! + z * T[p + 2]! - d;
  for (let q = s; q < s + 9; q += 3) {
    const h = x * T[q]! + y * T[q + 1]! + z * T[q + 2]! - d;
    if ((g > tol && h < -tol) || (g < -tol && h > tol)) {
      const k = g / (g - h);
      const hx = T[p]! + k * (T[q]! - T[p]!);
      const hy = T[p + 1]! + k * (T[q + 1]! - T[p + 1]!);
      const hz = T[p + 2]! + k * (T[q + 2]! - T[p + 2]!);
      let inside = true;
      let a = t + 6;
      for (let b = t; b < t + 9; b += 3) {
        const ex = T[b]! - T[a]!;
        const ey = T[b + 1]! - T[a + 1]!;
        const ez = T[b + 2]! - T[a + 2]!;
        const wx = hx - T[a]!;
        const wy = hy - T[a + 1]!;
        const wz = hz - T[a + 2]!;
        const inward = x * (ey * wz - ez * wy) + y * (ez * wx - ex * wz) + z * (ex * wy - ey * wx);
        if (inward < 0 && inward * inward > slack * slack * (ex * ex + ey * ey + ez * ez)) {
          inside = false;
          break;
        }
        a = b;
      }
      if (inside) return true;
    }
    p = q;
    g = h;
  }
  return false;
}

/**
 * Which side of the plane a, b, c the vertex d is on: exact sign. A corner of it is on it, which need not be found by
 * calculating ever more exactly.
 */
function side(P: Float64Array, a: number, b: number, c: number, d: number): number {
  if (d === a || d === b || d === c || a === c || b === c) return 0;
  const [i, j, k, l] = [3 * a, 3 * b, 3 * c, 3 * d];
  return orient3d(
    P[i]!,
    P[i + 1]!,
    P[i + 2]!,
    P[j]!,
    P[j + 1]!,
    P[j + 2]!,
    P[k]!,
    P[k + 1]!,
    P[k + 2]!,
    P[l]!,
    P[l + 1]!,
    P[l + 2]!,
  );
}

/** Whether an edge of triangle s, whose vertices are `vs`, passes through triangle t. */
export function edgesThrough(
  P: Float64Array,
  T: Float64Array,
  s: number,
  t: number,
  vs: readonly number[],
  vt: readonly number[],
  hidden: (i: number) => boolean,
  tol: number,
): boolean {
  const heights = [0, 1, 2].map(
    (k) => T[t + 9]! * T[s + 3 * k]! + T[t + 10]! * T[s + 3 * k + 1]! + T[t + 11]! * T[s + 3 * k + 2]! - T[t + 12]!,
  );
  for (let k = 0; k < 3; k++) {
    const l = (k + 1) % 3;
    const [g, h] = [heights[k]!, heights[l]!];
    if (!((g > tol && h < -tol) || (g < -tol && h > tol))) continue;
    const [u, v] = [vs[k]!, vs[l]!];
    let plus = 0;
    let minus = 0;
    for (let i = 0; i < 3; i++) {
      const x = side(P, u, v, vt[i]!, vt[(i + 1) % 3]!);
      if (x > 0) plus++;
      else if (x < 0) minus++;
      else if (!hidden(i)) plus = minus = 9; // through a real edge: no more than a touch
    }
    if ((plus === 0 || minus === 0) && isOffRim(P, u, v, g / (g - h), vt, hidden, tol)) return true;
  }
  return false;
}

/** Whether the place at a share of the way from vertex u to v is further than a tolerance from the rim of a face. */
function isOffRim(
  P: Float64Array,
  u: number,
  v: number,
  share: number,
  vt: readonly number[],
  hidden: (i: number) => boolean,
  tol: number,
): boolean {
  const hit = [0, 1, 2].map((i) => P[3 * u + i]! + share * (P[3 * v + i]! - P[3 * u + i]!));
  return vt.every((a, i) => {
    // A diagonal inside a face is no rim.
    if (hidden(i)) return true;
    const b = vt[(i + 1) % 3]!;
    const d = [0, 1, 2].map((j) => P[3 * b + j]! - P[3 * a + j]!);
    const w = [0, 1, 2].map((j) => hit[j]! - P[3 * a + j]!);
    const across = Math.hypot(
      w[1]! * d[2]! - w[2]! * d[1]!,
      w[2]! * d[0]! - w[0]! * d[2]!,
      w[0]! * d[1]! - w[1]! * d[0]!,
    );
    return across > tol * Math.hypot(d[0]!, d[1]!, d[2]!);
  });
}

/** Whether triangle T[s …] lies in the plane of T[t …], but for a tolerance. */
export function isIn(T: Float64Array, s: number, t: number, tol: number): boolean {
  for (let p = s; p < s + 9; p += 3) {
    const height = T[t + 9]! * T[p]! + T[t + 10]! * T[p + 1]! + T[t + 11]! * T[p + 2]! - T[t + 12]!;
    // NaN where there is no plane: nothing is less.
    if (!(Math.abs(height) <= tol)) return false;
  }
  return true;
}

/**
 * Whether two triangles of one plane, by their vertices, have area in common, seen along the axis that shows it
 * largest. T[s …] is the first.
 */
export function trianglesOverlap(
  P: Float64Array,
  vs: readonly number[],
  vt: readonly number[],
  T: Float64Array,
  s: number,
): boolean {
  const [x, y, z] = [Math.abs(T[s + 9]!), Math.abs(T[s + 10]!), Math.abs(T[s + 11]!)];
  const k = x > y && x > z ? 0 : y > z ? 1 : 2;
  const [u, v] = [(k + 1) % 3, (k + 2) % 3];
  for (let i = 0; i < 3; i++) {
    one[2 * i] = P[3 * vs[i]! + u]!;
    one[2 * i + 1] = P[3 * vs[i]! + v]!;
    other[2 * i] = P[3 * vt[i]! + u]!;
    other[2 * i + 1] = P[3 * vt[i]! + v]!;
  }
  return shareArea(one, other);
}

const [one, other] = [new Float64Array(6), new Float64Array(6)];

/**
 * Whether two triangles of the plane, x and y of each corner one after the other, have area in common. They have not if
 * a side of one has all of the other on its far side or on itself.
 */
export function shareArea(S: ArrayLike<number>, T: ArrayLike<number>): boolean {
  return boxesShareArea(S, T) && !isSideBetween(S, T) && !isSideBetween(T, S);
}

/** Whether the boxes round two triangles have area in common: most that lie side by side are told apart by that. */
function boxesShareArea(S: ArrayLike<number>, T: ArrayLike<number>): boolean {
  for (let k = 0; k < 2; k++) {
    if (Math.max(S[k]!, S[k + 2]!, S[k + 4]!) <= Math.min(T[k]!, T[k + 2]!, T[k + 4]!)) return false;
    if (Math.max(T[k]!, T[k + 2]!, T[k + 4]!) <= Math.min(S[k]!, S[k + 2]!, S[k + 4]!)) return false;
  }
  return true;
}

/** Whether a side of triangle X has all of Y on its far side or on itself; also where X has no area. */
function isSideBetween(X: ArrayLike<number>, Y: ArrayLike<number>): boolean {
  const turn = orient2d(X[0]!, X[1]!, X[2]!, X[3]!, X[4]!, X[5]!);
  if (turn === 0) return true;
  for (let i = 0; i < 6; i += 2) {
    const j = (i + 2) % 6;
    let inside = false;
    for (let p = 0; p < 6 && !inside; p += 2) {
      const side = orient2d(X[i]!, X[i + 1]!, X[j]!, X[j + 1]!, Y[p]!, Y[p + 1]!);
      inside = turn > 0 ? side > 0 : side < 0;
    }
    if (!inside) return true;
  }
  return false;
}
