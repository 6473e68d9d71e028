import { describe, expect, it } from 'vitest';
import { areaAndVolume, bounds, isClosed } from '../../mesh/index.ts';
import { skerryLight } from '../../demo/index.ts';
import {
  addCut,
  addCutter,
  addMade,
  addPart,
  Evaluator,
  findPart,
  giveOwnCourses,
  hasLinks,
  lockedTouched,
  mirrorPart,
  movePart,
  newProject,
  readProject,
  reorderPart,
  scaleCutters,
  setMaterial,
  setPart,
  Shape,
  type CutCourse,
  type Project,
} from '../index.ts';

const none = () => undefined;
const made = (p: Project, id: number) => {
  const e = new Evaluator(() => 0);
  e.parts = p.parts;
  const r = e.evaluate(findPart(p, id)!, none);
  return { ...r, ...areaAndVolume(r.mesh), box: bounds(r.mesh) };
};
const place = (position: [number, number, number]) => ({ position, turn: [0, 0, 0] as [number, number, number] });
/** A box of 40 × 30 × 20 with a pin of 5 × 5 through one corner. */
const drilled = (): Project => {
  const p = addPart(newProject('p', 'P'), 'Block');
  return addCut(p, 2, {
    name: 'Pin',
    shape: Shape.parse({ kind: 'box', x: 5, y: 5, z: 60 }),
    placement: place([10, 8, 0]),
  });
};

describe('parts as wholes', () => {
  it('are shown, hidden, locked and put in order; documents keep all of it', () => {
    const p = skerryLight();
    const [a, b] = p.parts as [(typeof p.parts)[0], (typeof p.parts)[0]];
    const moved = reorderPart(p, b.id, 0);
    expect(moved.parts.map((x) => x.id).slice(0, 2)).toEqual([b.id, a.id]);
    expect(reorderPart(p, a.id, -3)).toBe(p);
    expect(reorderPart(p, a.id, 99).parts.at(-1)).toBe(a);
    const set = setPart(setPart(p, a.id, { shown: false }), b.id, { locked: true });
    expect(readProject(JSON.parse(JSON.stringify(set)))).toEqual(set);
  });

  it('a locked one cannot be changed or deleted, only unlocked or hidden', () => {
    const p = setPart(drilled(), 2, { locked: true });
    expect(lockedTouched(p, movePart(p, 2, [1, 0, 0]))?.name).toBe('Block');
    expect(lockedTouched(p, { ...p, parts: [] })?.name).toBe('Block');
    expect(lockedTouched(p, setPart(p, 2, { locked: false, shown: false }))).toBeUndefined();
    expect(lockedTouched(p, addPart(p, 'Other'))).toBeUndefined();
  });

  it('moved, everything moves along: nothing but the place changes', () => {
    const p = skerryLight();
    for (const { id } of p.parts) {
      const [before, after] = [made(p, id), made(movePart(p, id, [100, -20, 7]), id)];
      expect(after.volume).toBeCloseTo(before.volume, 3);
      [0, 1, 2].forEach((k) => expect(after.box.min[k]! - before.box.min[k]!).toBeCloseTo([100, -20, 7][k]!, 6));
    }
  });

  it('mirrored, it is linked, not inside out, and follows what is done to the first one', () => {
    const p = mirrorPart(drilled(), 2, 0, 25);
    const twin = p.parts[1]!;
    expect(hasLinks(p)).toBe(true);
    const [one, other] = [made(p, 2), made(p, twin.id)];
    expect(isClosed(other.mesh)).toBe(true);
    expect(other.volume).toBeCloseTo(40 * 30 * 20 - 25 * 20, 6);
    expect([other.box.min[0], other.box.max[0]]).toEqual([50 - one.box.max[0], 50 - one.box.min[0]]);
    // The hole is on the other side now.
    const xs = [...other.mesh.positions].filter((_, i) => i % 3 === 0).map((x) => +x.toFixed(6));
    expect([...new Set(xs)].sort((a, b) => a - b)).toEqual([30, 37.5, 42.5, 70]);
    const cut = addCut(p, 2, {
      name: 'Slot',
      shape: Shape.parse({ kind: 'box', x: 99, y: 10, z: 10 }),
      placement: place([0, -10, 5]),
    });
    expect(made(cut, twin.id).volume).toBeCloseTo(made(cut, 2).volume, 6);
    expect(made(cut, twin.id).volume).toBeLessThan(other.volume - 1000);
  });

  it('a part that is a mirror of itself in a ring fails in words', () => {
    const p = mirrorPart(drilled(), 2, 0, 0);
    const twin = p.parts[1]!;
    const ring = {
      ...p,
      parts: p.parts.map((x) =>
        x.id === 2
          ? {
              ...x,
              courses: [
                {
                  ...x.courses[0]!,
                  params: { ...x.courses[0]!.params, shape: { kind: 'part', part: twin.id, title: 'Twin' } },
                },
              ],
            }
          : x,
      ),
    } as Project;
    expect(made(ring, 2).courses[0]?.error?.message).toMatch(/cannot be used here/);
  });

  it('made of others, stands after the first of them, which are hidden', () => {
    const p = addPart(drilled(), 'Lid');
    const shape = Shape.parse({ kind: 'mesh', hash: 'abcdef012345', title: 'Both' });
    const q = readProject(
      addMade(
        p,
        2,
        [{ name: 'Block and lid', shape }],
        p.parts.map((x) => x.id),
      ),
    );
    expect(q.parts.map((x) => [x.name, x.shown])).toEqual([
      ['Block', false],
      ['Block and lid', true],
      ['Lid', false],
    ]);
  });
});

