import type { Flat } from '../../../mesh/index.ts';
import { boxAt, distinct, isInside, SIDES, type Hole, type LinedFace, type Side, type Span } from './face.ts';

/** So many times the least length a place beside a line is away from it when it is asked what lies there. */
const BESIDE = 20;
/** Nothing of the face. */
const OUTSIDE = -2;

/** The lines across a face: from vertices of the outlines and sides of boxes, each to the next outline or box. */
export class Spans {
  readonly list: Span[] = [];
  /** Coordinates at which outlines and boxes begin or end. */
  private readonly breaks: [number[], number[]];
  private readonly corners: Flat[];

  constructor(readonly face: LinedFace) {
    const outlines = [...face.plain.values()].flat();
    this.corners = face.holes.flatMap(({ box: [a, b] }): Flat[] => [
      [a[0], a[1]],
      [b[0], a[1]],
      [b[0], b[1]],
      [a[0], b[1]],
    ]);
    const all = [...outlines, ...this.corners];
    this.breaks = [0, 1].map((k) =>
      distinct(
        all.map((p) => p[k]!),
        face.tiny,
      ),
    ) as [number[], number[]];
    for (const p of outlines) {
      this.add(0, p[0], p[1]);
      this.add(1, p[1], p[0]);
    }
    for (const { box } of face.holes)
      for (const side of SIDES) {
        const o = side.keeps ? 0 : 1;
        this.add(side.keeps, box[side.upper ? 1 : 0][side.keeps], (box[0][o] + box[1][o]) / 2);
      }
  }

  /**
   * How far a line that keeps a coordinate at a value goes on from a place: along a box, or between two, but not along
   * an outline or into a box.
   */
  cast(keeps: 0 | 1, at: number, from: number, sign: number): number {
    const { face } = this;
    const breaks = this.breaks[keeps ? 0 : 1];
    const far = BESIDE * face.tiny;
    const kindOf = (across: number, along: number): number => {
      const p: Flat = keeps ? [along, across] : [across, along];
      return isInside(face, p) ? boxAt(face, p) : OUTSIDE;
    };
    let reached = from;
    const first = sign > 0 ? 0 : breaks.length - 1;
    for (let i = first; i >= 0 && i < breaks.length; i += sign) {
      const stop = breaks[i]!;
      if (sign * (stop - from) <= face.tiny) continue;
      const middle = (reached + stop) / 2;
      const [a, b] = [kindOf(at - far, middle), kindOf(at + far, middle)];
      if (a === OUTSIDE || b === OUTSIDE || (a >= 0 && a === b)) break;
      reached = stop;
    }
    return reached;
  }

  /** Adds a line through a place, unless it is there; `stays`: also one without length, that only ends at a box. */
  add(keeps: 0 | 1, at: number, from: number, stays = false): void {
    const { tiny } = this.face;
    const isThere = (s: Span) =>
      s.keeps === keeps && Math.abs(s.at - at) < tiny && s.low <= from + tiny && s.high >= from - tiny;
    if (this.list.some(isThere)) return;
    const [low, high] = [this.cast(keeps, at, from, -1), this.cast(keeps, at, from, 1)];
    if (high - low > tiny || stays) this.list.push({ keeps, at, low, high });
  }

  /** Where lines end on a side of a box between its corners; corners of boxes that touch it are such places, too. */
  endsOn(hole: Hole, side: Side): number[] {
    const { tiny } = this.face;
    const o = side.keeps ? 0 : 1;
    const [low, high] = [hole.box[0][o] + tiny, hole.box[1][o] - tiny];
    const at = hole.box[side.upper ? 1 : 0][side.keeps];
    const out: number[] = [];
    for (const s of this.list)
      if (s.keeps === o && s.at > low && s.at < high && (Math.abs(s.low - at) < tiny || Math.abs(s.high - at) < tiny))
        out.push(s.at);
    for (const p of this.corners) if (p[o] > low && p[o] < high && Math.abs(p[side.keeps] - at) < tiny) out.push(p[o]);
    return distinct(out, tiny);
  }

  /** The hole whose box a line from a side of a box leads to; null where it leads to an outline. */
  leadsTo(hole: Hole, side: Side, at: number): Hole | null {
    const sign = side.upper ? 1 : -1;
    const o = side.keeps ? 0 : 1;
    const end = this.cast(o, at, hole.box[side.upper ? 1 : 0][side.keeps], sign) + sign * BESIDE * this.face.tiny;
    const beyond = boxAt(this.face, side.keeps ? [at, end] : [end, at]);
    const other = beyond < 0 ? null : this.face.holes[beyond]!;
    return other === hole ? null : other;
  }
}

/**
 * How many lines a hole wants across: `all` as many as its rim has edges, where a side meets a box that has got its
 * lines fewer; `full` then more on the other sides; or so many on each side.
 */
export type Want = 'all' | 'full' | number;

/** Sides up to so many times as long as the shortest one get more lines in proportion, where a number is wanted. */
const LONGER = 2;
/** A side that faces a box that has got its lines is that much less wished for. */
const FACING = 0.5;
/** Of gaps that are alike the first side's goes first. */
const IN_ORDER = 1e-4;

