import { describe, expect, it } from 'vitest';
import { ballFromRings, box } from '../shapes/index.ts';
import { drape } from './drape.ts';
import type { Vec3 } from './vec.ts';

const square = (r: number, z: number): Vec3[] => [
  [-r, -r, z],
  [r, -r, z],
  [r, r, z],
  [-r, r, z],
];
const points = (lines: Float64Array) =>
  Array.from({ length: lines.length / 3 }, (_, i) => [...lines.subarray(3 * i, 3 * i + 3)]);

describe('a run laid on a surface', () => {
  it('lies on a ball all round, over its own boundary', () => {
    const on = points(drape(ballFromRings(50, 128, 64), square(20, 70), [0, 0, -3]));
    expect(on.length).toBeGreaterThan(400);
    for (const [x, y, z] of on) {
      expect(Math.hypot(x!, y!, z!)).toBeGreaterThan(49.9);
      expect(Math.hypot(x!, y!, z!)).toBeLessThanOrEqual(50 + 1e-9);
      expect(z).toBeGreaterThan(0);
      expect(Math.max(Math.abs(x!), Math.abs(y!))).toBeCloseTo(20, 9);
    }
  });

  it('meets what stands before its plane, too, and has no line over an edge or beside the part', () => {
    const b = box(40, 40, 10);
    for (const [, , z] of points(drape(b, square(10, -3), [0, 0, -1]))) expect(z).toBeCloseTo(5, 12);
    const half = points(
      drape(
        b,
        square(10, 9).map(([x, y, z]): Vec3 => [x + 20, y, z]),
        [0, 0, -1],
      ),
    );
    expect(half.length).toBeGreaterThan(0);
    for (const [x] of half) expect(x).toBeLessThanOrEqual(20);
    expect(
      drape(
        b,
        square(1, 9).map(([x, y, z]): Vec3 => [x + 90, y, z]),
        [0, 0, -1],
      ).length,
    ).toBe(0);
  });
});
