import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  faceNormals,
  isClosed,
  joinMeshes,
  meshFromFaces,
  placementAffine,
  topologyOf,
  transformMesh,
  vertexCount,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, cylinder } from '../shapes/index.ts';
import { gauge } from '../survey/index.ts';
import {
  alignVertices,
  firstPlane,
  chainsOf,
  matchLoop,
  moveVertices,
  shapeLoops,
  vertexNormals,
  type ShapeLoopsOptions,
} from './place.ts';
import { grid, placeOfVertex, vertexAt } from './testMeshes.ts';

const still = { by: [0, 0, 0], normal: 0, turn: [0, 0, 0], scale: [1, 1, 1], about: null, soft: 0 } as const;
const all = (m: PolyMesh) => Array.from({ length: vertexCount(m) }, (_, v) => v);
const seams = (m: PolyMesh) => [...topologyOf(m).edgeCorner].filter((c) => m.layers.seam?.[c]);

describe('moving', () => {
  it('along the axes, about the middle of the pick, and about a place', () => {
    const m = grid(2);
    const moved = moveVertices(m, { vertices: [4], ...still, by: [1, 2, 3] });
    expect([placeOfVertex(moved.mesh, 4), moved.report.moved]).toEqual([[2, 3, 3], 1]);
    expect(placeOfVertex(moved.mesh, 0)).toEqual([0, 0, 0]);
    const wide = moveVertices(m, { vertices: all(m), ...still, scale: [2, 2, 2] }).mesh;
    expect([placeOfVertex(wide, 0), placeOfVertex(wide, 8)]).toEqual([
      [-1, -1, 0],
      [3, 3, 0],
    ]);
    const turned = moveVertices(m, { vertices: [2], ...still, turn: [0, 0, 90], about: [0, 0, 0] }).mesh;
    expect(placeOfVertex(turned, 2)).toEqual([0, 2, 0]);
  });

  it('along normals: a box grows on all sides', () => {
    const b = box(10, 10, 10);
    const grown = moveVertices(b, { vertices: all(b), ...still, normal: Math.sqrt(3) }).mesh;
    expect(areaAndVolume(grown).volume).toBeCloseTo(12 ** 3, 9);
    expect(Math.hypot(...vertexNormals(b).slice(0, 3))).toBeCloseTo(1, 12);
  });

  it('softly: what is near follows by its falloff, what is further stays', () => {
    const m = grid(6);
    const mid = vertexAt(m, 3, 3);
    const {
      mesh,
      report: { moved },
    } = moveVertices(m, { vertices: [mid], ...still, by: [0, 0, 1], soft: 2 });
    const high = (x: number, y: number) => placeOfVertex(mesh, vertexAt(m, x, y))[2];
    expect([high(3, 3), high(4, 3), high(5, 3), high(3, 2)]).toEqual([1, 0.5, 0, 0.5]);
    const s = 1 - Math.SQRT2 / 2;
    expect(high(4, 4)).toBeCloseTo(s * s * (3 - 2 * s), 12);
    expect(moved).toBe(9);
  });

  it('nothing moves but what was asked', () => {
    const m = grid(5);
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.nat(35), { minLength: 1 }),
        fc.tuple(
          fc.double({ min: -3, max: 3, noNaN: true }),
          fc.double({ min: -3, max: 3, noNaN: true }),
          fc.double({ min: -3, max: 3, noNaN: true }),
        ),
        (list, by) => {
          const { mesh } = moveVertices(m, { vertices: list, ...still, by });
          for (const v of all(m)) {
            const p = placeOfVertex(m, v);
            const to = list.includes(v) ? p.map((x, k) => x + by[k]!) : p;
            expect(placeOfVertex(mesh, v).every((x, k) => Math.abs(x - to[k]!) < 1e-12)).toBe(true);
          }
          expect([...mesh.corners]).toEqual([...m.corners]);
        },
      ),
      { numRuns: 1000 },
    );
  });

  it('to one place of an axis', () => {
    const m = grid(2);
    const flat = alignVertices(m, { vertices: [0, 4, 8], to: { axis: 'x', at: null } }).mesh;
    expect([0, 4, 8].map((v) => placeOfVertex(flat, v)[0])).toEqual([1, 1, 1]);
    expect(placeOfVertex(alignVertices(m, { vertices: [0], to: { axis: 'z', at: 7 } }).mesh, 0)).toEqual([0, 0, 7]);
  });

  it('straight onto a plane or a line', () => {
    const m = grid(2);
    const leant = alignVertices(m, {
      vertices: [4],
      to: {
        plane: [
          [0, 0, 0],
          [2, 0, 0],
          [0, 2, 2],
        ],
      },
    }).mesh;
    expect(placeOfVertex(leant, 4).map((x) => +x.toFixed(12))).toEqual([1, 0.5, 0.5]);
    const onLine = alignVertices(m, {
      vertices: [1, 3],
      to: {
        line: [
          [0, 0, 0],
          [5, 5, 0],
        ],
      },
    }).mesh;
    expect([1, 3].flatMap((v) => placeOfVertex(onLine, v).map((x) => +x.toFixed(12)))).toEqual([
      0.5, 0.5, 0, 0.5, 0.5, 0,
    ]);
    expect(
      firstPlane([
        [0, 0, 0],
        [1, 0, 0],
        [2, 0, 0],
        [0, 1, 0],
      ]),
    ).toEqual([
      [0, 0, 0],
      [1, 0, 0],
      [0, 1, 0],
    ]);
    expect(() =>
      firstPlane([
        [0, 0, 0],
        [1, 0, 0],
        [2, 0, 0],
      ]),
    ).toThrow(/on one line/);
  });
});

