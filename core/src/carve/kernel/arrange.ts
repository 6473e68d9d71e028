import { Bvh } from '../../mesh/index.ts';
import { insideLoop } from './planar.ts';
import { PlaneGraph } from './planeGraph.ts';
import type { State } from './state.ts';
import { IntList } from './tables.ts';

/** Above this many (component × cell) tests a tree of boxes finds the cell that a component stands in. */
const TREE_ABOVE = 4096;

const NO_FACES: readonly never[] = [];
/** Stands for the cover of a cell that the flood has not come to. */
const UNREACHED: readonly number[] = [-1];

/**
 * Step 5, one arrangement per plane: the boundaries of all its facets and all cut lines on them, split where they meet,
 * become the edges of a planar graph. Its loops bound cells; from the unbounded cell inward, crossing a boundary edge
 * enters or leaves its facet, so each cell knows which facets cover it. Facets on the same plane share cells by
 * construction.
 */
export class Arranger extends PlaneGraph {
  private readonly tagNext = new IntList();
  private readonly tagFacet = new IntList();
  private readonly tagCorner = new IntList();
  private readonly along = new Float64Array(3);
  // Cells of the plane: see `findCells`.
  private readonly cellOf: number[] = [];
  private readonly own: number[] = [-1];
  private readonly inner: number[][] = [];
  private readonly idleOf = new Map<number, readonly [number, number][]>();
  private readonly covers: (readonly number[])[] = [];
  private readonly order: { v: number; t: number }[] = [];
  /** Area of the cells found so far, per facet. */
  private readonly covered: Float64Array;

  constructor(s: State) {
    super(s);
    this.covered = new Float64Array(s.facets);
    s.cellCoverStart.push(0);
    s.cellLoopStart.push(0);
    s.loopCornerStart.push(0);
  }

  run(): void {
    const { s } = this;
    const start = new Int32Array(s.planes + 1);
    for (let f = 0; f < s.facets; f++) start[s.facetPlane[f]! + 1]!++;
    for (let p = 0; p < s.planes; p++) start[p + 1]! += start[p]!;
    const list = new Int32Array(s.facets);
    const at = start.slice();
    for (let f = 0; f < s.facets; f++) list[at[s.facetPlane[f]!]!++] = f;
    for (let p = 0; p < s.planes; p++) {
      if ((p & 8191) === 8191) s.step(0.5 + (0.2 * p) / s.planes, 'Arranging planes');
      const facets = list.subarray(start[p], start[p + 1]);
      if (facets.length > 1 || this.isCut(facets[0]!)) this.plane(p, facets);
    }
  }

  private isCut(f: number): boolean {
    const { s } = this;
    if (s.segments.start(f) >= 0) return true;
    for (let c = s.facetStart[f]!; c < s.facetStart[f + 1]!; c++)
      if (s.touched[s.fv[c]!] && s.splits.start(s.fedge[c]!) >= 0) return true;
    return false;
  }

  private plane(p: number, facets: Int32Array): void {
    const { s } = this;
    this.begin(p);
    for (const l of [this.tagNext, this.tagFacet, this.tagCorner]) l.clear();
    const idle: [number, number][] = []; // inner boundaries that nothing touches, as corner runs
    for (const f of facets) {
      s.cut[f] = 1;
      const end = s.facetStart[f + 1]!;
      for (let from = s.facetStart[f]!; from < end;) {
        let to = from + 1;
        while (to < end && s.fnext[to - 1] === to) to++;
        if (facets.length === 1 && from > s.facetStart[f]! && this.untouched(from, to)) idle.push([from, to]);
        else for (let c = from; c < to; c++) this.boundaryEdge(f, c);
        from = to;
      }
    }
    for (const f of facets)
      for (let i = s.segments.start(f); i >= 0; i = s.segments.after(i)) {
        const seg = s.segments.at(i);
        this.cutLine(s.segA.get(seg), s.segB.get(seg), s.facetBody[f]!, s.segBody.get(seg));
      }
    this.cellsOf(p, facets, idle);
  }

  private untouched(from: number, to: number): boolean {
    for (let c = from; c < to; c++) if (this.s.touched[this.s.fv[c]!]) return false;
    return true;
  }

