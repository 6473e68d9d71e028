import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  faceBoundaries,
  genus,
  isClosed,
  loopCount,
  meshFromFaces,
  topologyOf,
  vertexCount,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, cylinder, seededRandom } from '../shapes/index.ts';
import { mergeTo, seamVertices, slideVertex, weld } from './merge.ts';
import { weldToSeam } from './ontoSeam.ts';
import { grid, placeOfVertex, sidesOf, vertexAt } from './testMeshes.ts';

const all = (m: PolyMesh) => Array.from({ length: vertexCount(m) }, (_, v) => v);
const plain = { distance: 1e-3, detail: 0, spare: true, seams: false };
/** Every face with vertices of its own, each shaken by up to so much. */
function torn(m: PolyMesh, by: number, seed = 3): PolyMesh {
  const random = seededRandom(seed);
  const P = [...m.corners].flatMap((v) => [0, 1, 2].map((k) => m.positions[3 * v + k]! + by * (random() - 0.5)));
  let at = 0;
  return meshFromFaces(
    P,
    Array.from({ length: faceCount(m) }, (_, f) =>
      Array.from({ length: m.loopStart[m.faceLoops[f + 1]!]! - m.loopStart[m.faceLoops[f]!]! }, () => at++),
    ),
  );
}

describe('weld', () => {
  it('closes a body whose faces stand each by itself', () => {
    const pieces = torn(box(10, 20, 30), 0);
    expect(isClosed(pieces)).toBe(false);
    const r = weld(pieces, { vertices: all(pieces), ...plain });
    expect([isClosed(r.mesh), vertexCount(r.mesh), r.report.merged]).toEqual([true, 8, 16]);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(6000, 9);
  });

  it('of shaken faces closes all that were shaken by less than its distance, and moves nothing further', () => {
    fc.assert(
      fc.property(fc.nat(), fc.integer({ min: 3, max: 40 }), (seed, n) => {
        const m = cylinder(10, 30, n, 2);
        const pieces = torn(m, 1e-3, seed);
        const r = weld(pieces, { vertices: all(pieces), ...plain, distance: 4e-3 });
        expect([isClosed(r.mesh), vertexCount(r.mesh), genus(r.mesh)]).toEqual([true, vertexCount(m), 0]);
        expect(Math.abs(areaAndVolume(r.mesh).volume / areaAndVolume(m).volume - 1)).toBeLessThan(1e-3);
        expect(r.report.lines.length % 6).toBe(0);
        for (let i = 0; i < r.report.lines.length; i += 6)
          expect(Math.hypot(...[0, 1, 2].map((k) => r.report.lines[i + k]! - r.report.lines[i + 3 + k]!))).toBeLessThan(
            4e-3,
          );
      }),
      { numRuns: 200 },
    );
  });

  it('keeps to what is picked, and leaves the rest apart', () => {
    const pieces = torn(box(10, 10, 10), 0);
    const upper = all(pieces).filter((v) => pieces.positions[3 * v + 2]! > 0);
    const r = weld(pieces, { vertices: upper, ...plain });
    expect(vertexCount(r.mesh)).toBe(4 + 12);
  });

  it('tells of details that it would swallow, and spares them', () => {
    const m = grid(4);
    const r = weld(m, { vertices: all(m), ...plain, distance: 1.1, detail: 1.5 });
    expect([r.report.details, r.report.spared, r.report.merged, faceCount(r.mesh)]).toEqual([1, 1, 0, 16]);
    const swallowed = weld(m, { vertices: all(m), ...plain, distance: 1.1, detail: 1.5, spare: false });
    expect([
      swallowed.report.details,
      swallowed.report.spared,
      faceCount(swallowed.mesh),
      swallowed.report.longest,
    ]).toEqual([1, 0, 0, 1]);
  });

  it('draws what is near to a boundary from all sides, and does not lead on over it, in whatever order vertices are named', () => {
    // A row of vertices 0.8 apart, of which the middle one is of a boundary: its two neighbours go there, and the ends
    // after them, one by one.
    const row = (order: number[]) => {
      const m = grid(4);
      const positions = m.positions.slice();
      const middle = vertexAt(m, 2, 2, 0);
      const sides = [vertexAt(m, 1, 2, 0), vertexAt(m, 3, 2, 0)];
      positions[3 * sides[0]!] = 1.2;
      positions[3 * sides[1]!] = 2.8;
      const t = topologyOf(m);
      const seam = new Int32Array(m.corners.length);
      // The boundary runs square to the row.
      for (const c of t.edgeCorner) {
        const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
        if ([a, b].includes(middle) && positions[3 * a] === positions[3 * b])
          for (const x of [c, t.opposite[c]!]) seam[x] = 3;
      }
      const named = [sides[0]!, middle, sides[1]!];
      return weld(
        { ...m, positions, layers: { ...m.layers, seam } },
        { vertices: order.map((i) => named[i]!), ...plain, distance: 1 },
      );
    };
    for (const order of [
      [0, 1, 2],
      [1, 0, 2],
      [2, 1, 0],
      [0, 2, 1],
    ])
      expect([row(order).report.merged, row(order).report.longest], order.join()).toEqual([2, expect.closeTo(0.8, 12)]);
  });

  it('never moves a seam: what is near goes to it, and its own vertices stay apart', () => {
    const { mesh } = carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 });
    const boundary = seamVertices(mesh);
    const rim = all(mesh).filter((v) => boundary[v]);
    expect(rim).toHaveLength(48);
    const places = rim.map((v) => placeOfVertex(mesh, v).join());
    // Wide enough to reach from rim vertex to rim vertex, and from the plate's corners to nothing.
    const r = weld(mesh, { vertices: all(mesh), ...plain, distance: 3 });
    expect(r.report.merged).toBe(0);
    const moved = weld(mesh, { vertices: all(mesh), ...plain, distance: 3, seams: true });
    expect(moved.report.merged).toBeGreaterThan(20);
    expect(rim.map((v) => placeOfVertex(r.mesh, v).join())).toEqual(places);
  });

  it('puts what is near a seam onto it', () => {
    const { mesh } = carve(grid(8, 5), {
      cutters: [cylinder(9.2, 30, 24)].map((c) => ({
        ...c,
        positions: c.positions.map((x, i) => x + [20, 20, 0][i % 3]!),
      })),
      operation: 'subtract',
      course: 3,
    });
    const boundary = seamVertices(mesh);
    const off = (m: PolyMesh, v: number) => Math.hypot(m.positions[3 * v]! - 20, m.positions[3 * v + 1]! - 20);
    const near = all(mesh).filter((v) => !boundary[v] && off(mesh, v) < 10.5);
    expect(near.length).toBeGreaterThan(0);
    const r = weldToSeam(mesh, { vertices: all(mesh), distance: 2 });
    expect(r.report.merged).toBeGreaterThanOrEqual(near.length);
    for (const v of all(r.mesh)) expect(off(r.mesh, v) > 10.5 || off(r.mesh, v) < 9.3).toBe(true);
  });
});

