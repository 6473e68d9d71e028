import { describe, expect, it } from 'vitest';
import { bounds, mapPoint, placementAffine, type Vec3 } from '../../mesh/index.ts';
import { seededRandom, type Point2 } from '../../shapes/index.ts';
import {
  bentThrough,
  CutterSchema,
  isPointed,
  ownAxes,
  pieceMiddle,
  placedMesh,
  pointAfter,
  pointedRun,
  pointPlace,
  repivoted,
  resizedTo,
  rowsOf,
  Shape,
  shapeMesh,
  slidAlong,
  turnCentre,
  turnedAbout,
  withoutPoint,
  withPoint,
  type Cutter,
  type Extent,
  type Pointed,
} from '../index.ts';

const none = () => undefined;
const cutter = (shape: Record<string, unknown>, placement: Partial<Cutter['placement']> = {}): Cutter =>
  CutterSchema.parse({ id: 3, name: 'Pin', shape, placement });
const boxOf = (c: Cutter): Extent => {
  const { min, max } = bounds(shapeMesh(c.shape, none));
  return {
    size: [max[0] - min[0], max[1] - min[1], max[2] - min[2]],
    centre: [(max[0] + min[0]) / 2, (max[1] + min[1]) / 2, (max[2] + min[2]) / 2],
  };
};
/** How far a cutter reaches along a direction, both ways. */
const reach = (c: Cutter, way: Vec3) => {
  const { positions: P } = placedMesh(c.shape, c.placement, none);
  const heights = Array.from(
    { length: P.length / 3 },
    (_, i) => P[3 * i]! * way[0] + P[3 * i + 1]! * way[1] + P[3 * i + 2]! * way[2],
  );
  return [Math.min(...heights), Math.max(...heights)] as const;
};

describe('what handles do', () => {
  const shapes = [
    { kind: 'box', x: 10, y: 20, z: 30 },
    { kind: 'cylinder', diameter: 12, height: 40, segments: 32 },
    {
      kind: 'outline',
      height: 4,
      points: [
        [10, 0],
        [30, 0],
        [30, 10],
        [10, 10],
      ],
    },
    {
      kind: 'turned',
      segments: 16,
      points: [
        [2, 5],
        [9, 5],
        [9, 30],
        [2, 30],
      ],
    },
  ];

  it.each(shapes)('a side moves and the other one stays, or both move and the middle stays: %j', (shape) => {
    const random = seededRandom(8);
    for (const pivot of ['own', 'base', 'set'] as const)
      for (const axis of [0, 1, 2] as const)
        for (const side of [1, -1, 0] as const) {
          const c = repivoted(
            cutter(shape, { position: [1, 2, 3], turn: [90 * random(), 40, 10], scale: [1, 1.5, -2] }),
            pivot,
            [4, 5, 6],
          );
          const way = ownAxes(c.placement)[axis];
          const before = reach(c, way);
          const to = 1.7 * (before[1] - before[0]);
          const [low, high] = reach(resizedTo(c, boxOf(c), axis, side, to), way);
          expect(high - low).toBeCloseTo(to, 6);
          if (side === 1) expect(low).toBeCloseTo(before[0], 6);
          if (side === -1) expect(high).toBeCloseTo(before[1], 6);
          if (side === 0) expect(high + low).toBeCloseTo(before[0] + before[1], 6);
        }
  });

  it('never makes it nothing', () => {
    const c = cutter({ kind: 'box', x: 10, y: 20, z: 30 });
    const [low, high] = reach(resizedTo(c, boxOf(c), 0, 1, -5), [1, 0, 0]);
    expect(high - low).toBeCloseTo(0.01, 9);
  });

  it('turns about its pivot, or about the middle of its box', () => {
    const c = cutter(
      {
        kind: 'outline',
        height: 4,
        points: [
          [10, 0],
          [30, 0],
          [30, 10],
          [10, 10],
        ],
      },
      { position: [5, 5, 5] },
    );
    expect(turnCentre(c, boxOf(c))).toEqual([25, 10, 5]);
    const t = turnedAbout(c, 2, 90, turnCentre(c, boxOf(c)));
    const round = (v: readonly number[]) => v.map((x) => +x.toFixed(9) + 0);
    expect(round(mapPoint(placementAffine(t.placement), 20, 5, 0))).toEqual([25, 10, 5]);
    expect(round(t.placement.turn)).toEqual([0, 0, 90]);
    const p = repivoted(c, 'set', [10, 0, 0]);
    expect(turnCentre(p, boxOf(p))).toEqual([15, 5, 5]);
    expect(slidAlong(t, 0, 7).placement.position[1]! - t.placement.position[1]!).toBeCloseTo(7, 9);
  });
});

describe('points of an outline', () => {
  const s = Shape.parse({
    kind: 'outline',
    height: 4,
    points: [
      [0, 0],
      [20, 0],
      [20, 10],
      [0, 10],
    ],
    bows: [0, 3],
    radii: [1, 0, 0, 2],
  }) as Pointed;

  it('are changed one by one, with what belongs to them', () => {
    expect(rowsOf(s)[1]).toEqual({ x: 20, y: 0, bow: 3, radius: 0 });
    expect(withPoint(s, 2, { x: 25, radius: 3 })).toMatchObject({
      points: [
        [0, 0],
        [20, 0],
        [25, 10],
        [0, 10],
      ],
      bows: [0, 3, 0, 0],
      radii: [1, 0, 3, 2],
    });
    const more = pointAfter(s, 1);
    expect(more).toMatchObject({
      points: [
        [0, 0],
        [20, 0],
        [20, 5],
        [20, 10],
        [0, 10],
      ],
      bows: [0, 0, 0, 0, 0],
      radii: [1, 0, 0, 0, 2],
    });
    expect(withoutPoint(more, 2).points).toEqual(s.points);
    let two = s;
    for (let i = 0; i < 5; i++) two = withoutPoint(two, 0);
    expect(two.points.length).toBe(2);
    expect(withPoint(withPoint(s, 0, { radius: 0 }), 3, { radius: 0 }).radii).toEqual([]);
  });

  it('a piece is bent by its middle', () => {
    expect(pieceMiddle(s, 1)).toEqual([23, 5]);
    expect(pieceMiddle(bentThrough(s, 0, [10, -4]), 0)).toEqual([10, expect.closeTo(-4, 12)]);
  });

  it('stand on the body, wherever its pivot is', () => {
    const turned = Shape.parse({
      kind: 'turned',
      points: [
        [2, 5],
        [9, 5],
        [9, 30],
        [2, 30],
      ],
    }) as Pointed;
    for (const shape of [
      s,
      turned,
      { ...s, pivot: 'base' as const },
      { ...turned, pivot: 'set' as const, pivotAt: [1, 2, 3] as [number, number, number] },
    ]) {
      expect(isPointed(shape)).toBe(true);
      const { positions: P } = shapeMesh(shape, none);
      for (const p of pointedRun(shape)) {
        const at = pointPlace(shape, p as Point2);
        const near = Math.min(
          ...Array.from({ length: P.length / 3 }, (_, i) =>
            Math.hypot(P[3 * i]! - at[0], P[3 * i + 1]! - at[1], P[3 * i + 2]! - at[2]),
          ),
        );
        expect(near).toBeLessThan(1e-9);
      }
    }
  });
});
