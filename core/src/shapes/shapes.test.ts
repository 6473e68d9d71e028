import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  bounds,
  components,
  faceBend,
  faceCount,
  genus,
  isClosed,
  MasonError,
  sizeOf,
  vertexCount,
  type PolyMesh,
} from '../mesh/index.ts';
import {
  ballFromPatches,
  ballFromRings,
  box,
  circleOutline,
  cone,
  cylinder,
  prism,
  rectangleOutline,
  sheet,
  slotOutline,
  torus,
  tube,
  wedge,
} from './index.ts';

const ngonArea = (r: number, n: number) => (n / 2) * r * r * Math.sin((2 * Math.PI) / n);
const square: [number, number][] = [
  [-10, -10],
  [10, -10],
  [10, 10],
  [-10, 10],
];

describe('closed shapes: closed, outward, of the volume and genus known in closed form', () => {
  const cases: [string, PolyMesh, number, number][] = [
    ['box', box(100, 60, 20), 120000, 0],
    ['box, divided', box(100, 60, 20, [5, 3, 2]), 120000, 0],
    ['cylinder', cylinder(8, 20, 64), ngonArea(8, 64) * 20, 0],
    ['cylinder, rows', cylinder(8, 20, 24, 3), ngonArea(8, 24) * 20, 0],
    ['cone', cone(9, 0, 12, 30), (ngonArea(9, 30) * 12) / 3, 0],
    ['cone, upside down', cone(0, 9, 12, 30, 2), (ngonArea(9, 30) * 12) / 3, 0],
    ['cone, blunt', cone(9, 3, 12, 30), (ngonArea(1, 30) * 12 * (81 + 27 + 9)) / 3, 0],
    ['tube', tube(10, 6, 30, 48), (ngonArea(10, 48) - ngonArea(6, 48)) * 30, 1],
    ['wedge', wedge(20, 8, 6), 480, 0],
    ['prism with a hole', prism({ points: square, holes: [circleOutline(4, 20)] }, 5), (400 - ngonArea(4, 20)) * 5, 1],
    ['prism drawn clockwise', prism({ points: [...square].reverse() }, 5), 2000, 0],
    ['rounded prism', prism({ points: rectangleOutline(20, 20, 4, 8) }, 5), (400 - 64 + ngonArea(4, 32)) * 5, 0],
    ['slot', prism({ points: slotOutline(30, 10, 16) }, 5), (200 + ngonArea(5, 32)) * 5, 0],
  ];
  it.each(cases)('%s', (_name, mesh, volume, handles) => {
    expect(isClosed(mesh)).toBe(true);
    expect(areaAndVolume(mesh).volume / volume).toBeCloseTo(1, 12);
    expect(genus(mesh)).toBe(handles);
    expect(components(mesh).count).toBe(1);
    for (let f = 0; f < faceCount(mesh); f++) expect(faceBend(mesh, f)).toBeLessThan(1e-12 * sizeOf(mesh));
  });
});

it('balls and torus: vertices on the surface, volume from below, shrinking with the square of the division', () => {
  for (const make of [(n: number) => ballFromRings(5, 2 * n, n), (n: number) => ballFromPatches(5, n)]) {
    const want = (4 / 3) * Math.PI * 125;
    const error = [8, 16, 32].map((n) => 1 - areaAndVolume(make(n)).volume / want);
    expect(isClosed(make(8))).toBe(true);
    expect(genus(make(8))).toBe(0);
    expect(error[0]! / error[1]!).toBeCloseTo(4, 0);
    expect(error[1]! / error[2]!).toBeCloseTo(4, 0);
    const ball = make(8);
    for (let v = 0; v < vertexCount(ball); v++)
      expect(Math.hypot(...ball.positions.subarray(3 * v, 3 * v + 3))).toBeCloseTo(5, 12);
  }
  const ring = torus(10, 3, 64, 32);
  expect(genus(ring)).toBe(1);
  // Pappus for the two polygons: exact for the faceted body of revolution.
  const want = ngonArea(3, 32) * 64 * Math.sin((2 * Math.PI) / 64) * 10;
  expect(areaAndVolume(ring).volume / want).toBeCloseTo(1, 3);
});

it('counts faces as drawn: quads round, one n-gon at an end', () => {
  expect(faceCount(cylinder(8, 20, 64))).toBe(66);
  expect(faceCount(ballFromPatches(5, 4))).toBe(96);
  expect(vertexCount(box(1, 1, 1))).toBe(8);
  expect(bounds(box(100, 60, 20))).toEqual({ min: [-50, -30, -10], max: [50, 30, 10] });
});

it('a sheet is open and looks up', () => {
  const s = sheet(20, 10, [4, 2]);
  expect(isClosed(s)).toBe(false);
  expect(faceCount(s)).toBe(8);
  expect(areaAndVolume(s).area).toBeCloseTo(200, 12);
  expect(genus(s)).toBe(null);
});

it('refuses sizes that make no body', () => {
  expect(() => box(0, 1, 1)).toThrow(MasonError);
  expect(() => box(1, NaN, 1)).toThrow(MasonError);
  expect(() => cylinder(1, 1, 2)).toThrow(MasonError);
  expect(() => tube(5, 5, 1, 12)).toThrow(MasonError);
  expect(() => torus(3, 3, 12, 12)).toThrow(MasonError);
  expect(() =>
    prism(
      {
        points: [
          [0, 0],
          [1, 1],
          [2, 2],
        ],
      },
      1,
    ),
  ).toThrow(MasonError);
});
