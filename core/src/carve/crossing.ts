import { orient3d } from 'robust-predicates';

/**
 * Whether two triangles cut through each other: an edge of one passes strictly through the inside of the other, or through the
 * inside of one of its edges. Touching, and sharing a vertex or an edge, is not crossing. Signs are exact.
 * Source of the exact signs: Shewchuk, "Adaptive Precision Floating-Point Arithmetic and Fast Robust Geometric Predicates", 1997.
 *
 * @param P three coordinates per vertex
 * @param vertex three vertices per triangle
 */
export function trianglesCross(P: Float64Array, vertex: Int32Array, s: number, t: number): boolean {
  const S = [vertex[3 * s]!, vertex[3 * s + 1]!, vertex[3 * s + 2]!] as const;
  const T = [vertex[3 * t]!, vertex[3 * t + 1]!, vertex[3 * t + 2]!] as const;
  const shared = S.filter((v) => T.includes(v)).length;
  if (shared > 1) return false;
  return edgesThrough(P, S, T) || edgesThrough(P, T, S);
}

type Triple = readonly [number, number, number];

const side = (P: Float64Array, a: number, b: number, c: number, d: number): number =>
  Math.sign(
    orient3d(
      P[3 * a]!, P[3 * a + 1]!, P[3 * a + 2]!, P[3 * b]!, P[3 * b + 1]!, P[3 * b + 2]!,
      P[3 * c]!, P[3 * c + 1]!, P[3 * c + 2]!, P[3 * d]!, P[3 * d + 1]!, P[3 * d + 2]!,
    ),
  ); // prettier-ignore

function edgesThrough(P: Float64Array, S: Triple, T: Triple): boolean {
  const d = S.map((v) => side(P, T[0], T[1], T[2], v));
  if (Math.max(...d) <= 0 || Math.min(...d) >= 0) return false;
  for (let k = 0; k < 3; k++) {
    const l = (k + 1) % 3;
    if (d[k]! * d[l]! >= 0) continue;
    const [u, v] = [S[k]!, S[l]!];
    const q = [0, 1, 2].map((i) => side(P, u, v, T[i]!, T[(i + 1) % 3]!));
    const plus = q.filter((x) => x > 0).length;
    const minus = q.filter((x) => x < 0).length;
    // All of one sign: through the inside. One zero: through an edge. Two zeros: through a corner, which only touches.
    if (plus * minus === 0 && plus + minus >= 2) return true;
  }
  return false;
}
