import { describe, expect, it } from 'vitest';
import { addCourse, addCut, addCutter, newProject, addPart, Shape, type Project } from '../index.ts';
import { courseMeasure } from './courseMeasure.ts';

const shape = (s: Record<string, unknown>) => Shape.parse(s);
const at = { position: [0, 0, 0], turn: [0, 0, 0] } as const;
const base = (s: Record<string, unknown>) => addPart(newProject('p', 'P'), 'Part', shape(s));
const top = (p: Project, unit: 'mm' | 'cm' = 'mm') => courseMeasure(p.parts[0]!.courses.at(-1)!, unit);
const cutter = (s: Record<string, unknown>, repeat?: object) =>
  ({
    name: '',
    shape: shape(s),
    placement: { position: [...at.position], turn: [...at.turn] },
    ...(repeat && { repeat }),
  }) as never;
const block = base({ kind: 'box', x: 100, y: 60, z: 20 });

describe('the measure that names a course', () => {
  it('is the diameter of a hole, the plan of a pocket, the foot of a base', () => {
    expect(top(addCut(block, 2, cutter({ kind: 'cylinder', diameter: 25, height: 60 })))).toBe('Ø 25');
    expect(top(addCut(block, 2, cutter({ kind: 'cylinder', diameter: 25, height: 60 })), 'cm')).toBe('Ø 2.5');
    expect(top(addCut(block, 2, cutter({ kind: 'box', x: 18, y: 30, z: 14 })))).toBe('18 × 30');
    expect(top(addCut(block, 2, cutter({ kind: 'ball', diameter: 9 })))).toBe('Ø 9');
    expect(top(block)).toBe('100 × 60');
  });
  it('counts what is alike, and only counts what is not', () => {
    const one = addCut(block, 2, cutter({ kind: 'cylinder', diameter: 4.5, height: 60 }, { kind: 'row', count: 10 }));
    expect(top(one)).toBe('10 × Ø 4.5');
    const repeated = (repeat: object) =>
      top(addCut(block, 2, cutter({ kind: 'cylinder', diameter: 4.5, height: 60 }, repeat)));
    expect(repeated({ kind: 'row', count: 10, off: [2, 5, 40] })).toBe('8 × Ø 4.5');
    // More than are ever made: the course says so, the list goes on.
    expect(repeated({ kind: 'grid', columns: 900, rows: 900 })).toBe('810000 × Ø 4.5');
    const cut = one.parts[0]!.courses.at(-1)!.id;
    const alone = addCut(block, 2, cutter({ kind: 'cylinder', diameter: 4.5, height: 60 }));
    const more = addCutter(alone, 2, cut, cutter({ kind: 'cylinder', diameter: 4.5, height: 20 }));
    expect(top(more)).toBe('2 × Ø 4.5');
    expect(top(addCutter(more, 2, cut, cutter({ kind: 'box', x: 3, y: 4, z: 5 })))).toBe('3 cutters');
  });
  it('is the first length of a stroke, and nothing where it has none', () => {
    const pick = { by: 'all', on: 'edge' };
    expect(top(addCourse(block, 2, 'finish', 'F', { width: 1.5 }))).toBe('1.5 mm');
    expect(top(addCourse(block, 2, 'finish', 'F', { measure: 'share' }))).toBe('');
    expect(top(addCourse(block, 2, 'hard', 'H', { pick }))).toBe('');
  });
});
