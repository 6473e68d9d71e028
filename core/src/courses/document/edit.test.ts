import { expect, it } from 'vitest';
import * as edit from '../index.ts';

const start = edit.addPart(edit.newProject('p', 'Project'), 'Start');
const P = start.parts[0]!.id;

it('lays the mend that a refused course needs below it: a healing, then a recasting, and none for a cutter', () => {
  const cutter = { name: 'Pin', shape: edit.newShape('cylinder'), placement: { position: [0, 0, 0], turn: [0, 0, 0] } };
  const p = edit.addCut(start, P, cutter as Parameters<typeof edit.addCut>[2]);
  const cut = p.parts[0]!.courses[1]!;
  const refused = { code: 'not-solid', message: 'The part crosses itself.' };
  const healed = edit.mendBelow(p, P, cut.id, refused)!;
  expect([healed.kind, healed.project.parts[0]!.courses.map((c) => c.kind)]).toEqual([
    'heal',
    ['shape', 'heal', 'cut'],
  ]);
  const recast = edit.mendBelow(healed.project, P, cut.id, refused)!;
  expect(recast.project.parts[0]!.courses.map((c) => c.kind)).toEqual(['shape', 'heal', 'recast', 'cut']);
  expect(edit.readProject(recast.project)).toEqual(recast.project);
  expect(edit.mendBelow(p, P, cut.id, { ...refused, message: 'The cutter crosses itself.' })).toBeNull();
  expect(edit.mendBelow(p, P, cut.id, { ...refused, code: 'bad-input' })).toBeNull();
});

it('adds, moves, switches and removes courses, and leaves the old project as it was', () => {
  const before = JSON.stringify(start);
  const cutter = {
    name: 'Pin',
    shape: edit.newShape('cylinder'),
    placement: { position: [0, 0, 0], turn: [0, 0, 0] },
  } as const;
  let p = edit.addCut(start, P, { ...cutter, placement: { position: [0, 0, 0], turn: [0, 0, 0] } });
  p = edit.addCut(p, P, { ...cutter, name: 'Second', placement: { position: [9, 0, 0], turn: [0, 0, 0] } }, 'union');
  const [base, first, second] = p.parts[0]!.courses;
  expect([first!.name, second!.name]).toEqual(['Pin', 'Second']);
  expect(edit.readProject(p)).toEqual(p);

  expect(edit.moveCourse(p, P, second!.id, 1).parts[0]!.courses.map((c) => c.id)).toEqual([
    base!.id,
    second!.id,
    first!.id,
  ]);
  expect(edit.moveCourse(p, P, second!.id, 0).parts[0]!.courses[0]!.id).toBe(base!.id);
  expect(edit.moveCourse(p, P, base!.id, 2)).toEqual(p);
  expect(edit.switchCourse(p, P, first!.id, false).parts[0]!.courses[1]!.on).toBe(false);
  expect(edit.renameCourse(p, P, first!.id, 'Dowel').parts[0]!.courses[1]!.name).toBe('Dowel');
  expect(edit.removeCourse(p, P, first!.id).parts[0]!.courses).toHaveLength(2);
  expect(() => edit.removeCourse(p, P, base!.id)).toThrow(/delete the part/);

  const two = edit.addCutter(p, P, first!.id, { ...cutter, placement: { position: [5, 5, 0], turn: [0, 0, 0] } });
  const cut = two.parts[0]!.courses[1] as edit.CutCourse;
  expect(cut.params.cutters).toHaveLength(2);
  const moved = {
    ...cut.params.cutters[1]!,
    placement: { position: [6, 6, 6] as [number, number, number], turn: [0, 0, 0] as [number, number, number] },
  };
  const q = edit.setCutter(two, P, cut.id, moved);
  expect(edit.findCutter(edit.findCourse(edit.findPart(q, P), cut.id), moved.id)).toEqual(moved);
  const one = edit.removeCutter(q, P, cut.id, moved.id);
  expect((one.parts[0]!.courses[1] as edit.CutCourse).params.cutters).toHaveLength(1);
  expect(edit.removeCutter(one, P, cut.id, cut.params.cutters[0]!.id).parts[0]!.courses).toHaveLength(2);
  expect(edit.setParams(p, P, first!.id, { joinFlush: false }).parts[0]!.courses[1]!.params).toMatchObject({
    joinFlush: false,
  });
  expect(JSON.stringify(start)).toBe(before);
});

it('parts the offcut of a split as a part of its own', () => {
  const cutter = {
    name: 'Pin',
    shape: edit.newShape('cylinder'),
    placement: { position: [0, 0, 0], turn: [0, 0, 0] },
  } as const;
  const p = edit.addCut(start, P, { ...cutter, placement: { position: [0, 0, 0], turn: [0, 0, 0] } }, 'split');
  const two = edit.partOffcut(p, P, p.parts[0]!.courses[1]!.id);
  expect(two.parts.map((x) => [x.name, (x.courses[1] as edit.CutCourse).params.keeps])).toEqual([
    ['Start', 'rest'],
    ['Pin offcut', 'offcut'],
  ]);
  expect(edit.readProject(two)).toEqual(two);
  expect(edit.partOffcut(p, P, p.parts[0]!.courses[0]!.id)).toBe(p);
});

it('adds, duplicates and removes parts with numbers of their own', () => {
  const p = edit.addPart(start, 'Block');
  expect(p.parts).toHaveLength(2);
  const d = edit.duplicatePart(
    edit.addCut(p, P, { name: 'x', shape: edit.newShape('box'), placement: { position: [0, 0, 0], turn: [0, 0, 0] } }),
    P,
  );
  expect(d.parts.map((x) => x.name)).toEqual(['Start', 'Start copy', 'Block']);
  expect(edit.readProject(d)).toEqual(d);
  expect(edit.removePart(d, P).parts).toHaveLength(2);
});

it('names the imported meshes that a project uses', () => {
  const shape = edit.Shape.parse({ kind: 'mesh', hash: 'abcdef0123', title: 'Casting' });
  const p = edit.addPart(start, 'Casting', shape);
  expect(edit.meshesUsed(p)).toEqual(['abcdef0123']);
  expect(edit.meshesUsed(start)).toEqual([]);
});

it('names made of a kind of shape follow to another kind: of a base, a cutter, and a cut of that cutter alone', () => {
  const start = edit.addPart(edit.newProject('p', 'Names'), 'Part');
  const part = start.parts[0]!;
  const base = part.courses[0] as edit.ShapeCourse;
  expect(base.name).toBe('Box');
  const ball = edit.reshapeBase(start, part.id, base, edit.newShape('ball')).parts[0]!.courses[0] as edit.ShapeCourse;
  expect([ball.name, ball.params.shape.kind]).toEqual(['Ball from rings', 'ball']);

  const pin = { shape: edit.newShape('cylinder'), placement: base.params.placement };
  const one = edit.addCut(start, part.id, { ...pin, name: 'Cylinder 1' });
  const cutOf = (p: edit.Project) => p.parts[0]!.courses[1] as edit.CutCourse;
  const names = (p: edit.Project) => [cutOf(p).name, ...cutOf(p).params.cutters.map((c) => c.name)];
  const reshaped = (p: edit.Project) =>
    edit.reshapeCutter(p, part.id, cutOf(p), cutOf(p).params.cutters[0]!, edit.newShape('box'));
  expect(names(reshaped(one))).toEqual(['Box 1', 'Box 1']);
  const two = edit.addCutter(one, part.id, cutOf(one).id, { ...pin, name: 'Drain' });
  expect(names(reshaped(two))).toEqual(['Cylinder 1', 'Box 1', 'Drain']);
});
