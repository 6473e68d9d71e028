import { describe, expect, it } from 'vitest';
import { meshFromFaces, placementAffine, transformMesh, unit, type PolyMesh } from '../mesh/index.ts';
import {
  box,
  circleOutline,
  faceSketch,
  offPlane,
  onGrid,
  onPlane,
  prism,
  randomTurn,
  rectangleOutline,
  seededRandom,
  sketchPlane,
  snapTo,
  type Point2,
} from './index.ts';

/** A plate of 60 × 40 × 10 mm with a round hole of 24 flats at (12, 5). */
const plate = prism(
  { points: rectangleOutline(60, 40), holes: [circleOutline(6, 24).map(([x, y]): Point2 => [x + 12, y + 5])] },
  10,
);
const topOf = (m: PolyMesh) => {
  for (let f = 0; f + 1 < m.faceLoops.length; f++) {
    const s = faceSketch(m, f);
    if (s.boundaries.length === 2 && s.axes[2][2] > 0.5) return s;
  }
  throw new Error('no top');
};

describe('the plane of a face', () => {
  it('begins in its middle, along its longest edge, and looks out', () => {
    const s = topOf(plate);
    expect(s.axes.map((a) => a.map((x) => Math.round(x) + 0))).toEqual([
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ]);
    expect(s.turn).toEqual([0, 0, 0]);
    s.origin.forEach((x, k) => expect(x).toBeCloseTo([0, 0, 5][k]!, 12));
    expect(s.boundaries[0]!.map(([x, y]) => [Math.abs(x), Math.abs(y)])).toEqual(
      Array(4).fill([expect.closeTo(30, 9), expect.closeTo(20, 9)]),
    );
    expect(s.circles.length).toBe(1);
    expect(s.circles[0]).toEqual({ at: [expect.closeTo(12, 9), expect.closeTo(5, 9)], radius: expect.closeTo(6, 9) });
  });

  it('turns with the face: its turn is that of its axes, wherever it is', () => {
    const random = seededRandom(4);
    for (let i = 0; i < 40; i++) {
      const r = randomTurn(random);
      const m = transformMesh(plate, [r[0]!, r[1]!, r[2]!, 7, r[3]!, r[4]!, r[5]!, -3, r[6]!, r[7]!, r[8]!, 11]);
      for (let f = 0; f + 1 < m.faceLoops.length; f++) {
        const s = faceSketch(m, f);
        const a = placementAffine({ position: [0, 0, 0], turn: s.turn });
        for (let k = 0; k < 3; k++) for (let j = 0; j < 3; j++) expect(a[4 * j + k]).toBeCloseTo(s.axes[k]![j]!, 9);
        // All of it lies in the plane.
        const begin = m.loopStart[m.faceLoops[f]!]!;
        const p = [0, 1, 2].map((k) => m.positions[3 * m.corners[begin]! + k]!) as [number, number, number];
        offPlane(s, onPlane(s, p)).forEach((x, k) => expect(x).toBeCloseTo(p[k]!, 9));
      }
    }
  });

  it('of any plane: the way along is turned square to the normal, or chosen when there is none', () => {
    const s = sketchPlane([1, 2, 3], [0, 0, 5], [3, 0, 4]);
    expect(s.axes).toEqual([
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ]);
    expect(offPlane(s, [10, 20], 2)).toEqual([11, 22, 5]);
    const up = sketchPlane([0, 0, 0], [0, 0, 1], [0, 0, 1]);
    expect(Math.abs(up.axes[0][2])).toBeLessThan(1e-12);
    expect(unit(up.axes[0])).toEqual(up.axes[0]);
  });

  it('a six-sided face has no circle centre', () => {
    const hex = prism({ points: circleOutline(6, 6) }, 4);
    for (let f = 0; f + 1 < hex.faceLoops.length; f++) expect(faceSketch(hex, f).circles).toEqual([]);
    expect(faceSketch(meshFromFaces([0, 0, 0, 1, 0, 0, 0, 1, 0], [[[0, 1, 2]]]), 0).boundaries[0]!.length).toBe(3);
  });
});

describe('snapping', () => {
  const s = topOf(plate);
  const grid = { step: 5, turn: 0, origin: [0, 0] as Point2 };
  const at = (p: Point2, reach = 1, g: typeof grid | null = grid) => {
    const { at: q, name } = snapTo(s, p, reach, g);
    return [name, ...q.map((x) => +x.toFixed(9) + 0)];
  };

  it.each([
    ['a vertex', [29.6, 19.8], ['vertex', 30, 20]],
    ['the middle of an edge', [0.4, 19.7], ['middle', 0, 20]],
    ['the middle of the face', [0.5, -0.3], ['centre', 0, 0]],
    ['the centre of a round hole', [12.4, 5.5], ['circle', 12, 5]],
    ['along an edge', [17.3, 19.6], ['edge', 17.3, 20]],
    ['the grid', [16.1, -8.7], ['grid', 15, -10]],
  ] as const)('finds %s', (_what, p, want) => expect(at(p as unknown as Point2)).toEqual(want));

  it('takes the nearest of those in reach, and none beyond it', () => {
    expect(at([29.6, 19.8], 0.1, null)).toEqual([null, 29.6, 19.8]);
    expect(at([29.6, 19.8], 0.1)).toEqual(['grid', 30, 20]);
    // Two vertices of the hole's rim in reach: the nearer one.
    expect(at([17.95, 5.3], 3)[0]).toBe('vertex');
    expect(at([17.95, 5.3], 3).slice(1)).toEqual([18, 5]);
  });

  it('the grid may be turned and begin anywhere', () => {
    const turned = { step: 2, turn: 30, origin: [1, 1] as Point2 };
    const [x, y] = onGrid(turned, [8.3, -2.2]);
    const [c, w] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
    const [u, v] = [c * (x - 1) + w * (y - 1), -w * (x - 1) + c * (y - 1)];
    for (const k of [u, v]) expect(k / 2).toBeCloseTo(Math.round(k / 2), 9);
    expect(Math.hypot(x - 8.3, y + 2.2)).toBeLessThanOrEqual(Math.SQRT2);
    expect(snapTo(sketchPlane([0, 0, 0], [0, 0, 1], [1, 0, 0]), [0.2, 0.3], 1, null)).toEqual({
      at: [0.2, 0.3],
      name: null,
    });
    expect(box(1, 1, 1).faceLoops.length).toBe(7);
  });
});
