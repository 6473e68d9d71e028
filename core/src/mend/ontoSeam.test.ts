import { describe, expect, it } from 'vitest';
import { areaAndVolume, faceCount, isClosed, meshFromFaces, type PolyMesh } from '../mesh/index.ts';
import { findings } from '../survey/index.ts';
import { weldToSeam } from './ontoSeam.ts';
import { placeOfVertex, sidesOf, vertexAt } from './testMeshes.ts';

/**
 * Two squares 10 mm wide with a cut line of two edges between them, and one vertex within each, off the line by `off`
 * mm at heights 3 and 9.9.
 */
function besideALine(off: number): PolyMesh {
  const P = [0, 0, 0, 10, 0, 0, 20, 0, 0, 20, 10, 0, 10, 10, 0, 0, 10, 0, 10 - off, 3, 0, 10 + off, 9.9, 0];
  // The squares as fans round their inner vertices.
  const [a, b] = [
    [0, 1, 4, 5],
    [1, 2, 3, 4],
  ];
  const fan = (ring: number[], v: number) => ring.map((x, i) => [x, ring[(i + 1) % 4]!, v]);
  const m = meshFromFaces(P, [...fan(a!, 6), ...fan(b!, 7)]);
  const seam = new Int32Array(m.corners.length);
  m.corners.forEach((v, c) => {
    const next = c % 3 === 2 ? m.corners[c - 2] : m.corners[c + 1];
    if ((v === 1 && next === 4) || (v === 4 && next === 1)) seam[c] = 3;
  });
  return { ...m, layers: { ...m.layers, seam } };
}

describe('welding onto the boundary', () => {
  it('goes into the nearest vertex of the boundary, and else onto its edge, which gets a vertex there', () => {
    const m = besideALine(0.2);
    const r = weldToSeam(m, { vertices: [6, 7], distance: 0.5 });
    expect(r.report.merged).toBe(2);
    expect(r.report.lines).toHaveLength(12);
    // The one at height 3 has come straight over; the one near the end is that end.
    expect(vertexAt(r.mesh, 10, 3, 0)).toBeGreaterThanOrEqual(0);
    expect(() => vertexAt(r.mesh, 10.2, 9.9, 0)).toThrow();
    expect(() => vertexAt(r.mesh, 10, 9.9, 0)).toThrow();
    for (const p of [
      [10, 0, 0],
      [10, 10, 0],
    ])
      expect(vertexAt(r.mesh, ...p)).toBeGreaterThanOrEqual(0);
    expect([faceCount(r.mesh), sidesOf(r.mesh).every((n) => n === 3)]).toEqual([3 + 2, false]);
    expect(areaAndVolume(r.mesh).area).toBeCloseTo(200, 9);
    expect(isClosed(r.mesh)).toBe(false);
  });

  it('has one vertex where two come onto it at the same place', () => {
    const m = besideALine(0.2);
    const P = m.positions.slice();
    P[3 * 6 + 1] = P[3 * 7 + 1] = 6;
    const r = weldToSeam({ ...m, positions: P }, { vertices: [6, 7], distance: 0.5 });
    const there = Array.from({ length: r.mesh.positions.length / 3 }, (_, v) => placeOfVertex(r.mesh, v)).filter(
      ([x, y]) => x === 10 && Math.abs(y! - 6) < 1e-9,
    );
    expect([there.length, r.mesh.positions.length / 3]).toEqual([1, 7]);
    expect(areaAndVolume(r.mesh).area).toBeCloseTo(200, 9);
  });

  it('goes on from both sides of one edge, and what closes up in between goes', () => {
    const m = besideALine(0.2);
    const P = m.positions.slice();
    P[3 * 7 + 1] = 6;
    const r = weldToSeam({ ...m, positions: P }, { vertices: [6, 7], distance: 0.5 });
    expect(r.report.merged).toBe(2);
    const middles = [3, 6].map((y) => vertexAt(r.mesh, 10, y, 0));
    expect(middles.every((v) => v >= 0)).toBe(true);
    expect([faceCount(r.mesh), areaAndVolume(r.mesh).area]).toEqual([6, expect.closeTo(200, 9)]);
    expect(
      findings(r.mesh)
        .filter((f) => f.severity === 'error')
        .map((f) => f.rule),
    ).toEqual(['openEdges']);
  });

  it('leaves what is further off, the boundary, and a part without one as they are', () => {
    const m = besideALine(2);
    const far = weldToSeam(m, { vertices: [6, 7], distance: 0.5 });
    expect([far.report.merged, far.report.lines.length, placeOfVertex(far.mesh, 6)]).toEqual([0, 0, [8, 3, 0]]);
    expect(weldToSeam(m, { vertices: [1, 4], distance: 5 }).report.merged).toBe(0);
    expect(weldToSeam({ ...m, layers: {} }, { vertices: [6, 7], distance: 5 }).report.merged).toBe(0);
  });
});
