import { describe, expect, it } from 'vitest';
import { faceCount, faceNormals, isClosed, topologyOf, type PolyMesh, pairsThatMeet } from '../../mesh/index.ts';
import { departure } from '../../survey/index.ts';
import {
  addCourse,
  addCut,
  addPart,
  Evaluator,
  findPart,
  guideOf,
  headroomOf,
  newProject,
  pickOf,
  setParams,
  setCutter,
  Shape,
  type Cutter,
  type Project,
} from '../index.ts';

const none = () => undefined;
const shape = (s: Record<string, unknown>) => Shape.parse(s);
const made = (p: Project) => {
  const part = findPart(p, 2)!;
  const r = new Evaluator(() => 0).evaluate(part, none);
  return { ...r, part, guide: guideOf(part, r.mesh, none) };
};
const plate = () => addPart(newProject('p', 'P'), 'Plate', shape({ kind: 'box', x: 100, y: 60, z: 20 }));
const hole = (p: Project, x: number, diameter = 20) =>
  addCut(p, 2, {
    name: 'Hole',
    shape: shape({ kind: 'cylinder', diameter, height: 60, segments: 32 }),
    placement: { position: [x, 0, 0], turn: [0, 0, 0] },
  });
const hull = () =>
  addPart(newProject('p', 'P'), 'Hull', shape({ kind: 'cylinder', diameter: 76, height: 70, segments: 64 }));
const port = (p: Project) =>
  addCut(p, 2, {
    name: 'Port',
    shape: shape({ kind: 'cylinder', diameter: 25, height: 60, segments: 48 }),
    placement: { position: [40, 0, 0], turn: [0, 90, 0] },
  });
const dressed = (p: Project, kind: Parameters<typeof addCourse>[2], params: Record<string, unknown> = {}) =>
  addCourse(p, 2, kind, kind, params);

/** Every face as text made of its corner places, independent of numbering. */
function facesOf(m: PolyMesh): Set<string> {
  const out = new Set<string>();
  for (let f = 0; f < faceCount(m); f++) {
    const c = [...m.corners.subarray(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!)];
    const places = c.map((v) => [0, 1, 2].map((k) => m.positions[3 * v + k]!.toFixed(9)).join());
    out.add(places.sort().join(' '));
  }
  return out;
}

