import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  faceCount,
  isClosed,
  meshFromFaces,
  takeFaces,
  topologyOf,
  vertexCount,
  withSlot,
} from '../mesh/index.ts';
import { box, cylinder, sheet, tube } from '../shapes/index.ts';
import { fillOpenings, openings } from './index.ts';

describe('openings', () => {
  it('a closed solid has none, and stays the very mesh that it is', () => {
    const m = box(1, 2, 3);
    expect(openings(m)).toEqual([]);
    expect(fillOpenings(m)).toBe(m);
  });

  it('a sheet has one, along its border', () => {
    const [run, ...rest] = openings(sheet(10, 6, [5, 3]));
    expect([run!.length, rest.length]).toEqual([16, 0]);
  });

  it('each missing face is one, those that touch at a corner too', () => {
    const m = box(3, 3, 3, [3, 3, 3]);
    const t = topologyOf(m);
    // Two faces that share one vertex and no edge.
    const other = Array.from({ length: faceCount(m) }, (_, f) => f).find((f) => {
      const own = new Set(m.corners.subarray(0, 4));
      const theirs = Array.from(m.corners.subarray(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!));
      return f > 0 && theirs.filter((v) => own.has(v)).length === 1;
    })!;
    expect(t.opposite.includes(-1)).toBe(false);
    const open = takeFaces(m, (f) => f !== 0 && f !== other);
    expect(openings(open).map((r) => r.length)).toEqual([4, 4]);
    const whole = fillOpenings(open);
    expect([isClosed(whole), faceCount(whole), vertexCount(whole)]).toEqual([true, faceCount(m), vertexCount(m)]);
    expect(areaAndVolume(whole).volume).toBeCloseTo(27, 12);
  });
});

describe('closing them', () => {
  it('gives a pipe its two ends back, with the slot of the wall', () => {
    const solid = withSlot(cylinder(5, 20, 24), 'Bronze');
    const wall = takeFaces(solid, (f) => !flatEnds(solid).has(f));
    expect(areaAndVolume(wall).area).toBeCloseTo(24 * 2 * 5 * Math.sin(Math.PI / 24) * 20, 9);
    const lids = fillOpenings(wall);
    expect([isClosed(lids), faceCount(lids)]).toEqual([true, 26]);
    expect(areaAndVolume(lids).volume).toBeCloseTo(areaAndVolume(solid).volume, 9);
    expect([...lids.layers.slot!].every((s) => lids.slots[s] === 'Bronze')).toBe(true);
  });

  it('closes each rim of an open tube by itself', () => {
    const m = tube(6, 4, 10, 16);
    const rims = takeFaces(m, (f) => areaOf(m, f) < 100 && !flatEnds(m).has(f));
    expect(openings(rims).length).toBe(4);
    expect(isClosed(fillOpenings(rims))).toBe(true);
  });

  it('gives lids planes of their own, and leaves those of the other faces', () => {
    const m = box(2, 2, 2);
    m.layers.plane = new Float64Array(36).fill(0.5);
    const whole = fillOpenings(takeFaces(m, (f) => f !== 3));
    expect([...whole.layers.plane!.subarray(0, 30)].every((x) => x === 0.5)).toBe(true);
    expect([...whole.layers.plane!.subarray(30)].every((x) => Number.isNaN(x))).toBe(true);
  });

  it('leaves what is no opening to close: edges with three faces, a lone slit of two', () => {
    const fin = meshFromFaces(
      [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, -1, 0],
      [
        [0, 1, 2],
        [0, 1, 3],
        [0, 1, 4],
      ].map((f) => [f]),
    );
    expect(() => fillOpenings(fin)).not.toThrow();
    expect(topologyOf(fin).opposite.includes(-2)).toBe(true);
  });
});

const areaOf = (m: ReturnType<typeof box>, f: number) => areaAndVolume(takeFaces(m, (g) => g === f)).area;
/** Faces of a tube that are its two flat ends: those that lie at one height. */
function flatEnds(m: ReturnType<typeof box>): Set<number> {
  return new Set(
    Array.from({ length: faceCount(m) }, (_, f) => f).filter((f) => {
      const zs = Array.from(
        m.corners.subarray(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!),
        (v) => m.positions[3 * v + 2]!,
      );
      return Math.max(...zs) - Math.min(...zs) < 1e-9;
    }),
  );
}
