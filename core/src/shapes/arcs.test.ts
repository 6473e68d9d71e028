import { describe, expect, it } from 'vitest';
import {
  arcPoints,
  arcRun,
  bowThrough,
  checkCrossing,
  seededRandom,
  selfCrossing,
  signedArea2,
  thinned,
  type Point2,
} from './index.ts';

const square: Point2[] = [
  [0, 0],
  [10, 0],
  [10, 10],
  [0, 10],
];
const area = (points: readonly Point2[]) => signedArea2(points) / 2;

describe('arc pieces', () => {
  it('two half circles are a circle of as many flats as it should have', () => {
    const run = arcRun(
      [
        [-5, 0],
        [5, 0],
      ],
      [5, 5],
      64,
    );
    expect(run.length).toBe(64);
    for (const [x, y] of run) expect(Math.hypot(x, y)).toBeCloseTo(5, 12);
    expect(area(run)).toBeCloseTo(32 * 25 * Math.sin((2 * Math.PI) / 64), 10);
  });

  it('bow out of a counter-clockwise outline, or into it', () => {
    const out = arcRun(square, [2, 0, 0, 0], 7200);
    const into = arcRun(square, [-2, 0, 0, 0], 7200);
    // A circular segment of chord 10 and height 2.
    const r = (25 + 4) / 4;
    const half = Math.asin(5 / r);
    const piece = r * r * (half - Math.sin(half) * Math.cos(half));
    expect(area(out)).toBeCloseTo(100 + piece, 3);
    expect(area(into)).toBeCloseTo(100 - piece, 3);
    expect(Math.min(...out.map((p) => p[1]))).toBeCloseTo(-2, 3);
  });

  it('more than half a circle is an arc too', () => {
    const points = arcPoints([0, 0], [6, 0], 9, 360);
    // chord 6, height 9: radius 5, middle 4 mm out.
    for (const [x, y] of points) expect(Math.hypot(x - 3, y + 4)).toBeCloseTo(5, 10);
    expect(Math.min(...points.map((p) => p[1]))).toBeCloseTo(-9, 2);
  });

  it('straight pieces stay as they are, corners are hit exactly', () => {
    expect(arcRun(square, [], 64)).toEqual(square);
    const run = arcRun(square, [1, 0, -3, 0.5], 48);
    for (const p of square) expect(run).toContainEqual(p);
  });

  it('through a third point: the bow leads back to it', () => {
    const random = seededRandom(8);
    for (let i = 0; i < 200; i++) {
      const [a, b] = [
        [10 * random(), 10 * random()],
        [10 * random(), 10 * random()],
      ] as [Point2, Point2];
      const over: Point2 = [10 * random(), 10 * random()];
      const bow = bowThrough(a, b, over);
      const chord = Math.hypot(b[0] - a[0], b[1] - a[1]);
      const radius = (bow * bow + (chord * chord) / 4) / (2 * Math.abs(bow));
      const [ux, uy] = [(b[0] - a[0]) / chord, (b[1] - a[1]) / chord];
      const d = Math.abs(bow) - radius;
      const side = Math.sign(bow);
      const centre = [(a[0] + b[0]) / 2 + uy * d * side, (a[1] + b[1]) / 2 - ux * d * side] as const;
      expect(Math.hypot(over[0] - centre[0], over[1] - centre[1]) / radius).toBeCloseTo(1, 6);
    }
    expect(bowThrough([0, 0], [4, 0], [2, 0])).toBe(0);
    expect(bowThrough([0, 0], [0, 0], [2, 0])).toBe(0);
  });
});

describe('a run that crosses itself', () => {
  it('is told of with the place', () => {
    expect(
      selfCrossing([
        [0, 0],
        [10, 10],
        [10, 0],
        [0, 10],
      ]),
    ).toEqual([5, 5]);
    expect(() =>
      checkCrossing([
        [0, 0],
        [10, 10],
        [10, 0],
        [0, 10],
      ]),
    ).toThrow(/crosses itself at 5, 5/);
    expect(selfCrossing(square)).toBeNull();
  });

  it('also where it only touches, or folds back on itself', () => {
    expect(
      selfCrossing([
        [0, 0],
        [10, 0],
        [10, 10],
        [5, 0],
        [0, 10],
      ]),
    ).toEqual([5, 0]);
    expect(
      selfCrossing([
        [0, 0],
        [10, 0],
        [4, 0],
        [4, 8],
      ]),
    ).toEqual([10, 0]);
    expect(
      selfCrossing([
        [0, 0],
        [5, 0],
        [10, 0],
        [5, 8],
      ]),
    ).toBeNull();
  });

  it('is found as by trying every pair, over 300 random runs', () => {
    const random = seededRandom(21);
    const turn = (p: Point2, q: Point2, r: Point2) => (q[0] - p[0]) * (r[1] - p[1]) - (r[0] - p[0]) * (q[1] - p[1]);
    for (let k = 0; k < 300; k++) {
      const n = 4 + Math.floor(9 * random());
      // Round the middle, a little or a lot out of order.
      const stir = k % 2 ? 0.2 : 3;
      const run = Array.from({ length: n }, (_, i): Point2 => {
        const a = (2 * Math.PI * i) / n + stir * (random() - 0.5);
        return [(5 + 5 * random()) * Math.cos(a), (5 + 5 * random()) * Math.sin(a)];
      });
      let crosses = false;
      for (let i = 0; i < n; i++)
        for (let j = i + 2; j < n; j++) {
          if (i === 0 && j === n - 1) continue;
          const [a, b, c, d] = [run[i]!, run[i + 1]!, run[j]!, run[(j + 1) % n]!];
          if (turn(a, b, c) * turn(a, b, d) < 0 && turn(c, d, a) * turn(c, d, b) < 0) crosses = true;
        }
      expect(selfCrossing(run) !== null).toBe(crosses);
    }
  });

  it('of thousands of points is looked at in no time', () => {
    const n = 8000;
    const star = Array.from({ length: n }, (_, i): Point2 => {
      const r = i % 2 ? 90 : 100;
      return [r * Math.cos((2 * Math.PI * i) / n), r * Math.sin((2 * Math.PI * i) / n)];
    });
    expect(selfCrossing(star)).toBeNull();
  });
});

describe('freehand', () => {
  it('is thinned to its corners, and nothing strays by more than was allowed', () => {
    const random = seededRandom(2);
    const drawn: Point2[] = [];
    for (let i = 0; i <= 100; i++) drawn.push([i / 10, 0.04 * (random() - 0.5)]);
    for (let i = 1; i <= 100; i++) drawn.push([10 + 0.04 * (random() - 0.5), i / 10]);
    const few = thinned(drawn, 0.1);
    expect(few.length).toBe(3);
    expect(few[1]![0]).toBeCloseTo(10, 1);
    expect(thinned(drawn, 0).length).toBeGreaterThan(150);
    expect(thinned(drawn.slice(0, 2), 1)).toEqual(drawn.slice(0, 2));
  });
});
