/** Items per leaf: small enough to cull well, large enough to keep the tree short. */
const LEAF = 4;
/** Items (as a power of two) between two reports of how far a search for pairs is. */
const TICK = 11;

/** The plain, transferable arrays of a tree. Those of boxes are of 32 bits where the boxes given are. */
export interface TreeArrays {
  readonly boxes: Float64Array | Float32Array;
  readonly items: Int32Array;
  /** Box of each node, as in `boxes`. */
  readonly nodes: Float64Array | Float32Array;
  /** First item of a leaf; right child of an inner node (the left one follows its parent). */
  readonly link: Int32Array;
  /** Items of a leaf; 0 for an inner node. */
  readonly count: Int32Array;
}

/**
 * A tree of boxes over items that have a box each (`boxes`: min x y z, max x y z per item), split at the middle of the
 * longest side of the centres. Flat arrays; building is n log n, walking makes no garbage.
 * Source: Wald, Boulos and Shirley, "Ray Tracing Deformable Scenes Using Dynamic Bounding Volume Hierarchies", 2007.
 */
export class Bvh<Boxes extends Float64Array | Float32Array = Float64Array> implements TreeArrays {
  readonly items: Int32Array;
  readonly nodes: Boxes;
  readonly link: Int32Array;
  readonly count: Int32Array;
  private used = 0;
  private readonly stack: number[] = [];

  constructor(
    readonly boxes: Boxes,
    items: Int32Array,
  ) {
    const n = items.length;
    this.items = items.slice();
    const Numbers = boxes.constructor as new (length: number) => Boxes;
    this.nodes = new Numbers(6 * Math.max(1, 2 * n));
    this.link = new Int32Array(Math.max(1, 2 * n));
    this.count = new Int32Array(Math.max(1, 2 * n));
    if (n > 0) this.build(0, n);
  }

  get size(): number {
    return this.items.length;
  }

  private build(s: number, e: number): number {
    const { boxes, items, nodes } = this;
    const me = this.used++;
    const o = 6 * me;
    // Written out: with small arrays it takes three times as long.
    let x0 = Infinity;
    let y0 = Infinity;
    let z0 = Infinity;
    let x1 = -Infinity;
    let y1 = -Infinity;
    let z1 = -Infinity;
    // Twice the middles of the boxes, from least to greatest.
    let u0 = Infinity;
    let v0 = Infinity;
    let w0 = Infinity;
    let u1 = -Infinity;
    let v1 = -Infinity;
    let w1 = -Infinity;
    for (let i = s; i < e; i++) {
      const b = 6 * items[i]!;
      const xa = boxes[b]!;
      const ya = boxes[b + 1]!;
      const za = boxes[b + 2]!;
      const xb = boxes[b + 3]!;
      const yb = boxes[b + 4]!;
      const zb = boxes[b + 5]!;
      if (xa < x0) x0 = xa;
      if (ya < y0) y0 = ya;
      if (za < z0) z0 = za;
      if (xb > x1) x1 = xb;
      if (yb > y1) y1 = yb;
      if (zb > z1) z1 = zb;
      const u = xa + xb;
      const v = ya + yb;
      const w = za + zb;
      if (u < u0) u0 = u;
      if (u > u1) u1 = u;
      if (v < v0) v0 = v;
      if (v > v1) v1 = v;
      if (w < w0) w0 = w;
      if (w > w1) w1 = w;
    }
    nodes[o] = x0;
    nodes[o + 1] = y0;
    nodes[o + 2] = z0;
    nodes[o + 3] = x1;
    nodes[o + 4] = y1;
    nodes[o + 5] = z1;
    const [wide, deep, high] = [u1 - u0, v1 - v0, w1 - w0];
    const side = wide >= deep && wide >= high ? 0 : deep >= high ? 1 : 2;
    const middle = side === 0 ? (u0 + u1) / 2 : side === 1 ? (v0 + v1) / 2 : (w0 + w1) / 2;
    if (e - s <= LEAF) {
      this.link[me] = s;
      this.count[me] = e - s;
      return me;
    }
    let i = s;
    let j = e - 1;
    while (i <= j) {
      const b = 6 * items[i]! + side;
      if (boxes[b]! + boxes[b + 3]! < middle) i++;
      else {
        const t = items[i]!;
        items[i] = items[j]!;
        items[j--] = t;
      }
    }
    if (i === s || i === e) i = (s + e) >> 1;
    this.build(s, i);
    this.link[me] = this.build(i, e);
    return me;
  }

  /** Whether any item's box comes within `tol` of any of the other tree's. */
  meets(other: Bvh, tol: number): boolean {
    return this.pairs(other, tol, () => true);
  }

