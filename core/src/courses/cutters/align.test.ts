import { describe, expect, it } from 'vitest';
import { areaAndVolume, bounds, mapPoint, placementAffine, unit, type Vec3 } from '../../mesh/index.ts';
import { seededRandom } from '../../shapes/index.ts';
import {
  alongEdge,
  betweenEdges,
  centredAt,
  centredOn,
  CutterSchema,
  droppedTo,
  movedAlong,
  ownAxes,
  pivotOn,
  placedBounds,
  placedMesh,
  repivoted,
  seatedOn,
  Shape,
  slidTo,
  turnedEndForEnd,
  uprightAxes,
  type Cutter,
} from '../index.ts';

const cutter = (
  placement: Partial<Cutter['placement']> = {},
  shape: Record<string, unknown> = { kind: 'box', x: 10, y: 20, z: 30 },
): Cutter => CutterSchema.parse({ id: 3, name: 'Pin', shape, placement });
const wall = { min: [0, 0, 0], max: [100, 40, 60] } as const;
const middle = (c: Cutter) => placedBounds(c)!.min.map((x, k) => +((x + placedBounds(c)!.max[k]!) / 2).toFixed(9) + 0);

describe('placing a cutter by its box', () => {
  it('centred on a part, along the axes that are asked for', () => {
    const c = cutter({ position: [7, -3, 9], turn: [10, 20, 30] });
    expect(middle(centredOn(c, wall, [0, 1, 2]))).toEqual([50, 20, 30]);
    const along = centredOn(c, wall, [1]);
    expect(along.placement.position).toEqual([7, expect.closeTo(20, 9), 9]);
    expect(along.placement.turn).toEqual(c.placement.turn);
  });

  it('an uneven shape by its box, not by its origin', () => {
    const c = cutter(
      {},
      {
        kind: 'outline',
        height: 4,
        points: [
          [0, 0],
          [30, 0],
          [0, 12],
        ],
      },
    );
    expect(middle(centredOn(c, wall, [0, 1, 2]))).toEqual([50, 20, 30]);
  });

  it('dropped to the ground, from above or from below', () => {
    for (const z of [80, -80])
      expect(placedBounds(droppedTo(cutter({ position: [1, 2, z], turn: [33, 0, 12] }), 0))!.min[2]).toBeCloseTo(0, 9);
    expect(placedBounds(droppedTo(cutter(), 12))!.min[2]).toBeCloseTo(12, 9);
  });

  it('is left as it is where it has no box of its own', () => {
    const c = cutter({}, { kind: 'part', part: 4, title: 'Tool' });
    expect(placedBounds(c)).toBeNull();
    expect(centredOn(c, wall, [0, 1, 2])).toBe(c);
    expect(droppedTo(c, 0)).toBe(c);
    const crossed = cutter(
      {},
      {
        kind: 'outline',
        height: 4,
        points: [
          [0, 0],
          [9, 9],
          [9, 0],
          [0, 9],
        ],
      },
    );
    expect(placedBounds(crossed)).toBeNull();
  });
});

describe('seated on a face', () => {
  const random = seededRandom(31);
  const dot = (a: readonly number[], b: readonly number[]) => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;

  it('stands square to it, its end in the face: below when it takes away, above when it adds', () => {
    for (let i = 0; i < 60; i++) {
      const normal = unit([random() - 0.5, random() - 0.5, random() - 0.5]);
      const point: Vec3 = [90 * random(), 90 * random(), 90 * random()];
      const before = cutter({ position: [5, 5, 5], turn: [360 * random(), 180 * random(), 360 * random()] });
      for (const adds of [false, true]) {
        const a = placementAffine(seatedOn(before, point, normal, adds).placement);
        const z = [a[2]!, a[6]!, a[10]!];
        expect(dot(z, normal)).toBeCloseTo(1, 9);
        const centre = [a[3]!, a[7]!, a[11]!].map((x, k) => x - point[k]!);
        expect(dot(centre, normal)).toBeCloseTo(adds ? 15 : -15, 6);
      }
    }
  });

  it('keeps its turn about the normal as far as can be: on its own face it does not move', () => {
    const c = cutter({ position: [40, 10, 45], turn: [0, 0, 25] });
    expect(seatedOn(c, [40, 10, 60], [0, 0, 1], false).placement).toEqual({ position: [40, 10, 45], turn: [0, 0, 25] });
    // Onto a face that its own x looked along, another way is chosen.
    const turned = seatedOn(cutter(), [0, 0, 0], [1, 0, 0], false);
    expect(placedBounds(turned)!.max[0]).toBeCloseTo(0, 9);
    expect(Shape.parse(turned.shape)).toEqual(cutter().shape);
  });
});

