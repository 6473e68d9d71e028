import { boundaryBend, newellPlane, planeBasis } from './planes.ts';
import { faceBegin, faceCount, faceEnd, loopCount, type PolyMesh } from './polymesh.ts';
import { LENGTHS_ALIKE, triangulateFlat } from './triangulateFlat.ts';

/**
 * Triangles of face f as corner numbers, three each, counter-clockwise from outside. Any polygon, flat or bent,
 * concave, with inner boundaries, is laid on its mean plane (Newell) and cut by ear clipping (`earcut`); corners that
 * ear clipping drops are put back, so that neighbouring faces keep meeting edge to edge. They are the surface that a
 * bent face has wherever it is drawn, measured, cut or written: they follow from the places of its corners alone, not
 * from which corner comes first (see `inOwnOrder`).
 */
export function triangulateFace(m: PolyMesh, f: number, out: number[] = []): number[] {
  const s = faceBegin(m, f);
  const e = faceEnd(m, f);
  const starts: number[] = [];
  for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) starts.push(m.loopStart[l]! - s);
  for (const i of trianglesOf(m.positions, m.corners.subarray(s, e), starts)) out.push(s + i);
  return out;
}

/**
 * Whether a face turned over has the same surface: the rule of a bent one that two diagonals suit alike looks at which
 * of them stands out.
 */
export function sameTurnedOver(m: PolyMesh, f: number): boolean {
  const [s, e] = [faceBegin(m, f), faceEnd(m, f)];
  if (e - s === 3) return true;
  const starts: number[] = [];
  for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) starts.push(m.loopStart[l]! - s);
  const loops = m.corners.subarray(s, e);
  const plane = new Float64Array(6);
  newellPlane(m.positions, loops, 0, starts[1] ?? e - s, plane, 0);
  if (boundaryBend(m.positions, loops, 0, e - s, plane, 0) <= FLAT * extentOf(m.positions, loops)) return true;
  const over = Int32Array.from(loops);
  starts.forEach((from, l) => over.subarray(from, starts[l + 1] ?? e - s).reverse());
  return trianglesKey(m.positions, loops, starts) === trianglesKey(m.positions, over, starts);
}

/** The triangles of a face by their vertices, however they are listed. */
function trianglesKey(P: Float64Array, loops: Int32Array, starts: readonly number[]): string {
  const t = trianglesOf(P, loops, starts);
  return Array.from({ length: t.length / 3 }, (_, i) =>
    [0, 1, 2]
      .map((k) => loops[t[3 * i + k]!]!)
      .sort((a, b) => a - b)
      .join(),
  )
    .sort()
    .join(' ');
}

/** Triangles of a face given by its vertices, as numbers in that list. */
function trianglesOf(P: Float64Array, loops: Int32Array, starts: readonly number[]): readonly number[] {
  const n = loops.length;
  if (n === 3) return [0, 1, 2];
  if (n === 4 && starts.length === 1) return isCutFromFirst(P, loops, 0) ? FROM_FIRST : FROM_SECOND;
  newellPlane(P, loops, 0, starts[1] ?? n, mean, 0);
  planeBasis(mean, 0, basis);
  const flat = new Array<number>(2 * n);
  const height = new Float64Array(n);
  for (let c = 0; c < n; c++) {
    const i = 3 * loops[c]!;
    const x = P[i]! - mean[3]!;
    const y = P[i + 1]! - mean[4]!;
    const z = P[i + 2]! - mean[5]!;
    flat[2 * c] = basis[0]! * x + basis[1]! * y + basis[2]! * z;
    flat[2 * c + 1] = basis[3]! * x + basis[4]! * y + basis[5]! * z;
    height[c] = mean[0]! * x + mean[1]! * y + mean[2]! * z;
  }
  const least = FLAT * extentOf(P, loops);
  if (height.every((h) => Math.abs(h) <= least)) return triangulateFlat(flat, starts);
  const own = inOwnOrder(flat, height, starts);
  return triangulateFlat(own.flat, own.starts).map((i) => own.order[i]!);
}

