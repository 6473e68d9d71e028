import { arcRun, roundedRun, type Point2 } from '../../shapes/index.ts';
import { Shape } from './shapeSpec.ts';

type Outline = Extract<Shape, { kind: 'outline' }>;
type Turned = Extract<Shape, { kind: 'turned' }>;

/** The points of an outline, its corners rounded and its arcs in flats. */
export function outlineRun({
  points,
  bows,
  radii,
  segments,
}: Pick<Outline, 'points' | 'bows' | 'radii' | 'segments'>): Point2[] {
  const rounded = roundedRun(points, bows, radii);
  return arcRun(rounded.points, rounded.bows, segments);
}

/** The points of a profile, how far it reaches from the axis, and from which height to which, mm. */
export function profileRun(s: Turned): { run: Point2[]; radius: number; low: number; high: number } {
  const run = outlineRun({ ...s, segments: s.arcs });
  const most = (k: 0 | 1, sign: 1 | -1) => sign * run.reduce((m, p) => Math.max(m, sign * p[k]), -Infinity);
  return { run, radius: most(0, 1), low: most(1, -1), high: most(1, 1) };
}
