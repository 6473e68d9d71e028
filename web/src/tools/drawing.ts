import {
  drawnProblem,
  drawnRun,
  drawnTurned,
  pointedRun,
  type Drawn,
  type DrawnKind,
  type Pointed,
  type Pull,
} from '@dusky-mason/core/courses';
import { MasonError, SaidError } from '@dusky-mason/core/mesh';
import { bowThrough, thinned, turnedBody, type Point2, type Sketch } from '@dusky-mason/core/shapes';
import { formatLength, parseAngle, parseLength, type LengthUnit } from '@dusky-mason/core/units';
import type { CutOperationName } from '../words/operations.ts';

/** The stage of a drawing: a place on a face, the rest of the outline, the pull; a whole profile is done. */
export type DrawStage = 'place' | 'shape' | 'pull' | 'done';

/** The result: a cut in the part, or a new part, turned or pulled from the outline. */
export type Makes = 'cut' | 'turned' | 'part';

/** An outline that is being drawn and pulled. Never changed in place: each act gives the next state. */
export interface Draw {
  kind: DrawnKind;
  makes: Makes;
  sides: number;
  corner: number;
  stage: DrawStage;
  plane: Sketch | null;
  points: readonly Point2[];
  bows: readonly number[];
  /** Of a free outline: the next piece is an arc; its end is there already and it is being bent. */
  arc: boolean;
  bending: boolean;
  /** Where the pointer is on the plane. */
  hover: Point2 | null;
  pull: Pull;
  /** What the cut does; null while the side that it is pulled to decides. */
  operation: CutOperationName | null;
  /** The outline once it is whole. */
  drawn: Drawn | null;
}

/** The greatest depth, mm. */
const DEEPEST = 1e6;

/** Typed text that cannot be used: says why and what to type. */
export class TypedError extends SaidError {}

export const beginDraw = (kind: DrawnKind = 'rectangle', sides = 6, corner = 0): Draw => ({
  kind,
  makes: 'cut',
  sides,
  corner,
  stage: 'place',
  plane: null,
  points: [],
  bows: [],
  arc: false,
  bending: false,
  hover: null,
  pull: 0,
  operation: null,
  drawn: null,
});

const away = (a: Point2, b: Point2): number => Math.hypot(b[0] - a[0], b[1] - a[1]);

/** The outline as it is with the pointer where it is; null while there is too little of it. */
export function outlineOf(d: Draw): Drawn | null {
  if (d.drawn) return d.drawn;
  const [a, b] = d.points;
  const { hover } = d;
  switch (d.kind) {
    case 'rectangle':
      return a && hover ? { kind: 'rectangle', from: a, to: hover, corner: d.corner } : null;
    case 'circle':
      return a && hover ? { kind: 'circle', centre: a, radius: away(a, hover) } : null;
    case 'polygon':
      return a && hover ? { kind: 'polygon', centre: a, corner: hover, sides: d.sides } : null;
    case 'slot': {
      if (!a || !hover) return null;
      if (!b) return { kind: 'slot', from: a, to: hover, width: away(a, hover) / 4 };
      return { kind: 'slot', from: a, to: b, width: 2 * offLine(hover, a, b) };
    }
    case 'free': {
      if (!hover || !d.points.length) return null;
      if (d.bending) return { kind: 'free', points: d.points, bows: bent(d, hover) };
      return { kind: 'free', points: [...d.points, hover], bows: d.bows };
    }
  }
}

