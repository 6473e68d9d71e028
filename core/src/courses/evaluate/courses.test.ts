import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  faceCount,
  genus,
  isClosed,
  loopCount,
  MasonError,
  meshFromFaces,
  sameMesh,
  vertexCount,
} from '../../mesh/index.ts';
import { box, cylinder, seededRandom } from '../../shapes/index.ts';
import {
  COURSE_KINDS,
  CourseMemory,
  cutterMeshes,
  CutParams,
  DOCUMENT_VERSION,
  Evaluator,
  fieldsOf,
  STROKES,
  newProject,
  newShape,
  readProject,
  resizeShape,
  sayRings,
  sayTidied,
  Shape,
  shapeKinds,
  shapeMesh,
  shapeSchema,
  shapeSize,
  type Course,
  type CutCourse,
  type Cutter,
  type Part,
} from '../index.ts';

const none = () => undefined;
const base: Course = {
  id: 1,
  kind: 'shape',
  name: 'Block',
  on: true,
  params: {
    shape: Shape.parse({ kind: 'box', x: 100, y: 60, z: 20 }),
    placement: { position: [0, 0, 0], turn: [0, 0, 0] },
    slot: 'Body',
  },
};
const hole = (id: number, x: number, more: Partial<CutCourse['params']> = {}): CutCourse => ({
  id,
  kind: 'cut',
  name: `Hole ${id}`,
  on: true,
  params: CutParams.parse({
    operation: 'subtract',
    cutters: [
      {
        id: id + 100,
        name: 'Hole',
        shape: Shape.parse({ kind: 'cylinder', diameter: 16, height: 40, segments: 64 }),
        placement: { position: [x, 0, 0], turn: [0, 0, 0] },
      },
    ],
    ...more,
  }),
});
const part = (...courses: Course[]): Part => ({ id: 9, name: 'P', shown: true, locked: false, picks: [], courses });
const holeVolume = areaAndVolume(cylinder(8, 20, 64)).volume;

describe('shapes of a document', () => {
  it('every kind that can be chosen makes a mesh, and says its size', () => {
    for (const kind of shapeKinds(false)) {
      const shape = newShape(kind);
      const mesh = shapeMesh(shape, none);
      expect(faceCount(mesh), kind).toBeGreaterThan(0);
      expect(isClosed(mesh), kind).toBe(kind !== 'sheet');
      expect(fieldsOf(shapeSchema(kind)).length, kind).toBeGreaterThan(0);
      const size = shapeSize(shape)!;
      expect(Math.max(...size), kind).toBeGreaterThan(0);
      const doubled = shapeSize(resizeShape(shape, 0, 2 * size[0]))!;
      expect(doubled[0], kind).toBeCloseTo(2 * size[0], 9);
    }
    expect(shapeKinds(true)).not.toContain('sheet');
  });

  it('an imported mesh is found by its hash, or missed with a sentence', () => {
    const shape = Shape.parse({ kind: 'mesh', hash: 'abcdef0123', title: 'Casting' });
    expect(faceCount(shapeMesh(shape, () => box(1, 1, 1)))).toBe(6);
    expect(() => shapeMesh(shape, none)).toThrow(/Import its file again/);
  });
});

