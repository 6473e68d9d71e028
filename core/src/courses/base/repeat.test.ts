import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  bounds,
  components,
  faceCount,
  genus,
  isClosed,
  MasonError,
  type PolyMesh,
} from '../../mesh/index.ts';
import {
  COURSE_KINDS,
  CutParams,
  Evaluator,
  fieldsOf,
  fitOf,
  instanceCount,
  instancesOf,
  MOST_INSTANCES,
  notRepeated,
  placedMesh,
  RepeatSchema,
  Shape,
  type Course,
  type CutCourse,
  type Cutter,
  type Part,
  type Repeat,
} from '../index.ts';

const none = () => undefined;
type Placement = Cutter['placement'];
const at = (x: number, y: number, z: number, turn: Placement['turn'] = [0, 0, 0]): Placement => ({
  position: [x, y, z],
  turn,
});
const repeat = (r: Partial<Repeat>): Repeat => RepeatSchema.parse(r);
const places = (p: Placement, r: Partial<Repeat>) =>
  instancesOf(p, repeat(r)).map((i) => i.placement.position.map((x) => +x.toFixed(6) + 0));

describe('where instances stand', () => {
  it('one that is not repeated stands where it is', () => {
    expect(instancesOf(at(1, 2, 3), notRepeated())).toEqual([{ number: 0, placement: at(1, 2, 3), off: false }]);
    expect(instancesOf(at(1, 2, 3), undefined).length).toBe(1);
  });

  it('a row along its own axis, by a step or over a length', () => {
    expect(places(at(0, 0, 0), { kind: 'row', count: 3, step: 10 })).toEqual([
      [0, 0, 0],
      [10, 0, 0],
      [20, 0, 0],
    ]);
    expect(places(at(5, 0, 0, [0, 0, 90]), { kind: 'row', count: 3, by: 'over', over: 30 })).toEqual([
      [5, 0, 0],
      [5, 15, 0],
      [5, 30, 0],
    ]);
    expect(places(at(0, 0, 0), { kind: 'row', count: 2, step: -4, along: 'z' })).toEqual([
      [0, 0, 0],
      [0, 0, -4],
    ]);
    expect(places(at(0, 0, 0), { kind: 'row', count: 1, by: 'over', over: 30 })).toEqual([[0, 0, 0]]);
  });

  it('a grid, row by row', () => {
    expect(places(at(0, 0, 1), { kind: 'grid', columns: 2, rows: 2, columnStep: 10, rowStep: 5 })).toEqual([
      [0, 0, 1],
      [10, 0, 1],
      [0, 5, 1],
      [10, 5, 1],
    ]);
  });

  it('round an axis: a full turn evenly, a part of one with its ends', () => {
    expect(places(at(10, 0, 0), { kind: 'round', count: 4 })).toEqual([
      [10, 0, 0],
      [0, 10, 0],
      [-10, 0, 0],
      [0, -10, 0],
    ]);
    expect(places(at(10, 0, 0), { kind: 'round', count: 3, sweep: 90, centre: [0, 0, 5] }).at(-1)).toEqual([0, 10, 0]);
    expect(places(at(0, 0, 8), { kind: 'round', count: 2, sweep: -90, axis: 'x', centre: [0, 2, 0] }).at(-1)).toEqual([
      0, 10, 2,
    ]);
    // They turn with it: each looks outward as the first does.
    const wedge = Shape.parse({ kind: 'box', x: 4, y: 1, z: 1 });
    const spokes = instancesOf(at(10, 0, 0), repeat({ kind: 'round', count: 8 })).map((i) =>
      placedMesh(wedge, i.placement, none),
    );
    for (const m of spokes) {
      const far = Array.from({ length: m.positions.length / 3 }, (_, v) =>
        Math.hypot(m.positions[3 * v]!, m.positions[3 * v + 1]!),
      );
      expect(Math.max(...far)).toBeCloseTo(Math.hypot(12, 0.5), 9);
    }
  });

  it('mirrored: the other one is its image, and not inside out', () => {
    const wedge = Shape.parse({ kind: 'wedge', x: 4, y: 3, z: 2 });
    for (const across of ['x', 'y', 'z'] as const) {
      const p = at(10, 7, 5, [20, -35, 60]);
      const [a, b] = instancesOf(p, repeat({ kind: 'mirror', across, at: 3 })).map((i) =>
        placedMesh(wedge, i.placement, none),
      ) as [PolyMesh, PolyMesh];
      expect(areaAndVolume(b).volume).toBeCloseTo(areaAndVolume(a).volume, 9);
      const k = 'xyz'.indexOf(across);
      const image = (m: PolyMesh, flip: boolean) =>
        Array.from({ length: m.positions.length / 3 }, (_, v) =>
          [0, 1, 2]
            .map((j) => (flip && j === k ? 6 - m.positions[3 * v + j]! : m.positions[3 * v + j]!).toFixed(6))
            .join(),
        ).sort();
      expect(image(b, false)).toEqual(image(a, true));
    }
  });
});

