import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Flat } from '../../mesh/index.ts';
import { apart, cornerAngle, ringArea } from './flatMesh.ts';
import { QUAD_GOALS, quadFace, type QuadLayout } from './quadFace.ts';

const circle = (n: number, r: number, x = 0, y = 0, turn = 0): Flat[] =>
  Array.from({ length: n }, (_, i) => {
    const a = turn + (2 * Math.PI * i) / n;
    return [x + r * Math.cos(a), y + r * Math.sin(a)];
  });
const hole = (n: number, r: number, x = 0, y = 0, turn = 0) => circle(n, r, x, y, turn).reverse();
const rectangle = (w: number, h: number, parts = [1, 1]): Flat[] => {
  const at: Flat[] = [
    [-w / 2, -h / 2],
    [w / 2, -h / 2],
    [w / 2, h / 2],
    [-w / 2, h / 2],
  ];
  return at.flatMap((a, i) =>
    Array.from(
      { length: parts[i % 2]! },
      (_, s): Flat => [0, 1].map((k) => a[k]! + ((at[(i + 1) % 4]![k]! - a[k]!) * s) / parts[i % 2]!) as Flat,
    ),
  );
};

/**
 * Checks a layout: sound polygons of three or four corners that cover the face, each inner edge used once from either
 * side.
 */
function sound(rings: readonly Flat[][], l: QuadLayout): void {
  const whole = rings.reduce((s, r) => s + ringArea(r), 0);
  const places = (p: number[]) => p.map((v) => l.points[v]!);
  expect(l.polygons.reduce((s, p) => s + ringArea(places(p)), 0)).toBeCloseTo(whole, 9);
  expect(l.polygons.every((p) => (p.length === 3 || p.length === 4) && ringArea(places(p)) > 0)).toBe(true);
  expect(l.polygons.filter((p) => p.length === 3)).toHaveLength(l.triangles);
  const edges = l.polygons.flatMap((p) => p.map((v, i) => `${v},${p[(i + 1) % p.length]!}`));
  expect(new Set(edges).size).toBe(edges.length);
  const alone = edges.filter((e) => !edges.includes(e.split(',').reverse().join()));
  // The boundary, no more: its points come first.
  let at = 0;
  const boundary = rings.flatMap((r) => {
    const begin = at;
    at += r.length;
    return r.map((_, i) => `${begin + i},${begin + ((i + 1) % r.length)}`);
  });
  expect(alone.sort()).toEqual(boundary.sort());
  rings.flat().forEach((p, i) => expect(l.points[i]).toEqual(p));
}
const sharpest = (l: QuadLayout) =>
  Math.min(
    ...l.polygons.flatMap((p) =>
      p.map((v, i) =>
        cornerAngle(l.points[p[(i + p.length - 1) % p.length]!]!, l.points[v]!, l.points[p[(i + 1) % p.length]!]!),
      ),
    ),
  );

const FACES: Record<string, Flat[][]> = {
  'a plate with a hole of 8': [rectangle(2, 2), hole(8, 0.5)],
  'a plate with a hole of 16': [rectangle(2, 2), hole(16, 0.5)],
  'a plate with a hole of 32, its edges split': [rectangle(2, 2, [4, 4]), hole(32, 0.5)],
  'a hole out of the middle': [rectangle(2, 2), hole(16, 0.4, 0.3, 0.2)],
  'two holes': [rectangle(3, 2, [4, 2]), hole(16, 0.4, -0.7), hole(16, 0.4, 0.7)],
  'an L': [
    [
      [0, 0],
      [3, 0],
      [3, 1],
      [1, 1],
      [1, 3],
      [0, 3],
    ],
  ],
  'a disc': [circle(32, 1)],
  'a ring': [circle(48, 1), hole(16, 0.4)],
  'a wheel with teeth': [
    Array.from({ length: 12 }, (_, i) =>
      (
        [
          [-0.25, 0.8],
          [-0.15, 1],
          [0.15, 1],
          [0.25, 0.8],
        ] as const
      ).map(([f, r]): Flat => [r * Math.cos(((i + f) * Math.PI) / 6), r * Math.sin(((i + f) * Math.PI) / 6)]),
    ).flat(),
    hole(24, 0.35),
  ],
};

