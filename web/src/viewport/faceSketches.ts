import * as THREE from 'three';
import { onPlane, type Point2, type Sketch } from '@dusky-mason/core/shapes';
import { engine } from '../engine/engine.ts';
import type { useProject } from '../stores/project.ts';
import type { PartHit } from './partLayer.ts';

/** The planes of faces of the part as it stands, asked of the worker once each. */
export class FaceSketches {
  private readonly known = new Map<string, Promise<Sketch>>();
  private picture: unknown = null;

  constructor(private readonly store: ReturnType<typeof useProject>) {}

  /** Names a face of the part at hand. */
  key = (hit: PartHit): string => `${this.store.part!.id} ${hit.face}`;

  of(hit: PartHit): Promise<Sketch> {
    if (this.picture !== this.store.picture) {
      this.known.clear();
      this.picture = this.store.picture;
    }
    const key = this.key(hit);
    let asked = this.known.get(key);
    if (!asked) {
      asked = engine()
        .ask({ kind: 'face', part: this.store.part!, face: hit.face })
        .then((a) => a.sketch);
      this.known.set(key, asked);
    }
    return asked;
  }
}

/** Where a ray meets a plane, by the plane's own axes, mm; null where it does not. */
export function rayOnPlane(plane: Sketch, ray: THREE.Ray): Point2 | null {
  const normal = new THREE.Vector3(...plane.axes[2]);
  const flat = new THREE.Plane().setFromNormalAndCoplanarPoint(normal, new THREE.Vector3(...plane.origin));
  const hit = ray.intersectPlane(flat, new THREE.Vector3());
  return hit && onPlane(plane, hit.toArray());
}
