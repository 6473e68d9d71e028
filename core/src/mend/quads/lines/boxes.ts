import type { Flat } from '../../../mesh/index.ts';
import { distinct, SIDES, type Hole, type LinedFace, type Side } from './face.ts';

/** How far a side of a box likes to be from its hole, as a share of half of the hole's width. */
export const LIKES = 0.42;
/** It may be so much nearer and further, as shares of that. */
const [NEAR, FAR] = [0.55, 1.7];
/** Greatest share that it takes of the gap to the next hole, and of the gap to the border. */
const [OF_GAP, OF_WALL] = [0.5, 0.75];
/** A row may be so near to a hole, as a share of that. */
const NEAREST_ROW = 0.3;
/** A border nearer than this share of what is liked is the side of the box itself. */
const ON_WALL = 0.5;

/** Where a side of a box may lie. */
interface Interval {
  low: number;
  high: number;
  likes: number;
  hole: Hole;
  side: Side;
}

/**
 * Puts a box round each hole, its sides on as few lines as can be: neighbours share them. `pad`: how far from a hole
 * they like to be, as a multiple; `starts`: in a round frame where spokes begin; `onRows`: sides lie on lines that
 * outlines give, and on no others. False where there is no room for that.
 * Source of the fewest lines through intervals: greedy stabbing by upper ends (Cormen et al., "Introduction to
 * Algorithms", activity selection).
 */
export function placeBoxes(
  face: LinedFace,
  pad: (kind: string) => number,
  starts: readonly Flat[] = [],
  onRows = false,
): boolean {
  const walls = wallsOf(face);
  for (const keeps of [0, 1] as const) {
    const given = [...face.plain.values()].flatMap((ring) => ring.map((p) => p[keeps]));
    if (face.round) given.push(...(keeps ? [face.round.low, face.round.high] : starts.map((p) => p[0])));
    const rows = distinct(given, face.tiny);
    const bends = [...face.bends.values()].flatMap((ring) => ring.map((p) => p[keeps]));
    // Where no row is given but those along the outline boxes stand freely.
    const rowsOnly = onRows && rows.length > distinct(bends, face.tiny).length;
    const intervals: Interval[] = [];
    for (const hole of face.holes)
      for (const side of SIDES) {
        if (side.keeps !== keeps) continue;
        const interval = intervalOf(face, hole, side, walls[keeps], pad(hole.kind), rowsOnly);
        if (!interval) return false;
        intervals.push(interval);
      }
    const lines = rowsOnly ? rows : distinct(stabbed(intervals, rows, face.tiny), face.tiny);
    for (const { low, high, likes, hole, side } of intervals) {
      const near = lines.filter((x) => x >= low - face.tiny && x <= high + face.tiny);
      if (!near.length) return false;
      const line = near.reduce((a, b) => (Math.abs(b - likes) < Math.abs(a - likes) ? b : a));
      hole.box[side.upper ? 1 : 0][keeps] = line;
    }
  }
  return !face.holes.some((a, i) =>
    face.holes.slice(i + 1).some((b) => {
      const overlap = (k: 0 | 1) => Math.min(a.box[1][k], b.box[1][k]) - Math.max(a.box[0][k], b.box[0][k]);
      return overlap(0) > face.tiny && overlap(1) > face.tiny;
    }),
  );
}

/** Edges of the outlines that keep x, and those that keep y: where they lie, and from where to where. */
interface Wall {
  at: number;
  low: number;
  high: number;
}

function wallsOf(face: LinedFace): [Wall[], Wall[]] {
  const out: [Wall[], Wall[]] = [[], []];
  for (const ring of face.plain.values())
    ring.forEach((a, i) => {
      const b = ring[(i + 1) % ring.length]!;
      for (const k of [0, 1] as const) {
        const o = k ? 0 : 1;
        if (Math.abs(a[k] - b[k]) < face.tiny)
          out[k].push({ at: a[k], low: Math.min(a[o], b[o]), high: Math.max(a[o], b[o]) });
      }
    });
  return out;
}

function intervalOf(
  face: LinedFace,
  hole: Hole,
  side: Side,
  walls: readonly Wall[],
  pad: number,
  onRows: boolean,
): Interval | null {
  const k = side.keeps;
  const o = k ? 0 : 1;
  const edge = hole.extent[side.upper ? 1 : 0][k];
  const sign = side.upper ? 1 : -1;
  const like = LIKES * hole.radius * pad;
  const [from, to] = [hole.extent[0][o] - 0.5 * like, hole.extent[1][o] + 0.5 * like];
  let wall = Infinity;
  for (const w of walls)
    if (w.low < to && w.high > from && sign * (w.at - edge) > 0) wall = Math.min(wall, sign * (w.at - edge));
  if (face.round && k === 1) wall = Math.min(wall, sign * ((side.upper ? face.round.high : face.round.low) - edge));
  if (wall <= 0) return null;
  let room = Infinity;
  // Boxes of two near holes are kept apart in the direction in which the holes are further apart.
  for (const other of face.holes) {
    if (other === hole) continue;
    const gap = sign * (other.extent[side.upper ? 0 : 1][k] - edge);
    const apart = (z: 0 | 1) =>
      Math.max(other.extent[0][z] - hole.extent[1][z], hole.extent[0][z] - other.extent[1][z]);
    const reach = FAR * (like + (like * other.radius) / hole.radius);
    if (gap > -face.tiny && apart(k) >= apart(o) && apart(o) < reach) room = Math.min(room, gap);
  }
  if (room <= face.tiny) return null;
  let [near, far, likes] = [NEAR * like, FAR * like, like];
  if (wall < ON_WALL * like) near = far = likes = wall;
  else {
    near = Math.min(near, OF_GAP * room, 0.5 * wall);
    far = Math.max(near, Math.min(far, OF_GAP * room, OF_WALL * wall));
    likes = Math.min(Math.max(near, likes), far);
  }
  // Rows lie where they do.
  if (onRows) [near, far] = [Math.min(near, NEAREST_ROW * like, 0.99 * wall), Math.min(wall, 0.5 * room)];
  // The arc that a band ends at may be a side of the box.
  if (face.round && k === 1 && wall < FAR * like) far = Math.max(far, wall);
  const [p, q] = [edge + sign * near, edge + sign * far];
  return { low: Math.min(p, q), high: Math.max(p, q), likes: edge + sign * likes, hole, side };
}

/** The fewest lines that meet every interval, besides those given; each where its intervals like it best. */
function stabbed(intervals: readonly Interval[], given: readonly number[], tiny: number): number[] {
  const open = intervals
    .filter((i) => !given.some((x) => x >= i.low - tiny && x <= i.high + tiny))
    .sort((a, b) => a.high - b.high);
  const groups: Interval[][] = [];
  for (const i of open) {
    const last = groups.at(-1);
    if (last && last[0]!.high >= i.low - tiny) last.push(i);
    else groups.push([i]);
  }
  const lineOf = (group: readonly Interval[]): number => {
    const mean = group.reduce((s, i) => s + i.likes, 0) / group.length;
    return Math.min(Math.min(...group.map((i) => i.high)), Math.max(Math.max(...group.map((i) => i.low)), mean));
  };
  return [...given, ...groups.map(lineOf)];
}
