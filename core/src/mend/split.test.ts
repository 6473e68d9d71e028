import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  faceNormals,
  genus,
  isClosed,
  joinMeshes,
  loopCount,
  meshFromFaces,
  topologyOf,
  transformMesh,
  vertexCount,
  withSlot,
} from '../mesh/index.ts';
import { box, cylinder } from '../shapes/index.ts';
import { connect, splitEdges, type SplitAt } from './split.ts';
import { divideFaces, insertLoops, ringOf } from './loops.ts';
import { edgeOf, grid, placeOfVertex, sidesOf, vertexAt } from './testMeshes.ts';

describe('splitting edges', () => {
  it('at a share, at a distance from its first end, and in equal parts; the faces on both sides get the vertices', () => {
    const m = grid(2);
    const edge = edgeOf(m, vertexAt(m, 1, 0), vertexAt(m, 1, 1));
    const share = splitEdges(m, { edges: [edge], at: { by: 'share', share: 0.25 } });
    const from = placeOfVertex(m, m.corners[edge]!);
    expect([sidesOf(share.mesh), share.report.added]).toEqual([[4, 4, 5, 5], 1]);
    expect(Math.abs(placeOfVertex(share.mesh, 9)[1]! - from[1]!)).toBeCloseTo(0.25, 12);
    const far = splitEdges(m, { edges: [edge], at: { by: 'distance', distance: 0.4 } });
    expect(Math.abs(placeOfVertex(far.mesh, 9)[1]! - from[1]!)).toBeCloseTo(0.4, 12);
    const parts = splitEdges(m, { edges: [edge], at: { by: 'parts', parts: 4 } });
    expect([sidesOf(parts.mesh), parts.report.added]).toEqual([[4, 4, 7, 7], 3]);
    // No room for the distance: nothing.
    expect(splitEdges(m, { edges: [edge], at: { by: 'distance', distance: 5 } }).report.added).toBe(0);
  });

  it('in space: shares and distances are of the edge’s whole length, wherever it points', () => {
    // One triangle, whose first edge goes by (2, 3, 6): 7 mm long.
    const m = meshFromFaces([1, 1, 1, 3, 4, 7, 0, 9, 2], [[0, 1, 2]]);
    const at = (how: SplitAt) => {
      const {
        mesh,
        report: { added },
      } = splitEdges(m, { edges: [0], at: how });
      return Array.from({ length: added }, (_, i) => placeOfVertex(mesh, 3 + i).map((x) => +x.toFixed(9)));
    };
    expect(at({ by: 'distance', distance: 3.5 })).toEqual([[2, 2.5, 4]]);
    expect(at({ by: 'distance', distance: 1.4 })).toEqual([[1.4, 1.6, 2.2]]);
    expect(at({ by: 'share', share: 0.1 })).toEqual([[1.2, 1.3, 1.6]]);
    expect(at({ by: 'parts', parts: 5 })).toEqual([
      [1.4, 1.6, 2.2],
      [1.8, 2.2, 3.4],
      [2.2, 2.8, 4.6],
      [2.6, 3.4, 5.8],
    ]);
    for (const distance of [0, 7, 8, -1]) expect(at({ by: 'distance', distance })).toEqual([]);
    for (const share of [0, 1, 1.5]) expect(at({ by: 'share', share })).toEqual([]);
    expect(at({ by: 'parts', parts: 1 })).toEqual([]);
    // An edge of no length has no place within, and is no fault.
    const none = meshFromFaces([1, 1, 1, 1, 1, 1, 0, 9, 2], [[0, 1, 2]]);
    expect(
      splitEdges(none, { edges: [0], at: { by: 'distance', distance: 0.5 } }).mesh.positions.every(Number.isFinite),
    ).toBe(true);
  });

  it('keeps seams on both halves', () => {
    const { mesh } = carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 });
    const seam = [...topologyOf(mesh).edgeCorner].filter((c) => mesh.layers.seam![c]);
    const r = splitEdges(mesh, { edges: seam, at: { by: 'parts', parts: 2 } });
    expect([...topologyOf(r.mesh).edgeCorner].filter((c) => r.mesh.layers.seam![c])).toHaveLength(2 * seam.length);
    expect([isClosed(r.mesh), genus(r.mesh)]).toEqual([true, 1]);
  });
});

