import { describe, expect, it } from 'vitest';
import { areaAndVolume, bounds, genus, isClosed, placementAffine, turnOf, type PolyMesh } from '../../mesh/index.ts';
import { circleOutline, insetOutline, randomTurn, seededRandom, signedArea2 } from '../../shapes/index.ts';
import {
  addCut,
  addFitted,
  addPart,
  CutterSchema,
  Evaluator,
  findPart,
  followCutters,
  freezePart,
  newProject,
  openingOf,
  readProject,
  removeCourse,
  setCutter,
  setParams,
  Shape,
  type CutCourse,
  type Cutter,
  type FittedPiece,
  type Project,
} from '../index.ts';

const none = () => undefined;
const WALL = 2;

/** A wall with a doorway, the way through along y. */
function wall(): Project {
  const p = addPart(newProject('p', 'P'), 'Wall', Shape.parse({ kind: 'box', x: 2400, y: 240, z: 1800 }));
  const door = {
    name: 'Doorway',
    shape: Shape.parse({ kind: 'box', x: 800, y: 400, z: 1450 }),
    placement: { position: [-500, 0, -175], turn: [0, 0, 0] },
  } as const;
  return addCut(p, WALL, { ...door, placement: { position: [-500, 0, -175], turn: [0, 0, 0] } });
}
const cutOf = (p: Project) => findPart(p, WALL)!.courses[1] as CutCourse;
const fit = (p: Project, piece: FittedPiece, more: Record<string, unknown> = {}): Project => {
  const made = addFitted(p, WALL, cutOf(p).id, cutOf(p).params.cutters[0]!, piece);
  const part = made.parts.at(-1)!;
  const base = part.courses[0]!;
  const shape = { ...(base.params as { shape: Shape }).shape, ...more } as Shape;
  return setParams(made, part.id, base.id, { shape });
};
const mesh = (p: Project): PolyMesh => new Evaluator().evaluate(p.parts.at(-1)!, none).mesh;
const size = (m: PolyMesh) => bounds(m).max.map((x, k) => x - bounds(m).min[k]!);
const middle = (m: PolyMesh) => bounds(m).max.map((x, k) => (x + bounds(m).min[k]!) / 2);

describe('fitted parts', () => {
  it('a leaf stands in its opening with a gap all round', () => {
    const m = mesh(fit(wall(), 'leaf', { gap: 4, thickness: 40 }));
    expect(isClosed(m)).toBe(true);
    expect(size(m)).toEqual([expect.closeTo(792, 9), expect.closeTo(40, 9), expect.closeTo(1442, 9)]);
    expect(middle(m)).toEqual([expect.closeTo(-500, 9), expect.closeTo(0, 9), expect.closeTo(-175, 9)]);
  });

  it('a frame is as wide as its legs, and a pane may be set back', () => {
    const frame = mesh(fit(wall(), 'frame', { gap: 0, leg: 60, thickness: 120 }));
    expect(genus(frame)).toBe(1);
    expect(areaAndVolume(frame).volume).toBeCloseTo((800 * 1450 - 680 * 1330) * 120, 5);
    const pane = mesh(fit(wall(), 'pane', { gap: 2, thickness: 6, setback: -50 }));
    expect(middle(pane)[1]).toBeCloseTo(-50, 9);
  });

  it('follows its cutter until it is detached; what the cutter leaves behind stays', () => {
    let p = fit(wall(), 'leaf', { gap: 4, thickness: 40 });
    const cutter = cutOf(p).params.cutters[0]!;
    const moved: Cutter = {
      ...cutter,
      shape: Shape.parse({ kind: 'box', x: 900, y: 400, z: 1450 }),
      placement: { position: [300, 20, -175], turn: [0, 0, 15] },
    };
    p = followCutters(setCutter(p, WALL, cutOf(p).id, moved));
    const straight = bounds(
      mesh(
        followCutters(
          setCutter(p, WALL, cutOf(p).id, { ...moved, placement: { position: [300, 20, -175], turn: [0, 0, 0] } }),
        ),
      ),
    );
    expect([straight.min[0], straight.max[0]]).toEqual([expect.closeTo(300 - 446, 9), expect.closeTo(300 + 446, 9)]);
    expect(size(mesh(p))[0]).toBeCloseTo(892 * Math.cos(Math.PI / 12) + 40 * Math.sin(Math.PI / 12), 6);
    expect(followCutters(p)).toBe(p);
    expect(readProject(JSON.parse(JSON.stringify(p)))).toEqual(p);

    const gone = followCutters(removeCourse(p, WALL, cutOf(p).id));
    const base = gone.parts.at(-1)!.courses[0]!;
    expect(base.params).toMatchObject({ shape: { source: null } });
    expect(bounds(mesh(gone))).toEqual(bounds(mesh(p)));
  });

  it('knows the opening of every shape that has an outline, and of no other', () => {
    const opening = (shape: Record<string, unknown>) =>
      openingOf(CutterSchema.parse({ id: 1, name: '', shape, placement: { position: [0, 0, 0], turn: [0, 0, 0] } }));
    for (const kind of ['box', 'plate', 'cylinder', 'polygon', 'tube', 'slot'])
      expect(signedArea2(opening({ kind })!.points)).toBeGreaterThan(0);
    for (const kind of ['ball', 'torus', 'wedge', 'cone']) expect(opening({ kind })).toBe(null);
    expect(
      addFitted(
        wall(),
        WALL,
        3,
        CutterSchema.parse({ id: 9, name: '', shape: { kind: 'ball' }, placement: {} }),
        'leaf',
      ).parts,
    ).toHaveLength(1);
  });
});

