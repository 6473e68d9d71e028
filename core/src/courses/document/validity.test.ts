import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { skerryLight } from '../../demo/index.ts';
import {
  addCourse,
  addCut,
  addPart,
  addPicture,
  changeProblem,
  CourseSchema,
  CutParams,
  CutterSchema,
  DOCUMENT_VERSION,
  fieldsOf,
  MaterialSchema,
  STROKES,
  newProject,
  newShape,
  notRepeated,
  PictureSchema,
  PlacementSchema,
  readProject,
  RepeatSchema,
  rescueProject,
  setMaterial,
  settingProblem,
  shapeKinds,
  shapeSchema,
  shortName,
  type Project,
} from '../index.ts';
import { STROKE_NAMES } from '../settings/strokes.ts';

/** Values that users and damaged files put into a field. */
const HOSTILE: unknown[] = [
  2e7,
  -2e7,
  1e308,
  -1e308,
  Infinity,
  -Infinity,
  NaN,
  1e-30,
  -1e-30,
  0,
  -0,
  0.5,
  -1,
  1e15,
  2 ** 53,
  null,
  undefined,
  '',
  'x'.repeat(5000),
  '40',
  {},
  [],
  [NaN, 0, 0],
  [1e308, 0, 0],
  [0, 0],
  [1e-30, 1e-30, 1e-30],
  [0, 0, 0],
  ['1', '2', '3'],
  true,
  'toString',
  '__proto__',
  { __proto__: null },
];

type Loose = Record<string, unknown>;
const at = (x: unknown, path: (string | number)[]): unknown => path.reduce((y, k) => (y as Loose)?.[k], x);
/** A copy with one value, found by its path, put in place of another. */
function withValue<T>(x: T, path: (string | number)[], value: unknown): T {
  if (!path.length) return value as T;
  const [key, ...rest] = path as [string | number, ...(string | number)[]];
  const copy = (Array.isArray(x) ? [...x] : { ...x }) as Loose;
  copy[key] = withValue((x as Loose)?.[key], rest, value);
  return copy as T;
}
/** All places of numbers, words and lists within a value. */
function places(x: unknown, path: (string | number)[] = []): (string | number)[][] {
  if (typeof x !== 'object' || x === null) return [path];
  return [path, ...Object.entries(x).flatMap(([k, y]) => places(y, [...path, Array.isArray(x) ? Number(k) : k]))];
}

/** Places that a field may change: single values, and rows of numbers. */
const fieldPlaces = (x: unknown): (string | number)[][] =>
  places(x).filter((path) => {
    const value = at(x, path);
    return path.length && (typeof value !== 'object' || (Array.isArray(value) && typeof value[0] === 'number'));
  });
const named = (path: (string | number)[], value: unknown): string =>
  `${path.join('.')} = ${typeof value === 'object' ? JSON.stringify(value) : String(value)}`;

/** A project with one of everything. */
function oneOfEach(): Project {
  let p = newProject('p', 'Everything');
  for (const kind of shapeKinds(false)) p = addPart(p, kind, newShape(kind));
  const part = p.parts[0]!.id;
  const face = { by: 'source', on: 'face', body: 1, face: 0 } as const;
  const edge = { by: 'elements', on: 'edge', elements: [{ at: [0, 0, 0], from: [[1]] }] } as const;
  for (const kind of STROKE_NAMES) {
    const more: Loose =
      {
        line: {
          stops: [
            [0, 0.5],
            [1, 0.5],
          ],
        },
        gathered: { edits: [{ kind: 'dissolve', name: 'Dissolve', params: { pick: face } }] },
      }[kind as string] ?? {};
    p = addCourse(p, part, kind, kind, { pick: kind === 'bevel' ? edge : face, ...more });
  }
  for (const kind of ['round', 'along'] as const) {
    const repeat = {
      ...notRepeated(),
      kind,
      path: [
        [0, 0, 0],
        [1, 0, 0],
      ] as [number, number, number][],
      moves: [{ instance: 1, by: [0, 0, 1] as [number, number, number] }],
      off: [2],
    };
    p = addCut(
      p,
      part,
      {
        name: kind,
        shape: newShape('turned'),
        placement: { position: [0, 0, 0], turn: [0, 0, 0], scale: [1, 1, 1] },
        repeat,
      },
      'kerf',
    );
  }
  p = setMaterial(p, 'Body', { colour: '#d8ccba', roughness: 0.8, metal: 0, opacity: 1 });
  return addPicture(p, { name: 'Sketch', hash: '0123456789abcdef', view: 'front', width: 100, aspect: 0.7 });
}

const throughStorage = (p: Project): unknown => JSON.parse(JSON.stringify(p));
const RAW = /[{}[\]]|expected|received|undefined|NaN|invalid|Too (big|small)/i;

