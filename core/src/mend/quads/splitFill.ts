import { offSegment, type Flat } from '../../mesh/index.ts';
import {
  apart,
  badness,
  badnessOf,
  cornerAngle,
  crosses,
  edgesOf,
  lineBetween,
  meanSize,
  ringArea,
  sizesFrom,
  type Sizing,
  towards,
  type FlatMesh,
} from './flatMesh.ts';

// Fills a polygon with quads by cutting it in two along its best chord, again and again, until quads are left. Both
// parts of an even polygon are even, so that an even one becomes quads alone and an odd one quads and one triangle.

/** Chords come no nearer to other points than this share of their length. */
const CHORD_CLEAR = 1e-3;
/** A corner is parted by a chord only where both parts are larger than this, degrees. */
const LEAST_PART = 1;
/**
 * In polygons of more corners than this, chords that cut off less than a quarter are skipped, as work would grow with
 * the square of the corners.
 */
const MANY_CORNERS = 72;
/** Chords from a hole to the boundary that are looked at, the shortest first. */
const MOST_TIES = 2000;
/** And none that is so many times longer than the shortest. */
const TOO_LONG = 12;

/** How far an angle is from the nearest of 90, 180, 270 and 360 degrees, as a share of 90 squared; more below 45. */
function strays(angle: number): number {
  const target = angle < 135 ? 90 : angle < 225 ? 180 : angle < 315 ? 270 : 360;
  return ((angle - target) / 90) ** 2 + (angle < 45 ? ((45 - angle) / 20) ** 2 : 0);
}

interface Way {
  cost: number;
  from: number;
  to: number;
}
interface Chord extends Way {
  count: number;
}

/** How many ways are examined closely at a time. */
const AT_ONCE = 160;

export class SplitFill {
  private readonly size: (p: Flat) => number;

  constructor(
    private readonly m: FlatMesh,
    private readonly loops: readonly (readonly number[])[],
    sizing: Sizing,
    private readonly check: () => void,
  ) {
    this.size = sizesFrom(
      edgesOf(loops).map(([a, b]) => [m.points[a]!, m.points[b]!] as const),
      sizing,
    );
  }

  private at = (v: number): Flat => this.m.points[v]!;

  /** Fills the first loop, the others as its holes; whether it could. */
  fill(): boolean {
    const [outer, ...holes] = this.loops;
    const whole = this.joined([...outer!], holes);
    if (!whole) return false;
    const stack = [whole];
    while (stack.length) {
      this.check();
      const polygon = stack.pop()!;
      if (polygon.length < 7 && new Set(polygon).size === polygon.length) this.lay(polygon);
      else {
        const parts = this.parted(polygon);
        if (!parts) return false;
        stack.push(...parts);
      }
    }
    return true;
  }

  /**
   * The two parts of the angle at a corner on both sides of the way to a place; null where the way does not lead
   * inward.
   */
  private parts(polygon: readonly number[], i: number, p: Flat): [number, number] | null {
    const n = polygon.length;
    const [a, b, c] = [this.at(polygon[(i + n - 1) % n]!), this.at(polygon[i]!), this.at(polygon[(i + 1) % n]!)];
    const whole = cornerAngle(a, b, c) || 360;
    const after = cornerAngle(p, b, c);
    return after > LEAST_PART && after < whole - LEAST_PART ? [whole - after, after] : null;
  }

  /** Whether a chord meets none of some edges but at its ends. */
  private isFree(a: number, b: number, edges: readonly (readonly [number, number])[]): boolean {
    const [p, q] = [this.at(a), this.at(b)];
    const long = apart(p, q);
    const clear = CHORD_CLEAR * long;
    const [x0, x1, y0, y1] = [
      Math.min(p[0], q[0]) - clear,
      Math.max(p[0], q[0]) + clear,
      Math.min(p[1], q[1]) - clear,
      Math.max(p[1], q[1]) + clear,
    ];
    for (const [u, v] of edges) {
      const [s, t] = [this.at(u), this.at(v)];
      if ((s[0] < x0 && t[0] < x0) || (s[0] > x1 && t[0] > x1) || (s[1] < y0 && t[1] < y0) || (s[1] > y1 && t[1] > y1))
        continue;
      const touching = u === a || v === a || u === b || v === b;
      if (!touching && crosses(p, q, s, t)) return false;
      if (u !== a && u !== b && offSegment(s, p, q) < clear) return false;
      if (touching && v !== a && v !== b && offSegment(t, p, q) < clear) return false;
    }
    return true;
  }

