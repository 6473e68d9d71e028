import {
  insideRing,
  planeBasis,
  segmentsMeet,
  sizeOf,
  triangulateFlat,
  turned,
  type Flat,
  type NewCorner,
  type Vec3,
} from '../../mesh/index.ts';
import { corner } from '../meshEdit.ts';
import { FOLD, type FineTriangles } from './fineTriangles.ts';
import type { Traced } from './levelLine.ts';
import type { FullLine } from './lineWithEnds.ts';

/** What is left of a group, as boundaries of fine vertices; the outer one first, none when it went. */
export interface Piece {
  group: number;
  boundaries: NewCorner[][];
  /** Whether an end came to it that lies off its plane. */
  isBent: boolean;
}

/** A corner with a sine below this share of its cosine is too sharp to be left. */
const SHARPEST = 0.01;
/** An area below this share of the size squared counts as 0. */
const NO_AREA = 1e-14;
/** An end is off the plane of a piece that comes to it by no more than this, in widths. */
const OFF_PLANE = 0.08;
/** A vertex within this share of the size of a plane is on it. */
const ON_PLANE = 1e-9;
/** Numbers of directed edges of fine vertices. */
const KEY = 2 ** 26;

/** What is left of the faces that a band touches. */
export class Pieces {
  private readonly list: Piece[] = [];
  /** Faces of the mesh that lie under the band, wholly or in part. */
  readonly touched = new Set<number>();
  private readonly having = new Map<number, Set<Piece>>();
  private readonly bases: (Float64Array | undefined)[] = [];
  private readonly size: number;

  constructor(
    private readonly fine: FineTriangles,
    traced: Traced,
    lines: readonly FullLine[],
  ) {
    this.size = sizeOf(fine.mesh);
    const { under } = traced;
    const byGroup: number[][] = fine.groups.map(() => []);
    for (let t = 0; t < fine.triangles; t++) {
      const g = fine.group[t]!;
      byGroup[g]!.push(t);
      if (under[3 * t]! || under[3 * t + 1]! || under[3 * t + 2]!) this.touched.add(fine.groups[g]!.face);
    }
    const inside = new Map(lines.flatMap((line) => [...line.inside]));
    const stays = new Set(lines.flatMap((line) => line.list));
    byGroup.forEach((triangles, g) => {
      if (!this.touched.has(fine.groups[g]!.face)) return;
      const loops = this.outlines(triangles, traced, inside)
        .map((loop) => loop.filter((c) => c.vertex < fine.own.length || stays.has(c.vertex)))
        .filter((loop) => loop.length > 2);
      this.group(g, loops);
    });
  }

