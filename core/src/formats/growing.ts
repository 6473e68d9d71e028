/** Numbers in a row that grows: as an array of doubles or of integers, doubled when it is full. */
export class Growing<T extends Float64Array | Int32Array> {
  /** How many there are; made less, the last ones go. */
  length = 0;

  constructor(private data: T) {}

  push(x: number): void {
    if (this.length === this.data.length) {
      const more = new (this.data.constructor as new (n: number) => T)(Math.max(1024, 2 * this.length));
      more.set(this.data);
      this.data = more;
    }
    this.data[this.length++] = x;
  }

  at(i: number): number {
    return this.data[i]!;
  }

  /** All of them, as an array of their length. */
  done(): T {
    return this.data.slice(0, this.length) as T;
  }
}

export const doubles = (): Growing<Float64Array> => new Growing(new Float64Array(1024));
export const integers = (): Growing<Int32Array> => new Growing(new Int32Array(1024));
