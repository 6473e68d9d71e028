import * as THREE from 'three';
import type { PartPicture } from '../engine/protocol.ts';
import { disposeTree, edgeLines } from './lines.ts';

/** Colours of slots, in the order of their use; all near the part's own, so that shape stays what is seen first. */
const SLOT_COLOURS = [0xd8ccba, 0xb7aa97, 0xc4b49a, 0xa9a39b, 0xcdb7a5];

/** A hit on the part. */
export interface PartHit {
  point: THREE.Vector3;
  normal: THREE.Vector3;
  course: number;
  /** The number of the face. */
  face: number;
  distance: number;
}

/** The part that is worked on: its faces and its edges. */
export class PartLayer {
  readonly group = new THREE.Group();
  readonly centre = new THREE.Vector3();
  radius = 1;
  private faces: THREE.Mesh | null = null;
  private picture: PartPicture | null = null;

  /** Shows a picture, or nothing. */
  show(p: PartPicture | null): void {
    disposeTree(this.group);
    this.group.clear();
    this.faces = null;
    this.picture = p;
    if (!p) return;
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(p.positions, 3));
    geometry.setAttribute('normal', new THREE.BufferAttribute(p.normals, 3));
    addSlotGroups(geometry, p.slotOfTriangle);
    geometry.computeBoundingSphere();
    const materials = SLOT_COLOURS.map(
      (color) =>
        new THREE.MeshStandardMaterial({
          color, roughness: 0.82, metalness: 0.02, side: THREE.DoubleSide, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1,
        }),
    ); // prettier-ignore
    this.faces = new THREE.Mesh(geometry, materials);
    this.group.position.set(...p.origin);
    this.group.add(this.faces, ...edgeLines(p));
    this.seeThrough(this.glass);
    const s = geometry.boundingSphere!;
    this.centre.copy(s.center).add(this.group.position);
    this.radius = s.radius || 1;
  }

  private hits(ray: THREE.Ray): THREE.Intersection[] {
    if (!this.faces) return [];
    this.group.updateMatrixWorld();
    return new THREE.Raycaster(ray.origin, ray.direction).intersectObject(this.faces, false);
  }

  /** How far the material goes below a point of the surface, mm, against its normal; null where the ray does not come out again. */
  thicknessBelow(point: THREE.Vector3, normal: THREE.Vector3): number | null {
    const inside = 1e-4 * this.radius;
    const from = point.clone().addScaledVector(normal, -inside);
    const [out] = this.hits(new THREE.Ray(from, normal.clone().negate()));
    return out ? out.distance + inside : null;
  }

  private glass = false;

  /** Whether what lies behind the part shows through it. */
  seeThrough(glass: boolean): void {
    this.glass = glass;
    for (const m of (this.faces?.material ?? []) as THREE.MeshStandardMaterial[]) {
      m.transparent = glass;
      m.opacity = glass ? 0.4 : 1;
      m.depthWrite = !glass;
      m.needsUpdate = true;
    }
  }

  /** How far the part's box reaches along a direction, from the origin, mm. */
  reach(way: THREE.Vector3): number {
    if (!this.faces) return 0;
    const geometry = this.faces.geometry;
    if (!geometry.boundingBox) geometry.computeBoundingBox();
    const { min, max } = geometry.boundingBox!;
    const corner = new THREE.Vector3(way.x > 0 ? max.x : min.x, way.y > 0 ? max.y : min.y, way.z > 0 ? max.z : min.z);
    return corner.add(this.group.position).dot(way);
  }

  /** The first hit of a ray. */
  hit(ray: THREE.Ray): PartHit | null {
    const [first] = this.hits(ray);
    if (!this.picture) return null;
    if (!first?.face) return null;
    return {
      point: first.point,
      normal: first.face.normal.clone(),
      course: this.picture.courseOfTriangle[first.faceIndex!] ?? 0,
      face: this.picture.faceOfTriangle[first.faceIndex!] ?? 0,
      distance: first.distance,
    };
  }
}

/** One draw group a run of triangles of one slot. */
function addSlotGroups(geometry: THREE.BufferGeometry, slots: Uint16Array): void {
  let from = 0;
  for (let t = 1; t <= slots.length; t++) {
    if (t < slots.length && slots[t] === slots[from]) continue;
    geometry.addGroup(3 * from, 3 * (t - from), slots[from]! % SLOT_COLOURS.length);
    from = t;
  }
}
