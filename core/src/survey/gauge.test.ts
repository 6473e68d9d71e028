import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import { dot, faceNormals, placementAffine, transformMesh, unit, type PolyMesh, type Vec3 } from '../mesh/index.ts';
import { box, cone, cylinder, seededRandom } from '../shapes/index.ts';
import { clearanceOf, gauge, gaugeWall, wallOf } from './index.ts';

/** A frame in space, turned at random. */
function frame(seed: number): { at: (x: number, y: number, z: number) => Vec3; axis: Vec3; origin: Vec3 } {
  const random = seededRandom(seed);
  const z = unit([random() - 0.5, random() - 0.5, random() - 0.5]);
  const a = unit([z[1], z[2], -z[0]]);
  const x = unit([a[1] * z[2] - a[2] * z[1], a[2] * z[0] - a[0] * z[2], a[0] * z[1] - a[1] * z[0]]);
  const y: Vec3 = [z[1] * x[2] - z[2] * x[1], z[2] * x[0] - z[0] * x[2], z[0] * x[1] - z[1] * x[0]];
  const origin: Vec3 = [40 * random(), 9, -7];
  const at = (p: number, q: number, r: number): Vec3 =>
    [0, 1, 2].map((k) => origin[k]! + p * x[k]! + q * y[k]! + r * z[k]!) as unknown as Vec3;
  return { at, axis: z, origin };
}
const ring = (
  n: number,
  radius: (i: number) => number,
  f = frame(3),
  height: (a: number) => number = () => 0,
): Vec3[] =>
  Array.from({ length: n }, (_, i) => {
    const a = (2 * Math.PI * i) / n;
    return f.at(radius(i) * Math.cos(a), radius(i) * Math.sin(a), height(a));
  });

describe('the plug gauge', () => {
  it('a faceted hole: radius, centre and axis exactly, no error, and what its flats cost told apart', () => {
    for (let seed = 1; seed < 20; seed++) {
      const f = frame(seed);
      const g = gauge(ring(48, () => 12.5, f));
      expect(g.radius).toBeCloseTo(12.5, 9);
      g.centre.forEach((x, k) => expect(x).toBeCloseTo(f.origin[k]!, 8));
      expect(Math.abs(dot(g.axis, f.axis))).toBeCloseTo(1, 9);
      expect([g.worst < 1e-9, g.outOfRound < 1e-9, g.leastZone < 1e-9, g.flat]).toEqual([true, true, true, true]);
      expect(g.sagitta).toBeCloseTo(12.5 * (1 - Math.cos(Math.PI / 48)), 9);
    }
  });

  it('planted errors are told to a millionth: a three-lobed hole', () => {
    // Of the lobes neither the mean radius nor the centre is touched: both fits keep them.
    const g = gauge(ring(90, (i) => 20 + 0.05 * Math.cos((3 * 2 * Math.PI * i) / 90)));
    expect(g.radius).toBeCloseTo(20, 6);
    expect(g.worst).toBeCloseTo(0.05, 6);
    expect(g.outOfRound).toBeCloseTo(0.1, 6);
    expect(g.leastZone).toBeCloseTo(0.1, 6);
    expect(g.rms).toBeCloseTo(0.05 / Math.SQRT2, 6);
  });

  it('one dent: the least zone is narrower than least squares tell', () => {
    const g = gauge(ring(60, (i) => (i === 7 ? 19.9 : 20)));
    expect(g.outOfRound).toBeGreaterThan(g.leastZone);
    expect(g.leastZone).toBeLessThanOrEqual(0.1 + 1e-9);
    expect(g.leastZone).toBeGreaterThan(0.04);
    expect(Math.abs(g.angles[g.departures.indexOf(Math.min(...g.departures))]!)).toBeGreaterThan(0);
  });

  it('a round hole in a round hull is recognised along its axis, though its rim is in no plane', () => {
    // Of a hole of radius 12.5 in a hull of radius 38 whose axis is along the frame's x: the rim is at √(38² − y²).
    const f = frame(5);
    const rim = ring(
      64,
      () => 12.5,
      f,
      (a) => Math.sqrt(38 ** 2 - (12.5 * Math.sin(a)) ** 2),
    );
    const g = gauge(rim);
    expect(g.flat).toBe(false);
    expect(g.radius).toBeCloseTo(12.5, 6);
    expect(Math.abs(dot(g.axis, f.axis))).toBeCloseTo(1, 9);
    expect(g.worst).toBeLessThan(1e-6);
  });

  it('a tapered wall: both rims together', () => {
    const f = frame(9);
    const g = gauge([
      ...ring(
        32,
        () => 10,
        f,
        () => 0,
      ),
      ...ring(
        32,
        () => 10.2,
        f,
        () => 20,
      ),
    ]);
    expect(g.taper).toBeCloseTo(0.01, 3);
    expect(g.radius).toBeCloseTo(10.1, 6);
  });

  it('a plug goes in as far as the flats let it', () => {
    const g = gauge(ring(32, () => 10));
    expect(clearanceOf(g, 19)).toBeCloseTo(10 * Math.cos(Math.PI / 32) - 9.5, 9);
    expect(clearanceOf(g, 20)).toBeLessThan(0);
  });

  it.each([
    ['too few', ring(4, () => 3), /five points/],
    ['in one place', Array(8).fill([1, 2, 3]) as Vec3[], /one place/],
    ['on a line', Array.from({ length: 9 }, (_, i): Vec3 => [i, 0, 0]), /not round|no circle/],
  ])('points %s are refused in words', (_, points, why) => {
    expect(() => gauge(points)).toThrow(why);
  });
});

