import { offSegment, type Flat } from '../../../mesh/index.ts';

/** A place nearer to an edge than this share of its length lies on it. */
const ON_EDGE = 1e-9;

/**
 * Weights of the corners of a polygon for a place in it, in sum 1: on an edge those of its ends alone; and for places of
 * the polygon moved anyhow the place moves evenly with them. Mean value coordinates: M. Floater, "Mean value
 * coordinates", 2003; K. Hormann and M. Floater, 2006.
 */
export function meanValueWeights(polygon: readonly Flat[], p: Flat): number[] {
  const n = polygon.length;
  const out = polygon.map(() => 0);
  for (let i = 0; i < n; i++) {
    const [a, b] = [polygon[i]!, polygon[(i + 1) % n]!];
    const long = Math.hypot(b[0] - a[0], b[1] - a[1]);
    if (offSegment(p, a, b) > ON_EDGE * long) continue;
    const share = Math.max(0, Math.min(1, Math.hypot(p[0] - a[0], p[1] - a[1]) / long));
    out[i] = 1 - share;
    out[(i + 1) % n] = share;
    return out;
  }
  const to = polygon.map((q): Flat => [q[0] - p[0], q[1] - p[1]]);
  const reach = to.map((d) => Math.hypot(d[0], d[1]));
  /** The tangent of half of the angle from one corner to the next, seen from the place. */
  const half = to.map((d, i) => {
    const e = to[(i + 1) % n]!;
    const [cross, dot] = [d[0] * e[1] - d[1] * e[0], d[0] * e[0] + d[1] * e[1]];
    return cross / (reach[i]! * reach[(i + 1) % n]! + dot);
  });
  let sum = 0;
  for (let i = 0; i < n; i++) sum += out[i] = (half[(i + n - 1) % n]! + half[i]!) / reach[i]!;
  return out.map((w) => w / sum);
}
