/** A point of an outline. */
export type Point = readonly [number, number];

/** Area of an outline, positive when counter-clockwise (shoelace formula). */
export const outlineArea = (p: readonly Point[]): number =>
  p.reduce((sum, [x, y], i) => sum + (x * p[(i + 1) % p.length]![1] - p[(i + 1) % p.length]![0] * y) / 2, 0);

export const ngonArea = (r: number, n: number): number => (n / 2) * r * r * Math.sin((2 * Math.PI) / n);

/** A regular n-gon, a corner on the first axis. */
export const ngon = (r: number, n: number, [x, y]: Point = [0, 0]): Point[] =>
  Array.from({ length: n }, (_, i) => [
    x + r * Math.cos((2 * Math.PI * i) / n),
    y + r * Math.sin((2 * Math.PI * i) / n),
  ]);

/** From where to where a convex outline reaches along the second coordinate at a first coordinate; null beside it. */
export function spanAt(p: readonly Point[], x: number): [number, number] | null {
  let [low, high] = [Infinity, -Infinity];
  p.forEach(([x0, y0], i) => {
    const [x1, y1] = p[(i + 1) % p.length]!;
    if ((x0 - x) * (x1 - x) > 0) return;
    for (const y of x0 === x1 ? [y0, y1] : [y0 + ((y1 - y0) * (x - x0)) / (x1 - x0)]) {
      low = Math.min(low, y);
      high = Math.max(high, y);
    }
  });
  return low <= high ? [low, high] : null;
}

/**
 * The integral of f·g over the common range of two convex outlines' first coordinate, where f and g are made of their
 * spans and are linear between corners: exact by Simpson's rule on each stretch between corners.
 */
export function crossIntegral(
  a: readonly Point[],
  b: readonly Point[],
  product: (spanA: [number, number], spanB: [number, number]) => number,
): number {
  const xs = [...new Set([...a, ...b].map(([x]) => x))].sort((p, q) => p - q);
  let sum = 0;
  for (let i = 0; i + 1 < xs.length; i++) {
    const [x0, x1] = [xs[i]!, xs[i + 1]!];
    const at = (x: number) => {
      const [p, q] = [spanAt(a, x), spanAt(b, x)];
      return p && q ? product(p, q) : 0;
    };
    // Corners that nearly coincide: the ends of a stretch are taken from within it.
    const e = 1e-9 * (x1 - x0);
    sum += ((x1 - x0) / 6) * (at(x0 + e) + 4 * at((x0 + x1) / 2) + at(x1 - e));
  }
  return sum;
}

/**
 * Volume of a faceted turned body of n sides between two distances of its flats from the axis. `profile` is its outline
 * in the plane through the middle of its flats: (distance, height above the middle plane), heights falling to both
 * sides alike.
 */
export function turnedVolume(profile: readonly Point[], n: number, from: number, to: number): number {
  // Side of a sector at distance x is 2 x tan(π/n); times the height, linear in x, above and below.
  const side = 2 * Math.tan(Math.PI / n);
  const height = (x: number) => {
    for (let i = 0; i + 1 < profile.length; i++) {
      const [[x0, h0], [x1, h1]] = [profile[i]!, profile[i + 1]!];
      if (x >= Math.min(x0, x1) && x <= Math.max(x0, x1) && x0 !== x1) return h0 + ((h1 - h0) * (x - x0)) / (x1 - x0);
    }
    return 0;
  };
  const xs = [from, ...profile.map(([x]) => x).filter((x) => x > from && x < to), to].sort((a, b) => a - b);
  let sum = 0;
  for (let i = 0; i + 1 < xs.length; i++) {
    const [a, b] = [xs[i]!, xs[i + 1]!];
    const f = (x: number) => side * x * 2 * height(x);
    const e = 1e-9 * (b - a);
    sum += ((b - a) / 6) * (f(a + e) + 4 * f((a + b) / 2) + f(b - e));
  }
  return n * sum;
}