describe('cutters as wholes', () => {
  const cutOf = (p: Project) => findPart(p, 2)!.courses[1] as CutCourse;

  it('one with courses of its own cuts as it did, and then with what is laid on it', () => {
    const p = drilled();
    const cutter = cutOf(p).params.cutters[0]!;
    const q = readProject(giveOwnCourses(p, 2, cutOf(p).id, cutter.id));
    const tool = q.parts.at(-1)!;
    expect([tool.shown, cutOf(q).params.cutters[0]!.shape]).toEqual([
      false,
      expect.objectContaining({ kind: 'part', part: tool.id }),
    ]);
    expect(made(q, 2).volume).toBeCloseTo(made(p, 2).volume, 9);
    const wider = addCut(
      q,
      tool.id,
      { name: 'Head', shape: Shape.parse({ kind: 'box', x: 9, y: 9, z: 10 }), placement: place([0, 0, 5]) },
      'union',
    );
    expect(made(wider, 2).volume).toBeCloseTo(40 * 30 * 20 - 25 * 20 - (81 - 25) * 10, 6);
    expect(giveOwnCourses(q, 2, cutOf(q).id, cutter.id)).toBe(q);
  });

  it('all of a cut larger in their planes, about the middle of them, heights kept', () => {
    const outline = Shape.parse({
      kind: 'outline',
      height: 6,
      points: [
        [0, 0],
        [10, 0],
        [10, 4],
      ],
      bows: [1, 0, 0],
      holes: [],
    });
    let p = addCutter(drilled(), 2, 3, { name: 'Tri', shape: outline, placement: place([30, 8, 4]) });
    p = addCutter(p, 2, 3, {
      name: 'Ball',
      shape: Shape.parse({ kind: 'ball', diameter: 6 }),
      placement: place([20, 20, 2]),
    });
    const q = readProject(scaleCutters(p, 2, 3, 2));
    const [pin, tri, ball] = cutOf(q).params.cutters;
    expect(pin!.shape).toMatchObject({ x: 10, y: 10, z: 60 });
    expect(pin!.placement.position).toEqual([0, 4, 0]);
    expect(tri!.shape).toMatchObject({
      height: 6,
      points: [
        [0, 0],
        [20, 0],
        [20, 8],
      ],
      bows: [2, 0, 0],
    });
    expect(tri!.placement.position).toEqual([40, 4, 4]);
    expect(ball!.placement).toMatchObject({ position: [20, 28, 2], scale: [2, 2, 1] });
    for (const k of [1, 0, -2, NaN]) expect(scaleCutters(p, 2, 3, k)).toBe(p);
  });

  it('a slot has a look of its own until that is taken back', () => {
    const p = drilled();
    const look = { colour: '#b07a1e', roughness: 0.3, metal: 1, opacity: 0.5 };
    const q = setMaterial(setMaterial(p, 'Body', { ...look, metal: 0 }), 'Body', look);
    expect(readProject(q).materials).toEqual([{ ...look, slot: 'Body' }]);
    expect(setMaterial(q, 'Body', null).materials).toEqual([]);
    expect(() => readProject({ ...q, materials: [{ ...look, slot: 'Body', colour: 'red' }] })).toThrow(
      /In "Body": Colour: this value cannot be used/,
    );
  });
});