  /** The vertices that split u–v, in order from u; the list is used again by the next call. */
  private splitsOf(u: number, v: number, edge: number): number {
    const { s, order } = this;
    let n = 0;
    if (edge < 0 || !s.touched[u] || !s.touched[v]) return 0;
    const { P } = s;
    const d = this.along;
    for (let k = 0; k < 3; k++) d[k] = P[3 * v + k]! - P[3 * u + k]!;
    for (let i = s.splits.start(edge); i >= 0; i = s.splits.after(i)) {
      const w = s.splits.at(i);
      let t = 0;
      for (let k = 0; k < 3; k++) t += (P[3 * w + k]! - P[3 * u + k]!) * d[k]!;
      const o = (order[n] ??= { v: 0, t: 0 });
      o.v = w;
      o.t = t;
      let j = n++;
      for (; j > 0 && order[j - 1]!.t > t; j--) order[j] = order[j - 1]!;
      order[j] = o;
    }
    return n;
  }

  private boundaryEdge(f: number, c: number): void {
    const { s } = this;
    const u = s.fv[c]!;
    const v = s.fv[s.fnext[c]!]!;
    const n = this.splitsOf(u, v, s.fedge[c]!);
    const body = s.facetBody[f]!;
    let q = u;
    for (let i = 0; i <= n; i++) {
      const w = i < n ? this.order[i]!.v : v;
      if (q !== w) {
        const e = this.edge(q, w);
        this.tagNext.push(this.tagHead.get(e));
        this.tagFacet.push(f);
        this.tagHead.data[e] = this.tagCorner.push(s.fcorner[c]!);
        s.carry(q, w, body);
      }
      q = w;
    }
  }

  private cutLine(u: number, v: number, body: number, other: number): void {
    const { s } = this;
    const n = this.splitsOf(u, v, s.edges.findEdge(u, v));
    let q = u;
    for (let i = 0; i <= n; i++) {
      const w = i < n ? this.order[i]!.v : v;
      if (q !== w) {
        this.edge(q, w);
        s.carry(q, w, body);
        s.carry(q, w, other);
      }
      q = w;
    }
  }

  /**
   * Tells outsides from cells: the most negative loop of a component is its outside, each other loop bounds a cell (in
   * `own`, from number 1; 0 is the unbounded one), and each outside lies in the smallest cell round it (in `inner`).
   */
  private findCells(idle: readonly [number, number][]): void {
    const { s, X, Y, first, area, cellOf, own, inner } = this;
    const many = this.components() > 1;
    const outside = new Map<number, number>();
    for (let l = 0; l < first.length; l++) {
      const c = many ? this.root(this.origin(first[l]!)) : 0;
      const o = outside.get(c);
      if (o === undefined || area[l]! < area[o]!) outside.set(c, l);
    }
    own.length = 1;
    inner.length = 1;
    inner[0] = [];
    for (let l = 0; l < first.length; l++) {
      const c = many ? this.root(this.origin(first[l]!)) : 0;
      cellOf[l] = -1;
      if (outside.get(c) === l) continue;
      cellOf[l] = own.length;
      own.push(l);
      inner.push([]);
      if (!(area[l]! > 0)) s.trouble('cell', this.global.get(this.origin(first[l]!)));
    }
    if (!many) {
      const l = outside.get(0)!;
      cellOf[l] = 0;
      inner[0].push(l);
    } else {
      const find = this.cellFinder(outside.size);
      for (const [c, l] of outside) {
        const v = this.origin(first[l]!);
        const k = find(X[v]!, Y[v]!, c);
        cellOf[l] = k;
        inner[k]!.push(l);
      }
    }
    this.idleOf.clear();
    if (!idle.length) return;
    const find = this.cellFinder(idle.length);
    for (const run of idle) {
      const [x, y] = this.flat(s.fv[run[0]]!);
      const k = find(x, y, -1);
      this.idleOf.set(k, [...(this.idleOf.get(k) ?? []), run]);
    }
  }

