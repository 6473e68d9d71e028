import { describe, expect, it } from 'vitest';
import { areaAndVolume, components, faceCount, isClosed, transformMesh, type PolyMesh } from '../mesh/index.ts';
import { ballFromRings, box, cylinder, sheet } from '../shapes/index.ts';
import { kerf, type KerfSettings } from './index.ts';

const at = (m: PolyMesh, x: number, y: number, z: number) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
const volume = (m: PolyMesh) => areaAndVolume(m).volume;
const plate = box(100, 60, 20);
const options: KerfSettings = { width: 2, depth: 3, bottom: 'square', nearest: [[0, 0, -1]] };

/** Area between a regular n-gon of radius r grown and shrunk by half a width, mitred. */
const ring = (r: number, n: number, width: number, shift = 0) => {
  const area = (apothem: number) => n * apothem * apothem * Math.tan(Math.PI / n);
  const a = r * Math.cos(Math.PI / n) + shift;
  return area(a + width / 2) - area(a - width / 2);
};

describe('kerf', () => {
  it('takes away its width and depth along a round outline, in closed form', () => {
    const { mesh, report } = kerf(plate, { cutters: [cylinder(12, 40, 64)], ...options });
    expect(isClosed(mesh)).toBe(true);
    expect(volume(mesh)).toBeCloseTo(120000 - 3 * ring(12, 64, 2), 7);
    // Two walls and a floor of 64 each; the top in two.
    expect(faceCount(mesh)).toBe(5 + 2 + 3 * 64);
    expect(report.newWalls).toBe(3 * 64);
  });

  it('on all the surfaces it meets, and several side by side', () => {
    const both = kerf(plate, { cutters: [cylinder(12, 40, 64)], ...options, nearest: undefined }).mesh;
    expect(volume(both)).toBeCloseTo(120000 - 6 * ring(12, 64, 2), 7);
    const three = kerf(plate, { cutters: [cylinder(12, 40, 64)], ...options, lines: 3, spacing: 5 }).mesh;
    const away = [0, 5, 10].reduce((v, s) => v + 3 * ring(12, 64, 2, s), 0);
    expect(volume(three)).toBeCloseTo(120000 - away, 7);
    expect(components(three).count).toBe(1);
  });

  it('with a V or a round bottom', () => {
    const v = kerf(plate, { cutters: [cylinder(12, 40, 64)], ...options, bottom: 'v' }).mesh;
    expect(volume(v)).toBeCloseTo(120000 - 1.5 * ring(12, 64, 2), 7);
    const round = kerf(plate, { cutters: [box(30, 20, 40)], ...options, bottom: 'round' }).mesh;
    // Straight walls of 2, then half a circle of 8 flats and radius 1, all round a rectangle, mitred.
    const section = 2 * 2 + 4 * Math.sin(Math.PI / 8);
    expect(volume(round)).toBeCloseTo(120000 - section * 2 * (30 + 20), 7);
  });

  it('follows a faceted curve, whose edges it crosses anywhere', () => {
    const hull = cylinder(38, 70, 64);
    const aim = (m: PolyMesh, x: number, y: number, z: number) =>
      transformMesh(m, [0, 0, 1, x, 1, 0, 0, y, 0, 1, 0, z]);
    for (const y of [0, 0.37, 1.9, 3.1]) {
      const { mesh, report } = kerf(hull, {
        cutters: [aim(cylinder(7.5, 30, 32), 38, y, 1)],
        ...options,
        nearest: undefined,
      });
      expect(isClosed(mesh)).toBe(true);
      expect(report.drift).toBeLessThan(1e-5);
      // About its length times its section; the facets make it a little more or less.
      expect((volume(hull) - volume(mesh)) / (3 * ring(7.5, 32, 2))).toBeCloseTo(1, 1);
    }
  });

  it('over a right-angled edge the depth is exact on both faces', () => {
    // A loop round a bar: all four sides and no corner flat.
    const bar = box(100, 20, 20);
    const { mesh } = kerf(bar, { cutters: [box(10, 40, 40)], ...options, nearest: undefined });
    expect(isClosed(mesh)).toBe(true);
    expect(volume(mesh)).toBeCloseTo(40000 - 2 * 2 * (20 * 20 - 14 * 14), 7);
  });

  it('several side by side over a right-angled edge are as exact as one', () => {
    const bar = box(100, 20, 20);
    const { mesh } = kerf(bar, { cutters: [box(10, 40, 40)], ...options, nearest: undefined, lines: 3, spacing: 6 });
    expect(isClosed(mesh)).toBe(true);
    expect(volume(mesh)).toBeCloseTo(40000 - 6 * 2 * (20 * 20 - 14 * 14), 6);
  });

  it('several side by side on a ball keep to its surface: each at the spacing along the tangent, at its full depth', () => {
    const [R, w, depth, spacing] = [50, 1.2, 2, 7];
    const ball = ballFromRings(R, 96, 48);
    const pin = at(cylinder(10, 40, 48), 0, 0, 50);
    const { mesh } = kerf(ball, { cutters: [pin], width: w, depth, bottom: 'square', lines: 4, spacing, course: 2 });
    expect(isClosed(mesh)).toBe(true);
    const step = Math.asin(spacing / R);
    const walls = new Set<number>();
    for (let f = 0; f < faceCount(mesh); f++)
      if (mesh.layers.source![3 * f + 2] === 2)
        for (let c = mesh.loopStart[mesh.faceLoops[f]!]!; c < mesh.loopStart[mesh.faceLoops[f + 1]!]!; c++)
          walls.add(mesh.corners[c]!);
    const places = [...walls].map((v) => {
      const [x, y, z] = [0, 1, 2].map((k) => mesh.positions[3 * v + k]!) as [number, number, number];
      return { angle: Math.atan2(Math.hypot(x, y), z), radius: Math.hypot(x, y, z) };
    });
    for (let i = 0; i < 4; i++) {
      // The facets of ball and pin make the first circle a hair smaller than 10 mm.
      const middle = Math.asin(10 / R) + i * step;
      const own = places.filter((p) => Math.abs(p.angle - middle) < step / 2);
      expect(own.length).toBeGreaterThan(100);
      const angles = own.map((p) => p.angle);
      expect((Math.min(...angles) + Math.max(...angles)) / 2).toBeCloseTo(middle, 2);
      expect((Math.max(...angles) - Math.min(...angles)) * R).toBeCloseTo(w, 0);
      expect(R - Math.min(...own.map((p) => p.radius))).toBeGreaterThan(0.95 * depth);
      expect(R - Math.min(...own.map((p) => p.radius))).toBeLessThan(1.1 * depth);
    }
    expect(places.filter((p) => p.angle > Math.asin(10 / R) + 3.5 * step)).toEqual([]);
  });

  it('lines that leave the part run out over its border, at their full width and depth', () => {
    // The outline goes round the corner at x = 40, y = −30, and comes within 1.3 mm of the floor at z = −25.
    const block = box(80, 60, 50);
    const tool = transformMesh(box(70, 36, 40), [1, 0, 0, 9.7, 0, 0, -1, -26.2, 0, 1, 0, -5.7]);
    /** The skin of both faces, as deep as the slits, within the outline grown by some way. */
    const skin = (grown: number, depth: number) => {
      const height = Math.min(25, 12.3 + grown) - Math.max(-25, -23.7 - grown);
      return depth * (40 + 25.3 + grown + 30 - 6.2 + grown - depth) * height;
    };
    for (const depth of [1, 2]) {
      const { mesh, report } = kerf(block, {
        cutters: [tool],
        width: 2,
        depth,
        bottom: 'square',
        lines: 3,
        spacing: 4,
      });
      expect([report.slits, isClosed(mesh)]).toEqual([{ cut: 3, asked: 3 }, true]);
      const away = [0, 4, 8].reduce((v, shift) => v + skin(shift + 1, depth) - skin(shift - 1, depth), 0);
      expect(volume(block) - volume(mesh)).toBeCloseTo(away, 8);
    }
  });

  it('slits a sheet through, also over its border', () => {
    const { mesh } = kerf(sheet(60, 40), { cutters: [at(cylinder(8, 40, 64), 0, 0, 0)], ...options, depth: 1 });
    expect(areaAndVolume(mesh).area).toBeCloseTo(2400 - ring(8, 64, 2), 8);
    const across = kerf(sheet(60, 40), {
      cutters: [at(box(20, 100, 10), 30, 0, 0)],
      ...options,
      nearest: undefined,
    }).mesh;
    expect(areaAndVolume(across).area).toBeCloseTo(2400 - 2 * 40, 8);
    expect(components(across).count).toBe(2);
  });

  it('refuses what cannot be swept, in words', () => {
    expect(() => kerf(plate, { cutters: [cylinder(1, 40, 64)], ...options, width: 4 })).toThrow(/too wide/);
    expect(() => kerf(plate, { cutters: [at(cylinder(1, 4, 16), 0, 0, 0)], ...options })).toThrow(/no surface/);
    expect(() => kerf(plate, { cutters: [cylinder(9, 40, 16)], ...options, width: 0 })).toThrow(/above 0/);
  });
});