/**
 * Lays the lines that each hole wants, small holes first, then from below, then from the left. None ends on a box that
 * has got its lines, so that counts stay. `mustSuit`: whether box and rim have both even counts or both odd ones; false
 * where that cannot be reached.
 */
export function layLines(
  spans: Spans,
  want: (hole: Hole) => Want,
  rimOf: (hole: Hole) => number,
  mustSuit: (hole: Hole) => boolean,
): boolean {
  const { face } = spans;
  const least = 100 * face.tiny;
  const order = [...face.holes].sort((a, b) => {
    const by = [a.radius - b.radius, a.extent[0][1] - b.extent[0][1], a.extent[0][0] - b.extent[0][0]];
    return by.find((d) => Math.abs(d) > least) ?? 0;
  });
  const done = new Set<Hole>();
  for (const hole of order) {
    done.add(hole);
    const meets = (side: Side, at: number): boolean => {
      const other = spans.leadsTo(hole, side, at);
      return other !== null && done.has(other);
    };
    const counts = wishedParts(spans, hole, want(hole), rimOf(hole), meets);
    SIDES.forEach((side, i) => {
      const at = hole.box[side.upper ? 1 : 0][side.keeps];
      for (const x of partedBy(marksOn(spans, hole, side), counts[i]!))
        if (!meets(side, x)) spans.add(side.keeps ? 0 : 1, x, at, true);
    });
    if (mustSuit(hole) && !evened(spans, hole, rimOf(hole), meets)) return false;
  }
  return true;
}

/** The ends of a side of a box and where lines end on it, in order. */
function marksOn(spans: Spans, hole: Hole, side: Side): number[] {
  const o = side.keeps ? 0 : 1;
  return [hole.box[0][o], ...spans.endsOn(hole, side), hole.box[1][o]];
}

/** How many parts each side of a box is to have. */
function wishedParts(
  spans: Spans,
  hole: Hole,
  want: Want,
  rim: number,
  meets: (side: Side, at: number) => boolean,
): number[] {
  const lengths = SIDES.map(({ keeps }) => hole.box[1][keeps ? 0 : 1] - hole.box[0][keeps ? 0 : 1]);
  const counts = SIDES.map((side) => spans.endsOn(hole, side).length + 1);
  const faces = SIDES.map((side) => {
    const o = side.keeps ? 0 : 1;
    return meets(side, (hole.box[0][o] + hole.box[1][o]) / 2);
  });
  if (typeof want === 'number') {
    const shortest = Math.min(...lengths);
    return counts.map((n, i) =>
      faces[i] ? n : Math.max(n, Math.round(want * Math.min(LONGER, lengths[i]! / shortest))),
    );
  }
  const whole = lengths.reduce((a, b) => a + b);
  const most = counts.map((n, i) => {
    if (want === 'full') return rim;
    return faces[i] ? n : Math.max(n, Math.ceil((rim * lengths[i]!) / whole - 1e-6));
  });
  let sum = counts.reduce((a, b) => a + b);
  for (; sum < rim && counts.some((n, i) => n < most[i]!); sum++) {
    const ease = counts.map((n, i) =>
      n < most[i]! ? (((faces[i] ? FACING : 1) * lengths[i]!) / n) * (1 - IN_ORDER * i) : 0,
    );
    counts[ease.indexOf(Math.max(...ease))]!++;
  }
  return counts;
}

/** Places that part the gaps between marks further, the widest first and evenly, until there are so many parts. */
function partedBy(marks: readonly number[], count: number): number[] {
  const parts = marks.slice(1).map(() => 1);
  const width = (j: number) => (marks[j + 1]! - marks[j]!) / parts[j]!;
  for (let n = parts.length; n < count; n++)
    parts[parts.reduce((best, _, j) => (width(j) > width(best) * (1 + 1e-6) ? j : best), 0)]!++;
  return parts.flatMap((p, j) => Array.from({ length: p - 1 }, (_, s) => marks[j]! + (s + 1) * width(j)));
}

/** One more line in the widest gap that allows it, where a box and its rim do not suit each other. */
function evened(spans: Spans, hole: Hole, rim: number, meets: (side: Side, at: number) => boolean): boolean {
  const ends = SIDES.reduce((s, side) => s + spans.endsOn(hole, side).length, 0);
  if ((ends + rim) % 2 === 0) return true;
  const gaps = SIDES.flatMap((side, i) => {
    const marks = marksOn(spans, hole, side);
    return marks.slice(1).map((x, j) => ({
      side,
      at: (x + marks[j]!) / 2,
      wide: (x - marks[j]!) * (1 - IN_ORDER * i),
    }));
  });
  const found = gaps.sort((a, b) => b.wide - a.wide).find(({ side, at }) => !meets(side, at));
  if (!found) return false;
  const { side, at } = found;
  spans.add(side.keeps ? 0 : 1, at, hole.box[side.upper ? 1 : 0][side.keeps], true);
  return true;
}