  private cellsOf(p: number, facets: Int32Array, idle: readonly [number, number][]): void {
    const { s, own } = this;
    this.link();
    this.findLoops();
    this.findCells(idle);
    this.flood(facets);
    for (let k = 1; k < own.length; k++) {
      const cover = this.covers[k]!;
      const v = this.global.get(this.origin(this.first[own[k]!]!));
      if (cover === UNREACHED) {
        s.trouble('cell', v);
        continue;
      }
      if (!cover.length) continue;
      for (let i = 1; i < cover.length && !s.alone; i++)
        if (s.facetBody[cover[i]!] === s.facetBody[cover[i - 1]!]) s.trouble('coverage', v);
      const net = this.emit(p, cover, k);
      for (const f of cover) this.covered[f]! += net;
    }
    for (const f of facets) this.checkArea(f, this.covered[f]!);
  }

  private flat(v: number): [number, number] {
    const { P } = this.s;
    const b = this.basis;
    const x = P[3 * v]!;
    const y = P[3 * v + 1]!;
    const z = P[3 * v + 2]!;
    return [b[0]! * x + b[1]! * y + b[2]! * z, b[3]! * x + b[4]! * y + b[5]! * z];
  }

  /** The local vertices of a cell's own loop. */
  private ring(k: number): Int32Array {
    const list: number[] = [];
    const h = this.first[this.own[k]!]!;
    let q = h;
    do {
      list.push(this.origin(q));
      q = this.next[q]!;
    } while (q !== h);
    return Int32Array.from(list);
  }

  /** Finds the smallest cell round a place that is not of the given component; 0 when there is none. */
  private cellFinder(questions: number): (x: number, y: number, component: number) => number {
    const { X, Y, own, area, first } = this;
    const rings: Int32Array[] = [];
    const boxes = new Float64Array(6 * own.length);
    for (let k = 1; k < own.length; k++) {
      const b = 6 * k;
      boxes[b] = boxes[b + 1] = Infinity;
      boxes[b + 3] = boxes[b + 4] = -Infinity;
      for (const i of (rings[k] = this.ring(k))) {
        boxes[b] = Math.min(boxes[b]!, X[i]!);
        boxes[b + 1] = Math.min(boxes[b + 1]!, Y[i]!);
        boxes[b + 3] = Math.max(boxes[b + 3]!, X[i]!);
        boxes[b + 4] = Math.max(boxes[b + 4]!, Y[i]!);
      }
    }
    const tree =
      questions * own.length > TREE_ABOVE
        ? new Bvh(
            boxes,
            Int32Array.from({ length: own.length - 1 }, (_, i) => i + 1),
          )
        : null;
    return (x, y, component) => {
      let best = 0;
      let smallest = Infinity;
      const test = (k: number) => {
        const a = area[own[k]!]!;
        const b = 6 * k;
        if (a >= smallest || x < boxes[b]! || x > boxes[b + 3]! || y < boxes[b + 1]! || y > boxes[b + 4]!) return;
        if (component >= 0 && this.root(this.origin(first[own[k]!]!)) === component) return;
        if (!insideLoop(X, Y, rings[k]!, x, y)) return;
        smallest = a;
        best = k;
      };
      if (tree) tree.overlaps([x, y, 0, x, y, 0], 0, 0, test);
      else for (let k = 1; k < own.length; k++) test(k);
      return best;
    };
  }

  /** Fills `covers`: for each cell the facets that cover it, by ascending body, flooded from outside. */
  private flood(facets: Int32Array): void {
    const { own, inner, first, next, loopOf, cellOf, covers } = this;
    const one = facets.length === 1 ? [facets[0]!] : null;
    covers.length = own.length;
    covers.fill(UNREACHED);
    covers[0] = NO_FACES;
    const todo = [0];
    while (todo.length) {
      const k = todo.pop()!;
      const loops = inner[k]!;
      for (let i = k ? -1 : 0; i < loops.length; i++) {
        const h = first[i < 0 ? own[k]! : loops[i]!]!;
        let q = h;
        do {
          const beyond = cellOf[loopOf[q ^ 1]!]!;
          if (covers[beyond] === UNREACHED) {
            covers[beyond] = this.toggled(covers[k]!, q >> 1, one);
            todo.push(beyond);
          }
          q = next[q]!;
        } while (q !== h);
      }
    }
  }

