import * as THREE from 'three';
import { DEEP_OCHRE, DEEP_VERDIGRIS, LIMESTONE } from '../theme/colours.ts';
import { disposeTree } from './lines.ts';

/** Sizes on the screen, pixels. */
export const KNOB = 13;
const POST = 46;

const plain = (color: number) => new THREE.MeshBasicMaterial({ color, depthTest: false, transparent: true });
const thin = () => new THREE.LineBasicMaterial({ color: DEEP_VERDIGRIS, depthTest: false });

interface Shape {
  body: THREE.BufferGeometry;
  rim: THREE.BufferGeometry;
  grip: THREE.BufferGeometry;
}

/** Shapes of knobs by their names: made once, as looking for their rims takes long. */
const made = new Map<string, Shape>();

/** A visible knob, and an unseen larger body to take hold of: at least 24 pixels. */
function knob(name: string, make: () => THREE.BufferGeometry, reach = KNOB): THREE.Mesh[] {
  let shape = made.get(name);
  if (!shape) {
    const body = make();
    shape = { body, rim: new THREE.EdgesGeometry(body), grip: new THREE.SphereGeometry(reach, 8, 6) };
    made.set(name, shape);
  }
  const m = new THREE.Mesh(shape.body, plain(LIMESTONE));
  m.userData.knob = true;
  m.renderOrder = 11;
  const rim = new THREE.LineSegments(shape.rim, thin());
  rim.renderOrder = 12;
  m.add(rim);
  const hold = new THREE.Mesh(shape.grip, new THREE.MeshBasicMaterial({ visible: false }));
  hold.userData.grip = true;
  return [m, hold];
}

/** A post with a head, standing out of a side. In pixels, along z. */
export function post(): THREE.Group {
  const g = new THREE.Group();
  const [head, grip] = knob('post', () => new THREE.OctahedronGeometry(KNOB * 0.62));
  const ends = [new THREE.Vector3(), new THREE.Vector3(0, 0, POST)];
  const line = new THREE.Line(new THREE.BufferGeometry().setFromPoints(ends), thin());
  for (const o of [head!, grip!]) o.position.z = POST;
  g.add(line, head!, grip!);
  return g;
}

/** A flat tab on a side. In pixels. */
export const tab = (): THREE.Group =>
  new THREE.Group().add(...knob('tab', () => new THREE.BoxGeometry(KNOB, KNOB, KNOB * 0.5)));

/** A flat round puck, square to z. In pixels. */
export const puck = (): THREE.Group => {
  const disc = () => new THREE.CylinderGeometry(KNOB * 0.8, KNOB * 0.8, KNOB * 0.35, 20).rotateX(Math.PI / 2);
  return new THREE.Group().add(...knob('puck', disc));
};

/** A square dot for a point; a lesser one to bend a piece by. In pixels. */
export function dot(bend: boolean): THREE.Group {
  const side = KNOB * 0.62;
  const body = () => (bend ? new THREE.OctahedronGeometry(KNOB * 0.36) : new THREE.BoxGeometry(side, side, side));
  return new THREE.Group().add(...knob(bend ? 'bend' : 'point', body, KNOB * 0.9));
}

/** A round bead for a setting. In pixels. */
export function bead(): THREE.Group {
  const [core, grip] = knob('bead', () => new THREE.SphereGeometry(KNOB * 0.45, 16, 10));
  const ring = new THREE.Mesh(new THREE.SphereGeometry(KNOB * 0.7, 16, 10), plain(DEEP_VERDIGRIS));
  ring.renderOrder = 10;
  return new THREE.Group().add(ring, core!, grip!);
}

/** A line between two places that are set later. */
export function leader(): THREE.Line {
  const ends = new THREE.BufferAttribute(new Float32Array(6), 3);
  const line = new THREE.Line(new THREE.BufferGeometry().setAttribute('position', ends), thin());
  line.frustumCulled = false;
  line.renderOrder = 10;
  return line;
}

/** A quarter arc about an axis with a bead in its middle; of radius 1. */
export function arc(axis: 0 | 1 | 2): THREE.Group {
  const g = new THREE.Group();
  const u = new THREE.Vector3().setComponent((axis + 1) % 3, 1);
  const v = new THREE.Vector3().setComponent((axis + 2) % 3, 1);
  const at = (a: number) => u.clone().multiplyScalar(Math.cos(a)).addScaledVector(v, Math.sin(a));
  const points = Array.from({ length: 25 }, (_, i) => at((i * Math.PI) / 48));
  const line = new THREE.Line(new THREE.BufferGeometry().setFromPoints(points), thin());
  const bead = new THREE.Mesh(new THREE.SphereGeometry(0.5, 12, 8), plain(LIMESTONE));
  bead.userData.knob = bead.userData.grip = true;
  bead.renderOrder = 11;
  bead.position.copy(at(Math.PI / 4));
  g.add(line, bead);
  return g;
}

/**
 * Makes the shapes of the first handles that are wanted, ahead of that moment: of all that happens then they would take
 * the longest.
 */
export function prepareHandles(): void {
  post();
  puck();
}

/** Marks a handle as the one under the pointer, or not. */
export function paint(o: THREE.Object3D, hot: boolean): void {
  o.traverse(
    (x) =>
      x.userData.knob &&
      ((x as THREE.Mesh).material as THREE.MeshBasicMaterial).color.set(hot ? DEEP_OCHRE : LIMESTONE),
  );
}

/** Removes all handles from a group. */
export function clearHandles(group: THREE.Group): void {
  disposeTree(group);
  group.clear();
}
