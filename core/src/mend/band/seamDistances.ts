import { dot, lengthOf, sub } from '../../mesh/index.ts';
import { CREASE, type FineTriangles } from './fineTriangles.ts';
import type { SeamSides } from './seamSides.ts';

/** The front stops this many widths from the seam. */
const FARTHEST = 1.5;
/** Two sides share what is between them in these parts: a strip is left. */
const MEETING = 0.85;
/** Places of one side are near each other over the surface, not along it, when the way along is so many distances. */
const ROUND_ABOUT = 6;
/** A band keeps to this share of the way to a crease, or to a side that gets none. */
const TO_CREASE = 0.7;
/** A crease leaves the seam here when the way along it is no more than so many distances. */
const LEAVES = 3;
/** A crease has a corner where it turns by more (cosine of half a radian). */
const CREASE_TURNS = Math.cos(0.5);
/** The width changes by no more than this share of the way along the seam. */
const GRADE = 0.5;
/** A mitre at a crease is no longer than this many widths. */
const LONGEST_MITRE = 2;
/** A width is lower when it is by this share of the full one. */
const LOWER = 1e-9;
/** A place is nearer by so many widths. */
const NEARER = 1e-12;

/** How far each fine vertex is from the seam, in widths there, and the half-edge that is nearest (−1: none). */
export interface Distances {
  f: Float64Array;
  from: Int32Array;
}

/** Neighbours of each vertex: those of v stand in `to` from `start[v]` on. */
export interface Neighbours {
  start: Int32Array;
  to: Int32Array;
}

export function neighboursOf(fine: FineTriangles): Neighbours {
  const n = fine.positions.length / 3;
  const start = new Int32Array(n + 1);
  const isTwice = (h: number) => fine.opposite[h]! < 0;
  for (let h = 0; h < fine.vertex.length; h++) {
    start[fine.vertex[h]! + 1]!++;
    if (isTwice(h)) start[fine.end(h) + 1]!++;
  }
  for (let v = 0; v < n; v++) start[v + 1]! += start[v]!;
  const to = new Int32Array(start[n]!);
  const at = start.slice(0, n);
  for (let h = 0; h < fine.vertex.length; h++) {
    const [a, b] = [fine.vertex[h]!, fine.end(h)];
    to[at[a]!++] = b;
    if (isTwice(h)) to[at[b]!++] = a;
  }
  return { start, to };
}

/**
 * Distances over the surface to the sides that get a band: a front goes over the vertices and hands on which half-edge
 * is nearest, so that it passes neither the seam nor a wall; the distance itself is straight, to that half-edge.
 * Source: Dijkstra's front over nearest sites, as in Breu, Gil, Kirkpatrick and Werman, 1995.
 */
export function distancesTo(fine: FineTriangles, s: SeamSides, { start, to }: Neighbours): Distances {
  const n = s.onSeam.length;
  const P = fine.positions;
  const f = new Float64Array(n).fill(Infinity);
  const from = new Int32Array(n).fill(-1);
  const front = new Front();
  const offer = (v: number, h: number) => {
    if (s.onSeam[v] || (from[v]! >= 0 && s.areNeighbours(from[v]!, h))) return;
    const d = s.nearest(P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!, h);
    if (!(d < f[v]! - NEARER)) return;
    f[v] = d;
    from[v] = s.found.h;
    if (d < FARTHEST) front.push(d, v);
  };
  for (let v = 0; v < n; v++) if (s.onSeam[v]) f[v] = 0;
  for (let h = 0; h < s.sector.length; h++) {
    const side = s.sector[h]!;
    if (side < 0 || !s.wants(side)) continue;
    offer(fine.end(h), side);
    offer(fine.vertex[fine.before(h)]!, side);
  }
  while (front.size) {
    const [d, v] = front.pop();
    if (d > f[v]!) continue;
    for (let i = start[v]!; i < start[v + 1]!; i++) offer(to[i]!, from[v]!);
  }
  return { f, from };
}

/** A heap of vertices by their distance. */
class Front {
  private readonly key: number[] = [];
  private readonly item: number[] = [];
  get size(): number {
    return this.key.length;
  }
  push(d: number, v: number): void {
    const { key, item } = this;
    let i = key.length;
    key.push(d);
    item.push(v);
    for (; i > 0;) {
      const p = (i - 1) >> 1;
      if (key[p]! <= d) break;
      key[i] = key[p]!;
      item[i] = item[p]!;
      i = p;
    }
    key[i] = d;
    item[i] = v;
  }
  pop(): [number, number] {
    const { key, item } = this;
    const top: [number, number] = [key[0]!, item[0]!];
    const [d, v] = [key.pop()!, item.pop()!];
    const n = key.length;
    if (!n) return top;
    let i = 0;
    for (;;) {
      let c = 2 * i + 1;
      if (c >= n) break;
      if (c + 1 < n && key[c + 1]! < key[c]!) c++;
      if (d <= key[c]!) break;
      key[i] = key[c]!;
      item[i] = item[c]!;
      i = c;
    }
    key[i] = d;
    item[i] = v;
    return top;
  }
}

/**
 * Narrows widths where sides come to each other, or to creases and borders that do not leave the seam there, and grades
 * them. `width`: the full one, mm.
 */
