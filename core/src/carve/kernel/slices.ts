import type { Crossings } from './points.ts';
import { MINUS, PLUS, SideReader } from './planeSides.ts';
import type { State } from './state.ts';
import { IntList } from './tables.ts';

/** What the line of two planes meets on one facet. */
class Slice {
  /** Points where the boundary changes between "above the plane" and not, and between "below" and not. */
  readonly plus = new IntList();
  readonly minus = new IntList();
  /** Vertices on the plane. */
  readonly zero = new IntList();
  /** Outline corners that cross the plane, and where. */
  readonly crossCorner = new IntList();
  readonly crossPoint = new IntList();
  /** Outline corners whose edges lie on the line. */
  readonly along = new IntList();
  low = 0;
  high = 0;
  /**
   * Per point of the joint list: whether the interval after it is inside the facet, and whether it is in the closed
   * slice.
   */
  covered = new Uint8Array(64);
  closed = new Uint8Array(64);

  clear(): void {
    this.plus.clear();
    this.minus.clear();
    this.zero.clear();
    this.crossCorner.clear();
    this.crossPoint.clear();
    this.along.clear();
  }
}

/**
 * Step 4, the other pairs: two facets in different planes meet along the planes' common line. Each boundary is walked
 * once; the points where it passes the other plane, in order along the line, bound the intervals that lie in the facet.
 * An interval in both facets is a cut line of both; a point inside both splits the edge that it lies on.
 */
export class Slicer {
  private readonly ofF: SideReader;
  private readonly ofG: SideReader;
  private readonly F = new Slice();
  private readonly G = new Slice();
  private dx = 0;
  private dy = 0;
  private dz = 0;
  /** Joint list of points in order along the line, and each point's place in it. */
  private readonly points = new IntList();
  private at = new Float64Array(64);
  private rank = new Int32Array(0);
  private stamp = new Int32Array(0);
  private round = 0;
  private sorted = new Int32Array(64);

  constructor(
    private readonly s: State,
    private readonly crossings: Crossings,
  ) {
    this.ofF = new SideReader(s);
    this.ofG = new SideReader(s);
  }

  run(): void {
    const { s } = this;
    for (let i = 0; i < s.pairA.length; i++) {
      if ((i & 8191) === 8191) s.step(0.2 + (0.3 * i) / s.pairA.length, 'Crossing faces');
      const f = s.pairA[i]!;
      const g = s.pairB[i]!;
      if (s.facetPlane[f] !== s.facetPlane[g]) this.pair(f, g);
    }
  }

  private along(v: number): number {
    const { P } = this.s;
    return this.dx * P[3 * v]! + this.dy * P[3 * v + 1]! + this.dz * P[3 * v + 2]!;
  }

  private pair(f: number, g: number): void {
    const { s, F, G } = this;
    const pf = s.facetPlane[f]!;
    const pg = s.facetPlane[g]!;
    const maskF = this.ofF.read(f, pg, g);
    const maskG = this.ofG.read(g, pf, f);
    if (maskF === PLUS || maskF === MINUS || maskG === PLUS || maskG === MINUS) return;
    const L = s.plane;
    const a = 7 * s.planeFacet[pf]!;
    const b = 7 * s.planeFacet[pg]!;
    const dx = L[a + 1]! * L[b + 2]! - L[a + 2]! * L[b + 1]!;
    const dy = L[a + 2]! * L[b]! - L[a]! * L[b + 2]!;
    const dz = L[a]! * L[b + 1]! - L[a + 1]! * L[b]!;
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    if (length < 1e-12) {
      s.trouble('parallel', s.fv[s.facetStart[f]!]);
      return;
    }
    this.dx = dx / length;
    this.dy = dy / length;
    this.dz = dz / length;
    this.extent(f, this.ofF, F);
    this.extent(g, this.ofG, G);
    const slack = (10 * s.tol) / Math.min(1, length);
    if (F.low > G.high + slack || G.low > F.high + slack) return;
    this.slice(f, this.ofF, pg, F);
    this.slice(g, this.ofG, pf, G);
    if (!F.zero.length && !G.zero.length && F.crossPoint.length === 2 && G.crossPoint.length === 2) this.twoByTwo(f, g);
    else this.general(f, g);
  }