describe('outlines drawn in', () => {
  it('keep their distance on every side, and are refused when a side is used up', () => {
    const circle = circleOutline(20, 48);
    const apothem = 20 * Math.cos(Math.PI / 48) - 3;
    expect(signedArea2(insetOutline(circle, 3)) / 2).toBeCloseTo(48 * apothem ** 2 * Math.tan(Math.PI / 48), 9);
    expect(() => insetOutline(circle, 21)).toThrow(/no room/);
    const square: [number, number][] = [
      [0, 0],
      [10, 0],
      [10, 4],
      [0, 4],
    ];
    expect(insetOutline(square, 1)).toEqual([
      [1, 1],
      [9, 1],
      [9, 3],
      [1, 3],
    ]);
    expect(() => insetOutline(square, 2)).toThrow(/no room/);
  });
});

it('angles are read back from any rotation', () => {
  const r = seededRandom(3);
  const square = [
    [0, 0, 1, 0, 1, 0, -1, 0, 0],
    [0, 0, -1, 0, 1, 0, 1, 0, 0],
  ];
  for (const t of [...Array.from({ length: 40 }, () => randomTurn(r)), ...square]) {
    const rows = [0, 1, 2].map((i) => [t[3 * i]!, t[3 * i + 1]!, t[3 * i + 2]!]);
    const a = placementAffine({ position: [0, 0, 0], turn: turnOf(rows) });
    for (let i = 0; i < 3; i++) for (let k = 0; k < 3; k++) expect(a[4 * i + k]).toBeCloseTo(rows[i]![k]!, 8);
  }
});

it('freezing leaves the courses above on the mesh, and the courses below in a copy', () => {
  let p = wall();
  p = addCut(p, WALL, {
    name: 'Drain',
    shape: Shape.parse({ kind: 'cylinder', diameter: 80, height: 400 }),
    placement: { position: [300, 0, -600], turn: [90, 0, 0] },
  });
  const before = new Evaluator().evaluate(findPart(p, WALL)!, none).mesh;
  const below = new Evaluator().below(findPart(p, WALL)!, findPart(p, WALL)!.courses[2]!.id, none)!;
  const shape = Shape.parse({ kind: 'mesh', hash: 'abcdef0123', title: 'Wall, frozen' });
  const frozen = freezePart(p, WALL, cutOf(p).id, shape);
  expect(frozen.parts.map((x) => [x.name, x.courses.length])).toEqual([
    ['Wall', 2],
    ['Wall, its courses', 3],
  ]);
  const after = new Evaluator().evaluate(findPart(frozen, WALL)!, () => below).mesh;
  expect(areaAndVolume(after)).toEqual(areaAndVolume(before));
  expect(readProject(JSON.parse(JSON.stringify(frozen)))).toEqual(frozen);
});