describe('edges stay dressed', () => {
  it('a new cut below, then a moved cutter: its edges are bevelled, and no other face changes', () => {
    const first = dressed(hole(plate(), -25), 'finish', { width: 1, segments: 2 });
    const one = made(first);
    expect(one.courses.map((c) => c.state)).toEqual(['done', 'done', 'done']);
    const second = hole(first, 25);
    expect(findPart(second, 2)!.courses.map((c) => c.kind)).toEqual(['shape', 'cut', 'cut', 'finish']);
    const two = made(second);
    expect(isClosed(two.mesh)).toBe(true);
    expect(pairsThatMeet(two.mesh)).toEqual([]);
    expect(two.courses[3]!.report.counts!.edges).toBe(one.courses[2]!.report.counts!.edges! + 64);
    // All earlier faces are unchanged, but for the two flats that the new hole goes through.
    const [was, is] = [facesOf(one.mesh), facesOf(two.mesh)];
    expect([...was].filter((f) => !is.has(f))).toHaveLength(2);
    const cut = findPart(second, 2)!.courses[2]!;
    const cutter = (cut.params as { cutters: Cutter[] }).cutters[0]!;
    const moved = made(
      setCutter(second, 2, cut.id, { ...cutter, placement: { ...cutter.placement, position: [27, 3, 0] } }),
    );
    const now = facesOf(moved.mesh);
    expect([...was].filter((f) => !now.has(f))).toHaveLength(2);
    expect(faceCount(moved.mesh)).toBe(faceCount(two.mesh));
  });

  it('several widths in one course: edges keep those that were marked on them', () => {
    const cut = hole(plate(), 0);
    const course = findPart(cut, 2)!.courses[1]!.id;
    const p = dressed(dressed(cut, 'ownWidth', { width: 3, pick: { by: 'seam', on: 'edge', course } }), 'finish', {
      width: 1,
      segments: 1,
    });
    const { mesh, courses } = made(p);
    expect(courses.map((c) => c.error?.message)).toEqual([undefined, undefined, undefined, undefined]);
    const tops = [...Array(mesh.positions.length / 3).keys()].filter((v) => mesh.positions[3 * v + 2] === 10);
    const radii = tops.map((v) => Math.hypot(mesh.positions[3 * v]!, mesh.positions[3 * v + 1]!));
    // The hole's rim is 3 mm wide, the plate's own edges 1 mm.
    const a = (10 * Math.cos(Math.PI / 32) + 3) / Math.cos(Math.PI / 32);
    expect(radii.filter((r) => Math.abs(r - a) < 1e-9)).toHaveLength(32);
    expect(tops.some((v) => Math.abs(mesh.positions[3 * v]! - 49) < 1e-12)).toBe(true);
    const plain = made({ ...p, parts: [setParams(p, 2, p.nextId - 1, { own: false }).parts[0]!] });
    const rim = [...Array(plain.mesh.positions.length / 3).keys()]
      .filter((v) => plain.mesh.positions[3 * v + 2] === 10)
      .map((v) => Math.hypot(plain.mesh.positions[3 * v]!, plain.mesh.positions[3 * v + 1]!));
    expect(rim.filter((r) => Math.abs(r - a) < 1e-9)).toHaveLength(0);
  });

  it('while the width is dragged it is what it will be at rest; at rest it is built', () => {
    const p = dressed(hole(plate(), 0), 'finish', { width: 1, segments: 2 });
    const id = findPart(p, 2)!.courses.at(-1)!.id;
    const at = (width: number) => findPart(setParams(p, 2, id, { width }), 2)!;
    const evaluator = new Evaluator(() => 0);
    const built = new Set<object>();
    const drag = (width: number) => evaluator.evaluate(at(width), none, undefined, undefined, id);
    for (let k = 0; k <= 20; k++) {
      const shown = drag(1 + 0.1 * k);
      const rests = new Evaluator(() => 0).evaluate(at(1 + 0.1 * k), none);
      expect(shown.key).not.toBe(rests.key);
      built.add(topologyOf(shown.mesh));
      expect(shown.courses.at(-1)!.report).toEqual(rests.courses.at(-1)!.report);
      expect([...shown.mesh.corners]).toEqual([...rests.mesh.corners]);
      shown.mesh.positions.forEach((x, i) => expect(Math.abs(x - rests.mesh.positions[i]!)).toBeLessThan(1e-10));
    }
    // Widths between two built bevels share their topology: few are built anew.
    expect(built.size).toBeLessThan(8);
    const settled = evaluator.evaluate(at(2.5), none);
    expect(settled.key).toBe(new Evaluator(() => 0).evaluate(at(2.5), none).key);
    expect([...settled.mesh.positions]).toEqual([...new Evaluator(() => 0).evaluate(at(2.5), none).mesh.positions]);
    // Wider than the plate is thick: narrower where there is no room, as at rest.
    expect(drag(12).courses.at(-1)!.report.counts).toEqual(
      new Evaluator(() => 0).evaluate(at(12), none).courses.at(-1)!.report.counts,
    );
  });

  it('its room is told without the course having to be done, in the measure of the course', () => {
    const p = dressed(plate(), 'finish', { width: 1, segments: 1 });
    const { part } = made(p);
    const below = new Evaluator(() => 0).below(part, part.courses[1]!.id, none)!;
    const [chain] = headroomOf(part.courses[1]!, below, () => undefined, 'least')!;
    expect(chain!.headroom).toBeCloseTo(10, 1);
    expect(chain!.headroom).toBeLessThanOrEqual(10);
    expect(headroomOf(part.courses[0]!, below, () => undefined, 'least')).toBeNull();
    const strips = made(dressed(plate(), 'finish', { strips: true, slot: 'Trim' })).mesh;
    expect(strips.slots).toContain('Trim');
    expect([...strips.layers.slot!].filter((s) => strips.slots[s] === 'Trim')).toHaveLength(48);
  });
});

