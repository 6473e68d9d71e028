import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  areaAndVolume,
  bounds,
  faceAreas,
  faceCount,
  faceNormals,
  genus,
  isClosed,
  meshFromFaces,
  placementAffine,
  topologyOf,
  transformMesh,
  vertexCount,
  withSlot,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, cylinder, prism } from '../shapes/index.ts';
import { findings } from '../survey/index.ts';
import { deleteFaces } from './dissolve.ts';
import { bridge, fill, openedAt } from './fill.ts';
import { connectedFaces, detach, extrude, inset, insetRoom } from './raise.ts';
import { grid, sidesOf } from './testMeshes.ts';

const faceTo = (m: PolyMesh, x: number, y: number, z: number): number => {
  const n = faceNormals(m);
  return [...Array(faceCount(m)).keys()].find((f) => n[3 * f]! * x + n[3 * f + 1]! * y + n[3 * f + 2]! * z > 0.999)!;
};
const open = (m: PolyMesh) => [...topologyOf(m).edgeCorner].filter((c) => topologyOf(m).opposite[c]! < 0);
const plain = { across: 0, shift: 0 };

describe('filling an opening', () => {
  const lidless = (n: number) =>
    deleteFaces(cylinder(10, 20, n), { faces: [faceTo(cylinder(10, 20, n), 0, 0, 1)] }).mesh;
  it.each([
    ['face', 1, 0],
    ['fan', 12, 1],
    ['ears', 10, 0],
    ['grid', 9, 4],
  ] as const)('by %s: closed again, with %i faces and %i vertices more', (way, faces, vertices) => {
    const m = withSlot(lidless(12), 'Steel');
    const r = fill(m, { edges: open(m).slice(0, 1), way, ...plain, course: 9 });
    expect([
      r.report.filled,
      r.report.faces,
      vertexCount(r.mesh) - vertexCount(m),
      isClosed(r.mesh),
      genus(r.mesh),
    ]).toEqual([1, faces, vertices, true, 0]);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(areaAndVolume(cylinder(10, 20, 12)).volume, 6);
    expect(r.mesh.slots).toEqual(['Steel']);
  });

  it('a rectangular opening by a grid that meets its corners; an odd one is refused with what to do', () => {
    const m = grid(6);
    const holed = deleteFaces(m, { faces: [7, 8, 9, 13, 14, 15] }).mesh;
    const inner = open(holed).filter((c) => {
      const [x, y] = [holed.positions[3 * holed.corners[c]!]!, holed.positions[3 * holed.corners[c]! + 1]!];
      return x > 0 && x < 6 && y > 0 && y < 6;
    });
    const r = fill(holed, { edges: inner, way: 'grid', ...plain });
    expect([r.report.faces, sidesOf(r.mesh).every((n) => n === 4), areaAndVolume(r.mesh).area]).toEqual([6, true, 36]);
    expect([...r.mesh.positions.slice(-6)].every((x) => Math.abs(x - Math.round(x)) < 1e-12)).toBe(true);
    const odd = lidless(7);
    expect(() => fill(odd, { edges: open(odd), way: 'grid', ...plain })).toThrow(/even number/);
  });

  it.each([
    [5, 3],
    [3, 5],
    [1, 4],
    [4, 1],
    [2, 2],
    [6, 2],
  ])('an opening of %i × %i by the grid that was there, also where its side is typed', (w, h) => {
    const m = grid(9);
    const gone = [...Array(81).keys()].filter(
      (f) => f % 9 >= 2 && f % 9 < 2 + w && Math.floor(f / 9) >= 1 && Math.floor(f / 9) < 1 + h,
    );
    const holed = deleteFaces(m, { faces: gone }).mesh;
    const inner = open(holed).filter((c) => [0, 1].every((k) => holed.positions[3 * holed.corners[c]! + k]! % 9));
    const places = (x: PolyMesh) =>
      Array.from({ length: vertexCount(x) }, (_, v) =>
        [...x.positions.subarray(3 * v, 3 * v + 3)].map((y) => +y.toFixed(9)).join(),
      ).sort();
    for (const across of [0, w, h]) {
      const r = fill(holed, { edges: inner, way: 'grid', across, shift: 0 });
      expect([r.report.faces, faceCount(r.mesh), places(r.mesh)], `${across}`).toEqual([w * h, 81, places(m)]);
      expect([...faceAreas(r.mesh)].every((x) => Math.abs(x - 1) < 1e-9)).toBe(true);
    }
    // More than there is room for is clamped to the room.
    const most = fill(holed, { edges: inner, way: 'grid', across: 100, shift: 0 });
    expect([most.report.faces, sidesOf(most.mesh).every((n) => n === 4)]).toEqual([w + h - 1, true]);
  });

  it('a grid has its corners where the opening turns most, though it turns everywhere', () => {
    // A round opening of 16, drawn out at four of them: a square of sides that bow out.
    const ring = Array.from({ length: 16 }, (_, i) => {
      const [a, r] = [((i + 3) * Math.PI) / 8, i % 4 === 0 ? 13 : 10];
      return [r * Math.cos(a), r * Math.sin(a)] as const;
    });
    const outer = ring.map(([x, y]) => [3 * x, 3 * y] as const);
    const m = meshFromFaces(
      [...ring, ...outer].flatMap(([x, y]) => [x, y, 0]),
      ring.map((_, i) => [i, 16 + i, 16 + ((i + 1) % 16), (i + 1) % 16]),
    );
    const {
      mesh,
      report: { faces },
    } = fill(m, {
      edges: open(m).filter((c) => Math.hypot(...m.positions.subarray(3 * m.corners[c]!, 3 * m.corners[c]! + 2)) < 14),
      way: 'grid',
      ...plain,
    });
    expect(faces).toBe(16);
    // The corners of the grid are of one new face alone.
    const uses = new Map<number, number>();
    for (let f = 16; f < 32; f++)
      for (const v of mesh.corners.subarray(
        mesh.loopStart[mesh.faceLoops[f]!]!,
        mesh.loopStart[mesh.faceLoops[f + 1]!]!,
      ))
        uses.set(v, (uses.get(v) ?? 0) + 1);
    expect([...uses].flatMap(([v, n]) => (n === 1 ? [v] : [])).sort((a, b) => a - b)).toEqual([0, 4, 8, 12]);
    expect([...uses].filter(([, n]) => n === 4)).toHaveLength(9);
  });

  it('a grid is moved on round its opening by as many vertices as are asked for, the way that its faces run', () => {
    const m = grid(5);
    const holed = deleteFaces(m, { faces: [6, 7, 8] }).mesh;
    const inner = open(holed).filter(
      (c) => holed.positions[3 * holed.corners[c]!]! % 5 && holed.positions[3 * holed.corners[c]! + 1]! % 5,
    );
    /** The places that one new face alone has: the corners of the grid, from the lower left one round to the left. */
    const corners = (shift: number) => {
      const { mesh } = fill(holed, { edges: inner, way: 'grid', across: 0, shift });
      const uses = new Map<string, number>();
      for (let f = faceCount(holed); f < faceCount(mesh); f++)
        for (const v of mesh.corners.subarray(
          mesh.loopStart[mesh.faceLoops[f]!]!,
          mesh.loopStart[mesh.faceLoops[f + 1]!]!,
        )) {
          const place = [...mesh.positions.subarray(3 * v, 3 * v + 2)].join();
          uses.set(place, (uses.get(place) ?? 0) + 1);
        }
      return [...uses].flatMap(([place, n]) => (n === 1 ? [place] : [])).sort();
    };
    const round = ['1,1', '2,1', '3,1', '4,1', '4,2', '3,2', '2,2', '1,2'];
    const shifted = (by: number) => [0, 3, 4, 7].map((i) => round[(i + by + 8) % 8]!).sort();
    for (const by of [0, 1, 2, -1]) expect(corners(by), `${by}`).toEqual(shifted(by));
  });

  it('fills only what is picked', () => {
    const tube = deleteFaces(cylinder(10, 20, 8), {
      faces: [faceTo(cylinder(10, 20, 8), 0, 0, 1), faceTo(cylinder(10, 20, 8), 0, 0, -1)],
    }).mesh;
    expect(fill(tube, { edges: open(tube).slice(0, 1), way: 'face', ...plain }).report.filled).toBe(1);
    expect(fill(tube, { edges: [], way: 'face', ...plain }).report.filled).toBe(0);
  });
});

