import { describe, expect, it } from 'vitest';
import type { Flat } from '../../../mesh/index.ts';
import { seededRandom } from '../../../shapes/index.ts';
import { cornerAngle, ringArea } from '../flatMesh.ts';
import type { QuadGoal } from '../quadFace.ts';
import { Draft } from './draft.ts';
import { fillBand, fillStrip } from './bandFill.ts';
import { lineLayout, type LineLayout } from './lineLayout.ts';

type Face = Flat[][];
const arc = (n: number, r: number, x = 0, y = 0, turn = 0): Flat[] =>
  Array.from({ length: n }, (_, i): Flat => {
    const a = turn + (2 * Math.PI * i) / n;
    return [x + r * Math.cos(a), y + r * Math.sin(a)];
  });
const round = (n: number, r: number, x = 0, y = 0, turn = 0): Flat[] => arc(n, r, x, y, turn).reverse();
const rectangle = (w: number, h: number): Flat[] => [
  [0, 0],
  [w, 0],
  [w, h],
  [0, h],
];
/** An opening with rounded corners of k edges each. */
const opening = (x: number, y: number, w: number, h: number, r: number, k: number): Flat[] =>
  [
    [1, -1, -90],
    [1, 1, 0],
    [-1, 1, 90],
    [-1, -1, 180],
  ]
    .flatMap(([sx, sy, from]) =>
      Array.from({ length: k + 1 }, (_, i): Flat => {
        const a = ((from! + (90 * i) / k) * Math.PI) / 180;
        return [x + sx! * (w / 2 - r) + r * Math.cos(a), y + sy! * (h / 2 - r) + r * Math.sin(a)];
      }),
    )
    .reverse();
const turned = (face: Face, by: number): Face =>
  face.map((r) => r.map(([x, y]) => [x * Math.cos(by) - y * Math.sin(by), x * Math.sin(by) + y * Math.cos(by)]));

const PLATE: Face = [rectangle(300, 200), round(32, 50, 150, 100)];
const STRIP: Face = [rectangle(1000, 60), ...Array.from({ length: 10 }, (_, i) => round(16, 10, 50 + 100 * i, 30))];
const GRID: Face = [
  rectangle(400, 300),
  ...Array.from({ length: 12 }, (_, i) => round(16, 25, 50 + 100 * (i % 4), 50 + 100 * Math.floor(i / 4))),
];
const ELL: Face = [
  [
    [0, 0],
    [400, 0],
    [400, 150],
    [160, 150],
    [160, 350],
    [0, 350],
  ],
  round(24, 45, 80, 75),
  round(16, 30, 300, 75),
  round(12, 35, 80, 270),
];
const WALL: Face = [
  [
    [0, 0],
    [250, 0],
    [250, 1450],
    [1050, 1450],
    [1050, 0],
    [2400, 0],
    [2400, 1800],
    [0, 1800],
  ],
  opening(1750, 1050, 560, 420, 90, 8),
  ...[1400, 1600, 1800, 2000].map((x) => round(32, 40, x, 250)),
];

/** Checks a layout: quads that cover the face, each edge used once from either side. */
function sound(face: Face, l: LineLayout): void {
  const places = (q: readonly number[]) => q.map((v) => l.points[v]!);
  const whole = face.reduce((s, r) => s + ringArea(r), 0);
  expect(l.quads.reduce((s, q) => s + ringArea(places(q)), 0) / whole).toBeCloseTo(1, 9);
  expect(l.quads.every((q) => q.length === 4 && ringArea(places(q)) > 0)).toBe(true);
  const edges = l.quads.flatMap((q) => q.map((v, i) => `${v},${q[(i + 1) % 4]!}`));
  expect(new Set(edges).size).toBe(edges.length);
  const all = new Set(edges);
  const alone = edges.filter((e) => !all.has(e.split(',').reverse().join()));
  let at = 0;
  const boundary = face.flatMap((ring, r) => {
    const begin = at;
    at += ring.length;
    return ring.flatMap((_, i) => {
      const path = [begin + i, ...l.splits[r]![i]!, begin + ((i + 1) % ring.length)];
      return path.slice(1).map((v, k) => `${path[k]!},${v}`);
    });
  });
  expect(alone.sort()).toEqual(boundary.sort());
  face.flat().forEach((p, i) => expect(l.points[i]).toEqual(p));
}
const sharpest = (l: LineLayout) =>
  Math.min(
    ...l.quads.flatMap((q) =>
      q.map((v, i) => cornerAngle(l.points[q[(i + 3) % 4]!]!, l.points[v]!, l.points[q[(i + 1) % 4]!]!)),
    ),
  );
