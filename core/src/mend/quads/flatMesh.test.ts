import { describe, expect, it } from 'vitest';
import type { Flat } from '../../mesh/index.ts';
import {
  apart,
  badness,
  cornerAngle,
  crosses,
  edgesOf,
  FlatMesh,
  lineBetween,
  meanSize,
  ringArea,
  sizesFrom,
  towards,
} from './flatMesh.ts';
import { isConvex } from './pairs.ts';
import { ringRound } from './ringRound.ts';

const square: Flat[] = [
  [0, 0],
  [4, 0],
  [4, 4],
  [0, 4],
];
const circle = (n: number, r: number): Flat[] =>
  Array.from({ length: n }, (_, i) => [r * Math.cos((2 * Math.PI * i) / n), r * Math.sin((2 * Math.PI * i) / n)]);

describe('measures on a plane', () => {
  it('lengths, places between, areas, edges', () => {
    expect(apart([1, 2], [4, 6])).toBe(5);
    expect(towards([1, 2], [5, 10], 0.25)).toEqual([2, 4]);
    expect([ringArea(square), ringArea([...square].reverse())]).toEqual([16, -16]);
    expect(
      edgesOf([
        [3, 1, 2],
        [7, 8],
      ]),
    ).toEqual([
      [3, 1],
      [1, 2],
      [2, 3],
      [7, 8],
      [8, 7],
    ]);
  });

  it('angles within a polygon that runs round to the left', () => {
    for (const [c, angle] of [
      [[-1, 1], 45],
      [[0, 1], 90],
      [[1, 1], 135],
      [[1, 0], 180],
      [[0, -1], 270],
      [[-1, -1], 315],
    ] as const)
      expect(cornerAngle(c as unknown as Flat, [0, 0], [-1, 0]), `${angle}`).toBeCloseTo(360 - angle, 9);
    for (let i = 0; i < 4; i++) expect(cornerAngle(square[(i + 3) % 4]!, square[i]!, square[(i + 1) % 4]!)).toBe(90);
  });

  it('a ring is convex when every corner turns left, and none hardly', () => {
    const dart: Flat[] = [
      [0, 0],
      [4, 0],
      [1, 1],
      [0, 4],
    ];
    expect([isConvex(square), isConvex(circle(7, 3)), isConvex(dart), isConvex([...square].reverse())]).toEqual([
      true,
      true,
      false,
      false,
    ]);
    // A corner of 179.95° is flat.
    const nearly = (h: number): Flat[] => [
      [0, 0],
      [2, -h],
      [4, 0],
      [4, 4],
      [0, 4],
    ];
    expect([isConvex(nearly(0.01)), isConvex(nearly(0.0005)), isConvex(nearly(0))]).toEqual([true, false, false]);
  });

  it('stretches cross where each has the other’s ends on both of its sides', () => {
    expect(crosses([0, 0], [4, 4], [0, 4], [4, 0])).toBe(true);
    expect(crosses([0, 0], [1, 1], [0, 4], [4, 0])).toBe(false);
    expect(crosses([0, 4], [4, 0], [0, 0], [1, 1])).toBe(false);
    expect(crosses([0, 0], [4, 0], [0, 1], [4, 1])).toBe(false);
  });
});

describe('how poor a polygon is', () => {
  it('a square is not at all, whatever its size and turn; a rectangle is not, up to four to one', () => {
    const turned = circle(4, 100);
    expect([badness(square), badness(turned)]).toEqual([0, expect.closeTo(0, 9)]);
    const strip = (w: number): Flat[] => [
      [0, 0],
      [w, 0],
      [w, 1],
      [0, 1],
    ];
    expect([badness(strip(3.9)), badness(strip(6))]).toEqual([0, expect.closeTo(0.02 * 4, 9)]);
  });

  it('an even triangle counts one, a leaning quad by the squares of its angles, a dart very much', () => {
    expect(badness(circle(3, 2))).toBeCloseTo(1, 9);
    // A rhomb of 60°: four corners off by 30°.
    const rhomb: Flat[] = [
      [0, 0],
      [2, 0],
      [3, Math.sqrt(3)],
      [1, Math.sqrt(3)],
    ];
    expect(badness(rhomb)).toBeCloseTo(4 / 9, 9);
    expect(
      badness([
        [0, 0],
        [4, 0],
        [1, 1],
        [0, 4],
      ]),
    ).toBeGreaterThan(20);
    // Ten degrees are ten below what is poor.
    const sharp = (10 * Math.PI) / 180;
    const thin: Flat[] = [
      [0, 0],
      [1, 0],
      [1 + Math.cos(sharp), Math.sin(sharp)],
      [Math.cos(sharp), Math.sin(sharp)],
    ];
    expect(badness(thin)).toBeCloseTo(4 * (80 / 90) ** 2 + 2 * 0.02 * 100 + 2 * 0.01 * 25, 6);
  });
});

