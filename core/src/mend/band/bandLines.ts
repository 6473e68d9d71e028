import { checkCancelled, type OpContext } from '../../mesh/index.ts';
import { aimsOf, spokeName, type SpokeAim } from './aims.ts';
import {
  distancesTo,
  grade,
  makeRoom,
  mitreAtCreases,
  neighboursOf,
  type Distances,
  type Neighbours,
} from './seamDistances.ts';
import { CREASE, NO_EDGE, type FineTriangles } from './fineTriangles.ts';
import { levelLines, liesUnder, type LevelLine, type Traced } from './levelLine.ts';
import { SeamSides } from './seamSides.ts';
import { spokeEnds, type EndsOnLine } from './spokeEnds.ts';
import { SpokeVertices } from './spokeVertices.ts';

/** Triangles nearer than so many widths get sides of no more than the second, in widths. */
const [REACH, FINE] = [1.35, 0.8];
/** Where a width fell below this share of what the triangles are fit for, they are made finer. */
const FIT = 0.75;
/** Rounds, each narrower by this share where the line is at fault, and so many half-edges beside. */
const [MOST_ROUNDS, NARROWER, BESIDE] = [14, 0.75, 2];
/** In a face that the band fills, its width is this share of the farthest that one gets from the border. */
const OF_SMALL_FACE = 0.8;
/** Vertices of the seam are dropped where edges are shorter than this and it moves by no more than that, in widths. */
const [SHORT, MOVES] = [0.3, 0.04];
/** A band narrower than this share of the wanted width does not count. */
const USELESS = 0.02;
/** Ends nearer than this share of their seam edge: one vertex is dropped where the seam moves by no more, in widths. */
const [TOGETHER, MOVES_MORE] = [0.15, 0.06];
/** What lies beyond a line is parted where the way along the side jumps by more than this, in widths. */
const JUMP = 1.5;
/** Creases are followed under the band for so many widths. */
const FOLLOWED = 8;

/** A line for each side that is wanted, with the ends of its spokes. */
export interface Laid {
  traced: Traced;
  /** By the number of the side; missing where none is wanted. */
  lines: Map<number, { line: LevelLine; ends: EndsOnLine }>;
}

/** Finds the lines of one width beside a seam, narrower where there is no room for them. */
export class BandLines {
  s: SeamSides;
  readonly spokes: SpokeVertices;
  private near: Neighbours;
  /** Widths that the triangles about a half-edge of theirs are fit for. */
  private fit = new Map<number, number>();
  private base: number;
  /** Corners (see `spokeName`) that get a fan, as there is no room for a mitre. */
  readonly fans = new Set<string>();

  constructor(
    readonly fine: FineTriangles,
    private readonly width: number,
    private readonly isWanted: (halves: readonly number[]) => boolean,
    private readonly aim: SpokeAim,
    private readonly shift: number,
  ) {
    fine.refine(REACH, FINE, () => width);
    this.s = new SeamSides(fine, () => [width, width], isWanted);
    for (const h of this.s.half) this.fit.set(h, width);
    this.near = neighboursOf(fine);
    const d = distancesTo(fine, this.s, this.near);
    makeRoom(fine, this.s, d, width);
    mitreAtCreases(this.s, width);
    const bare = new Set<number>();
    for (let h = 0; h < this.s.count; h++) if (!this.s.wantsAcross(h)) bare.add(this.s.A[h]!).add(this.s.B[h]!);
    this.spokes = new SpokeVertices(fine, (v) => bare.has(v), SHORT * width, MOVES * width);
    this.spokes.follow(this.s, width);
    this.base = fine.positions.length;
  }

  /** Lines and ends for all sides; else the sides that have none after all rounds. */
  lay(ctx?: OpContext): Laid | { none: number[] } {
    let none: number[] = [];
    for (let round = 0; round <= MOST_ROUNDS; round++) {
      checkCancelled(ctx);
      ctx?.progress?.(round / (MOST_ROUNDS + 1), 'Bands');
      this.fine.positions.length = this.base;
      none = this.tooNarrow();
      if (none.length) break;
      this.refit();
      const d = distancesTo(this.fine, this.s, this.near);
      const traced = levelLines(this.fine, this.s, d);
      const bad = new Set<number>();
      const own = this.ownLines(traced, d, bad);
      const laid = bad.size ? null : this.ends(traced, d, own, bad);
      if (laid) return laid;
      const done = new Set<number>();
      for (const h of bad) this.s.narrow(h, NARROWER, BESIDE, done);
      grade(this.s);
      none = [...new Set([...bad].map((h) => this.s.sideOf[h]!))];
    }
    return { none };
  }

