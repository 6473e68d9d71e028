import { planeBasis } from '../../mesh/index.ts';
import { bagEdges, looksAgainst, type Bag } from './bags.ts';
import { insideLoop, turnOf } from './planar.ts';
import type { Polygons } from './polygons.ts';
import type { State } from './state.ts';
import { IntList, PairTable } from './tables.ts';

/**
 * Turns bags into faces with boundaries: edges that two cells of a bag walk both ways cancel, the rest is retraced,
 * turning at a vertex where several boundaries meet through the kept sector, and inner boundaries are nested in outer
 * ones.
 */
export class BoundaryTracer {
  private seen: Int32Array;
  private round = 0;
  private readonly basis = new Float64Array(6);
  private readonly plane = new Float64Array(6);

  constructor(
    private readonly s: State,
    private readonly out: Polygons,
  ) {
    this.seen = new Int32Array(s.vertices);
  }

  add(bag: Bag): void {
    if (bag.cells.length === 1 && !bag.facets.length && this.simple(bag.cells[0]!)) this.wholeCell(bag, bag.cells[0]!);
    else this.trace(bag);
  }

  /** Whether a cell can be taken as it is: no boundary is a mere slit, and none passes a vertex twice. */
  private simple(k: number): boolean {
    const { s, seen } = this;
    const round = ++this.round;
    for (let l = s.cellLoopStart.get(k); l < s.cellLoopStart.get(k + 1); l++) {
      const begin = s.loopCornerStart.get(l);
      const end = s.loopCornerStart.get(l + 1);
      if (end - begin < 3) return false;
      for (let i = begin; i < end; i++) {
        const v = s.cellVertex.get(i);
        if (seen[v] === round) return false;
        seen[v] = round;
      }
    }
    return true;
  }

  private wholeCell(bag: Bag, k: number): void {
    const { s, out } = this;
    const backward = looksAgainst(bag);
    for (let l = s.cellLoopStart.get(k); l < s.cellLoopStart.get(k + 1); l++)
      out.loop(s.cellVertex.data, s.cellCorner.data, s.loopCornerStart.get(l), s.loopCornerStart.get(l + 1), backward);
    out.endFace(bag.face, bag.flipped, bag.plane, bag.zone);
  }

  /** Sets the plane on which a bag's boundaries are looked at, so that outer ones run counter-clockwise. */
  private lookAt(bag: Bag): void {
    const { s, plane } = this;
    const q = 7 * s.planeFacet[bag.plane >> 1]!;
    plane.set(s.plane.subarray(q, q + 6));
    const sign = looksAgainst(bag) ? -1 : 1;
    for (let k = 0; k < 3; k++) plane[k]! *= sign;
    planeBasis(plane, 0, this.basis);
  }

  private trace(bag: Bag): void {
    const { s } = this;
    // Directed edges, each with how often it is left over, and the corner it runs along.
    const edges = new PairTable(64);
    const count = new IntList();
    const corner = new IntList();
    bagEdges(s, bag, (u, v, c) => {
      const r = edges.find(v, u);
      if (r >= 0 && count.get(r) > 0) {
        count.data[r]!--;
        return;
      }
      const e = edges.index(u, v);
      if (e === count.length) {
        count.push(1);
        corner.push(c);
      } else {
        count.data[e]!++;
        corner.data[e] = c;
      }
    });
    const from: number[] = [];
    const to: number[] = [];
    const corners: number[] = [];
    for (let e = 0; e < edges.count; e++)
      for (let i = 0; i < count.get(e); i++) {
        from.push(edges.firstOf(e));
        to.push(edges.secondOf(e));
        corners.push(corner.get(e));
      }
    if (!from.length) return;
    this.lookAt(bag);
    this.faces(bag, from, to, corners);
  }

  private faces(bag: Bag, from: number[], to: number[], corners: number[]): void {
    const { s, out } = this;
    const b = this.basis;
    const ids = new Map<number, number>();
    const vertex: number[] = [];
    const at = (v: number) => {
      let i = ids.get(v);
      if (i === undefined) {
        i = vertex.push(v) - 1;
        ids.set(v, i);
      }
      return i;
    };
    const u = from.map(at);
    const w = to.map(at);
    const X = new Float64Array(vertex.length);
    const Y = new Float64Array(vertex.length);
    vertex.forEach((v, i) => {
      const [x, y, z] = [s.P[3 * v]!, s.P[3 * v + 1]!, s.P[3 * v + 2]!];
      X[i] = b[0]! * x + b[1]! * y + b[2]! * z;
      Y[i] = b[3]! * x + b[4]! * y + b[5]! * z;
    });
    const next = nextThroughKeptSector(u, w, X, Y);
    const seen = new Uint8Array(u.length);
    const outer: { loop: number[]; ring: Int32Array; area: number; holes: number[][] }[] = [];
    const inner: number[][] = [];
    for (let h = 0; h < u.length; h++) {
      if (seen[h]) continue;
      const loop: number[] = [];
      let area = 0;
      let q = h;
      while (q >= 0 && !seen[q]) {
        seen[q] = 1;
        loop.push(q);
        const [i, j, o] = [u[q]!, w[q]!, u[h]!];
        area += (X[i]! - X[o]!) * (Y[j]! - Y[o]!) - (X[j]! - X[o]!) * (Y[i]! - Y[o]!);
        q = next[q]!;
      }
      if (q !== h) s.trouble('boundary', from[h]);
      if (area > 0) outer.push({ loop, ring: Int32Array.from(loop, (e) => u[e]!), area, holes: [] });
      else inner.push(loop);
    }
    for (const hole of inner) {
      let best = outer.length === 1 ? outer[0] : undefined;
      if (!best)
        for (const o of outer) {
          // An inner boundary may touch its outer one at a vertex: ask at one that it does not share.
          const free = hole.find((e) => !o.ring.includes(u[e]!));
          if (free === undefined || (best && best.area <= o.area)) continue;
          if (insideLoop(X, Y, o.ring, X[u[free]!]!, Y[u[free]!]!)) best = o;
        }
      if (best) best.holes.push(hole);
      else s.trouble('boundary', from[hole[0]!]);
    }
    for (const o of outer) {
      for (const loop of [o.loop, ...o.holes]) {
        for (const e of loop) {
          out.vertex.push(from[e]!);
          out.corner.push(corners[e]!);
        }
        out.endLoop();
      }
      out.endFace(bag.face, bag.flipped, bag.plane, bag.zone);
    }
  }
}

/** For each directed edge the one that follows it: where several leave, the first one clockwise from the way back. */
function nextThroughKeptSector(u: number[], w: number[], X: Float64Array, Y: Float64Array): Int32Array {
  const leaving = new Map<number, number[]>();
  u.forEach((i, h) => {
    const list = leaving.get(i);
    if (list) list.push(h);
    else leaving.set(i, [h]);
  });
  return Int32Array.from(u, (i, h) => {
    const list = leaving.get(w[h]!);
    if (!list) return -1;
    if (list.length === 1) return list[0]!;
    const j = w[h]!;
    const back = turnOf(X[i]! - X[j]!, Y[i]! - Y[j]!);
    let best = -1;
    let least = Infinity;
    for (const q of list) {
      let turn = back - turnOf(X[w[q]!]! - X[j]!, Y[w[q]!]! - Y[j]!);
      if (turn <= 1e-13) turn += 4;
      if (turn < least) {
        least = turn;
        best = q;
      }
    }
    return best;
  });
}