describe('evaluation', () => {
  it('climbs the wall; each cut works on the one below', () => {
    const r = new Evaluator().evaluate(part(base, hole(2, -20), hole(3, 20)), none);
    expect(r.courses.map((c) => c.state)).toEqual(['done', 'done', 'done']);
    expect(genus(r.mesh)).toBe(2);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(120000 - 2 * holeVolume, 6);
    expect(r.courses[2]!.report.newWalls).toBe(64);
  });

  it('recomputes only the changed course and those above it', () => {
    const e = new Evaluator();
    const ran: number[] = [];
    const run = (p: Part) => {
      ran.length = 0;
      e.evaluate(p, none, undefined, (c) => ran.push(c.id));
      return [...ran];
    };
    expect(run(part(base, hole(2, -20), hole(3, 20)))).toEqual([1, 2, 3]);
    expect(run(part(base, hole(2, -20), hole(3, 20)))).toEqual([]);
    expect(run(part(base, hole(2, -20), hole(3, 25)))).toEqual([3]);
    expect(run(part(base, hole(2, -25), hole(3, 25)))).toEqual([2, 3]);
    expect(run(part(base, { ...hole(2, -25), on: false }, hole(3, 25)))).toEqual([3]);
  });

  it('a failed course says why and where; the part goes on as it was below', () => {
    const all = hole(2, 0, {
      operation: 'intersect',
      cutters: [{ ...hole(2, 0).params.cutters[0]!, placement: { position: [500, 0, 0], turn: [0, 0, 0] } }],
    });
    const r = new Evaluator().evaluate(part(base, all, hole(3, 20)), none);
    expect(r.courses.map((c) => c.state)).toEqual(['done', 'failed', 'done']);
    expect(r.courses[1]!.error).toMatchObject({ code: 'bad-input' });
    expect(r.courses[1]!.error!.message).toContain('do not meet');
    expect(genus(r.mesh)).toBe(1);
  });

  it('a damaged import is held, and only cutting it is refused', () => {
    const P = box(10, 10, 10).positions;
    const damaged = meshFromFaces(P, [
      [0, 1, 2],
      [0, 1, 3],
      [0, 1, 4],
    ]);
    const imported: Course = {
      ...base,
      params: { ...base.params, shape: Shape.parse({ kind: 'mesh', hash: 'abcdef0123', title: 'x' }) },
    } as Course;
    const r = new Evaluator().evaluate(part(imported, hole(2, 0)), () => damaged);
    expect(r.courses.map((c) => c.state)).toEqual(['done', 'failed']);
    expect(r.courses[1]!.error).toMatchObject({ code: 'not-solid' });
    expect(faceCount(r.mesh)).toBe(3);
  });

  it('says in words what a course does', () => {
    const cut = hole(2, 0);
    expect(COURSE_KINDS.cut.says(cut.params, 'mm', { newWalls: 64 })).toBe(
      'removes cylinder Ø 16 × 40 mm, 64 new walls',
    );
    expect(COURSE_KINDS.shape.says(base.params as never, 'cm')).toBe('box, 10 × 6 × 2 cm');
  });

  it('ties the holes of its own cut when asked, and leaves those of others', () => {
    const r = new Evaluator().evaluate(part(base, hole(2, -20), hole(3, 20, { ties: 'short' })), none);
    expect(isClosed(r.mesh)).toBe(true);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(120000 - 2 * holeVolume, 6);
    // Top and bottom are in pieces round both holes, as the tied face holds both.
    expect(loopCount(r.mesh)).toBe(faceCount(r.mesh));
    const apart = new Evaluator().evaluate(part(base, hole(3, 20, { ties: 'short' }), hole(2, -20)), none);
    expect(apart.courses.map((c) => c.state)).toEqual(['done', 'done', 'done']);
    expect(areaAndVolume(apart.mesh).volume).toBeCloseTo(120000 - 2 * holeVolume, 6);
    expect(loopCount(apart.mesh)).toBeGreaterThan(faceCount(apart.mesh));
  });

  it('lays rings of quads round its own new holes, and says how many', () => {
    const r = new Evaluator().evaluate(part(base, hole(2, -20), hole(3, 20, { ties: 'ring', ring: 5 })), none);
    expect(isClosed(r.mesh)).toBe(true);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(120000 - 2 * holeVolume, 6);
    expect(r.courses[2]!.report.rings).toEqual({ rings: 2, narrowed: 0, left: 0 });
    expect(sayRings({ rings: 3, narrowed: 1, left: 2 })).toBe('3, 1 narrower, 2 without room');
    // 64 quads on either face beside what two plain holes leave.
    expect(faceCount(r.mesh)).toBe(6 + 2 * 64 + 2 * 64);
  });

  it('tidies beside its own outline when asked, and says what it took out', () => {
    // A vertex in the middle of every edge of the box is left over.
    const halves = STROKES.split.settings.parse({ by: 'parts', parts: 2, pick: { by: 'all', on: 'edge' } });
    const split = { id: 9, kind: 'split', name: 'Split', on: true, params: halves } as Course;
    const [as, tidy] = [{}, { tidy: true }].map((more) =>
      new Evaluator().evaluate(part(base, split, hole(2, 0, more)), none),
    );
    expect([isClosed(tidy!.mesh), areaAndVolume(tidy!.mesh).volume]).toEqual([
      true,
      expect.closeTo(120000 - holeVolume, 6),
    ]);
    const { report } = tidy!.courses[2]!;
    // Those of the four upright edges are of no face that was cut.
    expect(report.tidied).toMatchObject({ straight: 8, collapsed: 0, narrow: 0, left: 0 });
    expect(vertexCount(as!.mesh) - vertexCount(tidy!.mesh)).toBe(8);
    expect(sayTidied(report.tidied!)).toBe('8 vertices out of straight runs');
    expect(as!.courses[2]!.report.tidied).toBeUndefined();
  });

  it('ties holes to the corners when asked', () => {
    const r = new Evaluator().evaluate(part(base, hole(2, 0, { ties: 'corners' })), none);
    expect(isClosed(r.mesh)).toBe(true);
    expect(faceCount(r.mesh)).toBe(4 + 64 + 2 * 4);
  });

  it('is cancelled as a whole', () => {
    expect(() => new Evaluator().evaluate(part(base, hole(2, 0)), none, { signal: { aborted: true } })).toThrow(
      /Cancelled/,
    );
  });
});

