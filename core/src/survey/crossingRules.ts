import { orient2d, orient3d } from 'robust-predicates';
import {
  add,
  boxesMeet,
  Bvh,
  checkCancelled,
  cross,
  dot,
  faceBoxes,
  faceCount,
  sizeOf,
  sub,
  triangulateFace,
  triangulateMesh,
  type OpContext,
  type PolyMesh,
} from '../mesh/index.ts';
import { Places, type Looked } from './look.ts';

/** Triangles within this share of the size of each other's plane lie in it. */
const IN_PLANE = 1e-9;
/** No more pairs than this are listed: a heap of loose triangles has more than memory holds. */
const MOST_PAIRS = 1_000_000;
/** Faces between two reports of progress and looks at the signal. */
const ASK_EVERY = 2048;

type P3 = readonly [number, number, number];
type P2 = readonly [number, number];

/** What a pair of faces has in common besides vertices. */
type Common = 'cross' | 'overlap' | null;

/**
 * Pairs of faces that cut through each other, or lie over each other in one plane: each by its earlier face, with the
 * other as the value. Found once for both.
 */
function pairs(l: Looked): { cross: Places; overlap: Places } {
  const known = l.known.get('pairs') as ReturnType<typeof pairs> | undefined;
  if (known) return known;
  const out = { cross: new Places('face'), overlap: new Places('face') };
  let count = 0;
  eachPair(
    l.mesh,
    () => true,
    l.size,
    l.ctx,
    (kind, f, g) => {
      out[kind].add(f, g);
      return ++count < MOST_PAIRS;
    },
  );
  l.known.set('pairs', out);
  return out;
}

/**
 * Pairs of faces that cut through each other or lie over each other in one plane, of which at least one is among those
 * asked for; up to `most` of them.
 */
export function pairsThatMeet(
  m: PolyMesh,
  wanted: (face: number) => boolean,
  ctx?: OpContext,
  most = MOST_PAIRS,
): [number, number][] {
  const out: [number, number][] = [];
  eachPair(m, wanted, sizeOf(m), ctx, (_, f, g) => out.push([f, g]) < most);
  return out;
}

function eachPair(
  m: PolyMesh,
  wanted: (face: number) => boolean,
  size: number,
  ctx: OpContext | undefined,
  /** Told of each; no more are looked for when it says no. */
  found: (kind: 'cross' | 'overlap', f: number, g: number) => boolean,
): void {
  const boxes = faceBoxes(m);
  const n = faceCount(m);
  const tree = new Bvh(
    boxes,
    Int32Array.from({ length: n }, (_, f) => f),
  );
  const cut = new Map<number, Cut>();
  const of = (f: number): Cut => {
    let known = cut.get(f);
    if (!known) cut.set(f, (known = cutUp(m, f)));
    return known;
  };
  for (let f = 0; f < n; f++) {
    if (f % ASK_EVERY === 0) {
      checkCancelled(ctx);
      ctx?.progress?.(f / n, 'looking for faces that cut through each other');
    }
    if (!wanted(f)) continue;
    let more = true;
    tree.overlaps(boxes, 6 * f, 0, (g) => {
      if (!more || g === f || (g < f && wanted(g))) return;
      const kind = common(of(f), of(g), m.positions, IN_PLANE * size);
      if (kind) more = found(kind, Math.min(f, g), Math.max(f, g));
    });
    if (!more) return;
  }
}

/**
 * The triangles of a face by their vertices, the box of each (least and greatest of every coordinate), its plane: unit
 * normal and distance from the origin.
 */
interface Cut {
  triangles: number[][];
  boxes: Float64Array;
  planes: Float64Array;
  /** The box of all of them. */
  whole: Float64Array;
}