describe('chance', () => {
  const row = (more: Partial<Repeat>) =>
    instancesOf(at(0, 0, 0), repeat({ kind: 'row', count: 20, step: 10, ...more }));

  it('stays within its limits, leaves the first alone, and comes out the same for the same seed', () => {
    const some = row({ move: 2, turn: 15, size: 20, seed: 7 });
    expect(some[0]!.placement).toEqual(at(0, 0, 0));
    some.slice(1).forEach(({ placement: p }, i) => {
      expect(Math.abs(p.position[0] - 10 * (i + 1))).toBeLessThanOrEqual(2);
      expect(Math.abs(p.position[1])).toBeLessThanOrEqual(2);
      expect(Math.abs(p.turn[2])).toBeLessThanOrEqual(15);
      for (const k of p.scale!) expect(Math.abs(k - 1)).toBeLessThanOrEqual(0.2);
    });
    expect(new Set(some.map((i) => i.placement.turn[2])).size).toBe(20);
    expect(row({ move: 2, turn: 15, size: 20, seed: 7 })).toEqual(some);
    expect(row({ move: 2, turn: 15, size: 20, seed: 8 })).not.toEqual(some);
  });

  it('one more instance changes none before it', () => {
    const [few, more] = [row({ move: 2, count: 5 }), row({ move: 2, count: 9 })];
    expect(more.slice(0, 5)).toEqual(few);
  });
});

describe('single instances', () => {
  it('can be switched off, or moved by hand', () => {
    const list = instancesOf(
      at(0, 0, 0),
      repeat({ kind: 'row', count: 4, step: 10, off: [2], moves: [{ instance: 1, by: [0, 3, 0] }] }),
    );
    expect(list.map((i) => i.off)).toEqual([false, false, true, false]);
    expect(list.map((i) => i.placement.position)).toEqual([
      [0, 0, 0],
      [10, 3, 0],
      [20, 0, 0],
      [30, 0, 0],
    ]);
  });
});

const cutOf = (r: Partial<Repeat>, more: Partial<Cutter> = {}): CutCourse => ({
  id: 2,
  kind: 'cut',
  name: 'Holes',
  on: true,
  params: CutParams.parse({
    cutters: [
      {
        id: 3,
        name: 'Hole',
        shape: { kind: 'cylinder', diameter: 6, height: 40, segments: 16 },
        placement: { position: [-80, 0, 0], turn: [0, 0, 0] },
        repeat: r,
        ...more,
      },
    ],
  }),
});
const base: Course = {
  id: 1,
  kind: 'shape',
  name: 'Plate',
  on: true,
  params: {
    shape: Shape.parse({ kind: 'box', x: 200, y: 60, z: 10 }),
    placement: { position: [0, 0, 0], turn: [0, 0, 0] },
    slot: 'Body',
  },
};
const run = (course: CutCourse, evaluator = new Evaluator(), moving?: number) =>
  evaluator.evaluate(
    { id: 9, name: 'P', shown: true, locked: false, courses: [base, course] } as Part,
    none,
    undefined,
    undefined,
    moving,
  );
const hole = 8 * 9 * Math.sin(Math.PI / 8) * 10;

