import { describe, expect, it } from 'vitest';
import {
  faceCount,
  faceBoundaries,
  joinMeshes,
  meshFromFaces,
  placementAffine,
  transformMesh,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, seededRandom } from '../shapes/index.ts';
import { Looked } from './look.ts';
import { changedFaces, changedSurface } from './changed.ts';
import { findings } from './index.ts';
import { flippedFaces, sidesOf } from './sides.ts';

/** A band of n quads; its end is joined to its beginning, turned over or not. */
function band(n: number, twisted: boolean): PolyMesh {
  const points = Array.from({ length: n }, (_, i) => {
    const a = (2 * Math.PI * i) / n;
    const half = twisted ? a / 2 : 0;
    return [-1, 1].map((s) => {
      const r = 10 + s * Math.cos(half);
      return [r * Math.cos(a), r * Math.sin(a), s * Math.sin(half) + (twisted ? 0 : s)];
    });
  });
  const faces = Array.from({ length: n }, (_, i) => {
    const j = (i + 1) % n;
    const over = twisted && j === 0;
    return [2 * i, 2 * j + (over ? 1 : 0), 2 * j + (over ? 0 : 1), 2 * i + 1];
  });
  return meshFromFaces(points.flat(2), faces);
}

/** A mesh with some of its faces turned over. */
const turned = (m: PolyMesh, which: (f: number) => boolean): PolyMesh =>
  meshFromFaces(
    [...m.positions],
    Array.from({ length: faceCount(m) }, (_, f) => {
      const [outer] = faceBoundaries(m, f);
      return which(f) ? [...outer!].reverse() : outer!;
    }),
  );

describe('sides', () => {
  it('a band that is twisted once has one side: one edge is torn, and told once', () => {
    const sides = sidesOf(new Looked(band(9, true)));
    expect([sides.pieces, sides.torn.length]).toEqual([1, 1]);
    expect(sidesOf(new Looked(band(9, false)))).toMatchObject({ pieces: 1, torn: [] });
  });

  it('faces that are turned over are those of the lesser area, in each piece for itself', () => {
    const two = joinMeshes([band(8, false), band(8, false)]);
    const which = (f: number) => f === 3 || f >= 10;
    const l = new Looked(turned(two, which));
    expect(sidesOf(l)).toMatchObject({ pieces: 2, torn: [] });
    // Most of the second band are turned over: the two that are not stand against them.
    expect([...flippedFaces(l).ids]).toEqual([3, 8, 9]);
    expect([...sidesOf(l).piece]).toEqual(Array.from({ length: 16 }, (_, f) => (f < 8 ? 0 : 1)));
    expect(flippedFaces(new Looked(two)).ids).toHaveLength(0);
  });
});

describe('what changed', () => {
  it('faces that the other mesh has not, and no others', () => {
    const before = box(10, 20, 30);
    const positions = before.positions.slice();
    positions[2]! -= 1;
    const after = { ...before, positions };
    const round = Array.from({ length: 6 }, (_, f) => f).filter((f) => faceBoundaries(before, f)[0]!.includes(0));
    expect(round).toHaveLength(3);
    expect(changedFaces(before, after)).toEqual({ before: round, after: round });
    const less = meshFromFaces(
      [...before.positions],
      [0, 1, 2, 3, 4].map((f) => faceBoundaries(before, f)[0]!),
    );
    expect(changedFaces(before, less)).toEqual({ before: [5], after: [] });
    expect(changedFaces(less, before)).toEqual({ before: [], after: [5] });
  });
});

describe('what changed in its surface', () => {
  it('nothing where the same flats are cut otherwise, however the part lies', () => {
    const random = seededRandom(4);
    for (let i = 0; i < 12; i++) {
      const turn: [number, number, number] = [360 * random(), 360 * random(), 360 * random()];
      const laid = (m: PolyMesh) => transformMesh(m, placementAffine({ position: [3, -7, 11], turn }));
      const [whole, cut] = [laid(box(4, 6, 8)), laid(box(4, 6, 8, [2, 2, 2]))];
      expect(changedSurface(whole, cut), turn.join(' ')).toEqual({ before: [], after: [] });
      // Another boundary in the same plane: a side that ends earlier.
      const short = changedSurface(whole, laid(box(4, 6, 7.5)));
      expect([short.before.length, short.after.length], turn.join(' ')).toEqual([6, 6]);
      // A vertex half-way along an edge that stands off the straight run.
      const parts = box(4, 6, 8, [2, 2, 2]).positions;
      const middle = parts.findIndex((_, v) => [0, 1, 2].filter((k) => parts[3 * v + k] === 0).length === 1);
      const bent = cut.positions.slice();
      bent[3 * middle]! += 0.01;
      expect(changedSurface(whole, { ...cut, positions: bent }).after.length).toBeGreaterThan(1);
    }
  });
});

describe('UVs over each other', () => {
  /** Two squares, apart in space, whose UVs begin at 0 and at some place. */
  const squares = (u: number, v: number): PolyMesh => {
    const flat = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 5, 0, 0, 6, 0, 0, 6, 1, 0, 5, 1, 0];
    const m = meshFromFaces(flat, [
      [0, 1, 2, 3],
      [4, 5, 6, 7],
    ]);
    const uv = Float64Array.from([0, 0, 1, 0, 1, 1, 0, 1, u, v, u + 1, v, u + 1, v + 1, u, v + 1]);
    return { ...m, layers: { ...m.layers, uv } };
  };
  const told = (m: PolyMesh) => findings(m, { rules: ['uvOverlapping'] }).flatMap((f) => [...f.ids]);

  it('are told where they share some area, however little, and not where they only touch', () => {
    expect(told(squares(0.95, 0.95)).length).toBeGreaterThan(0);
    expect(told(squares(-0.95, 0.9)).length).toBeGreaterThan(0);
    expect(told(squares(0.9, -0.95)).length).toBeGreaterThan(0);
    expect(told(squares(1, 0))).toEqual([]);
    expect(told(squares(1.05, 1.05))).toEqual([]);
    expect(told(squares(-1, -1))).toEqual([]);
  });
});
