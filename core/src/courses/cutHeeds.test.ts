import { describe, expect, it } from 'vitest';
import { faceCount, isClosed } from '../mesh/index.ts';
import { addCut, addPart, Evaluator, newProject, newShape, setParams, type CutCourse, type Shape } from './index.ts';

const at = (x: number, y: number, z: number, turn: [number, number, number] = [0, 0, 0]) => ({ position: [x, y, z] as [number, number, number], turn }); // prettier-ignore
const box = (x: number, y: number, z: number) => ({ ...newShape('box'), x, y, z }) as Shape;

/** A block with one cut: what it comes to, and what is told. */
function cutOf(block: Shape, cutter: Shape, placement: ReturnType<typeof at>, operation: CutCourse['params']['operation'], params: Partial<CutCourse['params']> = {}) {
  let p = addPart(newProject('p', 'P'), 'Block', block);
  p = addCut(p, 2, { name: 'Cut', shape: cutter, placement }, operation);
  const id = p.parts[0]!.courses[1]!.id;
  p = setParams(p, 2, id, params);
  const { mesh, courses } = new Evaluator().evaluate(p.parts[0]!, () => undefined);
  return { mesh, heed: courses[1]!.report.heed ?? [], error: courses[1]!.error?.message };
} // prettier-ignore

describe('what is told of a cut that was done', () => {
  it('a stamp that is buried whole leaves a hollow, and says so; one that reaches the surface does not', () => {
    const block = box(80, 60, 40);
    for (const operation of ['subtract', 'split'] as const) {
      const buried = cutOf(block, box(10, 10, 10), at(0, 0, 0), operation, { keeps: 'rest' });
      expect(buried.error).toBe(undefined);
      expect(buried.heed).toEqual([expect.stringMatching(/^It leaves a closed hollow within the part/)]);
      expect(cutOf(block, box(10, 10, 10), at(0, 0, 16), operation, { keeps: 'rest' }).heed).toEqual([]);
    }
    expect(cutOf(block, box(10, 10, 60), at(0, 0, 0), 'subtract').heed).toEqual([]);
    expect(cutOf(block, box(10, 10, 10), at(35, 0, 0), 'union').heed).toEqual([]);
  });

  it('slits side by side that leave the part: those that can be are cut, and the others are told', () => {
    for (const depth of [1, 2]) {
      const placement = at(9.7, -26.2, -5.7, [90, 0, 0]);
      const { mesh, heed, error } = cutOf(box(80, 60, 50), box(70, 36, 40), placement, 'kerf', { width: 2, spacing: 4, lines: 3, depth }); // prettier-ignore
      expect(error).toBe(undefined);
      expect(isClosed(mesh)).toBe(true);
      expect(heed).toEqual(['1 of 3 slits are cut. The others leave the surface, or turn too sharply there.']);
    }
    expect(cutOf(box(80, 60, 50), box(30, 20, 40), at(0, 0, 20), 'kerf', { width: 2, spacing: 4, lines: 3, depth: 1 }).heed).toEqual([]); // prettier-ignore
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
