import * as THREE from 'three';
import { disposeTree } from './lines.ts';

const LIMESTONE = 0xece6dc;
const VERDIGRIS = 0x2f7f79;
const OCHRE = 0xb07a1e;
/** Sizes on the screen, pixels. */
export const KNOB = 13;
const POST = 46;

const plain = (color: number) => new THREE.MeshBasicMaterial({ color, depthTest: false, transparent: true });
const thin = () => new THREE.LineBasicMaterial({ color: VERDIGRIS, depthTest: false });

/** A visible knob, and an unseen larger body to take hold of: at least 24 pixels. */
function knob(geometry: THREE.BufferGeometry, grip = KNOB): THREE.Mesh[] {
  const m = new THREE.Mesh(geometry, plain(LIMESTONE));
  m.userData.knob = true;
  m.renderOrder = 11;
  const rim = new THREE.LineSegments(new THREE.EdgesGeometry(geometry), thin());
  rim.renderOrder = 12;
  m.add(rim);
  const hold = new THREE.Mesh(new THREE.SphereGeometry(grip, 8, 6), new THREE.MeshBasicMaterial({ visible: false }));
  hold.userData.grip = true;
  return [m, hold];
}

/** A post with a head, standing out of a side. In pixels, along z. */
export function post(): THREE.Group {
  const g = new THREE.Group();
  const [head, grip] = knob(new THREE.OctahedronGeometry(KNOB * 0.62));
  const ends = [new THREE.Vector3(), new THREE.Vector3(0, 0, POST)];
  const line = new THREE.Line(new THREE.BufferGeometry().setFromPoints(ends), thin());
  for (const o of [head!, grip!]) o.position.z = POST;
  g.add(line, head!, grip!);
  return g;
}

/** A flat tab on a side. In pixels. */
export const tab = (): THREE.Group => new THREE.Group().add(...knob(new THREE.BoxGeometry(KNOB, KNOB, KNOB * 0.5)));

/** A flat round puck, square to z. In pixels. */
export const puck = (): THREE.Group =>
  new THREE.Group().add(...knob(new THREE.CylinderGeometry(KNOB * 0.8, KNOB * 0.8, KNOB * 0.35, 20).rotateX(Math.PI / 2))); // prettier-ignore

/** A square dot for a point; a lesser one to bend a piece by. In pixels. */
export const dot = (bend: boolean): THREE.Group =>
  new THREE.Group().add(...knob(bend ? new THREE.OctahedronGeometry(KNOB * 0.36) : new THREE.BoxGeometry(KNOB * 0.62, KNOB * 0.62, KNOB * 0.62), KNOB * 0.9)); // prettier-ignore

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

/** Marks a handle as the one under the pointer, or not. */
export function paint(o: THREE.Object3D, hot: boolean): void {
  o.traverse((x) => x.userData.knob && ((x as THREE.Mesh).material as THREE.MeshBasicMaterial).color.set(hot ? OCHRE : LIMESTONE)); // prettier-ignore
}

/** Takes all handles out of a group. */
export function clearHandles(group: THREE.Group): void {
  disposeTree(group);
  group.clear();
}
