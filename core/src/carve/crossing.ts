import { orient3d } from 'robust-predicates';
import {
  boundaryBend,
  bounds,
  Bvh,
  faceBegin,
  faceEnd,
  newellPlane,
  topologyOf,
  triangulateMesh,
  type PolyMesh,
} from '../mesh/index.ts';

/** Numbers of a triangle that is looked at: its corners relative to the middle of the box, its normal and distance. */
const STRIDE = 13;

/** What reaches through a plane does so by more than this share of the tolerance: less is rounding. */
const AT_ALL = 1e-3;

/** Where an edge hits a plane is known to this share of the size before it is decided exactly. */
const NEARLY = 1e-6;

/**
 * The first place, in no order, at which the faces of a mesh cut through each other: a face, and a vertex of it; null
 * where there is none. An edge of one passes strictly through the inside of the other, or through a diagonal inside it,
 * between places that are off its plane by more than a tolerance (mm), and hits it off its rim by as much. Touching,
 * meeting edge to edge, and sharing a vertex is not crossing. Which side of a diagonal an edge passes on is decided by
 * exact signs.
 * Source of the exact signs: Shewchuk, "Adaptive Precision Floating-Point Arithmetic and Fast Robust Geometric
 * Predicates", 1997.
 */
export function findCrossing(m: PolyMesh, tol: number): { face: number; vertex: number } | null {
  const { triangles, face } = triangulateMesh(m);
  const n = face.length;
  const { positions: P, corners } = m;
  const { min, max } = bounds(m);
  const [mx, my, mz] = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
  const boxes = new Float64Array(6 * n);
  for (let t = 0; t < n; t++) {
    const [a, b, c] = [
      3 * corners[triangles[3 * t]!]!,
      3 * corners[triangles[3 * t + 1]!]!,
      3 * corners[triangles[3 * t + 2]!]!,
    ];
    for (let k = 0; k < 3; k++) {
      const [x, y, z] = [P[a + k]!, P[b + k]!, P[c + k]!];
      boxes[6 * t + k] = x < y ? (x < z ? x : z) : y < z ? y : z;
      boxes[6 * t + 3 + k] = x > y ? (x > z ? x : z) : y > z ? y : z;
    }
  }
  const tree = new Bvh(
    boxes,
    Int32Array.from({ length: n }, (_, t) => t),
  );
  const T = new Float64Array(STRIDE * n);
  const planes = trianglePlanes(m, triangles, face, tol);
  for (let t = 0; t < n; t++) {
    const at = STRIDE * t;
    for (let j = 0; j < 3; j++) {
      const v = 3 * corners[triangles[3 * t + j]!]!;
      T[at + 3 * j] = P[v]! - mx;
      T[at + 3 * j + 1] = P[v + 1]! - my;
      T[at + 3 * j + 2] = P[v + 2]! - mz;
    }
    const q = 6 * t;
    for (let k = 0; k < 3; k++) T[at + 9 + k] = planes[q + k]!;
    T[at + 12] =
      planes[q]! * (planes[q + 3]! - mx) +
      planes[q + 1]! * (planes[q + 4]! - my) +
      planes[q + 2]! * (planes[q + 5]! - mz);
  }
  const { next } = topologyOf(m);
  const isHidden = (t: number, i: number): boolean =>
    next[triangles[3 * t + i]!] !== triangles[3 * t + (i === 2 ? 0 : i + 1)]!;
  const vertexOf = (t: number, i: number): number => corners[triangles[3 * t + i]!]!;
  const slack = NEARLY * Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  let found = -1;
  tree.ownPairs((s, t) => {
    // Most pairs are on one side of each other. Where an edge of one passes through the other, each goes through the
    // plane of the other, that one by more than the tolerance.
    const [i, j] = [STRIDE * s, STRIDE * t];
    if (!straddles(T, i, j, AT_ALL * tol) || !straddles(T, j, i, AT_ALL * tol)) return false;
    const [over, under] = [mayPierce(T, i, j, tol, slack), mayPierce(T, j, i, tol, slack)];
    if (!over && !under) return false;
    if (face[s] === face[t]) return false;
    const vs = [vertexOf(s, 0), vertexOf(s, 1), vertexOf(s, 2)];
    const vt = [vertexOf(t, 0), vertexOf(t, 1), vertexOf(t, 2)];
    if (vs.filter((v) => vt.includes(v)).length > 1) return false;
    const hit = (u: number, w: number, a: number[], b: number[]) =>
      edgesThrough(P, T, STRIDE * u, STRIDE * w, a, b, (i) => isHidden(w, i), tol);
    if (!(over && hit(s, t, vs, vt)) && !(under && hit(t, s, vt, vs))) return false;
    found = s;
    return true;
  });
  return found < 0 ? null : { face: face[found]!, vertex: vertexOf(found, 0) };
}

/**
 * Per triangle its plane, unit normal and a point. All of a flat face have its plane: one whose corners stand in a
 * straight line has a plane of rounding alone. NaN for one of a bent face that is too narrow to have any.
 */
function trianglePlanes(m: PolyMesh, triangles: Int32Array, face: Int32Array, tol: number): Float64Array {
  const P = m.positions;
  const planes = new Float64Array(6 * face.length);
  for (let t = 0; t < face.length;) {
    const f = face[t]!;
    const [begin, end] = [faceBegin(m, f), faceEnd(m, f)];
    const first = 6 * t;
    newellPlane(P, m.corners, begin, m.loopStart[m.faceLoops[f]! + 1]!, planes, first);
    if (end - begin === 3 || boundaryBend(P, m.corners, begin, end, planes, first) <= tol) {
      for (t++; face[t] === f; t++) planes.copyWithin(6 * t, first, first + 6);
      continue;
    }
    for (; face[t] === f; t++) {
      const v = [0, 1, 2].map((k) => m.corners[triangles[3 * t + k]!]!);
      const area = newellPlane(P, v, 0, 3, planes, 6 * t);
      if (!(area > tol * longestSide(P, v))) planes.fill(NaN, 6 * t, 6 * t + 6);
    }
  }
  return planes;
}

const longestSide = (P: Float64Array, v: readonly number[]): number =>
  Math.max(
    ...v.map((a, i) => {
      const b = v[(i + 1) % 3]!;
      return Math.hypot(P[3 * a]! - P[3 * b]!, P[3 * a + 1]! - P[3 * b + 1]!, P[3 * a + 2]! - P[3 * b + 2]!);
    }),
  );

/** Whether triangle T[s …] reaches to both sides of the plane of T[t …] by more than a tolerance. */
function straddles(T: Float64Array, s: number, t: number, tol: number): boolean {
  const x = T[t + 9]!;
  const y = T[t + 10]!;
  const z = T[t + 11]!;
  const d = T[t + 12]!;
  const a = x * T[s]! + y * T[s + 1]! + z * T[s + 2]! - d;
  const b = x * T[s + 3]! + y * T[s + 4]! + z * T[s + 5]! - d;
  const c = x * T[s + 6]! + y * T[s + 7]! + z * T[s + 8]! - d;
  // Of a plane that is not there, nothing is greater.
  return (a > tol || b > tol || c > tol) && (a < -tol || b < -tol || c < -tol);
}

/**
 * Whether an edge of triangle T[s …] with an end on either side of the plane of T[t …] hits it within `slack` of that
 * triangle.
 */
function mayPierce(T: Float64Array, s: number, t: number, tol: number, slack: number): boolean {
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
function edgesThrough(
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