describe('what courses remember', () => {
  it('never changes what they make: any order of changes gives the meshes that a new evaluator gives', () => {
    const random = seededRandom(5);
    const known = new Evaluator();
    const xs = [-36, -12, 12, 36];
    const on = [true, true, true, true];
    for (let i = 0; i < 24; i++) {
      const k = Math.floor(4 * random());
      if (random() < 0.7) xs[k]! += 4 * (random() - 0.5);
      else on[k] = !on[k];
      const wall = part(
        base,
        ...xs.map((x, j) => ({ ...hole(2 + j, x, { operation: j === 3 ? 'scribe' : 'subtract' }), on: on[j]! })),
      );
      const [a, b] = [known.evaluate(wall, none).mesh, new Evaluator().evaluate(wall, none).mesh];
      expect(sameMesh(a, b)).toBe(true);
    }
  });

  it.each(['subtract', 'union', 'scribe', 'split', 'intersect', 'kerf'] as const)(
    'a cutter that moves, and then rests: the same body, and in the end the very mesh (%s)',
    (operation) => {
      const cutters = [-30, 0, 30].map((x, i) => ({ ...hole(2, x).params.cutters[0]!, id: 50 + i }));
      const at = (x: number): Part => {
        const moved = {
          ...cutters[1]!,
          placement: { position: [x, 8, 0] as [number, number, number], turn: [0, 0, 0] as [number, number, number] },
        };
        const params = { operation, cutters: [cutters[0]!, moved, cutters[2]!], reach: 'all' as const };
        return part(base, hole(2, 0, params), hole(3, -44));
      };
      const known = new Evaluator();
      known.evaluate(at(0), none);
      for (const x of [1, 2, 5, 14, 22]) {
        const r = known.evaluate(at(x), none, undefined, undefined, 51);
        const want = new Evaluator().evaluate(at(x), none);
        expect(r.courses.map((c) => c.state)).toEqual(['done', 'done', 'done']);
        expect([faceCount(r.mesh), isClosed(r.mesh)]).toEqual([faceCount(want.mesh), true]);
        expect(areaAndVolume(r.mesh).volume).toBeCloseTo(areaAndVolume(want.mesh).volume, 6);
        expect(r.courses[1]!.report.volumeBefore).toBe(want.courses[1]!.report.volumeBefore);
        expect(r.courses[1]!.report.newWalls).toBe(want.courses[1]!.report.newWalls);
        // At rest, nothing of the drag is left in the mesh.
        expect(sameMesh(known.evaluate(at(x), none).mesh, want.mesh)).toBe(true);
      }
    },
  );

  it('cutters of the last run, but not those that moved, turned or got another slot', () => {
    const memory = new CourseMemory();
    const cut = hole(2, 0).params;
    const of = (params: typeof cut, course = 2) =>
      cutterMeshes(box(100, 60, 20), params, none, course, memory.cutterRun())[0]!;
    const first = of(cut);
    expect(of(structuredClone(cut))).toBe(first);
    expect(of(cut, 3)).not.toBe(first);
    const moved = {
      ...cut,
      cutters: [
        {
          ...cut.cutters[0]!,
          placement: { position: [1, 0, 0] as [number, number, number], turn: [0, 0, 0] as [number, number, number] },
        },
      ],
    };
    expect(of(moved).positions[0]).toBe(first.positions[0]! + 1);
    expect(of({ ...cut, wallSlots: 'own', wallSlot: 'Cut' }).slots).toEqual(['Cut']);
  });
});