  /**
   * Calls `found(a, b)` for each item of this tree and each of the other whose boxes are within `tol` of each other,
   * until it returns true. Returns whether it did.
   */
  pairs(other: Bvh, tol: number, found: (a: number, b: number) => unknown): boolean {
    if (!this.size || !other.size) return false;
    const stack = [0, 0];
    while (stack.length) {
      const j = stack.pop()!;
      const i = stack.pop()!;
      if (!boxesMeet(this.nodes, 6 * i, other.nodes, 6 * j, tol)) continue;
      const ni = this.count[i]!;
      const nj = other.count[j]!;
      if (ni && nj) {
        for (let p = this.link[i]!; p < this.link[i]! + ni; p++) {
          const a = this.items[p]!;
          for (let q = other.link[j]!; q < other.link[j]! + nj; q++) {
            const b = other.items[q]!;
            if (boxesMeet(this.boxes, 6 * a, other.boxes, 6 * b, tol) && found(a, b) === true) return true;
          }
        }
      } else if (nj || (!ni && girth(this.nodes, 6 * i) > girth(other.nodes, 6 * j))) {
        stack.push(i + 1, j, this.link[i]!, j);
      } else {
        stack.push(i, j + 1, i, other.link[j]!);
      }
    }
    return false;
  }

  /**
   * Calls `found(a, b)` once for each two items whose boxes meet, until it returns true. Returns whether it did. `tick`
   * is called now and then with the number of items done.
   */
  ownPairs(found: (a: number, b: number) => unknown, tick?: (done: number) => void): boolean {
    if (!this.size) return false;
    const { nodes, boxes, items, link, count } = this;
    let stack = new Int32Array(256);
    let top = 0;
    let done = 0;
    stack[top++] = 0;
    stack[top++] = 0;
    while (top) {
      const j = stack[--top]!;
      const i = stack[--top]!;
      if (i !== j && !boxesMeet(nodes, 6 * i, nodes, 6 * j, 0)) continue;
      const ni = count[i]!;
      const nj = count[j]!;
      if (ni && nj) {
        const end = link[j]! + nj;
        if (i === j) {
          if (tick && done >> TICK < (done + ni) >> TICK) tick(done);
          done += ni;
        }
        for (let p = link[i]!; p < link[i]! + ni; p++) {
          const a = items[p]!;
          if (i !== j && !boxesMeet(boxes, 6 * a, nodes, 6 * j, 0)) continue;
          for (let q = i === j ? p + 1 : link[j]!; q < end; q++) {
            const b = items[q]!;
            if (boxesMeet(boxes, 6 * a, boxes, 6 * b, 0) && found(a, b) === true) return true;
          }
        }
        continue;
      }
      if (top + 6 > stack.length) {
        const more = new Int32Array(2 * stack.length);
        more.set(stack);
        stack = more;
      }
      if (i === j) {
        const [l, r] = [i + 1, link[i]!];
        for (const k of [l, l, r, r, l, r]) stack[top++] = k;
      } else if (nj || (!ni && girth(nodes, 6 * i) > girth(nodes, 6 * j))) {
        stack[top++] = i + 1;
        stack[top++] = j;
        stack[top++] = link[i]!;
        stack[top++] = j;
      } else {
        stack[top++] = i;
        stack[top++] = j + 1;
        stack[top++] = i;
        stack[top++] = link[j]!;
      }
    }
    return false;
  }

  /** Calls `visit(item)` for each item whose box meets the box `q[at …]` within `tol`. */
  overlaps(q: ArrayLike<number>, at: number, tol: number, visit: (item: number) => void): void {
    if (!this.size) return;
    const stack = this.stack;
    const base = stack.length;
    stack.push(0);
    while (stack.length > base) {
      const i = stack.pop()!;
      if (!boxesMeet(this.nodes, 6 * i, q, at, tol)) continue;
      const n = this.count[i]!;
      if (n) {
        for (let p = this.link[i]!; p < this.link[i]! + n; p++)
          if (boxesMeet(this.boxes, 6 * this.items[p]!, q, at, tol)) visit(this.items[p]!);
      } else stack.push(i + 1, this.link[i]!);
    }
  }

  /** Whether the box of any item meets the box `q[at …]`. */
  touches(q: ArrayLike<number>, at: number): boolean {
    if (!this.size) return false;
    const { nodes, boxes, items, link, count, stack } = this;
    const base = stack.length;
    stack.push(0);
    while (stack.length > base) {
      const i = stack.pop()!;
      if (!boxesMeet(nodes, 6 * i, q, at, 0)) continue;
      const end = link[i]! + count[i]!;
      if (!count[i]) stack.push(i + 1, link[i]!);
      else
        for (let p = link[i]!; p < end; p++)
          if (boxesMeet(boxes, 6 * items[p]!, q, at, 0)) {
            stack.length = base;
            return true;
          }
    }
    return false;
  }

