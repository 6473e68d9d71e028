import { checked } from '../base/settingProblem.ts';
import { Shape } from '../base/shapeSpec.ts';
import type { NewCutter } from '../document/edit.ts';
import { MasonError, turnOf, type Vec3 } from '../../mesh/index.ts';
import {
  arcRun,
  checkCrossing,
  offPlane,
  signedArea2,
  type Outline,
  type Point2,
  type Sketch,
} from '../../shapes/index.ts';

/** An outline as it is drawn on a plane, mm. */
export type Drawn =
  /** Two opposite corners; rounded by `corner`. */
  | { kind: 'rectangle'; from: Point2; to: Point2; corner: number }
  | { kind: 'circle'; centre: Point2; radius: number }
  /** The middle and one of its corners. */
  | { kind: 'polygon'; centre: Point2; corner: Point2; sides: number }
  /** The middles of its round ends. */
  | { kind: 'slot'; from: Point2; to: Point2; width: number }
  /** Corners, and for each piece that leaves one how far it bows out: see `arcRun`. */
  | { kind: 'free'; points: readonly Point2[]; bows: readonly number[] };
export type DrawnKind = Drawn['kind'];

export const DRAWN_TITLES: Record<DrawnKind, string> = {
  rectangle: 'Rectangle',
  circle: 'Circle',
  polygon: 'Regular polygon',
  slot: 'Slot',
  free: 'Free outline',
};

/** Flats of a full circle that is drawn. */
export const DRAWN_SEGMENTS = 64;
/** Sides shorter than this, mm, do not count. */
const LEAST_SIDE = 1e-6;
/** Nothing drawn reaches further, mm. */
const FURTHEST = 1e6;

/** How far an outline is pulled: mm along the normal, negative into the material; or right through it. */
export type Pull = number | 'through';

const away = (a: Point2, b: Point2): number => Math.hypot(b[0] - a[0], b[1] - a[1]);
const between = (a: Point2, b: Point2): Point2 => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];

/** What is wrong with a drawn outline, in words; null when it can be pulled. */
export function drawnProblem(d: Drawn): string | null {
  try {
    checkDrawn(d);
    return null;
  } catch (e) {
    if (e instanceof MasonError) return e.message;
    throw e;
  }
}

/**
 * Throws `bad-input` for an outline that cannot be pulled: without size, too large, with too many sides, or crossing
 * itself.
 */
export function checkDrawn(d: Drawn): void {
  checkOutline(d);
  if (drawnRun(d).some((p) => p.some((x) => !(Math.abs(x) <= FURTHEST)))) throw tooLarge();
}

const tooLarge = () =>
  new MasonError('bad-input', 'That is larger than 1 km, more than anything here can be. Check the unit.');

function checkOutline(d: Drawn): void {
  const flat = new MasonError('bad-input', 'The outline has no area yet. Draw it wider, or type its size.');
  switch (d.kind) {
    case 'rectangle':
      if (Math.abs(d.to[0] - d.from[0]) < LEAST_SIDE || Math.abs(d.to[1] - d.from[1]) < LEAST_SIDE) throw flat;
      return;
    case 'circle':
      if (!(d.radius >= LEAST_SIDE)) throw flat;
      return;
    case 'polygon':
      if (!(away(d.centre, d.corner) >= LEAST_SIDE)) throw flat;
      if (!Number.isInteger(d.sides) || d.sides < 3 || d.sides > 256)
        throw new MasonError('bad-input', `A regular polygon has 3 to 256 sides; it cannot have ${d.sides}.`);
      return;
    case 'slot':
      if (!(d.width >= LEAST_SIDE) || away(d.from, d.to) < LEAST_SIDE) throw flat;
      return;
    case 'free': {
      if (d.points.length < 2 || (d.points.length === 2 && !d.bows.some((b) => b !== 0)))
        throw new MasonError('bad-input', 'An outline needs three points, or two and an arc. Click one more.');
      const run = drawnRun(d);
      checkCrossing(run);
      if (Math.abs(signedArea2(run)) < LEAST_SIDE * LEAST_SIDE) throw flat;
    }
  }
}

