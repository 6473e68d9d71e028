import { cross, dot, lengthOf, sub } from '../../mesh/index.ts';
import { CREASE, SEAM, type FineTriangles } from './fineTriangles.ts';

/** Steps along a side without a nearer half-edge before the search ends, and at most. */
const [LOOK, MOST_STEPS] = [5, 400];
/** A half-edge is nearer when it is by this many widths. */
const NEARER = 1e-12;
/** What is kept of each half-edge: its start, its way, the square of that, and the way to its left. */
const STRIDE = 10;
/** A half-edge on whose right a place lies is farther by this share. */
const ON_OTHER_SIDE = 1e-9;
/** At a crease that leaves the seam at a wider angle than this (radians) a mitre is as wide as it may be. */
const WIDEST_MITRE = 2.6;
/** Sine that stands for such an angle: no mitre is longer than 1 / 0.5 widths. */
const LEAST_SINE = 0.5;

/** One side of a seam: a walk of half-edges with its surface on the left. */
export interface SeamSide {
  list: number[];
  /** An open one begins and ends at the border of a sheet. */
  isClosed: boolean;
  length: number;
  /** Whether a band is to be laid on it. */
  isWanted: boolean;
}

/** A place along a side: a half-edge, the share of it, how far off (mm), and that in widths. */
export interface Nearest {
  h: number;
  share: number;
  distance: number;
  f: number;
}

/** The sides of a seam as walks of half-edges, numbered on their own, with the width at the start of each. */
export class SeamSides {
  /** Half-edge of the fine triangles, and its ends. */
  readonly half: number[] = [];
  readonly A: number[] = [];
  readonly B: number[] = [];
  /** The next and the previous half-edge of the same side; −1 at the ends of an open one. */
  readonly next: Int32Array;
  readonly prev: Int32Array;
  readonly sideOf: Int32Array;
  readonly index: Int32Array;
  /** Length along the side to where a half-edge begins, mm. */
  readonly along: Float64Array;
  readonly sides: SeamSide[] = [];
  /** Width (mm) at the start of each half-edge; at the ends of open sides, after those. */
  readonly W: Float64Array;
  /** Where in `W` the width at the end of a half-edge is. */
  readonly after: Int32Array;
  readonly onSeam: Uint8Array;
  /** For triangle corners (half-edges that leave them) at the seam: the half-edge of the side whose sector it is. */
  readonly sector: Int32Array;
  /** For half-edges that leave a sector with creases: the least sine of an obtuse angle between one and the seam. */
  readonly obtuse = new Map<number, number>();
  /** The side's half-edge for each half-edge of the triangles that is one; −1 elsewhere. */
  readonly ids: Int32Array;
  private readonly E: Float64Array;

  /** `width` tells the width (mm) at the start and the end of a seam half-edge. */
  constructor(
    readonly fine: FineTriangles,
    width: (half: number) => readonly [number, number],
    isWanted: (halves: readonly number[]) => boolean,
  ) {
    const { kind } = fine;
    const ids = (this.ids = new Int32Array(kind.length).fill(-1));
    for (let h = 0; h < kind.length; h++) {
      if (kind[h] !== SEAM) continue;
      ids[h] = this.half.length;
      this.half.push(h);
      this.A.push(fine.vertex[h]!);
      this.B.push(fine.end(h));
    }
    const n = this.half.length;
    this.onSeam = new Uint8Array(fine.positions.length / 3);
    for (let i = 0; i < n; i++) this.onSeam[this.A[i]!] = this.onSeam[this.B[i]!] = 1;
    this.next = new Int32Array(n).fill(-1);
    this.prev = new Int32Array(n).fill(-1);
    this.sector = new Int32Array(kind.length).fill(-1);
    for (let i = 0; i < n; i++) this.turnAt(i);
    for (let i = 0; i < n; i++) if (this.prev[i]! < 0) this.turnBefore(i);
    this.sideOf = new Int32Array(n).fill(-1);
    this.index = new Int32Array(n);
    this.along = new Float64Array(n);
    // Open sides from where they begin.
    for (let i = 0; i < n; i++) if (this.prev[i]! < 0) this.walk(i, isWanted);
    for (let i = 0; i < n; i++) if (this.sideOf[i]! < 0) this.walk(i, isWanted);
    this.W = new Float64Array(n + this.sides.length);
    this.after = Int32Array.from({ length: n }, (_, i) => (this.next[i]! >= 0 ? this.next[i]! : n + this.sideOf[i]!));
    for (let i = 0; i < n; i++) {
      const [a, b] = width(this.half[i]!);
      this.W[i] = a;
      if (this.next[i]! < 0) this.W[this.after[i]!] = b;
    }
    this.E = new Float64Array(STRIDE * n);
    for (let i = 0; i < n; i++) {
      const [p, q] = [fine.at(this.A[i]!), fine.at(this.B[i]!)];
      const { plane } = fine.groups[fine.group[(this.half[i]! / 3) | 0]!]!;
      const e = sub(q, p);
      const left = cross([plane[0]!, plane[1]!, plane[2]!], e);
      this.E.set([...p, ...e, dot(e, e) || 1, ...left], STRIDE * i);
    }
  }

