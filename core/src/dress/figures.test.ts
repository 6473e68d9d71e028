import { describe, expect, it } from 'vitest';
import {
  bounds,
  faceCount,
  faceNormals,
  MasonError,
  takeFaces,
  transformMesh,
  type PolyMesh,
  type Vec3,
} from '../mesh/index.ts';
import { cylinder, prism, sheet } from '../shapes/index.ts';
import { subdivisionFigures } from './figures.ts';
import { relight, thicken, type GuideSurface } from './index.ts';

describe('figures of a subdivision', () => {
  /** The wall of a round of 10 mm, as what the faces of a faceted one stand for. */
  const round = (m: PolyMesh): GuideSurface => ({
    knows: (f) => Math.abs(faceNormals(m)[3 * f + 2]!) < 0.5,
    normal: (_, p) => [p[0], p[1], 0],
    off: (_, p) => Math.abs(Math.hypot(p[0], p[1]) - 10),
  });

  it('tell how far the middles of faces are from the surface that they stand for', () => {
    const sagitta = (n: number) => 10 * (1 - Math.cos(Math.PI / n));
    const told = subdivisionFigures(cylinder(10, 20, 12), cylinder(10, 20, 24), round);
    expect([told.offBefore, told.offAfter]).toEqual([expect.closeTo(sagitta(12), 12), expect.closeTo(sagitta(24), 12)]);
    // Corners off the surface count as well: of a round of 9 mm.
    expect(subdivisionFigures(cylinder(9, 20, 12), cylinder(10, 20, 24), round).offBefore).toBeCloseTo(
      1 + 9 * (1 - Math.cos(Math.PI / 12)),
      12,
    );
    const none = subdivisionFigures(cylinder(10, 20, 12), cylinder(10, 20, 24), undefined);
    expect([none.offBefore, none.offAfter, none.rims]).toEqual([null, null, 0]);
  });
});

describe('figures of a relight', () => {
  it('where the guide has no direction, as in the middle of a ball, light stays as it is', () => {
    const m = sheet(20, 20, [2, 2]);
    const ball: GuideSurface = { knows: () => true, normal: (_, p) => [...p], off: () => 0 };
    const { mesh, report } = relight(m, { guide: ball, wanted: () => true, fade: 0 });
    const normals = mesh.layers.normal!;
    const lengths = Array.from({ length: mesh.corners.length }, (_, c) =>
      Math.hypot(...normals.slice(3 * c, 3 * c + 3)),
    );
    for (const long of lengths) expect(long).toBeCloseTo(1, 6);
    // Four faces of four corners each: all but the one in the middle.
    expect(report.corners).toBe(12);
  });

  it('count the corners whose light turned, and by how much the most', () => {
    const m = sheet(4, 4, [2, 2]);
    const tilted = (degrees: number): Vec3 => [
      0,
      Math.sin((degrees * Math.PI) / 180),
      Math.cos((degrees * Math.PI) / 180),
    ];
    const guide: GuideSurface = { knows: (f) => f < 2, normal: (f) => tilted(f ? 30 : 12), off: () => 0 };
    const first = relight(m, { guide, wanted: () => true, fade: 0 });
    expect([first.report.corners, first.report.most]).toEqual([8, expect.closeTo(30, 9)]);
    // Lit again, nothing turns any more.
    const again = relight(first.mesh, { guide, wanted: () => true, fade: 0 });
    expect([again.report.corners, again.report.most]).toEqual([0, expect.closeTo(0, 5)]);
    expect(relight(m, { guide, wanted: (f) => f === 0, fade: 0 })).toMatchObject({
      report: { corners: 4, most: expect.closeTo(12, 9) },
    });
  });
});

it('a sheet that is too thick where it bends is refused with the place', () => {
  // An angle of walls 1 mm apart, without its lid, far from the origin.
  const boundary: [number, number][] = [
    [0, 0],
    [10, 0],
    [10, 10],
    [9, 10],
    [9, 1],
    [0, 1],
  ];
  const solid = transformMesh(prism({ points: boundary }, 5), [1, 0, 0, 50, 0, 1, 0, 60, 0, 0, 1, 70]);
  const sheetOf = takeFaces(solid, (f) => f < faceCount(solid) - 1);
  let place: Vec3 | undefined;
  try {
    thicken(sheetOf, { thickness: 0.8, side: 'inside', far: '', rim: '' });
  } catch (e) {
    expect((e as MasonError).message).toMatch(/too thick/);
    place = (e as MasonError).place.point;
  }
  // Within a thickness of the sheet.
  const { min, max } = bounds(sheetOf);
  for (const k of [0, 1, 2] as const) {
    expect(place![k]).toBeGreaterThan(min[k] - 1);
    expect(place![k]).toBeLessThan(max[k] + 1);
  }
});