describe('every kind of cut', () => {
  const kinds = ['subtract', 'union', 'intersect', 'split', 'scribe', 'kerf'] as const;
  it.each(kinds)('%s goes through the file and back, and survives what happens below it', (operation) => {
    const cut = hole(2, -20, { operation, ...(operation === 'kerf' && { depth: 2, reach: 'nearest' }) });
    const below = hole(3, 20);
    const project = { ...newProject('p', 'Test'), parts: [part(base, below, cut)], nextId: 200 };
    expect(readProject(JSON.parse(JSON.stringify(project)))).toEqual(project);
    const run = (...courses: Course[]) => new Evaluator().evaluate(part(...courses), none);
    const states = (r: ReturnType<typeof run>) => r.courses.map((c) => c.state);
    expect(states(run(base, below, cut))).toEqual(['done', 'done', 'done']);
    expect(states(run(base, cut, below))).toEqual(['done', 'done', 'done']);
    expect(states(run(base, { ...below, on: false }, cut))).toEqual(['done', 'off', 'done']);
    // The two do not meet, so their order makes no difference to the measure.
    if (operation !== 'intersect')
      expect(areaAndVolume(run(base, cut, below).mesh).volume).toBeCloseTo(
        areaAndVolume(run(base, below, cut).mesh).volume,
        6,
      );
  });
});

describe('the document', () => {
  const good = { ...newProject('p', 'Test'), parts: [part(base, hole(2, 0))], nextId: 200 };

  it('reads what it wrote', () => expect(readProject(JSON.parse(JSON.stringify(good)))).toEqual(good));

  it('migrates an old one', () => {
    const old = JSON.parse(JSON.stringify({ ...good, parts: [part(base, hole(2, 0), hole(3, 20))], version: 1 }));
    delete old.unit;
    const [, first, second] = old.parts[0].courses;
    for (const [c, wallSlot] of [
      [first, ''],
      [second, 'Reveal'],
    ]) {
      const { operation, joinFlush, cutters } = c.params;
      c.params = {
        operation,
        joinFlush,
        wallSlot,
        cutters: cutters.map(({ id, name, shape, placement }: Cutter) => ({ id, name, shape, placement })),
      };
    }
    const read = readProject(old);
    expect(read).toMatchObject({ version: DOCUMENT_VERSION, unit: 'mm' });
    expect(read.parts[0]!.courses.slice(1).map((c) => c.params)).toMatchObject([
      { wallSlots: 'part', cutters: [{ through: false, slot: '' }] },
      { wallSlots: 'own', wallSlot: 'Reveal' },
    ]);
  });

  it('turns a yes or no for ties into one of the ways to tie', () => {
    const old = JSON.parse(JSON.stringify({ ...good, parts: [part(base, hole(2, 0), hole(3, 20))], version: 3 }));
    old.parts[0].courses[1].params.ties = true;
    old.parts[0].courses[2].params.ties = false;
    for (const c of old.parts[0].courses.slice(1))
      for (const key of ['ring', 'along', 'fromBack', 'direction', 'wallUvs']) delete c.params[key];
    const read = readProject(old);
    expect(read.parts[0]!.courses.slice(1).map((c) => c.params)).toMatchObject([
      { ties: 'short', along: 'own', wallUvs: 'box' },
      { ties: 'none', fromBack: false, direction: [0, 0, 1] },
    ]);
  });

  it.each([
    ['not an object', []],
    ['no version', { parts: [] }],
    ['a newer version', { ...good, version: 99 }],
    ['a part without a base', { ...good, parts: [part(hole(2, 0))] }],
    ['a number used twice', { ...good, parts: [part(base, { ...hole(2, 0), id: 1 })] }],
    [
      'a size that is none',
      { ...good, parts: [part({ ...base, params: { ...base.params, shape: { kind: 'box', x: -1 } } } as never)] },
    ],
    [
      'a scale of 0',
      { ...good, parts: [part({ ...base, params: { ...base.params, placement: { scale: [1, 0, 1] } } } as never)] },
    ],
  ])('refuses %s', (_what, data) => {
    expect(() => readProject(data)).toThrow(MasonError);
  });
});
