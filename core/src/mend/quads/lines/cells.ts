import type { Flat } from '../../../mesh/index.ts';
import type { Draft } from './draft.ts';
import { boxAt, distinct, isInside, type LinedFace } from './face.ts';
import type { Spans } from './spans.ts';

/** More cells of all lines than this are not looked at. */
const MOST_CELLS = 60_000;
/** Stand for cells outside the face; those in boxes have the number of the box, others −1. */
const [OUTSIDE, FREE] = [-2, -1];

/** The grid of all lines of a layout, and the points that it has in a draft. */
export class Grid {
  readonly x: number[];
  readonly y: number[];
  private readonly points = new Map<number, number>();

  constructor(
    private readonly face: LinedFace,
    private readonly spans: Spans,
    private readonly draft: Draft,
  ) {
    const outlines = [...face.plain.values()].flat();
    const boxes = face.holes.flatMap((h) => h.box);
    const lines = (k: 0 | 1) =>
      distinct(
        [
          ...outlines.map((p) => p[k]),
          ...boxes.map((p) => p[k]),
          ...spans.list.filter((s) => s.keeps === k).map((s) => s.at),
          ...(face.round && k ? [face.round.low, face.round.high] : []),
        ],
        face.tiny,
      );
    [this.x, this.y] = [lines(0), lines(1)];
  }

  /** Says that a given point of the draft stands at a place. */
  declare(p: Flat, point: number): void {
    this.points.set(this.nameOf(nearest(this.x, p[0]), nearest(this.y, p[1])), point);
  }

  /** The point at a place, made when first asked for. */
  pointAt(p: Flat): number {
    return this.point(nearest(this.x, p[0]), nearest(this.y, p[1]));
  }

  private point(column: number, j: number): number {
    const i = column % this.x.length;
    const name = this.nameOf(i, j);
    let known = this.points.get(name);
    if (known === undefined)
      this.points.set(name, (known = this.draft.point(this.face.draw([this.x[i]!, this.y[j]!]))));
    return known;
  }

  private nameOf(i: number, j: number): number {
    return i * this.y.length + j;
  }

  /**
   * Lays a quad over each region of cells that no line parts; false where one is no rectangle, or a box leaves the face.
   */
  layQuads(): boolean {
    const { y, face } = this;
    // In a round frame the last column leads on to the first.
    const x = face.round ? [...this.x, this.x[0]! + face.round.period] : this.x;
    const [columns, rows] = [x.length - 1, y.length - 1];
    if (columns * rows > MOST_CELLS) return false;
    const kind = new Int32Array(columns * rows);
    for (let i = 0; i < columns; i++)
      for (let j = 0; j < rows; j++) {
        const across = (x[i]! + x[i + 1]!) / 2;
        const p: Flat = [face.round ? across % face.round.period : across, (y[j]! + y[j + 1]!) / 2];
        const inside = isInside(face, p);
        const box = boxAt(face, p);
        if (box >= 0 && !inside) return false;
        kind[i * rows + j] = inside ? (box >= 0 ? box : FREE) : OUTSIDE;
      }
    const regions = this.regions(kind, columns, rows);
    for (const { low, high, cells } of regions) {
      if (cells !== (high[0] - low[0] + 1) * (high[1] - low[1] + 1)) return false;
      this.draft.quad(
        this.point(low[0], low[1]),
        this.point(high[0] + 1, low[1]),
        this.point(high[0] + 1, high[1] + 1),
        this.point(low[0], high[1] + 1),
      );
    }
    return true;
  }

  /** Cells that hang together without a line between: from which to which, and how many. */
  private regions(kind: Int32Array, columns: number, rows: number): { low: Flat; high: Flat; cells: number }[] {
    const parted = this.parted(columns, rows);
    const root = Int32Array.from(kind.keys());
    const find = (i: number): number => {
      while (root[i] !== i) i = root[i] = root[root[i]!]!;
      return i;
    };
    const found = new Map<number, { low: Flat; high: Flat; cells: number }>();
    const each = (visit: (i: number, j: number, here: number) => void): void => {
      for (let i = 0; i < columns; i++)
        for (let j = 0; j < rows; j++) if (kind[i * rows + j] === FREE) visit(i, j, i * rows + j);
    };
    each((i, j, here) => {
      const [right, up] = [here + rows, here + 1];
      if (i + 1 < columns && kind[right] === FREE && !parted[0][right]) root[find(here)] = find(right);
      if (j + 1 < rows && kind[up] === FREE && !parted[1][up]) root[find(here)] = find(up);
    });
    each((i, j, here) => {
      const r = find(here);
      const g = found.get(r);
      if (!g) found.set(r, { low: [i, j], high: [i, j], cells: 1 });
      else {
        g.low = [Math.min(g.low[0], i), Math.min(g.low[1], j)];
        g.high = [Math.max(g.high[0], i), Math.max(g.high[1], j)];
        g.cells++;
      }
    });
    return [...found.values()];
  }

  /** Whether a line parts a cell from the one to its left, and from the one below. */
  private parted(columns: number, rows: number): [Uint8Array, Uint8Array] {
    const out: [Uint8Array, Uint8Array] = [new Uint8Array(columns * rows), new Uint8Array(columns * rows)];
    for (const s of this.spans.list) {
      const [own, along] = s.keeps ? [this.y, this.x] : [this.x, this.y];
      const line = nearest(own, s.at);
      const turns = s.keeps && this.face.round ? this.face.round.period : 0;
      for (let k = 0; k + (turns ? 0 : 1) < along.length; k++) {
        const middle = (along[k]! + (along[k + 1] ?? along[0]! + turns)) / 2;
        if (middle < s.low || middle > s.high) continue;
        const [i, j] = s.keeps ? [k, line] : [line, k];
        if (i < columns && j < rows) out[s.keeps][i * rows + j] = 1;
      }
    }
    return out;
  }
}

/** The number of the value of a sorted list that is nearest to one. */
function nearest(list: readonly number[], x: number): number {
  let [low, high] = [0, list.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (list[middle]! <= x) low = middle;
    else high = middle;
  }
  return Math.abs(list[high]! - x) < Math.abs(list[low]! - x) ? high : low;
}
