import { orient3d } from 'robust-predicates';
import {
  boundaryBend,
  faceBegin,
  faceEnd,
  newellPlane,
  topologyOf,
  triangulateMesh,
  type PolyMesh,
} from '../mesh/index.ts';

/** A surface as triangles, for telling which of them cut through each other. */
export interface TriangleSoup {
  /** Three coordinates per vertex. */
  P: Float64Array;
  /** Three vertices per triangle. */
  vertex: Int32Array;
  /** Per triangle edge (the one that leaves the vertex of the same number): 1 for a diagonal inside a face. */
  hidden: Uint8Array;
  /** The face of each triangle. */
  face: Int32Array;
  /** Per triangle the plane that it lies in: unit normal and a point. NaN where it is too narrow to have one. */
  planes: Float64Array;
  /** Crossings less deep than this are roundings of a touch, mm. */
  tol: number;
}

/**
 * The triangles of a mesh. All of a flat face have its plane: one whose corners stand in a straight line has a plane of
 * rounding alone.
 */
export function triangleSoup(m: PolyMesh, tol: number): TriangleSoup {
  const { triangles, face } = triangulateMesh(m);
  const P = m.positions;
  const vertex = Int32Array.from(triangles, (c) => m.corners[c]!);
  const { next } = topologyOf(m);
  const hidden = Uint8Array.from(triangles, (c, i) => (next[c] === triangles[i % 3 === 2 ? i - 2 : i + 1] ? 0 : 1));
  const planes = new Float64Array(6 * face.length);
  for (let t = 0; t < face.length;) {
    const f = face[t]!;
    const [begin, end] = [faceBegin(m, f), faceEnd(m, f)];
    const first = 6 * t;
    newellPlane(P, m.corners, begin, m.loopStart[m.faceLoops[f]! + 1]!, planes, first);
    if (boundaryBend(P, m.corners, begin, end, planes, first) <= tol) {
      for (t++; face[t] === f; t++) planes.copyWithin(6 * t, first, first + 6);
      continue;
    }
    for (; face[t] === f; t++) {
      if (isWide(P, vertex, t, tol)) newellPlane(P, vertex, 3 * t, 3 * t + 3, planes, 6 * t);
      else planes.fill(NaN, 6 * t, 6 * t + 6);
    }
  }
  return { P, vertex, hidden, face, planes, tol };
}

/** Whether a triangle is higher over its longest side than a tolerance. */
function isWide(P: Float64Array, vertex: Int32Array, t: number, tol: number): boolean {
  const [a, b, c] = [3 * vertex[3 * t]!, 3 * vertex[3 * t + 1]!, 3 * vertex[3 * t + 2]!];
  const [ux, uy, uz] = [P[b]! - P[a]!, P[b + 1]! - P[a + 1]!, P[b + 2]! - P[a + 2]!];
  const [wx, wy, wz] = [P[c]! - P[a]!, P[c + 1]! - P[a + 1]!, P[c + 2]! - P[a + 2]!];
  const area = Math.hypot(uy * wz - uz * wy, uz * wx - ux * wz, ux * wy - uy * wx);
  const longest = Math.max(Math.hypot(ux, uy, uz), Math.hypot(wx, wy, wz), Math.hypot(wx - ux, wy - uy, wz - uz));
  return area > tol * longest;
}

/**
 * Whether two triangles of a surface cut through each other: an edge of one passes strictly through the inside of the
 * other, or through an edge of it that is only a diagonal inside a face. Touching, meeting edge to edge, and sharing a
 * vertex is not crossing. Signs are exact.
 * Source of the exact signs: Shewchuk, "Adaptive Precision Floating-Point Arithmetic and Fast Robust Geometric
 * Predicates", 1997.
 */
export function trianglesCross(soup: TriangleSoup, s: number, t: number): boolean {
  const { vertex } = soup;
  let shared = 0;
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) if (vertex[3 * s + i] === vertex[3 * t + j]) shared++;
  return shared < 2 && (edgesThrough(soup, s, t) || edgesThrough(soup, t, s));
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

/**
 * Whether an edge of triangle s passes through triangle t: between corners that are on either side of its plane by more
 * than the tolerance, its hit inside all three sides by exact signs, and off the rim of the face.
 */
function edgesThrough({ P, vertex, hidden, planes, tol }: TriangleSoup, s: number, t: number): boolean {
  const q = 6 * t;
  let [low, high] = [0, 0];
  for (let k = 0; k < 3; k++) {
    const v = 3 * vertex[3 * s + k]!;
    const h =
      planes[q]! * (P[v]! - planes[q + 3]!) +
      planes[q + 1]! * (P[v + 1]! - planes[q + 4]!) +
      planes[q + 2]! * (P[v + 2]! - planes[q + 5]!);
    heights[k] = h;
    if (h < low) low = h;
    if (h > high) high = h;
  }
  // Of a plane that is not there, nothing is greater.
  if (!(high > tol && low < -tol)) return false;
  const [from, to] = [3 * t, 3 * t + 3];
  for (let k = 0; k < 3; k++) {
    const l = k === 2 ? 0 : k + 1;
    const [g, h] =
      k === 0 ? [heights[0]!, heights[1]!] : k === 1 ? [heights[1]!, heights[2]!] : [heights[2]!, heights[0]!];
    if (!((g > tol && h < -tol) || (g < -tol && h > tol))) continue;
    const u = vertex[3 * s + k]!;
    const v = vertex[3 * s + l]!;
    let plus = 0;
    let minus = 0;
    for (let i = from; i < to; i++) {
      const x = side(P, u, v, vertex[i]!, vertex[i + 1 < to ? i + 1 : from]!);
      if (x > 0) plus++;
      else if (x < 0) minus++;
      else if (!hidden[i]) plus = minus = 9; // through a real edge: no more than a touch
    }
    if ((plus === 0 || minus === 0) && offRim(P, vertex, hidden, u, v, g / (g - h), t, tol)) return true;
  }
  return false;
}

/** Whether the place at a share of the way from vertex u to v is further than a tolerance from the rim of t's face. */
function offRim(
  P: Float64Array,
  vertex: Int32Array,
  hidden: Uint8Array,
  u: number,
  v: number,
  share: number,
  t: number,
  tol: number,
): boolean {
  const hit = [0, 1, 2].map((i) => P[3 * u + i]! + share * (P[3 * v + i]! - P[3 * u + i]!));
  for (let i = 0; i < 3; i++) {
    // A diagonal inside a face is no rim.
    if (hidden[3 * t + i]) continue;
    const [a, b] = [vertex[3 * t + i]!, vertex[3 * t + ((i + 1) % 3)]!];
    const d = [0, 1, 2].map((j) => P[3 * b + j]! - P[3 * a + j]!);
    const w = [0, 1, 2].map((j) => hit[j]! - P[3 * a + j]!);
    const across = Math.hypot(
      w[1]! * d[2]! - w[2]! * d[1]!,
      w[2]! * d[0]! - w[0]! * d[2]!,
      w[0]! * d[1]! - w[1]! * d[0]!,
    );
    if (across <= tol * Math.hypot(d[0]!, d[1]!, d[2]!)) return false;
  }
  return true;
}
