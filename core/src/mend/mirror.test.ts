import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  faceBoundaries,
  genus,
  isClosed,
  joinMeshes,
  loopCount,
  sizeOf,
  topologyOf,
  transformMesh,
  vertexCount,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, cylinder, prism, seededRandom, tube } from '../shapes/index.ts';
import { findings } from '../survey/index.ts';
import { cutWithPlane, mirrorHalf, splitAtPlane, symmetrize, type Plane } from './mirror.ts';
import { grid } from './testMeshes.ts';

const at = (m: PolyMesh, x: number, y = 0, z = 0) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
const X: Plane = { normal: [1, 0, 0], at: 0 };
const Y: Plane = { normal: [0, 1, 0], at: 0 };
/** Whether every vertex has its exact image among the vertices. */
function exactly(m: PolyMesh, k: number): boolean {
  const places = new Set(
    Array.from({ length: vertexCount(m) }, (_, v) => [...m.positions.slice(3 * v, 3 * v + 3)].map((x) => x + 0).join()),
  );
  return Array.from({ length: vertexCount(m) }, (_, v) =>
    [...m.positions.slice(3 * v, 3 * v + 3)].map((x, i) => (i === k ? -x : x) + 0).join(),
  ).every((p) => places.has(p));
}

describe('cutting with a plane', () => {
  it('parts every face that it goes through, and no other', () => {
    const b = box(10, 10, 10);
    const r = splitAtPlane(b, { plane: { normal: [0, 0, 1], at: 1 }, size: 10 });
    expect([faceCount(r.mesh), vertexCount(r.mesh), r.report.cut, isClosed(r.mesh), genus(r.mesh)]).toEqual([
      10,
      12,
      4,
      true,
      0,
    ]);
    expect(splitAtPlane(b, { plane: { normal: [0, 0, 1], at: 5 }, size: 10 }).report.cut).toBe(0);
  });

  it('goes through faces with holes: a plate with a bore, along its middle', () => {
    const { mesh } = carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 });
    const r = splitAtPlane(mesh, { plane: X, size: 40 });
    // Both flats become two faces each without a hole.
    expect([faceCount(r.mesh), loopCount(r.mesh), isClosed(r.mesh), genus(r.mesh)]).toEqual([
      faceCount(mesh) + 4,
      faceCount(mesh) + 4,
      true,
      1,
    ]);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(areaAndVolume(mesh).volume, 9);
  });

  it('takes a side away and closes it, its openings as holes of the cap', () => {
    const { mesh } = carve(box(40, 40, 10), {
      cutters: [at(cylinder(6, 30, 24), 0, -9), at(cylinder(6, 30, 24), 0, 9)],
      operation: 'subtract',
      course: 3,
    });
    const half = cutWithPlane(mesh, { plane: X, size: 40, keep: 'above', cap: true });
    expect([isClosed(half.mesh), genus(half.mesh), half.report.capped]).toEqual([true, 0, 3]);
    expect(areaAndVolume(half.mesh).volume).toBeCloseTo(areaAndVolume(mesh).volume / 2, 9);
    const low = cutWithPlane(mesh, { plane: { normal: [0, 0, 1], at: 2 }, size: 40, keep: 'below', cap: true });
    expect([isClosed(low.mesh), genus(low.mesh), low.report.capped]).toEqual([true, 2, 1]);
    expect(areaAndVolume(low.mesh).volume).toBeCloseTo((areaAndVolume(mesh).volume * 7) / 10, 6);
    const open = cutWithPlane(mesh, { plane: X, size: 40, keep: 'below', cap: false });
    expect(isClosed(open.mesh)).toBe(false);
    expect(() =>
      cutWithPlane(mesh, { plane: { normal: [1, 0, 0], at: 90 }, size: 40, keep: 'above', cap: true }),
    ).toThrow(/Nothing of the part/);
  });

  it('closes each of several bodies with holes of its own', () => {
    const pipes = joinMeshes([at(tube(5, 2, 20, 12), -12), at(tube(9, 6, 20, 16), 12), at(tube(2, 1, 20, 8), 12)]);
    const cut = cutWithPlane(pipes, { plane: { normal: [0, 0, 1], at: 3 }, size: 40, keep: 'below', cap: true });
    expect([isClosed(cut.mesh), cut.report.capped]).toEqual([true, 3]);
    expect(areaAndVolume(cut.mesh).volume).toBeCloseTo((areaAndVolume(pipes).volume * 13) / 20, 9);
    const lids = Array.from({ length: faceCount(cut.mesh) }, (_, f) => faceBoundaries(cut.mesh, f))
      .filter((loops) => loops.every((loop) => loop.every((v) => cut.mesh.positions[3 * v + 2] === 3)))
      .map((loops) => loops.map((loop) => loop.length));
    expect(lids.sort((a, b) => a[0]! - b[0]!)).toEqual([
      [8, 8],
      [12, 12],
      [16, 16],
    ]);
  });

  it('both sides of any plane add up to the whole', () => {
    const body = carve(cylinder(20, 30, 32), {
      cutters: [box(50, 9, 9), at(cylinder(6, 60, 16), 4, 3)],
      operation: 'subtract',
    }).mesh;
    const angle = fc.double({ min: 0, max: 6.28, noNaN: true });
    fc.assert(
      fc.property(angle, angle, fc.double({ min: -12, max: 12, noNaN: true }), (a, b, d) => {
        const normal = [Math.cos(a) * Math.cos(b), Math.sin(a) * Math.cos(b), Math.sin(b)] as const;
        const size = sizeOf(body);
        const part = (keep: 'above' | 'below') =>
          cutWithPlane(body, { plane: { normal, at: d }, size, keep, cap: true }).mesh;
        const [up, down] = [part('above'), part('below')];
        expect([isClosed(up), isClosed(down)]).toEqual([true, true]);
        const whole = areaAndVolume(body).volume;
        expect(Math.abs(areaAndVolume(up).volume + areaAndVolume(down).volume - whole) / whole).toBeLessThan(1e-9);
      }),
      { numRuns: 300 },
    );
  });
});

