import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { newShape, Shape, shapeKinds, shapeSize } from '@dusky-mason/core/courses';
import type { Placement } from '@dusky-mason/core/mesh';
import { placementMatrix } from './handleMath.ts';
import { roundSize, seatedCutter, stampedCutter, type StampSettings } from './placing.ts';

const up = new THREE.Vector3(0, 0, 1);
const body: Placement = { position: [0, 0, 0], turn: [0, 0, 0] };
const seat = (thickness: number | null, normal = up) => ({
  point: new THREE.Vector3(10, 20, 30),
  normal,
  thickness,
  body,
});

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

  it('stands upright all round a bent wall, and square on a level face', () => {
    for (const a of [0.3, 1.1, 2, 3.6, 5]) {
      const n = new THREE.Vector3(Math.cos(a), Math.sin(a), 0);
      const m = placementMatrix(seatedCutter('box', 'subtract', seat(20, n), 75).placement);
      expect(new THREE.Vector3(0, 1, 0).transformDirection(m).z).toBeCloseTo(1, 6);
    }
    const flat = seatedCutter('box', 'subtract', seat(20), 75);
    expect(flat.placement.turn).toEqual([0, 0, 0]);
  });

  it('opens to the outside as a cone that takes away, and ends in its tip as one that adds', () => {
    expect(seatedCutter('cone', 'subtract', seat(500), 75).shape).toMatchObject({ foot: 0, top: 15 });
    expect(seatedCutter('cone', 'union', seat(500), 75).shape).toMatchObject({ foot: 15, top: 0 });
  });

  it('is as wide as was meant, whatever its kind', () => {
    for (const kind of shapeKinds(true)) {
      const [x, y] = shapeSize(seatedCutter(kind, 'subtract', seat(20), 75).shape)!;
      expect(Math.max(x, y), kind).toBeCloseTo(15, 6);
    }
  });
});

describe('a cutter of the rack is stamped', () => {
  const item = { name: 'Seat', shape: newShape('plate') };
  const plain: StampSettings = { turn: 0, size: 1, depth: null };
  const at = (
    settings: Partial<typeof plain & { depth: number | null }>,
    operation: 'subtract' | 'union' = 'subtract',
  ) => stampedCutter(item, operation, seat(500), { ...plain, ...settings }, null);

  it('half in where no depth is typed; else its end in the face: beneath it or, when it adds, on it', () => {
    for (const operation of ['subtract', 'union'] as const)
      expect(reach(at({}, operation))).toEqual([expect.closeTo(-10, 6), expect.closeTo(10, 6)]);
    expect(reach(at({ depth: 20 }))).toEqual([expect.closeTo(-20, 6), expect.closeTo(0, 6)]);
    expect(reach(at({ depth: 20 }, 'union'))).toEqual([expect.closeTo(0, 6), expect.closeTo(20, 6)]);
  });

  it('turned, larger and as deep as was typed, its end in the face all the same', () => {
    const c = at({ turn: 30, size: 2, depth: 5 });
    expect(reach(c)).toEqual([expect.closeTo(-5, 6), expect.closeTo(0, 6)]);
    expect(c.placement.scale).toEqual([2, 2, 1]);
    expect(c.shape).toMatchObject({ z: 5 });
    expect(c.placement.turn[2]).toBeCloseTo(30, 6);
  });

  it('a mesh by its box, wherever its origin is', () => {
    const mesh = { name: 'Casting', shape: Shape.parse({ kind: 'mesh', hash: 'abcdef012345', title: 'Casting' }) };
    const c = stampedCutter(
      mesh,
      'subtract',
      seat(500),
      { ...plain, depth: 4 },
      { size: [10, 10, 8], centre: [0, 0, 3] },
    );
    expect(c.placement.scale![2]).toBeCloseTo(0.5, 9);
    // From −1 to 7 before its scale: halved and shifted until its end is in the face.
    const top = new THREE.Vector3(0, 0, 7).multiplyScalar(0.5).z + (c.placement.position[2] - seat(500).point.z);
    expect(top).toBeCloseTo(0, 6);
  });
});
