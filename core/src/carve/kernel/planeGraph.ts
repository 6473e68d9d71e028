import { planeBasis } from '../../mesh/index.ts';
import { sortRun, turnOf } from './planar.ts';
import type { State } from './state.ts';
import { IntList } from './tables.ts';

/**
 * The planar graph of one plane: vertices and edges numbered locally, half-edges linked round each vertex, and the
 * loops that they make.
 */
export class PlaneGraph {
  // Local numbering of the plane's vertices and edges; all arrays are used again for each plane.
  protected local: Int32Array;
  protected stamp: Int32Array;
  protected round = 0;
  protected readonly global = new IntList();
  protected X = new Float64Array(64);
  protected Y = new Float64Array(64);
  protected readonly eu = new IntList();
  protected readonly ew = new IntList();
  protected readonly chain = new IntList();
  protected readonly chainHead = new IntList();
  protected readonly tagHead = new IntList();
  protected readonly basis = new Float64Array(6);
  protected start = new Int32Array(64);
  protected at = new Int32Array(64);
  protected up = new Int32Array(64);
  protected out = new Int32Array(64);
  protected next = new Int32Array(64);
  protected loopOf = new Int32Array(64);
  protected turn = new Float64Array(64);
  /** A half-edge of each loop, and its signed area. */
  protected readonly first: number[] = [];
  protected readonly area: number[] = [];

  constructor(protected readonly s: State) {
    this.local = new Int32Array(s.P.length / 3);
    this.stamp = new Int32Array(s.P.length / 3);
  }

  /** Empties the graph for another plane. */
  protected begin(plane: number): void {
    const { s } = this;
    planeBasis(s.plane, 7 * s.planeFacet[plane]!, this.basis);
    if (this.local.length < s.P.length / 3) {
      this.local = new Int32Array(s.P.length / 3);
      this.stamp = new Int32Array(s.P.length / 3);
      this.round = 0;
    }
    this.round++;
    for (const l of [this.global, this.eu, this.ew, this.chain, this.chainHead, this.tagHead]) l.clear();
  }

  protected vertex(v: number): number {
    if (this.stamp[v] === this.round) return this.local[v]!;
    this.stamp[v] = this.round;
    const i = this.global.push(v);
    this.local[v] = i;
    this.chainHead.push(-1);
    if (i >= this.X.length) {
      const grow = (a: Float64Array) => {
        const more = new Float64Array(2 * a.length);
        more.set(a);
        return more;
      };
      this.X = grow(this.X);
      this.Y = grow(this.Y);
    }
    const { P } = this.s;
    const b = this.basis;
    const x = P[3 * v]!;
    const y = P[3 * v + 1]!;
    const z = P[3 * v + 2]!;
    this.X[i] = b[0]! * x + b[1]! * y + b[2]! * z;
    this.Y[i] = b[3]! * x + b[4]! * y + b[5]! * z;
    return i;
  }

  /** The local edge of two vertices, each pair once. */
  protected edge(p: number, q: number): number {
    let a = this.vertex(p);
    let b = this.vertex(q);
    if (a > b) [a, b] = [b, a];
    for (let e = this.chainHead.get(a); e >= 0; e = this.chain.get(e)) if (this.ew.get(e) === b) return e;
    const e = this.eu.push(a);
    this.ew.push(b);
    this.tagHead.push(-1);
    this.chain.push(this.chainHead.get(a));
    this.chainHead.data[a] = e;
    return e;
  }

  protected origin(h: number): number {
    return h & 1 ? this.ew.get(h >> 1) : this.eu.get(h >> 1);
  }

  /** For each half-edge the next one of the loop on its left, in `next`. */
  protected link(): void {
    const n = this.global.length;
    const halves = 2 * this.eu.length;
    this.reserve(n, halves);
    const { start, at, out, next, turn, X, Y } = this;
    start.fill(0, 0, n + 1);
    for (let h = 0; h < halves; h++) start[this.origin(h) + 1]!++;
    for (let i = 0; i < n; i++) start[i + 1]! += start[i]!;
    for (let i = 0; i < n; i++) at[i] = start[i]!;
    for (let h = 0; h < halves; h++) out[at[this.origin(h)]!++] = h;
    for (let i = 0; i < n; i++) {
      const s = start[i]!;
      const e = start[i + 1]!;
      if (e - s > 2) {
        for (let k = s; k < e; k++) {
          const j = this.origin(out[k]! ^ 1);
          turn[out[k]!] = turnOf(X[j]! - X[i]!, Y[j]! - Y[i]!);
        }
        sortRun(out, s, e, turn);
      }
      for (let k = s; k < e; k++) next[out[k]! ^ 1] = out[k > s ? k - 1 : e - 1]!;
    }
  }

  protected reserve(vertices: number, halves: number): void {
    if (this.start.length < vertices + 1) {
      this.start = new Int32Array(2 * vertices + 2);
      this.at = new Int32Array(2 * vertices + 2);
      this.up = new Int32Array(2 * vertices + 2);
    }
    if (this.out.length < halves) {
      this.out = new Int32Array(2 * halves);
      this.next = new Int32Array(2 * halves);
      this.loopOf = new Int32Array(2 * halves);
      this.turn = new Float64Array(2 * halves);
    }
  }

  /** Walks all loops: a half-edge of each in `first`, its signed area in `area`. */
  protected findLoops(): void {
    const { X, Y, next, loopOf, first, area } = this;
    const halves = 2 * this.eu.length;
    loopOf.fill(-1, 0, halves);
    first.length = area.length = 0;
    for (let h = 0; h < halves; h++) {
      if (loopOf[h]! >= 0) continue;
      let i = this.origin(h);
      const ox = X[i]!;
      const oy = Y[i]!;
      let a = 0;
      let q = h;
      do {
        loopOf[q] = first.length;
        q = next[q]!;
        const j = this.origin(q);
        a += (X[i]! - ox) * (Y[j]! - oy) - (X[j]! - ox) * (Y[i]! - oy);
        i = j;
      } while (q !== h);
      first.push(h);
      area.push(a / 2);
    }
  }

  protected root(i: number): number {
    const { up } = this;
    while (up[i] !== i) i = up[i] = up[up[i]!]!;
    return i;
  }

  /** Joins the ends of all edges; returns how many connected components the graph has. */
  protected components(): number {
    const { up } = this;
    const n = this.global.length;
    for (let i = 0; i < n; i++) up[i] = i;
    let count = n;
    for (let e = 0; e < this.eu.length; e++) {
      const a = this.root(this.eu.get(e));
      const b = this.root(this.ew.get(e));
      if (a === b) continue;
      up[a] = b;
      count--;
    }
    return count;
  }
}
