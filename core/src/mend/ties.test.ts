import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  faceNormals,
  genus,
  loopCount,
  topologyOf,
  vertexCount,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, cylinder } from '../shapes/index.ts';
import { grabAt, moveTie, tie } from './ties.ts';
import { vertexAt } from './testMeshes.ts';

const holed = carve(box(40, 40, 10), [cylinder(8, 30, 24)], { operation: 'subtract', course: 3 }).mesh;
const flats = (m: PolyMesh) =>
  [...Array(faceCount(m)).keys()].filter((f) => Math.abs(faceNormals(m)[3 * f + 2]!) > 0.9);
const hasEdge = (m: PolyMesh, a: number, b: number) => [...topologyOf(m).edgeCorner].some((c) => [a, b].includes(m.corners[c]!) && [a, b].includes(m.corners[topologyOf(m).next[c]!]!)); // prettier-ignore
const rim = (m: PolyMesh, k: number) =>
  vertexAt(m, 8 * Math.cos((k * Math.PI) / 12), 8 * Math.sin((k * Math.PI) / 12), 5);

describe('ties', () => {
  it('are put in, two at least, and leave the surface as it was', () => {
    const r = tie(holed, flats(holed), 'corners');
    expect([r.tied, faceCount(r.mesh), loopCount(r.mesh), genus(r.mesh)]).toEqual([2, faceCount(holed) + 6, faceCount(holed) + 6, 1]); // prettier-ignore
    expect(areaAndVolume(r.mesh)).toEqual({ area: expect.closeTo(areaAndVolume(holed).area, 9), volume: expect.closeTo(areaAndVolume(holed).volume, 9) }); // prettier-ignore
    expect(tie(holed, [], 'short').tied).toBe(0);
  });

  it('are moved by one end, the others staying', () => {
    const tied = tie(holed, flats(holed), 'corners').mesh;
    const corner = vertexAt(tied, 20, 20, 5);
    const from = rim(tied, 3);
    expect(hasEdge(tied, corner, from)).toBe(true);
    const moved = moveTie(tied, corner, from, rim(tied, 4));
    expect([hasEdge(moved, corner, from), hasEdge(moved, corner, rim(moved, 4)), faceCount(moved), vertexCount(moved), genus(moved)]).toEqual([false, true, faceCount(tied), vertexCount(tied), 1]); // prettier-ignore
    expect(areaAndVolume(moved).area).toBeCloseTo(areaAndVolume(holed).area, 9);
  });

  it('are not moved off their faces, across the hole, or where there is none', () => {
    const tied = tie(holed, flats(holed), 'corners').mesh;
    const corner = vertexAt(tied, 20, 20, 5);
    expect(() => moveTie(tied, corner, rim(tied, 3), rim(tied, 15))).toThrow(/no room|not on the faces/);
    expect(() => moveTie(tied, corner, rim(tied, 3), vertexAt(tied, 20, 20, -5))).toThrow(/not on the faces/);
    expect(() => moveTie(tied, corner, rim(tied, 9), rim(tied, 4))).toThrow(/no tie between/);
    // An edge of the body parts no flat.
    expect(() => moveTie(tied, corner, vertexAt(tied, 20, -20, 5), rim(tied, 4))).toThrow(/at an angle/);
  });
});

describe('what can be dragged', () => {
  it('is the nearest vertex along its edges', () => {
    const m = box(10, 10, 10);
    const top = flats(m).find((f) => faceNormals(m)[3 * f + 2]! > 0)!;
    const grab = grabAt(m, 'vertex', top, [4, 3, 5])!;
    expect([grab.at, grab.fixed]).toEqual([[5, 5, 5], null]);
    expect(grab.ways.map((w) => w.at).sort()).toEqual([[-5, 5, 5], [5, -5, 5], [5, 5, -5]]); // prettier-ignore
  });

  it('is the nearer end of a tie, to all vertices that it has room to', () => {
    const tied = tie(holed, flats(holed), 'corners').mesh;
    const up = flats(tied).filter((f) => faceNormals(tied)[3 * f + 2]! > 0);
    const [corner, from] = [vertexAt(tied, 20, 20, 5), rim(tied, 3)];
    const beside = up.find((f) => [corner, from].every((v) => tied.corners.subarray(tied.loopStart[tied.faceLoops[f]!], tied.loopStart[tied.faceLoops[f + 1]!]).includes(v)))!; // prettier-ignore
    const grab = grabAt(tied, 'tie', beside, [7, 7, 5])!;
    expect([grab.vertex, grab.fixed!.vertex]).toEqual([from, corner]);
    expect(grab.ways.length).toBeGreaterThan(3);
    // Every way that is told can be gone, and no other.
    const others = new Set(up.flatMap((f) => [...tied.corners.subarray(tied.loopStart[tied.faceLoops[f]!], tied.loopStart[tied.faceLoops[f + 1]!])])); // prettier-ignore
    const can = [...others].filter((v) => {
      if (v === corner || v === from) return false;
      try {
        return faceCount(moveTie(tied, corner, from, v)) === faceCount(tied);
      } catch {
        return false;
      }
    });
    expect(grab.ways.map((w) => w.vertex).sort((a, b) => a - b)).toEqual(can.sort((a, b) => a - b));
    expect(grabAt(tied, 'tie', beside, [18, 18, 5])!.vertex).toBe(corner);
    expect(grabAt(box(5, 5, 5), 'tie', 0, [0, 0, 0])).toBeNull();
  });
});
