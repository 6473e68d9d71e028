import { describe, expect, it } from 'vitest';
import { readObj, writeObj } from '../formats/index.ts';
import {
  areaAndVolume,
  faceBend,
  faceBoundaries,
  faceCount,
  faceNormals,
  isClosed,
  LINE_CLASSES,
  meshFromFaces,
  renderBuffers,
  sharpCorners,
  transformMesh,
  type PolyMesh,
} from '../mesh/index.ts';
import { ballFromPatches, box, cylinder, prism } from '../shapes/index.ts';
import { carve, checkSolid } from './index.ts';
import { twistedBar } from './suite/index.ts';

const at = (m: PolyMesh, x: number, y: number, z: number) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
const volume = (m: PolyMesh) => areaAndVolume(m).volume;

describe('bent faces', () => {
  it('a bent face that is not cut stays whole; a cut one falls into flat pieces along its fold, on the very surface', () => {
    const ball = ballFromPatches(10, 8);
    const { mesh } = carve(ball, { cutters: [at(box(6, 6, 6), 0, 0, 10)], operation: 'subtract' });
    expect(isClosed(mesh)).toBe(true);
    const areas = mesh.layers.source!.filter((_, i) => i % 3 === 0);
    expect(areas.length).toBe(faceCount(mesh));
    const whole = new Set(
      Array.from({ length: faceCount(ball) }, (_, f) =>
        faceBoundaries(ball, f)[0]!
          .map((v) => ball.positions.slice(3 * v, 3 * v + 3).join())
          .join(' '),
      ),
    );
    const kept = Array.from({ length: faceCount(mesh) }, (_, f) =>
      faceBoundaries(mesh, f)[0]!
        .map((v) => mesh.positions.slice(3 * v, 3 * v + 3).join())
        .join(' '),
    ).filter((f) => whole.has(f));
    expect(kept.length).toBeGreaterThan(340);
    // A bent quad is two triangles: so many pieces at most, each of them flat.
    const pieces = new Map<number, number>();
    for (let f = 0; f < faceCount(mesh); f++) {
      const [body, face, course] = mesh.layers.source!.slice(3 * f, 3 * f + 3) as unknown as [number, number, number];
      if (course) continue;
      pieces.set(face, (pieces.get(face) ?? 0) + 1);
      expect(body).toBe(0);
    }
    const cut = Array.from({ length: faceCount(mesh) }, (_, f) => f).filter(
      (f) => pieces.get(mesh.layers.source![3 * f + 1]!) === 2,
    );
    expect(Math.max(...pieces.values())).toBe(2);
    expect(cut.length).toBeGreaterThan(8);
    for (const f of cut) expect(faceBend(mesh, f)).toBeLessThan(1e-12);
    const rest = carve(ball, { cutters: [at(box(6, 6, 6), 0, 0, 10)], operation: 'intersect' }).mesh;
    expect(Math.max(...Array.from({ length: faceCount(ball) }, (_, f) => faceBend(ball, f)))).toBeGreaterThan(1e-3);
    expect(volume(mesh) + volume(rest)).toBeCloseTo(volume(ball), 9);
  });

  it('folds are marked, are no seams and shade smooth, however sharp', () => {
    // A bar whose sides are twisted by half a right angle: each folds sharply.
    const bar = twistedBar(20, 20, 0.8);
    const { mesh } = carve(bar, { cutters: [at(box(40, 40, 5), 0, 0, 10)], operation: 'subtract' });
    const folds = [...mesh.layers.fold!].flatMap((is, c) => (is ? [c] : []));
    expect(folds.length).toBe(8);
    const sharp = sharpCorners(mesh, faceNormals(mesh));
    for (const c of folds) expect([mesh.layers.seam![c], sharp[c]]).toEqual([0, 0]);
    const { lineStart } = renderBuffers(mesh);
    expect(lineStart[LINE_CLASSES.indexOf('fold') + 1]! - lineStart[LINE_CLASSES.indexOf('fold')]!).toBe(4);
    // What was left of it is the very bar.
    const top = carve(bar, { cutters: [at(box(40, 40, 5), 0, 0, 10)], operation: 'intersect' }).mesh;
    expect(volume(mesh) + volume(top)).toBeCloseTo(volume(bar), 9);
  });

  it('a bent cutter wall that is whole stays one face where that turned over is the same surface, else its triangles', () => {
    const ball = carve(box(40, 40, 40), { cutters: [ballFromPatches(10, 4)], operation: 'subtract' }).mesh;
    expect(faceCount(ball)).toBe(6 + 96);
    // A saddle for a lid: both diagonals are of one length, and turned over the other one stands out.
    const lid = meshFromFaces(
      [-5, -5, -5, 5, -5, -5, 5, 5, -5, -5, 5, -5, -5, -5, 6, 5, -5, 4, 5, 5, 6, -5, 5, 4],
      [
        [3, 2, 1, 0],
        [4, 5, 6, 7],
        [0, 1, 5, 4],
        [1, 2, 6, 5],
        [2, 3, 7, 6],
        [3, 0, 4, 7],
      ],
    );
    const hollow = carve(box(40, 40, 40), { cutters: [lid], operation: 'subtract' }).mesh;
    expect(faceCount(hollow)).toBe(6 + 7);
    expect(volume(hollow)).toBeCloseTo(64000 - volume(lid), 8);
  });

  it.each(['subtract', 'union', 'intersect'] as const)(
    '%s: what was cut is taken in again, flat or bent',
    (operation) => {
      const ell = prism(
        {
          points: [
            [0, 0],
            [30, 0],
            [30, 10],
            [20, 10],
            [10, 10],
            [10, 30],
            [0, 30],
          ],
        },
        10,
      );
      for (const [body, cutter] of [
        [ballFromPatches(20, 6), at(box(30, 20, 20), 3, 2, 18)],
        [ballFromPatches(20, 6), at(ballFromPatches(14, 5), 15, 3, 6)],
        [ell, at(cylinder(8, 30, 24), 12, 11, 5)],
      ] as const) {
        const { mesh } = carve(body, { cutters: [cutter], operation });
        const read = readObj(new TextEncoder().encode(writeObj([{ name: 'part', mesh }]))).mesh;
        expect(() => checkSolid(read, 'It')).not.toThrow();
        const again = carve(read, { cutters: [at(box(50, 6, 50), 0, 1, 0)], operation: 'subtract' }).mesh;
        expect(isClosed(again)).toBe(true);
      }
    },
  );
});