  /** How many points a chord is to have within, for quads of the wanted size. */
  private wanted = (a: number, b: number): number =>
    Math.max(0, Math.round(apart(this.at(a), this.at(b)) / meanSize(this.size, this.at(a), this.at(b))) - 1);

  /** The boundary with each hole joined to it by a chord that it passes twice; null where there is no way. */
  private joined(boundary: number[], holes: readonly (readonly number[])[]): number[] | null {
    let polygon = boundary;
    const left = holes.map((h) => [...h]);
    while (left.length) {
      this.check();
      const ways = this.shortest(polygon, left);
      const edges = edgesOf([polygon, ...left]);
      let best: { cost: number; h: number; i: number; j: number; long: number } | null = null;
      for (const way of ways) {
        if (best && way.long > 1.8 * best.long) break;
        const [v, w] = [left[way.h]![way.i]!, polygon[way.j]!];
        const [one, two] = [this.parts(polygon, way.j, this.at(v)), this.parts(left[way.h]!, way.i, this.at(w))];
        if (!one || !two || !this.isFree(v, w, edges)) continue;
        const cost = way.long * (1 + 0.5 * [...one, ...two].reduce((s, x) => s + strays(x), 0));
        if (!best || cost < best.cost) best = { ...way, cost };
      }
      if (!best) return null;
      const [hole] = left.splice(best.h, 1) as [number[]];
      const [from, to] = [polygon[best.j]!, hole[best.i]!];
      const line = lineBetween(this.m, from, to, this.wanted(from, to), this.size, 'free');
      polygon = [
        ...polygon.slice(0, best.j + 1),
        ...line,
        ...hole.slice(best.i),
        ...hole.slice(0, best.i + 1),
        ...[...line].reverse(),
        ...polygon.slice(best.j),
      ];
    }
    return polygon;
  }

  /** Ways from holes to the boundary, the shortest first, and none that is far longer. */
  private shortest(
    polygon: readonly number[],
    holes: readonly (readonly number[])[],
  ): { h: number; i: number; j: number; long: number }[] {
    const each = (act: (h: number, i: number, j: number, long: number) => void): void =>
      holes.forEach((hole, h) =>
        hole.forEach((v, i) => polygon.forEach((w, j) => act(h, i, j, apart(this.at(v), this.at(w))))),
      );
    let least = Infinity;
    each((_h, _i, _j, long) => (least = Math.min(least, long)));
    const out: { h: number; i: number; j: number; long: number }[] = [];
    each((h, i, j, long) => long <= TOO_LONG * least && out.push({ h, i, j, long }));
    return out.sort((a, b) => a.long - b.long).slice(0, MOST_TIES);
  }

  /** A polygon in two along its best chord that is free; null where none is. */
  private parted(polygon: readonly number[]): [number[], number[]] | null {
    const edges = edgesOf([polygon]);
    const ways = this.ways(polygon);
    for (let k = 0; k < ways.length; k += AT_ONCE)
      for (const { from, to, count } of this.chords(polygon, ways.slice(k, k + AT_ONCE))) {
        const [a, b] = [polygon[from]!, polygon[to]!];
        if (!this.isFree(a, b, edges)) continue;
        const line = lineBetween(this.m, a, b, count, this.size, 'free');
        return [
          [...polygon.slice(from, to + 1), ...[...line].reverse()],
          [...polygon.slice(to), ...polygon.slice(0, from + 1), ...line],
        ];
      }
    return null;
  }