  /** What lies beyond the line, of some triangles: directed edges that no other of them has the other way, linked. */
  private outlines(triangles: readonly number[], { under, on }: Traced, inside: ReadonlyMap<number, number[]>) {
    const { fine } = this;
    const edges = new Map<number, number>();
    for (const t of triangles) {
      const polygon: NewCorner[] = [];
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        if (!under[h]) polygon.push(corner(fine.vertex[h]!, fine.corner[h]));
        if (under[h] === under[fine.next(h)]) continue;
        const node = on.get(fine.edge(h))!.vertex;
        if (under[h]) polygon.push(corner(node, fine.corner[h]));
        else polygon.push(corner(node), ...(inside.get(t) ?? []).map((v) => corner(v)));
      }
      polygon.forEach((c, i) => {
        const to = polygon[(i + 1) % polygon.length]!.vertex;
        if (!edges.delete(to * KEY + c.vertex)) edges.set(c.vertex * KEY + to, c.edge);
      });
    }
    const out = new Map<number, { to: number; edge: number }[]>();
    for (const [k, edge] of edges) {
      const a = Math.floor(k / KEY);
      const list = out.get(a);
      if (list) list.push({ to: k % KEY, edge });
      else out.set(a, [{ to: k % KEY, edge }]);
    }
    const loops: NewCorner[][] = [];
    for (const [first, list] of out)
      while (list.length) {
        const loop: NewCorner[] = [];
        let v = first;
        do {
          const { to, edge } = out.get(v)!.pop()!;
          loop.push(corner(v, edge));
          v = to;
        } while (v !== first);
        loops.push(loop);
      }
    return loops;
  }

  private group(g: number, loops: readonly NewCorner[][]): void {
    const outer = loops.filter((l) => this.area(g, l) > 0);
    const inner = loops.filter((l) => !(this.area(g, l) > 0));
    for (const l of outer) {
      const ring = outer.length > 1 ? l.map((c) => this.flat(g, c.vertex)) : [];
      const mine = outer.length === 1 ? inner : inner.filter((x) => insideRing(ring, this.flat(g, x[0]!.vertex)));
      const piece: Piece = { group: g, boundaries: [l, ...mine], isBent: false };
      this.list.push(piece);
      for (const loop of piece.boundaries) for (const c of loop) this.with(c.vertex).add(piece);
    }
  }

  private with(v: number): Set<Piece> {
    let set = this.having.get(v);
    if (!set) this.having.set(v, (set = new Set()));
    return set;
  }

  /** A vertex laid on the plane of a group. */
  private flat(g: number, v: number): Flat {
    const { plane } = this.fine.groups[g]!;
    let b = this.bases[g];
    if (!b) {
      b = this.bases[g] = new Float64Array(6);
      planeBasis(plane, 0, b);
    }
    const P = this.fine.positions;
    const [x, y, z] = [P[3 * v]! - plane[3]!, P[3 * v + 1]! - plane[4]!, P[3 * v + 2]! - plane[5]!];
    return [b[0]! * x + b[1]! * y + b[2]! * z, b[3]! * x + b[4]! * y + b[5]! * z];
  }

  private area(g: number, loop: readonly NewCorner[]): number {
    const p = loop.map((c) => this.flat(g, c.vertex));
    return p.reduce((sum, [x, y], i) => {
      const [u, w] = p[(i + 1) % p.length]!;
      return sum + (x * w - y * u) / 2;
    }, 0);
  }

  private offPlane(g: number, v: number): number {
    const { plane } = this.fine.groups[g]!;
    const p = this.fine.at(v);
    return Math.abs(plane[0]! * (p[0] - plane[3]!) + plane[1]! * (p[1] - plane[4]!) + plane[2]! * (p[2] - plane[5]!));
  }

  /**
   * Whether boundaries that were changed at a vertex are sound: the area stays positive, no changed side meets another
   * one, no corner folds back. `to`: only the side from the vertex to that one was changed.
   */
  private isSound(g: number, loops: readonly NewCorner[][], v: number, to?: number): boolean {
    if (!(this.area(g, loops[0]!) > NO_AREA * this.size ** 2)) return false;
    const seen = new Set<number>();
    for (const l of loops)
      for (const c of l) {
        if (seen.has(c.vertex)) return false;
        seen.add(c.vertex);
      }
    const flat = loops.map((l) => l.map((c) => this.flat(g, c.vertex)));
    const sides = loops.flatMap((l, i) =>
      l.map((c, j) => {
        const k = (j + 1) % l.length;
        return { v: c.vertex, w: l[k]!.vertex, a: flat[i]![j]!, b: flat[i]![k]! };
      }),
    );
    for (const e of sides) {
      if (to === undefined ? e.v !== v && e.w !== v : e.v !== v || e.w !== to) continue;
      for (const o of sides) {
        if (o.v === e.v || o.w === e.w || o.v === e.w || o.w === e.v || apart(e, o)) continue;
        if (segmentsMeet(e.a, e.b, o.a, o.b, 0)) return false;
      }
    }
    return loops.every((l, i) =>
      l.every((c, j) => {
        const [n, p] = [(j + 1) % l.length, (j + l.length - 1) % l.length];
        if (c.vertex !== v && l[n]!.vertex !== v && l[p]!.vertex !== v) return true;
        const [x, a, b] = [flat[i]![j]!, flat[i]![n]!, flat[i]![p]!];
        const cos = (a[0] - x[0]) * (b[0] - x[0]) + (a[1] - x[1]) * (b[1] - x[1]);
        return cos <= 0 || Math.abs(turned(x, a, b)) >= SHARPEST * cos;
      }),
    );
  }

  /**
   * Takes out of a line what is not the end of a spoke, where that leaves the faces beyond sound. `stays`: vertices that
   * stay in any case; `width`: mm.
   */
  straighten(line: FullLine, stays: ReadonlySet<number>, width: number): void {
    const isInner = (v: number) => !stays.has(v) && this.having.get(v)?.size === 1;
    // Within one piece the line goes straight: all nodes of a stretch at once where they can, else those that can.
    if (line.isClosed) {
      const start = line.list.findIndex((v) => !isInner(v));
      if (start > 0) line.list.push(...line.list.splice(0, start));
    }
    const out: number[] = [];
    for (let i = 0; i < line.list.length;) {
      out.push(line.list[i]!);
      let j = i + 1;
      while (j < line.list.length && isInner(line.list[j]!)) j++;
      if (j > i + 1) out.push(...this.without(line.list.slice(i + 1, j)));
      i = j;
    }
    line.list = out;
    // Edges that the line crosses end at the nearer end of a spoke.
    for (let goes = true; goes;) {
      goes = false;
      for (let i = 0; i < line.list.length; i++) {
        const v = line.list[i]!;
        if (stays.has(v)) continue;
        const N = line.list.length;
        const beside = [i + 1, i - 1].map((k) => line.list[line.isClosed ? (k + N) % N : k]);
        const to = beside
          .filter((x) => x !== undefined && stays.has(x))
          .sort((a, b) => this.fine.length(v, a!) - this.fine.length(v, b!))
          .find((x) => this.collapse(v, x!, width));
        if (to === undefined) continue;
        line.list.splice(i--, 1);
        goes = true;
      }
    }
  }

  /**
   * Moves the end of a spoke to a place of the same plane, mm; false, and it stays, where a piece that has it would not
   * be sound.
   */
  move(v: number, to: Vec3): boolean {
    const pieces = [...(this.having.get(v) ?? [])];
    const P = this.fine.positions;
    const was = this.fine.at(v);
    const put = (p: Vec3) => p.forEach((x, k) => (P[3 * v + k] = x));
    put(to);
    const isIn = ({ group, boundaries }: Piece) =>
      this.offPlane(group, v) <= ON_PLANE * this.size && this.isSound(group, boundaries, v);
    if (pieces.length && pieces.every(isIn)) return true;
    put(was);
    return false;
  }

  /** Takes vertices of one stretch out of the boundary of their piece; gives those that have to stay. */
  private without(run: readonly number[]): number[] {
    const [piece] = this.having.get(run[0]!)!;
    const set = new Set(run);
    const l = piece!.boundaries.find((x) => x.some((c) => c.vertex === run[0]))!;
    const j = l.findIndex((c) => c.vertex === run[0]);
    const before = l[(j + l.length - 1) % l.length]!.vertex;
    const after = l[(j + run.length) % l.length]!.vertex;
    const loops = piece!.boundaries.map((x) => x.filter((c) => !set.has(c.vertex)));
    if (l.length - run.length > 2 && this.isSound(piece!.group, loops, before, after)) {
      piece!.boundaries = loops;
      for (const v of run) this.having.delete(v);
      return [];
    }
    if (run.length === 1) return [...run];
    // The middle one stays: both halves go straight to it.
    const half = run.length >> 1;
    return [
      ...(half > 0 ? this.without(run.slice(0, half)) : []),
      run[half]!,
      ...(half + 1 < run.length ? this.without(run.slice(half + 1)) : []),
    ];
  }

  /**
   * The boundaries of all faces that are left, with their group. Pieces that an end has bent are parted into triangles,
   * but for those of which a diagonal would be an edge that is there already. An edge that now lies along a line, as
   * the face beyond it is gone, is no edge any more.
   */
  faces(lines: readonly FullLine[]): { group: number; boundaries: NewCorner[][] }[] {
    const there = new Set<string>();
    const name = (a: number, b: number) => (a < b ? `${a},${b}` : `${b},${a}`);
    const along = new Set(
      lines.flatMap(({ list, isClosed }) =>
        list.slice(isClosed ? 0 : 1).map((v, i) => name(v, list.at(isClosed ? i - 1 : i)!)),
      ),
    );
    const asIs = (l: readonly NewCorner[]) =>
      l.map((c, i) => (along.has(name(c.vertex, l[(i + 1) % l.length]!.vertex)) ? corner(c.vertex) : c));
    const pieces = this.list
      .filter((x) => x.boundaries.length)
      .map((x) => ({ ...x, boundaries: x.boundaries.map(asIs) }));
    for (const { boundaries } of pieces)
      for (const l of boundaries) l.forEach((c, i) => there.add(name(c.vertex, l[(i + 1) % l.length]!.vertex)));
    return pieces.flatMap(({ group, boundaries, isBent }) => {
      const all = boundaries.flat();
      if (!isBent || all.length === 3) return [{ group, boundaries }];
      let at = 0;
      const starts = boundaries.map((l) => (at += l.length) - l.length);
      const after = boundaries.flatMap((l, k) => l.map((_, i) => starts[k]! + ((i + 1) % l.length)));
      const t = triangulateFlat(
        all.flatMap((c) => this.flat(group, c.vertex)),
        starts,
      );
      const triangles: NewCorner[][] = [];
      const inner = new Set<string>();
      for (let i = 0; i < t.length; i += 3)
        triangles.push(
          [0, 1, 2].map((k) => {
            const [a, b] = [t[i + k]!, t[i + ((k + 1) % 3)]!];
            if (after[a] === b) return all[a]!;
            inner.add(name(all[a]!.vertex, all[b]!.vertex));
            return corner(all[a]!.vertex, FOLD);
          }),
        );
      if ([...inner].some((x) => there.has(x))) return [{ group, boundaries }];
      for (const x of inner) there.add(x);
      return triangles.map((l) => ({ group, boundaries: [l] }));
    });
  }

  /** Moves a vertex onto another one of the line; false where that would leave something unsound. */
  private collapse(v: number, to: number, width: number): boolean {
    const mine = [...(this.having.get(v) ?? [])];
    const next: { piece: Piece; loops: NewCorner[][]; isBent: boolean }[] = [];
    const ring = new Set<number>();
    for (const piece of mine) {
      for (const l of piece.boundaries) for (const x of neighboursIn(l, v)) ring.add(x);
      const loops = piece.boundaries.map((l) => moved(l, v, to));
      if (loops.some((l) => l.length < 3)) {
        if (loops.length > 1) return false;
        next.push({ piece, loops: [], isBent: false });
        continue;
      }
      const off = this.offPlane(piece.group, to);
      if (off > OFF_PLANE * width || !this.isSound(piece.group, loops, to)) return false;
      next.push({ piece, loops, isBent: piece.isBent || off > ON_PLANE * this.size });
    }
    // No edge may come to be there twice: other neighbours of both, but for those of a piece that vanishes.
    ring.delete(to);
    const gone = new Set(next.filter((x) => !x.loops.length).flatMap((x) => vertices(x.piece.boundaries)));
    for (const piece of this.having.get(to) ?? [])
      for (const l of piece.boundaries)
        for (const x of neighboursIn(l, to)) if (x !== v && ring.has(x) && !gone.has(x)) return false;
    for (const { piece, loops, isBent } of next) {
      const left = new Set(vertices(loops));
      for (const x of vertices(piece.boundaries)) if (!left.has(x)) this.having.get(x)?.delete(piece);
      piece.boundaries = loops;
      piece.isBent = isBent;
      if (loops.length) this.with(to).add(piece);
    }
    this.having.delete(v);
    return true;
  }
}

const vertices = (loops: readonly NewCorner[][]): number[] => loops.flatMap((l) => l.map((c) => c.vertex));

/** The neighbours of a vertex in a boundary. */
function neighboursIn(l: readonly NewCorner[], v: number): number[] {
  const j = l.findIndex((c) => c.vertex === v);
  return j < 0 ? [] : [l[(j + 1) % l.length]!.vertex, l[(j + l.length - 1) % l.length]!.vertex];
}

/** A boundary with one vertex in the place of another. */
const moved = (l: readonly NewCorner[], v: number, to: number): NewCorner[] =>
  l
    .map((c) => (c.vertex === v ? corner(to, c.edge) : c))
    .filter((c, i, a) => c.vertex !== a[(i + 1) % a.length]!.vertex);

/** Whether the boxes of two sides are apart. */
function apart(e: { a: Flat; b: Flat }, o: { a: Flat; b: Flat }): boolean {
  return [0, 1].some(
    (k) =>
      Math.max(e.a[k]!, e.b[k]!) < Math.min(o.a[k]!, o.b[k]!) ||
      Math.max(o.a[k]!, o.b[k]!) < Math.min(e.a[k]!, e.b[k]!),
  );
}