describe('aligned by what is picked', () => {
  const round = (v: readonly number[]) => v.map((x) => +x.toFixed(9) + 0);

  it('along an edge: turned about its middle by as little as can be, whichever way the edge runs', () => {
    const c = cutter({ position: [4, 5, 6], turn: [0, 0, 20] });
    const at30 = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6), 0] as const;
    for (const sign of [1, -1]) {
      const a = alongEdge(c, [[0, 0, 0], at30.map((x) => sign * 50 * x) as unknown as Vec3]);
      expect(round(a.placement.turn)).toEqual([0, 0, 30]);
      expect(round(a.placement.position)).toEqual([4, 5, 6]);
    }
    // An edge at 100° is nearer to its own y.
    const steep = alongEdge(c, [
      [0, 0, 0],
      [Math.cos((100 * Math.PI) / 180), Math.sin((100 * Math.PI) / 180), 0],
    ]);
    expect(round(steep.placement.turn)).toEqual([0, 0, 10]);
    expect(
      alongEdge(c, [
        [0, 0, 0],
        [0, 0, 9],
      ]),
    ).toBe(c);
  });

  it('an uneven outline turns about the middle of its box', () => {
    const c = cutter(
      { position: [1, 2, 3] },
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
    );
    const a = alongEdge(c, [
      [0, 0, 0],
      [1, 1, 0],
    ]);
    const at = (k: Cutter) => round(mapPoint(placementAffine(k.placement), 20, 5, 0));
    expect(at(a)).toEqual(at(c));
    expect(round(a.placement.turn)).toEqual([0, 0, 45]);
  });

  it('between two edges: midway between their middles, its depth kept', () => {
    const c = cutter({ position: [1, 2, 55] });
    const b = betweenEdges(
      c,
      [
        [0, 0, 60],
        [0, 80, 60],
      ],
      [
        [100, 80, 60],
        [100, 0, 60],
      ],
    );
    expect(round(b.placement.position)).toEqual([50, 40, 55]);
    expect(round(b.placement.turn)).toEqual([0, 0, 0]);
    expect(round(centredAt(c, [7, 8, -90]).placement.position)).toEqual([7, 8, 55]);
  });

  it('slid over a surface it keeps its distance from it and its angle to it', () => {
    const random = seededRandom(5);
    for (let i = 0; i < 50; i++) {
      const way = () => unit([random() - 0.5, random() - 0.5, random() - 0.5]);
      const c = cutter({ position: [9 * random(), 3, 1], turn: [90 * random(), 80 * random(), 7] });
      const [from, to] = [
        { point: [1, 2, 3] as Vec3, normal: way() },
        { point: [40, -2, 8] as Vec3, normal: way() },
      ];
      const s = slidTo(c, from, to);
      const told = (k: Cutter, at: typeof from) => [
        ...ownAxes(k.placement).map((a) => dot3(a, at.normal)),
        dot3(
          k.placement.position.map((x, j) => x - at.point[j]!),
          at.normal,
        ),
      ];
      told(s, to).forEach((x, k) => expect(x).toBeCloseTo(told(c, from)[k]!, 7));
    }
    const over = slidTo(cutter(), { point: [0, 0, 0], normal: [0, 0, 1] }, { point: [0, 0, 5], normal: [0, 0, -1] });
    expect(round(ownAxes(over.placement)[2])).toEqual([0, 0, -1]);
  });

  it('moved by lengths along axes of one\u2019s choice', () => {
    const c = cutter({ position: [1, 1, 1], turn: [0, 0, 90] });
    expect(round(movedAlong(c, [5, 0, -2], ownAxes(c.placement)).placement.position)).toEqual([1, 6, -1]);
  });
});

