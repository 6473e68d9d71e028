import { describe, expect, it } from 'vitest';
import { faceCount, isClosed } from '../../mesh/index.ts';
import {
  addCut,
  addPart,
  Evaluator,
  newProject,
  newShape,
  notRepeated,
  setParams,
  Shape,
  type CutCourse,
} from '../index.ts';

const at = (x: number, y: number, z: number, turn: [number, number, number] = [0, 0, 0]) => ({
  position: [x, y, z] as [number, number, number],
  turn,
});
const box = (x: number, y: number, z: number) => ({ ...newShape('box'), x, y, z }) as Shape;

/** A block with one cut: its result and its warnings. */
function cutOf(
  block: Shape,
  cutter: Shape,
  placement: ReturnType<typeof at>,
  operation: CutCourse['params']['operation'],
  params: Partial<CutCourse['params']> = {},
) {
  let p = addPart(newProject('p', 'P'), 'Block', block);
  p = addCut(p, 2, { name: 'Cut', shape: cutter, placement }, operation);
  const id = p.parts[0]!.courses[1]!.id;
  p = setParams(p, 2, id, params);
  const { mesh, courses } = new Evaluator().evaluate(p.parts[0]!, () => undefined);
  return { mesh, warnings: courses[1]!.report.warnings ?? [], error: courses[1]!.error?.message };
}

describe('what is told of a cut that was done', () => {
  it('a stamp that is buried whole leaves a hollow, and says so; one that reaches the surface does not', () => {
    const block = box(80, 60, 40);
    for (const operation of ['subtract', 'split'] as const) {
      const buried = cutOf(block, box(10, 10, 10), at(0, 0, 0), operation, { keeps: 'rest' });
      expect(buried.error).toBe(undefined);
      expect(buried.warnings).toEqual([expect.stringMatching(/^It leaves a closed hollow within the part/)]);
      expect(cutOf(block, box(10, 10, 10), at(0, 0, 16), operation, { keeps: 'rest' }).warnings).toEqual([]);
    }
    expect(cutOf(block, box(10, 10, 60), at(0, 0, 0), 'subtract').warnings).toEqual([]);
    expect(cutOf(block, box(10, 10, 10), at(35, 0, 0), 'union').warnings).toEqual([]);
  });

  it('several hollows are counted', () => {
    let p = addPart(newProject('p', 'P'), 'Block', box(80, 60, 40));
    const repeat = { ...notRepeated(), kind: 'row', count: 3, step: 20 } as const;
    p = addCut(p, 2, { name: 'Cut', shape: box(8, 8, 8), placement: at(-20, 0, 0), repeat }, 'subtract');
    const { courses } = new Evaluator().evaluate(p.parts[0]!, () => undefined);
    expect(courses[1]!.report.warnings).toEqual([expect.stringMatching(/^It leaves 3 closed hollows within the part/)]);
  });

  it('slits side by side that turn too sharply are not cut, and that is told; those that leave the part are', () => {
    const slits = { width: 2, spacing: 4, lines: 3, depth: 1 };
    const block = box(80, 60, 50);
    // Into a notch 7 mm wide the second and third slit have no way.
    const points: [number, number][] = [
      [0, 0],
      [30, 0],
      [30, 20],
      [18.5, 20],
      [18.5, 6],
      [11.5, 6],
      [11.5, 20],
      [0, 20],
    ];
    const notched = Shape.parse({ kind: 'outline', points, height: 30 });
    const told = cutOf(block, notched, at(0, 0, 10), 'kerf', slits);
    expect(told.error).toBe(undefined);
    expect(isClosed(told.mesh)).toBe(true);
    expect(told.warnings).toEqual(['1 of 3 slits are cut. The others leave the surface, or turn too sharply there.']);
    expect(cutOf(block, box(70, 36, 40), at(9.7, -26.2, -5.7, [90, 0, 0]), 'kerf', slits).warnings).toEqual([]);
    expect(cutOf(block, box(30, 20, 40), at(0, 0, 20), 'kerf', slits).warnings).toEqual([]);
  });

  it('a part less itself, moved by less than can be made, leaves nothing', () => {
    for (const shape of [box(80, 60, 40), newShape('cylinder'), newShape('ball'), newShape('torus')])
      for (const off of [1e-12, 1e-10, 1e-8, -1e-9]) {
        const { error } = cutOf(shape, shape, at(off, 0.7 * off, -0.4 * off), 'subtract');
        expect(error).toMatch(/takes the whole part away/);
      }
    // What is thin and meant stays.
    const { mesh, error } = cutOf(box(80, 60, 40), box(80, 60, 40), at(0.01, 0, 0), 'subtract');
    expect([error, faceCount(mesh)]).toEqual([undefined, 6]);
  });
});