const basis = new Float64Array(6);
const mean = new Float64Array(6);

/** A face whose corners are off its mean plane by less than this share of its extent is flat: any triangles do. */
const FLAT = 1e-12;

/** Longest side of the box round some vertices, mm. */
function extentOf(P: Float64Array, vertices: Int32Array): number {
  let most = 0;
  for (let k = 0; k < 3; k++) {
    let [low, high] = [Infinity, -Infinity];
    for (const v of vertices) {
      const x = P[3 * v + k]!;
      if (x < low) low = x;
      if (x > high) high = x;
    }
    most = Math.max(most, high - low);
  }
  return most;
}

/**
 * The corners of a bent face in an order that its form alone gives, on axes that its form alone gives: its outer
 * boundary begins at the corner that is furthest from the middle (of those alike the one that stands out most, then the
 * one before the longest edge), the first axis leads there, and each hole begins where it lies lowest along it.
 * `order`: for each place in the new order the old number.
 */
function inOwnOrder(
  flat: readonly number[],
  height: Float64Array,
  starts: readonly number[],
): { flat: number[]; starts: number[]; order: number[] } {
  const n = height.length;
  const ends = starts.map((_, l) => starts[l + 1] ?? n);
  const outer = ends[0]!;
  let [mx, my] = [0, 0];
  for (let i = 0; i < outer; i++) {
    mx += flat[2 * i]! / outer;
    my += flat[2 * i + 1]! / outer;
  }
  const far = (i: number) => Math.hypot(flat[2 * i]! - mx, flat[2 * i + 1]! - my);
  const edge = (i: number) => {
    const j = i + 1 < outer ? i + 1 : 0;
    return Math.hypot(flat[2 * j]! - flat[2 * i]!, flat[2 * j + 1]! - flat[2 * i + 1]!);
  };
  let first = 0;
  const size = Math.max(...Array.from({ length: outer }, (_, i) => far(i)));
  const before = (i: number, j: number): boolean => {
    for (const of of [far, (k: number) => height[k]!, edge]) {
      const d = of(i) - of(j);
      if (Math.abs(d) > LENGTHS_ALIKE * size) return d > 0;
    }
    return false;
  };
  for (let i = 1; i < outer; i++) if (before(i, first)) first = i;
  const length = far(first) || 1;
  const [ux, uy] = [(flat[2 * first]! - mx) / length, (flat[2 * first + 1]! - my) / length];
  const x = (i: number) => ux * (flat[2 * i]! - mx) + uy * (flat[2 * i + 1]! - my);
  const y = (i: number) => ux * (flat[2 * i + 1]! - my) - uy * (flat[2 * i]! - mx);
  const loops = starts.map((from, l) => {
    let start = from;
    if (l === 0) start = first;
    else for (let i = from + 1; i < ends[l]!; i++) if (x(i) < x(start)) start = i;
    return Array.from({ length: ends[l]! - from }, (_, k) => from + ((start - from + k) % (ends[l]! - from)));
  });
  const ordered = [loops[0]!, ...loops.slice(1).sort((a, b) => x(a[0]!) - x(b[0]!))];
  const order = ordered.flat();
  let at = 0;
  return {
    flat: order.flatMap((i) => [x(i), y(i)]),
    starts: ordered.map((l) => (at += l.length) - l.length),
    order,
  };
}

/**
 * Whether a quad is cut from its first corner to its third: along its shorter diagonal that leaves both triangles
 * turning the right way; of two alike along the one that stands out. `corners[begin …]`: its four vertices.
 */
