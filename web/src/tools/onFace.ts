import type { Point2, Sketch } from '@dusky-mason/core/shapes';

/** Whether a place is in a ring of points or within `tol` of it. */
export function inside(ring: readonly Point2[], p: Point2, tol: number): boolean {
  let within = false;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const [a, b] = [ring[i]!, ring[j]!];
    const [ex, ey] = [b[0] - a[0], b[1] - a[1]];
    const t = Math.max(0, Math.min(1, ((p[0] - a[0]) * ex + (p[1] - a[1]) * ey) / (ex * ex + ey * ey || 1)));
    if (Math.hypot(a[0] + t * ex - p[0], a[1] + t * ey - p[1]) <= tol) return true;
    if (a[1] > p[1] !== b[1] > p[1] && p[0] < ((b[0] - a[0]) * (p[1] - a[1])) / (b[1] - a[1]) + a[0]) within = !within;
  }
  return within;
}

/** The turn of the edge that a place lies on, degrees. */
export function turnOfEdge(s: Sketch, p: Point2): number | null {
  const edges = s.boundaries.flatMap((loop) => loop.map((a, i): [Point2, Point2] => [a, loop[(i + 1) % loop.length]!]));
  const on = edges.find(([a, b]) => {
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
    return Math.hypot(p[0] - a[0], p[1] - a[1]) + Math.hypot(p[0] - b[0], p[1] - b[1]) - length < 1e-6 * length;
  });
  return on ? +((Math.atan2(on[1][1] - on[0][1], on[1][0] - on[0][0]) * 180) / Math.PI).toFixed(6) : null;
}