function cutUp(m: PolyMesh, f: number): Cut {
  const c = triangulateFace(m, f).map((x) => m.corners[x]!);
  const triangles = Array.from({ length: c.length / 3 }, (_, k) => c.slice(3 * k, 3 * k + 3));
  const boxes = new Float64Array(6 * triangles.length);
  const planes = new Float64Array(4 * triangles.length);
  const P = m.positions;
  triangles.forEach(([v, w, x], i) => {
    const [a, b, d] = [3 * v!, 3 * w!, 3 * x!];
    for (let k = 0; k < 3; k++) {
      boxes[6 * i + k] = Math.min(P[a + k]!, P[b + k]!, P[d + k]!);
      boxes[6 * i + 3 + k] = Math.max(P[a + k]!, P[b + k]!, P[d + k]!);
    }
    let square = 0;
    for (let k = 0; k < 3; k++) {
      const [p, q] = [(k + 1) % 3, (k + 2) % 3];
      const n = (P[b + p]! - P[a + p]!) * (P[d + q]! - P[a + q]!) - (P[b + q]! - P[a + q]!) * (P[d + p]! - P[a + p]!);
      planes[4 * i + k] = n;
      square += n * n;
    }
    const length = Math.sqrt(square) || 1;
    for (let k = 0; k < 3; k++) {
      planes[4 * i + k]! /= length;
      planes[4 * i + 3]! += planes[4 * i + k]! * P[a + k]!;
    }
  });
  const whole = new Float64Array([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
  for (let i = 0; i < boxes.length; i++) {
    const k = i % 6;
    whole[k] = k < 3 ? Math.min(whole[k]!, boxes[i]!) : Math.max(whole[k]!, boxes[i]!);
  }
  return { triangles, boxes, planes, whole };
}

/** What the triangles of two faces have in common: the first crossing, else an overlap. */
function common(f: Cut, g: Cut, P: Float64Array, tol: number): Common {
  let overlap = false;
  // The face of more triangles outside: most of them are clear of the other face as a whole.
  const [a, b] = f.triangles.length < g.triangles.length ? [g, f] : [f, g];
  for (let i = 0; i < a.triangles.length; i++) {
    if (!boxesMeet(a.boxes, 6 * i, b.whole, 0, 0)) continue;
    for (let j = 0; j < b.triangles.length; j++) {
      if (!boxesMeet(a.boxes, 6 * i, b.boxes, 6 * j, 0)) continue;
      const [s, t] = [a.triangles[i]!, b.triangles[j]!];
      // Most pairs are ruled out by the planes alone: neither goes through that of the other, nor do both lie in one.
      const over = reach(s, t, b.planes, 4 * j, P, tol);
      const under = reach(t, s, a.planes, 4 * i, P, tol);
      const through = Math.max(over, under) > tol && Math.min(over, under) > AT_ALL * tol;
      if (!through && over !== IN && under !== IN) continue;
      const kind = over === IN && under === IN ? overlaps(s, t, P) : between(s, t, P, tol, over > tol, under > tol);
      if (kind === 'cross') return 'cross';
      if (kind) overlap = true;
    }
  }
  return overlap ? 'overlap' : null;
}

/** Stands for a triangle that lies in a plane. */
const IN = -1;
/**
 * A triangle that another one goes through reaches to both sides of that one's plane, by more than this share of the
 * tolerance.
 */
const AT_ALL = 1e-3;

/**
 * By how much a triangle reaches to both sides of the plane of another one, mm: 0 where it is on one side alone, −1
 * where it lies in the plane.
 */
function reach(
  s: readonly number[],
  t: readonly number[],
  planes: Float64Array,
  q: number,
  P: Float64Array,
  tol: number,
): number {
  let low = 0;
  let high = 0;
  for (let i = 0; i < 3; i++) {
    const v = s[i]!;
    if (v === t[0] || v === t[1] || v === t[2]) continue;
    const d = planes[q]! * P[3 * v]! + planes[q + 1]! * P[3 * v + 1]! + planes[q + 2]! * P[3 * v + 2]! - planes[q + 3]!;
    if (d < low) low = d;
    if (d > high) high = d;
  }
  if (low >= -tol && high <= tol) return IN;
  return high < -low ? high : -low;
}

const corners = (t: readonly number[], P: Float64Array): P3[] =>
  t.map((v) => [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!]);

function between(s: number[], t: number[], P: Float64Array, tol: number, over: boolean, under: boolean): Common {
  // With an edge in common they lie in one plane or on both sides of it.
  if (s.filter((v) => t.includes(v)).length > 1) return null;
  const [S, T] = [corners(s, P), corners(t, P)];
  return (over && pierces(s, S, t, T, tol)) || (under && pierces(t, T, s, S, tol)) ? 'cross' : null;
}

/**
 * Whether an edge of the first triangle goes through the inside of the second: by more than `tol` on both sides of its
 * plane and from its border, so that touching is not crossing, as where a vertex stands in the edge of a face.
 */
function pierces(s: number[], S: P3[], t: number[], T: P3[], tol: number): boolean {
  const side = S.map((p, i) => (t.includes(s[i]!) ? 0 : Math.sign(orient3d(...T[0]!, ...T[1]!, ...T[2]!, ...p))));
  for (let i = 0; i < 3; i++) {
    const j = (i + 1) % 3;
    if (side[i]! * side[j]! >= 0) continue;
    const [p, q] = [S[i]!, S[j]!];
    const way = [0, 1, 2].map((k) => Math.sign(orient3d(...p, ...q, ...T[k]!, ...T[(k + 1) % 3]!)));
    if (way[0] !== 0 && way[0] === way[1] && way[1] === way[2] && deeper(p, q, T, tol)) return true;
  }
  return false;
}

/** Whether the way from p to q goes through a triangle by more than `tol` on each side and from its border. */
function deeper(p: P3, q: P3, T: P3[], tol: number): boolean {
  const n = cross(sub(T[1]!, T[0]!), sub(T[2]!, T[0]!));
  const length = Math.hypot(...n);
  if (!(length > 0)) return false;
  const off = (x: P3) => Math.abs(dot(sub(x, T[0]!), n)) / length;
  const [a, b] = [off(p), off(q)];
  if (Math.min(a, b) <= tol) return false;
  const hit = add(p, sub(q, p), a / (a + b));
  return [0, 1, 2].every((k) => {
    const e = sub(T[(k + 1) % 3]!, T[k]!);
    return Math.hypot(...cross(e, sub(hit, T[k]!))) > tol * Math.hypot(...e);
  });
}

/** Whether two triangles of one plane have area in common, seen along the axis that shows them largest. */
function overlaps(s: number[], t: number[], P: Float64Array): Common {
  const [S, T] = [corners(s, P), corners(t, P)];
  const [u, w] = [sub(S[1]!, S[0]!), sub(S[2]!, S[0]!)];
  const n = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]].map(Math.abs);
  const k = n[0]! > n[1]! && n[0]! > n[2]! ? 0 : n[1]! > n[2]! ? 1 : 2;
  const seen = (p: P3): P2 => [p[(k + 1) % 3]!, p[(k + 2) % 3]!];
  return shareArea(S.map(seen), T.map(seen)) ? 'overlap' : null;
}

