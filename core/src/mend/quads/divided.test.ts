import { describe, expect, it } from 'vitest';
import { carve } from '../../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  isClosed,
  lengthOf,
  sub,
  topologyOf,
  transformMesh,
  vertexPlace,
  type PolyMesh,
} from '../../mesh/index.ts';
import { box, cylinder, sheet } from '../../shapes/index.ts';
import { chainsOf } from '../place.ts';
import { seamEdges } from '../selectBy.ts';
import { divided } from './divided.ts';
import { toQuads } from './toQuads.ts';

const all = () => true;
const lengths = (m: PolyMesh) => {
  const t = topologyOf(m);
  return [...t.edgeCorner].map((c) =>
    lengthOf(sub(vertexPlace(m, m.corners[t.next[c]!]!), vertexPlace(m, m.corners[c]!))),
  );
};

describe('rows divided by a length of edges', () => {
  it('make a grid of a box, of a sheet, and of the faces that are asked for', () => {
    const { mesh, added, split } = divided(box(120, 60, 20), all, 10);
    expect([faceCount(mesh), added, split]).toEqual([2 * (12 * 6 + 6 * 2 + 12 * 2), 2 * (72 + 12 + 24) - 6, 12]);
    for (const l of lengths(mesh)) expect(l).toBeCloseTo(10, 9);
    expect([isClosed(mesh), areaAndVolume(mesh).volume]).toEqual([true, expect.closeTo(144_000, 6)]);
    // Edges that are short enough already, and faces that are not asked for, stay.
    expect(divided(mesh, all, 9).mesh).toBe(mesh);
    expect(divided(box(120, 60, 20), (f) => f > 0, 10).split).toBe(4);
    expect(faceCount(divided(sheet(40, 20), all, 5).mesh)).toBe(8 * 4);
  });

  it('leave round rims as they are, and their radius', () => {
    const plate = carve(box(100, 60, 20), { cutters: [cylinder(12, 40, 32)], operation: 'subtract' }).mesh;
    const { mesh, report } = toQuads(plate, { density: 4 });
    const plain = toQuads(plate, {});
    expect(report.divided).toBe(faceCount(mesh) - faceCount(plain.mesh));
    expect(report.divided).toBeGreaterThan(faceCount(plain.mesh) / 2);
    expect(chainsOf(mesh, seamEdges(mesh)).map((c) => c.vertices.length)).toEqual([32, 32]);
    expect([isClosed(mesh), areaAndVolume(mesh).volume]).toEqual([
      true,
      expect.closeTo(areaAndVolume(plate).volume, 6),
    ]);
    // The wall of the hole, 20 mm deep, comes in five rows.
    const onWall = Array.from({ length: mesh.positions.length / 3 }, (_, v) => vertexPlace(mesh, v)).filter(
      ([x, y]) => Math.abs(Math.hypot(x, y) - 12) < 1e-9,
    );
    expect(new Set(onWall.map((p) => p[2].toFixed(6))).size).toBe(6);
    // Flanks of a cylinder are not divided along its round ends.
    const drum = transformMesh(cylinder(10, 40, 16), [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);
    expect(faceCount(divided(drum, all, 2).mesh)).toBe(2 + 16 * 20);
  });

  it('come to about as many as the square of the density says', () => {
    const counts = [8, 4, 2].map((density) => faceCount(toQuads(box(80, 80, 40), { density }).mesh));
    expect(counts).toEqual([100 * 2 + 4 * 50, 400 * 2 + 4 * 200, 1600 * 2 + 4 * 800]);
  });
});
