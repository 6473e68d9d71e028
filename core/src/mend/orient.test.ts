import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  faceAreas,
  flipMesh,
  isClosed,
  joinMeshes,
  meshFromFaces,
  sameMesh,
  topologyOf,
  transformMesh,
  withSlot,
} from '../mesh/index.ts';
import { box, cylinder } from '../shapes/index.ts';
import { findings } from '../survey/index.ts';
import { orient } from './orient.ts';

const cube = (d: number) => transformMesh(box(d, d, d), [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);
const ids = (m: Parameters<typeof findings>[0]) => [...(findings(m, { rules: ['flippedFaces'] })[0]?.ids ?? [])];

describe('orient', () => {
  it('turns the picked faces and no other, their layers along', () => {
    const m = withSlot(cube(10), 'Steel');
    const {
      mesh,
      report: { turned },
    } = orient(m, { way: 'flip', wanted: (f) => f === 2 });
    expect(turned).toBe(1);
    expect(ids(mesh)).toEqual([2]);
    expect(mesh.positions).toBe(m.positions);
    expect(sameMesh(orient(mesh, { way: 'flip', wanted: (f) => f === 2 }).mesh, m)).toBe(true);
  });

  it('turns back exactly what was turned over, whichever faces these were, as long as they are the lesser part', () => {
    const m = cylinder(10, 20, 24, 3);
    const total = areaAndVolume(m);
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(m.faceLoops.length - 2), { maxLength: 20 }), (list) => {
        const is = (f: number) => list.includes(f);
        const lesser = faceAreas(m).reduce((s, a, f) => s + (is(f) ? a : 0), 0) < total.area / 2;
        const r = orient(flipMesh(m, is), { way: 'consistent' });
        expect(isClosed(r.mesh)).toBe(true);
        expect(r.report.turned).toBe(lesser ? list.length : m.faceLoops.length - 1 - list.length);
        expect(areaAndVolume(r.mesh).volume).toBeCloseTo(lesser ? total.volume : -total.volume, 9);
      }),
      { numRuns: 200 },
    );
  });

  it('turns shells by where they lie: a hollow inward, a kernel in the hollow outward', () => {
    const nest = joinMeshes([flipMesh(cube(30)), cube(20), flipMesh(cube(10))]);
    const {
      mesh,
      report: { turned },
    } = orient(nest, { way: 'outward' });
    expect(turned).toBe(18);
    expect(areaAndVolume(mesh).volume).toBeCloseTo(27000 - 8000 + 1000, 6);
    expect(orient(mesh, { way: 'outward' }).report.turned).toBe(0);
  });

  it('leaves pieces alone that no wanted face belongs to', () => {
    const two = joinMeshes([
      flipMesh(cube(10)),
      transformMesh(flipMesh(cube(10)), [1, 0, 0, 50, 0, 1, 0, 0, 0, 0, 1, 0]),
    ]);
    const {
      mesh,
      report: { turned },
    } = orient(two, { way: 'outward', wanted: (f) => f === 8 });
    expect(turned).toBe(6);
    expect(areaAndVolume(mesh).volume).toBeCloseTo(0, 6);
  });

  it('turns two boxes that share an edge, each by itself', () => {
    const P = [
      0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 1, 1, 2, 1, 0, 2, 2, 0, 1, 2, 0, 2, 1, 1, 2, 2,
      1, 1, 2, 1,
    ];
    const one = [
      [0, 3, 2, 1],
      [4, 5, 6, 7],
      [0, 1, 5, 4],
      [1, 2, 6, 5],
      [2, 3, 7, 6],
      [3, 0, 4, 7],
    ];
    const other = [
      [2, 10, 9, 8],
      [6, 11, 12, 13],
      [2, 8, 11, 6],
      [8, 9, 12, 11],
      [9, 10, 13, 12],
      [10, 2, 6, 13],
    ];
    const m = meshFromFaces(P, [...one, ...other.map((f) => [...f].reverse())]);
    const {
      mesh,
      report: { turned },
    } = orient(m, { way: 'outward' });
    expect(turned).toBe(6);
    expect(areaAndVolume(mesh).volume).toBeCloseTo(2, 12);
  });

  it('says where a one-sided strip cannot agree', () => {
    const n = 12;
    const P = Array.from({ length: 2 * n }, (_, i) => {
      const a = (2 * Math.PI * (i >> 1)) / n;
      const s = i & 1 ? 1 : -1;
      const r = 10 + 2 * s * Math.cos(a / 2);
      return [r * Math.cos(a), r * Math.sin(a), 2 * s * Math.sin(a / 2)];
    }).flat();
    const faces = Array.from({ length: n }, (_, i) =>
      i < n - 1 ? [2 * i, 2 * i + 2, 2 * i + 3, 2 * i + 1] : [2 * i, 1, 0, 2 * i + 1],
    );
    const strip = meshFromFaces(P, faces);
    expect(topologyOf(strip).edgeCount).toBe(3 * n);
    expect(orient(strip, { way: 'consistent' }).report.torn).toBe(1);
    expect(orient(cube(3), { way: 'consistent' }).report.torn).toBe(0);
  });
});
