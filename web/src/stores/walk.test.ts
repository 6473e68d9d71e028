import { describe, expect, it, vi } from 'vitest';
import {
  addCourse,
  addCut,
  addPart,
  newProject,
  setCutter,
  Shape,
  type CutCourse,
  type Project,
} from '@dusky-mason/core/courses';

// @vitest-environment happy-dom

vi.mock('localforage', () => import('../testing/memoryForage.ts'));
vi.mock('./journal.ts', async () => (await import('../testing/memoryForage.ts')).memoryJournal());

const { WALK } = await import('./walk.ts');

const block = addPart(newProject('p', 'P'), 'Block', Shape.parse({ kind: 'box', x: 10, y: 10, z: 10 }));
const cut = addCut(block, 2, {
  name: 'Hole',
  shape: Shape.parse({ kind: 'cylinder', diameter: 4, height: 20 }),
  placement: { position: [0, 0, 0], turn: [0, 0, 0] },
});
const seen = (p: Project, stage = 'cut', written = 0, part = 0) => ({ part: p.parts[part], stage, written });
const done = (step: number, before: ReturnType<typeof seen>, now: ReturnType<typeof seen>) =>
  WALK[step]!.done(before, now);

describe('the first walk goes on with one’s own act, and with no other', () => {
  it('a cutter placed on the part, not one that another part has', () => {
    expect(done(0, seen(block), seen(cut))).toBe(true);
    expect(done(0, seen(block), seen(block))).toBe(false);
    const two = addPart(cut, 'Other', Shape.parse({ kind: 'box', x: 1, y: 1, z: 1 }));
    expect(done(0, seen(two, 'cut', 0, 1), seen(two))).toBe(false);
  });
  it('that cutter moved or resized, not another one placed', () => {
    const course = cut.parts[0]!.courses.at(-1) as CutCourse;
    const [cutter] = course.params.cutters;
    const moved = setCutter(cut, 2, course.id, {
      ...cutter!,
      placement: { ...cutter!.placement, position: [1, 0, 0] },
    });
    expect(done(1, seen(cut), seen(moved))).toBe(true);
    expect(done(1, seen(cut), seen(cut))).toBe(false);
    expect(done(1, seen(block), seen(cut))).toBe(false);
  });
  it('edges finished, the survey looked at, a file written', () => {
    expect(done(2, seen(cut), seen(addCourse(cut, 2, 'finish', 'F', {})))).toBe(true);
    expect(done(2, seen(cut), seen(addCourse(cut, 2, 'tidy', 'T', {})))).toBe(false);
    expect([done(3, seen(cut, 'dress'), seen(cut, 'dress')), done(3, seen(cut, 'dress'), seen(cut, 'survey'))]).toEqual(
      [false, true],
    );
    expect([done(4, seen(cut), seen(cut)), done(4, seen(cut, 'dispatch', 2), seen(cut, 'dispatch', 3))]).toEqual([
      false,
      true,
    ]);
  });
});
