import * as THREE from 'three';
import { placementAffine, type Placement } from '@dusky-mason/core/mesh';

/** What the handles of the picked thing do. */
export type HandleMode = 'slide' | 'turn' | 'resize' | 'points';
export const HANDLE_MODES: Record<HandleMode, string> = {
  slide: 'Slide',
  turn: 'Turn',
  resize: 'Resize',
  points: 'Points',
};

/** Where along a line (origin, unit direction) it comes nearest to a ray; null when the two are nearly parallel. */
export function alongAxis(ray: THREE.Ray, origin: THREE.Vector3, axis: THREE.Vector3): number | null {
  const w = origin.clone().sub(ray.origin);
  const b = axis.dot(ray.direction);
  const d = 1 - b * b;
  // Looked at along the axis, a pixel would mean metres.
  if (d < 1e-4) return null;
  return (b * w.dot(ray.direction) - w.dot(axis)) / d;
}

/**
 * Angle (degrees) of the place where a ray meets the plane through a centre square to an axis, measured from u towards
 * v.
 */
export function angleAround(
  ray: THREE.Ray,
  centre: THREE.Vector3,
  axis: THREE.Vector3,
  u: THREE.Vector3,
  v: THREE.Vector3,
): number | null {
  const slope = ray.direction.dot(axis);
  if (Math.abs(slope) < 1e-3) return null;
  const t = centre.clone().sub(ray.origin).dot(axis) / slope;
  const p = ray.origin.clone().addScaledVector(ray.direction, t).sub(centre);
  return (Math.atan2(p.dot(v), p.dot(u)) * 180) / Math.PI;
}

/** A value on the nearest multiple of a step. */
export const onStep = (x: number, step: number): number => Math.round(x / step) * step;

/** Rounds to what can be told apart on the screen, so that dragged numbers are not fifteen digits long. */
export function tidy(x: number, pixel: number): number {
  const unit = 10 ** Math.floor(Math.log10(Math.max(pixel, 1e-6)));
  return +(Math.round(x / unit) * unit).toFixed(6);
}

/** The matrix of a placement. */
export const placementMatrix = (p: Placement): THREE.Matrix4 =>
  // It is given row by row, and read column by column.
  new THREE.Matrix4().fromArray([...placementAffine(p), 0, 0, 0, 1]).transpose();