  /** As `alongRay`. */
  ray(o: ArrayLike<number>, d: ArrayLike<number>, tol: number, hit: (item: number) => boolean | undefined): boolean {
    return alongRay(this, o, d, tol, hit, this.stack);
  }

  /** Its arrays, cut to the length in use. */
  arrays(): TreeArrays {
    const { boxes, items, nodes, link, count, used } = this;
    return { boxes, items, nodes: nodes.slice(0, 6 * used), link: link.slice(0, used), count: count.slice(0, used) };
  }

  /**
   * Calls `near(item, best)` for items whose box is nearer to p than the best squared distance so far; it returns the
   * new best squared distance. Returns the last one.
   */
  nearest(p: ArrayLike<number>, near: (item: number, best: number) => number): number {
    let best = Infinity;
    if (!this.size) return best;
    const stack = [0];
    while (stack.length) {
      const i = stack.pop()!;
      if (boxDistance2(p, this.nodes, 6 * i) >= best) continue;
      const n = this.count[i]!;
      if (n) {
        for (let q = this.link[i]!; q < this.link[i]! + n; q++) {
          const item = this.items[q]!;
          if (boxDistance2(p, this.boxes, 6 * item) < best) best = Math.min(best, near(item, best));
        }
      } else {
        const l = i + 1;
        const r = this.link[i]!;
        if (boxDistance2(p, this.nodes, 6 * l) < boxDistance2(p, this.nodes, 6 * r)) stack.push(r, l);
        else stack.push(l, r);
      }
    }
    return best;
  }
}

/**
 * Calls `hit(item)` for each item of a tree whose box, grown by `tol`, is met by the ray from o along d; `hit` may
 * return true to stop.
 * Returns true when it was stopped.
 */
export function alongRay(
  tree: TreeArrays,
  o: ArrayLike<number>,
  d: ArrayLike<number>,
  tol: number,
  hit: (item: number) => boolean | undefined,
  stack: number[] = [],
): boolean {
  if (!tree.items.length) return false;
  const base = stack.length;
  stack.push(0);
  while (stack.length > base) {
    const i = stack.pop()!;
    if (!rayMeetsBox(o, d, tree.nodes, 6 * i, tol)) continue;
    const n = tree.count[i]!;
    if (n) {
      for (let p = tree.link[i]!; p < tree.link[i]! + n; p++) {
        const item = tree.items[p]!;
        if (rayMeetsBox(o, d, tree.boxes, 6 * item, tol) && hit(item)) {
          stack.length = base;
          return true;
        }
      }
    } else stack.push(i + 1, tree.link[i]!);
  }
  return false;
}

const girth = (b: ArrayLike<number>, i: number): number =>
  b[i + 3]! - b[i]! + b[i + 4]! - b[i + 1]! + b[i + 5]! - b[i + 2]!;

/** Whether two boxes come within `tol` of each other along every axis. */
export function boxesMeet(a: ArrayLike<number>, i: number, b: ArrayLike<number>, j: number, tol: number): boolean {
  return (
    a[i]! <= b[j + 3]! + tol &&
    b[j]! <= a[i + 3]! + tol &&
    a[i + 1]! <= b[j + 4]! + tol &&
    b[j + 1]! <= a[i + 4]! + tol &&
    a[i + 2]! <= b[j + 5]! + tol &&
    b[j + 2]! <= a[i + 5]! + tol
  );
}

function rayMeetsBox(
  o: ArrayLike<number>,
  d: ArrayLike<number>,
  b: ArrayLike<number>,
  i: number,
  tol: number,
): boolean {
  let t0 = -tol;
  let t1 = Infinity;
  for (let k = 0; k < 3; k++) {
    const w = 1 / d[k]!;
    let p = (b[i + k]! - tol - o[k]!) * w;
    let q = (b[i + 3 + k]! + tol - o[k]!) * w;
    if (p > q) [p, q] = [q, p];
    if (p > t0) t0 = p;
    if (q < t1) t1 = q;
    if (t0 > t1) return false;
  }
  return true;
}

function boxDistance2(p: ArrayLike<number>, b: ArrayLike<number>, i: number): number {
  let d = 0;
  for (let k = 0; k < 3; k++) {
    const x = p[k]!;
    const e = x < b[i + k]! ? b[i + k]! - x : x > b[i + 3 + k]! ? x - b[i + 3 + k]! : 0;
    d += e * e;
  }
  return d;
}