describe('bridging', () => {
  const two = (n: number, k: number) => {
    const [a, b] = [
      deleteFaces(cylinder(10, 10, n), { faces: [faceTo(cylinder(10, 10, n), 0, 0, 1)] }).mesh,
      deleteFaces(cylinder(10, 10, k), { faces: [faceTo(cylinder(10, 10, k), 0, 0, -1)] }).mesh,
    ];
    const up = transformMesh(b, placementAffine({ position: [0, 0, 30], turn: [0, 0, 0] }));
    return { m: join(a, up), n, k };
  };
  const join = (a: PolyMesh, b: PolyMesh): PolyMesh => ({
    ...a,
    positions: Float64Array.from([...a.positions, ...b.positions]),
    corners: Int32Array.from([...a.corners, ...b.corners.map((v) => v + vertexCount(a))]),
    loopStart: Int32Array.from([...a.loopStart, ...b.loopStart.slice(1).map((x) => x + a.corners.length)]),
    faceLoops: Int32Array.from([...a.faceLoops, ...b.faceLoops.slice(1).map((x) => x + a.loopStart.length - 1)]),
  });

  it('equal loops by quads: the volume is that of one long cylinder', () => {
    const { m } = two(16, 16);
    const r = bridge(m, { edges: open(m), segments: 3, twist: 0, bulge: 0 });
    expect([r.report.faces, isClosed(r.mesh), genus(r.mesh), sidesOf(r.mesh).filter((n) => n === 4).length]).toEqual([
      48,
      true,
      0,
      80,
    ]);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(areaAndVolume(cylinder(10, 40, 16)).volume, 6);
    const bulged = bridge(m, { edges: open(m), segments: 3, twist: 0, bulge: 2 });
    expect(areaAndVolume(bulged.mesh).volume).toBeGreaterThan(areaAndVolume(r.mesh).volume);
    // Three flats further on it leans, and is drawn in.
    const twisted = bridge(m, { edges: open(m), segments: 1, twist: 3, bulge: 0 });
    expect(isClosed(twisted.mesh)).toBe(true);
    expect(areaAndVolume(twisted.mesh).volume).toBeLessThan(0.99 * areaAndVolume(r.mesh).volume);
  });

  it('unequal loops by quads and triangles, closed all the same', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 30 }),
        fc.integer({ min: 3, max: 30 }),
        fc.integer({ min: 1, max: 4 }),
        (n, k, segments) => {
          const { m } = two(n, k);
          const r = bridge(m, { edges: open(m), segments, twist: 0, bulge: 0 });
          expect([isClosed(r.mesh), genus(r.mesh)]).toEqual([true, 0]);
          expect(areaAndVolume(r.mesh).volume).toBeGreaterThan(0);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('between faces opens them first: a hole through a block', () => {
    const b = box(10, 10, 10);
    const {
      mesh,
      report: { edges },
    } = openedAt(b, { faces: new Set([faceTo(b, 0, 0, 1), faceTo(b, 0, 0, -1)]) });
    const r = bridge(mesh, { edges, segments: 1, twist: 0, bulge: 0 });
    // The walls lie on the sides, back to back.
    expect([faceCount(r.mesh), isClosed(r.mesh)]).toEqual([8, false]);
    const small = inset(b, {
      faces: [faceTo(b, 0, 0, 1), faceTo(b, 0, 0, -1)],
      distance: 2,
      most: false,
      group: false,
      depth: 0,
    }).mesh;
    const inner = [...Array(faceCount(small)).keys()].filter((f) => Math.abs(faceAreas(small)[f]! - 36) < 1e-9);
    const opened = openedAt(small, { faces: new Set(inner) });
    const through = bridge(opened.mesh, { edges: opened.report.edges, segments: 1, twist: 0, bulge: 0 }).mesh;
    expect([isClosed(through), genus(through), areaAndVolume(through).volume]).toEqual([
      true,
      1,
      expect.closeTo(1000 - 360, 9),
    ]);
    expect(() => bridge(b, { edges: [], segments: 1, twist: 0, bulge: 0 })).toThrow(/0 picked/);
  });
});