describe('a face laid out in quads', () => {
  it.each(Object.keys(FACES))('%s: quads alone, over all of it', (name) => {
    const rings = FACES[name]!;
    const l = quadFace(rings, 'shape')!;
    sound(rings, l);
    expect(l.triangles).toBe(0);
    expect(sharpest(l)).toBeGreaterThan(12);
  });

  it('leaves one triangle where the boundaries have an odd number of edges', () => {
    for (const rings of [[circle(9, 1)], [rectangle(2, 2), hole(7, 0.5)], [circle(5, 1)]]) {
      const l = quadFace(rings, 'shape')!;
      sound(rings, l);
      expect(l.triangles).toBe(1);
    }
  });

  it('is even about the mirror lines of the face', () => {
    for (const name of ['a plate with a hole of 32, its edges split', 'two holes', 'a disc', 'a ring']) {
      const l = quadFace(FACES[name]!, 'shape')!;
      expect(l.mirrors, name).toBeGreaterThan(1);
      const middles = l.polygons.map(
        (p) => [0, 1].map((k) => p.reduce((s, v) => s + l.points[v]![k]!, 0) / p.length) as Flat,
      );
      for (const image of [([x, y]: Flat): Flat => [-x, y], ([x, y]: Flat): Flat => [x, -y]])
        for (const p of middles)
          expect(
            middles.some((q) => apart(q, image(p)) < 1e-6),
            name,
          ).toBe(true);
    }
  });

  it('comes onto itself when it is turned, as the face does, where that has no mirror line', () => {
    const turned =
      (by: number) =>
      ([x, y]: Flat): Flat => [Math.cos(by) * x - Math.sin(by) * y, Math.sin(by) * x + Math.cos(by) * y];
    const pinwheel = (n: number): Flat[] =>
      Array.from({ length: n }, (_, i) =>
        (
          [
            [0.6, 0],
            [1.3, 0.25],
            [1.1, 0.75],
          ] as const
        ).map(([x, y]) => turned((2 * Math.PI * i) / n)([x, y])),
      ).flat();
    const cases: [string, Flat[][], number][] = [
      [
        'a plate with two holes on its diagonal',
        [rectangle(3, 2, [6, 4]), hole(16, 0.3, -0.8, -0.4), hole(16, 0.3, 0.8, 0.4)],
        2,
      ],
      [
        'a plate with two holes on its diagonal and one in the middle',
        [rectangle(3, 2, [6, 4]), hole(12, 0.25), hole(16, 0.25, -0.9, -0.5), hole(16, 0.25, 0.9, 0.5)],
        2,
      ],
      ['a pinwheel of four', [pinwheel(4)], 4],
      ['a pinwheel of six with a hole', [pinwheel(6), hole(12, 0.3)], 6],
    ];
    for (const [name, rings, turns] of cases) {
      const l = quadFace(rings, 'shape')!;
      sound(rings, l);
      expect([name, l.possible, l.mirrors, l.triangles]).toEqual([name, turns, expect.any(Number), 0]);
      expect(l.mirrors, name).toBeGreaterThan(1);
      const middles = l.polygons.map(
        (p) => [0, 1].map((k) => p.reduce((s, v) => s + l.points[v]![k]!, 0) / p.length) as Flat,
      );
      for (const p of middles)
        expect(
          middles.some((q) => apart(q, turned((2 * Math.PI) / l.mirrors)(p)) < 1e-6),
          name,
        ).toBe(true);
    }
  });

  it('gives fewer faces where they are asked for', () => {
    const counts = QUAD_GOALS.map(
      (goal) => quadFace(FACES['a plate with a hole of 32, its edges split']!, goal)!.polygons.length,
    );
    expect(counts[1]).toBeLessThan(counts[0]!);
  });

  it('comes out the same from the same face', () => {
    const [a, b] = [0, 1].map(() => quadFace(FACES['a hole out of the middle']!, 'shape')!);
    expect(a).toEqual(b);
  });

  it('is sound on any star with a hole, or says that there is no way', () => {
    const star = fc.record({
      n: fc.integer({ min: 5, max: 24 }),
      seed: fc.integer(),
      sides: fc.integer({ min: 3, max: 12 }),
    });
    fc.assert(
      fc.property(star, ({ n, seed, sides }) => {
        const r = (i: number) => 1 + 0.45 * Math.sin(seed * (i + 1) * 12.9898);
        const rings = [
          Array.from({ length: n }, (_, i): Flat => [
            r(i) * Math.cos((2 * Math.PI * i) / n),
            r(i) * Math.sin((2 * Math.PI * i) / n),
          ]),
          hole(sides, 0.3, 0.05, 0.02),
        ];
        const l = quadFace(rings, 'shape');
        expect(l).not.toBeNull();
        sound(rings, l!);
        expect(l!.triangles % 2).toBe((n + sides) % 2);
      }),
      { numRuns: 60 },
    );
  }, 60_000);

  it('stops when it is told to', () => {
    let asked = 0;
    const stop = () => {
      if (++asked > 5) throw new Error('stopped');
    };
    expect(() => quadFace(FACES['a ring']!, 'shape', { check: stop })).toThrow('stopped');
  });
});
