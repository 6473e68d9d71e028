import { describe, expect, it } from 'vitest';
import { carve } from '../../carve/index.ts';
import {
  areaAndVolume,
  components,
  faceCount,
  faceBoundaries,
  flipMesh,
  isClosed,
  joinMeshes,
  MasonError,
  meshFromFaces,
  takeFaces,
  topologyOf,
  transformMesh,
  vertexCount,
  type PolyMesh,
} from '../../mesh/index.ts';
import { box, prism, sheet } from '../../shapes/index.ts';
import { grid, sidesOf } from '../testMeshes.ts';
import { joinSides, openCorners, partFans, stitch, weldExact } from './steps.ts';
import { gapsOf, suitableTolerance } from './tolerance.ts';
import { uniteOverlapping, type Unite } from './unitePieces.ts';

const moved = (m: PolyMesh, x: number, y = 0, z = 0) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
/** Two sheets of 4 × 4 squares of 1 mm beside each other, so far apart. */
const halves = (gap: number) => joinMeshes([grid(4), moved(grid(4), 4 + gap)]);
const places = (m: PolyMesh) =>
  Array.from({ length: vertexCount(m) }, (_, v) => [...m.positions.subarray(3 * v, 3 * v + 3)]);

describe('vertices at one place', () => {
  it('become one, −0 being 0; what is apart by a hair stays two', () => {
    const soup = meshFromFaces(
      [0, 0, 0, 1, 0, 0, 0, 1, 0, 1, -0, 0, 1, 1, 0, -0, 1, 0, 1, 0, 1e-300],
      [
        [0, 1, 2],
        [3, 4, 5],
        [6, 4, 1],
      ],
    );
    const { mesh, done } = weldExact(soup);
    expect([done, vertexCount(mesh), faceCount(mesh)]).toEqual([2, 5, 3]);
    expect([mesh.corners[0], mesh.corners[1], mesh.corners[2]]).toEqual([0, mesh.corners[3], mesh.corners[5]]);
    const clean = grid(3);
    expect(weldExact(clean)).toEqual({ mesh: clean, done: 0 });
  });

  it('of one face leave no edge without length, nor a face without area', () => {
    const m = meshFromFaces(
      [0, 0, 0, 1, 0, 0, 1, 0, 0, 1, 1, 0, 0, 0, 0, 5, 5, 5],
      [
        [0, 1, 2, 3],
        [0, 4, 5],
      ],
    );
    const { mesh, done } = weldExact(m);
    expect([done, sidesOf(mesh)]).toEqual([2, [3]]);
  });
});

describe('pieces that hang together by an edge', () => {
  /** So many wedges round the z axis, each of a third of its share of the turn, joined along the axis alone. */
  const wedges = (n: number, way: number) => {
    const one = (i: number) => {
      const [a, b] = [way + (2 * Math.PI * i) / n, way + (2 * Math.PI * (i + 1 / 3)) / n];
      const points: [number, number][] = [
        [0, 0],
        [4 * Math.cos(a), 4 * Math.sin(a)],
        [4 * Math.cos(b), 4 * Math.sin(b)],
      ];
      return prism({ points }, 5);
    };
    return weldExact(joinMeshes(Array.from({ length: n }, (_, i) => one(i)))).mesh;
  };

  it.each([2, 3, 4, 7])('come apart, %i of them: each is closed, with its own wedge of material', (n) => {
    for (const way of [0, 0.3, 1.1, 2.5]) {
      const m = wedges(n, way);
      expect([components(m).count, vertexCount(m)]).toEqual([1, 4 * n + 2]);
      const { mesh, done } = partFans(m);
      expect([done, components(mesh).count, isClosed(mesh)]).toEqual([2 * (n - 1), n, true]);
      expect(areaAndVolume(mesh).volume).toBeCloseTo(areaAndVolume(m).volume, 12);
      const { of } = components(mesh);
      for (let k = 0; k < n; k++) {
        const { volume } = areaAndVolume(takeFaces(mesh, (f) => of[f] === k));
        expect(volume).toBeCloseTo(5 * 8 * Math.sin((2 * Math.PI) / (3 * n)), 12);
      }
    }
  });

  it('come apart from a fin between them, which goes by itself', () => {
    const m = wedges(2, 0);
    const axis = Array.from({ length: vertexCount(m) }, (_, v) => v).filter(
      (v) => !m.positions[3 * v] && !m.positions[3 * v + 1],
    );
    const fin = meshFromFaces(
      [...m.positions, 0, -9, 0],
      [...Array.from({ length: faceCount(m) }, (_, f) => faceBoundaries(m, f)), [...axis, vertexCount(m)]],
    );
    const { mesh } = partFans(fin);
    const { count, of } = components(mesh);
    const closed = Array.from({ length: count }, (_, k) => isClosed(takeFaces(mesh, (f) => of[f] === k)));
    expect(closed.sort()).toEqual([false, true, true]);
  });
});

