import { describe, expect, it } from 'vitest';
import { carve } from '../../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  faceNormals,
  genus,
  isClosed,
  loopCount,
  meshFromFaces,
  topologyOf,
  vertexCount,
  type PolyMesh,
} from '../../mesh/index.ts';
import { damaged } from '../../mend/index.ts';
import { box, cylinder, seededRandom, sheet } from '../../shapes/index.ts';
import { gauge } from '../../survey/index.ts';
import { type Pick, type PickedOn, pickOf } from '../base/picks.ts';
import { Shape } from '../base/shapeSpec.ts';
import { type CutCourse, isStroke, newProject, type Project, readProject } from '../document/document.ts';
import {
  addCourse,
  addCut,
  addToAllParts,
  gatherStrokes,
  moveCourse,
  scatterStrokes,
  setCutter,
} from '../document/edit.ts';
import { addPart, duplicatePart } from '../document/parts.ts';
import { bodySizes, Evaluator } from '../evaluate/evaluate.ts';
import type { CourseKind } from './courseKind.ts';
import { COURSE_KINDS } from './kinds.ts';
import { type StrokeName, STROKES, STROKE_NAMES } from '../settings/strokes.ts';
import { STROKE_KINDS } from './strokeList.ts';

const still = { position: [0, 0, 0], turn: [0, 0, 0] } as const;
/** A project of one part over a mesh that is stored. */
const over = (): Project =>
  addPart(newProject('p', 'P'), 'Part', Shape.parse({ kind: 'mesh', hash: 'abcdef0123456789', title: 'M' }));
const evaluated = (p: Project, m?: PolyMesh) => new Evaluator().evaluate(p.parts[0]!, () => m);
const withStroke = (p: Project, kind: StrokeName, params: object, pick?: Pick) =>
  addCourse(p, 2, kind, kind, { ...params, ...(pick && { pick }) });
const corners = (m: PolyMesh, where: (p: [number, number, number]) => boolean) =>
  Array.from({ length: vertexCount(m) }, (_, v) => v).filter((v) =>
    where([...m.positions.slice(3 * v, 3 * v + 3)] as [number, number, number]),
  );
const faceTo = (m: PolyMesh, k: number, sign: number) => {
  const n = faceNormals(m);
  return [...Array(faceCount(m)).keys()].find((f) => n[3 * f + k]! * sign > 0.9)!;
};
const edges = (m: PolyMesh, where: (a: number[], b: number[]) => boolean) => {
  const t = topologyOf(m);
  const at = (v: number) => [...m.positions.slice(3 * v, 3 * v + 3)];
  return [...t.edgeCorner].filter((c) => where(at(m.corners[c]!), at(m.corners[t.next[c]!]!)));
};
const holed = carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 }).mesh;
/** A box with a vertex in the middle of every edge. */
const littered = STROKE_KINDS.split.run(
  undefined,
  box(10, 10, 10),
  STROKES.split.settings.parse({ by: 'parts', parts: 2, pick: { by: 'all', on: 'edge' } }),
  { store: () => undefined, course: 9 },
).mesh;
const lidless = meshFromFaces(
  [...box(10, 10, 10).positions],
  [1, 2, 3, 4, 5].map((f) => [...box(10, 10, 10).corners.slice(4 * f, 4 * f + 4)]),
);