  /** Sides that are somewhere so narrow that they get no band. */
  private tooNarrow(): number[] {
    const { s } = this;
    const isNarrow = (h: number) => Math.min(s.W[h]!, s.W[s.after[h]!]!) < USELESS * this.width;
    return [...s.sides.keys()].filter((k) => s.sides[k]!.isWanted && s.sides[k]!.list.some(isNarrow));
  }

  /** Finer triangles where sides have become narrow; the sides anew, as their edges are halved with them. */
  private refit(): void {
    const { fine, fit } = this;
    const W = new Map<number, [number, number]>();
    const { half, after } = this.s;
    half.forEach((h, i) => W.set(h, [this.s.W[i]!, this.s.W[after[i]!]!]));
    const isNarrow = (h: number) => Math.min(...W.get(h)!) < FIT * fit.get(h)!;
    if (!half.some(isNarrow)) return;
    fine.onMove = (from, to) => {
      for (const map of [W, fit] as Map<number, unknown>[]) {
        const value = map.get(from);
        if (value === undefined) continue;
        map.delete(from);
        map.set(to, value);
      }
    };
    fine.onSplit = (first, second) => {
      const w = W.get(first);
      if (!w) return;
      const middle = (w[0] + w[1]) / 2;
      W.set(second, [middle, w[1]]);
      W.set(first, [w[0], middle]);
      fit.set(second, fit.get(first)!);
    };
    fine.refine(REACH, FINE, (h) => {
      const o = fine.opposite[h]!;
      const both = o >= 0 ? [h, o] : [h];
      const least = Math.min(...both.flatMap((x) => W.get(x)!));
      return both.some((x) => least < FIT * fit.get(x)!) ? least : 0;
    });
    fine.onMove = fine.onSplit = null;
    for (const h of W.keys()) if (isNarrow(h)) fit.set(h, Math.min(...W.get(h)!));
    this.s = new SeamSides(fine, (h) => W.get(h)!, this.isWanted);
    this.near = neighboursOf(fine);
    this.base = fine.positions.length;
  }

  /** The one line of each side; half-edges at fault where there is none, several, or one that two sides share. */
  private ownLines({ lines }: Traced, { from }: Distances, bad: Set<number>): Map<number, LevelLine> {
    const { s } = this;
    const bySide = new Map<number, LevelLine[]>();
    const eachStep = (line: LevelLine, visit: (a: LevelLine['nodes'][0], b: LevelLine['nodes'][0]) => void) => {
      const n = line.nodes.length;
      for (let j = 0; j < (line.isClosed ? n : n - 1); j++) visit(line.nodes[j]!, line.nodes[(j + 1) % n]!);
    };
    for (const line of lines) {
      eachStep(line, (a, b) => {
        if (s.sideOf[a.h] !== s.sideOf[b.h]) bad.add(a.h).add(b.h);
      });
      const side = s.sideOf[line.nodes[0]!.h]!;
      bySide.set(side, [...(bySide.get(side) ?? []), line]);
    }
    const out = new Map<number, LevelLine>();
    s.sides.forEach((side, k) => {
      if (!side.isWanted) return;
      const mine = bySide.get(k) ?? [];
      if (mine.length === 1) out.set(k, mine[0]!);
      else if (!mine.length) this.fitToFace(k, from, bad);
      else {
        const before = bad.size;
        for (const line of mine)
          eachStep(line, (a, b) => {
            if (s.arc(a.h, a.share, b.h, b.share) > JUMP * this.width) bad.add(a.h).add(b.h);
          });
        if (bad.size === before) for (const h of side.list) bad.add(h);
      }
    });
    return out;
  }

