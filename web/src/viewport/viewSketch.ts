import * as THREE from 'three';
import { sketchPlane, type Sketch } from '@dusky-mason/core/shapes';
import { shownRun, type Draw } from '../tools/drawing.ts';
import { inside } from '../tools/onFace.ts';
import { STRAIGHT_VIEW_COS } from './pictureLayer.ts';
import type { PartLayer } from './partLayer.ts';
import type { Stage } from './stage.ts';

/** In such a view a face within this of square to it is drawn on itself: cosine. */
const LEVEL_FACE_COS = Math.cos((0.1 * Math.PI) / 180);

/** The direction that a straight-on view looks from, unit; null for any other view. */
export function straightOn(stage: Stage): THREE.Vector3 | null {
  stage.settle();
  const back = stage.camera.getWorldDirection(new THREE.Vector3()).negate();
  const axes = [0, 1, 2].map((k) => new THREE.Vector3().setComponent(k, Math.sign(back.getComponent(k)) || 1));
  return axes.find((a) => a.dot(back) > STRAIGHT_VIEW_COS) ?? null;
}

/** Whether a face (by its normal) lies square to a straight-on view. */
export const isSquareTo = (view: THREE.Vector3, normal: THREE.Vector3): boolean =>
  normal.clone().normalize().dot(view) >= LEVEL_FACE_COS;

/**
 * A plane square to a straight-on view: at a place of the surface, else where the part begins; through the origin for
 * what becomes a part of its own.
 */
export function viewSketch(
  stage: Stage,
  part: PartLayer,
  normal: THREE.Vector3,
  makes: Draw['makes'],
  surface?: THREE.Vector3,
): Sketch {
  const right = new THREE.Vector3().setFromMatrixColumn(stage.camera.matrixWorld, 0);
  const depth = surface ? surface.dot(normal) : part.reach(normal);
  const lead = normal.clone().multiplyScalar(depth - part.centre.dot(normal));
  const origin = makes === 'cut' ? part.centre.clone().add(lead) : new THREE.Vector3();
  return sketchPlane(origin.toArray(), normal.toArray(), right.toArray());
}

/**
 * How far the cutter of a drawing stands out of its plane, mm: 0 within one flat face, as an end in it is level. An
 * outline that reaches past its face may stand before a bent surface; one drawn on a plane in the view clears what
 * stands before that.
 */
export function standsProud(d: Draw, part: PartLayer): number {
  const { origin, axes, boundaries } = d.plane!;
  const [outer] = boundaries;
  const { points } = shownRun(d);
  const tol = 1e-6 * part.radius;
  if (outer && points.every((p) => inside(outer, p, tol))) return 0;
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  const half = Math.min(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)) / 2;
  if (outer) return half;
  const normal = new THREE.Vector3(...axes[2]);
  const before = part.reach(normal) - new THREE.Vector3(...origin).dot(normal);
  if (before <= tol) return 0;
  return d.pull === 'through' || d.pull < 0 ? before + half : half;
}
