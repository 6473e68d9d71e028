import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { sketchPlane } from '@dusky-mason/core/shapes';
import { beginDraw, type Draw } from '../tools/drawing.ts';
import type { PartLayer } from './partLayer.ts';
import { isSquareTo, standsProud } from './viewSketch.ts';

/** A part that reaches 40 mm to the front. */
const part = { radius: 50, reach: () => 40 } as unknown as PartLayer;

/** A circle of 10 mm on a plane in the front view, so far before the origin, being pulled. */
const circle = (before: number, pull: Draw['pull']): Draw => ({
  ...beginDraw('circle', 64),
  stage: 'pull',
  plane: sketchPlane([0, -before, 0], [0, -1, 0], [1, 0, 0]),
  drawn: { kind: 'circle', centre: [0, 0], radius: 5 },
  pull,
});

describe('a drawing in a straight-on view', () => {
  it('clears what stands before its plane when it goes in, and has a foot when it comes out', () => {
    expect(standsProud(circle(25, -10), part)).toBeCloseTo(15 + 5, 1);
    expect(standsProud(circle(25, 'through'), part)).toBeCloseTo(15 + 5, 1);
    expect(standsProud(circle(25, 10), part)).toBeCloseTo(5, 1);
  });

  it('begins in its plane where that is the front of the part', () => {
    expect(standsProud(circle(40, -10), part)).toBe(0);
  });

  it('lies on a face only if that is square to the view', () => {
    const view = new THREE.Vector3(0, -1, 0);
    expect(isSquareTo(view, new THREE.Vector3(0, -7, 0))).toBe(true);
    expect(isSquareTo(view, new THREE.Vector3(0.1, -1, 0))).toBe(false);
  });
});