  /** A small face lies nearer than the width all over: the band takes no more than a share of it. */
  private fitToFace(k: number, from: Int32Array, bad: Set<number>): void {
    const { s } = this;
    let deepest = 0;
    for (let v = 0; v < from.length; v++)
      if (from[v]! >= 0 && s.sideOf[from[v]!] === k) deepest = Math.max(deepest, s.nearestTo(v, from[v]!).distance);
    for (const h of s.sides[k]!.list) {
      bad.add(h);
      if (deepest) for (const i of [h, s.after[h]!]) s.W[i] = Math.min(s.W[i]!, OF_SMALL_FACE * deepest);
    }
  }

  /** The ends of the spokes of all sides; null with half-edges at fault. */
  private ends(traced: Traced, d: Distances, own: ReadonlyMap<number, LevelLine>, bad: Set<number>): Laid | null {
    const { fine, s, spokes } = this;
    const { held, ways } = aimsOf(fine, s, this.aim);
    const heldBy = this.heldBy(d);
    for (const edge of traced.on.keys()) {
      const v = held.get(fine.corner[edge]!) ?? held.get(fine.corner[fine.opposite[edge]!] ?? NO_EDGE);
      if (v !== undefined) heldBy.set(edge, v);
    }
    const ends = new Map<number, EndsOnLine>();
    for (let again = true; again;) {
      again = false;
      for (const [k, line] of own) {
        if (ends.get(k)?.spokes.every((x) => spokes.kept.has(x.vertex))) continue;
        const made = spokeEnds(
          fine,
          s,
          k,
          line,
          spokes.kept,
          heldBy,
          (v) => ways.get(spokeName(k, v)) ?? null,
          this.shift,
          this.fans,
        );
        if ('why' in made) for (const h of made.near.length ? made.near : s.sides[k]!.list) bad.add(h);
        else ends.set(k, made);
      }
      if (bad.size) return null;
      for (const [k, made] of ends) again = this.dropCrowded(k, made) || again;
    }
    return { traced, lines: new Map([...own].map(([k, line]) => [k, { line, ends: ends.get(k)! }])) };
  }

  /** Where spokes run together, a vertex of the seam that hardly turns needs none. */
  private dropCrowded(k: number, { spokes: list, length }: EndsOnLine): boolean {
    const { fine, spokes, width } = this;
    const { isClosed } = this.s.sides[k]!;
    if (list.length < 5) return false;
    let any = false;
    for (let i = 0; i < list.length - (isClosed ? 0 : 1); i++) {
      const [a, b] = [list[i]!, list[(i + 1) % list.length]!];
      if (!spokes.kept.has(a.vertex) || !spokes.kept.has(b.vertex)) continue;
      const gap = b.ends[0]!.p - a.ends.at(-1)!.p + (i + 1 === list.length ? length : 0);
      if (gap >= TOGETHER * fine.length(a.vertex, b.vertex)) continue;
      if (spokes.drop(a.vertex, MOVES_MORE * width) || spokes.drop(b.vertex, MOVES_MORE * width)) any = true;
    }
    return any;
  }

  /** For edges of creases that the line crosses: the vertex of the seam that the crease leaves. */
  private heldBy({ f }: Distances): Map<number, number> {
    const { fine, s, width } = this;
    const leaving = new Map<number, number[]>();
    for (let h = 0; h < fine.kind.length; h++) {
      if (fine.kind[h] !== CREASE || fine.edge(h) !== h) continue;
      for (const v of [fine.vertex[h]!, fine.end(h)]) {
        const list = leaving.get(v);
        if (list) list.push(h);
        else leaving.set(v, [h]);
      }
    }
    const out = new Map<number, number>();
    for (const v of leaving.keys()) {
      if (!s.onSeam[v]) continue;
      const todo: [number, number][] = [[v, 0]];
      const seen = new Set([v]);
      while (todo.length) {
        const [x, way] = todo.pop()!;
        for (const h of leaving.get(x)!) {
          const y = fine.vertex[h] === x ? fine.end(h) : fine.vertex[h]!;
          if (seen.has(y) || s.onSeam[y]) continue;
          seen.add(y);
          if (!liesUnder(fine, f, y)) out.set(h, v);
          else if (way < FOLLOWED * width) todo.push([y, way + fine.length(x, y)]);
        }
      }
    }
    return out;
  }
}
