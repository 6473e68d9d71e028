import { describe, expect, it } from 'vitest';
import { areaAndVolume } from '../../mesh/index.ts';
import { ballFromRings, box } from '../../shapes/index.ts';
import { crossIntegral, ngon, ngonArea, outlineArea, spanAt, turnedVolume, type Point } from './closedForms.ts';
import { CUT_SET, markCut } from './index.ts';

describe('closed forms', () => {
  it('areas of outlines', () => {
    expect(
      outlineArea([
        [0, 0],
        [4, 0],
        [4, 3],
      ]),
    ).toBe(6);
    expect(
      outlineArea([
        [4, 3],
        [4, 0],
        [0, 0],
      ]),
    ).toBe(-6);
    for (const n of [3, 8, 64]) expect(outlineArea(ngon(7, n, [3, -2]))).toBeCloseTo(ngonArea(7, n), 10);
  });

  it('spans of a convex outline', () => {
    const square: Point[] = [
      [0, 0],
      [2, 0],
      [2, 2],
      [0, 2],
    ];
    expect(spanAt(square, 1)).toEqual([0, 2]);
    expect(spanAt(square, 0)).toEqual([0, 2]);
    expect(spanAt(square, 3)).toBe(null);
  });

  it('what two square bars and two round ones have in common', () => {
    const bar: Point[] = [
      [-2, -3],
      [2, -3],
      [2, 3],
      [-2, 3],
    ];
    const size = ([a, b]: [number, number]) => b - a;
    expect(crossIntegral(bar, bar, (x, z) => size(x) * size(z))).toBeCloseTo(4 * 6 * 6, 6);
    // Two round bars of one radius (Steinmetz): 16 r³ / 3 when the flats are many.
    const round = ngon(1, 512);
    expect(crossIntegral(round, round, (x, z) => size(x) * size(z))).toBeCloseTo(16 / 3, 3);
  });

  it('a turned body of flats, whole and in parts', () => {
    const n = 48;
    const profile = Array.from({ length: 13 }, (_, i): Point => {
      const a = (Math.PI * i) / 24;
      return [30 * Math.cos(a) * Math.cos(Math.PI / n), 30 * Math.sin(a)];
    });
    const rim = 30 * Math.cos(Math.PI / n);
    const whole = turnedVolume(profile, n, 0, rim);
    expect(whole / areaAndVolume(ballFromRings(30, n, 24)).volume).toBeCloseTo(1, 9);
    expect(turnedVolume(profile, n, 0, 10) + turnedVolume(profile, n, 10, rim)).toBeCloseTo(whole, 6);
  });
});

describe('looking at a cut', () => {
  const plain = CUT_SET['hole through a plate']!;

  it('sees a wrong measure, a wrong number of pieces and an open result', () => {
    expect(markCut({ ...plain(), measure: plain().measure * 1.001 }).off).toBeCloseTo(0.001, 5);
    expect(markCut({ ...plain(), pieces: 2 }).sound).toBe(false);
    const c = plain();
    const holed = {
      ...c.steps[0]!,
      run: () => ({
        ...c.target,
        faceLoops: c.target.faceLoops.subarray(0, 6),
        loopStart: c.target.loopStart.subarray(0, 6),
        corners: c.target.corners.subarray(0, 20),
      }),
    };
    expect(markCut({ ...c, steps: [holed] }).sound).toBe(false);
  });

  it('sees vertices and edges that nothing asked for, and faces that were changed', () => {
    const c = plain();
    const gridded = { ...c.steps[0]!, run: () => box(100, 60, 20, [3, 1, 1]) };
    const marks = markCut({ ...c, steps: [gridded] });
    expect(marks.strayVertices).toBe(8);
    expect(marks.strayEdges).toBeGreaterThan(0);
    expect(marks.changedFaces).toBe(2);
  });
});