/** The furthest that a point is from the image of any other about the upright middle line of a rectangle. */
const uneven = (l: LineLayout, face: Face): number => {
  const wide = Math.max(...face[0]!.map((p) => p[0]));
  const used = [...new Set(l.quads.flat())].map((v) => l.points[v]!);
  const off = ([x, y]: Flat) => Math.min(...used.map((q) => Math.hypot(q[0] - (wide - x), q[1] - y)));
  return Math.max(...used.map(off));
};
const laid = (face: Face, goal: QuadGoal = 'shape', price: (ring: number, edge: number) => number = () => 0) =>
  lineLayout(face, { goal, price });
/** Σ (4 − quads) of inner points is that of the corners: four for each hole less one, and none for a rectangle. */
const bound = (face: Face) => 4 * (face.length - 1);

describe('a layout by lines', () => {
  it.each([
    ['plate', PLATE, 68, 4],
    ['plate with a rim of 64', [rectangle(300, 200), round(64, 50, 150, 100)], 132, 4],
    ['strip', STRIP, 306, 40],
    ['grid', GRID, 340, 48],
  ] as [string, Face, number, number][])('%s: no pole but the corners of boxes, and even', (_, face, quads, poles) => {
    const l = laid(face)!;
    sound(face, l);
    expect([l.poles.length, bound(face)]).toEqual([poles, poles]);
    expect(l.quads.length).toBeLessThanOrEqual(quads);
    expect(sharpest(l)).toBeGreaterThan(40);
    expect([l.mirrors, l.possible]).toEqual([2, 2]);
    expect(uneven(l, face)).toBeLessThan(1e-8);
  });

  it.each([
    ['a hole beside the middle', [rectangle(300, 200), round(32, 40, 215, 145)], 4],
    ['an L with three holes', ELL, 13],
    ['a wall with door, window and drains', WALL, 32],
  ] as [string, Face, number][])('%s: few poles, no sharp corner; turned it is the same', (_, face, poles) => {
    const l = laid(face)!;
    sound(face, l);
    expect(l.poles.length).toBeLessThanOrEqual(poles);
    expect(sharpest(l)).toBeGreaterThan(28);
    const other = laid(turned(face, 0.3))!;
    sound(turned(face, 0.3), other);
    expect([other.quads.length, other.poles.length]).toEqual([l.quads.length, l.poles.length]);
  });

  describe('between two circles', () => {
    const flange: Face = [
      arc(96, 200),
      round(64, 100),
      ...Array.from({ length: 10 }, (_, i) => {
        const a = (2 * Math.PI * i) / 10;
        return round(24, 14, 155 * Math.cos(a), 155 * Math.sin(a), a);
      }),
    ];

    it('a flange: spokes and arcs, a box round each hole, no edge of a rim split', () => {
      const l = laid(flange)!;
      sound(flange, l);
      expect(l.quads.length).toBeLessThanOrEqual(656);
      expect(l.poles.length).toBeLessThanOrEqual(66);
      expect(sharpest(l)).toBeGreaterThan(28);
      expect(l.splits.flat(2)).toEqual([]);
      // Nothing has to be split, so it may be dear.
      expect(laid([arc(96, 200), round(64, 100)], 'shape', () => Infinity)).not.toBeNull();
    });

    it.each([
      [64, 64, 0],
      [48, 48, 0],
    ])('rims of %i and %i: spokes alone', (n, k, poles) => {
      const face: Face = [arc(n, 50, 7, 9, 0.1), round(k, 40, 7, 9, 0.1)];
      const l = laid(face)!;
      sound(face, l);
      expect([l.poles.length, l.mirrors]).toEqual([poles, l.possible]);
      expect(sharpest(l)).toBeGreaterThan(80);
    });

    it('rims of unlike counts: nests bring the dense one down', () => {
      const face: Face = [arc(64, 100), round(32, 30)];
      const l = laid(face)!;
      sound(face, l);
      const valence = new Map<number, number>();
      for (const v of l.quads.flat()) valence.set(v, (valence.get(v) ?? 0) + 1);
      expect(l.poles.every((v) => [3, 5].includes(valence.get(v)!))).toBe(true);
      expect(sharpest(l)).toBeGreaterThan(28);
    });

    it('an odd rim beside an even one cannot be laid in quads alone', () => {
      expect(laid([arc(63, 100), round(32, 30)])).toBeNull();
    });
  });

  it('its own splits, given as vertices, come to the same layout', () => {
    const l = laid(PLATE)!;
    const given = PLATE.map((ring, r) => ring.flatMap((p, i) => [p, ...l.splits[r]![i]!.map((v) => l.points[v]!)]));
    const again = laid(given)!;
    sound(given, again);
    expect([again.quads.length, again.poles.length, again.splits.flat(2).length]).toEqual([68, 4, 0]);
    // And the ways of the first one are enough for that.
    const like = lineLayout(given, { goal: 'shape', price: () => 0, like: [l.ways] })!;
    expect([like.quads.length, like.ways]).toEqual([68, l.ways]);
  });

  it('does not hang on the order of holes', () => {
    const l = laid(ELL)!;
    const other = laid([ELL[0]!, ELL[3]!, ELL[1]!, ELL[2]!])!;
    expect([other.quads.length, other.poles.length]).toEqual([l.quads.length, l.poles.length]);
  });

  it('goals: a ring along each rim for a subdivision, fewer quads for the fewest', () => {
    const [fewest, shape, smooth] = (['fewest', 'shape', 'subdivision'] as const).map((goal) => laid(PLATE, goal)!);
    expect(fewest!.quads.length).toBeLessThanOrEqual(shape!.quads.length);
    expect([smooth!.quads.length, smooth!.poles.length]).toEqual([100, 4]);
    // Points that were moved have their images to the last digits.
    expect([smooth!.mirrors, uneven(smooth!, PLATE) < 1e-8]).toEqual([2, true]);
    // All of a ring's quads have one edge on the rim: no pole stands on it.
    const rim = new Set(Array.from({ length: 32 }, (_, i) => 4 + i));
    expect(smooth!.quads.filter((q) => q.filter((v) => rim.has(v)).length === 2)).toHaveLength(32);
  });

  it('splits are dear where they make quads elsewhere, and never made where they may not be', () => {
    const splits = (price: number) => laid(PLATE, 'shape', () => price)!.splits.flat(2).length;
    expect(splits(8)).toBeLessThan(splits(0));
    expect(laid(PLATE, 'shape', () => Infinity)).toBeNull();
    // Lines lead from every side of the box: one side that may not be split is enough for none.
    expect(laid(PLATE, 'shape', (ring, edge) => (ring === 0 && edge === 1 ? Infinity : 0))).toBeNull();
  });

  it('leaves outlines that do not run in two ways, and holes without room', () => {
    expect(laid([arc(7, 100)])).toBeNull();
    expect(laid([arc(3, 100), round(12, 20)])).toBeNull();
    expect(laid([rectangle(100, 60), round(16, 12, 40, 25), round(16, 12, 58, 43)])).toBeNull();
  });

  it('random plates: sound, or none', () => {
    const random = seededRandom(5);
    let done = 0;
    for (let run = 0; run < 12; run++) {
      const [w, h] = [200 + 200 * random(), 120 + 150 * random()];
      const holes: [number, number, number][] = [];
      for (let k = 0; k < 30 && holes.length < 3; k++) {
        const r = 8 + 25 * random();
        const [x, y] = [w * random(), h * random()];
        const inside = x > r + 4 && x < w - r - 4 && y > r + 4 && y < h - r - 4;
        if (inside && holes.every(([a, b, s]) => Math.hypot(x - a, y - b) > r + s + 5)) holes.push([x, y, r]);
      }
      const counts = [8, 9, 12, 16, 24, 32];
      const face: Face = [
        rectangle(w, h),
        ...holes.map(([x, y, r]) => round(counts[Math.floor(counts.length * random())]!, r, x, y, 6 * random())),
      ];
      const l = laid(face);
      if (!l) continue;
      done++;
      sound(face, l);
      expect(sharpest(l)).toBeGreaterThan(20);
    }
    expect(done).toBeGreaterThan(8);
  });
});