/** For each stroke a mesh, a pick and settings with which it does something. */
const CASES: Record<StrokeName, [PolyMesh, PickedOn, (m: PolyMesh) => number[], object?]> = {
  weld: [box(10, 10, 10), 'vertex', (m) => corners(m, ([x]) => x > 0), { distance: 11 }],
  merge: [box(10, 10, 10), 'vertex', (m) => corners(m, ([x, y]) => x > 0 && y > 0)],
  toOutline: [holed, 'vertex', (m) => corners(m, () => true), { distance: 25 }],
  slide: [box(10, 10, 10), 'vertex', (m) => corners(m, ([x, y]) => x > 0 && y > 0)],
  dissolve: [box(10, 10, 10, [2, 1, 1]), 'edge', (m) => edges(m, (a, b) => a[0] === 0 && b[0] === 0).slice(0, 1)],
  remove: [box(10, 10, 10), 'face', () => [0]],
  fill: [lidless, 'edge', (m) => edges(m, () => true)],
  bridge: [holed, 'face', (m) => [faceTo(m, 0, 1), faceTo(m, 0, -1)].slice(0, 2)],
  connect: [
    holed,
    'vertex',
    (m) => [
      corners(m, ([x, y, z]) => x === 20 && y === 20 && z === 5)[0]!,
      corners(m, ([x, , z]) => Math.abs(x - 8) < 1e-9 && z === 5)[0]!,
    ],
  ],
  line: [
    box(10, 10, 10),
    'edge',
    (m) => [topologyOf(m).edgeCorner[topologyOf(m).edge[0]!]!, topologyOf(m).edgeCorner[topologyOf(m).edge[2]!]!],
    {
      stops: [
        [0, 0.5],
        [1, 0.25],
      ],
    },
  ],
  split: [box(10, 10, 10), 'edge', () => [0], { by: 'parts', parts: 3 }],
  loop: [box(10, 10, 10), 'edge', () => [0], { share: 0.25 }],
  divide: [box(10, 10, 10), 'face', () => [0, 1]],
  inset: [holed, 'face', (m) => [faceTo(m, 2, 1)]],
  extrude: [box(10, 10, 10), 'face', () => [0]],
  detach: [box(10, 10, 10), 'face', () => [0]],
  move: [box(10, 10, 10), 'vertex', () => [0], { by: [1, 1, 1] }],
  shapeRun: [
    carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 }).mesh,
    'edge',
    (m) => [...topologyOf(m).edgeCorner].filter((c) => m.layers.seam![c]),
    { radius: 9 },
  ],
  match: [holed, 'edge', (m) => [...topologyOf(m).edgeCorner].filter((c) => m.layers.seam![c])],
  align: [box(10, 10, 10), 'vertex', (m) => corners(m, ([x, y]) => x > 0 && y > 0), { axis: 'y', own: false, at: 4 }],
  tie: [holed, 'face', (m) => [faceTo(m, 2, 1)]],
  moveTie: [box(10, 10, 10, [1, 1, 1]), 'vertex', () => []],
  plane: [holed, 'face', () => [0], { axis: 'x', keep: 'above' }],
  mirror: [holed, 'face', () => [0], { at: 5 }],
  symmetric: [box(10, 10, 10), 'vertex', () => [0], { at: 0.01 }],
  orient: [box(10, 10, 10), 'face', () => [0]],
  tidy: [littered, 'face', () => [0]],
  collar: [holed, 'edge', (m) => [...topologyOf(m).edgeCorner].filter((c) => m.layers.seam![c]), { width: 2 }],
  quads: [holed, 'face', () => [...Array(faceCount(holed)).keys()]],
  heal: [damaged(box(20, 20, 20, [3, 3, 3]), ['doubled', 'turned', 'crack'], seededRandom(4), 20), 'face', () => [0]],
  finish: [holed, 'edge', (m) => edges(m, () => true), { width: 0.5 }],
  bevel: [holed, 'edge', (m) => [...topologyOf(m).edgeCorner].filter((c) => m.layers.seam![c]), { segments: 3 }],
  cutOff: [box(10, 10, 10), 'vertex', () => [0, 7]],
  ownWidth: [holed, 'edge', () => [0]],
  hold: [holed, 'edge', (m) => [...topologyOf(m).edgeCorner].filter((c) => m.layers.seam![c])],
  holdRims: [holed, 'edge', (m) => [...topologyOf(m).edgeCorner].filter((c) => m.layers.seam![c])],
  hard: [box(10, 10, 10), 'edge', () => [0]],
  crease: [box(10, 10, 10), 'edge', () => [0]],
  subdivide: [box(10, 10, 10), 'face', () => [0, 1, 2, 3, 4, 5]],
  relight: [holed, 'face', () => [0]],
  reseat: [holed, 'face', () => [0]],
  cage: [box(10, 10, 10, [1, 1, 4]), 'vertex', () => [...Array(20).keys()], { ratio: 0.5 }],
  thicken: [sheet(10, 10, [3, 3]), 'face', () => [0, 1, 2, 3, 4, 5, 6, 7, 8]],
  recast: [box(10, 10, 10), 'face', () => [0], { cells: 12 }],
  gathered: [
    box(10, 10, 10),
    'vertex',
    () => [0],
    {
      edits: [
        { kind: 'split', name: 'Split', params: { by: 'parts', parts: 2, pick: { by: 'all', on: 'edge' } } },
        { kind: 'weld', name: 'Weld', params: { distance: 1e-9 } },
      ],
    },
  ],
};