  /** How far a facet's boundary reaches along the line. */
  private extent(f: number, sides: SideReader, S: Slice): void {
    const { s } = this;
    const begin = s.facetStart[f]!;
    S.low = Infinity;
    S.high = -Infinity;
    for (let r = 0; r < sides.ranges.length; r += 2)
      for (let i = sides.ranges[r]!; i < sides.ranges[r + 1]!; i++) {
        const j = s.fnext[begin + i]! - begin;
        const p = sides.side[i]!;
        const q = sides.side[j]!;
        let t: number;
        if (p === 0) t = this.along(s.fv[begin + i]!);
        else if ((p > 0 && q < 0) || (p < 0 && q > 0)) {
          const k = p / (p - q);
          t = this.along(s.fv[begin + i]!) * (1 - k) + this.along(s.fv[begin + j]!) * k;
        } else continue;
        if (t < S.low) S.low = t;
        if (t > S.high) S.high = t;
      }
  }

  private slice(f: number, sides: SideReader, plane: number, S: Slice): void {
    const { s } = this;
    const begin = s.facetStart[f]!;
    S.clear();
    for (let r = 0; r < sides.ranges.length; r += 2)
      for (let i = sides.ranges[r]!; i < sides.ranges[r + 1]!; i++) {
        const c = begin + i;
        const j = s.fnext[c]! - begin;
        const p = sides.side[i]!;
        const q = sides.side[j]!;
        const u = s.fv[c]!;
        const v = s.fv[begin + j]!;
        if ((p > 0 && q < 0) || (p < 0 && q > 0)) {
          const x = this.crossings.at(s.fedge[c]!, u, v, plane, p, q);
          S.plus.push(x);
          S.minus.push(x);
          S.crossCorner.push(c);
          S.crossPoint.push(x);
        } else {
          if (p > 0 !== q > 0) S.plus.push(p === 0 ? u : v);
          if (p < 0 !== q < 0) S.minus.push(p === 0 ? u : v);
          if (p === 0 && q === 0) S.along.push(c);
        }
        if (p === 0) S.zero.push(u);
      }
  }

  /** The usual case: each facet is crossed twice, nothing touches. */
  private twoByTwo(f: number, g: number): void {
    const { s, F, G } = this;
    let a = F.crossPoint.get(0);
    let b = F.crossPoint.get(1);
    let c = G.crossPoint.get(0);
    let d = G.crossPoint.get(1);
    let ta = this.along(a);
    let tb = this.along(b);
    let tc = this.along(c);
    let td = this.along(d);
    if (ta > tb) [a, b, ta, tb] = [b, a, tb, ta];
    if (tc > td) [c, d, tc, td] = [d, c, td, tc];
    for (let k = 0; k < 2; k++) {
      const x = F.crossPoint.get(k);
      const tx = x === a ? ta : tb;
      if (x === c || x === d || (tx > tc && tx < td)) s.split(s.fedge[F.crossCorner.get(k)]!, x);
      const y = G.crossPoint.get(k);
      const ty = y === c ? tc : td;
      if (y === a || y === b || (ty > ta && ty < tb)) s.split(s.fedge[G.crossCorner.get(k)]!, y);
    }
    const left = a === c || ta > tc ? a : c;
    const right = b === d || tb < td ? b : d;
    const tl = left === a ? ta : tc;
    const tr = right === b ? tb : td;
    if (left !== right && tl < tr && a !== d && b !== c) s.segment(f, g, left, right);
  }

  private general(f: number, g: number): void {
    const { s, F, G } = this;
    this.orderPoints();
    this.cover(F, f);
    this.cover(G, g);
    const n = this.points.length;
    for (let k = 0; k + 1 < n; k++)
      if (F.covered[k] && G.covered[k]) s.segment(f, g, this.points.get(k), this.points.get(k + 1));
    this.splitEdges(F, G);
    this.splitEdges(G, F);
  }

