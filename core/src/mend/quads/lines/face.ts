import { insideRing, type Flat } from '../../../mesh/index.ts';
import { ringArea } from '../flatMesh.ts';
import { coreOf, type Core } from './core.ts';
import { extentOf, type Extent } from './extent.ts';
import { roundFrame, type RoundFrame } from './roundFrame.ts';

/** A line across the face, from border or box to border or box: of a coordinate (0: x, 1: y) that it keeps. */
export interface Span {
  keeps: 0 | 1;
  at: number;
  low: number;
  high: number;
}

/** A side of a box: the coordinate that it keeps, and whether it is the upper one. */
export interface Side {
  keeps: 0 | 1;
  upper: boolean;
}

/** The sides of a box in order, to the left round it from its lower one on. */
export const SIDES: readonly Side[] = [
  { keeps: 1, upper: false },
  { keeps: 0, upper: true },
  { keeps: 1, upper: true },
  { keeps: 0, upper: false },
];

/** A hole that gets a box of lines round it, and a band of quads between. */
export interface Hole {
  /** The number of its ring. */
  ring: number;
  /** Its rim in the frame, to the left round it, and whether the ring runs the other way. */
  rim: Flat[];
  turned: boolean;
  extent: Extent;
  /** Half of its lesser width. */
  radius: number;
  /** Holes of one kind, which are as large, are treated alike. */
  kind: string;
  box: Extent;
}

/** A face in the frame that its outline runs along. */
export interface LinedFace {
  /** Its boundaries as they are drawn: turned along the frame, or, in a round one, where they are. */
  rings: readonly (readonly Flat[])[];
  /** Rings that run along the frame: the outline, and holes that are outlines like it. By the number of the ring. */
  plain: ReadonlyMap<number, readonly Flat[]>;
  /** The same, without the vertices at which they run straight on. */
  bends: ReadonlyMap<number, readonly Flat[]>;
  holes: Hole[];
  /** Lengths below this share of the face's size count as 0. */
  tiny: number;
  /** Where a place of the frame is drawn. */
  draw(p: Flat): Flat;
  /** From where it is drawn back to where the face lies. */
  back(p: Flat): Flat;
  /** For a face without holes that is bent outwards: its core. */
  core: Core | null;
  /** For a face between two circles: its frame, and the range in which lines go outwards, between its bands. */
  round: (RoundFrame & { low: number; high: number }) | null;
}

/** Rounding, as a share of the size of a face. */
const TINY = 1e-7;
/** An outline runs along a frame when its edges do, but for so much of their length. */
const ASTRAY = 1e-6;

/** The face in a frame: along its outline, or round its middle; or with a core; null where it has none of these. */
export function linedFace(rings: readonly (readonly Flat[])[]): LinedFace | null {
  return straightFace(rings) ?? roundFace(rings) ?? facedWithCore(rings);
}

function roundFace(rings: readonly (readonly Flat[])[]): LinedFace | null {
  const round = roundFrame(rings);
  if (!round) return null;
  const own = round.rims.map((r) => r.ring);
  const holes = rings.flatMap((r, i) => (own.includes(i) ? [] : [holeOf(i, r.map(round.to))]));
  return {
    rings,
    plain: new Map(),
    bends: new Map(),
    holes: withKinds(holes),
    tiny: TINY * round.period,
    draw: round.from,
    back: (p) => p,
    core: null,
    round: { ...round, low: round.bounds[0], high: round.bounds[1] },
  };
}

/**
 * The face in the frame that its outline runs along in two ways at right angles; null where it does not. The frame's
 * direction is the mean of the edges' fourfold directions.
 */
function straightFace(rings: readonly (readonly Flat[])[]): LinedFace | null {
  const outline = rings[0]!;
  const { turn, along } = fourfold(outline);
  if (!(along > 1 - ASTRAY)) return null;
  const { to, back } = framedBy(turn);
  const framed = rings.map((r) => r.map(to));
  const [low, high] = extentOf(framed[0]!);
  const tiny = TINY * Math.max(high[0] - low[0], high[1] - low[1]);
  const plain = new Map<number, readonly Flat[]>();
  const holes: Hole[] = [];
  framed.forEach((ring, i) => {
    if (i === 0 || runsAlong(ring, tiny)) plain.set(i, ring);
    else holes.push(holeOf(i, ring));
  });
  const bends = new Map([...plain].map(([i, ring]) => [i, bendsOf(ring, tiny)]));
  return {
    rings: framed,
    plain,
    bends,
    holes: withKinds(holes),
    tiny,
    draw: (p) => p,
    back,
    core: null,
    round: null,
  };
}

/** The mean direction of an outline's edges in four ways at right angles, and the share of it that runs along that. */
function fourfold(outline: readonly Flat[]): { turn: number; along: number } {
  let [c, s, sum] = [0, 0, 0];
  outline.forEach((a, i) => {
    const b = outline[(i + 1) % outline.length]!;
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    const length = Math.hypot(dx, dy);
    const turn = 4 * Math.atan2(dy, dx);
    c += length * Math.cos(turn);
    s += length * Math.sin(turn);
    sum += length;
  });
  return { turn: Math.atan2(s, c) / 4, along: Math.hypot(c, s) / sum };
}

