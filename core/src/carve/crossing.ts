import { orient3d } from 'robust-predicates';
import { newellPlane } from '../mesh/index.ts';

/**
 * Whether two triangles of a surface cut through each other: an edge of one passes strictly through the inside of the
 * other, or through an edge of it that is only a diagonal inside a face. Touching, meeting edge to edge, and sharing a
 * vertex is not crossing. Signs are exact.
 * Source of the exact signs: Shewchuk, "Adaptive Precision Floating-Point Arithmetic and Fast Robust Geometric
 * Predicates", 1997.
 *
 * @param P three coordinates per vertex
 * @param vertex three vertices per triangle
 * @param tol crossings less deep than this are roundings of a touch, mm
 * @param hidden per triangle edge (the one that leaves the vertex of the same number): 1 for a diagonal inside a face
 */
export function trianglesCross(
  P: Float64Array,
  vertex: Int32Array,
  hidden: Uint8Array,
  s: number,
  t: number,
  tol: number,
): boolean {
  let shared = 0;
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) if (vertex[3 * s + i] === vertex[3 * t + j]) shared++;
  return shared < 2 && (edgesThrough(P, vertex, hidden, s, t, tol) || edgesThrough(P, vertex, hidden, t, s, tol));
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

const heights = new Float64Array(3);

function edgesThrough(
  P: Float64Array,
  vertex: Int32Array,
  hidden: Uint8Array,
  s: number,
  t: number,
  tol: number,
): boolean {
  const [a, b, c] = [vertex[3 * t]!, vertex[3 * t + 1]!, vertex[3 * t + 2]!];
  for (let k = 0; k < 3; k++) heights[k] = side(P, a, b, c, vertex[3 * s + k]!);
  const [h0, h1, h2] = [heights[0]!, heights[1]!, heights[2]!];
  if ((h0 <= 0 && h1 <= 0 && h2 <= 0) || (h0 >= 0 && h1 >= 0 && h2 >= 0)) return false;
  for (let k = 0; k < 3; k++) {
    const l = k === 2 ? 0 : k + 1;
    const [p, q] = k === 0 ? [h0, h1] : k === 1 ? [h1, h2] : [h2, h0];
    if (!((p > 0 && q < 0) || (p < 0 && q > 0))) continue;
    const u = vertex[3 * s + k]!;
    const v = vertex[3 * s + l]!;
    let plus = 0;
    let minus = 0;
    for (let i = 0; i < 3; i++) {
      const x = side(P, u, v, vertex[3 * t + i]!, vertex[3 * t + (i === 2 ? 0 : i + 1)]!);
      if (x > 0) plus++;
      else if (x < 0) minus++;
      else if (!hidden[3 * t + i]) plus = minus = 9; // through a real edge: no more than a touch
    }
    if ((plus === 0 || minus === 0) && deep(P, u, v, [a, b, c], (i) => hidden[3 * t + i] === 1, tol)) return true;
  }
  return false;
}

/**
 * Whether a line that goes through a triangle does so by more than a tolerance: both its ends off the plane, its hit
 * off the rim.
 */
function deep(
  P: Float64Array,
  u: number,
  v: number,
  triangle: readonly number[],
  hidden: (edge: number) => boolean,
  tol: number,
): boolean {
  newellPlane(P, triangle, 0, 3, plane, 0);
  const height = (w: number) =>
    plane[0]! * (P[3 * w]! - plane[3]!) +
    plane[1]! * (P[3 * w + 1]! - plane[4]!) +
    plane[2]! * (P[3 * w + 2]! - plane[5]!);
  const [from, to] = [height(u), height(v)];
  if (Math.abs(from) <= tol || Math.abs(to) <= tol) return false;
  const k = from / (from - to);
  const hit = [0, 1, 2].map((i) => P[3 * u + i]! + k * (P[3 * v + i]! - P[3 * u + i]!));
  return triangle.every((a, i) => {
    // A diagonal inside a face is no rim.
    if (hidden(i)) return true;
    const b = triangle[(i + 1) % 3]!;
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

const plane = new Float64Array(6);
