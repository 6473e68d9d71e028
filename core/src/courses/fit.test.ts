import { expect, it } from 'vitest';
import {
  addCut,
  addPart,
  applyRemedy,
  Evaluator,
  findCourse,
  findPart,
  fitOf,
  newProject,
  sayFit,
  Shape,
  withFlats,
  type CutCourse,
  type NewCutter,
  type Project,
} from './index.ts';

const none = () => undefined;
const P = 2;

/** A plate with one cut, and the dry fit of it. */
function project(cutter: Omit<NewCutter, 'name'>): Project {
  const plate = addPart(newProject('p', 'P'), 'Plate', Shape.parse({ kind: 'box', x: 100, y: 60, z: 20 }));
  return addCut(plate, P, { ...cutter, name: 'Pin' });
}
function fits(p: Project) {
  const part = findPart(p, P)!;
  const course = part.courses[1] as CutCourse;
  return fitOf(new Evaluator().below(part, course.id, none)!, course, none);
}
const pin = (z: number, more: Record<string, unknown> = {}): Omit<NewCutter, 'name'> => ({
  shape: Shape.parse({ kind: 'cylinder', diameter: 16, height: 40, segments: 32, ...more }),
  placement: { position: [0, 0, z], turn: [0, 0, 0] },
});

it.each([
  ['short', pin(11), 'Stops short: a skin of 1 mm is left.', 'Go through'],
  ['misses', pin(40), 'Does not meet the part: 10 mm away at the nearest.', 'Move it in'],
  [
    'graze',
    {
      shape: Shape.parse({ kind: 'box', x: 10, y: 10, z: 10 }),
      placement: { position: [0, 0, 5.02], turn: [0, 0, 0] },
    } as const,
    'Passes so close that a sliver 0.02 mm wide is left.',
    'Nudge it by 0.02 mm',
  ],
])('%s: one act clears it', (kind, cutter, text, act) => {
  const p = project(cutter as Omit<NewCutter, 'name'>);
  const found = fits(p).find((f) => f.kind === kind)!;
  expect(sayFit(found, 'mm')).toEqual({ text, heed: true, act });
  const after = applyRemedy(p, P, findPart(p, P)!.courses[1]!.id, found);
  expect(after).not.toBe(p);
  expect(fits(after).map((f) => f.kind)).not.toContain(kind);
});

it('matches flats to the surface that it meets', () => {
  const hull = addPart(
    newProject('p', 'P'),
    'Hull',
    Shape.parse({ kind: 'cylinder', diameter: 80, height: 60, segments: 96 }),
  );
  const p = addCut(hull, P, { name: 'Port', ...pin(0, { diameter: 30, segments: 12 }), placement: { position: [40, 0, 0], turn: [0, 90, 0] } }); // prettier-ignore
  const found = fits(p).find((f) => f.kind === 'coarse')!;
  const after = applyRemedy(p, P, findPart(p, P)!.courses[1]!.id, found);
  const course = findCourse(findPart(after, P), findPart(p, P)!.courses[1]!.id) as CutCourse;
  expect(course.params.cutters[0]!.shape).toMatchObject({ segments: 36 });
  expect(fits(after).map((f) => f.kind)).toEqual([]);
});

it('sets flats on shapes that have segments, and on no others', () => {
  expect(withFlats(Shape.parse({ kind: 'slot', y: 12 }), 1)).toMatchObject({ segments: 19 });
  expect(withFlats(Shape.parse({ kind: 'plate', corner: 10 }), 2)).toMatchObject({ segments: 8 });
  expect(withFlats(Shape.parse({ kind: 'cone', foot: 10, top: 20 }), 2)).toMatchObject({ segments: 31 });
  expect(withFlats(Shape.parse({ kind: 'box' }), 2)).toBe(null);
});

it('a cutter that goes through clears the part on both sides, whatever its place and turn', () => {
  const turned = { ...pin(11), placement: { position: [3, 4, 11], turn: [25, -10, 40] }, through: true } as const;
  const r = new Evaluator().evaluate(findPart(project(turned as never), P)!, none);
  expect(r.courses[1]).toMatchObject({ state: 'done', report: { newWalls: 32 } });
});
