import { describe, expect, it } from 'vitest';
import { areaAndVolume, isClosed, sameMesh } from '../../mesh/index.ts';
import {
  addCut,
  addPart,
  Evaluator,
  findPart,
  hasLinks,
  newProject,
  setCutter,
  setParams,
  Shape,
  switchCourse,
  type CutCourse,
  type Part,
  type Project,
} from '../index.ts';

const none = () => undefined;
const PLATE = 2;
const TOOL = 4;
const at = (x: number, y: number, z: number) => ({
  position: [x, y, z] as [number, number, number],
  turn: [0, 0, 0] as [number, number, number],
});

/** A plate that is cut with another part, which has a hole of its own. */
function project(): Project {
  let p = addPart(newProject('p', 'P'), 'Plate', Shape.parse({ kind: 'box', x: 100, y: 60, z: 20 }));
  p = addPart(p, 'Tool', Shape.parse({ kind: 'box', x: 30, y: 30, z: 40 }));
  p = addCut(p, TOOL, {
    name: 'Bore',
    shape: Shape.parse({ kind: 'box', x: 10, y: 10, z: 60 }),
    placement: at(0, 0, 0),
  });
  return addCut(p, PLATE, {
    name: 'By the tool',
    shape: { kind: 'part', part: TOOL, title: 'Tool' },
    placement: at(20, 0, 0),
  });
}
function evaluate(p: Project, id = PLATE, evaluator = new Evaluator()) {
  evaluator.parts = p.parts;
  return evaluator.evaluate(findPart(p, id)!, none);
}
const cutOf = (p: Project, id: number) => findPart(p, id)!.courses[1] as CutCourse;

describe('a part as a cutter', () => {
  it('cuts as it stands, with its own courses', () => {
    const r = evaluate(project());
    expect([r.courses[1]!.state, isClosed(r.mesh)]).toEqual(['done', true]);
    // The core of the tool's own bore stays in the plate.
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(120000 - (900 - 100) * 20, 6);
  });

  it('follows when that part is changed, and only then is cut anew', () => {
    const evaluator = new Evaluator();
    const p = project();
    evaluate(p, PLATE, evaluator);
    expect(evaluate(p, PLATE, evaluator).courses[1]!.found).toBe(true);
    const bore = cutOf(p, TOOL);
    const wider = setCutter(p, TOOL, bore.id, {
      ...bore.params.cutters[0]!,
      shape: Shape.parse({ kind: 'box', x: 20, y: 10, z: 60 }),
    });
    const r = evaluate(wider, PLATE, evaluator);
    expect(r.courses[1]!.found).toBe(false);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(120000 - (900 - 200) * 20, 6);
    expect(sameMesh(r.mesh, evaluate(wider).mesh)).toBe(true);
    const off = switchCourse(p, TOOL, bore.id, false);
    expect(areaAndVolume(evaluate(off, PLATE, evaluator).mesh).volume).toBeCloseTo(120000 - 900 * 20, 6);
  });

  it('may be linked itself, through any number of parts', () => {
    let p = project();
    p = addPart(p, 'Third', Shape.parse({ kind: 'box', x: 200, y: 100, z: 10 }));
    const third = p.parts.at(-1)!.id;
    p = addCut(p, third, {
      name: 'By the plate',
      shape: { kind: 'part', part: PLATE, title: 'Plate' },
      placement: at(0, 0, 5),
    });
    expect(areaAndVolume(evaluate(p, third).mesh).volume).toBeCloseTo(200000 - (6000 - 800) * 10, 6);
  });

  it('that is gone, has nothing to it, or is cut with the part itself fails in words, and the rest goes on', () => {
    const p = project();
    const fails = (q: Project) => {
      const r = evaluate(q);
      expect(r.courses[1]!.error).toMatchObject({
        code: 'bad-input',
        message: expect.stringContaining('The part Tool cannot be used here'),
      });
      expect(areaAndVolume(r.mesh).volume).toBeCloseTo(120000, 6);
    };
    fails({ ...p, parts: p.parts.filter((x: Part) => x.id !== TOOL) });
    const tool = findPart(p, TOOL)!;
    fails(switchCourse(p, TOOL, tool.courses[0]!.id, false));
    const bore = cutOf(p, TOOL);
    const ring = setCutter(p, TOOL, bore.id, {
      ...bore.params.cutters[0]!,
      shape: { kind: 'part', part: PLATE, title: 'Plate' },
    });
    // Round in a ring each is made without the other: the inner link fails, the outer one takes what there is.
    expect(evaluate(ring).courses[1]!.state).toBe('done');
    const self = setParams(p, PLATE, cutOf(p, PLATE).id, {
      cutters: [{ ...cutOf(p, PLATE).params.cutters[0]!, shape: { kind: 'part', part: PLATE, title: 'Tool' } }],
    });
    fails(self);
  });

  it('is told of a project, so that one without links needs no other part', () => {
    expect(hasLinks(project())).toBe(true);
    expect(hasLinks({ ...project(), parts: project().parts.slice(1) })).toBe(false);
  });
});

it('900 parts linked in a row are refused in a sentence, 90 are not', () => {
  let p = addPart(newProject('p', 'P'), '0');
  for (let i = 1; i < 900; i++) p = addPart(p, String(i), { kind: 'part', part: p.parts.at(-1)!.id, title: 'One' });
  const evaluator = new Evaluator();
  evaluator.parts = p.parts;
  const of = (i: number) => evaluator.evaluate(p.parts[i]!, () => undefined);
  expect(of(90).mesh.corners.length).toBe(24);
  expect(() => of(899)).toThrow('More than 100 parts are linked in a row. Freeze one of them, or link fewer.');
});