  /** What covers the far side of an edge: its facets are entered or left. */
  private toggled(cover: readonly number[], edge: number, one: readonly number[] | null): readonly number[] {
    const { facetBody } = this.s;
    let c = cover;
    for (let t = this.tagHead.get(edge); t >= 0; t = this.tagNext.get(t)) {
      const f = this.tagFacet.get(t);
      if (one) c = c.length ? NO_FACES : one;
      else c = c.includes(f) ? c.filter((x) => x !== f) : [...c, f].sort((a, b) => facetBody[a]! - facetBody[b]!);
    }
    return c;
  }

  /** Writes a cell to the state and returns its area. */
  private emit(p: number, cover: readonly number[], k: number): number {
    const { s, first, area } = this;
    let net = 0;
    let set = s.facetBody[cover[0]!]!;
    for (const f of cover) {
      s.cellCover.push(f);
      set = s.sets.with(set, s.facetBody[f]!);
    }
    s.cellCoverStart.push(s.cellCover.length);
    s.cellBodies.push(set);
    s.cellPlane.push(p);
    const loops = this.inner[k]!;
    for (let i = -1; i < loops.length; i++) {
      const l = i < 0 ? this.own[k]! : loops[i]!;
      this.emitLoop(first[l]!, cover[0]!);
      net += area[l]!;
    }
    // A facet that looks against the canonical plane has its boundaries the other way round there.
    const facing = s.facing(cover[0]!);
    for (const [from, to] of this.idleOf.get(k) ?? NO_FACES) net += this.emitIdle(from, to, facing > 0);
    s.cellLoopStart.push(s.loopCornerStart.length - 1);
    s.cellArea.push(net);
    s.cells++;
    return net;
  }

  private emitLoop(h: number, facet: number): void {
    const { s } = this;
    let q = h;
    do {
      s.cellVertex.push(this.global.get(this.origin(q)));
      let corner = -1;
      for (let t = this.tagHead.get(q >> 1); t >= 0; t = this.tagNext.get(t))
        if (this.tagFacet.get(t) === facet) corner = this.tagCorner.get(t);
      s.cellCorner.push(corner);
      q = this.next[q]!;
    } while (q !== h);
    s.loopCornerStart.push(s.cellVertex.length);
  }

  /**
   * An inner boundary that nothing touches; returns its signed area. Walked backward, an edge is that of the corner it
   * comes to.
   */
  private emitIdle(from: number, to: number, forward: boolean): number {
    const { s } = this;
    const [ox, oy] = this.flat(s.fv[from]!);
    let a = 0;
    for (let i = from; i < to; i++) {
      const c = forward ? i : to - 1 - (i - from);
      const before = c > from ? c - 1 : to - 1;
      s.cellVertex.push(s.fv[c]!);
      s.cellCorner.push(s.fcorner[forward ? c : before]!);
      const [x0, y0] = this.flat(s.fv[c]!);
      const [x1, y1] = this.flat(s.fv[forward ? s.fnext[c]! : before]!);
      a += (x0 - ox) * (y1 - oy) - (x1 - ox) * (y0 - oy);
    }
    s.loopCornerStart.push(s.cellVertex.length);
    return a / 2;
  }

  /** The cells of a facet must add up to it, within what moving its boundary by a few tol can do. */
  private checkArea(f: number, found: number): void {
    const { s } = this;
    const begin = s.facetStart[f]!;
    const end = s.facetStart[f + 1]!;
    if (begin === end) return;
    const [ox, oy] = this.flat(s.fv[begin]!);
    let area = 0;
    let perimeter = 0;
    for (let c = begin; c < end; c++) {
      const [x0, y0] = this.flat(s.fv[c]!);
      const [x1, y1] = this.flat(s.fv[s.fnext[c]!]!);
      area += (x0 - ox) * (y1 - oy) - (x1 - ox) * (y0 - oy);
      perimeter += Math.hypot(x1 - x0, y1 - y0);
    }
    if (!(Math.abs(Math.abs(area) / 2 - found) <= 16 * s.tol * perimeter)) s.trouble('area', s.fv[begin]!);
  }
}
