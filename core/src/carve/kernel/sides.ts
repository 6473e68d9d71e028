import type { State } from './state.ts';

/** Long outlines are looked at in blocks of so many corners: a block far from the plane is passed over whole. */
const BLOCK = 32;

/** Sides of a facet's corners as seen from a plane. */
export const PLUS = 1;
export const MINUS = 2;
export const ZERO = 4;

/** Reads the sides of a facet's corners from a plane, into arrays that are used again and again. */
export class SideReader {
  /** Side per corner, counted from the facet's first; only those in `ranges` (and their next corners) are set. */
  side: Float64Array;
  /** Runs [from, to) of corners whose edges may meet the plane. */
  readonly ranges: number[] = [];
  private readonly blocks = new Map<number, Float64Array>();

  constructor(private readonly s: State) {
    this.side = new Float64Array(Math.max(16, s.scene.longest));
  }

  /** Returns which sides occur, as PLUS | MINUS | ZERO. */
  read(facet: number, plane: number): number {
    const { s } = this;
    const begin = s.facetStart[facet]!;
    const n = s.facetStart[facet + 1]! - begin;
    this.ranges.length = 0;
    if (n > 2 * BLOCK) return this.readBlocks(facet, plane, begin, n);
    let mask = 0;
    for (let i = 0; i < n; i++) {
      const d = s.side(s.fv[begin + i]!, plane);
      this.side[i] = d;
      mask |= d > 0 ? PLUS : d < 0 ? MINUS : ZERO;
    }
    this.ranges.push(0, n);
    return mask;
  }

  private readBlocks(facet: number, plane: number, begin: number, n: number): number {
    const { s } = this;
    const B = this.blocksOf(facet, begin, n);
    const L = s.plane;
    const q = 7 * s.planeFacet[plane]!;
    const ax = Math.abs(L[q]!);
    const ay = Math.abs(L[q + 1]!);
    const az = Math.abs(L[q + 2]!);
    let mask = 0;
    for (let b = 0, from = 0; from < n; b += 6, from += BLOCK) {
      const d = L[q]! * (B[b]! - L[q + 3]!) + L[q + 1]! * (B[b + 1]! - L[q + 4]!) + L[q + 2]! * (B[b + 2]! - L[q + 5]!);
      // Members of a plane may stray by a thousand tol and still be on it: a block is far only well beyond that.
      const reach = ax * B[b + 3]! + ay * B[b + 4]! + az * B[b + 5]! + 1e4 * s.tol;
      if (d > reach) mask |= PLUS;
      else if (d < -reach) mask |= MINUS;
      else {
        const to = Math.min(n, from + BLOCK);
        this.ranges.push(from, to);
        for (let i = from; i < to; i++) {
          const x = s.side(s.fv[begin + i]!, plane);
          this.side[i] = x;
          mask |= x > 0 ? PLUS : x < 0 ? MINUS : ZERO;
          const j = s.fnext[begin + i]! - begin;
          if (j < from || j >= to) this.side[j] = s.side(s.fv[begin + j]!, plane);
        }
      }
    }
    return mask;
  }

  /** Middle and half size of the box of each block's edges. */
  private blocksOf(facet: number, begin: number, n: number): Float64Array {
    const known = this.blocks.get(facet);
    if (known) return known;
    const { P, fv, fnext } = this.s;
    const B = new Float64Array(6 * Math.ceil(n / BLOCK));
    for (let b = 0, from = 0; from < n; b += 6, from += BLOCK)
      for (let k = 0; k < 3; k++) {
        let low = Infinity;
        let high = -Infinity;
        for (let i = from; i < Math.min(n, from + BLOCK); i++)
          for (const v of [fv[begin + i]!, fv[fnext[begin + i]!]!]) {
            low = Math.min(low, P[3 * v + k]!);
            high = Math.max(high, P[3 * v + k]!);
          }
        B[b + k] = (low + high) / 2;
        B[b + 3 + k] = (high - low) / 2;
      }
    this.blocks.set(facet, B);
    return B;
  }
}
