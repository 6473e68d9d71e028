import { describe, expect, it } from 'vitest';
import { offSegment, type Flat } from '../../mesh/index.ts';
import { apart, cornerAngle, FlatMesh, ringArea, sizesFrom, type Sizing } from './flatMesh.ts';
import { fillByMatching } from './matchFill.ts';
import { SplitFill } from './splitFill.ts';

const circle = (n: number, r: number): Flat[] =>
  Array.from({ length: n }, (_, i) => [r * Math.cos((2 * Math.PI * i) / n), r * Math.sin((2 * Math.PI * i) / n)]);
/** A ring with each of its sides in so many parts. */
const inParts = (ring: readonly Flat[], parts: number): Flat[] =>
  ring.flatMap((a, i) => {
    const b = ring[(i + 1) % ring.length]!;
    return Array.from({ length: parts }, (_, s): Flat => [
      a[0] + ((b[0] - a[0]) * s) / parts,
      a[1] + ((b[1] - a[1]) * s) / parts,
    ]);
  });
const square: Flat[] = [
  [-1, -1],
  [1, -1],
  [1, 1],
  [-1, 1],
];
const L: Flat[] = [
  [0, 0],
  [2, 0],
  [2, 1],
  [1, 1],
  [1, 2],
  [0, 2],
];
const hole = (n: number, r: number) => circle(n, r).reverse();

const FACES: Record<string, Flat[][]> = {
  'a square of even sides': [inParts(square, 8)],
  'an L': [inParts(L, 5)],
  'a disc': [circle(40, 1)],
  'a square with a fine hole': [inParts(square, 8), hole(24, 0.3)],
  'a square, one side of which is fine': [
    [...inParts([square[0]!, square[1]!], 20).slice(0, 20), ...inParts(square, 4).slice(4)],
  ],
};
const SIZINGS: readonly Sizing[] = [
  { growth: 0, most: Infinity },
  { growth: 0.3, most: 0.3 },
];
// Where sides differ quads can only be as large as wanted if they may grow.
const CASES = Object.keys(FACES).flatMap((name) =>
  SIZINGS.slice(name.endsWith('fine') ? 1 : 0).map((sizing) => [name, sizing.growth, sizing] as const),
);

/** A face in a flat mesh, and how large quads are to be over it. */
function laid(rings: readonly Flat[][], sizing: Sizing) {
  const m = new FlatMesh();
  const loops = rings.map((r) => r.map((p) => m.point(p)));
  const sides = rings.flatMap((r) => r.map((p, i) => [p, r[(i + 1) % r.length]!] as const));
  return { m, loops, sides, size: sizesFrom(sides, sizing) };
}

/** Checks a layout: polygons of three or four corners that cover the face once; returns how many of each there are. */
function sound(m: FlatMesh, rings: readonly Flat[][]): { quads: number; triangles: number } {
  const live = m.live().map((i) => m.polygons[i]!);
  const whole = rings.reduce((s, r) => s + ringArea(r), 0);
  expect(live.reduce((s, p) => s + ringArea(m.places(p)), 0)).toBeCloseTo(whole, 9);
  expect(live.every((p) => (p.length === 3 || p.length === 4) && new Set(p).size === p.length)).toBe(true);
  const edges = new Set(live.flatMap((p) => p.map((v, i) => `${v},${p[(i + 1) % p.length]!}`)));
  expect(edges.size).toBe(live.reduce((s, p) => s + p.length, 0));
  // Boundaries are never split.
  const alone = [...edges].filter((e) => !edges.has(e.split(',').reverse().join()));
  expect(alone.length).toBe(rings.flat().length);
  return { quads: live.filter((p) => p.length === 4).length, triangles: live.filter((p) => p.length === 3).length };
}