const offLine = (p: Point2, a: Point2, b: Point2): number =>
  Math.abs((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / (away(a, b) || 1);

/** The bows with the last piece bent through a place. */
function bent({ points, bows }: Draw, over: Point2): number[] {
  const i = points.length - 2;
  return [...bows.slice(0, i), bowThrough(points[i]!, points[i + 1]!, over)];
}

/** The pointer has moved on the plane. */
export const moved = (d: Draw, hover: Point2 | null): Draw => ({ ...d, hover });

/** Another face is under the pointer, while none is drawn on yet. */
export const onPlaneOf = (d: Draw, plane: Sketch | null): Draw => (d.stage === 'place' ? { ...d, plane } : d);

const finished = (d: Draw, drawn: Drawn): Draw => ({
  ...d,
  drawn,
  stage: d.makes === 'turned' ? 'done' : 'pull',
  pull: 0,
  bending: false,
});

/** Why an outline cannot be used, in words; null when it can. */
export function problemOf(d: Draw, drawn: Drawn): string | null {
  const flat = drawnProblem(drawn);
  if (flat || d.makes !== 'turned' || !d.plane) return flat;
  try {
    turnedBody(pointedRun(drawnTurned(drawn, d.plane).shape as Pointed), 3);
    return null;
  } catch (e) {
    if (e instanceof MasonError) return e.message;
    throw e;
  }
}

/** A place on the plane is clicked. */
export function clicked(d: Draw, p: Point2): Draw {
  if (!d.plane || d.stage === 'pull' || d.stage === 'done') return d;
  const first = d.points[0];
  if (!first) return { ...d, stage: 'shape', points: [p], hover: p };
  if (d.kind === 'slot' && d.points.length === 1)
    return away(first, p) > 0 ? { ...d, points: [first, p], hover: p } : d;
  if (d.kind !== 'free') {
    const drawn = outlineOf({ ...d, hover: p });
    return drawn && !problemOf(d, drawn) ? finished(d, drawn) : d;
  }
  if (d.bending) return { ...d, bows: bent(d, p), bending: false, hover: p };
  if (d.points.length > 1 && p[0] === first[0] && p[1] === first[1]) return closed(d);
  const bows = Array.from({ length: d.points.length }, (_, i) => d.bows[i] ?? 0);
  return { ...d, points: [...d.points, p], bows, bending: d.arc, hover: p };
}

/** A run that was drawn by hand without letting go: its corners, within `tol` mm, go on from the last point. */
export function dragged(d: Draw, run: readonly Point2[], tol: number): Draw {
  const last = d.points.at(-1);
  if (d.kind !== 'free' || !last || d.bending) return d;
  const [, ...more] = thinned([last, ...run], tol);
  const points = [...d.points, ...more];
  return { ...d, points, bows: points.slice(1).map((_, i) => d.bows[i] ?? 0), hover: points.at(-1)! };
}

/**
 * A free outline is closed by a straight piece back to its first point; when it cannot be pulled, it stays as it is.
 */
export function closed(d: Draw): Draw {
  if (d.kind !== 'free' || d.stage !== 'shape') return d;
  const drawn: Drawn = { kind: 'free', points: d.points, bows: d.bows };
  return problemOf(d, drawn) ? d : finished(d, drawn);
}

/** One step back; null when there was none to take back, and drawing ends. */
export function stepBack(d: Draw): Draw | null {
  if (d.stage === 'pull' || d.stage === 'done') {
    const points = d.kind === 'free' ? d.points : d.points.slice(0, d.kind === 'slot' ? 2 : 1);
    return { ...d, stage: points.length ? 'shape' : 'place', points, drawn: null, pull: 0 };
  }
  if (d.bending) return { ...d, bending: false, bows: [...d.bows.slice(0, d.points.length - 2), 0] };
  if (!d.points.length) return null;
  const points = d.points.slice(0, -1);
  return {
    ...d,
    points,
    bows: d.bows.slice(0, Math.max(0, points.length - 1)),
    stage: points.length ? 'shape' : 'place',
  };
}

export const pulled = (d: Draw, pull: Pull): Draw => (d.stage === 'pull' ? { ...d, pull } : d);

/** What the cut does: as chosen, or by the side that the outline is pulled to. */
export const operationOf = ({ operation, pull }: Draw): CutOperationName =>
  operation ?? (pull === 'through' || pull <= 0 ? 'subtract' : 'union');

/**
 * A typed value, as the stage wants it: `40 x 25`, a diameter, `60 x 12` for a slot, `30, 45` for a piece's length and
 * angle, a depth or `through`.
 * Throws with a sentence when it cannot be read or used.
 */
export function typed(d: Draw, text: string, unit: LengthUnit): Draw {
  const parts = text
    .trim()
    .split(/\s*[x×,;]\s*/i)
    .filter(Boolean);
  if (!parts.length) throw new TypedError('Type a size first.');
  if (d.stage === 'pull') return typedPull(d, text.trim(), unit);
  if (!d.plane) throw new TypedError('Point at a face first, or press Enter for the one in the middle.');
  if (d.kind === 'free') return typedPiece(d, parts, unit);
  const [x, y] = parts.map((t) => parseLength(t, unit));
  if (!(x! > 0) || (y !== undefined && !(y > 0))) throw new TypedError('Type a size above 0.');
  const drawn = sized(d, x!, y);
  const problem = problemOf(d, drawn);
  if (problem) throw new TypedError(problem);
  return finished(d, drawn);
}

function typedPull(d: Draw, text: string, unit: LengthUnit): Draw {
  if (/^t(hrough)?$/i.test(text)) return { ...d, pull: 'through' };
  const depth = parseLength(text.replace(/^[+-]/, ''), unit);
  if (!(depth > 0)) throw new TypedError('Type a depth above 0, with − for into the material or + for out of it.');
  if (depth > DEEPEST) throw new TypedError('That is deeper than 1 km. Check the unit.');
  // Without a sign it goes to the side that it is on already, at first inward.
  const out = /^[+-]/.test(text) ? text.startsWith('+') : typeof d.pull === 'number' && d.pull > 0;
  return { ...d, pull: out ? depth : -depth };
}

function typedPiece(d: Draw, parts: string[], unit: LengthUnit): Draw {
  const last = d.points.at(-1);
  if (!last) throw new TypedError('Click the first point, then type lengths.');
  const length = parseLength(parts[0]!, unit);
  if (!(length > 0)) throw new TypedError('Type a length above 0.');
  const to = d.hover ?? [last[0] + 1, last[1]];
  const angle =
    parts[1] === undefined ? Math.atan2(to[1] - last[1], to[0] - last[0]) : (parseAngle(parts[1]) * Math.PI) / 180;
  return clicked(d, [last[0] + length * Math.cos(angle), last[1] + length * Math.sin(angle)]);
}

/**
 * An outline of typed sizes: from the first place towards the pointer, or round the pointer (or the face's middle) when
 * none is clicked yet.
 */
function sized(d: Draw, x: number, y: number | undefined): Drawn {
  const [a] = d.points;
  const at = a ?? d.hover ?? [0, 0];
  const way: Point2 = a && d.hover ? [d.hover[0] - a[0], d.hover[1] - a[1]] : [1, 0];
  const length = Math.hypot(...way);
  const [ux, uy] = length > 0 ? [way[0] / length, way[1] / length] : [1, 0];
  switch (d.kind) {
    case 'circle':
      return { kind: 'circle', centre: at, radius: x / 2 };
    case 'polygon':
      return { kind: 'polygon', centre: at, corner: [at[0] + (ux * x) / 2, at[1] + (uy * x) / 2], sides: d.sides };
    case 'slot': {
      const width = y ?? x / 4;
      const half = Math.max(0, (x - width) / 2);
      // Over both round ends; from the first end's middle when that is clicked.
      const from: Point2 = a ?? [at[0] - ux * half, at[1] - uy * half];
      return { kind: 'slot', from, to: [from[0] + 2 * ux * half, from[1] + 2 * uy * half], width };
    }
    default: {
      const h = y ?? x;
      if (!a)
        return {
          kind: 'rectangle',
          from: [at[0] - x / 2, at[1] - h / 2],
          to: [at[0] + x / 2, at[1] + h / 2],
          corner: 0,
        };
      return {
        kind: 'rectangle',
        from: a,
        to: [a[0] + (way[0] < 0 ? -x : x), a[1] + (way[1] < 0 ? -h : h)],
        corner: 0,
      };
    }
  }
}

const WANTS: Record<DrawnKind, readonly string[]> = {
  rectangle: ['Click a corner on a face', 'Click the opposite corner, or type 40 x 25'],
  circle: ['Click the centre on a face', 'Click the rim, or type a diameter'],
  polygon: ['Click the centre on a face', 'Click a corner, or type the diameter over the corners'],
  slot: [
    'Click the middle of one round end',
    'Click the middle of the other end, or type 60 x 12',
    'Move away from its middle line for the width, and click',
  ],
  free: [
    'Click the first point on a face',
    'Click the next point, or type 30 or 30, 45 (length, angle)',
    'Click the next point; Enter or the first point closes it',
  ],
};

/** What to do next, in one line. */
export function wants(d: Draw): string {
  if (d.stage === 'pull' && d.makes === 'part') return 'Pull to its height; click, or type it.';
  if (d.stage === 'pull') return 'Pull: into the face removes, out of it adds; click, or type a depth or “through”.';
  if (d.bending) return 'Bend the arc: click a place that it passes, or Esc for a straight piece.';
  const list = WANTS[d.kind];
  const next = list[Math.min(d.kind === 'free' && d.points.length > 2 ? 2 : d.points.length, list.length - 1)]!;
  if (d.makes === 'turned' && d.stage === 'place')
    return 'Draw half of the profile to one side of the axis, in a straight-on view. Click its first point.';
  return `${next}.`;
}

const DOES: Record<CutOperationName, string> = {
  subtract: 'removes',
  union: 'adds',
  intersect: 'keeps',
  split: 'splits',
  scribe: 'scribes',
  kerf: 'slits',
};

/** The size of what is drawn, or what pulling it would do, in a few words: for the pointer's tag. */
export function tells(d: Draw, unit: LengthUnit): string {
  const l = (x: number) => formatLength(x, unit);
  if (d.stage === 'pull' && d.makes === 'part') return d.pull === 'through' ? '' : `${l(Math.abs(d.pull))} high`;
  if (d.stage === 'pull') {
    const does = DOES[operationOf(d)];
    return d.pull === 'through' ? `${does} through` : `${does} ${l(Math.abs(d.pull))}`;
  }
  const o = outlineOf(d);
  if (!o) return '';
  switch (o.kind) {
    case 'rectangle':
      return `${l(Math.abs(o.to[0] - o.from[0]))} × ${l(Math.abs(o.to[1] - o.from[1]))}`;
    case 'circle':
      return `Ø ${l(2 * o.radius)}`;
    case 'polygon':
      return `Ø ${l(2 * away(o.centre, o.corner))}`;
    case 'slot':
      return `${l(away(o.from, o.to) + o.width)} × ${l(o.width)}`;
    case 'free': {
      const [p, q] = o.points.slice(-2) as [Point2, Point2];
      return q ? l(away(p, q)) : '';
    }
  }
}

/** The points of the outline as far as it is drawn, and whether they close. */
export function shownRun(d: Draw): { points: Point2[]; closed: boolean } {
  const o = outlineOf(d);
  if (!o) return { points: [], closed: false };
  const points = drawnRun(o);
  return { points, closed: o.kind !== 'free' || d.drawn !== null };
}
