import { MasonError } from '../mesh/index.ts';
import type { Point2 } from './outlines.ts';

/** Fewest flats of an arc, however short. */
const LEAST_FLATS = 2;

/**
 * A closed run of straight and arc pieces as points. Piece i goes from point i to the next; `bows[i]` is how far its
 * middle stands out to the right of its chord, mm: 0 (or left out) is straight, half the chord a half circle; out of a
 * counter-clockwise outline. A full circle would have `segments` flats. Points that are given are in the result as they
 * are.
 */
export function arcRun(points: readonly Point2[], bows: readonly number[], segments: number): Point2[] {
  return points.flatMap((p, i) => [p, ...arcPoints(p, points[(i + 1) % points.length]!, bows[i] ?? 0, segments)]);
}

/** The points of an arc between its two ends, without these. */
export function arcPoints(from: Point2, to: Point2, bow: number, segments: number): Point2[] {
  const [cx, cy] = [to[0] - from[0], to[1] - from[1]];
  const chord = Math.hypot(cx, cy);
  if (bow === 0 || chord === 0) return [];
  // The angle that the arc spans, from bow = r (1 − cos(a/2)) and chord = 2 r sin(a/2).
  const span = 4 * Math.atan2(2 * Math.abs(bow), chord);
  const flats = Math.max(LEAST_FLATS, Math.round((segments * span) / (2 * Math.PI)));
  const radius = chord / (2 * Math.sin(span / 2));
  const side = bow > 0 ? 1 : -1;
  // Unit ways along the chord and to its right.
  const [ux, uy] = [cx / chord, cy / chord];
  const [rx, ry] = [uy * side, -ux * side];
  const depth = radius * Math.cos(span / 2);
  return Array.from({ length: flats - 1 }, (_, k): Point2 => {
    const a = -span / 2 + (span * (k + 1)) / flats;
    const along = chord / 2 + radius * Math.sin(a);
    const out = radius * Math.cos(a) - depth;
    return [from[0] + ux * along + rx * out, from[1] + uy * along + ry * out];
  });
}

/** The bow of the arc from one point to another through a third. */
export function bowThrough(from: Point2, to: Point2, over: Point2): number {
  const [cx, cy] = [to[0] - from[0], to[1] - from[1]];
  const chord = Math.hypot(cx, cy);
  if (chord === 0) return 0;
  const along = ((over[0] - from[0]) * cx + (over[1] - from[1]) * cy) / chord - chord / 2;
  const out = ((over[0] - from[0]) * cy - (over[1] - from[1]) * cx) / chord;
  if (Math.abs(out) < 1e-12 * chord) return 0;
  // Of the circle through all three: its middle lies so far out from the chord's.
  const centre = (along * along + out * out - (chord * chord) / 4) / (2 * out);
  const radius = Math.hypot(centre, chord / 2);
  return out > 0 ? centre + radius : centre - radius;
}

/** Where a closed run of points crosses or touches itself; null where it does not. Neighbours share their end only. */
export function selfCrossing(points: readonly Point2[]): Point2 | null {
  const n = points.length;
  const end = (i: number) => points[(i + 1) % n]!;
  const low = (i: number) => Math.min(points[i]![0], end(i)[0]);
  // Pieces from left to right, so that each meets only those that begin before it ends.
  const order = Array.from({ length: n }, (_, i) => i).sort((i, j) => low(i) - low(j));
  for (let k = 0; k < n; k++) {
    const i = order[k]!;
    const right = Math.max(points[i]![0], end(i)[0]);
    for (let l = k + 1; l < n && low(order[l]!) <= right; l++) {
      const j = order[l]!;
      const at =
        j === (i + 1) % n
          ? folded(points[i]!, end(i), end(j))
          : i === (j + 1) % n
            ? folded(points[j]!, end(j), end(i))
            : meeting(points[i]!, end(i), points[j]!, end(j));
      if (at) return at;
    }
  }
  return null;
}

/** The corner q of a run p q r when it folds back on itself there. */
function folded(p: Point2, q: Point2, r: Point2): Point2 | null {
  const [ux, uy, vx, vy] = [p[0] - q[0], p[1] - q[1], r[0] - q[0], r[1] - q[1]];
  const level = Math.abs(ux * vy - uy * vx) <= 1e-12 * Math.hypot(ux, uy) * Math.hypot(vx, vy);
  return level && ux * vx + uy * vy > 0 ? q : null;
}

function meeting(a: Point2, b: Point2, c: Point2, d: Point2): Point2 | null {
  const turn = (p: Point2, q: Point2, r: Point2) => (q[0] - p[0]) * (r[1] - p[1]) - (r[0] - p[0]) * (q[1] - p[1]);
  const [s, t, u, v] = [turn(a, b, c), turn(a, b, d), turn(c, d, a), turn(c, d, b)];
  const within = (p: Point2, q: Point2, r: Point2) =>
    Math.min(p[0], q[0]) <= r[0] &&
    r[0] <= Math.max(p[0], q[0]) &&
    Math.min(p[1], q[1]) <= r[1] &&
    r[1] <= Math.max(p[1], q[1]);
  if (((s > 0 && t < 0) || (s < 0 && t > 0)) && ((u > 0 && v < 0) || (u < 0 && v > 0))) {
    const k = s / (s - t);
    return [c[0] + k * (d[0] - c[0]), c[1] + k * (d[1] - c[1])];
  }
  if (s === 0 && within(a, b, c)) return c;
  if (t === 0 && within(a, b, d)) return d;
  if (u === 0 && within(c, d, a)) return a;
  if (v === 0 && within(c, d, b)) return b;
  return null;
}

/**
 * A freehand run thinned to the points that it needs to stay within `tol` mm of what was drawn.
 * Source: Douglas and Peucker, "Algorithms for the reduction of the number of points required to represent a digitized
 * line", 1973.
 */
export function thinned(points: readonly Point2[], tol: number): Point2[] {
  if (points.length < 3) return [...points];
  const keep = new Uint8Array(points.length);
  keep[0] = keep[points.length - 1] = 1;
  const todo: [number, number][] = [[0, points.length - 1]];
  while (todo.length) {
    const [i, j] = todo.pop()!;
    let most = tol;
    let at = -1;
    for (let k = i + 1; k < j; k++) {
      const d = offChord(points[k]!, points[i]!, points[j]!);
      if (d > most) [most, at] = [d, k];
    }
    if (at < 0) continue;
    keep[at] = 1;
    todo.push([i, at], [at, j]);
  }
  return points.filter((_, i) => keep[i]);
}

function offChord(p: Point2, a: Point2, b: Point2): number {
  const [ex, ey] = [b[0] - a[0], b[1] - a[1]];
  const t = Math.max(0, Math.min(1, ((p[0] - a[0]) * ex + (p[1] - a[1]) * ey) / (ex * ex + ey * ey || 1)));
  return Math.hypot(a[0] + t * ex - p[0], a[1] + t * ey - p[1]);
}

/** Throws `bad-input`, with the place, for a run that crosses itself. */
export function checkCrossing(points: readonly Point2[]): void {
  const at = selfCrossing(points);
  if (at)
    throw new MasonError(
      'bad-input',
      `The outline crosses itself at ${at.map((x) => +x.toFixed(3)).join(', ')}. Move a point, so that it does not.`,
    );
}