describe('open edges', () => {
  it('are the border, each by its corner', () => {
    expect(openCorners(box(1, 1, 1))).toEqual([]);
    expect(openCorners(grid(3))).toHaveLength(12);
  });

  it('become one across a gap that is within the tolerance, no other', () => {
    const m = halves(0.1);
    const { mesh, done } = stitch(m, 0.11);
    expect([done, vertexCount(mesh), openCorners(mesh).length]).toEqual([5, 45, 24]);
    for (const tolerance of [0.09, 0]) expect(stitch(m, tolerance)).toEqual({ mesh: m, done: 0 });
    expect(stitch(box(1, 1, 1), 5).done).toBe(0);
  });
});

describe('sides that were split differently', () => {
  /** A square beside a column of rows of other heights, off by some mm; the long side runs up, or down. */
  const junction = (heights: readonly number[], off = 0) => {
    const rows = [0, ...heights, 4];
    const right = rows.flatMap((y) => [4 + off, y, 0, 5, y, 0]);
    const faces = rows.slice(1).map((_, i) => [4 + 2 * i, 5 + 2 * i, 7 + 2 * i, 6 + 2 * i]);
    return meshFromFaces([0, 0, 0, 4, 0, 0, 4, 4, 0, 0, 4, 0, ...right], [[0, 1, 2, 3], ...faces]);
  };
  const longFace = (m: PolyMesh) =>
    [...m.corners.subarray(m.loopStart[0]!, m.loopStart[1]!)].map((v) => [...m.positions.subarray(3 * v, 3 * v + 2)]);

  it('get each other’s vertices, in their order along the edge, whichever way it runs', () => {
    for (const heights of [[1, 2.5, 3], [2], [0.5, 1, 1.5, 2, 2.5, 3, 3.5]]) {
      const { mesh, done } = joinSides(junction(heights), 1e-6);
      expect(done).toBe(heights.length);
      expect(longFace(mesh)).toEqual([[0, 0], [4, 0], ...heights.map((y) => [4, y]), [4, 4], [0, 4]]);
      // The same faces turned over.
      const turned = joinSides(flipMesh(junction(heights)), 1e-6).mesh;
      const ys = longFace(turned)
        .filter(([x]) => x === 4)
        .map(([, y]) => y);
      expect([...ys].sort((a, b) => a! - b!)).toEqual([0, ...heights, 4]);
      expect(areaAndVolume(turned).area).toBeCloseTo(20, 9);
    }
  });

  it('only within the tolerance, and not where the vertex of an end is that near', () => {
    expect(joinSides(junction([2], 0.009), 0.01).done).toBe(1);
    expect(joinSides(junction([2], 0.011), 0.01).done).toBe(0);
    expect(joinSides(junction([0.009]), 0.01).done).toBe(0);
    expect(joinSides(junction([3.992]), 0.01).done).toBe(0);
    expect(joinSides(junction([0.011, 3.98]), 0.01).done).toBe(2);
    const clean = grid(3);
    expect(joinSides(clean, 0.01)).toEqual({ mesh: clean, done: 0 });
  });
});

