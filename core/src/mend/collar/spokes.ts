import {
  add,
  cross,
  dot,
  lengthOf,
  scaled,
  sub,
  unit,
  type Pass,
  type Spot,
  type Surface,
  type Vec3,
  type Wedge,
} from '../../mesh/index.ts';
import type { Side } from './lineSides.ts';

/**
 * Where spokes go: square to the line, along edges of their own side that come near to that, or on from edges of the
 * other side.
 */
export type SpokeAim = 'square' | 'own' | 'across';

/** What a band is to be. */
export interface BandWish {
  /** mm. */
  width: number;
  /** Quads from the line to the band's outer edge. */
  rows: number;
  aim: SpokeAim;
  /** How far the outer edge is moved along the line, mm. */
  shift: number;
}

/**
 * One way to try it: how near an edge takes an end (share of the width), and over how much of the line its direction is
 * taken (in widths).
 */
export interface Manner {
  snap: number;
  smooth: number;
}

/**
 * The spokes of a side, before they are walked: into which fan, at which angle (radians), and how far one goes for each
 * mm of width.
 */
export interface Spokes {
  fans: Wedge[][];
  angles: number[];
  stretch: number[];
  /** Width at each spoke that there is room for, mm. */
  room: number[];
}

/** Spokes that were walked: the places on each, from the line outward, and the line from end to end. */
export interface Walks {
  rows: Spot[][];
  links: Pass[][];
}

/** Edges that come in at an angle within this (share of the fan) of the middle may carry a spoke. */
const MIDDLE = [0.2, 0.8] as const;
/** Corners of the line that turn by more (radians) are corners: its direction is not taken over them. */
const CORNER_TURN = 0.6;
/** A spoke that no edge carries keeps between these shares of its fan. */
const LEANS = [0.15, 0.85] as const;
/** Spokes meet no nearer than so many widths, as far as so many rounds of turning bring them apart. */
const [SPOKES_MEET, TURN_ROUNDS] = [1.5, 24];
/** Spokes keep to these shares of the way to another line, and to an edge that bends or ends. */
const [TO_LINE, TO_BEND] = [0.4, 0.6];
/** The width changes by no more than this share of the edge between two spokes. */
const WIDTH_GRADE = 0.6;
/** A spoke at a corner is no longer than this many widths. */
const LONGEST_SPOKE = 2;
/** Nor, where the surface goes round the line, than at a right angle. */
const ROUNDED = Math.SQRT2;
/** Corners of a quad are wider than this (sine of 8°). */
const LEAST_SINE = Math.sin((8 * Math.PI) / 180);

/** Which way each spoke goes, and how much room it has. */
export function aimSpokes(
  s: Surface,
  side: Side,
  other: ReadonlyMap<number, number>,
  wish: BandWish,
  manner: Manner,
): Spokes {
  const { mesh: m } = s;
  const points = side.along.map((c) => s.at(m.corners[c]!));
  const fans = side.fans.map((corners) => s.fan(corners));
  const totals = fans.map((fan) => fan.reduce((sum, w) => sum + w.angle, 0));
  const free: boolean[] = [];
  const angles = fans.map((fan, i) => {
    const total = totals[i]!;
    const held = carried(s, fan, total, wish.aim);
    free.push(held === null);
    if (held !== null) return held;
    const from = wish.aim === 'across' ? other.get(m.corners[side.along[i]!]!) : undefined;
    const square = total / 2 + (manner.smooth ? leanTo(s, fan, total / 2, points, i, manner.smooth * wish.width) : 0);
    const angle = from === undefined ? square : from * total;
    return angle - (wish.shift ? Math.atan2(wish.shift, wish.width) : 0);
  });
  const within = (i: number, angle: number) => Math.max(LEANS[0] * totals[i]!, Math.min(LEANS[1] * totals[i]!, angle));
  angles.forEach((a, i) => free[i] && (angles[i] = within(i, a)));
  partFromEachOther(points, totals, angles, free, wish.width, within);
  const stretch: number[] = [];
  const room: number[] = [];
  fans.forEach((fan, i) => {
    const angle = angles[i]!;
    const half = Math.min(angle, totals[i]! - angle);
    const k = Math.min(half > Math.PI / 2 ? ROUNDED : LONGEST_SPOKE, 1 / Math.sin(half));
    const reach = s.walk(fan, angle, [2 * k * wish.width]);
    const most = reach.stop ? ((reach.stop === 'line' ? TO_LINE : TO_BEND) * reach.reach) / k : Infinity;
    stretch.push(k);
    room.push(Math.min(wish.width, most));
  });
  return { fans, angles, stretch, room };
}