describe('shaping runs', () => {
  const hole = () => carve(box(60, 60, 10), { cutters: [cylinder(12, 30, 24)], operation: 'subtract', course: 3 }).mesh;
  const plain: Omit<ShapeLoopsOptions, 'edges'> = { shape: 'round', along: 'own', radius: 0, even: false };
  const shaken = (m: PolyMesh): PolyMesh => {
    const P = m.positions.slice();
    seams(m).forEach((c, i) => {
      const v = m.corners[c]!;
      P[3 * v]! *= 1 + 0.02 * Math.sin(7 * i);
      P[3 * v + 1]! *= 1 + 0.02 * Math.sin(7 * i);
    });
    return { ...m, positions: P };
  };

  it('finds runs, closed and open', () => {
    expect(chainsOf(hole(), seams(hole())).map((c) => [c.closed, c.vertices.length])).toEqual([
      [true, 24],
      [true, 24],
    ]);
    const m = grid(3);
    const t = topologyOf(m);
    const row = [...t.edgeCorner].filter(
      (c) => m.positions[3 * m.corners[c]! + 1] === 1 && m.positions[3 * m.corners[t.next[c]!]! + 1] === 1,
    );
    expect(chainsOf(m, row)).toEqual([{ closed: false, vertices: expect.arrayContaining([4, 5, 6, 7]) }]);
  });

  it('makes a shaken rim round again, as wide as it fits or as it is told, and evenly stepped', () => {
    const m = shaken(hole());
    const r = shapeLoops(m, { edges: seams(m), ...plain, radius: 12 });
    const [run] = chainsOf(r.mesh, seams(r.mesh));
    const g = gauge(run!.vertices.map((v) => placeOfVertex(r.mesh, v) as [number, number, number]));
    expect([g.radius, g.outOfRound < 1e-9, r.report.runs, isClosed(r.mesh)]).toEqual([
      expect.closeTo(12, 9),
      true,
      2,
      true,
    ]);
    const fit = shapeLoops(m, { edges: seams(m), ...plain, even: true });
    const even = gauge(
      chainsOf(fit.mesh, seams(m))[0]!.vertices.map((v) => placeOfVertex(fit.mesh, v) as [number, number, number]),
    );
    const angles = [...even.angles].sort((a, b) => a - b);
    for (let i = 1; i < 24; i++) expect(angles[i]! - angles[i - 1]!).toBeCloseTo(15, 6);
    expect(fit.report.furthest).toBeLessThan(1);
  });

  it('round along an axis is round as seen along it, round by itself in its own plane: a slanted run', () => {
    const m = transformMesh(cylinder(10, 4, 16), placementAffine({ position: [3, 2, 1], turn: [30, 0, 0] }));
    const t = topologyOf(m);
    const N = faceNormals(m);
    const cap = [...Array(faceCount(m)).keys()].find(
      (f) => m.loopStart[f + 1]! - m.loopStart[f]! === 16 && N[3 * f + 2]! > 0,
    )!;
    const edges = [...t.edgeCorner].filter((c) => t.face[c] === cap || t.face[t.opposite[c]!] === cap);
    const far = (along: 'own' | 'z') => {
      const { mesh } = shapeLoops(m, { edges, ...plain, along, radius: 7 });
      const ring = chainsOf(mesh, edges)[0]!.vertices.map((v) => [placeOfVertex(mesh, v), placeOfVertex(m, v)]);
      // The middle of the upper end: 2 mm up the slanted axis.
      const [y, z] = [2 - 2 * Math.sin(Math.PI / 6), 1 + 2 * Math.cos(Math.PI / 6)];
      return {
        inSpace: ring.map(([p]) => Math.hypot(p![0]! - 3, p![1]! - y, p![2]! - z)),
        fromAbove: ring.map(([p]) => Math.hypot(p![0]! - 3, p![1]! - y)),
        raised: ring.map(([p, was]) => Math.abs(p![2]! - was![2]!)),
      };
    };
    for (const r of far('own').inSpace) expect(r).toBeCloseTo(7, 9);
    const z = far('z');
    for (const r of z.fromAbove) expect(r).toBeCloseTo(7, 6);
    for (const d of z.raised) expect(d).toBeLessThan(1e-9);
  });

  it('round along a way keeps the heights: a rim on a curved wall', () => {
    const wall = carve(cylinder(30, 60, 96), {
      cutters: [transformMesh(cylinder(8, 90, 24), placementAffine({ position: [20, 0, 0], turn: [0, 90, 0] }))],
      operation: 'subtract',
      course: 3,
    }).mesh;
    const m = { ...wall, positions: wall.positions.map((x, i) => (i % 3 === 1 ? x * 1.01 : x)) };
    const rim = chainsOf(m, seams(m))[0]!;
    const r = shapeLoops(m, { edges: seams(m), ...plain, along: 'x', radius: 8 });
    for (const v of rim.vertices) {
      const [x, y, z] = placeOfVertex(r.mesh, v);
      expect(Math.hypot(y!, z!)).toBeCloseTo(8, 6);
      expect(x).toBeCloseTo(placeOfVertex(m, v)[0]!, 9);
    }
  });

  it('flat, straight, and even along a run', () => {
    const m = grid(4);
    const t = topologyOf(m);
    const row = [...t.edgeCorner].filter(
      (c) => m.positions[3 * m.corners[c]! + 1] === 2 && m.positions[3 * m.corners[t.next[c]!]! + 1] === 2,
    );
    const P = m.positions.slice();
    [1, 2, 3].forEach((x) => {
      P[3 * vertexAt(m, x, 2) + 1] = 2.3;
      P[3 * vertexAt(m, x, 2)] = x + 0.2;
    });
    const bent = { ...m, positions: P };
    const line = shapeLoops(bent, { edges: row, ...plain, shape: 'straight' }).mesh;
    expect([1, 2, 3].map((x) => placeOfVertex(line, vertexAt(m, x, 2))[1])).toEqual([2, 2, 2]);
    const even = shapeLoops(bent, { edges: row, ...plain, shape: 'even' }).mesh;
    const run = [0, 1, 2, 3, 4].map((x) => placeOfVertex(even, vertexAt(m, x, 2)));
    const steps = run.slice(1).map((p, i) => Math.hypot(p[0]! - run[i]![0]!, p[1]! - run[i]![1]!));
    expect(Math.max(...steps) - Math.min(...steps)).toBeLessThan(0.02);
    const lifted = { ...hole(), positions: hole().positions.map((z, i) => (i % 3 === 2 ? z + 0.1 * Math.sin(i) : z)) };
    const flat = shapeLoops(lifted, { edges: seams(lifted), ...plain, shape: 'flat' }).mesh;
    for (const { vertices } of chainsOf(flat, seams(flat))) {
      const g = gauge(vertices.map((v) => placeOfVertex(flat, v) as [number, number, number]));
      expect(g.flat).toBe(true);
    }
    expect(() => shapeLoops(m, { edges: row, ...plain })).toThrow(/closed run/);
  });

  it('pairs the corners of two loops in their order, whichever way each of them runs', () => {
    const uneven = [0, 30, 100, 170, 220, 300];
    const ring = (angles: readonly number[], r: number, z: number) =>
      angles.flatMap((a) => [r * Math.cos((a * Math.PI) / 180), r * Math.sin((a * Math.PI) / 180), z]);
    const boundary = [0, 1, 2, 3, 4, 5];
    const even = boundary.map((i) => 10 + 60 * i);
    const two = meshFromFaces([...ring(even, 5, 0), ...ring(uneven, 9, 4)], [boundary, boundary.map((v) => v + 6)]);
    const [mine, theirs] = [boundary, boundary.map((v) => v + 6)];
    const back = (list: number[]) => [...list].reverse();
    const middle = [0, 1, 2].map((k) => theirs.reduce((sum, v) => sum + placeOfVertex(two, v)[k]!, 0) / 6);
    for (const own of [mine, back(mine)])
      for (const other of [theirs, back(theirs)]) {
        const r = matchLoop(two, {
          run: { vertices: own, closed: true },
          other: { vertices: other, closed: true },
        }).mesh;
        // The nearest of theirs, seen from their middle: the first goes to the first, and so on.
        mine.forEach((v, i) => {
          const [x, y] = placeOfVertex(r, v);
          const [p, q] = placeOfVertex(two, theirs[i]!).map((c, k) => c - middle[k]!);
          expect(Math.cos(Math.atan2(y!, x!) - Math.atan2(q!, p!))).toBeCloseTo(1, 12);
        });
      }
    const short = { vertices: mine.slice(1), closed: true };
    expect(() => matchLoop(two, { run: short, other: { vertices: theirs, closed: true } }).mesh).toThrow(/\(5 and 6\)/);
  });

  it('turns the corners of a hole to those of another loop, whatever their number, sizes and turn', () => {
    const run = fc.record({
      sides: fc.integer({ min: 3, max: 24 }),
      low: fc.double({ min: 1, max: 9, noNaN: true }),
      high: fc.double({ min: 1, max: 9, noNaN: true }),
      turn: fc.double({ min: -180, max: 180, noNaN: true }),
    });
    fc.assert(
      fc.property(run, ({ sides, low, high, turn }) => {
        const placed = (r: number, by: number, z: number) =>
          transformMesh(cylinder(r, 10, sides), placementAffine({ position: [0, 0, z], turn: [0, 0, by] }));
        const two = joinMeshes([placed(low, 0, 0), placed(high, turn, 40)]);
        const t = topologyOf(two);
        const at = (z: number) =>
          chainsOf(
            two,
            [...t.edgeCorner].filter((c) =>
              [two.corners[c]!, two.corners[t.next[c]!]!].every((v) => Math.abs(two.positions[3 * v + 2]! - z) < 1e-9),
            ),
          )[0]!;
        const [mine, theirs] = [at(5), at(35)];
        const r = matchLoop(two, { run: mine, other: theirs }).mesh;
        const angle = (v: number) => Math.atan2(r.positions[3 * v + 1]!, r.positions[3 * v]!);
        // Each corner of the one stands at the angle of one of the other, no two at the same.
        const met = mine.vertices.map((v) =>
          theirs.vertices.findIndex((w) => Math.cos(angle(v) - angle(w)) > 1 - 1e-9),
        );
        expect([...met].sort((a, b) => a - b)).toEqual([...theirs.vertices.keys()]);
        for (const v of mine.vertices)
          expect(Math.hypot(r.positions[3 * v]!, r.positions[3 * v + 1]!)).toBeCloseTo(low, 9);
        for (const v of theirs.vertices) expect(placeOfVertex(r, v)).toEqual(placeOfVertex(two, v));
      }),
      { numRuns: 1000 },
    );
  }, 60_000);
});
