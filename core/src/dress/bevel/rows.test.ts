import { describe, expect, it } from 'vitest';
import { add, cross, dot, lengthOf, scaled, sub, unit, type Vec3 } from '../../mesh/index.ts';
import { drawnSegments, rowWeights, turnedNormals, type Profile } from './rows.ts';

const ANGLES = [10, 45, 90, 120, 170].map((d) => (d * Math.PI) / 180);
/** Ends of an arc of radius 1 that turns by an angle, about the origin, and where its tangents meet. */
function arc(angle: number): { a: Vec3; b: Vec3; meet: Vec3 } {
  const [c, s] = [Math.cos(angle / 2), Math.sin(angle / 2)];
  return { a: [-s, c, 0], b: [s, c, 0], meet: [0, 1 / c, 0] };
}
function points(angle: number, segments: number, profile: Profile): Vec3[] {
  const { a, b, meet } = arc(angle);
  return rowWeights(angle, segments, profile).map(([x, k, y]) => add(add(scaled(a, x), meet, k), b, y));
}
const turnBetween = (a: Vec3, b: Vec3) => Math.atan2(lengthOf(cross(a, b)), dot(a, b));

describe('the row across a strip', () => {
  for (const angle of ANGLES)
    it(`round, over ${((angle * 180) / Math.PI).toFixed(0)}°: on the circle, in equal turns`, () => {
      const row = points(angle, 6, 1);
      expect(row).toHaveLength(7);
      for (const p of row) expect(lengthOf(p)).toBeCloseTo(1, 12);
      for (let k = 0; k < 6; k++) expect(turnBetween(row[k]!, row[k + 1]!)).toBeCloseTo(angle / 6, 9);
    });

  it('weighs its ends and where the tangents meet by 1 in all, alike from both sides', () => {
    for (const profile of [
      -1,
      -0.4,
      0,
      0.5,
      1,
      1.3,
      2,
      [
        [0.3, 0],
        [0.5, 0.7],
        [1, 0.7],
      ] as const,
    ])
      for (const angle of ANGLES) {
        const w = rowWeights(angle, 5, profile);
        for (const [a, k, b] of w) expect(a + k + b).toBeCloseTo(1, 12);
        w.forEach(([a, k, b], i) => {
          const [x, y, z] = w.at(-1 - i)!;
          expect([z, y, x].map((v) => v.toFixed(9))).toEqual([a, k, b].map((v) => v.toFixed(9)));
        });
      }
  });

  it('straight: equal steps on the chord; full: by way of where the tangents meet; hollow: the circle on the other side', () => {
    const angle = Math.PI / 2;
    const { a, b, meet } = arc(angle);
    const step = scaled(sub(b, a), 1 / 4);
    points(angle, 4, 0).forEach((p, k) => expect(lengthOf(sub(p, add(a, step, k)))).toBeLessThan(1e-12));
    expect(lengthOf(sub(points(angle, 4, 2)[2]!, meet))).toBeLessThan(1e-12);
    expect(lengthOf(sub(points(angle, 4, 2)[1]!, scaled(add(a, meet), 0.5)))).toBeLessThan(1e-12);
    // At a right angle it bends about what lies opposite: where the edge was, at √2.
    const round = points(angle, 8, 1);
    points(angle, 8, -1).forEach((p, k) => expect(p[1] + round[k]![1]).toBeCloseTo(2 * a[1], 12));
    for (const p of points(angle, 8, -1)) expect(lengthOf(sub(p, meet))).toBeCloseTo(1, 12);
  });

  it('between the profiles: between their points', () => {
    const [low, middle, high] = [0, 0.5, 1].map((p) => points(1, 6, p));
    middle!.forEach((p, k) => expect(lengthOf(sub(p, scaled(add(low![k]!, high![k]!), 0.5)))).toBeLessThan(1e-12));
  });

  it('of hardly any turn: near the chord, and no jump to where the turn is', () => {
    const [flat, bent] = [rowWeights(0.0009, 6, 1), rowWeights(0.0011, 6, 1)];
    flat.forEach((w, k) => w.forEach((x, i) => expect(x).toBeCloseTo(bent[k]![i]!, 6)));
  });

  it('drawn: as many parts as its points and their images have between them', () => {
    expect(drawnSegments([[1, 0.7]])).toBe(2);
    expect(drawnSegments([[0.5, 0.2]])).toBe(3);
    expect(
      drawnSegments([
        [0.3, 0],
        [0.5, 0.7],
        [1, 0.7],
      ]),
    ).toBe(6);
    // Out by 1 in the middle is where the tangents meet.
    const row = points(Math.PI / 2, 0, [[1, 1]]);
    expect(lengthOf(sub(row[1]!, arc(Math.PI / 2).meet))).toBeLessThan(1e-12);
    const [, half] = points(Math.PI / 2, 0, [
      [0.5, 0],
      [1, 0],
    ]);
    const { a, b } = arc(Math.PI / 2);
    expect(lengthOf(sub(half!, add(scaled(a, 0.75), b, 0.25)))).toBeLessThan(1e-12);
  });
});

describe('normals across a strip', () => {
  it('turn evenly, and are of length 1', () => {
    for (const angle of ANGLES) {
      const [from, to]: Vec3[] = [
        [0, 0, 1],
        [Math.sin(angle), 0, Math.cos(angle)],
      ];
      const row = turnedNormals(from!, to!, 5);
      for (const n of row) expect(lengthOf(n)).toBeCloseTo(1, 12);
      for (let k = 0; k < 5; k++) expect(turnBetween(row[k]!, row[k + 1]!)).toBeCloseTo(angle / 5, 9);
      expect(lengthOf(sub(row[5]!, to!))).toBeLessThan(1e-12);
    }
  });

  it('that are the same stay', () => {
    const n = unit([1, 2, 3]);
    for (const x of turnedNormals(n, n, 3)) expect(lengthOf(sub(x, n))).toBeLessThan(1e-12);
  });
});
