import type { Point2 } from './outlines.ts';

/** A corner that turns by less than this (radians) is not rounded. */
const NO_CORNER = 1e-6;

/** A closed run of straight and arc pieces: see `arcRun`. */
export interface Pieces {
  points: Point2[];
  bows: number[];
}

/**
 * A closed run with its corners rounded: corner i, between two straight pieces, is replaced by an arc of `radii[i]` mm
 * that touches both. Where two arcs would overlap on a piece both are made smaller until they meet. Corners beside an
 * arc piece stay as they are.
 */
export function roundedRun(points: readonly Point2[], bows: readonly number[], radii: readonly number[]): Pieces {
  const n = points.length;
  const bow = (i: number) => bows[(i + n) % n] ?? 0;
  if (!radii.some((r) => r > 0)) return { points: [...points], bows: points.map((_, i) => bow(i)) };
  const at = (i: number) => points[(i + n) % n]!;
  const length = points.map((p, i) => Math.hypot(at(i + 1)[0] - p[0], at(i + 1)[1] - p[1]));
  const way = points.map((p, i): Point2 => [(at(i + 1)[0] - p[0]) / length[i]!, (at(i + 1)[1] - p[1]) / length[i]!]);
  // Left turns are positive.
  const turn = points.map((_, i) => {
    const [a, b] = [way[(i + n - 1) % n]!, way[i]!];
    return Math.atan2(a[0] * b[1] - a[1] * b[0], a[0] * b[0] + a[1] * b[1]);
  });
  const rounds = (i: number) =>
    (radii[i] ?? 0) > 0 && bow(i) === 0 && bow(i - 1) === 0 && Math.abs(turn[i]!) > NO_CORNER;
  /** How far the arc of a corner reaches along both of its pieces. */
  const reach = points.map((_, i) => (rounds(i) ? radii[i]! * Math.tan(Math.abs(turn[i]!) / 2) : 0));
  const room = points.map((_, i) => {
    const both = reach[i]! + reach[(i + 1) % n]!;
    return both > length[i]! ? length[i]! / both : 1;
  });
  const out: Pieces = { points: [], bows: [] };
  const put = (p: Point2, b: number) => {
    const last = out.points.at(-1);
    // Two arcs that use up a piece share its point.
    if (last && Math.hypot(last[0] - p[0], last[1] - p[1]) <= 1e-12 * (Math.abs(p[0]) + Math.abs(p[1]) + 1)) {
      out.bows[out.bows.length - 1] = b;
      return;
    }
    out.points.push(p);
    out.bows.push(b);
  };
  points.forEach((p, i) => {
    const k = Math.min(room[i]!, room[(i + n - 1) % n]!);
    const t = reach[i]! * k;
    if (!(t > 0)) return put(p, bow(i));
    const [a, b] = [way[(i + n - 1) % n]!, way[i]!];
    const half = Math.abs(turn[i]!) / 2;
    put([p[0] - a[0] * t, p[1] - a[1] * t], Math.sign(turn[i]!) * radii[i]! * k * (1 - Math.cos(half)));
    put([p[0] + b[0] * t, p[1] + b[1] * t], bow(i));
  });
  const [first, last] = [out.points[0]!, out.points.at(-1)!];
  if (
    out.points.length > 2 &&
    Math.hypot(first[0] - last[0], first[1] - last[1]) <= 1e-12 * (Math.abs(first[0]) + Math.abs(first[1]) + 1)
  ) {
    out.points.pop();
    out.bows.pop();
  }
  return out;
}