  get count(): number {
    return this.half.length;
  }

  /**
   * What lies about the end of a half-edge on its side, up to the next half-edge of the seam or a border: the
   * half-edges that leave the vertex, the last one being either of these, and how far (radians) one has turned to each.
   */
  fan(i: number): { out: number[]; angles: number[] } {
    const { fine, ids } = this;
    const [out, angles]: [number[], number[]] = [[], []];
    let turned = 0;
    for (let h = this.half[i]!; h >= 0; h = fine.opposite[out.at(-1)!]!) {
      const leaves = fine.next(h);
      turned += angleAt(fine, fine.vertex[leaves]!, fine.vertex[h]!, fine.end(leaves));
      out.push(leaves);
      angles.push(turned);
      if (ids[leaves]! >= 0) break;
    }
    return { out, angles };
  }

  /** Finds the next half-edge of a side, and whose sector the corners between are. */
  private turnAt(i: number): void {
    const { out, angles } = this.fan(i);
    // At the border of a sheet the side ends.
    const n = this.ids[out.at(-1)!]!;
    for (const h of out) this.sector[h] = n < 0 ? i : n;
    if (n < 0) return;
    this.next[i] = n;
    this.prev[n] = i;
    const creases = angles.filter((_, k) => this.fine.kind[out[k]!] === CREASE);
    if (creases.length) this.mitred(n, creases, angles.at(-1)!);
  }

  /** Turns the other way about the start of a side that begins at a border. */
  private turnBefore(i: number): void {
    const { fine, sector } = this;
    for (let h = this.half[i]!; ;) {
      sector[h] = i;
      h = fine.opposite[fine.before(h)]!;
      if (h < 0) return;
    }
  }

  private mitred(h: number, creases: readonly number[], turned: number): void {
    const wide = [creases[0]!, turned - creases.at(-1)!].filter((x) => x > Math.PI / 2);
    const sine = Math.min(1, ...wide.map((x) => (x > WIDEST_MITRE ? LEAST_SINE : Math.sin(x))));
    if (sine < 1) this.obtuse.set(h, sine);
  }

  private walk(first: number, isWanted: (halves: readonly number[]) => boolean): void {
    const list: number[] = [];
    let length = 0;
    let h = first;
    while (h >= 0 && this.sideOf[h]! < 0) {
      this.sideOf[h] = this.sides.length;
      this.index[h] = list.length;
      this.along[h] = length;
      length += this.fine.length(this.A[h]!, this.B[h]!);
      list.push(h);
      h = this.next[h]!;
    }
    const halves = list.map((i) => this.half[i]!);
    this.sides.push({ list, length, isClosed: h === first, isWanted: isWanted(halves) });
  }

  /** Whether a band is wanted on every side of the edge of a half-edge. */
  wantsAcross(h: number): boolean {
    const o = this.fine.opposite[this.half[h]!]!;
    return this.wants(h) && (o < 0 || this.wants(this.ids[o]!));
  }

  /** Whether a band is wanted on the side of a half-edge. */
  wants(h: number): boolean {
    return this.sides[this.sideOf[h]!]!.isWanted;
  }

