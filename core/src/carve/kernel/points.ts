import type { State } from './state.ts';
import { PairTable } from './tables.ts';

/** Vertices hashed by place, for finding the nearest one within a tolerance. */
export class VertexGrid {
  private readonly head: Int32Array;
  private next: Int32Array;
  private readonly mask: number;
  private readonly inverse: number;

  constructor(
    private readonly s: State,
    expected: number,
  ) {
    let n = 64;
    while (n < 2 * expected) n *= 2;
    this.head = new Int32Array(n).fill(-1);
    this.mask = n - 1;
    this.next = new Int32Array(s.P.length / 3);
    // A cell is much wider than the tolerance, so that most look-ups read one cell.
    this.inverse = 1 / Math.max(1000 * s.tol, 1e-6 * s.scene.size, Number.MIN_VALUE);
  }

  private cell(i: number, j: number, k: number): number {
    let h = Math.imul(i, 73856093) ^ Math.imul(j, 19349663) ^ Math.imul(k, 83492791);
    h ^= h >>> 13;
    return h & this.mask;
  }

  insert(v: number): void {
    const { P } = this.s;
    const w = this.inverse;
    const h = this.cell(Math.floor(P[3 * v]! * w), Math.floor(P[3 * v + 1]! * w), Math.floor(P[3 * v + 2]! * w));
    if (v >= this.next.length) {
      const more = new Int32Array(P.length / 3);
      more.set(this.next);
      this.next = more;
    }
    this.next[v] = this.head[h]!;
    this.head[h] = v;
  }

  /** The nearest vertex within tol of a place, or −1. */
  find(x: number, y: number, z: number): number {
    const { P, tol: r } = this.s;
    const w = this.inverse;
    const i1 = Math.floor((x + r) * w);
    const j1 = Math.floor((y + r) * w);
    const k1 = Math.floor((z + r) * w);
    let best = -1;
    let nearest = r * r;
    for (let i = Math.floor((x - r) * w); i <= i1; i++)
      for (let j = Math.floor((y - r) * w); j <= j1; j++)
        for (let k = Math.floor((z - r) * w); k <= k1; k++)
          for (let v = this.head[this.cell(i, j, k)]!; v >= 0; v = this.next[v]!) {
            const dx = P[3 * v]! - x;
            const dy = P[3 * v + 1]! - y;
            const dz = P[3 * v + 2]! - z;
            const d = dx * dx + dy * dy + dz * dz;
            if (d <= nearest) {
              nearest = d;
              best = v;
            }
          }
    return best;
  }
}

/**
 * Step 2, point identity: the one vertex in which an edge crosses a plane, whoever asks and from which side.
 * In this order: known for (edge, plane); a vertex declared on the edge that lies on the plane; known for the three
 * planes that meet there; an existing vertex within tol; a new one.
 */
export class Crossings {
  private readonly known = new PairTable(1024);
  private vertex = new Int32Array(2048).fill(-1);
  private readonly pairsOfPlanes = new PairTable();
  private readonly triples = new PairTable();
  private tripleVertex = new Int32Array(64).fill(-1);

  constructor(
    private readonly s: State,
    private readonly grid: VertexGrid,
  ) {}

  /** The crossing of an edge (its ends u, v at strictly opposite signed distances du, dv) with a plane. */
  at(edge: number, u: number, v: number, plane: number, du: number, dv: number): number {
    const { s } = this;
    const key = this.known.index(edge, plane);
    if (key >= this.vertex.length) this.vertex = grown(this.vertex);
    const seen = this.vertex[key]!;
    if (seen >= 0) return seen;
    for (let i = s.onEdge.start(edge); i >= 0; i = s.onEdge.after(i)) {
      const w = s.onEdge.at(i);
      if (s.side(w, plane) === 0) return (this.vertex[key] = w);
    }
    const triple = s.anyShared ? this.triple(edge, plane) : -1;
    if (triple >= 0 && this.tripleVertex[triple]! >= 0) return (this.vertex[key] = this.tripleVertex[triple]!);
    // Always from the lower vertex to the higher, so that the place does not depend on who asks.
    if (u > v) {
      [u, v] = [v, u];
      [du, dv] = [dv, du];
    }
    const w = this.place(u, v, du / (du - dv));
    this.vertex[key] = w;
    if (triple >= 0) this.tripleVertex[triple] = w;
    return w;
  }

  /** The vertex at share t of u → v: an existing one within tol, or a new one. */
  place(u: number, v: number, t: number): number {
    const { P } = this.s;
    const x = P[3 * u]! + (P[3 * v]! - P[3 * u]!) * t;
    const y = P[3 * u + 1]! + (P[3 * v + 1]! - P[3 * u + 1]!) * t;
    const z = P[3 * u + 2]! + (P[3 * v + 2]! - P[3 * u + 2]!) * t;
    let w = this.grid.find(x, y, z);
    if (w < 0) {
      w = this.s.addVertex(x, y, z);
      this.grid.insert(w);
    }
    return w;
  }

  /**
   * The number of the three planes that meet where an edge crosses a plane, or −1 when they do not settle the point.
   */
  triple(edge: number, plane: number): number {
    const { s } = this;
    let a = -1;
    let b = -1;
    let count = 0;
    for (let i = s.edgePlanes.start(edge); i >= 0; i = s.edgePlanes.after(i)) {
      if (count === 0) a = s.edgePlanes.at(i);
      else b = s.edgePlanes.at(i);
      count++;
    }
    if (count !== 2 || a === plane || b === plane) return -1;
    return this.tripleOf(a, b, plane);
  }

  /** As `triple`, for two edges that cross within a plane: the second edge's other plane takes the plane's place. */
  tripleOfEdges(edge: number, other: number, plane: number): number {
    const { edgePlanes } = this.s;
    for (let i = edgePlanes.start(other); i >= 0; i = edgePlanes.after(i))
      if (edgePlanes.at(i) !== plane) return this.triple(edge, edgePlanes.at(i));
    return -1;
  }

  private tripleOf(a: number, b: number, c: number): number {
    const { s } = this;
    if (!(s.planeShared[a] || s.planeShared[b] || s.planeShared[c])) return -1;
    if (a > b) [a, b] = [b, a];
    if (b > c) [b, c] = [c, b];
    if (a > b) [a, b] = [b, a];
    const L = s.plane;
    const x = 7 * s.planeFacet[a]!;
    const y = 7 * s.planeFacet[b]!;
    const z = 7 * s.planeFacet[c]!;
    const det =
      L[x]! * (L[y + 1]! * L[z + 2]! - L[y + 2]! * L[z + 1]!) -
      L[x + 1]! * (L[y]! * L[z + 2]! - L[y + 2]! * L[z]!) +
      L[x + 2]! * (L[y]! * L[z + 1]! - L[y + 1]! * L[z]!);
    // Nearly dependent planes do not settle a point.
    if (Math.abs(det) < 1e-9) return -1;
    const t = this.triples.index(this.pairsOfPlanes.index(a, b), c);
    if (t >= this.tripleVertex.length) this.tripleVertex = grown(this.tripleVertex);
    return t;
  }

  /** The vertex known for three planes, or −1; `remember` sets it. */
  tripleVertexOf(triple: number): number {
    return triple < 0 ? -1 : this.tripleVertex[triple]!;
  }

  remember(triple: number, vertex: number): void {
    if (triple >= 0) this.tripleVertex[triple] = vertex;
  }
}

function grown(a: Int32Array): Int32Array<ArrayBuffer> {
  const more = new Int32Array(2 * a.length).fill(-1);
  more.set(a);
  return more;
}
