import * as THREE from 'three';
import type { ShownFinding } from '@dusky-mason/core/survey';
import { BRICK, OCHRE } from '../theme/colours.ts';
import { disposeTree, overlayLines } from './lines.ts';
import type { Stage } from './stage.ts';

/** Sizes on the screen, pixels. */
const DOT = 7;
const RING = 13;
/** More places than this are not dotted one by one. */
const MOST_DOTS = 600;

/**
 * The places of a finding over the part: its edges or faces in lines, its vertices as dots, a ring round the one that
 * is looked at.
 */
export class FindingLayer {
  readonly group = new THREE.Group();
  private ring: THREE.LineLoop | null = null;
  private at: THREE.Vector3 | null = null;

  constructor(private readonly stage: Stage) {}

  show(f: ShownFinding | null, point: readonly [number, number, number] | null): void {
    disposeTree(this.group);
    this.group.clear();
    this.ring = this.at = null;
    if (f?.lines.length) this.group.add(overlayLines(f.lines, BRICK));
    else if (f) {
      const places = new Float32Array(f.points.subarray(0, 3 * MOST_DOTS));
      const geometry = new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(places, 3));
      this.group.add(
        new THREE.Points(
          geometry,
          new THREE.PointsMaterial({ color: BRICK, size: DOT, sizeAttenuation: false, depthTest: false }),
        ),
      );
    }
    if (!point) return;
    this.at = new THREE.Vector3(...point);
    const circle = Array.from(
      { length: 32 },
      (_, i) => new THREE.Vector3(Math.cos((i * Math.PI) / 16), Math.sin((i * Math.PI) / 16), 0),
    );
    this.ring = new THREE.LineLoop(
      new THREE.BufferGeometry().setFromPoints(circle),
      new THREE.LineBasicMaterial({ color: OCHRE, depthTest: false }),
    );
    this.ring.renderOrder = 8;
    this.group.add(this.ring);
    this.place();
  }

  /** Keeps the ring's size on the screen, and turned to who looks. */
  place(): void {
    if (!this.ring || !this.at) return;
    this.ring.position.copy(this.at);
    this.ring.quaternion.copy(this.stage.camera.quaternion);
    this.ring.scale.setScalar(RING * this.stage.pixelAt(this.at));
  }
}
