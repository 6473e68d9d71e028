import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { shapeKinds, shapeSize } from '@dusky-mason/core/courses';
import { placementMatrix } from '../viewport/cutterLayer.ts';
import { roundSize, seatedCutter } from './placing.ts';

const up = new THREE.Vector3(0, 0, 1);
const seat = (thickness: number | null, normal = up) => ({ point: new THREE.Vector3(10, 20, 30), normal, thickness });

/** How far a cutter reaches along a seat's normal, from its point: inward is negative. */
function reach(c: ReturnType<typeof seatedCutter>, normal = up): [number, number] {
  const m = placementMatrix(c.placement);
  const h = shapeSize(c.shape)![2] / 2;
  const at = (z: number) => new THREE.Vector3(0, 0, z).applyMatrix4(m).sub(seat(0).point).dot(normal);
  return [at(-h), at(h)];
}

describe('a new cutter', () => {
  it('has a size that one would type', () => {
    expect([0.87, 2.2, 13.9, 47, 96, 1234].map(roundSize)).toEqual([0.8, 2, 15, 50, 100, 1000]);
  });

  it('goes through thin material and stands proud on both sides', () => {
    const c = seatedCutter('cylinder', 'subtract', seat(20), 75);
    expect(c.shape).toMatchObject({ kind: 'cylinder', diameter: 15, height: 27.5 });
    const [low, high] = reach(c);
    expect(low).toBeCloseTo(-23.75, 1);
    expect(high).toBeCloseTo(3.75, 1);
  });

  it('goes a width into thick material, and as far where the thickness is not known', () => {
    for (const t of [500, null]) expect(reach(seatedCutter('box', 'subtract', seat(t), 75))[0]).toBeCloseTo(-15, 1);
  });

  it('stands out when it adds, with a foot in the part', () => {
    const [low, high] = reach(seatedCutter('cylinder', 'union', seat(500), 75));
    expect([low, high]).toEqual([expect.closeTo(-3.75, 0), expect.closeTo(15, 0)]);
  });

  it('turns its axis to the normal', () => {
    const n = new THREE.Vector3(1, -2, 0.5).normalize();
    const [low, high] = reach(seatedCutter('cylinder', 'subtract', seat(20, n), 75), n);
    expect(low).toBeCloseTo(-23.75, 0);
    expect(high).toBeCloseTo(3.75, 0);
  });

  it('is as wide as was meant, whatever its kind', () => {
    for (const kind of shapeKinds(true)) {
      const [x, y] = shapeSize(seatedCutter(kind, 'subtract', seat(20), 75).shape)!;
      expect(Math.max(x, y), kind).toBeCloseTo(15, 6);
    }
  });
});
