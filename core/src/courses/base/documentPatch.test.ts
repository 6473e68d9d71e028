import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { skerryLight } from '../../demo/index.ts';
import { addCut, addPart, moveCourse, newProject, newShape, removeCourse, removePart, renamePart } from '../index.ts';
import { applyPatch, patchOf } from './documentPatch.ts';

const plain = (x: unknown): unknown => JSON.parse(JSON.stringify(x));

describe('a patch of a document', () => {
  const sample = skerryLight('p');
  const [wall, pod] = sample.parts;
  const steps = {
    'a name': renamePart(sample, wall!.id, 'Another'),
    'a cut': addCut(sample, pod!.id, {
      name: 'Hole',
      shape: newShape('cylinder'),
      placement: { position: [0, 0, 0], turn: [0, 0, 0] },
    }),
    'a course less': removeCourse(sample, wall!.id, wall!.courses[1]!.id),
    'another order': moveCourse(sample, wall!.id, wall!.courses[1]!.id, 3),
    'a part less': removePart(sample, pod!.id),
    'a part more': addPart(sample, 'Block'),
    'nothing in common': { ...newProject('q', 'Q'), unit: 'in' as const },
  };
  it.each(Object.entries(steps))('leads from one state to the next and back: %s', (_, after) => {
    const there = patchOf(sample, after)!;
    const back = patchOf(after, sample)!;
    // As it is kept: as text.
    expect(applyPatch(sample, plain(there) as never)).toEqual(after);
    expect(plain(applyPatch(after, plain(back) as never))).toEqual(plain(sample));
  });

  it('is as small as the change, and leaves what it does not touch the same object', () => {
    const after = renamePart(sample, wall!.id, 'Another');
    const p = patchOf(sample, after)!;
    expect(JSON.stringify(p)).toBe(`{"within":{"parts":{"each":{"${wall!.id}":{"set":{"name":"Another"}}}}}}`);
    const made = applyPatch(sample, p) as typeof sample;
    expect(made.parts[1]).toBe(pod);
    expect(made.parts[0]!.courses).toBe(wall!.courses);
    expect(patchOf(sample, plain(sample))).toBe(null);
  });

  it('is refused by a value that it is not of', () => {
    const p = patchOf(sample, steps['another order'])!;
    expect(() => applyPatch(newProject('q', 'Q'), p)).toThrow(RangeError);
    expect(() => applyPatch(steps['a course less'], p)).toThrow(RangeError);
  });

  it('leads between any two values', () => {
    const id = fc.integer({ min: 1, max: 6 });
    const value = fc.letrec((tie) => ({
      leaf: fc.oneof(
        fc.integer(),
        fc.string(),
        fc.boolean(),
        fc.constant(null),
        fc.array(fc.integer(), { maxLength: 3 }),
      ),
      list: fc.uniqueArray(fc.record({ id, x: tie('any') }), { maxLength: 4, selector: (y) => y.id }),
      object: fc.dictionary(fc.constantFrom('a', 'b', 'c'), tie('any'), { maxKeys: 3 }),
      any: fc.oneof({ depthSize: 'small', maxDepth: 4 }, tie('leaf'), tie('list'), tie('object')),
    })).any;
    fc.assert(
      fc.property(value, value, (a, b) => {
        const p = patchOf(a, b);
        if (p) expect(applyPatch(a, plain(p) as never)).toEqual(b);
        else expect(plain(a)).toEqual(plain(b));
      }),
      { numRuns: 2000 },
    );
  });
});