describe('connecting vertices', () => {
  it('across the face that both belong to', () => {
    const m = withSlot(grid(1), 'Steel');
    const r = connect(m, { from: 0, to: 3, normals: faceNormals(m) });
    expect([sidesOf(r.mesh), r.report.added, r.mesh.slots]).toEqual([[3, 3], 0, ['Steel']]);
    expect(() => connect(m, { from: 0, to: 1, normals: faceNormals(m) })).toThrow(/already/);
  });

  it('a hole to its surround, by one tie and by two', () => {
    const { mesh } = carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 });
    const [corner, rim] = [vertexAt(mesh, 20, 20, 5), vertexAt(mesh, 8, 0, 5)];
    const one = connect(mesh, { from: corner, to: rim, normals: faceNormals(mesh) });
    expect([faceCount(one.mesh), loopCount(one.mesh)]).toEqual([faceCount(mesh), loopCount(mesh) - 1]);
    const two = connect(one.mesh, {
      from: vertexAt(one.mesh, -20, -20, 5),
      to: vertexAt(one.mesh, -8, 0, 5),
      normals: faceNormals(one.mesh),
    });
    expect([faceCount(two.mesh), genus(two.mesh)]).toEqual([faceCount(mesh) + 1, 1]);
  });

  it('not across a hole of the face that both belong to: there is no surface', () => {
    const { mesh } = carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 });
    const [a, b] = [vertexAt(mesh, 8, 0, 5), vertexAt(mesh, -8, 0, 5)];
    expect(() => connect(mesh, { from: a, to: b, normals: faceNormals(mesh) })).toThrow(/straight line/);
    // From corner to corner of the plate the way would go over the hole, too.
    expect(() =>
      connect(mesh, { from: vertexAt(mesh, 20, 20, 5), to: vertexAt(mesh, -20, -20, 5), normals: faceNormals(mesh) }),
    ).toThrow(/straight line/);
  });

  it('straight across several faces, splitting the edges between', () => {
    const m = grid(4);
    const r = connect(m, { from: vertexAt(m, 0, 0), to: vertexAt(m, 4, 1), normals: faceNormals(m) });
    expect(r.report.added).toBe(3);
    expect(areaAndVolume(r.mesh).area).toBeCloseTo(16, 12);
    for (const [x, y] of [
      [1, 0.25],
      [2, 0.5],
      [3, 0.75],
    ])
      expect(vertexAt(r.mesh, x!, y!, 0)).toBeGreaterThan(24);
    // The way is there as edges, one through each of the four faces.
    const way = [
      [0, 0],
      [1, 0.25],
      [2, 0.5],
      [3, 0.75],
      [4, 1],
    ].map(([x, y]) => vertexAt(r.mesh, x!, y!, 0));
    for (let i = 0; i + 1 < way.length; i++)
      expect(edgeOf(r.mesh, way[i]!, way[i + 1]!), `${i}`).toBeGreaterThanOrEqual(0);
    expect(faceCount(r.mesh)).toBe(20);
    // Through a vertex no edge is split there.
    const diagonal = connect(m, { from: vertexAt(m, 0, 0), to: vertexAt(m, 3, 3), normals: faceNormals(m) });
    expect([diagonal.report.added, faceCount(diagonal.mesh)]).toEqual([0, 19]);
  });

  it('goes straight as seen along the mean of the faces at its ends, in any frame', () => {
    // A ridge: two slopes at right angles. Seen along the mean of both, straight down on the ridge, the way meets it in
    // its middle.
    const ridge = meshFromFaces(
      [-3, 0, -3, 0, 0, 0, 0, 4, 0, -3, 4, -3, 3, 0, -3, 3, 4, -3],
      [
        [0, 1, 2, 3],
        [1, 4, 5, 2],
      ],
    );
    // Turned by thirds of a turn about the diagonal, the same axis for axis.
    for (const k of [0, 1, 2]) {
      const turned = {
        ...ridge,
        positions: ridge.positions.map((_, i) => ridge.positions[i - (i % 3) + ((i + k) % 3)]!),
      };
      const {
        mesh,
        report: { added },
      } = connect(turned, { from: 0, to: 5, normals: faceNormals(turned) });
      const middle = placeOfVertex(mesh, 6);
      expect([added, faceCount(mesh)]).toEqual([1, 4]);
      expect([0, 1, 2].map((i) => middle[(i + 3 - k) % 3])).toEqual([0, 2, 0]);
    }
  });

  it('any two vertices of a grid: area stays, nothing folds', () => {
    const m = grid(5);
    fc.assert(
      fc.property(fc.nat(35), fc.nat(35), (a, b) => {
        fc.pre(a !== b);
        let mesh;
        try {
          mesh = connect(m, { from: a, to: b, normals: faceNormals(m) }).mesh;
        } catch (e) {
          expect(String(e)).toMatch(/already/);
          return;
        }
        expect(areaAndVolume(mesh).area).toBeCloseTo(25, 9);
        expect([...faceNormals(mesh)].filter((_, i) => i % 3 === 2).every((z) => z > 0.999)).toBe(true);
        // Euler's number of a disc.
        expect(vertexCount(mesh) - topologyOf(mesh).edgeCount + faceCount(mesh)).toBe(1);
      }),
      { numRuns: 1000 },
    );
  });

  it('says when there is no straight way', () => {
    const two = joinMeshes([grid(2), transformMesh(grid(2), [1, 0, 0, 5, 0, 1, 0, 0, 0, 0, 1, 0])]);
    expect(() =>
      connect(two, { from: vertexAt(two, 1, 1), to: vertexAt(two, 6, 1), normals: faceNormals(two) }),
    ).toThrow(/straight line/);
    // Round the corners of a body there is one.
    const b = box(4, 4, 4, [3, 3, 3]);
    const r = connect(b, { from: vertexAt(b, 2, 2, 2), to: vertexAt(b, -2, -2, -2), normals: faceNormals(b) });
    expect([isClosed(r.mesh), genus(r.mesh)]).toEqual([true, 0]);
  });
});