describe('inset', () => {
  it('of a square: the inner one smaller by twice the distance, a band of four quads, area as before', () => {
    const m = withSlot(grid(1, 10), 'Steel');
    const r = inset(m, { faces: [0], distance: 2, most: false, group: false, depth: 0 });
    expect([sidesOf(r.mesh), faceAreas(r.mesh)[0], areaAndVolume(r.mesh).area]).toEqual([[4, 4, 4, 4, 4], 36, 100]);
    expect(insetRoom(m, 0)).toBeCloseTo(5, 5);
    expect(() => inset(m, { faces: [0], distance: 5.1, most: false, group: false, depth: 0 })).toThrow(/at most/);
    const most = inset(m, { faces: [0], distance: 0, most: true, group: false, depth: 0 });
    expect(most.report.distance).toBeCloseTo(5, 4);
    const raised = inset(m, { faces: [0], distance: 2, most: false, group: false, depth: 3 }).mesh;
    expect(bounds(raised).max[2]).toBe(3);
  });

  it('respects holes: they get a band of their own, and the room is what is left between', () => {
    const square = (s: number): [number, number][] => [
      [-s, -s],
      [s, -s],
      [s, s],
      [-s, s],
    ];
    const m = prism({ points: square(10), holes: [square(4)] }, 5);
    const top = faceTo(m, 0, 0, 1);
    expect(insetRoom(m, top)).toBeCloseTo(3, 5);
    const r = inset(m, { faces: [top], distance: 1, most: false, group: false, depth: 0 });
    expect([faceCount(r.mesh) - faceCount(m), isClosed(r.mesh), genus(r.mesh)]).toEqual([8, true, 1]);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(areaAndVolume(m).volume, 9);
    expect(faceAreas(r.mesh)[top]).toBeCloseTo(18 * 18 - 10 * 10, 9);
  });

  it('of a lot of faces goes along its border', () => {
    const m = grid(4);
    const r = inset(m, { faces: [5, 6, 9, 10], distance: 0.25, most: false, group: true, depth: 0 });
    expect([faceCount(r.mesh), areaAndVolume(r.mesh).area]).toEqual([24, expect.closeTo(16, 12)]);
    expect(faceAreas(r.mesh).reduce((s, a) => s + (Math.abs(a - 0.5625) < 1e-9 ? 1 : 0), 0)).toBe(4);
    // Round the edge of a box: both sides at once, closed.
    const b = box(10, 10, 10);
    const edge = inset(b, {
      faces: [faceTo(b, 0, 0, 1), faceTo(b, 1, 0, 0)],
      distance: 1,
      most: false,
      group: true,
      depth: 0,
    });
    expect([isClosed(edge.mesh), genus(edge.mesh), faceCount(edge.mesh)]).toEqual([true, 0, 12]);
  });

  it('of any star-shaped boundary as far as it says, and not crossing itself', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 3, max: 10, noNaN: true }), { minLength: 3, maxLength: 12 }), (radii) => {
        const points = radii.map((r, i): [number, number] => [
          r * Math.cos((2 * Math.PI * i) / radii.length),
          r * Math.sin((2 * Math.PI * i) / radii.length),
        ]);
        const m = prism({ points }, 4);
        const r = inset(m, { faces: [faceTo(m, 0, 0, 1)], distance: 0, most: true, group: false, depth: 0 });
        expect(r.report.distance).toBeGreaterThan(0);
        const { mesh } = inset(m, {
          faces: [faceTo(m, 0, 0, 1)],
          distance: r.report.distance * 0.9,
          most: false,
          group: false,
          depth: 0,
        });
        expect(isClosed(mesh)).toBe(true);
        expect(findings(mesh, { rules: ['overlappingFaces', 'crossingFaces'] })).toEqual([]);
      }),
      { numRuns: 200 },
    );
  });
});

