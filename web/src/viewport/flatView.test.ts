import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { flatRay, flatten, isFlat } from './flatView.ts';

/** A camera in front of the origin, 200 mm away. */
function front(): THREE.PerspectiveCamera {
  const c = new THREE.PerspectiveCamera(32, 1.5, 1, 500);
  c.up.set(0, 0, 1);
  c.position.set(0, -200, 0);
  c.lookAt(0, 0, 0);
  c.updateMatrixWorld();
  c.updateProjectionMatrix();
  return c;
}
const seen = (c: THREE.Camera, x: number, y: number, z: number) => new THREE.Vector3(x, y, z).project(c);

describe('a straight-on view', () => {
  it('is one along an axis, and no other', () => {
    expect([new THREE.Vector3(0, -3, 0), new THREE.Vector3(0, -1e-4, 1)].map(isFlat)).toEqual([true, true]);
    expect([new THREE.Vector3(0.01, -1, 0), new THREE.Vector3(1, 1, 1)].map(isFlat)).toEqual([false, false]);
  });

  it('shows what lies behind one another at one place, as large as with perspective at its middle', () => {
    const c = front();
    const before = seen(c, 30, 0, 20);
    expect(seen(c, 30, 60, 20).x).toBeLessThan(before.x - 0.05);
    flatten(c, 200, 120);
    for (const y of [-60, 0, 60]) {
      expect(seen(c, 30, y, 20).x).toBeCloseTo(before.x, 9);
      expect(seen(c, 30, y, 20).y).toBeCloseTo(before.y, 9);
    }
    expect(seen(c, 30, -60, 20).z).toBeLessThan(seen(c, 30, 60, 20).z);
  });

  it('is looked into along parallels', () => {
    const c = front();
    flatten(c, 200, 120);
    const { x, y } = seen(c, 30, 0, 20);
    const r = new THREE.Raycaster();
    r.setFromCamera(new THREE.Vector2(x, y), c);
    const ray = flatRay(r.ray, c, 200, 120);
    expect(ray.direction.distanceTo(new THREE.Vector3(0, 1, 0))).toBeLessThan(1e-9);
    expect(ray.distanceToPoint(new THREE.Vector3(30, -60, 20))).toBeLessThan(1e-6);
    expect(ray.origin.y).toBeCloseTo(-320, 6);
  });
});