describe('a band between two loops', () => {
  /** A draft of two rings about one middle, and their points. */
  const rings = (n: number, k: number) => {
    const m = new Draft();
    const [inner, outer] = [arc(n, 10), arc(k, 20)].map((r) => r.map((p) => m.point(p))) as [number[], number[]];
    return { m, inner, outer };
  };

  it('as many edges: lanes alone', () => {
    const { m, inner, outer } = rings(12, 12);
    expect(fillBand(m, inner, outer, [0, 3, 6, 9], 1)).toBe(true);
    expect([m.quads.length, m.points.length]).toEqual([12, 24]);
  });

  it.each([
    [16, 8, 1],
    [32, 8, 1],
    [8, 24, 1],
    [24, 16, 2],
  ])('%i edges to %i, reach %i: nests of 2k + w + kw quads, two poles of 3 in each', (n, k, reach) => {
    const { m, inner, outer } = rings(n, k);
    const [dense, coarse] = [Math.max(n, k), Math.min(n, k)];
    const spots = [0, 1, 2, 3].map((s) => (s * k) / 4);
    expect(fillBand(m, inner, outer, spots, reach)).toBe(true);
    const turnedBack = (dense - coarse) / 2;
    const w = 2 * Math.min(reach, coarse / 8);
    // Lanes and nests: each nest of share s makes 2 s + w + s w quads in place of w lanes.
    expect(m.quads.length).toBe(coarse + 2 * turnedBack + w * turnedBack);
    const valence = new Map<number, number>();
    for (const v of m.quads.flat()) valence.set(v, (valence.get(v) ?? 0) + 1);
    const own = [...valence].filter(([v]) => v >= n + k);
    expect(own.filter(([, c]) => c === 3)).toHaveLength(8);
    expect(own.every(([, c]) => c === 3 || c === 4)).toBe(true);
  });

  it('an odd difference cannot be filled, nor can one without a place for a nest', () => {
    const one = rings(13, 8);
    expect(fillBand(one.m, one.inner, one.outer, [0], 1)).toBe(false);
    const two = rings(12, 8);
    expect(fillBand(two.m, two.inner, two.outer, [], 1)).toBe(false);
  });

  it('a strip between two runs: one nest, where it lies best', () => {
    const m = new Draft();
    const low = Array.from({ length: 9 }, (_, i) => m.point([i, 0]));
    const high = Array.from({ length: 5 }, (_, i) => m.point([2 * i, 5]));
    expect(fillStrip(m, low, high, 1)).toBe(true);
    expect(m.quads.reduce((s, q) => s + ringArea(m.places(q)), 0)).toBeCloseTo(40, 9);
    expect(fillStrip(m, low.slice(1), high, 1)).toBe(false);
  });
});