describe('extrude', () => {
  const far = { distance: 3, along: 'normal', group: true, back: false } as const;
  it('one face of a box makes it longer, inward shorter', () => {
    const b = box(10, 10, 10);
    const r = extrude(b, { faces: [faceTo(b, 0, 0, 1)], ...far, course: 9 });
    expect([isClosed(r.mesh), faceCount(r.mesh), r.report.walls, areaAndVolume(r.mesh).volume]).toEqual([
      true,
      10,
      4,
      1300,
    ]);
    expect(areaAndVolume(extrude(b, { faces: [faceTo(b, 0, 0, 1)], ...far, distance: -3 }).mesh).volume).toBe(700);
    expect(areaAndVolume(extrude(b, { faces: [faceTo(b, 0, 0, 1)], ...far, along: 'x' }).mesh).volume).toBeCloseTo(
      1000,
      9,
    );
  });

  it('along an axis every vertex goes that way, and no other', () => {
    const b = transformMesh(box(10, 10, 10), placementAffine({ position: [0, 0, 0], turn: [20, 30, 40] }));
    const corners = new Set(Array.from({ length: 8 }, (_, v) => [...b.positions.subarray(3 * v, 3 * v + 3)].join()));
    (['x', 'y', 'z'] as const).forEach((along, k) => {
      const r = extrude(b, { faces: [0], ...far, along }).mesh;
      const made = Array.from({ length: vertexCount(r) }, (_, v) => [...r.positions.subarray(3 * v, 3 * v + 3)]);
      const fresh = made.filter((p) => !corners.has(p.join()));
      expect(fresh.length).toBe(4);
      // Each stands 3 mm along the axis from a corner that was there.
      for (const p of fresh) {
        const from = [...corners]
          .map((c) => c.split(',').map(Number))
          .find((c) => c.every((x, j) => Math.abs(p[j]! - x - (j === k ? 3 : 0)) < 1e-12));
        expect(from).toBeDefined();
      }
    });
  });

  it('two faces that meet: each is moved by the distance square to itself; each by itself leaves a notch', () => {
    const b = box(10, 10, 10);
    const pair = [faceTo(b, 0, 0, 1), faceTo(b, 1, 0, 0)];
    const r = extrude(b, { faces: pair, ...far }).mesh;
    expect(bounds(r).max).toEqual([8, 5, 8]);
    expect([isClosed(r), genus(r)]).toEqual([true, 0]);
    const each = extrude(b, { faces: pair, ...far, group: false });
    expect([each.report.walls, isClosed(each.mesh), bounds(each.mesh).max]).toEqual([8, true, [8, 5, 8]]);
    // A notch along the edge that they shared.
    expect(areaAndVolume(each.mesh).volume).toBe(1600);
  });

  it('all faces of a wall grow it: a round one by as much as its flats move', () => {
    const wall = cylinder(10, 20, 24);
    const n = faceNormals(wall);
    const round = [...Array(faceCount(wall)).keys()].filter((f) => Math.abs(n[3 * f + 2]!) < 0.5);
    const r = extrude(wall, { faces: round, ...far, distance: 2 }).mesh;
    expect(isClosed(r)).toBe(true);
    const flat = 10 * Math.cos(Math.PI / 24);
    const radius = Math.max(
      ...[...Array(vertexCount(r)).keys()].map((v) => Math.hypot(r.positions[3 * v]!, r.positions[3 * v + 1]!)),
    );
    expect(radius).toBeCloseTo((flat + 2) / Math.cos(Math.PI / 24), 9);
  });

  it('a sheet becomes a body where the back is asked for, a tray where not', () => {
    const m = grid(3);
    const tray = extrude(m, { faces: [4], ...far }).mesh;
    expect(open(tray)).toHaveLength(12);
    const body = extrude(m, { faces: [0, 1, 2, 3, 4, 5, 6, 7, 8], ...far, back: true });
    expect([isClosed(body.mesh), areaAndVolume(body.mesh).volume, genus(body.mesh)]).toEqual([true, 27, 0]);
  });
});

describe('setting free', () => {
  it('leaves faces where they are, with a border of their own', () => {
    const b = box(10, 10, 10);
    const r = detach(b, { faces: [faceTo(b, 0, 0, 1)] });
    expect([r.report.opened, vertexCount(r.mesh), open(r.mesh).length, areaAndVolume(r.mesh).area]).toEqual([
      4, 12, 8, 600,
    ]);
    expect(
      connectedFaces(r.mesh, [...Array(6).keys()])
        .map((l) => l.length)
        .sort(),
    ).toEqual([1, 5]);
    const { mesh } = carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 });
    const holed = detach(mesh, { faces: [faceTo(mesh, 0, 0, 1)] });
    expect(holed.report.opened).toBe(28);
  });
});
