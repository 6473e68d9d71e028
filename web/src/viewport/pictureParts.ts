import * as THREE from 'three';
import { cross, firstTriangle, sub, unit, type Vec3 } from '@dusky-mason/core/mesh';
import type { PartPicture } from '../engine/protocol.ts';

/** Triangles, or lines, of one object at most: what a frame hands to the renderer without being late. */
const PIECE = 1 << 16;
/** Pieces that go into one frame. */
const A_FRAME = 2;

/** Runs of at most `PIECE` out of n things, each from its first to before its last. */
export const runsOf = (n: number): [from: number, to: number][] =>
  Array.from({ length: Math.ceil(n / PIECE) }, (_, i) => [i * PIECE, Math.min(n, (i + 1) * PIECE)]);

/**
 * Work that is parted over frames, so that large pictures block none of them. What is there at once is done at once.
 */
export class FrameWork {
  private waiting: (() => void)[] = [];

  /** Takes work in place of what was left of the last; the first of it is done now. */
  begin(work: (() => void)[]): void {
    this.waiting = work;
    this.step();
  }

  /** Takes more work, behind what is left. */
  add(work: (() => void)[]): void {
    const idle = !this.waiting.length;
    this.waiting.push(...work);
    if (idle) this.step();
  }

  /** Does what goes into one frame; whether there is more. */
  step(): boolean {
    for (let i = 0; i < A_FRAME && this.waiting.length; i++) this.waiting.shift()!();
    return this.waiting.length > 0;
  }
}

/**
 * The ball round all of a picture, for each of its pieces: to look for one of its own takes longer than to draw what
 * cannot be seen.
 */
export const sphereOf = (radius: number): THREE.Sphere => new THREE.Sphere(new THREE.Vector3(), radius);

/** The triangles of a picture from one to before another, in its own frame. */
export function pieceOf({ positions, normals, radius }: PartPicture, from: number, to: number): THREE.BufferGeometry {
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(positions.subarray(9 * from, 9 * to), 3));
  geometry.setAttribute('normal', new THREE.BufferAttribute(normals.subarray(9 * from, 9 * to), 3));
  geometry.boundingSphere = sphereOf(radius);
  return geometry;
}

/** What a ray meets of a picture. */
export interface PictureHit {
  triangle: number;
  distance: number;
  point: THREE.Vector3;
  /** Of the triangle, unit. */
  normal: THREE.Vector3;
}

/** The first triangle of a picture that a ray meets, from either side. */
export function hitOf(p: PartPicture, ray: THREE.Ray): PictureHit | null {
  const origin = ray.origin.toArray();
  const hit = firstTriangle(p.positions, p.tree, sub(origin, p.origin), ray.direction.toArray());
  if (!hit) return null;
  const at = (k: number): Vec3 => {
    const i = 9 * hit.triangle + 3 * k;
    return [p.positions[i]!, p.positions[i + 1]!, p.positions[i + 2]!];
  };
  const normal = unit(cross(sub(at(1), at(0)), sub(at(2), at(0))));
  return { ...hit, point: ray.at(hit.distance, new THREE.Vector3()), normal: new THREE.Vector3(...normal) };
}
