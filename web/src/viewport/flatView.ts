import * as THREE from 'three';

/** A view within this of an axis (cosine) is drawn without perspective: lengths and square corners are true in it. */
const FLAT_VIEW_COS = 1 - 1e-7;

/** Whether a view from a direction (any length) is straight on, and drawn without perspective. */
export const isFlat = (away: THREE.Vector3): boolean =>
  Math.max(...away.toArray().map(Math.abs)) > FLAT_VIEW_COS * away.length();

/**
 * Gives a perspective camera an orthographic projection that is as large as its own at a distance, mm. Its inverse stays
 * that of the perspective, by which controls go on as they are. What lies up to `depth` (mm) nearer is drawn, too.
 */
export function flatten(camera: THREE.PerspectiveCamera, distance: number, depth: number): void {
  const h = distance * Math.tan((camera.fov * Math.PI) / 360);
  const w = h * camera.aspect;
  camera.projectionMatrix.makeOrthographic(-w, w, h, -h, distance - depth, camera.far);
}

/** The ray of a flat view through the place in which a perspective ray meets the plane at a distance, mm. */
export function flatRay(ray: THREE.Ray, camera: THREE.Camera, distance: number, depth: number): THREE.Ray {
  const way = camera.getWorldDirection(new THREE.Vector3());
  const place = ray.at(distance / ray.direction.dot(way), new THREE.Vector3());
  return new THREE.Ray(place.addScaledVector(way, -distance - depth), way);
}