describe('strokes as courses', () => {
  it('are each declared with settings, a form, words and a mark of what they work on', () => {
    expect(Object.keys(STROKE_KINDS).sort()).toEqual([...STROKE_NAMES].sort());
    for (const kind of STROKE_NAMES) {
      const k = STROKE_KINDS[kind] as unknown as {
        title: string;
        on: string[];
        also: string;
        says: (p: unknown, u: string) => string;
      };
      expect([k.title.length > 3, k.on.length > 0, k.also.length > 3], kind).toEqual([true, true, true]);
    }
  });

  it.each(
    Object.keys(CASES).filter(
      (k) => !['moveTie', 'match', 'bridge', 'ownWidth', 'hard', 'crease', 'relight', 'reseat'].includes(k),
    ) as StrokeName[],
  )('%s does what it says, goes through a file, tells its drift, and is undone by switching it off', (kind) => {
    const [m, on, ids, params = {}] = CASES[kind];
    const q = withStroke(over(), kind, params, pickOf(m, on, ids(m)));
    const p = readProject(JSON.parse(JSON.stringify(q)));
    const r = evaluated(p, m);
    const course = r.courses[1]!;
    expect(course.error).toBeUndefined();
    expect(course.report.counts).toBeDefined();
    const reshapes = (STROKES[kind] as { reshapes?: boolean }).reshapes;
    if (reshapes) expect(course.report.surfaceDrift).toBeNull();
    else expect(course.report.surfaceDrift!.distance).toBeGreaterThanOrEqual(0);
    const says = (COURSE_KINDS[kind] as CourseKind<unknown>).says(p.parts[0]!.courses[1]!.params, 'mm', course.report);
    expect(says).not.toMatch(/undefined|NaN/);
    expect(says.includes('drift')).toBe(!reshapes);
    expect(
      [...r.mesh.corners].join() === [...m.corners].join() && [...r.mesh.positions].join() === [...m.positions].join(),
    ).toBe(false);
    const off = {
      ...p,
      parts: [{ ...p.parts[0]!, courses: p.parts[0]!.courses.map((c) => (isStroke(c) ? { ...c, on: false } : c)) }],
    };
    expect(evaluated(off, m).mesh.corners).toEqual(m.corners);
  });

  it('leave the surface where it was when they only part it: drift is exactly 0', () => {
    for (const kind of ['tie', 'connect', 'split', 'divide', 'line', 'loop', 'dissolve', 'detach', 'orient'] as const) {
      const [m, on, ids, params = {}] = CASES[kind];
      const r = evaluated(withStroke(over(), kind, params, pickOf(m, on, ids(m))), m);
      expect(r.courses[1]!.report.surfaceDrift!.distance, kind).toBe(0);
    }
  });

  it('say what got worse, and refuse what must not be', () => {
    const b = box(10, 10, 10);
    const detached = evaluated(withStroke(over(), 'merge', {}, pickOf(b, 'vertex', [0, 7])), b);
    expect(detached.courses[1]!.state).toBe('done');
    const gone = evaluated(withStroke(over(), 'remove', {}, pickOf(b, 'face', [0, 1, 2, 3, 4, 5])), b);
    expect(gone.courses[1]!.error?.message).toContain('Nothing would be left');
    const nothing = evaluated(withStroke(over(), 'weld', { distance: 1e-6 }), b);
    expect(nothing.courses[1]!.error?.message).toContain('Nothing to do');
    const crossing = evaluated(
      withStroke(
        over(),
        'move',
        { by: [-40, 0, 0] },
        pickOf(
          holed,
          'vertex',
          corners(holed, ([x, y, z]) => x === 20 && y === 20 && z === 5),
        ),
      ),
      holed,
    );
    expect(crossing.courses[1]!.error?.message).toContain('cross itself');
    expect(crossing.courses[1]!.error?.place.point).toBeDefined();
    const few = evaluated(withStroke(over(), 'merge', {}, pickOf(b, 'vertex', [0])), b);
    expect(few.courses[1]!.error?.message).toContain('Pick at least 2 vertices (1 picked).');
    const wrong = evaluated(withStroke(over(), 'inset', {}, pickOf(b, 'edge', [0])), b);
    expect(wrong.courses[1]!.error?.message).toContain('works on faces');
    const turned = evaluated(withStroke(over(), 'move', { scale: [-1, 1, 1] }, { by: 'all', on: 'vertex' }), b);
    expect(turned.courses[1]!.error?.message).toContain('inside out');
  });

  it('can be laid on all parts that are not locked, as one course each', () => {
    const one = over();
    const three = {
      ...one,
      parts: [one.parts[0]!, { ...one.parts[0]!, id: 51, locked: true }, { ...one.parts[0]!, id: 52 }],
    };
    const { project, parts } = addToAllParts(three, 'tidy', 'Tidy');
    expect(parts).toBe(2);
    expect(project.parts.map((p) => p.courses.length - one.parts[0]!.courses.length)).toEqual([1, 0, 1]);
    const tops = [0, 2].map((i) => project.parts[i]!.courses.at(-1)!);
    expect(tops.map((c) => [c.kind, c.name, c.on])).toEqual(Array(2).fill(['tidy', 'Tidy', true]));
    expect([tops[1]!.id - tops[0]!.id, project.nextId]).toEqual([1, one.nextId + 2]);
  });

  it('that work on seams are laid on the parts that have a cut, and look for the seams anew', () => {
    const bare = addPart(newProject('p', 'P'), 'Plate', Shape.parse({ kind: 'box', x: 100, y: 60, z: 20 }));
    const hole = (p: Project, x: number) =>
      addCut(p, 2, {
        name: 'Hole',
        shape: Shape.parse({ kind: 'cylinder', diameter: 20, height: 40 }),
        placement: { position: [x, 0, 0], turn: [0, 0, 0] },
      });
    const cut = addPart(hole(bare, -20), 'Another', Shape.parse({ kind: 'box', x: 10, y: 10, z: 10 }));
    const { project, parts } = addToAllParts(cut, 'collar', 'Collar');
    expect(parts).toBe(1);
    expect(project.parts.map((p) => p.courses.at(-1)!.kind)).toEqual(['collar', 'shape']);
    const collar = (p: Project) => evaluated(p).courses.at(-1)!;
    // A band on each side of both rims of each hole.
    expect(collar(project).report.counts).toMatchObject({ bands: 4, none: 0 });
    const top = project.parts[0]!.courses.at(-1)!;
    const two = hole(project, 20);
    expect(two.parts[0]!.courses.at(-1)!.id).toBe(two.nextId - 2);
    const below = moveCourse(two, 2, two.parts[0]!.courses.at(-1)!.id, 2);
    expect(below.parts[0]!.courses.at(-1)!.id).toBe(top.id);
    expect(collar(below).report.counts).toMatchObject({ bands: 8, none: 0 });
    expect(collar(addCourse(bare, 2, 'collar', 'Collar', {})).error?.message).toContain(
      'the seams of all cuts come to nothing here',
    );
  });

  it('can be gathered to one course and laid singly again; what cannot be done in it is told, and the others go on', () => {
    const b = box(10, 10, 10);
    let p = withStroke(over(), 'split', { by: 'parts' }, pickOf(b, 'edge', [0, 1]));
    p = withStroke(p, 'weld', { distance: 1e-9 });
    p = withStroke(p, 'inset', { distance: 1 }, pickOf(b, 'face', [2]));
    const g = gatherStrokes(p, 2, p.parts[0]!.courses[2]!.id);
    expect(g.parts[0]!.courses.map((c) => c.name)).toEqual(['M', '3 strokes']);
    const r = evaluated(g, b);
    expect(r.courses[1]!.report.counts).toEqual({ done: 2, edits: 3 });
    expect(r.courses[1]!.report.warnings).toEqual([
      expect.stringContaining('weld (2 of 3) was not done: Nothing to do'),
    ]);
    const apart = scatterStrokes(g, 2, g.parts[0]!.courses[1]!.id);
    expect(apart.parts[0]!.courses.map((c) => c.kind)).toEqual(['shape', 'split', 'weld', 'inset']);
    expect(apart.parts[0]!.courses.slice(1).map((c) => c.id)).toEqual([g.nextId, g.nextId + 1, g.nextId + 2]);
    expect(apart.nextId).toBe(g.nextId + 3);
    expect([...evaluated(apart, b).mesh.positions]).toEqual([...r.mesh.positions]);
    expect(readProject(JSON.parse(JSON.stringify(duplicatePart(g, 2)))).parts).toHaveLength(2);
    expect(gatherStrokes(apart, 2, 999)).toBe(apart);
  });

  it('mirror across a picked face, or the plane of three vertices; what finds no partner is marked', () => {
    const b = box(10, 10, 10);
    const out = evaluated(
      withStroke(over(), 'mirror', { through: 'picked', keep: 'below' }, pickOf(b, 'face', [faceTo(b, 0, 1)])),
      b,
    );
    expect(areaAndVolume(out.mesh).volume).toBeCloseTo(2000, 9);
    const three = corners(b, ([x]) => x > 0).slice(0, 3);
    const same = evaluated(
      withStroke(over(), 'mirror', { through: 'picked', keep: 'below' }, pickOf(b, 'vertex', three)),
      b,
    );
    const other = evaluated(
      withStroke(over(), 'mirror', { through: 'picked', keep: 'above' }, pickOf(b, 'vertex', three)),
      b,
    );
    expect(
      [same, other].map((r) => (r.courses[1]!.error ? 'refused' : Math.round(areaAndVolume(r.mesh).volume))).sort(),
    ).toEqual([2000, 'refused']);
    const two = evaluated(withStroke(over(), 'mirror', { through: 'picked' }, pickOf(b, 'face', [0, 1])), b);
    expect(two.courses[1]!.error?.message).toContain('Pick one face, or three vertices');
    const odd = evaluated(withStroke(over(), 'symmetric', { at: 0.02, within: 0.1 }, pickOf(b, 'vertex', [0])), b);
    expect(odd.courses[1]!.report.counts).toMatchObject({ paired: 8 });
    const soft = evaluated(withStroke(over(), 'move', { by: [1, 0, 0], soft: 4 }, pickOf(b, 'vertex', [0])), b);
    // Three circles of 48 strokes.
    expect(soft.courses[1]!.report.lines).toHaveLength(3 * 48 * 6);
  });

  it('go under a mirror that stays on top, and so show on both sides', () => {
    const b = box(10, 10, 10, [2, 1, 1]);
    const mirrored = withStroke(over(), 'mirror', {});
    const both = withStroke(mirrored, 'extrude', { distance: 2 }, pickOf(b, 'face', [faceTo(b, 0, 1)]));
    expect(both.parts[0]!.courses.map((c) => c.kind)).toEqual(['shape', 'extrude', 'mirror']);
    const r = evaluated(both, b);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(1400, 9);
    const loose = withStroke(withStroke(over(), 'mirror', { live: false, at: 1 }), 'weld', { distance: 1e-9 });
    expect(loose.parts[0]!.courses.map((c) => c.kind)).toEqual(['shape', 'mirror', 'weld']);
  });

  it('in a row: a hole tied to the corners, one tie moved, the outline still round to the last digit, and all of it again after the cutter moved 8 mm', () => {
    const plate = (x: number): Project => {
      const p = addPart(newProject('p', 'P'), 'Plate', Shape.parse({ kind: 'box', x: 100, y: 60, z: 20 }));
      return addCut(p, 2, {
        name: 'Hole',
        shape: Shape.parse({ kind: 'cylinder', diameter: 20, height: 40, segments: 32 }),
        placement: { position: [x, 0, 0], turn: [0, 0, 0] },
      });
    };
    const made = (p: Project) => new Evaluator().evaluate(p.parts[0]!, () => undefined);
    const pick = (p: Project, on: PickedOn, ids: (m: PolyMesh) => number[]) =>
      pickOf(
        made(p).mesh,
        on,
        ids(made(p).mesh),
        bodySizes(p.parts[0]!, () => undefined),
      );
    let p = plate(0);
    p = withStroke(
      p,
      'tie',
      { way: 'corners' },
      pick(p, 'face', (m) => [faceTo(m, 2, 1), faceTo(m, 2, -1)]),
    );
    const tied = made(p).mesh;
    expect(loopCount(tied)).toBe(faceCount(tied));
    // The tie of one corner goes to the next vertex of the rim.
    const top = (m: PolyMesh) =>
      edges(
        m,
        (a, b) =>
          a[2] === 10 &&
          b[2] === 10 &&
          [a, b].some((q) => q[0] === 50 && q[1] === 30) &&
          [a, b].some((q) => Math.abs(Math.hypot(q[0]!, q[1]!) - 10) < 1e-6),
      );
    const [tieEdge] = top(tied);
    const ends = [tied.corners[tieEdge!]!, tied.corners[topologyOf(tied).next[tieEdge!]!]!];
    const outer = ends.find((v) => tied.positions[3 * v] === 50)!;
    const rim = ends.find((v) => v !== outer)!;
    const angle = (v: number) => Math.atan2(tied.positions[3 * v + 1]!, tied.positions[3 * v]!);
    const beside = corners(tied, ([x, y, z]) => z === 10 && Math.abs(Math.hypot(x, y) - 10) < 1e-6).sort(
      (a, b) => Math.abs(angle(a) - angle(rim)) - Math.abs(angle(b) - angle(rim)),
    )[1]!;
    p = withStroke(
      p,
      'moveTie',
      {},
      pick(p, 'vertex', () => [outer, rim, beside]),
    );
    p = withStroke(
      p,
      'loop',
      { by: 'distance', distance: 3 },
      pick(p, 'edge', (m) =>
        edges(m, (a, b) => a[2] !== b[2] && Math.abs(Math.hypot(a[0]!, a[1]!) - 10) < 1e-6).slice(0, 1),
      ),
    );
    const check = (q: Project, x: number) => {
      const r = made(q);
      expect(r.courses.map((c) => c.error?.message)).toEqual([undefined, undefined, undefined, undefined, undefined]);
      expect(r.courses.slice(2).flatMap((c) => c.report.lost)).toEqual([]);
      expect([isClosed(r.mesh), genus(r.mesh)]).toEqual([true, 1]);
      const rimNow = corners(r.mesh, ([a, b, z]) => z === 10 && Math.abs(Math.hypot(a - x, b) - 10) < 1e-6);
      const g = gauge(
        rimNow
          .sort(
            (a, b) =>
              Math.atan2(r.mesh.positions[3 * a + 1]!, r.mesh.positions[3 * a]! - x) -
              Math.atan2(r.mesh.positions[3 * b + 1]!, r.mesh.positions[3 * b]! - x),
          )
          .map((v) => [...r.mesh.positions.slice(3 * v, 3 * v + 3)] as [number, number, number]),
      );
      expect([rimNow.length, g.radius, g.outOfRound < 1e-12]).toEqual([32, expect.closeTo(10, 12), true]);
      expect(r.courses.slice(2).map((c) => c.report.surfaceDrift!.distance)).toEqual([0, 0, 0]);
      return r;
    };
    const first = check(p, 0);
    const cut = p.parts[0]!.courses[1] as CutCourse;
    const moved = setCutter(p, 2, cut.id, {
      ...cut.params.cutters[0]!,
      placement: { ...still, position: [8, 0, 0], turn: [0, 0, 0] },
    });
    const second = check(moved, 8);
    expect(faceCount(second.mesh)).toBe(faceCount(first.mesh));
    expect(areaAndVolume(second.mesh).volume).toBeCloseTo(areaAndVolume(first.mesh).volume, 6);
    // With 48 sides the tie’s rim vertices are others: what cannot be found is reported, and the rest goes on.
    const finer = setCutter(p, 2, cut.id, {
      ...cut.params.cutters[0]!,
      shape: Shape.parse({ kind: 'cylinder', diameter: 20, height: 40, segments: 48 }),
    });
    const r = made(finer);
    expect(r.courses[2]!.state).toBe('done');
    for (const c of r.courses.slice(3)) {
      const told = c.error?.message ?? `${c.report.found} of ${c.report.of}`;
      expect(told).toMatch(/there any more|no tie between|\d of \d|not on the faces/);
    }
    expect(isClosed(r.mesh)).toBe(true);
  });
});
