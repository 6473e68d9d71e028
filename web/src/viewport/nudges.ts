import * as THREE from 'three';
import type { Cutter } from '@dusky-mason/core/courses';
import { placementMatrix } from '../tools/handleMath.ts';

export type Way = readonly [number, number, number];

/** Keys that move what is picked along its own axes. */
export const NUDGES: Record<string, Way> = {
  ArrowRight: [1, 0, 0],
  ArrowLeft: [-1, 0, 0],
  ArrowUp: [0, 1, 0],
  ArrowDown: [0, -1, 0],
  PageUp: [0, 0, 1],
  PageDown: [0, 0, -1],
};
/** Keys that turn the view: degrees to the left and upward. */
export const ORBITS: Record<string, readonly [number, number]> = {
  ArrowRight: [10, 0],
  ArrowLeft: [-10, 0],
  ArrowUp: [0, 10],
  ArrowDown: [0, -10],
};

/** A cutter moved along its own axes by a step, mm. */
export function nudged(c: Cutter, way: Way, step: number): Cutter {
  const by = new THREE.Vector3(...way).transformDirection(placementMatrix(c.placement)).multiplyScalar(step);
  const position = new THREE.Vector3(...c.placement.position)
    .add(by)
    .toArray()
    .map((x) => +x.toFixed(6) + 0);
  return { ...c, placement: { ...c.placement, position: position as [number, number, number] } };
}