/** The points of a drawn outline on its plane, as it is shown while it is drawn: closed, whichever way round. */
export function drawnRun(d: Drawn): Point2[] {
  switch (d.kind) {
    case 'rectangle':
      return [d.from, [d.to[0], d.from[1]], d.to, [d.from[0], d.to[1]]];
    case 'circle':
      return ringOf(d.centre, d.radius, DRAWN_SEGMENTS, 0);
    case 'polygon':
      return ringOf(
        d.centre,
        away(d.centre, d.corner),
        d.sides,
        Math.atan2(d.corner[1] - d.centre[1], d.corner[0] - d.centre[0]),
      );
    case 'slot': {
      const a = Math.atan2(d.to[1] - d.from[1], d.to[0] - d.from[0]);
      const end = (at: Point2, from: number) =>
        Array.from({ length: DRAWN_SEGMENTS / 2 + 1 }, (_, i): Point2 => {
          const t = from + (2 * Math.PI * i) / DRAWN_SEGMENTS;
          return [at[0] + (d.width / 2) * Math.cos(t), at[1] + (d.width / 2) * Math.sin(t)];
        });
      return [...end(d.to, a - Math.PI / 2), ...end(d.from, a + Math.PI / 2)];
    }
    case 'free':
      return arcRun(d.points, d.bows, DRAWN_SEGMENTS);
  }
}

const ringOf = (centre: Point2, radius: number, n: number, turn: number): Point2[] =>
  Array.from({ length: n }, (_, i): Point2 => {
    const a = turn + (2 * Math.PI * i) / n;
    return [centre[0] + radius * Math.cos(a), centre[1] + radius * Math.sin(a)];
  });

/**
 * The cutter that a drawn outline makes when it is pulled: as high as the pull, its one end in the plane. `proud` is
 * how far it stands out of the plane on its other side as well, mm: 0 on a flat face, where level ends are taken as
 * level. Throws as `checkDrawn`, and for a pull of nothing.
 */
export function drawnCutter(d: Drawn, plane: Sketch, pull: Pull, proud = 0): NewCutter {
  checkDrawn(d);
  // Through it is stretched to the part anyhow; should it not be any more, it is as deep as it is wide.
  const depth = pull === 'through' ? -widthOf(d) : pull;
  if (!(Math.abs(depth) >= LEAST_SIDE))
    throw new MasonError('bad-input', 'It has no depth yet. Move away from the face, or type one.');
  if (Math.abs(depth) > FURTHEST) throw tooLarge();
  const height = Math.abs(depth) + proud;
  const { shape, centre, turn } = shapeOf(d, height);
  const middle = depth < 0 ? proud - height / 2 : height / 2 - proud;
  const name = DRAWN_TITLES[d.kind];
  return {
    name,
    shape,
    placement: { position: tidyPoint(offPlane(plane, centre, middle)), turn: turnedBy(plane, turn) },
    through: pull === 'through',
  };
}

/**
 * The body that a drawn outline makes when it is turned about the plane's own up axis through its origin. The outline
 * lies on one side of that axis; throws `bad-input` where it crosses it, and as `checkDrawn`.
 */
export function drawnTurned(d: Drawn, plane: Sketch): NewCutter {
  checkDrawn(d);
  const pieces = d.kind === 'free' ? { points: d.points, bows: d.bows } : { points: drawnRun(d), bows: [] };
  const run = drawnRun(d);
  const most = Math.max(...run.map((p) => Math.abs(p[0])));
  const [low, high] = [Math.min(...run.map((p) => p[0])), Math.max(...run.map((p) => p[0]))];
  if (Math.min(high, -low) > 1e-9 * most)
    throw new MasonError(
      'bad-input',
      'The profile crosses the axis. Keep all of it on one side of the axis, or level with it.',
    );
  // A profile on the left is replaced by its mirror image, which sweeps the same body.
  const left = -low > high;
  const points = pieces.points.map(([x, y]): Point2 => [left ? -x : x, y]);
  const bows = points.map((_, i) => (left ? -1 : 1) * (pieces.bows[i] ?? 0) + 0);
  const shape = checked(Shape, { kind: 'turned', points, bows, segments: DRAWN_SEGMENTS, arcs: DRAWN_SEGMENTS });
  const zs = run.map((p) => p[1]);
  const position = tidyPoint(offPlane(plane, [0, (Math.min(...zs) + Math.max(...zs)) / 2]));
  const [x, z, n] = plane.axes;
  // Its own z is the plane's up, so its y looks into the plane.
  return {
    name: 'Turned body',
    shape,
    placement: { position, turn: turnOf([0, 1, 2].map((k) => [x[k]!, -n[k]!, z[k]!])) },
  };
}