  /** All points of both slices, each once, in order along the line. */
  private orderPoints(): void {
    const { s, points } = this;
    if (this.rank.length < s.P.length / 3) {
      this.rank = new Int32Array(s.P.length / 3);
      this.stamp = new Int32Array(s.P.length / 3);
      this.round = 0;
    }
    this.round++;
    points.clear();
    for (const S of [this.F, this.G])
      for (const list of [S.plus, S.minus, S.zero])
        for (let i = 0; i < list.length; i++) {
          const v = list.get(i);
          if (this.stamp[v] === this.round) continue;
          this.stamp[v] = this.round;
          points.push(v);
        }
    const n = points.length;
    if (this.at.length < n) this.at = new Float64Array(2 * n);
    for (let i = 0; i < n; i++) this.at[i] = this.along(points.get(i));
    if (n > 64) {
      const order = Array.from({ length: n }, (_, i) => i).sort((x, y) => this.at[x]! - this.at[y]!);
      const ids = order.map((i) => points.get(i));
      ids.forEach((v, i) => (points.data[i] = v));
    } else
      for (let i = 1; i < n; i++) {
        const v = points.get(i);
        const t = this.at[i]!;
        let j = i - 1;
        for (; j >= 0 && this.at[j]! > t; j--) {
          this.at[j + 1] = this.at[j]!;
          points.data[j + 1] = points.get(j);
        }
        this.at[j + 1] = t;
        points.data[j + 1] = v;
      }
    for (let i = 0; i < n; i++) this.rank[points.get(i)] = i;
  }

  /** Marks the intervals and points of the joint list that are in one facet's closed slice. */
  private cover(S: Slice, facet: number): void {
    const n = this.points.length;
    if (S.covered.length < n) {
      S.covered = new Uint8Array(2 * n);
      S.closed = new Uint8Array(2 * n);
    }
    S.covered.fill(0, 0, n);
    S.closed.fill(0, 0, n);
    for (const list of [S.plus, S.minus]) {
      const m = list.length;
      if (m & 1) this.s.trouble('slice', this.s.fv[this.s.facetStart[facet]!]);
      if (this.sorted.length < m) this.sorted = new Int32Array(2 * m);
      const ranks = this.sorted.subarray(0, m);
      for (let i = 0; i < m; i++) ranks[i] = this.rank[list.get(i)]!;
      if (m === 2) {
        if (ranks[0]! > ranks[1]!) [ranks[0], ranks[1]] = [ranks[1]!, ranks[0]!];
      } else ranks.sort();
      for (let i = 0; i + 1 < m; i += 2)
        for (let k = ranks[i]!; k < ranks[i + 1]!; k++) {
          S.covered[k] = 1;
          S.closed[k] = S.closed[k + 1] = 1;
        }
      for (let i = 0; i < m; i++) S.closed[ranks[i]!] = 1;
    }
    for (let i = 0; i < S.zero.length; i++) S.closed[this.rank[S.zero.get(i)]!] = 1;
  }

  /** Edges of S are split by the points that the other facet's slice holds too. */
  private splitEdges(S: Slice, other: Slice): void {
    const { s } = this;
    for (let k = 0; k < S.crossPoint.length; k++) {
      const x = S.crossPoint.get(k);
      if (other.closed[this.rank[x]!]) s.split(s.fedge[S.crossCorner.get(k)]!, x);
    }
    for (let k = 0; k < S.along.length; k++) {
      const c = S.along.get(k);
      let from = this.rank[s.fv[c]!]!;
      let to = this.rank[s.fv[s.fnext[c]!]!]!;
      if (from > to) [from, to] = [to, from];
      for (let m = from + 1; m < to; m++) if (other.closed[m]) s.split(s.fedge[c]!, this.points.get(m));
    }
  }
}
