/** Cells are so many times wider than what is sought: few places are near enough to a side to look beyond it. */
const CELL = 16;

/**
 * Places in cells of a grid, to find those near another: linear on the whole. Only the least bits of a cell's number
 * count, so places of other cells may be among the candidates; who asks tells them apart by their distance.
 * Source: Teschner and others, "Optimized Spatial Hashing for Collision Detection of Deformable Objects", 2003 (the
 * hash).
 */
export class PlaceGrid {
  private readonly cell: number;
  private readonly mask: number;
  private readonly heads: Int32Array;
  private readonly chain: Int32Array;
  private candidates = new Int32Array(64);

  /** For as many as `count` places, numbered from 0, of which those within `reach` (mm, above 0) are sought. */
  constructor(
    count: number,
    private readonly reach: number,
  ) {
    this.cell = CELL * reach;
    const bits = Math.max(4, Math.ceil(Math.log2(count + 1)) + 1);
    this.mask = (1 << bits) - 1;
    this.heads = new Int32Array(1 << bits).fill(-1);
    this.chain = new Int32Array(count).fill(-1);
  }

  /** Before the low bits are taken, neighbouring cells must differ in them. */
  private bucket(x: number, y: number, z: number): number {
    const h = Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791);
    return (h ^ (h >>> 15)) & this.mask;
  }

  /** To which side of its cell a coordinate lies within reach of the next one: −1, 1, or 0 for neither. */
  private side(x: number, at: number): number {
    const within = x - at * this.cell;
    return within < this.reach ? -1 : within > this.cell - this.reach ? 1 : 0;
  }

  add(i: number, x: number, y: number, z: number): void {
    const { cell } = this;
    const h = this.bucket(Math.floor(x / cell), Math.floor(y / cell), Math.floor(z / cell));
    this.chain[i] = this.heads[h]!;
    this.heads[h] = i;
  }

  /**
   * How many places may be within reach of one; their numbers stand in the first entries of `found`, one of them now
   * and then twice.
   */
  near(x: number, y: number, z: number): number {
    const { cell, heads, chain } = this;
    const [i, j, k] = [Math.floor(x / cell), Math.floor(y / cell), Math.floor(z / cell)];
    const [di, dj, dk] = [this.side(x, i), this.side(y, j), this.side(z, k)];
    const sides = (di ? 1 : 0) | (dj ? 2 : 0) | (dk ? 4 : 0);
    let count = 0;
    for (let s = 0; s <= sides; s++) {
      if (s & ~sides) continue;
      let n = heads[this.bucket(i + (s & 1 ? di : 0), j + (s & 2 ? dj : 0), k + (s & 4 ? dk : 0))]!;
      for (; n >= 0; n = chain[n]!) {
        if (count === this.candidates.length) this.grow();
        this.candidates[count++] = n;
      }
    }
    return count;
  }

  get found(): Int32Array {
    return this.candidates;
  }

  private grow(): void {
    const more = new Int32Array(2 * this.candidates.length);
    more.set(this.candidates);
    this.candidates = more;
  }
}