/**
 * Turns neighbouring spokes away from each other where they would meet within the band: on short edges of a ragged line
 * each would go its own way. Spokes that an edge carries stay.
 */
function partFromEachOther(
  points: readonly Vec3[],
  totals: readonly number[],
  angles: number[],
  free: readonly boolean[],
  width: number,
  within: (i: number, angle: number) => number,
): void {
  const n = angles.length;
  for (let round = 0; round < TURN_ROUNDS; round++)
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n;
      // How much they lean towards each other, and how much they may, to meet no nearer than so many widths.
      const lean = Math.PI - angles[i]! - (totals[j]! - angles[j]!);
      const much = lean - lengthOf(sub(points[j]!, points[i]!)) / (SPOKES_MEET * width);
      if (!(much > 0) || !(free[i] || free[j])) continue;
      const each = much / (free[i] && free[j] ? 2 : 1);
      if (free[i]) angles[i] = within(i, angles[i]! + each);
      if (free[j]) angles[j] = within(j, angles[j]! - each);
    }
}

/**
 * The angle at which an edge carries a spoke: always one that bends, and others of this side where asked for.
 * Nearest to the middle.
 */
function carried(s: Surface, fan: readonly Wedge[], total: number, aim: SpokeAim): number | null {
  let best: { angle: number; bends: boolean } | null = null;
  let sum = 0;
  for (const w of fan) {
    const c = s.beginsAt(w);
    if (sum > 0 && c >= 0) {
      const bends = s.barrier(c) === 'bend';
      const fits = bends || (aim === 'own' && sum > MIDDLE[0] * total && sum < MIDDLE[1] * total);
      if (
        fits &&
        (!best ||
          (bends && !best.bends) ||
          (bends === best.bends && Math.abs(sum - total / 2) < Math.abs(best.angle - total / 2)))
      )
        best = { angle: sum, bends };
    }
    sum += w.angle;
  }
  return best?.angle ?? null;
}

/**
 * At which share of the fan on the far side an edge would go straight on from one that comes in on this side, by
 * vertex.
 */
export function edgesAcross(s: Surface, side: Side): Map<number, number> {
  const out = new Map<number, number>();
  side.fans.forEach((corners, i) => {
    const fan = s.fan(corners);
    const total = fan.reduce((sum, w) => sum + w.angle, 0);
    const angle = carried(s, fan, total, 'own');
    if (angle !== null) out.set(s.mesh.corners[side.along[i]!]!, 1 - angle / total);
  });
  return out;
}

/**
 * How far (radians) a spoke turns from the middle of its fan to stand square to the line as it runs over a distance on
 * both sides.
 */
function leanTo(
  s: Surface,
  fan: readonly Wedge[],
  middle: number,
  points: readonly Vec3[],
  i: number,
  over: number,
): number {
  const n = points.length;
  const way = (k: number) => unit(sub(points[(k + 1) % n]!, points[k]!));
  const turns = (k: number) => dot(way((k + n - 1) % n), way(k)) < Math.cos(CORNER_TURN);
  if (turns(i)) return 0;
  const go = (step: 1 | -1): Vec3 => {
    let [k, far] = [i, 0];
    for (let count = 0; count < n; count++) {
      const next = (k + step + n) % n;
      const length = lengthOf(sub(points[next]!, points[k]!));
      if (far + length >= over) return add(points[k]!, sub(points[next]!, points[k]!), (over - far) / length);
      far += length;
      k = next;
      if (turns(k)) break;
    }
    return points[k]!;
  };
  const tangent = unit(sub(go(1), go(-1)));
  let left = middle;
  for (const w of fan) {
    if (left > w.angle) {
      left -= w.angle;
      continue;
    }
    const [p, q] = [0, 1].map((k) => s.at(s.mesh.corners[s.corner(w.triangle, w.at + k)]!)) as [Vec3, Vec3];
    const up = s.normal(s.faceOf(w.triangle));
    const u = unit(sub(q, p));
    const d = add(scaled(u, Math.cos(left)), cross(up, u), Math.sin(left));
    const wanted = cross(up, tangent);
    const lean = Math.atan2(dot(cross(d, wanted), up), dot(d, wanted));
    return Math.max(-middle / 2, Math.min(middle / 2, lean));
  }
  return 0;
}

