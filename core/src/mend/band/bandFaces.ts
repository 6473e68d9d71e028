import {
  faceBegin,
  faceEnd,
  SpatialIndex,
  topologyOf,
  type NewCorner,
  type NewFace,
  type OpContext,
  type PolyMesh,
  pairsThatMeet,
} from '../../mesh/index.ts';
import { corner, MeshEdit } from '../meshEdit.ts';
import { spokeName } from './aims.ts';
import type { BandLines, Laid } from './bandLines.ts';
import type { Bands, BandWish, SeamEdge } from './bands.ts';
import { CREASE, FOLD, NO_EDGE, SEAM } from './fineTriangles.ts';
import { lineWithEnds, type FullLine } from './lineWithEnds.ts';
import { Pieces } from './remainingPieces.ts';
import type { SeamSides } from './seamSides.ts';
import type { Spoke } from './spokeEnds.ts';

/** A width is narrower when it is by this share. */
const LESS = 1e-6;
/** An inner row lies on a flat when it is off it by less than this, in widths. */
const ON_FLAT = 1e-6;

/** Puts a cell in, made of a face of the mesh. */
type Put = (from: number, boundary: readonly NewCorner[]) => void;

/** Puts lines with their spokes into the mesh as faces. */
export class BandFaces {
  private readonly edit: MeshEdit;
  private readonly s: SeamSides;
  private readonly number = new Map<number, number>();
  /** Half-edges of the sides at each vertex of the mesh made ready: where to narrow when a face there is at fault. */
  private readonly sideAt = new Map<number, number[]>();
  private readonly made = new Set<number>();
  /** For vertices of the line at which a crease crosses it: a corner of the mesh along that. */
  private readonly creaseTo = new Map<number, number>();
  /** Corners (see `spokeName`) whose mitre has no room. */
  readonly unfit: string[] = [];
  private surface: SpatialIndex | null = null;
  private readonly inner = new Map<string, number[]>();
  private readonly seam = new Map<string, SeamEdge>();
  private readonly report: Omit<Bands, 'none' | 'mesh' | 'seam' | 'numbers'>;

  constructor(
    private readonly m: PolyMesh,
    private readonly lines: BandLines,
    private readonly laid: Laid,
    private readonly wish: BandWish,
  ) {
    this.edit = new MeshEdit(m);
    this.s = lines.s;
    this.report = {
      bands: laid.lines.size,
      quads: 0,
      others: 0,
      narrowest: Infinity,
      at: null,
      narrowed: 0,
      swallowed: 0,
      under: 0,
      moved: lines.spokes.moved,
    };
  }

  /** A fine vertex in the mesh to be. */
  private vertex(v: number): number {
    const { own } = this.lines.fine;
    if (v < own.length) return own[v]!;
    let n = this.number.get(v);
    if (n === undefined) this.number.set(v, (n = this.edit.vertex(this.lines.fine.at(v))));
    return n;
  }

  done(): Omit<Bands, 'none'> {
    const { fine } = this.lines;
    const { width } = this.wish;
    const full = [...this.laid.lines].map(([k, { line, ends }]) => ({
      k,
      ends,
      line: lineWithEnds(fine, this.s, line, ends, width),
    }));
    const pieces = new Pieces(
      fine,
      this.laid.traced,
      full.map((x) => x.line),
    );
    const stays = new Set(full.flatMap((x) => x.line.ends.flat()));
    for (const [edge, node] of this.laid.traced.on) {
      if (fine.kind[edge] !== CREASE) continue;
      stays.add(node.vertex);
      this.creaseTo.set(this.vertex(node.vertex), fine.corner[edge]!);
    }
    for (const { line } of full) pieces.straighten(line, stays, width);
    for (const { k, line, ends } of full)
      ends.spokes.forEach(({ mitre, vertex }, i) => {
        if (!mitre || pieces.move(line.ends[i]![0]!, mitre.at) || !mitre.isFan) return;
        this.unfit.push(spokeName(k, vertex));
      });
    const faces = new Map<number, NewFace[]>([...pieces.touched].map((f) => [f, []]));
    for (const { group, boundaries } of pieces.faces(full.map((x) => x.line))) {
      const from = fine.groups[group]!.face;
      const loops = boundaries.map((l) => l.map((c) => corner(this.vertex(c.vertex), c.edge)));
      faces.get(from)!.push({ from, boundaries: loops });
    }
    this.report.swallowed = [...faces.values()].filter((list) => !list.length).length;
    this.report.under = this.edgesUnder();
    for (const { line, ends } of full) this.cells(line, ends.spokes, faces);
    for (const [f, list] of faces) this.edit.replace(f, list);
    const made = this.edit.done();
    const mesh = withFolds(made, faces, this.edit.origins);
    const { numbers, origins } = this.edit;
    origins.forEach((f, i) => {
      if (faces.has(f)) this.made.add(i);
    });
    const seam = [...this.seam.values()].map(([a, b, c]): SeamEdge => [numbers[a]!, numbers[b]!, c]);
    return { ...this.report, seam, mesh, numbers };
  }