describe('the wall of a hole', () => {
  const turned = (m: PolyMesh) => transformMesh(m, placementAffine({ position: [30, -20, 8], turn: [20, 35, 50] }));
  const axis = unit(
    [0, 1, 2].map((k) => placementAffine({ position: [0, 0, 0], turn: [20, 35, 50] })[4 * k + 2]!) as unknown as Vec3,
  );
  const flatOf = (m: PolyMesh, away: Vec3) => {
    const n = faceNormals(m);
    return Array.from({ length: m.faceLoops.length - 1 }, (_, f) => f).find(
      (f) => Math.abs(n[3 * f]! * away[0] + n[3 * f + 1]! * away[1] + n[3 * f + 2]! * away[2]) < 0.5,
    )!;
  };

  it.each([8, 12, 48])('of %i sides is found flat by flat, and is round, straight and as wide as it was made', (n) => {
    const m = turned(cylinder(12.5, 40, n, 3));
    const wall = flatOf(m, axis);
    expect(wallOf(m, wall)).toHaveLength(3 * n);
    const g = gaugeWall(m, wall);
    expect(g.radius).toBeCloseTo(12.5, 9);
    expect(Math.abs(dot(g.axis, axis))).toBeCloseTo(1, 9);
    expect([g.outOfRound, g.taper].map((x) => Math.abs(x) < 1e-9)).toEqual([true, true]);
    expect(g.sagitta).toBeCloseTo(12.5 * (1 - Math.cos(Math.PI / n)), 9);
  });

  it('tells the taper of a cone, and a planted dent in a wall', () => {
    const tapered = gaugeWall(turned(cone(10, 9.8, 40, 48)), flatOf(turned(cone(10, 9.8, 40, 48)), axis));
    expect(Math.abs(tapered.taper)).toBeCloseTo(0.2 / 40, 6);
    const m = cylinder(10, 40, 48);
    const P = m.positions.slice();
    // One corner of each rim pushed in by 0.1 mm.
    for (const v of [5, 53]) for (const k of [0, 1]) P[3 * v + k]! *= 0.99;
    const g = gaugeWall({ ...m, positions: P }, flatOf(m, [0, 0, 1]));
    expect(g.outOfRound).toBeCloseTo(0.1, 2);
    expect(g.leastZone).toBeLessThanOrEqual(g.outOfRound + 1e-12);
  });

  it('stays as round as it is where another hole runs into it', () => {
    const m = carve(cylinder(38, 80, 64), {
      cutters: [transformMesh(cylinder(12, 90, 48), placementAffine({ position: [0, 0, 3], turn: [0, 90, 7] }))],
      operation: 'subtract',
    }).mesh;
    const g = gaugeWall(m, flatOf(m, [0, 0, 1]));
    expect(g.radius).toBeCloseTo(38, 9);
    expect(g.outOfRound).toBeLessThan(1e-9);
  });

  it('refuses a flat', () => {
    expect(() => gaugeWall(box(3, 4, 5), 0)).toThrow(/round/);
  });
});
