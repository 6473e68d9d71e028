import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { areaAndVolume, faceCount, isClosed, meshFromFaces, vertexCount, type PolyMesh } from '../mesh/index.ts';
import { box } from '../shapes/index.ts';
import { closeFlatFaces } from './flatFaces.ts';
import { MeshEdit } from './meshEdit.ts';
import { putIntoEdges } from './split.ts';
import { grid, sidesOf } from './testMeshes.ts';

/**
 * A box with one edge opened to a face without width: the two faces beside it have other vertices on it, at these
 * shares from its first end.
 */
function withFlat(one: readonly number[], other: readonly number[]): PolyMesh {
  const m = box(10, 10, 10);
  const e = new MeshEdit(m);
  const t = e.topology;
  const [c, o] = [0, t.opposite[0]!];
  const [a, b] = [e.at(m.corners[c]!), e.at(m.corners[o]!)];
  const at = (s: number) => e.vertex([0, 1, 2].map((k) => a[k]! + s * (b[k]! - a[k]!)) as [number, number, number]);
  const mine = [...one].sort((x, y) => x - y).map(at);
  const theirs = [...other].sort((x, y) => x - y).map(at);
  const put = (corner: number, list: number[]) => {
    const f = t.face[corner]!;
    const boundaries = e
      .boundaries(f)
      .map((loop) =>
        loop.flatMap((x) => (x.edge === corner ? [x, ...list.map((v) => ({ vertex: v, edge: -1 }))] : [x])),
      );
    e.replace(f, [{ from: f, boundaries }]);
  };
  put(c, mine);
  put(o, [...theirs].reverse());
  const ring = [m.corners[o]!, ...[...mine].reverse(), m.corners[c]!, ...theirs];
  e.add(0, [ring.map((vertex) => ({ vertex, edge: -1 }))]);
  return e.done();
}

describe('closing faces without width', () => {
  it('gives each side the vertices of the other, moves none, and makes what is opposite one', () => {
    const share = fc.uniqueArray(fc.integer({ min: 1, max: 9 }), { maxLength: 4 });
    fc.assert(
      fc.property(share, share, (one, other) => {
        fc.pre(one.length + other.length > 0);
        const m = withFlat(
          one.map((x) => x / 10),
          other.map((x) => x / 10),
        );
        expect(isClosed(m)).toBe(true);
        const r = closeFlatFaces(m, { within: 1e-9 });
        expect([r.report.closed, r.report.left, isClosed(r.mesh), faceCount(r.mesh)]).toEqual([1, [], true, 6]);
        const places = new Set([...one, ...other]);
        expect(vertexCount(r.mesh)).toBe(8 + places.size);
        expect(sidesOf(r.mesh)).toEqual([4, 4, 4, 4, 4 + places.size, 4 + places.size]);
        expect(areaAndVolume(r.mesh)).toEqual({ area: expect.closeTo(600, 9), volume: expect.closeTo(1000, 9) });
      }),
      { numRuns: 200 },
    );
  });

  it('closes a face at the border of a sheet, and leaves sound ones', () => {
    const m = grid(2);
    expect(closeFlatFaces(m, { within: 1e-9 })).toEqual({ mesh: m, report: { closed: 0, left: [] } });
    // A flat triangle on a side of a square: nobody else is beside it.
    const thin = meshFromFaces(
      [0, 0, 0, 2, 0, 0, 2, 2, 0, 0, 2, 0, 1, 0, 0],
      [
        [0, 1, 2, 3],
        [0, 4, 1],
      ],
    );
    const r = closeFlatFaces(thin, { within: 1e-9 });
    expect([faceCount(r.mesh), sidesOf(r.mesh), r.report.closed]).toEqual([1, [4], 1]);
  });

  it('leaves faces with a corner that is not wanted', () => {
    const m = withFlat([0.5], []);
    expect(closeFlatFaces(m, { within: 1e-9, wanted: () => false })).toMatchObject({ mesh: m, report: { closed: 0 } });
    expect(closeFlatFaces(m, { within: 1e-9, wanted: () => true }).report.closed).toBe(1);
  });

  it('tells of a boundary that turns back on its way', () => {
    const back = meshFromFaces([0, 0, 0, 3, 0, 0, 1, 0, 0, 2, 0, 0, 4, 0, 0], [[0, 1, 2, 3, 4]]);
    expect(closeFlatFaces(back, { within: 1e-9 }).report.left).toEqual([0]);
  });

  it('closes a run of them beside each other in some rounds', () => {
    const e = new MeshEdit(grid(1, 10));
    const corners = e.boundaries(0)[0]!;
    const list = [0.25, 0.5, 0.75].map((s) => e.vertex([10 * s, 0, 0]));
    putIntoEdges(e, new Map([[e.topology.edge[corners[0]!.edge]!, list]]));
    // Flat triangles, one on the other, on the lower side of the square.
    const [a, b] = [corners[0]!.vertex, corners[1]!.vertex];
    for (const [x, y, z] of [
      [a, list[1]!, list[0]!],
      [a, b, list[1]!],
      [list[1]!, b, list[2]!],
    ] as const)
      e.add(0, [[x, y, z].map((vertex) => ({ vertex, edge: -1 }))]);
    const r = closeFlatFaces(e.done(), { within: 1e-9 });
    expect([r.report.closed, faceCount(r.mesh), r.report.left]).toEqual([3, 1, []]);
    expect(areaAndVolume(r.mesh).area).toBeCloseTo(100, 9);
  });
});