describe('loops', () => {
  const wall = cylinder(10, 30, 12);
  const upright = () => {
    const t = topologyOf(wall);
    return [...t.edgeCorner].find(
      (c) => wall.positions[3 * wall.corners[c]! + 2] !== wall.positions[3 * wall.corners[t.next[c]!]! + 2],
    )!;
  };

  it('go round a wall, and stop at faces that are no quads', () => {
    expect(ringOf(wall, upright())).toMatchObject({ closed: true });
    expect(ringOf(wall, upright()).corners).toHaveLength(12);
    const m = grid(3);
    const across = ringOf(m, edgeOf(m, vertexAt(m, 1, 1), vertexAt(m, 1, 2)));
    expect([across.closed, across.corners.length, across.faces.length]).toEqual([false, 4, 3]);
  });

  it('are put in at a share, at an equal distance from one side, in parts; all at one height', () => {
    const heights = (m: typeof wall) =>
      [...new Set([...m.positions].filter((_, i) => i % 3 === 2).map((z) => +z.toFixed(9)))].sort((a, b) => a - b);
    const share = insertLoops(wall, { edges: [upright()], at: { by: 'share', share: 0.2 } });
    expect([share.report.cut, faceCount(share.mesh), isClosed(share.mesh)]).toEqual([12, 26, true]);
    expect(heights(share.mesh)).toHaveLength(3);
    expect(heights(share.mesh).map(Math.abs)).toContain(9);
    const flipped = insertLoops(wall, { edges: [upright()], at: { by: 'share', share: 0.2 }, flipped: true });
    expect(heights(flipped.mesh)[1]).toBe(-heights(share.mesh)[1]!);
    const near = insertLoops(wall, { edges: [upright()], at: { by: 'distance', distance: 4 } });
    expect(Math.abs(heights(near.mesh)[1]!)).toBeCloseTo(11, 9);
    const both = insertLoops(wall, { edges: [upright()], at: { by: 'distance', distance: 4 }, both: true });
    expect([heights(both.mesh), faceCount(both.mesh)]).toEqual([[-15, -11, 11, 15], 2 + 36]);
    expect(
      heights(insertLoops(wall, { edges: [upright()], at: { by: 'distance', distance: 40 }, both: true }).mesh),
    ).toEqual([-15, 0, 15]);
    const parts = insertLoops(wall, { edges: [upright()], at: { by: 'parts', parts: 5 } });
    expect(heights(parts.mesh)).toEqual([-15, -9, -3, 3, 9, 15]);
    expect([genus(parts.mesh), areaAndVolume(parts.mesh).volume]).toEqual([
      0,
      expect.closeTo(areaAndVolume(wall).volume, 6),
    ]);
  });

  it('run across a sheet, whose end faces stay quads; beside an n-gon it gets a vertex', () => {
    const m = grid(3);
    const r = insertLoops(m, {
      edges: [edgeOf(m, vertexAt(m, 1, 1), vertexAt(m, 1, 2))],
      at: { by: 'share', share: 0.5 },
    });
    expect([sidesOf(r.mesh).every((n) => n === 4), faceCount(r.mesh), r.report.cut]).toEqual([true, 12, 3]);
    const two = insertLoops(m, {
      edges: [edgeOf(m, vertexAt(m, 1, 1), vertexAt(m, 1, 2)), edgeOf(m, vertexAt(m, 1, 1), vertexAt(m, 2, 1))],
      at: { by: 'share', share: 0.5 },
    });
    expect([faceCount(two.mesh), vertexCount(two.mesh), areaAndVolume(two.mesh).area]).toEqual([16, 25, 9]);
    const caps = insertLoops(cylinder(10, 30, 5), { edges: [0], at: { by: 'parts', parts: 2 } });
    expect(isClosed(caps.mesh)).toBe(true);
  });
});

describe('dividing faces', () => {
  it('quads into n × n, others into quads round their middle; the neighbours get the vertices', () => {
    const m = grid(2);
    const r = divideFaces(m, { faces: [0], parts: 3 });
    expect([sidesOf(r.mesh), r.report.divided]).toEqual([[...Array(9).fill(4), 4, 6, 6].sort(), 1]);
    expect(areaAndVolume(r.mesh).area).toBeCloseTo(4, 12);
    const wall = cylinder(10, 30, 6);
    const cap = [...Array(faceCount(wall)).keys()].find(
      (f) => sidesOf(wall).length && wall.loopStart[f + 1]! - wall.loopStart[f]! === 6,
    )!;
    const quads = divideFaces(wall, { faces: [cap], parts: 2 });
    expect([isClosed(quads.mesh), faceCount(quads.mesh), genus(quads.mesh)]).toEqual([true, faceCount(wall) + 5, 0]);
    const all = divideFaces(box(2, 2, 2), { faces: [0, 1, 2, 3, 4, 5], parts: 4 });
    expect([faceCount(all.mesh), vertexCount(all.mesh), isClosed(all.mesh)]).toEqual([96, 98, true]);
  });
});
