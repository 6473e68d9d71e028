import { dot, lengthOf, nearestOn, sub } from '../../mesh/index.ts';
import { CREASE, type FineTriangles } from './fineTriangles.ts';
import type { SeamSides } from './seamSides.ts';

/** The seam has a corner where it turns by more, radians. */
const CORNER = 0.6;
/** A closed chain keeps more vertices than this. */
const LEAST_OF_CHAIN = 5;
/** An edge below this share of the median of its chain is short beside it; others move the seam by this share. */
const [UNEVEN, EVEN] = [0.6, 0.1];
/** Spokes are added where a straight width would be off by more than this, and no nearer than the second, in widths. */
const [FOLLOWS, APART] = [0.1, 0.4];

/** Vertices of the seam between two that are kept in any case; of a closed chain without such, from one of its own. */
interface Chain {
  list: number[];
  keeps: boolean[];
}

/** Chooses the vertices of a seam that carry spokes: some are dropped where its edges are short and it hardly turns. */
export class SpokeVertices {
  readonly kept: Set<number>;
  /** The farthest that a dropped vertex is from the seam that is left, mm. */
  moved = 0;
  private readonly chains: Chain[] = [];
  private readonly where = new Map<number, { chain: Chain; i: number }>();

  /**
   * Drops ends of edges shorter than `gap` (mm), where the seam moves by no more than `within` (mm); of edges that are
   * short beside the others of their chain, so that a round hole stays as round as it is; else by a tenth of that.
   * Vertices for which `holds` says so stay in any case.
   */
  constructor(
    private readonly fine: FineTriangles,
    holds: (v: number) => boolean,
    gap: number,
    within: number,
  ) {
    const beside = new Map<number, number[]>();
    const creased = new Set<number>();
    const put = (a: number, b: number) => {
      const list = beside.get(a);
      if (list) list.push(b);
      else beside.set(a, [b]);
    };
    for (let h = 0; h < fine.kind.length; h++) {
      if (fine.kind[h] === CREASE) creased.add(fine.vertex[h]!).add(fine.end(h));
    }
    for (const [a, b] of fine.seam) {
      put(a, b);
      put(b, a);
    }
    this.kept = new Set(beside.keys());
    const fixed = new Set<number>();
    for (const [v, [a, b, more]] of beside)
      if (b === undefined || more !== undefined || creased.has(v) || holds(v) || turn(fine, a!, v, b) > CORNER)
        fixed.add(v);
    this.chain(beside, fixed);
    for (const c of this.chains) this.thin(c, gap, within);
  }

  private chain(beside: ReadonlyMap<number, readonly number[]>, fixed: ReadonlySet<number>): void {
    const seen = new Set<string>();
    const name = (a: number, b: number) => (a < b ? `${a},${b}` : `${b},${a}`);
    const walk = (first: number, second: number) => {
      const list = [first, second];
      seen.add(name(first, second));
      for (let v = second; !fixed.has(v) && v !== first; v = list.at(-1)!) {
        const [x, y] = beside.get(v)!;
        const n = x === list.at(-2) ? y! : x!;
        seen.add(name(v, n));
        list.push(n);
      }
      const chain = { list, keeps: list.map(() => true) };
      this.chains.push(chain);
      for (let i = 1; i + 1 < list.length; i++) this.where.set(list[i]!, { chain, i });
    };
    for (const v of fixed) for (const n of beside.get(v)!) if (!seen.has(name(v, n))) walk(v, n);
    for (const [v, [n]] of beside) if (!fixed.has(v) && !seen.has(name(v, n!))) walk(v, n!);
  }

  /** The next vertex that is kept, from one of a chain on. */
  private step({ keeps }: Chain, i: number, by: 1 | -1): number {
    let k = i + by;
    while (!keeps[k]) k += by;
    return k;
  }

  /** The farthest of the vertices between two of a chain from the straight way, mm. */
  private off({ list }: Chain, i: number, j: number): number {
    let most = 0;
    const [a, b] = [this.fine.at(list[i]!), this.fine.at(list[j]!)];
    for (let k = i + 1; k < j; k++) most = Math.max(most, nearestOn(this.fine.at(list[k]!), a, b).distance);
    return most;
  }

