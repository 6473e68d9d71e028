import { describe, expect, it } from 'vitest';
import { faceBegin, faceCount, faceEnd, faceNormals, topologyOf, transformMesh, type PolyMesh } from '../mesh/index.ts';
import { ballFromRings, box, cone, cylinder } from '../shapes/index.ts';
import { carve } from './index.ts';

const at = (m: PolyMesh, x: number, y: number, z: number) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
const COURSE = 7;
const SCALE = 0.25;

/** A block of which each face is laid on the texture along the main axes, at a quarter of its size. */
function block(): PolyMesh {
  const m = box(100, 60, 20);
  const n = faceNormals(m);
  const uv = new Float64Array(2 * m.corners.length);
  for (let f = 0; f < faceCount(m); f++) {
    const away = [0, 1, 2].findIndex((k) => Math.abs(n[3 * f + k]!) > 0.5);
    const [a, b] = [0, 1, 2].filter((k) => k !== away) as [number, number];
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      uv[2 * c] = SCALE * m.positions[3 * m.corners[c]! + a]!;
      uv[2 * c + 1] = SCALE * m.positions[3 * m.corners[c]! + b]!;
    }
  }
  return { ...m, layers: { ...m.layers, uv } };
}

const walls = (m: PolyMesh) =>
  Array.from({ length: faceCount(m) }, (_, f) => f).filter((f) => m.layers.source![3 * f + 2] === COURSE);
const cornersOf = (m: PolyMesh, f: number) =>
  Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) => faceBegin(m, f) + i);
const uvOf = (m: PolyMesh, c: number): [number, number] => [m.layers.uv![2 * c]!, m.layers.uv![2 * c + 1]!];
const span = (xs: number[]) => Math.max(...xs) - Math.min(...xs);
const cut = (cutter: PolyMesh, wallUvs?: 'box' | 'strip') =>
  carve(block(), { cutters: [cutter], operation: 'subtract', course: COURSE, wallUvs }).mesh;

/** Every edge of the walls is as long on the texture as in space, at the target's scale. */
function expectTrue(m: PolyMesh, faces: number[]): void {
  const { next } = topologyOf(m);
  for (const f of faces)
    for (const c of cornersOf(m, f)) {
      const [p, q] = [uvOf(m, c), uvOf(m, next[c]!)];
      const [a, b] = [3 * m.corners[c]!, 3 * m.corners[next[c]!]!];
      const length = Math.hypot(...[0, 1, 2].map((k) => m.positions[a + k]! - m.positions[b + k]!));
      expect(Math.hypot(p[0] - q[0], p[1] - q[1])).toBeCloseTo(SCALE * length, 8);
    }
}

describe('strip UVs of new walls', () => {
  it('unroll the wall of a round hole to a rectangle as long as its rim and as high as its depth', () => {
    const m = cut(cylinder(8, 40, 32), 'strip');
    const faces = walls(m);
    expect(faces.length).toBe(32);
    expectTrue(m, faces);
    const all = faces.flatMap((f) => cornersOf(m, f).map((c) => uvOf(m, c)));
    expect(span(all.map((p) => p[0]))).toBeCloseTo(SCALE * 32 * 2 * 8 * Math.sin(Math.PI / 32), 8);
    expect(span(all.map((p) => p[1]))).toBeCloseTo(SCALE * 20, 8);
    // Every wall stands upright in it, none on top of another.
    const lefts = faces.map((f) => Math.min(...cornersOf(m, f).map((c) => uvOf(m, c)[0]))).sort((a, b) => a - b);
    lefts.slice(1).forEach((x, i) => expect(x - lefts[i]!).toBeCloseTo(SCALE * 2 * 8 * Math.sin(Math.PI / 32), 8));
  });

  it('go round the corners of a square pocket, and lay its floor down by itself', () => {
    const m = cut(at(box(20, 30, 20), 0, 0, 10), 'strip');
    const faces = walls(m);
    expect(faces.length).toBe(5);
    expectTrue(m, faces);
    const n = faceNormals(m);
    const sides = faces
      .filter((f) => Math.abs(n[3 * f + 2]!) < 0.5)
      .flatMap((f) => cornersOf(m, f).map((c) => uvOf(m, c)));
    expect(span(sides.map((p) => p[0]))).toBeCloseTo(SCALE * 100, 8);
    expect(span(sides.map((p) => p[1]))).toBeCloseTo(SCALE * 10, 8);
  });

  it('fan out the wall of a conical hole without stretching it', () => {
    const m = cut(at(cone(12, 4, 40, 24), 0, 0, 0), 'strip');
    const faces = walls(m);
    expect(faces.length).toBe(24);
    expectTrue(m, faces);
  });

  it('take a ball as it comes: each facet true to size', () => {
    const m = cut(at(ballFromRings(9, 16, 8), 0, 0, 10), 'strip');
    expect(walls(m).length).toBeGreaterThan(30);
    // Facets of a ball's rings are flat; cut ones keep their plane.
    expectTrue(m, walls(m));
  });

  it('are not asked for by default, and leave other faces as they were', () => {
    const [plain, strip] = [cut(cylinder(8, 40, 32)), cut(cylinder(8, 40, 32), 'strip')];
    expect([...plain.layers.uv!]).not.toEqual([...strip.layers.uv!]);
    for (let f = 0; f < faceCount(strip); f++)
      if (strip.layers.source![3 * f + 2] !== COURSE)
        for (const c of cornersOf(strip, f)) expect(uvOf(strip, c)).toEqual(uvOf(plain, c));
  });

  it('leave the target without texture coordinates without them', () => {
    expect(
      carve(box(10, 10, 10), { cutters: [cylinder(2, 20, 8)], operation: 'subtract', wallUvs: 'strip' }).mesh.layers.uv,
    ).toBeUndefined();
  });
});
