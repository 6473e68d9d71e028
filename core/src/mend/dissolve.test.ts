import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  genus,
  isClosed,
  loopCount,
  tieHoles,
  topologyOf,
  vertexCount,
  withSlot,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, cylinder } from '../shapes/index.ts';
import { deleteFaces, dissolveEdges, dissolveFaces, dissolveVertices, facesAt } from './dissolve.ts';
import { edgeOf, grid, sidesOf, vertexAt } from './testMeshes.ts';

const holed = (): PolyMesh =>
  carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 }).mesh;

describe('dissolve', () => {
  it('an edge between two squares gives one rectangle, its ends gone where they stood on straight runs', () => {
    const m = withSlot(grid(2), 'Steel');
    const r = dissolveEdges(m, { edges: [edgeOf(m, vertexAt(m, 1, 0), vertexAt(m, 1, 1))] });
    // The one on the rim goes; the middle one still has three edges.
    expect([sidesOf(r.mesh), r.report.joined, r.report.vertices, r.mesh.slots]).toEqual([[4, 4, 5], 1, 1, ['Steel']]);
  });

  it('a vertex gives one face of all round it', () => {
    const m = grid(2);
    const r = dissolveVertices(m, { vertices: [vertexAt(m, 1, 1)] });
    expect([sidesOf(r.mesh), vertexCount(r.mesh)]).toEqual([[4], 4]);
    const b = box(4, 4, 4);
    const corner = dissolveVertices(b, { vertices: [0] });
    expect([sidesOf(corner.mesh), isClosed(corner.mesh)]).toEqual([[4, 4, 4, 6], true]);
  });

  it('a vertex of two edges goes out of its run', () => {
    const m = grid(1);
    const split = dissolveEdges(grid(2), { edges: [0, 1, 2, 3].map((i) => edgeOf(grid(2), 4, [1, 3, 5, 7][i]!)) }).mesh;
    expect(areaAndVolume(split).area).toBe(4 * areaAndVolume(m).area);
    const l = dissolveVertices(grid(1), { vertices: [0] });
    expect(sidesOf(l.mesh)).toEqual([3]);
  });

  it('the last tie of a hole leaves an inner boundary again', () => {
    const m = holed();
    const tied = tieHoles(m);
    expect(loopCount(tied)).toBe(faceCount(tied));
    const t = topologyOf(tied);
    const flat = (c: number) => Math.abs(tied.positions[3 * tied.corners[c]! + 2]!) === 5;
    const ties = [...t.edgeCorner].filter((c) => {
      const [a, b] = [tied.corners[c]!, tied.corners[t.next[c]!]!];
      const r = (v: number) => Math.hypot(tied.positions[3 * v]!, tied.positions[3 * v + 1]!);
      return flat(c) && tied.positions[3 * a + 2] === tied.positions[3 * b + 2] && Math.abs(r(a) - r(b)) > 5;
    });
    expect(ties.length).toBe(4);
    const back = dissolveEdges(tied, { edges: ties }).mesh;
    expect([faceCount(back), loopCount(back), vertexCount(back), genus(back)]).toEqual([
      faceCount(m),
      loopCount(m),
      vertexCount(m),
      1,
    ]);
    // One of two: the other would be a doubled edge, and goes along.
    expect(loopCount(dissolveEdges(tied, { edges: ties.slice(0, 1) }).mesh)).toBe(loopCount(tied));
  });

  it('is refused where the faces would close up', () => {
    const b = box(4, 4, 4);
    expect(() => dissolveFaces(b, { faces: [0, 1, 2, 3, 4, 5] })).toThrow(/one outer boundary/);
    expect(() => dissolveVertices(b, { vertices: [0, 1, 2, 3, 4, 5, 6, 7] })).toThrow(/one outer boundary/);
  });

  it('any connected lot of a flat grid keeps its area, and its border', () => {
    const m = grid(6);
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(35), { minLength: 1, maxLength: 20 }), (faces) => {
        let mesh: PolyMesh;
        try {
          mesh = dissolveFaces(m, { faces }).mesh;
        } catch (e) {
          // A lot that touches itself at a corner has no single boundary there.
          expect(String(e)).toMatch(/one outer boundary/);
          return;
        }
        expect(areaAndVolume(mesh).area).toBeCloseTo(36, 9);
        const open = topologyOf(mesh).opposite.filter((o) => o < 0).length;
        expect(open).toBeLessThanOrEqual(24);
        expect(sidesOf(mesh).every((n) => n > 2)).toBe(true);
      }),
      { numRuns: 1000 },
    );
  });
});

describe('delete', () => {
  it('takes out faces, and those at vertices and edges', () => {
    const m = grid(3);
    expect([...facesAt(m, 'vertex', [vertexAt(m, 1, 1)])].sort()).toEqual([0, 1, 3, 4]);
    expect([...facesAt(m, 'edge', [edgeOf(m, vertexAt(m, 1, 1), vertexAt(m, 2, 1))])].sort()).toEqual([1, 4]);
    const left = deleteFaces(m, { faces: [0, 1, 3] }).mesh;
    expect([faceCount(left), vertexCount(left)]).toEqual([6, 13]);
  });
});