  private thin(c: Chain, gap: number, within: number): void {
    const { list, keeps } = c;
    const lengths = list.slice(1).map((v, i) => this.fine.length(list[i]!, v));
    const uneven = UNEVEN * lengths.sort((a, b) => a - b)[lengths.length >> 1]!;
    const stays = new Set<number>();
    for (;;) {
      let [best, shortest] = [-1, gap];
      for (let i = 0; i + 1 < list.length; i = this.step(c, i, 1)) {
        const l = this.fine.length(list[i]!, list[this.step(c, i, 1)]!);
        if (l < shortest && !stays.has(i)) [best, shortest] = [i, l];
      }
      if (best < 0) return;
      const cost = (i: number) => this.off(c, this.step(c, i, -1), this.step(c, i, 1));
      const ends = [best, this.step(c, best, 1)].filter((i) => i > 0 && i < list.length - 1 && keeps[i]);
      const order = ends.map((i) => ({ i, cost: cost(i) })).sort((x, y) => x.cost - y.cost);
      const may = shortest < uneven ? within : EVEN * within;
      if (!order.some(({ i }) => this.dropAt(c, i, may))) stays.add(best);
    }
  }

  private dropAt(c: Chain, i: number, within: number): boolean {
    const { list, keeps } = c;
    if (i <= 0 || i >= list.length - 1 || !keeps[i]) return false;
    const [a, b] = [this.step(c, i, -1), this.step(c, i, 1)];
    if (list[0] === list.at(-1) && keeps.filter(Boolean).length <= LEAST_OF_CHAIN) return false;
    if (list[a] === list[b]) return false;
    const d = this.off(c, a, b);
    if (d > within) return false;
    this.moved = Math.max(this.moved, d);
    keeps[i] = false;
    this.kept.delete(list[i]!);
    return true;
  }

  /** Drops one vertex, where the seam moves by no more than `within` (mm); false where it has to stay. */
  drop(v: number, within: number): boolean {
    const at = this.where.get(v);
    return !!at && this.dropAt(at.chain, at.i, within);
  }

  /**
   * Adds spokes on long edges of the seam whose width changes along them, so that the band is narrow only where it must
   * be. `width`: the full one, mm.
   */
  follow(s: SeamSides, width: number): void {
    for (const { list, isClosed, isWanted } of s.sides) {
      const first = isClosed ? list.findIndex((h) => this.kept.has(s.A[h]!)) : 0;
      if (first < 0 || !isWanted) continue;
      const n = list.length;
      const at = (i: number) => list[(first + i) % n]!;
      const W = (i: number) => (i === n && !isClosed ? s.W[s.after[list[n - 1]!]!]! : s.W[at(i)]!);
      const place = [0];
      for (let i = 0; i < n; i++) place.push(place[i]! + this.fine.length(s.A[at(i)]!, s.B[at(i)]!));
      const split = (a: number, b: number): void => {
        let [most, k] = [FOLLOWS * width, -1];
        for (let i = a + 1; i < b; i++) {
          // A side that gets no band would have to be given the vertex.
          if (s.A[at(i)]! >= this.fine.own.length && !s.wantsAcross(at(i))) continue;
          if (Math.min(place[i]! - place[a]!, place[b]! - place[i]!) < APART * width) continue;
          const share = (place[i]! - place[a]!) / (place[b]! - place[a]!);
          const d = Math.abs(W(i) - (W(a) + share * (W(b) - W(a))));
          if (d > most) [most, k] = [d, i];
        }
        if (k < 0) return;
        this.kept.add(s.A[at(k)]!);
        split(a, k);
        split(k, b);
      };
      let before = 0;
      for (let i = 1; i <= n; i++) {
        if (i < n && !this.kept.has(s.A[at(i)]!)) continue;
        split(before, i);
        before = i;
      }
    }
  }
}

/** How far the seam turns at a vertex, radians. */
function turn(fine: FineTriangles, a: number, v: number, b: number): number {
  const p = fine.at(v);
  const [u, w] = [sub(p, fine.at(a)), sub(fine.at(b), p)];
  return Math.acos(Math.max(-1, Math.min(1, dot(u, w) / (lengthOf(u) * lengthOf(w) || 1))));
}