/** Widths that change from spoke to spoke by no more than the edges between them allow, none wider than before. */
export function graded(widths: readonly number[], edges: readonly number[]): number[] {
  const out = [...widths];
  const n = out.length;
  for (let round = 0; round < 2; round++) {
    for (let i = 0; i < 2 * n; i++)
      out[(i + 1) % n] = Math.min(out[(i + 1) % n]!, out[i % n]! + WIDTH_GRADE * edges[i % n]!);
    for (let i = 2 * n; i > 0; i--)
      out[(i - 1) % n] = Math.min(out[(i - 1) % n]!, out[i % n]! + WIDTH_GRADE * edges[(i - 1) % n]!);
  }
  return out;
}

/** Walks spokes at given widths; those to be narrowed where the quads would not be sound. */
export function walkSpokes(
  s: Surface,
  side: Side,
  spokes: Spokes,
  widths: readonly number[],
  rows: number,
  snap: number,
): { walks: Walks } | { culprits: Set<number> } {
  const n = side.along.length;
  const culprits = new Set<number>();
  const places: Spot[][] = side.along.map((_, i) => {
    const length = widths[i]! * spokes.stretch[i]!;
    const r = s.walk(
      spokes.fans[i]!,
      spokes.angles[i]!,
      Array.from({ length: rows }, (_, k) => (length * (k + 1)) / rows),
    );
    if (r.spots.length < rows) {
      culprits.add(i);
      return r.spots;
    }
    return [...r.spots.slice(0, -1), s.snapped(r.spots.at(-1)!, snap * length)];
  });
  if (culprits.size) return { culprits };
  const links = side.along.map((_, i) => {
    const [a, b] = [places[i]!.at(-1)!, places[(i + 1) % n]!.at(-1)!];
    const up = [...s.facesOf(a), ...s.facesOf(b)].reduce<Vec3>((sum, f) => add(sum, s.normal(f)), [0, 0, 0]);
    return s.section(a, b, up);
  });
  const start = (i: number) => s.at(s.mesh.corners[side.along[i]!]!);
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    if (!links[i]) culprits.add(i).add(j);
    const left = [start(i), ...places[i]!.map((x) => x.point)];
    const right = [start(j), ...places[j]!.map((x) => x.point)];
    for (let k = 0; k < rows; k++)
      if (!isSound([left[k]!, right[k]!, right[k + 1]!, left[k + 1]!], upAt(s, side, i, places, k)))
        culprits.add(i).add(j);
  }
  return culprits.size ? { culprits } : { walks: { rows: places, links: links as Pass[][] } };
}

/** Which way the surface looks about a quad of the band. */
function upAt(s: Surface, side: Side, i: number, places: readonly Spot[][], k: number): Vec3 {
  const j = (i + 1) % side.along.length;
  const at =
    k === 0
      ? [s.topology.face[side.along[i]!]!]
      : [places[i]![k - 1]!, places[j]![k - 1]!].flatMap((x) => s.facesOf(x));
  return [...at, ...[places[i]![k]!, places[j]![k]!].flatMap((x) => s.facesOf(x))].reduce<Vec3>(
    (sum, f) => add(sum, s.normal(f)),
    [0, 0, 0],
  );
}

/** Whether all corners of a quad turn the same way, seen from a side, and none is too sharp or too flat. */
function isSound(q: readonly Vec3[], up: Vec3): boolean {
  return q.every((p, i) => {
    const [u, v] = [unit(sub(q[(i + 1) % 4]!, p)), unit(sub(q[(i + 3) % 4]!, p))];
    const turn = cross(u, v);
    return dot(turn, up) > 0 && lengthOf(turn) > LEAST_SINE;
  });
}
