import { Bvh } from './bvh.ts';
import { faceBoxes } from './faceTree.ts';
import { bounds, sizeOf } from './measures.ts';
import { checkCancelled, type OpContext } from './operation.ts';
import { boundaryBend, newellPlane } from './planes.ts';
import { faceBegin, faceCount, faceEnd, type PolyMesh } from './polymesh.ts';
import { topologyOf } from './topology.ts';
import { triangulateMesh } from './triangulate.ts';
import { edgesThrough, isIn, mayPierce, straddles, STRIDE, trianglesOverlap } from './trianglesMeet.ts';

/** What two faces have in common besides vertices and edges: they cut through each other, or lie over each other. */
export type Meeting = 'cross' | 'overlap';

/** Which meetings are looked for. */
export interface MeetingOptions {
  /** Faces of which at least one must be in a pair; all where it is left out. */
  wanted?: (face: number) => boolean;
  /** Faces that lie over each other in one plane are looked for too; else those that cut through each other alone. */
  overlaps?: boolean;
  /** Meetings less deep than this (mm) are touches; `touchDepth` where it is left out. */
  tolerance?: number;
  ctx?: OpContext;
}

/** Crossings less deep than this share of the size are touches, blurred by rounding. */
const TOUCH = 1e-9;
/** Half a step of 32-bit numbers, as a share of them; and so many steps deep touches may be blurred by them. */
const [HALF_STEP, STEPS] = [2 ** -24, 4];

/** Depth below which a crossing is a touch, mm: of coordinates that went through 32 bits more than of others. */
export function touchDepth(m: PolyMesh): number {
  const own = TOUCH * sizeOf(m);
  if (!m.positions.every((x) => Math.fround(x) === x)) return own;
  const { min, max } = bounds(m);
  return Math.max(own, 2 * STEPS * HALF_STEP * Math.max(...min.map(Math.abs), ...max.map(Math.abs)));
}

/** No more pairs than this are listed: a heap of loose triangles has more than memory holds. */
export const MOST_MEETINGS = 1_000_000;

/**
 * Pairs of faces that cut through each other or lie over each other in one plane, the lower number first; up to `most`
 * of them. As `eachMeeting`.
 */
export function pairsThatMeet(
  m: PolyMesh,
  options: Omit<MeetingOptions, 'overlaps'> & { most?: number } = {},
): [number, number][] {
  const { most = MOST_MEETINGS } = options;
  const out: [number, number][] = [];
  eachMeeting(m, { ...options, overlaps: true }, (_, f, g) => out.push([f, g]) >= most);
  return out;
}

/**
 * Calls `found` once for each pair of faces that meet (f < g), with a vertex of one of them, until it returns true.
 * They cross where an edge of one passes strictly through the inside of the other, or through a diagonal inside it,
 * between places that are off its plane by more than the tolerance, and hits it off its rim by as much. Touching,
 * meeting edge to edge, and sharing a vertex is not crossing. Two that lie in each other's plane overlap where they
 * have area in common; those are told after all that cross. Which side of a diagonal an edge passes on is decided by
 * exact signs.
 * Source of the exact signs: Shewchuk, "Adaptive Precision Floating-Point Arithmetic and Fast Robust Geometric
 * Predicates", 1997.
 */
export function eachMeeting(
  m: PolyMesh,
  options: MeetingOptions,
  found: (kind: Meeting, f: number, g: number, vertex: number) => boolean,
): void {
  const tol = options.tolerance ?? touchDepth(m);
  const isWanted = options.wanted && Uint8Array.from({ length: faceCount(m) }, (_, f) => (options.wanted!(f) ? 1 : 0));
  const looked = isWanted && facesAround(m, isWanted);
  const search = new MeetingSearch(m, looked, tol, options.overlaps ?? false, found);
  const { boxes, face } = search;
  const tree = new Bvh(
    boxes,
    Int32Array.from({ length: face.length }, (_, t) => t),
  );
  const tick = (done: number): void => {
    checkCancelled(options.ctx);
    options.ctx?.progress?.(done / face.length, 'looking for faces that cut through each other');
  };
  let stopped = false;
  if (!isWanted) stopped = tree.ownPairs((s, t) => search.look(s, t), tick);
  else {
    for (let s = 0; s < face.length && !stopped; s++) {
      if (s % TICK === 0) tick(s);
      if (!isWanted[face[s]!]) continue;
      tree.overlaps(boxes, 6 * s, 0, (t) => {
        if (stopped || (t <= s && isWanted[face[t]!])) return;
        stopped = search.look(s, t);
      });
    }
  }
  if (!stopped) search.tellOverlaps();
}

/** Triangles between two reports of progress and looks at the signal. */
const TICK = 4096;

/** The faces whose boxes meet the box of one that is wanted, those among them. */
function facesAround(m: PolyMesh, isWanted: Uint8Array): Int32Array {
  const boxes = faceBoxes(m);
  const tree = new Bvh(boxes, facesWhere(isWanted));
  const near = Uint8Array.from(isWanted);
  for (let f = 0; f < near.length; f++) if (!near[f] && tree.touches(boxes, 6 * f)) near[f] = 1;
  return facesWhere(near);
}

function facesWhere(marked: Uint8Array): Int32Array {
  const out = new Int32Array(marked.reduce((n, x) => n + x, 0));
  let n = 0;
  for (let f = 0; f < marked.length; f++) if (marked[f]) out[n++] = f;
  return out;
}

/** What reaches through a plane does so by more than this share of the tolerance: less is rounding. */
const AT_ALL = 1e-3;

/** Where an edge hits a plane is known to this share of the size before it is decided exactly. */
const NEARLY = 1e-6;

