import type { Flat } from '../../../mesh/index.ts';
import { apart, ringArea, towards } from '../flatMesh.ts';
import { fillBand, fillStrip, nestSpots } from './bandFill.ts';
import type { Grid } from './cells.ts';
import { type Draft, squared } from './draft.ts';
import { SIDES, type Hole, type LinedFace } from './face.ts';
import type { Spans } from './spans.ts';

/** How the band between a box and its rim is laid. */
export interface BandWays {
  /** Where nests stand, and the parts of the box that each takes on either side. */
  nests: 'corners' | 'sides';
  reach: number;
  /** How many rings of quads run along the rim first. */
  rings: number;
}

/** A rim whose longest edge is so many times its middle one has long straight edges, if it has more than eight. */
const [LONG, FEW_EDGES] = [2.5, 8];
/** A line ends on a long edge where it is further from its ends than this share of it. */
const OFF_ENDS = 0.02;
/** A ring is as wide as so many middle edges of its rim, and takes so much of the room at the most. */
const [RING_WIDTH, RING_ROOM] = [1.2, 0.38];

/** Edges of a rim longer than this are long and straight; Infinity where it has none. */
export function longEdge(rim: readonly Flat[]): number {
  const lengths = rim.map((a, i) => apart(a, rim[(i + 1) % rim.length]!)).sort((a, b) => a - b);
  const middle = lengths[lengths.length >> 1]!;
  return rim.length > FEW_EDGES && lengths.at(-1)! > LONG * middle ? LONG * middle : Infinity;
}

/** A vertex of a rim: a point of the draft, and the point of the box that a line leads to from it, if one does. */
interface RimPoint {
  point: number;
  tied: number | null;
}

/**
 * Fills the band between a hole's box and its rim (`points`: those of the draft, in the rim's order). False where the
 * counts do not suit each other.
 */
export function fillRim(
  face: LinedFace,
  spans: Spans,
  grid: Grid,
  draft: Draft,
  hole: Hole,
  points: readonly number[],
  { nests, reach, rings }: BandWays,
): boolean {
  const { loop, spots, ends } = boxLoop(spans, grid, hole);
  const rim = splitRim(face, grid, draft, hole, points, ends);
  const ties = tiesOf(rim, loop, spots, draft);
  if (ties.length < 2) {
    if ((rim.length + loop.length) % 2) return false;
    const dense = rim.map((p) => p.point);
    return fillBand(draft, ringed(draft, dense, loop, hole, rings), loop, nestSpots(spots, loop.length, nests), reach);
  }
  const runs = ties.map(([r, j], k) => {
    const [r1, j1] = ties[(k + 1) % ties.length]!;
    const own = Array.from(
      { length: ((r1 - r + rim.length - 1) % rim.length) + 1 },
      (_, s) => rim[(r + s) % rim.length]!.point,
    );
    const line = Array.from(
      { length: ((j1 - j + loop.length - 1) % loop.length) + 2 },
      (_, s) => loop[(j + s) % loop.length]!,
    );
    return { own, line };
  });
  runs.forEach(({ own, line }, k) => {
    if ((own.length + line.length) % 2) return;
    own.splice(longestOf(draft, [...own, runs[(k + 1) % runs.length]!.own[0]!]) + 1, 0, -1);
    const at = own.indexOf(-1);
    const after = own[at + 1] ?? runs[(k + 1) % runs.length]!.own[0]!;
    own[at] = draft.point(towards(draft.points[own[at - 1]!]!, draft.points[after]!, 0.5));
  });
  const whole = runs.flatMap((r) => r.own);
  const dense = ringed(draft, whole, loop, hole, rings);
  let begin = 0;
  for (const { own, line } of runs) {
    const run = Array.from({ length: own.length + 1 }, (_, s) => dense[(begin + s) % dense.length]!);
    if (!fillStrip(draft, run, line, reach)) return false;
    begin += own.length;
  }
  return true;
}

/** The longest step of a run of points. */
const longestOf = (m: Draft, run: readonly number[]): number => {
  const length = (i: number) => squared(m.points[run[i]!]!, m.points[run[i + 1]!]!);
  return run.slice(1).reduce((best, _, i) => (length(i) > length(best) * (1 + 1e-9) ? i : best), 0);
};

/** The points of a box to the left round it, which of them are its corners, and where lines end on each side. */
function boxLoop(spans: Spans, grid: Grid, hole: Hole): { loop: number[]; spots: number[]; ends: number[][] } {
  const loop: number[] = [];
  const spots: number[] = [];
  const ends = SIDES.map((side) => spans.endsOn(hole, side));
  SIDES.forEach((side, i) => {
    spots.push(loop.length);
    const o = side.keeps ? 0 : 1;
    const at = hole.box[side.upper ? 1 : 0][side.keeps];
    const place = (x: number): Flat => (side.keeps ? [x, at] : [at, x]);
    // The lower and the right side run up the frame, the other two down it.
    const forward = i < 2;
    const from = hole.box[forward ? 0 : 1][o];
    for (const x of [from, ...(forward ? ends[i]! : [...ends[i]!].reverse())]) loop.push(grid.pointAt(place(x)));
  });
  return { loop, spots, ends };
}