  private share = 0;
  private distance = 0;
  /** How far a place is from a half-edge, in widths there. */
  private value(x: number, y: number, z: number, h: number): number {
    const { E, W } = this;
    const i = STRIDE * h;
    const px = x - E[i]!;
    const py = y - E[i + 1]!;
    const pz = z - E[i + 2]!;
    const q = (px * E[i + 3]! + py * E[i + 4]! + pz * E[i + 5]!) / E[i + 6]!;
    const s = q < 0 ? 0 : q > 1 ? 1 : q;
    const dx = px - s * E[i + 3]!;
    const dy = py - s * E[i + 4]!;
    const dz = pz - s * E[i + 5]!;
    this.share = s;
    this.distance = Math.sqrt(dx * dx + dy * dy + dz * dz);
    const f = this.distance / (W[h]! + s * (W[this.after[h]!]! - W[h]!));
    // Where a seam ends its two sides are as far from any place: the one that it lies on is nearer.
    return px * E[i + 7]! + py * E[i + 8]! + pz * E[i + 9]! < 0 ? f * (1 + ON_OTHER_SIDE) : f;
  }

  /** Written by `nearest`. */
  readonly found: Nearest = { h: 0, share: 0, distance: 0, f: 0 };

  /**
   * The half-edge nearest to a place, from one that is about there along the same side. The answer stands in `found`,
   * until the next call; returns the distance in widths.
   */
  nearest(x: number, y: number, z: number, from: number, look = LOOK): number {
    const { found } = this;
    found.h = from;
    found.f = this.value(x, y, z, from);
    found.distance = this.distance;
    found.share = this.share;
    for (let way = 0; way < 2; way++) {
      const step = way ? this.prev : this.next;
      let g = found.h;
      for (let i = 0, idle = 0; i < MOST_STEPS && idle < look; i++) {
        g = step[g]!;
        if (g < 0) break;
        const f = this.value(x, y, z, g);
        if (f < found.f - NEARER) {
          found.h = g;
          found.f = f;
          found.distance = this.distance;
          found.share = this.share;
          idle = 0;
        } else idle++;
      }
    }
    return found.f;
  }

  nearestTo(v: number, from: number, look = LOOK): Nearest {
    const P = this.fine.positions;
    this.nearest(P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!, from, look);
    return { ...this.found };
  }

  /** Whether two half-edges are so near along one side that a search from the one finds what the other does. */
  areNeighbours(h: number, g: number): boolean {
    return this.sideOf[h] === this.sideOf[g] && Math.abs(this.index[h]! - this.index[g]!) < LOOK;
  }

  /** The way along the side between two places of it, mm; infinite between two sides. */
  arc(h: number, s: number, g: number, t: number): number {
    if (this.sideOf[h] !== this.sideOf[g]) return Infinity;
    const at = (x: number, share: number) => this.along[x]! + share * this.fine.length(this.A[x]!, this.B[x]!);
    const d = Math.abs(at(h, s) - at(g, t));
    const { length, isClosed } = this.sides[this.sideOf[h]!]!;
    return isClosed ? Math.min(d, length - d) : d;
  }

  /** Distance between two places of sides, mm. */
  apart(a: Nearest, b: Nearest): number {
    const at = ({ h, share }: Nearest, k: number) => this.E[STRIDE * h + k]! + share * this.E[STRIDE * h + 3 + k]!;
    return Math.hypot(...[0, 1, 2].map((k) => at(a, k) - at(b, k)));
  }

  /** Narrows a half-edge, and those up to `reach` before and after it, to a share of what they are. */
  narrow(h: number, share: number, reach: number, done: Set<number>): void {
    const mark = (i: number) => {
      if (!done.has(i)) this.W[i]! *= share;
      done.add(i);
    };
    for (let [i, g] = [0, h]; i <= reach && g >= 0; i++, g = this.next[g]!) {
      mark(g);
      mark(this.after[g]!);
    }
    for (let [i, g] = [0, h]; i <= reach && g >= 0; i++, g = this.prev[g]!) mark(g);
  }
}

function angleAt(fine: FineTriangles, v: number, a: number, b: number): number {
  const p = fine.at(v);
  const [u, w] = [sub(fine.at(a), p), sub(fine.at(b), p)];
  return Math.acos(Math.max(-1, Math.min(1, dot(u, w) / (lengthOf(u) * lengthOf(w) || 1))));
}