/** How many quads of the wanted sizes there is room for: one over the square of the size, summed over the face. */
function roomFor(rings: readonly Flat[][], size: (p: Flat) => number): number {
  const within = (p: Flat) =>
    rings.reduce(
      (s, ring) =>
        s +
        ring.reduce((n, a, i) => {
          const b = ring[(i + 1) % ring.length]!;
          return a[1] > p[1] !== b[1] > p[1] && p[0] < a[0] + ((p[1] - a[1]) * (b[0] - a[0])) / (b[1] - a[1])
            ? n + 1
            : n;
        }, 0),
      0,
    ) %
      2 ===
    1;
  const step = 0.04;
  let sum = 0;
  for (let x = -1 + step / 2; x < 2; x += step)
    for (let y = -1 + step / 2; y < 2; y += step) if (within([x, y])) sum += (step / size([x, y])) ** 2;
  return sum;
}

describe('a face filled by matched triangles', () => {
  it.each(CASES)('%s, growth %d: quads of the wanted sizes, whose points keep apart', (name, _growth, sizing) => {
    const rings = FACES[name]!;
    const { m, loops, sides, size } = laid(rings, sizing);
    expect(fillByMatching(m, loops, sizing, () => undefined)).toBe(true);
    const { quads, triangles } = sound(m, rings);
    expect(triangles).toBeLessThanOrEqual(rings.flat().length % 2);
    const room = roomFor(rings, size);
    expect([quads / room > 0.6, quads / room < 1.5], `${quads} for ${room}`).toEqual([true, true]);
    const free = [...m.points.keys()].filter((v) => m.holds[v] === 'free');
    expect(free.length).toBeGreaterThan(0);
    for (const v of free) {
      const p = m.points[v]!;
      for (const [w, q] of m.points.entries())
        if (w !== v) expect(apart(p, q)).toBeGreaterThanOrEqual(0.62 * Math.min(size(p), size(q)) * (1 - 1e-9));
      for (const [a, b] of sides)
        expect(offSegment(p, a, b)).toBeGreaterThanOrEqual(0.45 * Math.min(apart(a, b), 1.6 * size(p)) * (1 - 1e-9));
    }
  });

  it('asks on its way whether it is to go on', () => {
    const { m, loops } = laid(FACES['a disc']!, SIZINGS[0]!);
    const stop = () => {
      throw new Error('stopped');
    };
    expect(() => fillByMatching(m, loops, SIZINGS[0]!, stop)).toThrow('stopped');
  });
});

describe('a face filled by parting it again and again', () => {
  it.each(CASES)(
    '%s, growth %d: about as many quads as there is room for, their sides about as long as wanted',
    (name, _growth, sizing) => {
      const rings = FACES[name]!;
      const { m, loops, size } = laid(rings, sizing);
      expect(new SplitFill(m, loops, sizing, () => undefined).fill()).toBe(true);
      const { quads, triangles } = sound(m, rings);
      expect(triangles).toBeLessThanOrEqual(rings.flat().length % 2);
      const room = roomFor(rings, size);
      expect([quads / room > 0.6, quads / room < 1.7], `${quads} for ${room}`).toEqual([true, true]);
      const lengths = m.live().flatMap((i) => {
        const p = m.places(m.polygons[i]!);
        return p.map((a, k) => {
          const b = p[(k + 1) % p.length]!;
          return apart(a, b) / size([(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]);
        });
      });
      const mean = lengths.reduce((s, x) => s + x, 0) / lengths.length;
      expect([mean > 0.75, mean < 1.35], `${mean}`).toEqual([true, true]);
    },
  );

  it('a square of even sides comes to a chequer: right angles, all sides as long as wanted', () => {
    const { m, loops } = laid([inParts(square, 8)], SIZINGS[0]!);
    new SplitFill(m, loops, SIZINGS[0]!, () => undefined).fill();
    for (const i of m.live()) {
      const p = m.places(m.polygons[i]!);
      for (let k = 0; k < 4; k++) {
        expect(cornerAngle(p[(k + 3) % 4]!, p[k]!, p[(k + 1) % 4]!)).toBeCloseTo(90, 9);
        expect(apart(p[k]!, p[(k + 1) % 4]!)).toBeCloseTo(0.25, 9);
      }
    }
    expect(m.live()).toHaveLength(64);
  });
});