/**
 * Whether two triangles of the plane have area in common. They have not if a side of one has all of the other on its
 * far side or on itself.
 */
export function shareArea(S: readonly P2[], T: readonly P2[]): boolean {
  const turned = (X: readonly P2[]): readonly P2[] =>
    orient2d(...X[0]!, ...X[1]!, ...X[2]!) > 0 ? [X[0]!, X[2]!, X[1]!] : X;
  const [A, B] = [turned(S), turned(T)];
  if (!orient2d(...A[0]!, ...A[1]!, ...A[2]!) || !orient2d(...B[0]!, ...B[1]!, ...B[2]!)) return false;
  const parts = (X: readonly P2[], Y: readonly P2[]) =>
    [0, 1, 2].some((i) => Y.every((p) => orient2d(...X[i]!, ...X[(i + 1) % 3]!, ...p) >= 0));
  return !parts(A, B) && !parts(B, A);
}

/** Pairs of faces that cut through each other. */
export const crossingFaces = (l: Looked): Places => pairs(l).cross;

/** Pairs of faces that lie over each other in one plane, those over the very same vertices left out. */
export function overlappingFaces(l: Looked): Places {
  const { mesh: m } = l;
  const out = new Places('face');
  const vertices = (f: number) =>
    [...m.corners.slice(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!)].sort((a, b) => a - b).join();
  const { ids, values } = pairs(l).overlap;
  ids.forEach((f, i) => vertices(f) !== vertices(values[i]!) && out.add(f, values[i]!));
  return out;
}

/** Pairs of faces that lie over each other in UV: a texture painted on the one shows on the other. */
export function uvOverlapping({ mesh: m, ctx }: Looked): Places {
  const out = new Places('face');
  const { uv } = m.layers;
  if (!uv) return out;
  const { triangles, face } = triangulateMesh(m);
  const n = face.length;
  const boxes = new Float64Array(6 * n);
  const at = (t: number): P2[] =>
    [0, 1, 2].map((j) => [uv[2 * triangles[3 * t + j]!]!, uv[2 * triangles[3 * t + j]! + 1]!]);
  for (let t = 0; t < n; t++)
    for (let k = 0; k < 2; k++) {
      const xs = at(t).map((p) => p[k]!);
      boxes[6 * t + k] = Math.min(...xs);
      boxes[6 * t + 3 + k] = Math.max(...xs);
    }
  const tree = new Bvh(
    boxes,
    Int32Array.from({ length: n }, (_, t) => t),
  );
  const reported = new Set<number>();
  const faces = faceCount(m);
  for (let t = 0; t < n; t++) {
    if (t % ASK_EVERY === 0) {
      checkCancelled(ctx);
      ctx?.progress?.(t / n, 'looking for UVs that lie over each other');
    }
    const own = at(t);
    tree.overlaps(boxes, 6 * t, 0, (u) => {
      const [f, g] = [face[t]!, face[u]!];
      if (u <= t || f === g || reported.has(f * faces + g) || !shareArea(own, at(u))) return;
      reported.add(f * faces + g);
      out.add(f, g);
    });
  }
  return out;
}
