import { incircle, orient2d } from 'robust-predicates';
import { triangulateFlat, type Flat } from '../../mesh/index.ts';

/** The sign by which `orient2d` says that three places run to the left. */
const LEFT = Math.sign(orient2d(0, 0, 1, 0, 0, 1));
/** And `incircle` that a place lies within the circle of a triangle that runs to the left. */
const WITHIN_CIRCLE = Math.sign(incircle(0, 0, 1, 0, 0, 1, 0.5, 0.5));
const turn = (a: Flat, b: Flat, c: Flat): number => LEFT * orient2d(a[0], a[1], b[0], b[1], c[0], c[1]);
const isWithin = (a: Flat, b: Flat, c: Flat, p: Flat): boolean =>
  WITHIN_CIRCLE * incircle(a[0], a[1], b[0], b[1], c[0], c[1], p[0], p[1]) > 0;

/** More points than this would make numbers of edges too large. */
const MOST_POINTS = 2 ** 21;
/** A walk to a place takes no more steps than this; then all triangles are looked through. */
const MOST_STEPS = 200;

export type Triangle = readonly [number, number, number];

/**
 * The constrained Delaunay triangulation of what boundaries enclose, which takes further points one by one. Edges that
 * are none of the boundaries are flipped until no triangle's circle has the point across its edge within (Lawson 1977),
 * decided exactly (Shewchuk's adaptive predicates); of four points on one circle either way may stand. A new point
 * parts the triangle that it is in, or the two beside its edge.
 */
export class Delaunay {
  readonly points: Flat[];
  private readonly list: Triangle[] = [];
  /** The triangle on the left of each edge. */
  private readonly left = new Map<number, number>();
  private readonly given = new Set<number>();
  private last = 0;

  /** Of boundaries, the outer one to the left, holes to the right. */
  constructor(boundaries: readonly (readonly Flat[])[]) {
    this.points = boundaries.flat();
    let at = 0;
    const starts = boundaries.map((o) => (at += o.length) - o.length);
    boundaries.forEach((o, l) =>
      o.forEach((_, i) => this.given.add(this.edge(starts[l]! + i, starts[l]! + ((i + 1) % o.length)))),
    );
    const t = triangulateFlat(this.points.flat(), starts);
    for (let i = 0; i < t.length; i += 3) this.put(this.list.length, [t[i]!, t[i + 1]!, t[i + 2]!]);
    this.flip([...this.left.keys()]);
  }

  /** The triangles, each running to the left. */
  triangles(): readonly Triangle[] {
    return this.list;
  }

  /** Adds a point; its number, or null where it is outside, on a boundary or on another point. */
  insert(p: Flat): number | null {
    const found = this.points.length < MOST_POINTS ? this.locate(p) : null;
    if (found === null) return null;
    const corners = this.list[found]!;
    const on = [0, 1, 2].filter((k) => turn(this.points[corners[k]!]!, this.points[corners[(k + 1) % 3]!]!, p) === 0);
    if (on.length > 1) return null;
    const [u, v, w] = [0, 1, 2].map((k) => corners[(k + (on[0] ?? 0)) % 3]!) as [number, number, number];
    const beyond = on.length ? this.left.get(this.edge(v, u)) : undefined;
    if (on.length && (beyond === undefined || this.given.has(this.edge(u, v)))) return null;
    const x = this.points.push(p) - 1;
    if (beyond === undefined) {
      this.put(found, [u, v, x]);
      this.put(this.list.length, [v, w, x]);
      this.put(this.list.length, [w, u, x]);
      this.flip([this.edge(u, v), this.edge(v, w), this.edge(w, u)]);
    } else {
      const y = this.third(beyond, u, v);
      for (const e of [this.edge(u, v), this.edge(v, u)]) this.left.delete(e);
      this.put(found, [v, w, x]);
      this.put(beyond, [u, y, x]);
      this.put(this.list.length, [w, u, x]);
      this.put(this.list.length, [y, v, x]);
      this.flip([this.edge(v, w), this.edge(w, u), this.edge(u, y), this.edge(y, v)]);
    }
    return x;
  }

  private edge = (u: number, v: number): number => u * MOST_POINTS + v;

  private put(i: number, t: Triangle): void {
    this.list[i] = t;
    t.forEach((u, k) => this.left.set(this.edge(u, t[(k + 1) % 3]!), i));
  }

  private third(i: number, u: number, v: number): number {
    return this.list[i]!.find((x) => x !== u && x !== v)!;
  }

  /** The triangle that a place is in; on an edge either of the two. Null outside. */
  private locate(p: Flat): number | null {
    let i = this.last;
    for (let step = 0; step < MOST_STEPS; step++) {
      const across = this.onwards(i, p);
      if (across === null) return (this.last = i);
      const next = this.left.get(across);
      if (next === undefined) break;
      i = next;
    }
    // The way was barred by a boundary.
    const found = this.list.findIndex((_, k) => this.onwards(k, p) === null);
    return found < 0 ? null : (this.last = found);
  }

  /** The edge of a triangle, as the one beyond has it, that a place lies beyond; null where it is within. */
  private onwards(i: number, p: Flat): number | null {
    const t = this.list[i]!;
    for (let k = 0; k < 3; k++) {
      const [u, v] = [t[k]!, t[(k + 1) % 3]!];
      if (turn(this.points[u]!, this.points[v]!, p) < 0) return this.edge(v, u);
    }
    return null;
  }

  /** Flips edges that are not as they should be, and those round about. */
  private flip(stack: number[]): void {
    while (stack.length) {
      const e = stack.pop()!;
      const [u, v] = [Math.floor(e / MOST_POINTS), e % MOST_POINTS];
      const back = this.edge(v, u);
      const [i, j] = [this.left.get(e), this.left.get(back)];
      if (i === undefined || j === undefined || this.given.has(e) || this.given.has(back)) continue;
      const [x, y] = [this.third(i, u, v), this.third(j, u, v)];
      const [a, b, c, d] = [this.points[u]!, this.points[v]!, this.points[x]!, this.points[y]!];
      // Triangles without any area, over straight runs of a boundary, go whatever their circles are.
      const thin = !(turn(a, b, c) > 0) || !(turn(b, a, d) > 0);
      if (!thin && !isWithin(a, b, c, d)) continue;
      if (!(turn(c, a, d) > 0) || !(turn(d, b, c) > 0)) continue;
      this.left.delete(e);
      this.left.delete(back);
      this.put(i, [x, u, y]);
      this.put(j, [y, v, x]);
      stack.push(this.edge(x, u), this.edge(u, y), this.edge(y, v), this.edge(v, x));
    }
  }
}
