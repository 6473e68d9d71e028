import { bowThrough, type Point2 } from '../../shapes/index.ts';
import { outlineRun, profileRun } from '../base/runs.ts';
import { pivotPlace } from '../base/shapeMesh.ts';
import { Shape } from '../base/shapeSpec.ts';

/** A shape that is made of points: a prism of an outline, or a body turned from a profile. */
export type Pointed = Extract<Shape, { kind: 'outline' | 'turned' }>;

export const isPointed = (s: Shape): s is Pointed => s.kind === 'outline' || s.kind === 'turned';

/** One point with what belongs to it: the bow of the piece that follows, the radius of its corner, mm. */
export interface PointRow {
  x: number;
  y: number;
  bow: number;
  radius: number;
}

export const rowsOf = (s: Pointed): PointRow[] =>
  s.points.map(([x, y], i) => ({ x, y, bow: s.bows[i] ?? 0, radius: s.radii[i] ?? 0 }));

/** The shape with other points. */
export function withRows<T extends Pointed>(s: T, rows: readonly PointRow[]): T {
  const radii = rows.map((r) => r.radius);
  return {
    ...s,
    points: rows.map(({ x, y }): Point2 => [x, y]),
    bows: rows.map((r) => r.bow),
    radii: radii.some((r) => r > 0) ? radii : [],
  };
}

/** One point changed. */
export const withPoint = <T extends Pointed>(s: T, i: number, change: Partial<PointRow>): T =>
  withRows(
    s,
    rowsOf(s).map((r, k) => (k === i ? { ...r, ...change } : r)),
  );

/** The piece after a point bent through a place of its plane. */
export const bentThrough = <T extends Pointed>(s: T, i: number, over: Point2): T =>
  withPoint(s, i, { bow: bowThrough(s.points[i]!, s.points[(i + 1) % s.points.length]!, over) });

/** A new point in the middle of the piece after a point, which is straight on both sides of it. */
export function pointAfter<T extends Pointed>(s: T, i: number): T {
  const rows = rowsOf(s);
  const [a, b] = [rows[i]!, rows[(i + 1) % rows.length]!];
  const between = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, bow: 0, radius: 0 };
  return withRows(s, [...rows.slice(0, i), { ...a, bow: 0 }, between, ...rows.slice(i + 1)]);
}

/** A point taken out; two are left at least. */
export const withoutPoint = <T extends Pointed>(s: T, i: number): T =>
  s.points.length > (s.kind === 'turned' ? 3 : 2)
    ? withRows(
        s,
        rowsOf(s).filter((_, k) => k !== i),
      )
    : s;

/**
 * The plane that the points of a shape lie in, in the shape's own frame: its origin, and the ways of a point's two
 * numbers.
 */
export function pointPlane(s: Pointed): {
  origin: [number, number, number];
  right: [number, number, number];
  up: [number, number, number];
} {
  const [px, py, pz] = pivotPlace(s, () => undefined);
  if (s.kind === 'outline') return { origin: [-px, -py, s.height / 2 - pz], right: [1, 0, 0], up: [0, 1, 0] };
  const { low, high } = profileRun(s);
  return { origin: [-px, -py, -pz - (low + high) / 2], right: [1, 0, 0], up: [0, 0, 1] };
}

/** Where a point of the plane of a shape's points stands in its own frame, mm. */
export function pointPlace(s: Pointed, [x, y]: Point2): [number, number, number] {
  const { origin, right, up } = pointPlane(s);
  return [0, 1, 2].map((k) => origin[k]! + x * right[k]! + y * up[k]!) as [number, number, number];
}

/** The middle of the piece after a point, on its arc where it is one: the place to bend it by. */
export function pieceMiddle(s: Pointed, i: number): Point2 {
  const [a, b] = [s.points[i]!, s.points[(i + 1) % s.points.length]!];
  const [ex, ey] = [b[0] - a[0], b[1] - a[1]];
  const length = Math.hypot(ex, ey) || 1;
  const bow = s.bows[i] ?? 0;
  return [(a[0] + b[0]) / 2 + (bow * ey) / length, (a[1] + b[1]) / 2 - (bow * ex) / length];
}

/** The run of a shape's points as it is cut: rounded, its arcs in flats. */
export const pointedRun = (s: Pointed): Point2[] => (s.kind === 'outline' ? outlineRun(s) : profileRun(s).run);