  /** How many edges of the mesh lie under the band from end to end, without the seam. */
  private edgesUnder(): number {
    const { fine } = this.lines;
    const { edge } = topologyOf(this.m);
    const { under } = this.laid.traced;
    const [some, out] = [new Set<number>(), new Set<number>()];
    for (let h = 0; h < fine.vertex.length; h++) {
      if (fine.corner[h]! < 0 || fine.kind[h] === SEAM) continue;
      (under[h] && under[fine.next(h)] ? some : out).add(edge[fine.corner[h]!]!);
    }
    return [...some].filter((e) => !out.has(e)).length;
  }

  private at(v: number, h: number): void {
    const list = this.sideAt.get(v);
    if (list) list.push(h);
    else this.sideAt.set(v, [h]);
  }

  /** The cells between the spokes of a side, and its fans. */
  private cells(line: FullLine, spokes: readonly Spoke[], faces: Map<number, NewFace[]>): void {
    const { s, report, wish } = this;
    const { fine } = this.lines;
    const place = new Map(line.list.map((v, i) => [v, i]));
    const N = line.list.length;
    const way = (a: number, b: number): number[] => {
      const out = [a];
      for (let i = place.get(a)!; line.list[i] !== b && out.length <= N;) out.push(line.list[(i = (i + 1) % N)]!);
      return out.map((v) => this.vertex(v));
    };
    const home = (h: number) => fine.groups[fine.group[(s.half[h]! / 3) | 0]!]!.face;
    const put: Put = (from, boundary) => {
      const clean = boundary.filter((c, i) => c.vertex !== boundary[(i + 1) % boundary.length]!.vertex);
      if (clean.length < 3) return;
      if (clean.length === 4) report.quads++;
      else report.others++;
      const list = faces.get(from);
      if (list) list.push({ from, boundaries: [clean] });
      else faces.set(from, [{ from, boundaries: [clean] }]);
    };
    spokes.forEach((x, i) => {
      const w = s.W[s.A[x.h] === x.vertex ? x.h : s.after[x.h]!]!;
      const K = this.vertex(x.vertex);
      if (w < (1 - LESS) * wish.width) report.narrowed++;
      if (w < report.narrowest) [report.narrowest, report.at] = [w, fine.at(x.vertex)];
      this.at(K, x.h);
      const e = line.ends[i]!.filter((v, j, a) => v !== a[j - 1]);
      for (const v of e) this.at(this.vertex(v), x.h);
      const from = home(x.h);
      // Pairs of steps of a fan as quads.
      for (let j = 0; j + 1 < e.length; j += 2) {
        const stop = e[Math.min(j + 2, e.length - 1)]!;
        const out = j + 2 < e.length ? [...way(e[j]!, e[j + 1]!), ...way(e[j + 1]!, stop).slice(1)] : way(e[j]!, stop);
        this.strip(from, K, K, -1, out, put);
      }
      if (!line.isClosed && i === spokes.length - 1) return;
      const y = spokes[(i + 1) % spokes.length]!;
      const K2 = this.vertex(y.vertex);
      this.strip(from, K, K2, fine.corner[s.half[x.h]!]!, way(e.at(-1)!, line.ends[(i + 1) % spokes.length]![0]!), put);
      this.seam.set(`${Math.min(K, K2)},${Math.max(K, K2)}`, [K, K2, fine.corner[s.half[x.h]!]!]);
    });
  }

