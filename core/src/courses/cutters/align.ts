import {
  add,
  cross,
  dot,
  lengthOf,
  mapPoint,
  placementAffine,
  scaled,
  sub,
  turnAbout,
  turnOfAxes,
  unit,
  type Bounds,
  type Placement,
  type Vec3,
  vertexCount,
  vertexPlace,
} from '../../mesh/index.ts';
import { pivotPlace } from '../base/shapeMesh.ts';
import { type Pivot, Shape } from '../base/shapeSpec.ts';
import { fitsRack } from '../document/rack.ts';
import { placedMesh, solve3 } from './placed.ts';

/** What stands somewhere: a cutter, or the base of a part. */
export interface Placed {
  shape: Shape;
  placement: Placement;
}

/** The box of a shape in its own frame, mm: what is known of one whose mesh is kept elsewhere. */
export interface Extent {
  size: readonly [number, number, number];
  centre: readonly [number, number, number];
}

/** An edge by its ends, mm. */
export type Edge = readonly [Vec3, Vec3];

const none = () => undefined;
const tidy = (v: readonly number[]): [number, number, number] =>
  v.map((x) => +x.toFixed(9) + 0) as [number, number, number];
const middleOf = (b: Bounds): [number, number, number] =>
  [0, 1, 2].map((k) => (b.min[k]! + b.max[k]!) / 2) as [number, number, number];

/**
 * The points that bound something: its vertices where its shape stands by itself, else the corners of its box. Empty
 * where neither is known.
 */
function points({ shape, placement }: Placed, extent?: Extent | null): Vec3[] {
  if (fitsRack(shape)) {
    try {
      const m = placedMesh(shape, placement, none);
      return Array.from({ length: vertexCount(m) }, (_, v) => vertexPlace(m, v));
    } catch {
      // Its course says what is wrong with it.
      return [];
    }
  }
  if (!extent) return [];
  const a = placementAffine(placement);
  const { centre, size } = extent;
  const corner = (i: number, k: 0 | 1 | 2) => centre[k] + ((i >> k) & 1 ? size[k] : -size[k]) / 2;
  return Array.from({ length: 8 }, (_, i) => mapPoint(a, corner(i, 0), corner(i, 1), corner(i, 2)));
}

/**
 * The box of something where it stands, mm; null where its shape cannot be made, or is kept elsewhere and no extent is
 * given.
 */
export function placedBounds(c: Placed, extent?: Extent | null): Bounds | null {
  const all = points(c, extent);
  if (!all.length) return null;
  const side = (pick: (a: number, b: number) => number) =>
    [0, 1, 2].map((k) => all.reduce((m, p) => pick(m, p[k]!), all[0]![k]!)) as [number, number, number];
  return { min: side(Math.min), max: side(Math.max) };
}

/** The middle of a shape's box in its own frame, mm; null where it is not known. */
function ownMiddle({ shape }: Placed, extent?: Extent | null): Vec3 | null {
  if (!fitsRack(shape)) return extent?.centre ?? null;
  const own = placedBounds({ shape, placement: { position: [0, 0, 0], turn: [0, 0, 0] } });
  return own && middleOf(own);
}

export const movedBy = <T extends Placed>(c: T, by: Vec3): T => {
  const position = tidy(c.placement.position.map((x, k) => x + by[k]!));
  return { ...c, placement: { ...c.placement, position } };
};

/**
 * Moved so that the middle of its box is that of another box, along some axes (0, 1, 2 for x, y, z). The same where it
 * has no box.
 */
export function centredOn<T extends Placed>(c: T, box: Bounds, axes: readonly number[], extent?: Extent | null): T {
  const own = placedBounds(c, extent);
  if (!own) return c;
  const [to, from] = [middleOf(box), middleOf(own)];
  return movedBy(c, [0, 1, 2].map((k) => (axes.includes(k) ? to[k]! - from[k]! : 0)) as unknown as Vec3);
}

/** Moved down or up so that its lowest point is at a height, mm. The same where it has no box. */
export function droppedTo<T extends Placed>(c: T, z: number, extent?: Extent | null): T {
  const own = placedBounds(c, extent);
  return own ? movedBy(c, [0, 0, z - own.min[2]]) : c;
}

/** The own axes of a placement, unit, whatever its scale. */
export function ownAxes(placement: Placement): [Vec3, Vec3, Vec3] {
  const a = placementAffine({ ...placement, scale: [1, 1, 1] });
  return [0, 1, 2].map((k): Vec3 => [a[k]!, a[4 + k]!, a[8 + k]!]) as [Vec3, Vec3, Vec3];
}