function isCutFromFirst(P: Float64Array, corners: Int32Array, begin: number): boolean {
  newellPlane(P, corners, begin, begin + 4, mean, 0);
  const a = 3 * corners[begin]!;
  const b = 3 * corners[begin + 1]!;
  const c = 3 * corners[begin + 2]!;
  const d = 3 * corners[begin + 3]!;
  const worst02 = Math.min(turn(P, a, b, c), turn(P, a, c, d));
  const worst13 = Math.min(turn(P, a, b, d), turn(P, b, c, d));
  if (!(worst02 > 0 && worst13 > 0)) return worst02 >= worst13;
  const one = squaredDistance(P, a, c);
  const other = squaredDistance(P, b, d);
  if (Math.abs(one - other) > LENGTHS_ALIKE * (one + other)) return one < other;
  // A flat one is cut from its first corner, so that rows of them look alike.
  const height = (k: number) => mean[k]! * (P[a + k]! + P[c + k]! - P[b + k]! - P[d + k]!);
  return height(0) + height(1) + height(2) > -LENGTHS_ALIKE * Math.sqrt(one);
}

/** Twice the area of a triangle as it is seen along the mean plane's normal, by where its corners begin in P. */
function turn(P: Float64Array, a: number, b: number, c: number): number {
  const ux = P[b]! - P[a]!;
  const uy = P[b + 1]! - P[a + 1]!;
  const uz = P[b + 2]! - P[a + 2]!;
  const vx = P[c]! - P[a]!;
  const vy = P[c + 1]! - P[a + 1]!;
  const vz = P[c + 2]! - P[a + 2]!;
  return mean[0]! * (uy * vz - uz * vy) + mean[1]! * (uz * vx - ux * vz) + mean[2]! * (ux * vy - uy * vx);
}

const squaredDistance = (P: Float64Array, i: number, j: number): number =>
  (P[i]! - P[j]!) ** 2 + (P[i + 1]! - P[j + 1]!) ** 2 + (P[i + 2]! - P[j + 2]!) ** 2;

/** The triangles of a quad that is cut from its first corner, and of one that is cut from its second. */
const [FROM_FIRST, FROM_SECOND] = [
  [0, 1, 2, 0, 2, 3],
  [0, 1, 3, 1, 2, 3],
];

/** All triangles of a mesh, or of some faces: corner numbers, three each, and the face of each triangle. */
export function triangulateMesh(m: PolyMesh, faces?: Int32Array): { triangles: Int32Array; face: Int32Array } {
  const count = faces ? faces.length : faceCount(m);
  // What a mesh of sound faces has: a corner gives a triangle, and a hole two more.
  const most = faces ? 2 * count : Math.max(0, m.corners.length - 2 * faceCount(m) + 2 * (loopCount(m) - faceCount(m)));
  let triangles = new Int32Array(3 * most);
  let face = new Int32Array(most);
  let n = 0;
  const own: number[] = [];
  for (let i = 0; i < count; i++) {
    const f = faces ? faces[i]! : i;
    const begin = faceBegin(m, f);
    if (faceEnd(m, f) - begin === 3 && n < face.length) {
      for (let k = 0; k < 3; k++) triangles[3 * n + k] = begin + k;
      face[n++] = f;
      continue;
    }
    if (faceEnd(m, f) - begin === 4 && m.faceLoops[f + 1]! - m.faceLoops[f]! === 1 && n + 1 < face.length) {
      const cut = isCutFromFirst(m.positions, m.corners, begin) ? FROM_FIRST : FROM_SECOND;
      for (let k = 0; k < 6; k++) triangles[3 * n + k] = begin + cut[k]!;
      face[n++] = f;
      face[n++] = f;
      continue;
    }
    own.length = 0;
    triangulateFace(m, f, own);
    if (n + own.length / 3 > face.length) {
      const room = 2 * (n + own.length);
      triangles = grown(triangles, 3 * room);
      face = grown(face, room);
    }
    triangles.set(own, 3 * n);
    face.fill(f, n, n + own.length / 3);
    n += own.length / 3;
  }
  return n === face.length ? { triangles, face } : { triangles: triangles.slice(0, 3 * n), face: face.slice(0, n) };
}

function grown(list: Int32Array, length: number): Int32Array<ArrayBuffer> {
  const out = new Int32Array(length);
  out.set(list);
  return out;
}