describe('a cut with a repeated cutter', () => {
  it('is each hole where it should be: a row of five, one switched off', () => {
    const r = run(cutOf({ kind: 'row', count: 5, step: 40, off: [3] }));
    expect([genus(r.mesh), isClosed(r.mesh)]).toEqual([4, true]);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(120000 - 4 * hole, 6);
    expect(COURSE_KINDS.cut.says(cutOf({ kind: 'row', count: 5, step: 40, off: [3] }).params, 'mm')).toContain(
      '4 cutters, each',
    );
  });

  it('is one solid also where instances overlap, and while it moves', () => {
    const evaluator = new Evaluator();
    run(cutOf({ kind: 'row', count: 9, step: 4 }), evaluator);
    const moved = cutOf({ kind: 'row', count: 9, step: 4 }, { placement: at(-40, 3, 0) });
    const [dragged, rested] = [run(moved, evaluator, 3), run(moved)];
    expect(components(dragged.mesh).count).toBe(1);
    expect(areaAndVolume(dragged.mesh).volume).toBeCloseTo(areaAndVolume(rested.mesh).volume, 6);
    expect(genus(rested.mesh)).toBe(1);
  });

  it('scribes and adds like any other', () => {
    const marks = cutOf({ kind: 'grid', columns: 3, rows: 2, columnStep: 20, rowStep: 15 });
    marks.params = { ...marks.params, operation: 'scribe' };
    expect(run(marks).courses[1]!.report.enclosed).toBe(12);
    const pins = cutOf({ kind: 'mirror', across: 'x' });
    pins.params = { ...pins.params, operation: 'union' };
    const { min, max } = bounds(run(pins).mesh);
    expect([min[2], max[2]]).toEqual([-20, 20]);
    expect(areaAndVolume(run(pins).mesh).volume).toBeCloseTo(120000 + 2 * 3 * hole, 6);
  });

  it('tells of findings once for each kind, the worst of them', () => {
    // The sixth one is beyond the end of the plate.
    const course = cutOf({ kind: 'row', count: 6, step: 40 });
    const found = fitOf(placedMesh(base.params.shape, at(0, 0, 0), none), course, none);
    expect(found.map((f) => [f.kind, f.cutter])).toEqual([['misses', 0]]);
  });

  it('says how many it would be and stops before, when there are too many', () => {
    expect(() => instanceCount(repeat({ kind: 'grid', columns: 100, rows: 100 }))).toThrow(MasonError);
    const many = run(cutOf({ kind: 'grid', columns: 100, rows: 100 }));
    expect(many.courses[1]!.error).toMatchObject({
      code: 'bad-input',
      message: expect.stringContaining('10000 instances'),
    });
    expect(faceCount(many.mesh)).toBe(6);
    const fine = cutOf(
      { kind: 'row', count: MOST_INSTANCES, step: 1 },
      { shape: Shape.parse({ kind: 'patchBall', diameter: 5, segments: 64 }) },
    );
    expect(run(fine).courses[1]!.error).toMatchObject({
      code: 'too-large',
      message: expect.stringContaining('24,576,000 faces'),
    });
    expect(COURSE_KINDS.cut.says(cutOf({ kind: 'grid', columns: 100, rows: 100 }).params, 'mm')).toContain(
      'removes cylinder',
    );
  });

  it('has a form that shows what counts', () => {
    const shown = (r: Partial<Repeat>) => fieldsOf(RepeatSchema, repeat(r)).map((f) => f.key);
    expect(shown({})).toEqual(['kind']);
    expect(shown({ kind: 'row' })).toEqual(['kind', 'count', 'by', 'step', 'along', 'seed', 'move', 'turn', 'size']);
    expect(shown({ kind: 'row', by: 'over' })).toContain('over');
    expect(shown({ kind: 'mirror' })).toEqual(['kind', 'across', 'at', 'seed', 'move', 'turn', 'size']);
  });
});

describe('along a boundary', () => {
  const square: [number, number, number][] = [
    [0, 0, 0],
    [100, 0, 0],
    [100, 100, 0],
    [0, 100, 0],
  ];
  const along = (r: Record<string, unknown>) => RepeatSchema.parse({ kind: 'along', path: square, ...r });
  const round = (v: readonly number[]) => v.map((x) => +x.toFixed(6) + 0);
  const stand = (p: [number, number, number], r: Record<string, unknown>) =>
    instancesOf({ position: p, turn: [0, 0, 0] }, along(r)).map((i) => [
      ...round(i.placement.position),
      round(i.placement.turn)[2],
    ]);

  it('evenly all round a closed one, each turned with it', () => {
    expect(stand([50, 0, 0], { count: 4 })).toEqual([
      [50, 0, 0, 0],
      [100, 50, 0, 90],
      [50, 100, 0, 180],
      [0, 50, 0, -90],
    ]);
    // What stands inward of the outline stays inward of it.
    expect(stand([50, 10, 3], { count: 4 })).toEqual([
      [50, 10, 3, 0],
      [90, 50, 3, 90],
      [50, 90, 3, 180],
      [10, 50, 3, -90],
    ]);
  });

  it('by a step, without turning, and on beyond an open end', () => {
    expect(stand([10, 0, 0], { count: 3, spaced: 'step', pathStep: 60 })).toEqual([
      [10, 0, 0, 0],
      [70, 0, 0, 0],
      [100, 30, 0, 90],
    ]);
    expect(stand([10, 5, 0], { count: 2, spaced: 'step', pathStep: 120, follow: false })[1]).toEqual([100, 35, 0, 0]);
    const open = { path: square.slice(0, 2), loop: false };
    expect(stand([0, 0, 0], { ...open, count: 5 }).map((x) => x[0])).toEqual([0, 25, 50, 75, 100]);
    expect(stand([0, 0, 0], { ...open, count: 3, spaced: 'step', pathStep: 80 }).map((x) => x[0])).toEqual([
      0, 80, 160,
    ]);
  });

  it('asks for a boundary that has a length', () => {
    for (const path of [
      [],
      [[1, 1, 1]],
      [
        [1, 1, 1],
        [1, 1, 1],
      ],
    ])
      expect(() => instancesOf({ position: [0, 0, 0], turn: [0, 0, 0] }, along({ path }))).toThrow(/Pick an edge/);
  });
});
