import { MasonError } from '../mesh/index.ts';
import { circlePoint } from './builder.ts';

export type Point2 = [number, number];

/** A flat outline, counter-clockwise, with inner outlines (clockwise). mm. */
export interface Outline {
  points: Point2[];
  holes?: Point2[][];
}

/** Twice the signed area of a closed run of points: positive when counter-clockwise. */
export function signedArea2(points: readonly Point2[]): number {
  let a = 0;
  for (let i = 0; i < points.length; i++) {
    const [x0, y0] = points[i]!;
    const [x1, y1] = points[(i + 1) % points.length]!;
    a += x0 * y1 - x1 * y0;
  }
  return a;
}

/** The points turned to run counter-clockwise (or clockwise). Throws `bad-input` for an outline without area. */
export function turnedOutline(points: readonly Point2[], counterClockwise = true): Point2[] {
  const a = signedArea2(points);
  if (points.length < 3 || a === 0)
    throw new MasonError('bad-input', 'An outline needs three points that span an area.');
  return a > 0 === counterClockwise ? [...points] : [...points].reverse();
}

/** A circle of n points. */
export const circleOutline = (radius: number, n: number): Point2[] =>
  Array.from({ length: n }, (_, i) => circlePoint(i, n, radius));

/** A rectangle round the origin, its corners rounded by `corner` with `n` segments each. */
export function rectangleOutline(width: number, height: number, corner = 0, n = 4): Point2[] {
  const r = Math.min(corner, width / 2, height / 2);
  const signs = [
    [1, 1],
    [-1, 1],
    [-1, -1],
    [1, -1],
  ] as const;
  if (!(r > 0)) return signs.map(([x, y]) => [(x * width) / 2, (y * height) / 2]);
  const out: Point2[] = [];
  signs.forEach(([x, y], quarter) => {
    for (let i = 0; i <= n; i++) {
      const [cx, cy] = circlePoint(quarter * n + i, 4 * n, r);
      const p: Point2 = [x * (width / 2 - r) + cx, y * (height / 2 - r) + cy];
      const last = out.at(-1);
      if (!last || last[0] !== p[0] || last[1] !== p[1]) out.push(p);
    }
  });
  const [first, last] = [out[0]!, out.at(-1)!];
  if (first[0] === last[0] && first[1] === last[1]) out.pop();
  return out;
}

/** A slot: a rectangle with half circles of n segments at both ends, `length` over all. */
export const slotOutline = (length: number, width: number, n: number): Point2[] =>
  length > width
    ? rectangleOutline(length, width, width / 2, Math.max(1, Math.round(n / 2)))
    : circleOutline(width / 2, 2 * n);

/**
 * A counter-clockwise outline drawn in by `d` mm on all sides, mitred at its corners. Throws `bad-input` when a side
 * would be used up: what lies beyond the first such place is another outline.
 */
export function insetOutline(points: readonly Point2[], d: number): Point2[] {
  const n = points.length;
  const ways = points.map(([x, y], i): Point2 => {
    const [u, v] = points[(i + 1) % n]!;
    const length = Math.hypot(u - x, v - y);
    return [(u - x) / length, (v - y) / length];
  });
  const out = points.map(([x, y], i): Point2 => {
    const [a, b] = [ways[(i + n - 1) % n]!, ways[i]!];
    // The way in of a side is its direction turned left; the mitre is as far from both.
    const k = d / (1 + a[0] * b[0] + a[1] * b[1]);
    return [x - k * (a[1] + b[1]), y + k * (a[0] + b[0])];
  });
  const left = out.every(([x, y], i) => {
    const [u, v] = out[(i + 1) % n]!;
    return (u - x) * ways[i]![0] + (v - y) * ways[i]![1] > 0;
  });
  if (!left || !(signedArea2(out) > 0))
    throw new MasonError('bad-input', `The outline leaves no room to draw it in by ${+d.toFixed(3)} mm. Use less.`);
  return out;
}
