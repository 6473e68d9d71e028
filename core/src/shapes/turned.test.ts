import { describe, expect, it } from 'vitest';
import { areaAndVolume, faceBend, faceCount, genus, isClosed, vertexCount } from '../mesh/index.ts';
import { signedArea2, type Point2 } from './outlines.ts';
import { turnedBody } from './turned.ts';

/** ∬ r dA over a counter-clockwise profile: the volume that a turn by one radian sweeps (Pappus). */
const firstMoment = (p: readonly Point2[]): number =>
  p.reduce((sum, [x0, y0], i) => {
    const [x1, y1] = p[(i + 1) % p.length]!;
    return sum + ((x0 + x1) * (x0 * y1 - x1 * y0)) / 6;
  }, 0);
/** A body of n flat wedges of angle a: each holds sin a instead of a. */
const swept = (p: readonly Point2[], n: number, sweep: number) =>
  n * Math.sin((sweep * Math.PI) / 180 / n) * firstMoment(p);

const flange: Point2[] = [
  [0, 0],
  [48, 0],
  [48, 8],
  [29, 8],
  [24, 30],
  [0, 30],
];
const ring: Point2[] = [
  [20, -4],
  [26, -4],
  [26, 4],
  [20, 4],
];

describe('a turned body', () => {
  it.each([
    ['a flange on its axis', flange, 64, 360, 64, 0],
    ['a ring', ring, 48, 360, 48, 1],
    ['a quarter of a ring', ring, 48, 90, 12, 0],
    ['a part sweep on its axis', flange, 60, 200, 34, 0],
    ['a sweep of less than a flat', ring, 8, 10, 1, 0],
  ] as const)('%s is closed, flat-faced and of the exact volume', (_, profile, segments, sweep, steps, holes) => {
    const m = turnedBody(profile, segments, sweep);
    expect(isClosed(m)).toBe(true);
    expect(genus(m)).toBe(holes);
    expect(areaAndVolume(m).volume / swept(profile, steps, sweep)).toBeCloseTo(1, 12);
    for (let f = 0; f < faceCount(m); f++) expect(faceBend(m, f)).toBeLessThan(1e-9);
  });

  it('is the same whichever way round the profile is drawn', () => {
    const back = turnedBody([...flange].reverse(), 32);
    expect(areaAndVolume(back).volume).toBeCloseTo(areaAndVolume(turnedBody(flange, 32)).volume, 8);
    expect(signedArea2(flange)).toBeGreaterThan(0);
  });

  it('has one vertex for each point on the axis, and a ring for each beside it', () => {
    expect(vertexCount(turnedBody(flange, 32))).toBe(2 + 4 * 32);
    expect(faceCount(turnedBody(flange, 32))).toBe(5 * 32);
  });

  it.each([
    [
      'across the axis',
      [
        [-1, 0],
        [4, 0],
        [4, 3],
      ],
      16,
      360,
      /crosses the axis/,
    ],
    [
      'touching it in a point',
      [
        [0, 0],
        [4, -1],
        [4, 3],
      ],
      16,
      360,
      /single point/,
    ],
    [
      'without area',
      [
        [1, 0],
        [4, 0],
      ],
      16,
      360,
      /three points/,
    ],
    [
      'of two segments',
      [
        [1, 0],
        [4, 0],
        [4, 3],
      ],
      2,
      360,
      /3 segments/,
    ],
    [
      'of no sweep',
      [
        [1, 0],
        [4, 0],
        [4, 3],
      ],
      16,
      0,
      /sweep/,
    ],
    [
      'of more than a turn',
      [
        [1, 0],
        [4, 0],
        [4, 3],
      ],
      16,
      361,
      /sweep/,
    ],
  ] as [string, Point2[], number, number, RegExp][])(
    'a profile %s is refused in words',
    (_, profile, n, sweep, why) => {
      expect(() => turnedBody(profile, n, sweep)).toThrow(why);
    },
  );
});