/** The rim, its long straight edges split where lines end before them. */
function splitRim(
  face: LinedFace,
  grid: Grid,
  draft: Draft,
  hole: Hole,
  points: readonly number[],
  ends: readonly number[][],
): RimPoint[] {
  const { rim, box } = hole;
  const long = face.round ? Infinity : longEdge(rim);
  return rim.flatMap((a, i): RimPoint[] => {
    const b = rim[(i + 1) % rim.length]!;
    const own: RimPoint = { point: points[i]!, tied: null };
    const k = Math.abs(a[0] - b[0]) < face.tiny ? 0 : Math.abs(a[1] - b[1]) < face.tiny ? 1 : -1;
    if (k < 0 || apart(a, b) < long) return [own];
    const keeps = k as 0 | 1;
    const o = keeps ? 0 : 1;
    const off = (s: number) => Math.abs(box[SIDES[s]!.upper ? 1 : 0][keeps] - a[keeps]);
    const [s, t] = SIDES.flatMap((side, n) => (side.keeps === keeps ? [n] : [])) as [number, number];
    const side = off(s) <= off(t) ? s : t;
    const clear = OFF_ENDS * apart(a, b);
    const [low, high] = [Math.min(a[o], b[o]) + clear, Math.max(a[o], b[o]) - clear];
    const cuts = ends[side]!.filter((x) => x > low && x < high);
    if (b[o] < a[o]) cuts.reverse();
    return [
      own,
      ...cuts.map((x): RimPoint => {
        const at = box[SIDES[side]!.upper ? 1 : 0][keeps];
        const tied = grid.pointAt(keeps ? [x, at] : [at, x]);
        return { point: draft.point(towards(a, b, (x - a[o]) / (b[o] - a[o]))), tied };
      }),
    ];
  });
}

/**
 * Which vertex of the rim goes with which point of the box: where lines end on it, and, for a side without such, its
 * middle and the nearest vertex. In the rim's order.
 */
function tiesOf(
  rim: readonly RimPoint[],
  loop: readonly number[],
  spots: readonly number[],
  draft: Draft,
): [number, number][] {
  const ties = rim.flatMap((p, r): [number, number][] => (p.tied === null ? [] : [[r, loop.indexOf(p.tied)]]));
  if (ties.length < 2) return ties;
  spots.forEach((low, i) => {
    const high = spots[i + 1] ?? loop.length;
    if (high - low < 2 || ties.some(([, j]) => j > low && j < high)) return;
    const j = low + Math.round((high - low) / 2);
    const far = (r: number) => squared(draft.points[rim[r]!.point]!, draft.points[loop[j]!]!);
    const nearest = rim.reduce((best, _, r) => (far(r) < far(best) ? r : best), 0);
    if (!ties.some(([r]) => r === nearest)) ties.push([nearest, j]);
  });
  return ties.sort((a, b) => a[0] - b[0]);
}

/**
 * Rings of quads round a rim: a single one as wide as the rim's edges are long where the room to the box allows, more of
 * them part the way to the box evenly. Gives the loop that is left to be joined with the box.
 */
function ringed(m: Draft, rim: readonly number[], box: readonly number[], hole: Hole, rings: number): number[] {
  const places = rim.map((v) => m.points[v]!);
  if (rings === 1) return ringOn(m, rim, outwards(m, places, box));
  const onBox = places.map((p) => beyond(hole, p));
  let loop = [...rim];
  for (let r = 1; r <= rings; r++)
    loop = ringOn(
      m,
      loop,
      places.map((p, i) => towards(p, onBox[i]!, r / (rings + 1))),
    );
  return loop;
}

/** A ring of quads on a loop, to the places of its outer points. */
export function ringOn(m: Draft, loop: readonly number[], places: readonly Flat[]): number[] {
  const outer = places.map((p) => m.point(p, true));
  loop.forEach((v, i) => {
    const j = (i + 1) % loop.length;
    m.quad(v, loop[j]!, outer[j]!, outer[i]!);
  });
  return outer;
}

/** The outer places of a ring as wide as a rim's edges are long. */
function outwards(m: Draft, places: readonly Flat[], box: readonly number[]): Flat[] {
  const lengths = places.map((a, i) => apart(a, places[(i + 1) % places.length]!)).sort((a, b) => a - b);
  const room = Math.sqrt(Math.min(...box.flatMap((v) => places.map((p) => squared(p, m.points[v]!)))));
  const width = Math.sign(ringArea(places)) * Math.min(RING_WIDTH * lengths[lengths.length >> 1]!, RING_ROOM * room);
  return places.map((p, i) => {
    const [a, b] = [places[(i + places.length - 1) % places.length]!, places[(i + 1) % places.length]!];
    const k = width / apart(a, b);
    return [p[0] + k * (b[1] - a[1]), p[1] - k * (b[0] - a[0])];
  });
}

/** Where the way from the middle of a hole through a place of its rim meets the box. */
function beyond({ extent, box }: Hole, p: Flat): Flat {
  const middle = towards(extent[0], extent[1], 0.5);
  const [x, y] = [p[0] - middle[0], p[1] - middle[1]];
  const reach = (k: 0 | 1, d: number) => (d ? ((d > 0 ? box[1][k] : box[0][k]) - middle[k]) / d : Infinity);
  const s = Math.min(reach(0, x), reach(1, y));
  return [middle[0] + s * x, middle[1] + s * y];
}

/** The band at the inner (0) or the outer (1) rim of a ring-shaped face, between its vertices and the spokes' ends. */
export function fillRoundRim(
  spans: Spans,
  grid: Grid,
  draft: Draft,
  which: 0 | 1,
  rim: readonly number[],
  spotCount: number,
): boolean {
  const { round } = spans.face;
  const line = spans.endsOnArc(which).map((x) => grid.pointAt([x, which ? round!.high : round!.low]));
  const least = Math.min(rim.length, line.length);
  const n = Math.min(spotCount, Math.abs(rim.length - line.length) / 2);
  const spots = Array.from({ length: n }, (_, s) => Math.round(((s + 0.5) * least) / n) % least);
  return fillBand(draft, rim, line, spots, ROUND_REACH);
}

/** Spokes that a nest at a round rim takes on either side of its spot. */
const ROUND_REACH = 2;