describe('light and form of what a cut disturbs', () => {
  it('a relit hull with a port departs by at most 0.1° anywhere; flats and walls are untouched', () => {
    const before = made(port(hull()));
    const worst = departure(before.mesh, before.guide.normal).worst.angle;
    expect(worst).toBeGreaterThan(1);
    const after = made(dressed(port(hull()), 'relight'));
    expect(after.courses.map((c) => c.error?.message)).toEqual([undefined, undefined, undefined]);
    const { source } = after.mesh.layers;
    const look = departure(after.mesh, after.guide.normal);
    const t = topologyOf(after.mesh);
    expect(look.worst.angle).toBeLessThan(0.1);
    // The ends of the hull stay flat to the last digit.
    for (let c = 0; c < after.mesh.corners.length; c++) {
      const f = t.face[c]!;
      if (source![3 * f] !== 1 || Math.abs(after.mesh.layers.normal![3 * c + 2]!) < 0.5) continue;
      expect(Math.abs(after.mesh.layers.normal![3 * c + 2]!)).toBe(1);
    }
  });

  it('flat faces beside bevels stay within 0.01° of flat, and a bevelled hull can be relit below its strips', () => {
    const p = dressed(dressed(port(hull()), 'relight'), 'finish', { width: 0.8, segments: 3 });
    const { mesh, courses, guide } = made(p);
    expect(courses.map((c) => c.error?.message)).toEqual([undefined, undefined, undefined, undefined]);
    expect(isClosed(mesh)).toBe(true);
    const t = topologyOf(mesh);
    const { source, normal } = mesh.layers;
    let [ends, worst] = [0, 0];
    for (let c = 0; c < mesh.corners.length; c++) {
      const f = t.face[c]!;
      if (source![3 * f] !== 1) continue;
      const v = 3 * mesh.corners[c]!;
      const n = guide.normal(f, [mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!]);
      const length = Math.hypot(...n);
      const cos = [0, 1, 2].reduce((s, k) => s + (n[k]! * normal![3 * c + k]!) / length, 0);
      worst = Math.max(worst, (Math.acos(Math.min(1, cos)) * 180) / Math.PI);
      if (Math.abs(n[2]! / length) > 0.999) {
        ends++;
        expect(Math.abs(normal![3 * c + 2]!)).toBeGreaterThan(Math.cos((0.01 * Math.PI) / 180));
      }
    }
    expect(ends).toBeGreaterThan(60);
    expect(worst).toBeLessThan(0.1);
  });

  it('reseated: the rim of the port lies on the cylinder, its outline still in the port’s walls; drift is the sagitta at most', () => {
    const p = dressed(port(hull()), 'reseat', { most: 1 });
    const { mesh, courses } = made(p);
    expect(courses[2]!.error).toBeUndefined();
    const { moved, furthest } = courses[2]!.report.counts!;
    expect(moved).toBeGreaterThan(40);
    expect(furthest).toBeLessThan(38 * (1 - Math.cos(Math.PI / 64)) * 1.5);
    const t = topologyOf(mesh);
    const { source, seam } = mesh.layers;
    let rim = 0;
    for (let c = 0; c < mesh.corners.length; c++) {
      if (source![3 * t.face[c]!] !== 1 || !(seam![c] || seam![t.prev[c]!])) continue;
      const v = 3 * mesh.corners[c]!;
      const [x, y, z] = [mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!];
      if (x < 20) continue;
      rim++;
      expect(Math.hypot(x, y)).toBeCloseTo(38, 9);
      // On the port's flats: no further than its radius, no nearer than its apothem.
      const r = Math.hypot(y, z);
      expect(r).toBeLessThan(12.5 + 1e-9);
      expect(r).toBeGreaterThan(12.5 * Math.cos(Math.PI / 48) - 1e-9);
    }
    expect(rim).toBeGreaterThan(48);
    // What the survey measures of a hull without a cut to hold against: nothing left to move.
    expect(made(dressed(p, 'reseat', { most: 1 })).courses[3]!.error?.message).toMatch(/Nothing to do/);
  });

  it('relit and reseated by the smooth surface that is fitted to picked faces: that of the hull they stand for', () => {
    const cut = port(hull());
    const m = made(cut).mesh;
    const N = faceNormals(m);
    const wall = [...Array(faceCount(m)).keys()].filter((f) => Math.abs(N[3 * f + 2]!) < 0.1);
    const skin = wall.filter((f) =>
      [...m.corners.subarray(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!)].every(
        (v) => Math.hypot(m.positions[3 * v]!, m.positions[3 * v + 1]!) > 37.9,
      ),
    );
    expect(skin.length).toBeGreaterThan(60);
    const pick = pickOf(m, 'face', skin);
    const [own, fitted] = (['own', 'fitted'] as const).map((surface) =>
      made(dressed(cut, 'relight', { surface, pick })),
    );
    expect([own!.courses[2]!.error, fitted!.courses[2]!.error]).toEqual([undefined, undefined]);
    const t = topologyOf(m);
    const on = new Set(skin);
    own!.mesh.layers.normal!.forEach((x, i) => {
      if (on.has(t.face[Math.floor(i / 3)]!)) expect(fitted!.mesh.layers.normal![i]).toBeCloseTo(x, 3);
    });
    const seated = made(dressed(cut, 'reseat', { surface: 'fitted', pick }));
    expect(seated.courses[2]!.report.counts!.moved).toBeGreaterThan(10);
    for (const f of skin)
      for (const v of seated.mesh.corners.subarray(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!))
        expect(Math.hypot(seated.mesh.positions[3 * v]!, seated.mesh.positions[3 * v + 1]!)).toBeCloseTo(38, 4);
  });

  it('a bevel by radius takes the guide of the part when it is to be true to round surfaces', () => {
    const [flat, round] = [false, true].map((rolls) =>
      made(dressed(port(hull()), 'finish', { measure: 'radius', width: 2, segments: 2, rolls })),
    );
    expect([flat!.courses[2]!.error, round!.courses[2]!.error]).toEqual([undefined, undefined]);
    expect(isClosed(round!.mesh)).toBe(true);
    expect([...round!.mesh.positions]).not.toEqual([...flat!.mesh.positions]);
  });

  it('held and subdivided twice, a port in a round hull: the card tells how round it is left, and how far off the hull', () => {
    const coarse = addPart(
      newProject('p', 'P'),
      'Hull',
      shape({ kind: 'cylinder', diameter: 76, height: 70, segments: 32 }),
    );
    const cut = addCut(coarse, 2, {
      name: 'Port',
      shape: shape({ kind: 'cylinder', diameter: 25, height: 60, segments: 24 }),
      placement: { position: [40, 0, 0], turn: [0, 90, 0] },
    });
    const held = dressed(
      dressed(dressed(cut, 'hold', { distance: 2 }), 'quads', { goal: 'subdivision' }),
      'subdivide',
      { levels: 2 },
    );
    const { mesh, courses } = made(held);
    expect(courses.map((c) => c.error?.message)).toEqual(courses.map(() => undefined));
    expect(isClosed(mesh)).toBe(true);
    const counts = courses.at(-1)!.report.counts!;
    expect(counts.rims).toBe(1);
    // Of a diameter of 25 mm; the rim is rounded within its lines, 2 mm on both sides.
    expect(counts.outAfter).toBeLessThan(0.5);
    expect(counts.offAfter).toBeLessThan(1);
    // Before, the middles of flats are off by the sagitta of 32 of them round 38 mm at least.
    expect(counts.offBefore).toBeGreaterThan(38 * (1 - Math.cos(Math.PI / 32)) - 1e-9);
  }, 60_000);

  it.each([
    ['hull', shape({ kind: 'cylinder', diameter: 76, height: 70, segments: 48 }), 38],
    ['ball', shape({ kind: 'patchBall', diameter: 80, divisions: 12 }), 40],
    ['tube', shape({ kind: 'tube', diameter: 60, bore: 48, height: 60, segments: 48 }), 30],
    ['plate', shape({ kind: 'box', x: 20, y: 80, z: 60 }), 10],
  ])(
    'a hole in a %s is held: the rim stays round and of its radius, the surface on what it stands for',
    (_, body, x) => {
      const part = addPart(newProject('p', 'P'), 'Body', body);
      const cut = addCut(part, 2, {
        name: 'Port',
        shape: shape({ kind: 'cylinder', diameter: 20, height: 40, segments: 24 }),
        placement: { position: [x, 0, 0], turn: [0, 90, 0] },
      });
      const { mesh, courses } = made(dressed(dressed(cut, 'holdRims', {}), 'subdivide', { levels: 2 }));
      expect(courses.map((c) => c.error?.message)).toEqual(courses.map(() => undefined));
      expect([isClosed(mesh), pairsThatMeet(mesh, { most: 1 })]).toEqual([true, []]);
      const { outAfter, radius, offAfter } = courses.at(-1)!.report.counts!;
      expect(outAfter).toBeLessThan(1e-3 * 10);
      expect(radius).toBeLessThan(1e-3 * 10);
      expect(offAfter).toBeLessThan(0.06);
      expect(courses.at(-2)!.report.counts!.none).toBe(0);
    },
    60_000,
  );

  it('a subdivision that would cut through itself says where it stays nearer to the cage', () => {
    const cube = addPart(newProject('p', 'P'), 'Cube', shape({ kind: 'box', x: 10, y: 10, z: 10 }));
    const hollow = (size: number) =>
      addCut(cube, 2, {
        name: 'Cavity',
        shape: shape({ kind: 'box', x: size, y: size, z: size, nx: 9, ny: 9, nz: 9 }),
        placement: { position: [0, 0, 0], turn: [0, 0, 0] },
      });
    const tight = made(dressed(hollow(9), 'subdivide', { levels: 1 }));
    expect(pairsThatMeet(tight.mesh)).toEqual([]);
    const { warnings, places } = tight.courses.at(-1)!.report;
    expect(warnings!.join()).toMatch(/^At \d+ vertices it stays nearer to the cage/);
    expect(warnings!.join()).toContain(`At ${places!.eased!.length} vertices`);
    const roomy = made(dressed(hollow(2), 'subdivide', { levels: 1 })).courses.at(-1)!.report;
    expect([roomy.warnings, roomy.places?.eased]).toEqual([[], undefined]);
  });

  it('held and subdivided twice, a hole in a flat stays round', () => {
    const held = dressed(hole(plate(), 0), 'hold', { distance: 1 });
    expect(made(dressed(held, 'subdivide')).courses[3]!.error?.message).toMatch(
      /^Faces have 2 holes in them.*To quads/,
    );
    const p = dressed(dressed(held, 'quads'), 'subdivide', { levels: 2 });
    const { mesh, courses } = made(p);
    expect(courses.map((c) => c.error?.message)).toEqual([undefined, undefined, undefined, undefined, undefined]);
    expect(isClosed(mesh)).toBe(true);
    const t = topologyOf(mesh);
    const P = mesh.positions;
    // The rim at the middle of the wall: its radius tells how much the subdivision draws it in.
    const wall = [...new Set(mesh.corners)].filter(
      (v) => Math.abs(P[3 * v + 2]!) < 1 && Math.hypot(P[3 * v]!, P[3 * v + 1]!) < 11,
    );
    const radii = wall.map((v) => Math.hypot(P[3 * v]!, P[3 * v + 1]!));
    expect(wall.length).toBeGreaterThanOrEqual(128);
    expect(Math.max(...radii) - Math.min(...radii)).toBeLessThan(0.02);
    expect(t.edgeCount).toBeGreaterThan(1000);
    // The card reports the rims of both sides by the plug gauge, and the distance of the part from its surfaces.
    const counts = courses[4]!.report.counts!;
    expect(counts.rims).toBe(2);
    expect(counts.outBefore).toBeLessThan(1e-9);
    const rim = new Set(
      [...mesh.corners.keys()]
        .filter((c) => mesh.layers.seam![c] && P[3 * mesh.corners[c]! + 2]! > 0)
        .map((c) => mesh.corners[c]!),
    );
    const out = [...rim].map((v) => Math.hypot(P[3 * v]!, P[3 * v + 1]!));
    expect(counts.outAfter).toBeCloseTo(Math.max(...out) - Math.min(...out), 2);
    expect(counts.outAfter).toBeLessThan(0.15);
    expect(counts.radius).toBeLessThan(0.1);
    // Before, the middles of the wall's flats are off by their sagitta.
    expect(counts.offBefore).toBeGreaterThan(0.001);
    // And after it the rims are rounded within their lines.
    expect(counts.offAfter).toBeLessThan(0.3);
  });
});
