import type { Edge } from '@dusky-mason/core/courses';
import { offPlane, SNAP_NAMES, type Point2, type Sketch, type SnapName } from '@dusky-mason/core/shapes';
import type { Vec3 } from '@dusky-mason/core/mesh';

/** What was picked on a part, mm in its frame. */
export interface Picked {
  /** What it is, in a word. */
  name: string;
  point: Vec3;
  /** The normal of the face that it is on. */
  normal: Vec3;
  /** Of an edge: its ends, and the boundary of the face that it belongs to. */
  edge?: Edge;
  boundary?: Vec3[];
  /** Of a face: its number, the course that made it, and its boundaries. */
  face?: number;
  course?: number;
  boundaries?: Vec3[][];
}

/** Picks that are wanted, one after another. */
export interface Picking {
  wants: 'edge' | 'point' | 'place' | 'face' | 'stop';
  /** As many as one likes, at least as many as are asked for, until it is said to be done. */
  many?: boolean;
  /** Where places are picked: any on it. */
  plane?: Sketch;
  /** Only edges of boundaries of so many corners. */
  corners?: number;
  /** What each of them is for, in a few words: as many as are wanted. */
  asks: readonly string[];
  got: readonly Picked[];
  /** Called once all are picked. */
  done: (picks: readonly Picked[]) => void;
}

/** Every edge of a face, and the points of one that can be picked. */
export function candidates(s: Sketch, wants: 'edge' | 'point', corners = 0): Picked[] {
  const at = (p: Point2): Vec3 => offPlane(s, p);
  const normal = s.axes[2];
  const edges = s.boundaries.flatMap((loop) => {
    const boundary = loop.map(at);
    return loop.map((a, i): [Point2, Point2, Vec3[]] => [a, loop[(i + 1) % loop.length]!, boundary]);
  });
  const middle = (a: Point2, b: Point2): Point2 => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  if (wants === 'edge')
    return edges
      .filter(([, , boundary]) => boundary.length >= corners)
      .map(([a, b, boundary]) => ({ name: 'edge', point: at(middle(a, b)), normal, edge: [at(a), at(b)], boundary }));
  const spot = (name: SnapName, p: Point2): Picked => ({ name: SNAP_NAMES[name], point: at(p), normal });
  return [
    spot('centre', [0, 0]),
    ...s.circles.map((c) => spot('circle', c.at)),
    ...s.boundaries.slice(1).map((loop) => spot('opening', middleOfRing(loop))),
    ...s.boundaries.flatMap((loop) => loop.map((p) => spot('vertex', p))),
    ...edges.map(([a, b]) => spot('middle', middle(a, b))),
  ];
}

/** A face as a pick: where it was hit, with its boundaries. */
export const faceOn = (s: Sketch, hit: { point: Vec3; face: number; course: number }): Picked => ({
  name: 'face',
  point: hit.point,
  normal: s.axes[2],
  face: hit.face,
  course: hit.course,
  boundaries: s.boundaries.map((loop) => loop.map((p) => offPlane(s, p))),
});

/** A place of a plane as a pick. */
export const placeOn = (s: Sketch, p: Point2): Picked => ({ name: 'place', point: offPlane(s, p), normal: s.axes[2] });

/** The middle of the box round a ring of points. */
function middleOfRing(ring: readonly Point2[]): Point2 {
  const side = (k: 0 | 1) =>
    ring.reduce(
      ([low, high], p) => [Math.min(low, p[k]), Math.max(high, p[k])] as [number, number],
      [Infinity, -Infinity],
    );
  const [[x0, x1], [y0, y1]] = [side(0), side(1)] as [[number, number], [number, number]];
  return [(x0 + x1) / 2, (y0 + y1) / 2];
}

/** The candidate nearest to a place on the face, mm in the part's frame; null where there is none. */
export function nearestPick(list: readonly Picked[], p: Vec3): Picked | null {
  let [best, least]: [Picked | null, number] = [null, Infinity];
  for (const c of list) {
    const d = c.edge ? offEdge(p, c.edge) : Math.hypot(...([0, 1, 2] as const).map((k) => c.point[k] - p[k]));
    if (d < least * (1 - 1e-9)) [best, least] = [c, d];
  }
  return best;
}

function offEdge(p: Vec3, [a, b]: Edge): number {
  const e = ([0, 1, 2] as const).map((k) => b[k] - a[k]);
  const w = ([0, 1, 2] as const).map((k) => p[k] - a[k]);
  const t = Math.max(0, Math.min(1, e.reduce((s, x, k) => s + x * w[k]!, 0) / (e.reduce((s, x) => s + x * x, 0) || 1)));
  return Math.hypot(...e.map((x, k) => w[k]! - t * x));
}

/** Takes one more pick: the picking that goes on, or null after the last one, when `done` is called. */
export function picked(now: Picking, pick: Picked): Picking | null {
  const got = [...now.got, pick];
  if (now.many || got.length < now.asks.length) return { ...now, got };
  now.done(got);
  return null;
}

/** Ends a picking of as many as one likes; the picking as it is while there are too few. */
export function finished(now: Picking): Picking | null {
  if (!now.many || now.got.length < now.asks.length) return now;
  now.done(now.got);
  return null;
}

/** Shares of an edge that a stop is drawn to. */
const SNAPS = [
  [0, 'vertex'],
  [1 / 3, 'third'],
  [1 / 2, 'middle'],
  [2 / 3, 'third'],
  [1, 'vertex'],
] as const;

/**
 * Where a line stops on the edge that is nearest to a place: at its ends, middle or thirds, or square to the way from
 * the stop before, where these are within reach (mm); else right there.
 */
export function stopOn(
  edges: readonly Picked[],
  hit: { point: Vec3; face: number },
  reach: number,
  last?: Vec3,
): Picked | null {
  const near = nearestPick(edges, hit.point);
  if (!near?.edge) return null;
  const [a, b] = near.edge;
  const e = ([0, 1, 2] as const).map((k) => b[k] - a[k]);
  const length = Math.hypot(...e) || 1;
  const shareOf = (p: Vec3) =>
    Math.max(0, Math.min(1, e.reduce((s, x, k) => s + x * (p[k]! - a[k]!), 0) / length ** 2));
  const free = shareOf(hit.point);
  const square: [number, string][] = last ? [[shareOf(last), 'square']] : [];
  const [share, name] = [...SNAPS, ...square].reduce<readonly [number, string]>(
    (best, s) =>
      Math.abs(s[0] - free) * length <= reach && (best[1] === '' || Math.abs(s[0] - free) < Math.abs(best[0] - free))
        ? s
        : best,
    [free, ''],
  );
  const point = ([0, 1, 2] as const).map((k) => a[k] + share * e[k]!) as unknown as Vec3;
  return { ...near, name: name || `${Math.round(100 * share)} %`, point, face: hit.face };
}

/** One step back; null when there was none to take back. */
export const unpicked = (now: Picking): Picking | null =>
  now.got.length ? { ...now, got: now.got.slice(0, -1) } : null;
