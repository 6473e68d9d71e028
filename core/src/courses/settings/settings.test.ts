import { describe, expect, it } from 'vitest';
import type { z } from 'zod';
import { MasonError } from '../../mesh/index.ts';
import {
  addCourse,
  addCut,
  addPart,
  changeProblem,
  CutParams,
  fieldsOf,
  STROKES,
  STROKE_NAMES,
  strokeOf,
  newProject,
  newShape,
  notRepeated,
  instancesOf,
  readProject,
  RepeatSchema,
  rescueProject,
  Shape,
  shapeKinds,
  shapeSchema,
  withFlats,
} from '../index.ts';

const code = (run: () => unknown): string => {
  try {
    run();
  } catch (e) {
    return e instanceof MasonError ? `${e.code}: ${e.message}` : String(e);
  }
  return 'no error';
};
const schemas: [string, z.ZodObject][] = [
  ...shapeKinds(false).map((kind): [string, z.ZodObject] => [kind, shapeSchema(kind)]),
  ['cut', CutParams],
  ['repeat', RepeatSchema],
  ...Object.entries(STROKES).map(([k, s]): [string, z.ZodObject] => [k, s.settings]),
];

describe('settings as a form shows them', () => {
  it.each(schemas)(
    '%s: each has a title, words for its options, and shows while a setting that there is says so',
    (_, schema) => {
      const fields = fieldsOf(schema);
      for (const { key, meta } of fields) {
        expect(meta.title, key).toMatch(/^[\p{Lu}\d]/u);
        if (meta.hint !== undefined) expect(meta.hint, key).toMatch(/^\S.*\S$/);
        if (meta.as === 'choice') {
          const words = Object.values(meta.options!);
          expect(words.length, key).toBeGreaterThan(1);
          expect(new Set(words.filter(Boolean)).size, key).toBe(words.length);
        }
        if (!meta.when) continue;
        const other = fields.find((f) => f.key === meta.when!.key)!;
        const may = other.meta.as === 'flag' ? ['true', 'false'] : Object.keys(other.meta.options!);
        for (const value of meta.when.is) expect(may, `${key} when ${other.key}`).toContain(value);
      }
      expect(new Set(fields.map((f) => f.meta.title + (f.meta.when?.is.join() ?? ''))).size).toBe(fields.length);
    },
  );
});

it.each(STROKE_NAMES)('%s: says in a sentence what it is for', (kind) => {
  expect(strokeOf(kind).explains).toMatch(/^\p{Lu}.*\.$/u);
  expect(strokeOf(kind).explains.length).toBeLessThan(130);
});

describe('what is wrong is told where it is', () => {
  const plain = addPart(newProject('p', 'P'), 'Post', newShape('box'));
  const post = plain.parts[0]!.id;

  it('in one of the strokes that are gathered', () => {
    const pick = { by: 'source', on: 'face', body: 1, face: 0 } as const;
    const gathered = (edits: object[]) => addCourse(plain, post, 'gathered', 'Strokes', { edits });
    const inset = (distance: number) => ({ kind: 'inset', name: 'Inset 2', params: { distance, pick } });
    const sound = gathered([inset(1)]);
    expect(changeProblem(plain, sound)).toBe(null);
    const broken = structuredClone(sound);
    const course = broken.parts[0]!.courses[1]!;
    if (course.kind === 'gathered') (course.params.edits[0]!.params as { distance: number }).distance = 1e12;
    expect(changeProblem(sound, broken)).toMatch(/^Inset 2: .*at most 10000 m\.$/);
    if (course.kind === 'gathered') course.params.edits[0]!.kind = 'engrave';
    expect(changeProblem(sound, broken)).toBe('Inset 2: It is of a kind that is not known here.');
  });

  it('in a document that is none', () => {
    for (const d of [{}, { version: '7' }, { version: 0 }, { version: 1.5 }])
      expect(code(() => readProject(d))).toBe('bad-file: This is not a project document: it has no version.');
    for (const d of [null, [], 'x'])
      expect(code(() => readProject(d))).toBe('bad-file: This is not a project document.');
  });

  it('in a cutter, by its name, when a project is opened without it', () => {
    const cutter = (name: string) => ({
      name,
      shape: newShape('box'),
      placement: { position: [0, 0, 0] as [number, number, number], turn: [0, 0, 0] as [number, number, number] },
    });
    const p = addCut(plain, post, cutter('Slot'), 'subtract');
    const loose = JSON.parse(JSON.stringify(p)) as {
      parts: { courses: { name: string; params: { cutters: object[] } }[] }[];
    };
    const cut = loose.parts[0]!.courses[1]!;
    cut.name = 'Slots';
    cut.params.cutters.push({ id: 90, name: 'Second', shape: { kind: 'nothing' } }, { id: 91, shape: 7 });
    const { left } = rescueProject(loose);
    expect(left).toHaveLength(2);
    expect(left[0]).toMatch(/^The cutter "Second" of "Slots" of "Post" is left out/);
    expect(left[1]).toMatch(/^The cutter without a name of "Slots" of "Post" is left out/);
  });

  it('of a repeat along a boundary that is not there', () => {
    const placement = { position: [0, 0, 0] as [number, number, number], turn: [0, 0, 0] as [number, number, number] };
    const along = (path: [number, number, number][]) => () =>
      instancesOf(placement, { ...notRepeated(), kind: 'along', count: 2, path });
    expect(
      code(
        along([
          [1, 2, 3],
          [1, 2, 3],
        ]),
      ),
    ).toMatch(/^bad-input: There is no boundary yet to repeat along\. /);
    expect(
      code(
        along([
          [0, 0, 0],
          [9, 0, 0],
        ]),
      ),
    ).toBe('no error');
  });
});

it('a plate with sharp corners has no flats to set', () => {
  expect(withFlats(Shape.parse({ kind: 'plate', corner: 0 }), 2)).toBe(null);
});