export function makeRoom(fine: FineTriangles, s: SeamSides, { from }: Distances, width: number): void {
  const caps: [number, number][] = [];
  for (let h = 0; h < fine.vertex.length; h++) {
    if (fine.edge(h) !== h) continue;
    const [a, b] = [fine.vertex[h]!, fine.end(h)];
    const [ha, hb] = [s.onSeam[a] ? s.sector[h]! : from[a]!, s.onSeam[b] ? s.sector[fine.next(h)]! : from[b]!];
    if (ha < 0 || hb < 0 || s.areNeighbours(ha, hb)) continue;
    const [wa, wb] = [s.wants(ha), s.wants(hb)];
    if (!wa && !wb) continue;
    const [A, B] = [s.nearestTo(a, ha), s.nearestTo(b, hb)];
    if (wa && wb) {
      const over = (A.distance + B.distance + fine.length(a, b)) / 2;
      if (over >= 1.1 * width || s.arc(A.h, A.share, B.h, B.share) <= ROUND_ABOUT * over) continue;
      // The way over the edge is a little long: straight from side to side it is not.
      const d = Math.min(over, s.apart(A, B) / 2);
      for (const x of [A, B]) caps.push([x.h, MEETING * d]);
    } else {
      const [x, bare] = wa ? [A, b] : [B, a];
      const d = s.nearestTo(bare, x.h).distance;
      if (d > 0 && d < 1.15 * width) caps.push([x.h, TO_CREASE * d]);
    }
  }
  const { ends, far } = creasesFrom(fine, s, LEAVES * 2 * width);
  for (const v of ends.keys()) {
    if (s.onSeam[v] || from[v]! < 0) continue;
    const b = s.nearestTo(v, from[v]!);
    const passes = (far.get(v) ?? Infinity) <= LEAVES * b.distance && !isCorner(fine, v, ends.get(v)!);
    if (b.distance < 1.15 * width && !passes) caps.push([b.h, TO_CREASE * b.distance]);
  }
  for (const [h, w] of caps) for (const i of [h, s.after[h]!]) if (w < s.W[i]! - LOWER * width) s.W[i] = w;
  grade(s);
}

/** Whether creases meet or turn at a vertex: under a band it would be lost. */
function isCorner(fine: FineTriangles, v: number, ends: readonly number[]): boolean {
  if (ends.length !== 2) return ends.length > 2;
  const [u, w] = ends.map((x) => sub(fine.at(x), fine.at(v)));
  return -dot(u!, w!) < CREASE_TURNS * lengthOf(u!) * lengthOf(w!);
}

/** The ends of the edges of creases at each of their vertices, and how far along creases these are from the seam, mm. */
function creasesFrom(fine: FineTriangles, s: SeamSides, most: number) {
  const ends = new Map<number, number[]>();
  const put = (a: number, b: number) => {
    const list = ends.get(a);
    if (list) list.push(b);
    else ends.set(a, [b]);
  };
  for (let h = 0; h < fine.kind.length; h++) {
    if (fine.kind[h] !== CREASE || fine.edge(h) !== h) continue;
    put(fine.vertex[h]!, fine.end(h));
    put(fine.end(h), fine.vertex[h]!);
  }
  const far = new Map<number, number>();
  const todo = [...ends.keys()].filter((v) => s.onSeam[v]);
  for (const v of todo) far.set(v, 0);
  for (let i = 0; i < todo.length; i++) {
    const v = todo[i]!;
    for (const x of ends.get(v)!) {
      const d = far.get(v)! + fine.length(v, x);
      if (d >= Math.min(far.get(x) ?? Infinity, most)) continue;
      far.set(x, d);
      todo.push(x);
    }
  }
  return { ends, far };
}

/**
 * Where a crease leaves the seam at an obtuse angle, the straight line beside the seam meets it further out than the
 * width: wider there, and evenly less beside.
 */
export function mitreAtCreases(s: SeamSides, width: number): void {
  for (const [h, sine] of s.obtuse) {
    if (!s.wants(h) || s.W[h]! < 0.999 * width) continue;
    const most = Math.min(LONGEST_MITRE, 1 / sine) * width;
    for (const step of [s.next, s.prev]) {
      let w = most;
      for (let [g, i] = [h, 0]; w > width && g >= 0 && i < s.count; i++) {
        s.W[g] = Math.max(s.W[g]!, w);
        const n = step[g]!;
        if (n >= 0) w -= GRADE * s.fine.length(s.A[g]!, s.A[n]!);
        g = n;
      }
    }
  }
}

/** Lets widths change along the sides by no more than a share of the way. */
export function grade(s: SeamSides): void {
  for (const { list, isClosed } of s.sides) {
    for (let turn = 0; turn < (isClosed ? 2 : 1); turn++) {
      for (const h of list) lower(s, s.after[h]!, h, h);
      for (let i = list.length; i-- > 0;) lower(s, list[i]!, s.after[list[i]!]!, list[i]!);
    }
  }
}

const lower = (s: SeamSides, to: number, from: number, h: number): void => {
  s.W[to] = Math.min(s.W[to]!, s.W[from]! + GRADE * s.fine.length(s.A[h]!, s.B[h]!));
};
