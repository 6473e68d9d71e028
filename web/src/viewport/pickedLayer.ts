import * as THREE from 'three';
import type { PickShape } from '@dusky-mason/core/mend';
import { OCHRE, VERDIGRIS } from '../theme/colours.ts';
import { disposeTree, strongLines } from './lines.ts';

/** Size of a picked vertex on the screen, pixels. */
const DOT = 8;

/**
 * What is picked of the part, over it: edges and boundaries in lines, vertices as dots; and where a stroke has moved
 * vertices.
 */
export class PickedLayer {
  readonly group = new THREE.Group();

  show(shape: PickShape | null, moved: readonly number[] = []): void {
    disposeTree(this.group);
    this.group.clear();
    if (moved.length) this.group.add(strongLines(moved, OCHRE));
    if (!shape) return;
    if (shape.lines.length) this.group.add(strongLines(shape.lines, VERDIGRIS));
    if (!shape.points.length) return;
    const geometry = new THREE.BufferGeometry().setAttribute(
      'position',
      new THREE.BufferAttribute(Float32Array.from(shape.points), 3),
    );
    this.group.add(
      new THREE.Points(
        geometry,
        new THREE.PointsMaterial({ color: VERDIGRIS, size: DOT, sizeAttenuation: false, depthTest: false }),
      ),
    );
  }
}