/** The same with other own axes (unit, square to each other), about its position. */
const withAxes = <T extends Placed>(c: T, [x, y, z]: readonly [Vec3, Vec3, Vec3]): T => ({
  ...c,
  placement: { ...c.placement, turn: turnOfAxes([x, y, z]) },
});

/**
 * Seated anew on a face: its own z along the normal, turned about it as little as can be, and its end in the face:
 * beneath it when it takes away, on it when it adds or stands there as a part.
 */
export function seatedOn<T extends Placed>(c: T, point: Vec3, normal: Vec3, onTop: boolean, extent?: Extent | null): T {
  const z = unit(normal);
  const [before] = ownAxes(c.placement);
  const flat = sub(before, scaled(z, dot(before, z)));
  const x = unit(lengthOf(flat) > 1e-6 ? flat : cross(Math.abs(z[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0], z));
  const turned = withAxes({ ...c, placement: { ...c.placement, position: [0, 0, 0] } }, [x, cross(z, x), z]);
  const heights = points(turned, extent).map((p) => dot(p, z));
  const lift = heights.length ? (onTop ? -Math.min(...heights) : -Math.max(...heights)) : 0;
  return movedBy(turned, add(point, z, lift));
}

/** On a surface that leans from level by less than this (cosine of 15°), "up" tells no direction. */
const LEVEL_COS = Math.cos(Math.PI / 12);

/**
 * The own axes (unit) of something that is put on a surface with a unit normal: z along the normal, and y as near to
 * upright as can be, so that it stands as the body does; on a level surface x goes along the body's x. Upright is the
 * axis of the body (its placement) that is nearest to the part's z.
 */
export function uprightAxes(normal: Vec3, body: Placement): [Vec3, Vec3, Vec3] {
  const z = unit(normal);
  const axes = ownAxes(body).map((a, k) => ({ a, k }));
  const nearest = (k: 0 | 2, of: typeof axes) =>
    of.reduce((best, next) => (Math.abs(next.a[k]) > Math.abs(best.a[k]) + SAME_LEAN ? next : best));
  const facing = (a: Vec3, k: 0 | 2): Vec3 => (a[k] < 0 ? scaled(a, -1) : a);
  const upright = nearest(2, axes);
  const up = facing(upright.a, 2);
  if (Math.abs(dot(z, up)) < LEVEL_COS) {
    const y = unit(sub(up, scaled(z, dot(z, up))));
    return [cross(y, z), y, z];
  }
  const ahead = nearest(
    0,
    axes.filter((x) => x.k !== upright.k),
  );
  const along = facing(ahead.a, 0);
  const x = unit(sub(along, scaled(z, dot(z, along))));
  return [x, cross(z, x), z];
}

/** Two axes whose leans differ by less than this are alike: the first one counts. */
const SAME_LEAN = 1e-9;

/** The same with other own axes, the middle of its box where it was; its origin where the box is not known. */
function withAxesAboutMiddle<T extends Placed>(
  c: T,
  axes: readonly [Vec3, Vec3, Vec3],
  extent: Extent | null | undefined,
): T {
  const turned = withAxes(c, axes);
  const middle = ownMiddle(c, extent) ?? ([0, 0, 0] as Vec3);
  return movedBy(
    turned,
    sub(mapPoint(placementAffine(c.placement), ...middle), mapPoint(placementAffine(turned.placement), ...middle)),
  );
}

/** Turned end for end: by half a turn about its own x and the middle of its box. */
export function turnedEndForEnd<T extends Placed>(c: T, extent?: Extent | null): T {
  const [x, y, z] = ownAxes(c.placement);
  return withAxesAboutMiddle(c, [x, scaled(y, -1), scaled(z, -1)], extent);
}

/** A rotation by which one unit direction becomes another, the shortest way, of a point or direction. */
export function shortestTurn(from: Vec3, to: Vec3): (v: Vec3) => Vec3 {
  const axis = cross(from, to);
  const s = lengthOf(axis);
  const c = dot(from, to);
  if (s < 1e-12) {
    if (c > 0) return (v) => v;
    const k = unit(cross(Math.abs(from[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0], from));
    return (v) => add(scaled(k, 2 * dot(k, v)), v, -1);
  }
  const k = scaled(axis, 1 / s);
  return turnAbout(k, c, s);
}

/**
 * Slid over a surface from one place to another (a point and a unit normal each): it keeps its distance from the
 * surface and its angle to it, and turns no more than the normal does.
 */
export function slidTo<T extends Placed>(
  c: T,
  from: { point: Vec3; normal: Vec3 },
  to: { point: Vec3; normal: Vec3 },
): T {
  const turn = shortestTurn(from.normal, to.normal);
  const axes = ownAxes(c.placement).map(turn) as [Vec3, Vec3, Vec3];
  const away = turn(sub(c.placement.position, from.point));
  const moved = withAxes(c, axes);
  return { ...moved, placement: { ...moved.placement, position: tidy(add(to.point, away)) } };
}

/**
 * Turned about its own z and the middle of its box, as little as can be, so that its own x or y runs along an edge. The
 * same for an edge along its z.
 */
export function alongEdge<T extends Placed>(c: T, [a, b]: Edge, extent?: Extent | null): T {
  const [x, y, z] = ownAxes(c.placement);
  const way = sub(b, a);
  const flat = sub(way, scaled(z, dot(way, z)));
  if (lengthOf(flat) <= 1e-9 * lengthOf(way)) return c;
  const u = unit(flat);
  const nearX = Math.abs(dot(u, x)) >= Math.abs(dot(u, y));
  const near = nearX ? x : y;
  const to = dot(u, near) < 0 ? scaled(u, -1) : u;
  return withAxesAboutMiddle(c, nearX ? [to, cross(z, to), z] : [cross(to, z), to, z], extent);
}

/** Moved in its own plane, its depth kept, so that the middle of its box lies over a point. */
export function centredAt<T extends Placed>(c: T, point: Vec3, extent?: Extent | null): T {
  const own = placedBounds(c, extent);
  if (!own) return c;
  const [, , z] = ownAxes(c.placement);
  const by = sub(point, middleOf(own));
  return movedBy(c, sub(by, scaled(z, dot(by, z))));
}

/** Turned along the first of two edges, then moved in its own plane to midway between the middles of both. */
export function betweenEdges<T extends Placed>(c: T, first: Edge, second: Edge, extent?: Extent | null): T {
  const mid = (e: Edge): Vec3 => scaled(add(e[0], e[1]), 0.5);
  return centredAt(alongEdge(c, first, extent), scaled(add(mid(first), mid(second)), 0.5), extent);
}

/** Moved by so many mm along each of three directions. */
export const movedAlong = <T extends Placed>(c: T, by: Vec3, axes: readonly [Vec3, Vec3, Vec3]): T =>
  movedBy(c, [0, 1, 2].map((k) => by[0] * axes[0][k]! + by[1] * axes[1][k]! + by[2] * axes[2][k]!) as unknown as Vec3);

/**
 * The same body in the same place with its pivot elsewhere. Of a shape whose mesh is kept elsewhere `extent` tells its
 * box; its pivot then becomes a fixed place. The same where that is not known.
 */
export function repivoted<T extends Placed>(c: T, pivot: Pivot, at?: Vec3, extent?: Extent | null): T {
  const { shape } = c;
  const own = fitsRack(shape);
  const now = own ? pivotPlace(shape, none) : (shape.pivotAt ?? [0, 0, 0]);
  let next: Shape = { ...shape, pivot, pivotAt: pivot === 'set' ? tidy(at ?? now) : undefined };
  if (!own && (pivot === 'middle' || pivot === 'base')) {
    if (!extent) return c;
    const [x, y, z] = add(now, extent.centre);
    next = { ...shape, pivot: 'set', pivotAt: tidy([x, y, pivot === 'base' ? z - extent.size[2] / 2 : z]) };
  }
  const to = own ? pivotPlace(next, none) : (next.pivotAt ?? [0, 0, 0]);
  const position = mapPoint(placementAffine(c.placement), to[0] - now[0], to[1] - now[1], to[2] - now[2]);
  return { ...c, shape: next, placement: { ...c.placement, position: tidy(position) } };
}

/** The same body with its pivot at a point of the part's frame, mm. */
export function pivotOn<T extends Placed>(c: T, point: Vec3): T {
  const a = placementAffine(c.placement);
  const { shape } = c;
  const local = solve3(
    [a[0]!, a[1]!, a[2]!, a[4]!, a[5]!, a[6]!, a[8]!, a[9]!, a[10]!],
    sub(point, [a[3]!, a[7]!, a[11]!]),
  );
  const now = fitsRack(shape) ? pivotPlace(shape, none) : (shape.pivotAt ?? ([0, 0, 0] as Vec3));
  return repivoted(c, 'set', add(local, now));
}