describe('the gaps between open edges', () => {
  it('are told from the least on, one for each vertex that has another side near', () => {
    const gaps = gapsOf(halves(0.1));
    expect(gaps).toHaveLength(10);
    for (const g of gaps) expect(g).toBeCloseTo(0.1, 12);
    expect(gapsOf(box(1, 1, 1))).toEqual([]);
    // Gaps are looked for up to a fiftieth of the longest side: 0.163 mm.
    expect(gapsOf(halves(0.16))).toHaveLength(10);
    expect(gapsOf(halves(0.17))).toEqual([]);
  });

  it('make the tolerance half as large again as the widest crack', () => {
    expect(suitableTolerance(halves(0.01))).toBeCloseTo(0.015, 9);
    expect(suitableTolerance(grid(4))).toBe(0);
    expect(suitableTolerance(halves(1))).toBe(0);
    // Cracks of two widths, the one hardly wider than the other, are cracks; what is three times as far apart again is
    // not.
    const three = joinMeshes([halves(0.01), moved(grid(4), 8.01 + 0.02), moved(grid(4), 12.03 + 0.12)]);
    expect(suitableTolerance(three)).toBeCloseTo(0.03, 9);
    // Gaps of length 0 are at most a billionth of the size.
    const touching = suitableTolerance(halves(0));
    expect([touching > 0, touching < 1e-7]).toEqual([true, true]);
  });
});

describe('closed pieces that overlap', () => {
  const union: Unite = (a, b) => carve(a, { cutters: [b], operation: 'union' }).mesh;
  const b = box(10, 10, 10);

  it('are united one after the other, until none overlap; open ones, hollows and those that touch stay', () => {
    const row = [0, 3, 1, 2].map((i) => moved(b, 8 * i));
    const r = uniteOverlapping(joinMeshes([...row, moved(b, 100), sheet(400, 400)]), union);
    expect([r.done, r.all, components(r.mesh).count]).toEqual([3, true, 3]);
    expect(areaAndVolume(joinMeshes([...row.slice(0, 1)])).volume).toBeCloseTo(1000, 9);
    const touching = joinMeshes([b, moved(b, 10)]);
    expect(uniteOverlapping(touching, union)).toEqual({ mesh: touching, done: 0, all: true });
    const hollow = joinMeshes([box(40, 40, 40), flipMesh(b), moved(b, 18)]);
    expect(uniteOverlapping(hollow, union)).toMatchObject({ done: 0, all: true });
    expect(uniteOverlapping(b, union)).toEqual({ mesh: b, done: 0, all: true });
  });

  it('have the volume of both less what they share', () => {
    const r = uniteOverlapping(joinMeshes([b, moved(b, 8), moved(b, 16, 4)]), union);
    expect([isClosed(r.mesh), components(r.mesh).count]).toEqual([true, 1]);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(3000 - 200 - 120, 6);
  });

  it('stay where they cannot be united; a cancel goes on through', () => {
    const two = joinMeshes([b, moved(b, 8)]);
    const fails =
      (code: 'not-done' | 'cancelled'): Unite =>
      () => {
        throw new MasonError(code, 'No.');
      };
    expect(uniteOverlapping(two, fails('not-done'))).toEqual({ mesh: two, done: 0, all: true });
    expect(() => uniteOverlapping(two, fails('cancelled'))).toThrow('No.');
    const broken: Unite = () => {
      throw new TypeError('a fault');
    };
    expect(() => uniteOverlapping(two, broken)).toThrow('a fault');
    // What comes back open, empty or larger than both is no union.
    for (const wrong of [sheet(5, 5), joinMeshes([b, moved(b, 50)])])
      expect(uniteOverlapping(two, () => wrong).done).toBe(0);
    expect(() => uniteOverlapping(two, union, { signal: { aborted: true } })).toThrow(/^Cancelled/);
    expect(topologyOf(uniteOverlapping(two, union).mesh).opposite.every((o) => o >= 0)).toBe(true);
    expect(places(uniteOverlapping(two, union).mesh)).toHaveLength(8);
  });
});