describe('sizes', () => {
  const sides = square.map((a, i) => [a, square[(i + 1) % 4]!] as const);

  it('are those of the nearest edges, grow with the way from them, and have an end', () => {
    const size = sizesFrom(
      [
        ...sides,
        [
          [1, 1],
          [1.5, 1],
        ],
      ],
      { growth: 0.5, most: 3 },
    );
    expect(size([1.2, 1])).toBeCloseTo(0.5, 9);
    expect(size([1.2, 2])).toBeCloseTo(1, 9);
    expect(size([1.5, 4])).toBeCloseTo(0.5 + 0.5 * 3, 9);
    expect(sizesFrom(sides, { growth: 0, most: 3 })([2, 2])).toBe(3);
    expect(sizesFrom(sides, { growth: 0, most: 9 })([2, 2])).toBe(4);
    // A long edge near by does not hide a short one further off.
    const mixed = sizesFrom(
      [
        [
          [0, 0],
          [10, 0],
        ],
        [
          [0, 3],
          [1, 3],
        ],
      ],
      { growth: 0.5, most: 99 },
    );
    expect(mixed([0.5, 0.5])).toBeCloseTo(1 + 0.5 * 2.5, 9);
  });

  it('have a mean along a stretch; points between two are stepped by the sizes at its ends', () => {
    const size = ([x]: Flat) => 1 + x;
    expect(meanSize(size, [0, 0], [10, 0])).toBeCloseTo(6, 12);
    const m = new FlatMesh();
    const [a, b] = [m.point([0, 0]), m.point([12, 0])];
    expect(m.places(lineBetween(m, a, b, 2, () => 1, 'free'))).toEqual([
      [4, 0],
      [8, 0],
    ]);
    // Steps of one, two and three parts: 2, 4 and 6 mm.
    expect(m.places(lineBetween(m, a, b, 2, ([x]) => (x === 0 ? 1 : 3), 'free'))).toEqual([
      [expect.closeTo(2, 12), 0],
      [expect.closeTo(6, 12), 0],
    ]);
    expect(lineBetween(m, a, b, 0, () => 1, 'free')).toEqual([]);
    expect(m.holds.slice(2)).toEqual(Array(4).fill('free'));
  });
});

describe('a ring of quads round a hole', () => {
  it('has one for each edge, as wide as the edges are long where there is room, and narrower where there is less', () => {
    const laid = (half: number) => {
      const m = new FlatMesh();
      const outer: Flat[] = [
        [-half, -half],
        [half, -half],
        [half, half],
        [-half, half],
      ];
      const loops = [outer, circle(16, 2).reverse()].map((r) => r.map((p) => m.point(p)));
      return { m, inner: ringRound(m, loops, 1) };
    };
    const edge = 4 * Math.sin(Math.PI / 16);
    const wide = laid(10);
    expect([wide.m.live().length, wide.inner!.length]).toEqual([16, 16]);
    for (const p of wide.m.places(wide.inner!))
      expect([Math.hypot(...p) - 2 > 0.6 * edge, Math.hypot(...p) - 2 < 1.4 * edge]).toEqual([true, true]);
    for (const half of [2.5, 2.05]) {
      const { m, inner } = laid(half);
      expect(inner).toHaveLength(16);
      for (const p of m.places(inner!)) expect(Math.max(...p.map(Math.abs))).toBeLessThan(half);
      for (const i of m.live()) expect(ringArea(m.places(m.polygons[i]!))).toBeGreaterThan(0);
    }
  });
});
