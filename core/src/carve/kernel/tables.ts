/** An Int32Array that grows: for lists whose length is not known beforehand. */
export class IntList {
  data: Int32Array;
  length = 0;

  constructor(capacity = 64) {
    this.data = new Int32Array(capacity);
  }

  push(x: number): number {
    if (this.length === this.data.length) {
      const more = new Int32Array(2 * this.length);
      more.set(this.data);
      this.data = more;
    }
    this.data[this.length] = x;
    return this.length++;
  }

  get(i: number): number {
    return this.data[i]!;
  }

  clear(): void {
    this.length = 0;
  }

  view(): Int32Array {
    return this.data.subarray(0, this.length);
  }
}

/**
 * Numbers pairs of integers: each new pair gets the next number from 0. Open addressing over typed arrays, so that
 * millions of pairs make no garbage.
 */
export class PairTable {
  private slots: Int32Array;
  private mask: number;
  private first: Int32Array;
  private second: Int32Array;
  count = 0;

  constructor(expected = 32) {
    let n = 64;
    while (n < 2 * expected) n *= 2;
    this.slots = new Int32Array(n).fill(-1);
    this.mask = n - 1;
    this.first = new Int32Array(n >> 1);
    this.second = new Int32Array(n >> 1);
  }

  private slot(a: number, b: number): number {
    let x = Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b);
    x ^= x >>> 15;
    x = Math.imul(x, 0x2c1b3c6d);
    x ^= x >>> 13;
    x &= this.mask;
    for (;;) {
      const i = this.slots[x]!;
      if (i < 0 || (this.first[i] === a && this.second[i] === b)) return x;
      x = (x + 1) & this.mask;
    }
  }

  /** The number of a pair, or −1. */
  find(a: number, b: number): number {
    return this.slots[this.slot(a, b)]!;
  }

  /** The number of a pair, given now if it is new. */
  index(a: number, b: number): number {
    const x = this.slot(a, b);
    const i = this.slots[x]!;
    if (i >= 0) return i;
    if (this.count === this.first.length) {
      this.grow();
      return this.index(a, b);
    }
    this.first[this.count] = a;
    this.second[this.count] = b;
    this.slots[x] = this.count;
    return this.count++;
  }

  /** As `find` and `index`, for a pair in either order. */
  findEdge(u: number, v: number): number {
    return u < v ? this.find(u, v) : this.find(v, u);
  }

  indexEdge(u: number, v: number): number {
    return u < v ? this.index(u, v) : this.index(v, u);
  }

  firstOf(i: number): number {
    return this.first[i]!;
  }

  secondOf(i: number): number {
    return this.second[i]!;
  }

  private grow(): void {
    const n = 2 * this.slots.length;
    const first = new Int32Array(n >> 1);
    const second = new Int32Array(n >> 1);
    first.set(this.first);
    second.set(this.second);
    this.first = first;
    this.second = second;
    this.slots = new Int32Array(n).fill(-1);
    this.mask = n - 1;
    for (let i = 0; i < this.count; i++) this.slots[this.slot(first[i]!, second[i]!)] = i;
  }
}

/** Short lists of integers hung on numbered owners, in flat arrays. */
export class HungLists {
  private readonly head = new IntList();
  private readonly next = new IntList();
  private readonly item = new IntList();

  /** Start of an owner's list: walk with `after` until −1. */
  start(owner: number): number {
    return owner < this.head.length ? this.head.get(owner) : -1;
  }

  after(i: number): number {
    return this.next.get(i);
  }

  at(i: number): number {
    return this.item.get(i);
  }

  has(owner: number, x: number): boolean {
    for (let i = this.start(owner); i >= 0; i = this.next.get(i)) if (this.item.get(i) === x) return true;
    return false;
  }

  /** Hangs x on the owner; at most once when `once`. */
  add(owner: number, x: number, once = true): void {
    if (once && this.has(owner, x)) return;
    while (this.head.length <= owner) this.head.push(-1);
    const i = this.item.push(x);
    this.next.push(this.head.get(owner));
    this.head.data[owner] = i;
  }
}

/** Union–find over 0 … n − 1 with path halving. */
export class Roots {
  private readonly up: Int32Array;

  constructor(n: number) {
    this.up = new Int32Array(n);
    for (let i = 0; i < n; i++) this.up[i] = i;
  }

  of(i: number): number {
    const { up } = this;
    while (up[i] !== i) i = up[i] = up[up[i]!]!;
    return i;
  }

  join(i: number, j: number): void {
    const a = this.of(i);
    const b = this.of(j);
    if (a !== b) this.up[a] = b;
  }
}

/** Sets of bodies, each distinct set with a number; the set of body k alone has number k. */
export class BodySets {
  private readonly members: number[][];
  private readonly unions = new Map<number, number>();
  private readonly known = new Map<string, number>();

  constructor(bodies: number) {
    this.members = Array.from({ length: bodies }, (_, k) => [k]);
    this.members.forEach((m, k) => this.known.set(m.join(), k));
  }

  of(id: number): readonly number[] {
    return this.members[id]!;
  }

  has(id: number, body: number): boolean {
    return id === body || this.members[id]!.includes(body);
  }

  /** Whether every body of a is in b. */
  within(a: number, b: number): boolean {
    return a === b || this.members[a]!.every((k) => this.has(b, k));
  }

  /** The set with one more body. */
  with(id: number, body: number): number {
    if (this.has(id, body)) return id;
    const key = id * 65536 + body;
    let out = this.unions.get(key);
    if (out === undefined) {
      const m = [...this.members[id]!, body].sort((x, y) => x - y);
      const name = m.join();
      out = this.known.get(name);
      if (out === undefined) {
        out = this.members.push(m) - 1;
        this.known.set(name, out);
      }
      this.unions.set(key, out);
    }
    return out;
  }
}