describe('merging and sliding', () => {
  const m = grid(2);
  it('puts vertices where the first is, the last, or in their middle', () => {
    const [a, b] = [vertexAt(m, 1, 1), vertexAt(m, 2, 1)];
    expect(placeOfVertex(mergeTo(m, { vertices: [a, b], to: 'first' }).mesh, 4)).toEqual([1, 1, 0]);
    const last = mergeTo(m, { vertices: [a, b], to: 'last' }).mesh;
    expect(() => vertexAt(last, 1, 1, 0)).toThrow();
    expect(vertexAt(last, 2, 1, 0)).toBeGreaterThan(0);
    const middle = mergeTo(m, { vertices: [a, b], to: 'middle' });
    expect(vertexAt(middle.mesh, 1.5, 1, 0)).toBeGreaterThan(0);
    expect([sidesOf(middle.mesh), middle.report.longest]).toEqual([[3, 3, 4, 4], 1]);
  });

  it('slides a vertex along an edge, and into its neighbour at the end', () => {
    const [a, b] = [vertexAt(m, 1, 1), vertexAt(m, 2, 1)];
    const part = slideVertex(m, { vertex: a, to: b, share: 0.25 }).mesh;
    expect(placeOfVertex(part, a)).toEqual([1.25, 1, 0]);
    expect(vertexCount(slideVertex(m, { vertex: a, to: b, share: 1 }).mesh)).toBe(8);
  });

  it('takes faces out that closed up, and pairs that then lie back to back', () => {
    const b = box(4, 4, 4);
    // One side of a box onto the other: a thin nothing.
    const up = all(b).filter((v) => b.positions[3 * v + 2]! > 0);
    let mesh = b;
    for (const v of up) {
      const [x, y] = placeOfVertex(b, v);
      mesh = mergeTo(mesh, { vertices: [vertexAt(mesh, x!, y!, -2), vertexAt(mesh, x!, y!, 2)], to: 'first' }).mesh;
    }
    expect([faceCount(mesh), vertexCount(mesh)]).toEqual([0, 0]);
    expect(topologyOf(mesh).edgeCount).toBe(0);
  });

  it('parts a face whose boundary comes to touch itself, and puts the inside of it as a hole', () => {
    const flat = (points: readonly (readonly [number, number])[], boundary = points.map((_, i) => i)) =>
      meshFromFaces(
        points.flatMap(([x, y]) => [x, y, 0]),
        [boundary],
      );
    const waist = flat([
      [-3, -2],
      [0, -0.1],
      [3, -2],
      [3, 2],
      [0, 0.1],
      [-3, 2],
    ]);
    const two = mergeTo(waist, { vertices: [1, 4], to: 'middle' }).mesh;
    expect([sidesOf(two), loopCount(two), areaAndVolume(two).area]).toEqual([[3, 3], 2, expect.closeTo(12, 12)]);
    // A frame with a gap: its ends on the inner side become one.
    const frame = flat([
      [-4, -4],
      [4, -4],
      [4, 4],
      [-4, 4],
      [-4, 0.1],
      [-2, 0.1],
      [-2, 2],
      [2, 2],
      [2, -2],
      [-2, -2],
      [-2, -0.1],
      [-4, -0.1],
    ]);
    const closed = mergeTo(frame, { vertices: [5, 10], to: 'middle' }).mesh;
    expect(faceBoundaries(closed, 0).map((loop) => loop.length)).toEqual([7, 5]);
    expect([faceCount(closed), areaAndVolume(closed).area]).toEqual([1, expect.closeTo(64 - 16 - 0.2, 12)]);
    // One that was tied to its hole before stays tied.
    const square = (r: number) =>
      [
        [-r, -r],
        [r, -r],
        [r, r],
        [-r, r],
      ] as [number, number][];
    const tied = flat([...square(4), ...square(2)], [0, 1, 2, 3, 0, 4, 7, 6, 5, 4]);
    const still = mergeTo(tied, { vertices: [6, 7], to: 'middle' }).mesh;
    expect([faceCount(still), loopCount(still), areaAndVolume(still).area]).toEqual([1, 1, expect.closeTo(64 - 8, 12)]);
  });
});
