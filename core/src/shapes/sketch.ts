import {
  cross,
  dot,
  FlatFace,
  lengthOf,
  scaled,
  sub,
  turnOf,
  unit,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../mesh/index.ts';
import { signedArea2, type Point2 } from './outlines.ts';

/**
 * A plane to draw on: where it is, how it is turned (degrees about x, then y, then z; its own z is the normal), and
 * what lies on it.
 */
export interface Sketch {
  origin: [number, number, number];
  turn: [number, number, number];
  /** The plane's own axes in the part's frame, unit: right, up, and out of the material. */
  axes: [[number, number, number], [number, number, number], [number, number, number]];
  /** The boundaries of the face, in the plane, mm; none on a plane that is not a face. */
  boundaries: Point2[][];
  /** Middles of its round boundaries. */
  circles: { at: Point2; radius: number }[];
}

/** Corners of a boundary may stray from a circle by this share of its radius. */
const ROUND_OUTLINE = 1e-5;
/** Fewer corners are no circle but a polygon. */
const ROUND_FROM = 8;

/** The plane of given axes through a point. The normal is taken as it is; `along` is turned square to it. */
export function sketchPlane(origin: Vec3, normal: Vec3, along: Vec3): Sketch {
  const z = unit(normal);
  let x = sub(along, scaled(z, dot(along, z)));
  if (lengthOf(x) < 1e-9) x = cross(Math.abs(z[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0], z);
  const u = unit(x);
  const v = cross(z, u);
  const turn = turnOf([0, 1, 2].map((k) => [u[k]!, v[k]!, z[k]!]));
  return { origin: [...origin], turn, axes: [u, v, z], boundaries: [], circles: [] };
}

/**
 * The plane of a face: its origin in the middle of the outer boundary, its own x along the longest edge, its boundaries
 * and the middles of the round ones.
 */
export function faceSketch(m: PolyMesh, face: number): Sketch {
  const flat = new FlatFace(m, face);
  const space = flat.boundaries.map((loop) => loop.map((c): Vec3 => vertexPlace(m, m.corners[c]!)));
  const [outer] = flat.boundaries as [number[]];
  const places = outer.map((c) => flat.at(c));
  const origin = flat.lift(middleOf(places));
  const normal = normalOf(flat);
  let along: Vec3 = [1, 0, 0];
  let most = 0;
  space[0]!.forEach((p, i) => {
    const edge = sub(space[0]![(i + 1) % outer.length]!, p);
    if (lengthOf(edge) > most * (1 + 1e-9)) [most, along] = [lengthOf(edge), edge];
  });
  const plane = sketchPlane(origin, normal, upright(along));
  const boundaries = space.map((loop) => loop.map((p) => onPlane(plane, p)));
  return { ...plane, boundaries, circles: boundaries.flatMap(circleOf) };
}

/** Of a direction and its opposite the one that looks right, else back, else up: so that like faces have like axes. */
function upright(d: Vec3): Vec3 {
  const first = d.find((x) => Math.abs(x) > 1e-9 * lengthOf(d)) ?? 1;
  return first < 0 ? scaled(d, -1) : d;
}

function normalOf(flat: FlatFace): Vec3 {
  const o = flat.lift([0, 0]);
  return cross(sub(flat.lift([1, 0]), o), sub(flat.lift([0, 1]), o));
}

/** The middle of the area of a ring of points. */
function middleOf(ring: readonly Point2[]): Point2 {
  const a = signedArea2(ring);
  let [x, y] = [0, 0];
  ring.forEach(([x0, y0], i) => {
    const [x1, y1] = ring[(i + 1) % ring.length]!;
    const w = x0 * y1 - x1 * y0;
    x += (x0 + x1) * w;
    y += (y0 + y1) * w;
  });
  return a === 0 ? ring[0]! : [x / (3 * a), y / (3 * a)];
}

/** A point of space on a plane, by its own axes. */
export const onPlane = (s: Pick<Sketch, 'origin' | 'axes'>, p: Vec3): Point2 => {
  const d = sub(p, s.origin);
  return [dot(d, s.axes[0]), dot(d, s.axes[1])];
};

/** A place on a plane, `height` mm above it, in space. */
export const offPlane = (s: Pick<Sketch, 'origin' | 'axes'>, [x, y]: Point2, height = 0): [number, number, number] =>
  [0, 1, 2].map((k) => s.origin[k]! + x * s.axes[0][k]! + y * s.axes[1][k]! + height * s.axes[2][k]!) as [
    number,
    number,
    number,
  ];

function circleOf(loop: readonly Point2[]): { at: Point2; radius: number }[] {
  if (loop.length < ROUND_FROM) return [];
  const at: Point2 = [0, 1].map((k) => loop.reduce((sum, p) => sum + p[k]!, 0) / loop.length) as Point2;
  const radii = loop.map((p) => Math.hypot(p[0] - at[0], p[1] - at[1]));
  const radius = radii.reduce((a, b) => a + b, 0) / loop.length;
  return radii.every((r) => Math.abs(r - radius) <= ROUND_OUTLINE * radius) ? [{ at, radius }] : [];
}

/** Lines to draw by: a step apart, turned by degrees, through a place. */
export interface Grid {
  step: number;
  turn: number;
  origin: Point2;
}

export const SNAP_NAMES = {
  vertex: 'vertex',
  circle: 'circle centre',
  centre: 'face centre',
  opening: 'middle of the opening',
  axis: 'axis',
  middle: 'edge middle',
  edge: 'along the edge',
  grid: 'grid',
} as const;
export type SnapName = keyof typeof SNAP_NAMES;

export interface Snapped {
  at: Point2;
  name: SnapName | null;
}

/**
 * The place on a sketch that a pointer means: a vertex, a circle's centre, the face's centre or an edge's middle within
 * `reach` mm, the nearest of them; else the nearest place on an edge within it; else the nearest crossing of grid
 * lines; else the very place.
 */
export function snapTo(s: Sketch, p: Point2, reach: number, grid: Grid | null): Snapped {
  const far = ([x, y]: Point2) => Math.hypot(x - p[0], y - p[1]);
  const edges = s.boundaries.flatMap((loop) => loop.map((a, i): [Point2, Point2] => [a, loop[(i + 1) % loop.length]!]));
  const spots: [SnapName, Point2][] = [
    ...s.boundaries.flatMap((loop) => loop.map((at): [SnapName, Point2] => ['vertex', at])),
    ...s.circles.map(({ at }): [SnapName, Point2] => ['circle', at]),
    ...(s.boundaries.length ? [['centre', [0, 0]] as [SnapName, Point2]] : []),
    ...edges.map(([a, b]): [SnapName, Point2] => ['middle', [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]]),
  ];
  let best: Snapped = { at: p, name: null };
  let least = reach;
  for (const [name, at] of spots)
    if (far(at) <= least && (far(at) < least || !best.name)) [least, best] = [far(at), { at, name }];
  if (best.name) return best;
  for (const [a, b] of edges) {
    const [ex, ey] = [b[0] - a[0], b[1] - a[1]];
    const t = Math.max(0, Math.min(1, ((p[0] - a[0]) * ex + (p[1] - a[1]) * ey) / (ex * ex + ey * ey || 1)));
    const at: Point2 = [a[0] + t * ex, a[1] + t * ey];
    if (far(at) <= least) [least, best] = [far(at), { at, name: 'edge' }];
  }
  if (best.name || !grid) return best;
  return { at: onGrid(grid, p), name: 'grid' };
}

/** The nearest crossing of grid lines. */
export function onGrid({ step, turn, origin }: Grid, p: Point2): Point2 {
  const a = (turn * Math.PI) / 180;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  const [dx, dy] = [p[0] - origin[0], p[1] - origin[1]];
  const [u, v] = [c * dx + s * dy, -s * dx + c * dy].map((x) => Math.round(x / step) * step) as [number, number];
  return [origin[0] + c * u - s * v, origin[1] + s * u + c * v];
}
