import { solidAngle, triangulateMesh, type PolyMesh } from '../mesh/index.ts';

/** Triangles in a leaf. */
const LEAF_TRIANGLES = 8;
/** A group counts as one from places further from its middle than so many times its reach. */
const FAR_REACHES = 2;

/**
 * How often a surface winds round a place: 1 within a closed surface that looks outward, 0 outside of it, and something
 * between near gaps, doubled faces and pieces that are not joined, of which ½ is a good place for a skin. Groups of
 * triangles that are far count by the sum of their areas times normals.
 * Source: G. Barill, N. Dickson, R. Schmidt, D. Levin, A. Jacobson, Fast Winding Numbers for Soups and Clouds, ACM
 * Transactions on Graphics 37 (2018), with the first term of the expansion only.
 */
export class WindingTree {
  /** Nine coordinates per triangle, in the order of the leaves. */
  private readonly P: Float64Array;
  /** Per group: its middle, its area times normal, its reach. */
  private readonly group: number[] = [];
  /** Per group its first and last triangle, and its first child (the second follows it); −1 for a leaf. */
  private readonly range: number[] = [];
  private readonly child: number[] = [];
  private readonly todo: number[] = [];

  constructor(m: PolyMesh) {
    const { triangles } = triangulateMesh(m);
    const n = triangles.length / 3;
    const given = new Float64Array(9 * n);
    for (let i = 0; i < triangles.length; i++)
      given.set(m.positions.subarray(3 * m.corners[triangles[i]!]!, 3 * m.corners[triangles[i]!]! + 3), 3 * i);
    const order = Int32Array.from({ length: n }, (_, t) => t);
    const middle = (t: number, k: number) => given[9 * t + k]! + given[9 * t + 3 + k]! + given[9 * t + 6 + k]!;
    const jobs: [group: number, from: number, to: number][] = [[this.open(), 0, n]];
    while (jobs.length) {
      const [g, from, to] = jobs.pop()!;
      this.fill(g, given, order, from, to);
      if (to - from <= LEAF_TRIANGLES) continue;
      // Halved along the axis in which it is longest.
      const part = order.subarray(from, to);
      const spread = [0, 1, 2].map((k) => {
        let [low, high] = [Infinity, -Infinity];
        for (const t of part) [low, high] = [Math.min(low, middle(t, k)), Math.max(high, middle(t, k))];
        return high - low;
      });
      const k = spread.indexOf(Math.max(...spread));
      part.sort((a, b) => middle(a, k) - middle(b, k));
      const half = (from + to) >> 1;
      const [a, b] = [this.open(), this.open()];
      this.child[g] = a;
      jobs.push([a, from, half], [b, half, to]);
    }
    this.P = new Float64Array(9 * n);
    order.forEach((t, i) => this.P.set(given.subarray(9 * t, 9 * t + 9), 9 * i));
  }

  private open(): number {
    this.range.push(0, 0);
    this.group.push(0, 0, 0, 0, 0, 0, 0);
    return this.child.push(-1) - 1;
  }

  private fill(g: number, P: Float64Array, order: Int32Array, from: number, to: number): void {
    [this.range[2 * g], this.range[2 * g + 1]] = [from, to];
    const sum = [0, 0, 0, 0, 0, 0];
    let weight = 0;
    for (let i = from; i < to; i++) {
      const q = 9 * order[i]!;
      const [ux, uy, uz] = [P[q + 3]! - P[q]!, P[q + 4]! - P[q + 1]!, P[q + 5]! - P[q + 2]!];
      const [vx, vy, vz] = [P[q + 6]! - P[q]!, P[q + 7]! - P[q + 1]!, P[q + 8]! - P[q + 2]!];
      const n = [(uy * vz - uz * vy) / 2, (uz * vx - ux * vz) / 2, (ux * vy - uy * vx) / 2];
      const area = Math.hypot(...n);
      weight += area;
      for (let k = 0; k < 3; k++) {
        sum[k]! += (area * (P[q + k]! + P[q + 3 + k]! + P[q + 6 + k]!)) / 3;
        sum[3 + k]! += n[k]!;
      }
    }
    const at = 7 * g;
    for (let k = 0; k < 3; k++) {
      this.group[at + k] = weight > 0 ? sum[k]! / weight : P[9 * order[from]! + k]!;
      this.group[at + 3 + k] = sum[3 + k]!;
    }
    let reach = 0;
    for (let i = from; i < to; i++)
      for (let j = 0; j < 3; j++) {
        const q = 9 * order[i]! + 3 * j;
        reach = Math.max(
          reach,
          Math.hypot(P[q]! - this.group[at]!, P[q + 1]! - this.group[at + 1]!, P[q + 2]! - this.group[at + 2]!),
        );
      }
    this.group[at + 6] = reach;
  }

  /** The winding number of a place, mm. */
  at(p: ArrayLike<number>): number {
    const { todo, group, range, child, P } = this;
    let sum = 0;
    todo.length = 0;
    if (P.length) todo.push(0);
    while (todo.length) {
      const g = todo.pop()!;
      const i = 7 * g;
      const [x, y, z] = [group[i]! - p[0]!, group[i + 1]! - p[1]!, group[i + 2]! - p[2]!];
      const d2 = x * x + y * y + z * z;
      if (d2 > (FAR_REACHES * group[i + 6]!) ** 2)
        sum += (x * group[i + 3]! + y * group[i + 4]! + z * group[i + 5]!) / (d2 * Math.sqrt(d2));
      else if (child[g]! < 0) for (let t = range[2 * g]!; t < range[2 * g + 1]!; t++) sum += solidAngle(P, 9 * t, p);
      else todo.push(child[g]!, child[g]! + 1);
    }
    return sum / (4 * Math.PI);
  }
}