describe('a document is valid at every moment', () => {
  const whole = oneOfEach();

  it('with one of everything', () => {
    expect(changeProblem(null, whole)).toBe(null);
    expect(readProject(throughStorage(whole))).toEqual(throughStorage(whole));
  });

  it('a hostile value at any place is refused in a sentence, or the document opens again as it is', () => {
    let refused = 0;
    const wrong: string[] = [];
    const tried = new Set<string>();
    for (const path of fieldPlaces(whole)) {
      const place = path.map((k) => (typeof k === 'number' ? 0 : k));
      for (const value of HOSTILE) {
        const next = withValue(whole, path, value);
        const problem = changeProblem(whole, next);
        if (problem) {
          refused++;
          if (RAW.test(problem) || !/^["A-ZÀ-Ý0-9].*\.$/s.test(problem))
            wrong.push(`${named(path, value)}: ${problem}`);
          continue;
        }
        // One of each place of its kind: opening reads the whole document.
        const kind = named(place, value);
        if (tried.has(kind)) continue;
        tried.add(kind);
        expect(() => readProject(throughStorage(next)), kind).not.toThrow();
      }
    }
    expect(wrong).toEqual([]);
    expect(refused).toBeGreaterThan(10_000);
  });

  it.each([
    ['a place too far away', CutterSchema, ['placement', 'position', 0], 2e7, 'Position along x: at most 10000 m.'],
    ['a length that is none', shapeSchema('box'), ['x'], 1e-30, 'Length: at least 0.000000001 mm.'],
    ['a count', CutParams, ['lines'], 2.5, 'Slits side by side: a whole number is needed.'],
    [
      'a scale',
      PlacementSchema,
      ['scale'],
      [0, 1, 1],
      'Scale: factors are from 0.000001 to 1,000,000, or the same below 0.',
    ],
    ['a share', STROKES.slide.settings, ['share'], 2, 'Along the edge: at most 100 %.'],
    ['an angle', STROKES.finish.settings, ['angle'], 0, 'Edges sharper than: at least 1°.'],
    ['a name', CutterSchema, ['name'], 'x'.repeat(300), 'Name: at most 200 characters.'],
    ['no number', RepeatSchema, ['step'], NaN, 'Step: a finite number is needed.'],
  ] as [string, z.ZodType, (string | number)[], unknown, string][])(
    'says what a field takes: %s',
    (_, schema, path, value, says) => {
      const cutter = {
        id: 1,
        name: 'Hole',
        shape: newShape('box'),
        placement: { position: [0, 0, 0], turn: [0, 0, 0] },
      };
      const given =
        schema === (CutterSchema as z.ZodType)
          ? cutter
          : schema === (CutParams as z.ZodType)
            ? { operation: 'kerf', cutters: [cutter] }
            : schema === (STROKES.slide.settings as z.ZodType)
              ? { pick: { by: 'all', on: 'vertex' } }
              : schema === shapeSchema('box')
                ? { kind: 'box' }
                : {};
      expect(settingProblem(schema, given)).toBe(null);
      expect(settingProblem(schema, withValue(given, path, value))).toBe(says);
    },
  );

  it('has bounds for every number that is typed', () => {
    const schemas: z.ZodObject[] = [
      ...shapeKinds(false).map(shapeSchema),
      CutParams,
      RepeatSchema,
      ...Object.values(STROKES).map((s) => s.settings),
    ];
    let fields = 0;
    for (const schema of schemas)
      for (const { key, meta } of fieldsOf(schema)) {
        if (['flag', 'choice', 'text'].includes(meta.as)) continue;
        fields++;
        for (const value of [1e308, -1e308, NaN, Infinity]) {
          const given = ['lengths', 'angles', 'factors'].includes(meta.as) ? [value, 1, 1] : value;
          expect(settingProblem(schema.shape[key] as z.ZodType, given), `${key} ${value}`).toMatch(/^\p{L}.*\.$/u);
        }
      }
    expect(fields).toBeGreaterThan(100);
    for (const [schema, key] of [
      [MaterialSchema, 'roughness'],
      [PictureSchema, 'width'],
      [PictureSchema, 'at'],
    ] as const)
      expect(
        settingProblem((schema as z.ZodObject).shape[key] as z.ZodType, key === 'at' ? [1e308, 0] : 1e308),
      ).toMatch(/at most/i);
  });

  it('looks only at what was changed, and misses nothing of it', () => {
    const sample = skerryLight('p');
    const broken = withValue(sample, ['parts', 0, 'courses', 1, 'params', 'cutters', 0, 'placement', 'turn', 2], 1e308);
    expect(changeProblem(sample, broken)).toBe('Turn along z: at most 10000000°.');
    expect(changeProblem(broken, broken)).toBe(null);
    const twice = withValue(sample, ['parts', 1, 'id'], sample.parts[0]!.id);
    expect(changeProblem(sample, twice)).toMatch(/same number/);
    const baseless = withValue(sample, ['parts', 0, 'courses'], sample.parts[0]!.courses.slice(1));
    expect(changeProblem(sample, baseless)).toMatch(/begins with one shape/);
    const many = withValue(
      sample,
      ['parts'],
      Array.from({ length: 1001 }, () => sample.parts[0]!),
    );
    expect(changeProblem(sample, many)).toBe('A project has at most 1,000 parts.');
  });
});

describe('a project that cannot be read whole', () => {
  const sample = throughStorage(skerryLight('p')) as Loose;

  it('says in which part and course, in words', () => {
    const broken = withValue(
      sample,
      ['parts', 0, 'courses', 2, 'params', 'cutters', 0, 'placement', 'position', 1],
      2e7,
    );
    expect(() => readProject(broken)).toThrow(
      'The project cannot be read whole. In "Pump-house wall", "Hatch", "Hatch": Position along y: at most 10000 m.',
    );
    const newer = withValue(sample, ['parts', 0, 'courses', 2, 'kind'], 'engrave');
    expect(() => readProject(newer)).toThrow(
      /In "Pump-house wall", "Hatch": .*a newer version of Dusky Mason made this/i,
    );
    expect(() => readProject({ ...sample, version: 99 })).toThrow(/newer version of Dusky Mason wrote this project/);
  });

  it('keeps all that is valid, and says what was left out', () => {
    const parts = (sample.parts as Loose[]).length;
    const cases: [(string | number)[], unknown, number, RegExp][] = [
      [['parts', 0, 'courses', 2, 'params', 'cutters', 0, 'placement', 'position', 1], 2e7, parts, /"Hatch"/],
      [['parts', 0, 'courses', 2, 'kind'], 'engrave', parts, /"Hatch" of "Pump-house wall" is left out\./],
      [
        ['parts', 0, 'courses', 0, 'params', 'shape', 'x'],
        'wide',
        parts - 1,
        /"Pump-house wall" is left out: its base/,
      ],
      [['parts', 0, 'courses', 1, 'id'], 1, parts, /number of something else/],
      [['parts', 1], 'gone', parts - 1, /^$/],
      [['materials'], [{ slot: 'Walls', colour: 'red' }], parts, /look of Walls is left out/],
    ];
    for (const [path, value, left, says] of cases) {
      const broken = withValue(sample, path, value);
      const r = rescueProject(broken);
      expect(r.project.parts.length, path.join('.')).toBe(left);
      expect(r.left.join(' ')).toMatch(says);
      expect(r.left.join(' ')).not.toMatch(RAW);
      expect(changeProblem(null, r.project)).toBe(null);
    }
    expect(rescueProject(sample)).toEqual({ project: readProject(sample), left: [] });
  });

  it('reads anything at all without a fault of its own', () => {
    const small = { ...sample, parts: (sample.parts as Loose[]).slice(0, 1) };
    for (const path of places(small))
      for (const value of [null, 'x', 7, [], {}]) {
        const broken = path.length ? withValue(small, path, value) : value;
        try {
          expect(changeProblem(null, rescueProject(broken).project)).toBe(null);
        } catch (e) {
          expect((e as { code?: string }).code, path.join('.')).toBe('bad-file');
        }
      }
  });
});

it('the version is raised when kinds are added: a program that lacks them says so', () => {
  const kinds = CourseSchema.options.map((o) => o.shape.kind.value).sort();
  // With another list here DOCUMENT_VERSION goes up by one, and MIGRATIONS gets its line.
  expect([DOCUMENT_VERSION, kinds.length, kinds.join(' ')]).toEqual([
    9,
    47,
    'align bevel bridge cage collar connect crease cut cutOff detach dissolve divide extrude fill finish gathered hard heal hold holdRims inset line loop match merge mirror move moveTie orient ownWidth plane quads recast relight remove reseat shape shapeRun slide split subdivide symmetric thicken tidy tie toOutline weld',
  ]);
});

it('long names are cut, with their ends kept', () => {
  const long = `${'a'.repeat(230)}.obj`;
  expect(shortName(long).length).toBeLessThanOrEqual(200);
  expect(shortName(long)).toMatch(/^a+ … a+\.obj$/);
  expect(shortName('Post')).toBe('Post');
  expect(at(addPart(newProject('p', 'P'), 'Part'), ['parts', 0, 'name'])).toBe('Part');
});