describe('the pivot', () => {
  const shapes: Record<string, unknown>[] = [
    { kind: 'box', x: 10, y: 20, z: 30 },
    { kind: 'cylinder', diameter: 12, height: 40, segments: 7 },
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
    { kind: 'turned', segments: 9 },
  ];
  const mesh = (c: Cutter) => placedMesh(c.shape, c.placement, () => undefined);

  it.each(shapes)('put elsewhere, the body stays where it is: %j', (shape) => {
    const c = cutter({ position: [3, -4, 5], turn: [20, 30, 40], scale: [1, 2, -1.5] }, shape);
    const before = mesh(c);
    let k = c;
    for (const next of [
      () => repivoted(k, 'base'),
      () => repivoted(k, 'set', [1, 2, 3]),
      () => repivoted(k, 'middle'),
      () => pivotOn(k, [9, 9, 9]),
      () => repivoted(k, 'own'),
    ]) {
      k = CutterSchema.parse(next());
      const after = mesh(k);
      after.positions.forEach((x, i) => expect(x).toBeCloseTo(before.positions[i]!, 6));
    }
    expect(round6(k.placement.position)).toEqual(round6(c.placement.position));
    expect(areaAndVolume(mesh(k)).volume).toBeCloseTo(areaAndVolume(before).volume, 6);
  });

  it('is what the position tells, and what it turns about', () => {
    const c = cutter({ position: [0, 0, 15] });
    expect(repivoted(c, 'base').placement.position).toEqual([0, 0, 0]);
    expect(pivotOn(c, [5, 10, 30]).placement.position).toEqual([5, 10, 30]);
    const taller = repivoted(c, 'base');
    expect(bounds(mesh({ ...taller, shape: Shape.parse({ ...taller.shape, z: 50 }) })).min[2]).toBe(0);
  });

  it('of a mesh kept elsewhere is set by its box', () => {
    const c = cutter({ position: [0, 0, 0] }, { kind: 'mesh', hash: '0123456789ab', title: 'Casting' });
    const extent = { size: [4, 4, 10], centre: [1, 2, 3] } as const;
    const b = repivoted(c, 'base', undefined, extent);
    expect([b.shape.pivot, b.shape.pivotAt, b.placement.position]).toEqual(['set', [1, 2, -2], [1, 2, -2]]);
    const middle = repivoted(b, 'middle', undefined, { size: [4, 4, 10], centre: [0, 0, 5] });
    expect([middle.shape.pivotAt, middle.placement.position]).toEqual([
      [1, 2, 3],
      [1, 2, 3],
    ]);
    expect(repivoted(c, 'base')).toBe(c);
    expect(repivoted(b, 'own').placement.position).toEqual([0, 0, 0]);
    expect(placedBounds(c, extent)).toEqual({ min: [-1, 0, -2], max: [3, 4, 8] });
  });
});

const dot3 = (a: readonly number[], b: readonly number[]) => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
const round6 = (v: readonly number[]) => v.map((x) => +x.toFixed(6) + 0);

describe('standing as the body does', () => {
  const body = (turn: [number, number, number]) => ({ position: [0, 0, 0] as [number, number, number], turn });

  it('upright on any wall, whichever of the body’s axes is upright', () => {
    for (const turn of [
      [0, 0, 0],
      [0, 90, 0],
      [90, 0, 0],
      [180, 0, 30],
    ] as [number, number, number][])
      for (const n of [[1, 0, 0], [0, -1, 0], [-0.6, 0.8, 0], unit([1, 1, 0.4])] as Vec3[]) {
        const [x, y, z] = uprightAxes(n, body(turn));
        expect(z).toEqual(n);
        expect(x[2]).toBeCloseTo(0, 9);
        expect(y[2]).toBeGreaterThan(0.9);
      }
  });

  it('along the body on a level face, above or below', () => {
    const a = Math.PI / 6;
    for (const z of [1, -1]) {
      const [x] = uprightAxes([0, 0, z], body([0, 0, 30]));
      expect(x).toEqual([expect.closeTo(Math.cos(a), 9), expect.closeTo(Math.sin(a), 9), expect.closeTo(0, 9)]);
    }
  });

  it('turned end for end it lies in the same box, its own z the other way', () => {
    const c = cutter({ position: [5, 6, 7], turn: [20, 30, 40] }, { kind: 'cone', foot: 20, top: 4, height: 30 });
    const t = turnedEndForEnd(c);
    const [from, to] = [c, t].map((k) => ownAxes(k.placement)[2]) as [Vec3, Vec3];
    to.forEach((x, k) => expect(x).toBeCloseTo(-from[k]!, 9));
    const ends = (k: Cutter) => {
      const a = placementAffine(k.placement);
      return [mapPoint(a, 0, 0, -15), mapPoint(a, 0, 0, 15)];
    };
    const [[foot, top], [foot2, top2]] = [ends(c), ends(t)] as [Vec3[], Vec3[]];
    foot2!.forEach((x, k) => expect(x).toBeCloseTo(top![k]!, 6));
    top2!.forEach((x, k) => expect(x).toBeCloseTo(foot![k]!, 6));
    expect(turnedEndForEnd(t).placement.turn.map((x) => +x.toFixed(6))).toEqual(c.placement.turn);
  });
});