  /**
   * Pairs of corners that a polygon may be cut between, by their angles, their length and how evenly they part it, the
   * best first.
   */
  private ways(polygon: readonly number[]): Way[] {
    const n = polygon.length;
    const scale = 1 / Math.sqrt(Math.abs(ringArea(this.m.places(polygon))) + Number.MIN_VALUE);
    const least = n > MANY_CORNERS ? n / 4 : 2;
    const out: Way[] = [];
    for (let i = 0; i < n; i++)
      for (let j = i + 2; j < n; j++) {
        if (Math.min(j - i, n - j + i) < least || polygon[i] === polygon[j]) continue;
        const [p, q] = [this.at(polygon[i]!), this.at(polygon[j]!)];
        const one = this.parts(polygon, i, q);
        const two = one && this.parts(polygon, j, p);
        if (!one || !two) continue;
        const angles = strays(one[0]) + strays(one[1]) + strays(two[0]) + strays(two[1]);
        out.push({
          cost: angles + 0.8 * apart(p, q) * scale - (0.25 * Math.min(j - i, n - j + i)) / n,
          from: i,
          to: j,
        });
      }
    return out.sort((a, b) => a.cost - b.cost);
  }

  /** Chords along some ways, with as many points within as suit the sizes and the count, the best first. */
  private chords(polygon: readonly number[], ways: readonly Way[]): Chord[] {
    const n = polygon.length;
    const even = n % 2 === 0;
    const out: Chord[] = [];
    for (const { from: i, to: j, cost } of ways) {
      const wanted = this.wanted(polygon[i]!, polygon[j]!);
      for (const count of [wanted, wanted + 1, wanted - 1, wanted + 2]) {
        const sides = [j - i + count + 1, n - j + i + count + 1] as const;
        if (count < 0 || sides.some((s) => s < 3 || s >= n || (even && s % 2))) continue;
        out.push({
          cost: cost + 0.6 * Math.abs(count - wanted) + this.asQuads(polygon, i, j, count, sides),
          from: i,
          to: j,
          count,
        });
      }
    }
    return out.sort((a, b) => a.cost - b.cost);
  }

  /** How much the quads that a chord cuts off at once count for or against it. */
  private asQuads(
    polygon: readonly number[],
    i: number,
    j: number,
    count: number,
    sides: readonly [number, number],
  ): number {
    if (count > 1) return 0;
    const middle = count ? [towards(this.at(polygon[i]!), this.at(polygon[j]!), 0.5)] : [];
    const quad = (list: readonly number[]) => 0.3 * badness([...this.m.places(list), ...middle]) - (count ? 0 : 0.1);
    return (
      (sides[0] === 4 ? quad(polygon.slice(i, j + 1)) : 0) +
      (sides[1] === 4 ? quad([...polygon.slice(j), ...polygon.slice(0, i + 1)]) : 0)
    );
  }

  /** Lays a polygon of six corners or less: as it is, with a triangle, in two quads, or in three about its middle. */
  private lay(polygon: readonly number[]): void {
    const { m } = this;
    const n = polygon.length;
    const r = (k: number) => polygon[k % n]!;
    if (n < 5) return void m.polygon(polygon);
    const ways: { cost: number; polygons: number[][]; middle?: Flat }[] = [];
    const way = (polygons: number[][]) =>
      ways.push({ polygons, cost: polygons.reduce((s, p) => s + badnessOf(m.points, p), 0) });
    if (n === 5)
      for (let k = 0; k < 5; k++)
        way([
          [r(k), r(k + 1), r(k + 2)],
          [r(k + 2), r(k + 3), r(k + 4), r(k)],
        ]);
    else {
      for (let k = 0; k < 3; k++)
        way([
          [r(k), r(k + 1), r(k + 2), r(k + 3)],
          [r(k + 3), r(k + 4), r(k + 5), r(k)],
        ]);
      const middle: Flat = [0, 1].map((d) => polygon.reduce((s, v) => s + this.at(v)[d]!, 0) / 6) as Flat;
      for (const k of [0, 1]) {
        const star = [0, 2, 4].map((z) => [r(k + z), r(k + z + 1), r(k + z + 2)]);
        // A pole in its middle counts against it.
        ways.push({
          polygons: star,
          middle,
          cost: 0.7 + star.reduce((s, p) => s + badness([...m.places(p), middle]), 0),
        });
      }
    }
    const best = ways.reduce((a, b) => (b.cost < a.cost ? b : a));
    const pole = best.middle && m.point(best.middle, 'free');
    for (const p of best.polygons) m.polygon(pole === undefined ? p : [...p, pole]);
  }
}