function framedBy(turn: number): { to: (p: Flat) => Flat; back: (p: Flat) => Flat } {
  const [u, v] = [Math.cos(turn), Math.sin(turn)];
  return { to: ([x, y]) => [x * u + y * v, y * u - x * v], back: ([x, y]) => [x * u - y * v, x * v + y * u] };
}

/** An outline of which no larger share runs along a frame has none: its first edge decides. */
const NO_FRAME = 1e-6;

function facedWithCore(rings: readonly (readonly Flat[])[]): LinedFace | null {
  const [outline] = rings as [readonly Flat[]];
  const { turn, along } = fourfold(outline);
  // For a circle: the direction from its middle to the middle of an edge between four.
  const own = along > NO_FRAME ? turn : circleTurn(outline);
  const { to, back } = framedBy(own);
  const framed = rings.map((r) => r.map(to));
  const core = coreOf(framed);
  if (!core) return null;
  const [low, high] = core.extent;
  const tiny = TINY * Math.max(high[0] - low[0], high[1] - low[1]);
  return {
    rings: framed,
    plain: new Map(),
    bends: new Map(),
    holes: [],
    tiny,
    draw: (p) => p,
    back,
    core,
    round: null,
  };
}

/** The least turn of a circle's frame that brings a vertex to an eighth of a turn from it. */
function circleTurn(outline: readonly Flat[]): number {
  const [low, high] = extentOf(outline);
  const turns = outline.map(
    ([x, y]) => Math.atan2(y - (low[1] + high[1]) / 2, x - (low[0] + high[0]) / 2) - Math.PI / 4,
  );
  return turns.reduce((best, a) => (Math.abs(a) < Math.abs(best) ? a : best));
}

/** Holes whose sizes differ by less than this share are of one kind. */
const ALIKE = 0.02;

/** Names the kinds of some holes after the size of the first of each. */
function withKinds(holes: Hole[]): Hole[] {
  const sizes = holes.map(({ extent: [a, b] }) => [b[0] - a[0], b[1] - a[1]]);
  holes.forEach((hole, i) => {
    const isLike = (j: number) => sizes[i]!.every((x, k) => Math.abs(x - sizes[j]![k]!) < ALIKE * x);
    const first = holes.findIndex((_, j) => isLike(j));
    hole.kind = first < i ? holes[first]!.kind : sizes[i]!.map((x) => x.toPrecision(2)).join(' × ');
  });
  return holes;
}

function holeOf(ring: number, places: readonly Flat[]): Hole {
  const turned = ringArea(places) < 0;
  const rim = turned ? [...places].reverse() : [...places];
  const extent = extentOf(rim);
  const [w, h] = [extent[1][0] - extent[0][0], extent[1][1] - extent[0][1]];
  return { ring, rim, turned, extent, radius: Math.min(w, h) / 2, kind: '', box: [[...extent[0]], [...extent[1]]] };
}

const bendsOf = (ring: readonly Flat[], tiny: number): Flat[] =>
  ring.filter((p, i) => {
    const [a, b] = [ring[(i + ring.length - 1) % ring.length]!, ring[(i + 1) % ring.length]!];
    return [0, 1].every((k) => Math.abs(a[k]! - p[k]!) > tiny || Math.abs(b[k]! - p[k]!) > tiny);
  });

const runsAlong = (ring: readonly Flat[], tiny: number): boolean =>
  ring.every((a, i) => {
    const b = ring[(i + 1) % ring.length]!;
    return Math.abs(a[0] - b[0]) < tiny || Math.abs(a[1] - b[1]) < tiny;
  });

/** Whether a face has rows or columns that begin at vertices within its sides. */
export const hasRows = ({ plain, bends }: LinedFace): boolean =>
  [...plain].some(([i, ring]) => ring.length > bends.get(i)!.length);

/** So many times the least length a place may be beyond the seam of a round frame. */
const BEYOND = 100;

/** Whether a place lies in the face, holes with boxes counted in. */
export function isInside({ bends, round, tiny }: LinedFace, p: Flat): boolean {
  if (round)
    return p[1] > round.low && p[1] < round.high && p[0] > -BEYOND * tiny && p[0] < round.period + BEYOND * tiny;
  for (const [i, ring] of bends) if (insideRing(ring, p) !== (i === 0)) return false;
  return true;
}

/** The hole whose box a place lies in; −1 for none. */
export const boxAt = (face: LinedFace, [x, y]: Flat): number =>
  face.holes.findIndex(({ box: [a, b] }) => x > a[0] && x < b[0] && y > a[1] && y < b[1]);

/** Numbers in order, each once: those nearer to the one before than `tiny` are it. */
export function distinct(list: readonly number[], tiny: number): number[] {
  const sorted = [...list].sort((a, b) => a - b);
  return sorted.filter((x, i) => !i || x - sorted[i - 1]! > tiny);
}
