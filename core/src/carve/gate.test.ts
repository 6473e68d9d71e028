import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  faceBoundaries,
  flipMesh,
  hasNoArea,
  joinMeshes,
  MasonError,
  meshFromFaces,
  transformMesh,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, cylinder, sheet, torus } from '../shapes/index.ts';
import { carve, checkSolid, isSolid, isTrusted, trustAs } from './index.ts';

const at = (m: PolyMesh, x: number, y: number, z: number) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
const volume = (m: PolyMesh) => areaAndVolume(m).volume;
const codeOf = (run: () => unknown): string => {
  try {
    run();
  } catch (e) {
    return e instanceof MasonError ? e.code : String(e);
  }
  return 'nothing thrown';
};

describe('the gate', () => {
  const cutter = cylinder(3, 40, 12);
  it('refuses what is not a solid, with the place', () => {
    const open = meshFromFaces(
      box(10, 10, 10).positions,
      [0, 1, 2, 3, 4].map((f) => faceBoundaries(box(10, 10, 10), f)),
    );
    expect(codeOf(() => carve(cutter, { cutters: [open], operation: 'subtract' }))).toBe('not-solid');
    expect(codeOf(() => carve(cutter, { cutters: [sheet(5, 5)], operation: 'subtract' }))).toBe('not-solid');
    // An open target is a sheet, unless its faces do not look one way.
    const turned = meshFromFaces(box(10, 10, 10).positions, [
      faceBoundaries(box(10, 10, 10), 0),
      faceBoundaries(flipMesh(box(10, 10, 10)), 2),
    ]);
    expect(codeOf(() => carve(turned, { cutters: [cutter], operation: 'subtract' }))).toBe('not-solid');
    expect(codeOf(() => carve(flipMesh(box(10, 10, 10)), { cutters: [cutter], operation: 'subtract' }))).toBe(
      'not-solid',
    );
    const crossed = joinMeshes([box(10, 10, 10), at(box(10, 10, 10), 5, 5, 5)]);
    expect(codeOf(() => carve(crossed, { cutters: [cutter], operation: 'subtract' }))).toBe('not-solid');
    try {
      checkSolid(crossed, 'The part');
    } catch (e) {
      expect((e as MasonError).place.point).toHaveLength(3);
    }
  });

  it('lets voids, touching shells and flush neighbours pass', () => {
    expect(() => checkSolid(joinMeshes([box(10, 10, 10), flipMesh(box(4, 4, 4))]), 'It')).not.toThrow();
    expect(() => checkSolid(joinMeshes([box(10, 10, 10), at(box(10, 10, 10), 10, 3, 0)]), 'It')).not.toThrow();
    expect(() => checkSolid(torus(10, 3, 24, 12), 'It')).not.toThrow();
  });

  it('a copy is as sound as its original, which is looked at once and only when it is asked for', () => {
    const crossed = joinMeshes([box(10, 10, 10), at(box(10, 10, 10), 5, 5, 5)]);
    const sound = box(10, 10, 10);
    expect(() => checkSolid(trustAs(at(sound, 50, 0, 0), sound), 'It')).not.toThrow();
    // The original was checked; a later copy of it is not checked again.
    expect(() => checkSolid(trustAs(crossed, sound), 'It')).not.toThrow();
    const other = joinMeshes([box(10, 10, 10), at(box(10, 10, 10), 5, 5, 5)]);
    expect(codeOf(() => checkSolid(trustAs(at(other, 50, 0, 0), other), 'It'))).toBe('not-solid');
    expect(isTrusted(trustAs(at(other, 50, 0, 0), other))).toBe(false);
  });

  it('says so when there is nothing to cut with or nothing would be left', () => {
    const a = box(10, 10, 10);
    expect(codeOf(() => carve(a, { cutters: [], operation: 'subtract' }))).toBe('bad-input');
    expect(codeOf(() => carve(a, { cutters: [box(20, 20, 20)], operation: 'subtract' }))).toBe('bad-input');
    expect(codeOf(() => carve(a, { cutters: [at(a, 50, 0, 0)], operation: 'intersect' }))).toBe('bad-input');
    const same = carve(a, { cutters: [at(box(1, 1, 1), 50, 0, 0)], operation: 'subtract' }).mesh;
    expect(volume(same)).toBe(1000);
  });

  it('stops when cancelled and tells how far it is', () => {
    const stages: string[] = [];
    carve(
      box(10, 10, 10),
      { cutters: [cutter], operation: 'subtract' },
      { progress: (f, s) => stages.push(`${f} ${s}`) },
    );
    expect(stages.length).toBeGreaterThan(5);
    expect(
      codeOf(() => carve(box(10, 10, 10), { cutters: [cutter], operation: 'subtract' }, { signal: { aborted: true } })),
    ).toBe('cancelled');
  });
});

describe('roundings of 32-bit coordinates', () => {
  it('are no crossings where all coordinates went through 32 bits, and are where they did not', () => {
    // A smaller box that reaches into the side of a larger one by less than a step of 32-bit numbers there.
    const pair = (off: number) => {
      const m = joinMeshes([box(100, 100, 100), at(box(20, 20, 20), 60, 0, 0)]);
      const inward = m.positions.map((x, i) => (i % 3 === 0 && i >= 24 && x === 50 ? Math.fround(50 - 3e-6) : x));
      return { ...m, positions: inward.map((x) => x + off) };
    };
    expect(isSolid(pair(0))).toBe(true);
    expect(isSolid(pair(0.1))).toBe(false);
  });
});

it('a tiny face that is well shaped has an area, a narrow one of the same area has none', () => {
  const face = (w: number, h: number) => meshFromFaces([0, 0, 0, w, 0, 0, 0, h, 0], [[0, 1, 2]]);
  expect(hasNoArea(face(3e-8, 3e-8), 0, 4.5e-16, 1)).toBe(false);
  expect(hasNoArea(face(1e-3, 9e-13), 0, 4.5e-16, 1)).toBe(true);
  expect(hasNoArea(face(1, 1e-12), 0, 5e-13, 1)).toBe(false);
});