/**
 * Outlines of a drawing as cutters, each where it lies in the drawing, whose origin is put at a place of the part and
 * whose plane looks up. They go through the part.
 */
export function drawingCutters(outlines: readonly Outline[], name: string, at: Vec3): NewCutter[] {
  return outlines.map(({ points, holes = [] }, i): NewCutter => {
    const middle = [0, 1].map((k) => {
      const xs = points.map((p) => p[k]!);
      return (xs.reduce((a, b) => Math.min(a, b), Infinity) + xs.reduce((a, b) => Math.max(a, b), -Infinity)) / 2;
    }) as Point2;
    const own = (run: readonly Point2[]) => run.map(([x, y]): Point2 => [x - middle[0], y - middle[1]]);
    const shape = checked(Shape, { kind: 'outline', points: own(points), holes: holes.map(own), height: 10 });
    const position = tidyPoint([at[0] + middle[0], at[1] + middle[1], at[2]]);
    return {
      name: outlines.length > 1 ? `${name} ${i + 1}` : name,
      shape,
      placement: { position, turn: [0, 0, 0] },
      through: true,
    };
  });
}

/** The lesser width of an outline, mm. */
function widthOf(d: Drawn): number {
  const run = drawnRun(d);
  return Math.min(...[0, 1].map((k) => Math.max(...run.map((p) => p[k]!)) - Math.min(...run.map((p) => p[k]!))));
}

/** Rounding has left its mark on zeros. */
const tidyPoint = (p: [number, number, number]): [number, number, number] =>
  p.map((x) => +x.toFixed(9) + 0) as [number, number, number];

/** The turn of a plane, turned by an angle about its normal besides. */
function turnedBy({ axes: [x, y, z], turn }: Sketch, angle: number): [number, number, number] {
  if (angle === 0) return turn;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return turnOf([0, 1, 2].map((k) => [c * x[k]! + s * y[k]!, c * y[k]! - s * x[k]!, z[k]!]));
}

function shapeOf(d: Drawn, height: number): { shape: Shape; centre: Point2; turn: number } {
  switch (d.kind) {
    case 'rectangle': {
      const [x, y] = [Math.abs(d.to[0] - d.from[0]), Math.abs(d.to[1] - d.from[1])];
      const kind = d.corner > 0 ? 'plate' : 'box';
      return {
        shape: checked(Shape, { kind, x, y, z: height, corner: Math.min(d.corner, x / 2, y / 2), segments: 8 }),
        centre: between(d.from, d.to),
        turn: 0,
      };
    }
    case 'circle':
      return {
        shape: checked(Shape, { kind: 'cylinder', diameter: 2 * d.radius, height, segments: DRAWN_SEGMENTS }),
        centre: d.centre,
        turn: 0,
      };
    case 'polygon': {
      const turn = Math.atan2(d.corner[1] - d.centre[1], d.corner[0] - d.centre[0]);
      return {
        shape: checked(Shape, { kind: 'polygon', diameter: 2 * away(d.centre, d.corner), height, segments: d.sides }),
        centre: d.centre,
        turn,
      };
    }
    case 'slot': {
      const turn = Math.atan2(d.to[1] - d.from[1], d.to[0] - d.from[0]);
      const x = away(d.from, d.to) + d.width;
      return {
        shape: checked(Shape, { kind: 'slot', x, y: d.width, z: height, segments: DRAWN_SEGMENTS / 2 }),
        centre: between(d.from, d.to),
        turn,
      };
    }
    case 'free': {
      const run = drawnRun(d);
      const [xs, ys] = [run.map((p) => p[0]), run.map((p) => p[1])];
      const centre = between([Math.min(...xs), Math.min(...ys)], [Math.max(...xs), Math.max(...ys)]);
      // Bows are given for a run that goes counter-clockwise.
      const clockwise = signedArea2(run) < 0;
      const n = d.points.length;
      const points = d.points.map(([x, y]): Point2 => [x - centre[0], y - centre[1]]);
      const bows = d.points.map((_, i) => d.bows[i] ?? 0);
      return {
        shape: checked(Shape, {
          kind: 'outline',
          height,
          points: clockwise ? [...points].reverse() : points,
          bows: clockwise ? bows.map((_, i) => -bows[(2 * n - 2 - i) % n]!) : bows,
          segments: DRAWN_SEGMENTS,
        }),
        centre,
        turn: 0,
      };
    }
  }
}
