import { describe, expect, it } from 'vitest';
import type { Fit } from '../../carve/index.ts';
import { faceCount, flipMesh, takeFaces, transformMesh, type PolyMesh } from '../../mesh/index.ts';
import { ballFromPatches, cylinder } from '../../shapes/index.ts';
import {
  addCut,
  addPart,
  applyRemedy,
  Evaluator,
  findCourse,
  findPart,
  fitOf,
  moveToPart,
  newProject,
  sayFit,
  setCutter,
  setParams,
  Shape,
  withFlats,
  type CutCourse,
  type NewCutter,
  type Part,
  type Project,
} from '../index.ts';

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
  ['misses', pin(40), 'Misses the part: 10 mm away at its nearest.', 'Move it in'],
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
  expect(sayFit(found, 'mm')).toEqual({ text, warns: true, act });
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
  const p = addCut(hull, P, {
    name: 'Port',
    ...pin(0, { diameter: 30, segments: 12 }),
    placement: { position: [40, 0, 0], turn: [0, 90, 0] },
  });
  const found = fits(p).find((f) => f.kind === 'coarse')!;
  const after = applyRemedy(p, P, findPart(p, P)!.courses[1]!.id, found);
  const course = findCourse(findPart(after, P), findPart(p, P)!.courses[1]!.id) as CutCourse;
  expect(course.params.cutters[0]!.shape).toMatchObject({ segments: 36 });
  expect(fits(after).map((f) => f.kind)).toEqual([]);
});

describe('an imported cutter that has no inside', () => {
  const whole = cylinder(8, 40, 32);
  const meshes: Record<string, PolyMesh> = {
    aaaaaaaa: takeFaces(whole, (f) => f !== faceCount(whole) - 1),
    bbbbbbbb: flipMesh(whole),
  };
  it.each([
    ['aaaaaaaa', 'open', 'Close its openings'],
    ['bbbbbbbb', 'turned', 'Turn its faces over'],
  ])('%s is %s, and one act clears it', (hash, kind, act) => {
    const store = (h: string) => meshes[h];
    const p = addCut(addPart(newProject('p', 'P'), 'Plate', Shape.parse({ kind: 'box', x: 100, y: 60, z: 20 })), P, {
      name: 'Tool',
      shape: Shape.parse({ kind: 'mesh', hash, title: 'Tool' }),
      placement: { position: [0, 0, 0], turn: [0, 0, 0] },
    });
    const look = (q: Project) => {
      const course = findPart(q, P)!.courses[1] as CutCourse;
      return fitOf(new Evaluator().below(findPart(q, P)!, course.id, store)!, course, store);
    };
    const [found] = look(p) as [Fit];
    expect([found.kind, sayFit(found, 'mm').act]).toEqual([kind, act]);
    expect(new Evaluator().evaluate(findPart(p, P)!, store).courses[1]!.state).toBe('failed');
    const after = applyRemedy(p, P, findPart(p, P)!.courses[1]!.id, found);
    expect(look(after)).toEqual([]);
    const made = new Evaluator().evaluate(findPart(after, P)!, store);
    expect(made.courses[1]).toMatchObject({ state: 'done', report: { newWalls: 32 } });
  });
});

it('a cut of the wrong part moves to the one that its cutter meets', () => {
  const two = addPart(project(pin(0)), 'Second', Shape.parse({ kind: 'box', x: 100, y: 60, z: 20 }));
  const [first, second] = two.parts as [Part, Part];
  const course = first.courses[1] as CutCourse;
  const far = setCutter(two, P, course.id, {
    ...course.params.cutters[0]!,
    placement: { position: [0, 100, 0], turn: [0, 0, 0] },
  });
  const moved = (m: PolyMesh) => transformMesh(m, [1, 0, 0, 0, 0, 1, 0, 100, 0, 0, 1, 0]);
  const others = () => [{ id: second.id, mesh: moved(new Evaluator().evaluate(second, none).mesh) }];
  const at = findPart(far, P)!.courses[1] as CutCourse;
  const found = fitOf(new Evaluator().below(findPart(far, P)!, at.id, none)!, at, none, { others });
  const fit = found.find((f) => f.kind === 'elsewhere')!;
  expect(sayFit(fit, 'mm', (id) => findPart(far, id)!.name)).toEqual({
    text: 'It meets Second instead.',
    warns: true,
    act: 'Cut Second',
  });
  const after = applyRemedy(far, P, course.id, fit);
  expect(after.parts.map((x) => x.courses.length)).toEqual([1, 2]);
  expect(findCourse(findPart(after, second.id), course.id)).toBe(at);
  expect(moveToPart(far, P, course.id, P)).toBe(far);
  expect(moveToPart(far, P, course.id, 999)).toBe(far);
});

it('marks from the other side on one act, and says where a result touches itself', () => {
  const p = setParams(project(pin(0)), P, 3, { operation: 'scribe', reach: 'nearest' });
  const behind = fits(p).find((f) => f.kind === 'behind');
  expect(behind).toBe(undefined);
  const fit: Fit = { kind: 'behind', cutter: 0, length: 30, remedy: { kind: 'fromBack' } };
  const course = findPart(p, P)!.courses[1] as CutCourse;
  const after = findPart(applyRemedy(p, P, course.id, fit), P)!.courses[1] as CutCourse;
  expect(after.params.fromBack).toBe(true);
  // The other side of the plate is marked now.
  const marked = (c: CutCourse) => {
    const { mesh } = new Evaluator().evaluate({ ...findPart(p, P)!, courses: [findPart(p, P)!.courses[0]!, c] }, none);
    const f = mesh.layers.mark!.findIndex((x) => x !== 0);
    return mesh.positions[3 * mesh.corners[mesh.loopStart[mesh.faceLoops[f]!]!]! + 2]!;
  };
  expect([marked(course), marked(after)]).toEqual([10, -10]);
  const [touches] = fitOf(new Evaluator().below(findPart(p, P)!, course.id, none)!, course, none, {
    contacts: 2,
  }).slice(-1);
  expect(sayFit(touches!, 'mm').text).toContain('touches itself at 2 places');
});

it('a finding without a remedy, or of a course or cutter that is gone, changes nothing', () => {
  const p = project(pin(11));
  const id = findPart(p, P)!.courses[1]!.id;
  const base = findPart(p, P)!.courses[0]!.id;
  const short: Fit = { kind: 'short', cutter: 0, length: 1, remedy: { kind: 'through' } };
  expect(applyRemedy(p, P, id, { ...short, remedy: undefined } as Fit)).toBe(p);
  for (const remedy of [short.remedy!, { kind: 'fromBack' } as const, { kind: 'part', part: P } as const])
    for (const [part, course] of [
      [P, base],
      [P, 999],
      [999, id],
    ] as const)
      expect(applyRemedy(p, part, course, { ...short, remedy })).toBe(p);
  expect(applyRemedy(p, P, id, { ...short, cutter: 5 })).toBe(p);
  expect(applyRemedy(p, P, id, short)).not.toBe(p);
});

it('says that a part of too many faces was not looked at', () => {
  const course = findPart(project(pin(0)), P)!.courses[1] as CutCourse;
  const large = ballFromPatches(50, 92);
  const found = fitOf(large, course, none);
  expect(found).toEqual([{ kind: 'large', cutter: 0, count: faceCount(large) }]);
  expect(sayFit(found[0]!, 'mm')).toEqual({
    text: 'Not checked: 50,784 faces; the dry fit takes up to 50,000. The cut itself is done.',
    warns: false,
  });
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
