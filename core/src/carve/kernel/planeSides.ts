import type { State } from './state.ts';

/** Long boundaries are looked at in blocks of so many corners: a block far from the plane is passed over whole. */
const BLOCK = 32;

/** Sides of a facet's corners as seen from a plane. */
export const PLUS = 1;
export const MINUS = 2;
export const ZERO = 4;

interface Loop {
  /**
   * Its corners [from, to), counted from the facet's first, its box, and the box of each block's edges, each as middle
   * and half size.
   */
  from: number;
  to: number;
  box: Float64Array;
  blocks: Float64Array;
}

/** Reads the sides of a facet's corners from a plane, into arrays that are used again and again. */
export class SideReader {
  /** Side per corner, counted from the facet's first; only those in `ranges` (and their next corners) are set. */
  side: Float64Array;
  /** Runs [from, to) of corners whose edges may meet the plane. */
  readonly ranges: number[] = [];
  private readonly loops = new Map<number, Loop[]>();

  constructor(private readonly s: State) {
    this.side = new Float64Array(Math.max(16, s.scene.longest));
  }

  /**
   * Returns which sides occur, as PLUS | MINUS | ZERO. Of a long boundary only what counts where another facet of that
   * plane is: an inner boundary beside that facet's box crosses the line of both as often inward as outward on one side
   * of it.
   */
  read(facet: number, plane: number, other: number): number {
    const { s } = this;
    const begin = s.facetStart[facet]!;
    const n = s.facetStart[facet + 1]! - begin;
    this.ranges.length = 0;
    if (n > 2 * BLOCK) return this.readLoops(facet, plane, other, begin, n);
    let mask = 0;
    for (let i = 0; i < n; i++) {
      const d = s.side(s.fv[begin + i]!, plane);
      this.side[i] = d;
      mask |= d > 0 ? PLUS : d < 0 ? MINUS : ZERO;
    }
    this.ranges.push(0, n);
    return mask;
  }

  private readLoops(facet: number, plane: number, other: number, begin: number, n: number): number {
    const { s } = this;
    const q = 7 * s.planeFacet[plane]!;
    let mask = 0;
    this.loopsOf(facet, begin, n).forEach(({ from, to, box, blocks }, i) => {
      if (i > 0 && this.beside(box, other)) return;
      for (let k = from, b = 0; k < to; k += BLOCK, b += 6)
        mask |= this.farSide(blocks, b, q) || this.readRange(begin, plane, k, Math.min(to, k + BLOCK));
    });
    return mask;
  }

  /** Whether a box (middle and half size) is clear of a facet's box. */
  private beside(box: Float64Array, facet: number): boolean {
    const { facetBoxes: B, tol } = this.s;
    for (let k = 0; k < 3; k++) {
      const reach = box[3 + k]! + 1e4 * tol;
      if (box[k]! + reach < B[6 * facet + k]! || box[k]! - reach > B[6 * facet + 3 + k]!) return true;
    }
    return false;
  }

  /** On which side of a plane a box lies as a whole; 0 when near it or across. */
  private farSide(B: Float64Array, b: number, q: number): number {
    const L = this.s.plane;
    const d = L[q]! * (B[b]! - L[q + 3]!) + L[q + 1]! * (B[b + 1]! - L[q + 4]!) + L[q + 2]! * (B[b + 2]! - L[q + 5]!);
    // Members of a plane may stray by a thousand tol and still be on it: a block is far only well beyond that.
    const reach =
      Math.abs(L[q]!) * B[b + 3]! +
      Math.abs(L[q + 1]!) * B[b + 4]! +
      Math.abs(L[q + 2]!) * B[b + 5]! +
      1e4 * this.s.tol;
    return d > reach ? PLUS : d < -reach ? MINUS : 0;
  }

  private readRange(begin: number, plane: number, from: number, to: number): number {
    const { s } = this;
    let mask = 0;
    this.ranges.push(from, to);
    for (let i = from; i < to; i++) {
      const x = s.side(s.fv[begin + i]!, plane);
      this.side[i] = x;
      mask |= x > 0 ? PLUS : x < 0 ? MINUS : ZERO;
      const j = s.fnext[begin + i]! - begin;
      if (j < from || j >= to) this.side[j] = s.side(s.fv[begin + j]!, plane);
    }
    return mask;
  }

  private loopsOf(facet: number, begin: number, n: number): Loop[] {
    const known = this.loops.get(facet);
    if (known) return known;
    const { P, fv, fnext } = this.s;
    const boxes = (from: number, to: number, step: number) => {
      const B = new Float64Array(6 * Math.ceil((to - from) / step));
      for (let b = 0, at = from; at < to; b += 6, at += step)
        for (let k = 0; k < 3; k++) {
          let low = Infinity;
          let high = -Infinity;
          for (let i = at; i < Math.min(to, at + step); i++) {
            const x = P[3 * fv[begin + i]! + k]!;
            const y = P[3 * fv[fnext[begin + i]!]! + k]!;
            low = Math.min(low, x, y);
            high = Math.max(high, x, y);
          }
          B[b + k] = (low + high) / 2;
          B[b + 3 + k] = (high - low) / 2;
        }
      return B;
    };
    const made: Loop[] = [];
    for (let from = 0, i = 0; i < n; i++) {
      if (fnext[begin + i] === begin + i + 1) continue;
      made.push({ from, to: i + 1, box: boxes(from, i + 1, n), blocks: boxes(from, i + 1, BLOCK) });
      from = i + 1;
    }
    this.loops.set(facet, made);
    return made;
  }
}