  /** One cell, or rows of them, from a stretch of the seam to one of the line. */
  private strip(from: number, K: number, K2: number, edge: number, out: readonly number[], put: Put): void {
    const { rows } = this.wish;
    const columns = (K === K2 ? out : [out[0]!, out.at(-1)!]).map((v, i) => ({
      list: this.column(i && K !== K2 ? K2 : K, v),
      edge: this.creaseTo.get(v) ?? NO_EDGE,
    }));
    const [left, right] = [columns[0]!, columns.at(-1)!];
    const row = (a: typeof left, b: typeof left, r: number, seam: number, outer: readonly number[]) => {
      const back = outer.map((v, i) => corner(v, i ? NO_EDGE : a.edge)).reverse();
      const inner = a.list[r] === b.list[r] ? [] : [corner(a.list[r]!, seam)];
      put(from, [...inner, corner(b.list[r]!, b.edge), ...back]);
    };
    if (K === K2) {
      row(
        left,
        right,
        0,
        NO_EDGE,
        columns.map((c) => c.list[1]!),
      );
      for (let r = 1; r < rows; r++)
        for (let i = 0; i + 1 < columns.length; i++) {
          const [a, b] = [columns[i]!, columns[i + 1]!];
          row(a, b, r, NO_EDGE, [a.list[r + 1]!, b.list[r + 1]!]);
        }
      return;
    }
    for (let r = 0; r < rows; r++)
      row(left, right, r, r ? NO_EDGE : edge, r + 1 < rows ? [left.list[r + 1]!, right.list[r + 1]!] : out);
  }

  /** The vertices of a spoke from the seam outward: inner ones on the surface that was there. */
  private column(K: number, end: number): number[] {
    const { rows, width } = this.wish;
    if (rows === 1) return [K, end];
    const name = `${K},${end}`;
    const known = this.inner.get(name);
    if (known) return known;
    const { edit: e, m } = this;
    const [p, q] = [e.at(K), e.at(end)];
    const out = [K];
    for (let r = 1; r < rows; r++) {
      const x: [number, number, number] = [0, 1, 2].map((k) => p[k]! + (r / rows) * (q[k]! - p[k]!)) as never;
      this.surface ??= new SpatialIndex(m);
      const on = this.surface.closest(x);
      const isOff = on && on.distance > ON_FLAT * width;
      out.push(e.vertex(isOff ? on.point : x));
    }
    out.push(end);
    this.inner.set(name, out);
    return out;
  }

  /** Half-edges of sides at faces that cut through others. */
  faults(mesh: PolyMesh, ctx: OpContext | undefined): Set<number> {
    const pairs = pairsThatMeet(mesh, { wanted: (f) => this.made.has(f), ctx: { signal: ctx?.signal } });
    const old = new Map<number, number>();
    this.edit.numbers.forEach((n, v) => n >= 0 && old.set(n, v));
    const out = new Set<number>();
    for (const f of pairs.flat())
      for (let c = faceBegin(mesh, f); c < faceEnd(mesh, f); c++)
        for (const h of this.sideAt.get(old.get(mesh.corners[c]!)!) ?? []) out.add(h);
    return out;
  }
}

/** A mesh whose faces were put in the place of others (`origins`), with their folds marked. */
function withFolds(m: PolyMesh, faces: ReadonlyMap<number, readonly NewFace[]>, origins: Int32Array): PolyMesh {
  const folds = new Set<number>();
  const next = new Map<number, number>();
  origins.forEach((f, i) => {
    const list = faces.get(f);
    if (!list) return;
    const k = next.get(f) ?? 0;
    next.set(f, k + 1);
    list[k]!.boundaries.flat().forEach((c, j) => c.edge === FOLD && folds.add(faceBegin(m, i) + j));
  });
  if (!folds.size && !m.layers.fold) return m;
  const { opposite } = topologyOf(m);
  const fold = m.layers.fold?.slice() ?? new Uint8Array(m.corners.length);
  for (const c of folds) fold[c] = 1;
  // Where the faces between are gone, a fold may lie along a real edge, and is none then.
  for (let c = 0; c < fold.length; c++) if (fold[c] && opposite[c]! >= 0 && !fold[opposite[c]!]) fold[c] = 0;
  return { ...m, layers: { ...m.layers, fold } };
}
