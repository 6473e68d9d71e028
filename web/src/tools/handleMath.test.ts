import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { newShape, turnedAbout } from '@dusky-mason/core/courses';
import { alongAxis, angleAround, onStep, placementMatrix, tidy } from './handleMath.ts';

const v = (x: number, y: number, z: number) => new THREE.Vector3(x, y, z);

describe('handles', () => {
  it('finds the place along an axis that a ray passes nearest to', () => {
    const ray = new THREE.Ray(v(5, -10, 3), v(0, 1, 0));
    expect(alongAxis(ray, v(0, 0, 0), v(1, 0, 0))).toBeCloseTo(5, 12);
    expect(alongAxis(ray, v(0, 0, 0), v(0, 0, 1))).toBeCloseTo(3, 12);
    expect(alongAxis(ray, v(0, 0, 0), v(0, 1, 0))).toBe(null);
  });

  it('reads an angle round an axis', () => {
    const ray = new THREE.Ray(v(1, 1, 9), v(0, 0, -1));
    expect(angleAround(ray, v(0, 0, 0), v(0, 0, 1), v(1, 0, 0), v(0, 1, 0))).toBeCloseTo(45, 10);
    expect(angleAround(ray, v(0, 0, 0), v(1, 0, 0), v(0, 1, 0), v(0, 0, 1))).toBe(null);
  });

  it('the core turns about an own axis as the picture does, and toward a normal', () => {
    const shape = newShape('box');
    for (const turn of [
      [0, 0, 0],
      [20, -35, 110],
      [90, 0, 45],
    ] as [number, number, number][])
      for (const axis of [0, 1, 2] as const) {
        const want = placementMatrix({ position: [0, 0, 0], turn }).multiply(
          new THREE.Matrix4().makeRotationAxis(v(0, 0, 0).setComponent(axis, 1), 0.5),
        );
        const got = placementMatrix(
          turnedAbout({ shape, placement: { position: [0, 0, 0], turn } }, axis, (0.5 * 180) / Math.PI, [0, 0, 0])
            .placement,
        );
        got.elements.forEach((x, i) => expect(x).toBeCloseTo(want.elements[i]!, 6));
      }
  });

  it('steps and tidies', () => {
    expect(onStep(12.4, 5)).toBe(10);
    expect(tidy(12.3456789, 0.2)).toBe(12.3);
    expect(tidy(1234.5678, 3)).toBe(1235);
  });
});