/** The triangles of a mesh, with what the search for meetings needs of each. */
class MeetingSearch {
  /** The face of each triangle. */
  readonly face: Int32Array;
  /** The box of each triangle. */
  readonly boxes: Float64Array;
  private readonly triangles: Int32Array;
  private readonly numbers: Float64Array;
  private readonly slack: number;
  private readonly next: Int32Array;
  private readonly told = new Set<number>();
  private readonly overlapping = new Map<number, number>();

  constructor(
    private readonly m: PolyMesh,
    /** The faces that are looked at; undefined for all. */
    faces: Int32Array | undefined,
    private readonly tol: number,
    private readonly overlaps: boolean,
    private readonly found: (kind: Meeting, f: number, g: number, vertex: number) => boolean,
  ) {
    const { triangles, face } = triangulateMesh(m, faces);
    this.triangles = triangles;
    this.face = face;
    const n = face.length;
    const { positions: P, corners } = m;
    const { min, max } = bounds(m);
    const middle = [0, 1, 2].map((k) => (min[k]! + max[k]!) / 2);
    const [mx, my, mz] = [middle[0]!, middle[1]!, middle[2]!];
    const boxes = new Float64Array(6 * n);
    const T = new Float64Array(STRIDE * n);
    const planes = trianglePlanes(m, triangles, face, tol);
    for (let t = 0; t < n; t++) {
      const a = 3 * corners[triangles[3 * t]!]!;
      const b = 3 * corners[triangles[3 * t + 1]!]!;
      const c = 3 * corners[triangles[3 * t + 2]!]!;
      const at = STRIDE * t;
      for (let k = 0; k < 3; k++) {
        const x = P[a + k]!;
        const y = P[b + k]!;
        const z = P[c + k]!;
        boxes[6 * t + k] = x < y ? (x < z ? x : z) : y < z ? y : z;
        boxes[6 * t + 3 + k] = x > y ? (x > z ? x : z) : y > z ? y : z;
        T[at + k] = x - middle[k]!;
        T[at + 3 + k] = y - middle[k]!;
        T[at + 6 + k] = z - middle[k]!;
        T[at + 9 + k] = planes[6 * t + k]!;
      }
      const q = 6 * t;
      T[at + 12] =
        planes[q]! * (planes[q + 3]! - mx) +
        planes[q + 1]! * (planes[q + 4]! - my) +
        planes[q + 2]! * (planes[q + 5]! - mz);
    }
    this.boxes = boxes;
    this.numbers = T;
    this.next = topologyOf(m).next;
    this.slack = NEARLY * Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  }

  /** Looks at two triangles; true ends the search. */
  look(s: number, t: number): boolean {
    const { numbers: T, tol, slack } = this;
    const [i, j] = [STRIDE * s, STRIDE * t];
    // Most pairs are on one side of each other. Where an edge of one passes through the other, each goes through the
    // plane of the other, that one by more than the tolerance.
    if (straddles(T, i, j, AT_ALL * tol) && straddles(T, j, i, AT_ALL * tol)) {
      const [over, under] = [mayPierce(T, i, j, tol, slack), mayPierce(T, j, i, tol, slack)];
      if (over || under) return this.lookCloser(s, t, over, under);
    }
    if (this.overlaps && isIn(T, i, j, tol) && isIn(T, j, i, tol)) this.lookForOverlap(s, t);
    return false;
  }

  private lookCloser(s: number, t: number, over: boolean, under: boolean): boolean {
    const [f, g] = [this.face[s]!, this.face[t]!];
    if (f === g || this.told.has(this.nameOf(f, g))) return false;
    const [vs, vt] = [this.verticesOf(s), this.verticesOf(t)];
    // With an edge in common they lie in one plane or on both sides of it.
    if (vs.filter((v) => vt.includes(v)).length > 1) return false;
    const passes = (u: number, w: number, a: number[], b: number[]): boolean =>
      edgesThrough(this.m.positions, this.numbers, STRIDE * u, STRIDE * w, a, b, (k) => this.isHidden(w, k), this.tol);
    if (!(over && passes(s, t, vs, vt)) && !(under && passes(t, s, vt, vs))) return false;
    this.told.add(this.nameOf(f, g));
    return this.found('cross', Math.min(f, g), Math.max(f, g), vs[0]!);
  }

  private lookForOverlap(s: number, t: number): void {
    const [f, g] = [this.face[s]!, this.face[t]!];
    const name = this.nameOf(f, g);
    if (f === g || this.overlapping.has(name)) return;
    const [vs, vt] = [this.verticesOf(s), this.verticesOf(t)];
    if (trianglesOverlap(this.m.positions, vs, vt, this.numbers, STRIDE * s)) this.overlapping.set(name, vs[0]!);
  }

  /** Tells of the faces that lie over each other and do not cross elsewhere, until one ends the search. */
  tellOverlaps(): void {
    const n = faceCount(this.m);
    for (const [name, vertex] of this.overlapping) {
      if (this.told.has(name)) continue;
      if (this.found('overlap', Math.floor(name / n), name % n, vertex)) return;
    }
  }

  private nameOf(f: number, g: number): number {
    return f < g ? f * faceCount(this.m) + g : g * faceCount(this.m) + f;
  }

  private verticesOf(t: number): number[] {
    const { corners } = this.m;
    return [0, 1, 2].map((k) => corners[this.triangles[3 * t + k]!]!);
  }

  /** Whether a side of a triangle is a diagonal inside its face. */
  private isHidden(t: number, k: number): boolean {
    return this.next[this.triangles[3 * t + k]!] !== this.triangles[3 * t + (k === 2 ? 0 : k + 1)]!;
  }
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