describe('mirror', () => {
  it('a quarter over all: exactly symmetric, the volume four times the quarter’s', () => {
    const square = (s: number): [number, number][] => [
      [0, 0],
      [s, 0],
      [s, s],
      [0, s],
    ];
    const quarter = carve(prism({ points: square(20) }, 10), {
      cutters: [at(cylinder(7, 30, 32), 9, 6), at(cylinder(5, 30, 24), 0, 14)],
      operation: 'subtract',
    }).mesh;
    const size = sizeOf(quarter);
    const half = mirrorHalf(quarter, { plane: X, size, keep: 'above', threshold: 1e-6 * size });
    const whole = mirrorHalf(half.mesh, { plane: Y, size, keep: 'above', threshold: 1e-6 * size }).mesh;
    expect([exactly(whole, 0), exactly(whole, 1), isClosed(whole)]).toEqual([true, true, true]);
    expect(areaAndVolume(whole).volume).toBeCloseTo(4 * areaAndVolume(quarter).volume, 6);
    expect(findings(whole, { rules: ['doubledVertices', 'innerFaces', 'duplicateFaces'] })).toEqual([]);
  });

  it('merges nothing that stands a ten-thousandth of the size off the plane, and tells what it puts onto it', () => {
    const m = box(40, 40, 10, [2, 2, 2]);
    const size = 40;
    const P = m.positions.slice();
    const middle = Array.from({ length: vertexCount(m) }, (_, v) => v).filter((v) => P[3 * v] === 0);
    // One near miss beyond the threshold, one within it.
    const [miss, hit] = middle as [number, number];
    P[3 * miss] = 1e-4 * size;
    P[3 * hit] = 5e-7 * size;
    const r = mirrorHalf({ ...m, positions: P }, { plane: X, size, keep: 'above', threshold: 1e-6 * size });
    expect([r.report.snapped, r.report.furthest]).toEqual([1, expect.closeTo(5e-7 * size, 12)]);
    expect(exactly(r.mesh, 0)).toBe(true);
    const at1 = Array.from({ length: vertexCount(r.mesh) }, (_, v) => r.mesh.positions[3 * v]!).filter(
      (x) => Math.abs(Math.abs(x) - 1e-4 * size) < 1e-12,
    );
    expect(at1).toHaveLength(2);
    expect(isClosed(r.mesh)).toBe(true);
  });

  it('keeps apart what stands on both sides within the threshold', () => {
    const slit = carve(box(40, 40, 10), { cutters: [at(box(1e-3, 20, 30), 0, 15)], operation: 'subtract' }).mesh;
    const r = mirrorHalf(slit, { plane: X, size: 40, keep: 'above', threshold: 0.01 });
    expect(r.report.doubtful).toBeGreaterThan(0);
    expect(isClosed(r.mesh)).toBe(true);
    expect(areaAndVolume(r.mesh).volume).toBeCloseTo(areaAndVolume(slit).volume, 6);
  });

  it('of any body that the plane crosses: closed, symmetric, twice the kept half', () => {
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 20 }), fc.integer({ min: -48, max: 48 }), fc.boolean(), (n, step, up) => {
        // Steps on which no flat comes to lie within the threshold of the plane.
        const x = step / 11.3;
        const body = at(
          carve(cylinder(10, 20, n), { cutters: [at(cylinder(3, 40, 8), 3.1, 2.07)], operation: 'subtract' }).mesh,
          x,
        );
        const size = sizeOf(body);
        const keep = up ? 'above' : 'below';
        const half = cutWithPlane(body, { plane: X, size, keep, cap: true }).mesh;
        const whole = mirrorHalf(body, { plane: X, size, keep, threshold: 1e-6 * size }).mesh;
        expect([isClosed(whole), exactly(whole, 0)]).toEqual([true, true]);
        expect(areaAndVolume(whole).volume).toBeCloseTo(2 * areaAndVolume(half).volume, 5);
      }),
      { numRuns: 300 },
    );
  });
});

describe('making symmetric', () => {
  it('a shaken grid exactly, and tells what has no partner', () => {
    const random = seededRandom(5);
    const g = at(grid(6), -3, 0);
    const shaken = { ...g, positions: g.positions.map((x) => x + 0.02 * (random() - 0.5)) };
    const r = symmetrize(shaken, { plane: X, within: 0.1 });
    expect([r.report.paired, r.report.unpaired, exactly(r.mesh, 0)]).toEqual([49, 0, true]);
    expect(r.report.furthest).toBeLessThan(0.02);
    const P = g.positions.slice();
    P[0]! -= 0.5;
    const odd = symmetrize({ ...g, positions: P }, { plane: X, within: 0.1 });
    expect([odd.report.paired, odd.report.unpaired, odd.report.places.length]).toEqual([47, 2, 6]);
    expect(topologyOf(odd.mesh).edgeCount).toBe(topologyOf(g).edgeCount);
  });
});
