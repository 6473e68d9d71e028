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

  /** `starts`: in a round frame where spokes begin. */
  constructor(
    readonly face: LinedFace,
    starts: readonly Flat[] = [],
  ) {
    const outlines = [...face.plain.values()].flat();
    this.corners = face.holes.flatMap(({ box: [a, b] }): Flat[] => [
      [a[0], a[1]],
      [b[0], a[1]],
      [b[0], b[1]],
      [a[0], b[1]],
    ]);
    const { round } = face;
    const ends: Flat[] = round
      ? [
          [0, round.low],
          [round.period, round.high],
        ]
      : [];
    const all = [...outlines, ...this.corners, ...ends];
    const breaks = (k: 0 | 1) => {
      const list = all.map((p) => p[k]);
      return distinct(list, face.tiny);
    };
    this.breaks = [breaks(0), breaks(1)];
    for (const [x, y] of starts) this.add(0, x, y);
    // A vertex on a border that is the side of a box ends there, without a line.
    for (const p of outlines)
      for (const k of [0, 1] as const) {
        const o = k ? 0 : 1;
        const onSide = face.holes.some(
          ({ box: [a, b] }) =>
            p[k] > a[k] && p[k] < b[k] && (Math.abs(p[o] - a[o]) < face.tiny || Math.abs(p[o] - b[o]) < face.tiny),
        );
        this.add(k, p[k], p[o], onSide);
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
    const wrapped = (x: number): number => (face.round && !keeps ? (x + face.round.period) % face.round.period : x);
    const kindOf = (beside: number, along: number): number => {
      const across = wrapped(beside);
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
    const { round } = this.face;
    if (!round || keeps === 0 || high - low <= tiny) return;
    // An arc goes on beyond the seam.
    if (low < tiny) this.add(1, at, round.period);
    if (high > round.period - tiny) this.add(1, at, 0);
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

  /** In a round frame the line of a way that is nearest to a place, within a length; undefined where there is none. */
  beside(keeps: 0 | 1, at: number, within: number): number | undefined {
    if (!this.face.round) return undefined;
    const off = (x: number) => Math.abs(x - at);
    const near = this.list.filter((s) => s.keeps === keeps && off(s.at) < within).map((s) => s.at);
    return near.length ? near.reduce((a, b) => (off(b) < off(a) ? b : a)) : undefined;
  }

  /** Where spokes end on the inner (0) or the outer (1) arc that lines go to, in order. */
  endsOnArc(which: 0 | 1): number[] {
    const { round, tiny } = this.face;
    const arc = which ? round!.high : round!.low;
    const ends = this.list.filter((s) => s.keeps === 0 && Math.abs((which ? s.high : s.low) - arc) < tiny);
    return distinct(
      ends.map((s) => s.at),
      tiny,
    );
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
/** Weight of a side that faces a box whose lines are done. */
const FACING = 0.5;
/** In a round frame a line nearer than this share of a step is gone on with instead. */
const GONE_ON = 0.45;
/** Among equal gaps, the first side's goes first. */
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
      const o = side.keeps ? 0 : 1;
      const step = (hole.box[1][o] - hole.box[0][o]) / counts[i]!;
      for (const x of partedBy(marksOn(spans, hole, side), counts[i]!)) {
        const line = spans.beside(o, x, GONE_ON * step) ?? x;
        if (!meets(side, line)) spans.add(o, line, at, true);
      }
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

/** No more spokes than this are added to make counts suit each other. */
const MOST_SPOKES = 200;

/**
 * Adds spokes from rim to rim in the widest gaps until there are `least`, and as many as make their count suit the rim's
 * (both even or both odd). False where that cannot be reached.
 */
export function addSpokes(spans: Spans, least: number, rim: number): boolean {
  const { round, tiny } = spans.face;
  for (let n = 0; n < MOST_SPOKES; n++) {
    const ends = spans.endsOnArc(0).length;
    if (ends >= least && (ends + rim) % 2 === 0) return true;
    const lines = distinct(
      spans.list.filter((s) => s.keeps === 0).map((s) => s.at),
      tiny,
    );
    const gaps = lines
      .map((x, i) => ({ x, gap: (lines[i + 1] ?? round!.period + lines[0]!) - x }))
      .sort((a, b) => b.gap - a.gap);
    const found = gaps.find(({ x, gap }) => spans.cast(0, x + gap / 2, round!.low, 1) > round!.high - tiny);
    if (!found) return false;
    spans.add(0, (found.x + found.gap / 2) % round!.period, round!.low);
  }
  return false;
}
