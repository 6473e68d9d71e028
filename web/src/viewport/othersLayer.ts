import * as THREE from 'three';
import type { PartPicture } from '../engine/protocol.ts';
import { disposeTree } from './lines.ts';

const STONE = 0x9c8f8c;
const LINE = 0x2a2233;

/** The other parts of the project, plain and dim: what the part at hand is fitted to. */
export class OthersLayer {
  readonly group = new THREE.Group();
  private readonly shown = new Map<number, { picture: PartPicture; group: THREE.Group; faces: THREE.Mesh }>();

  /** Shows these parts and no others. */
  show(pictures: ReadonlyMap<number, PartPicture>): void {
    for (const [id, s] of this.shown) if (pictures.get(id) !== s.picture) this.remove(id);
    for (const [id, picture] of pictures) if (!this.shown.has(id)) this.add(id, picture);
  }

  private add(id: number, picture: PartPicture): void {
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(picture.positions, 3));
    geometry.setAttribute('normal', new THREE.BufferAttribute(picture.normals, 3));
    const material = new THREE.MeshStandardMaterial({ color: STONE, roughness: 0.95, side: THREE.DoubleSide, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 }); // prettier-ignore
    const faces = new THREE.Mesh(geometry, material);
    faces.userData.part = id;
    const hard = picture.lines.subarray(6 * picture.lineStart[2]!);
    const lines = new THREE.LineSegments(
      new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(hard, 3)),
      new THREE.LineBasicMaterial({ color: LINE, transparent: true, opacity: 0.35 }),
    );
    const group = new THREE.Group().add(faces, lines);
    group.position.set(...picture.origin);
    this.group.add(group);
    this.shown.set(id, { picture, group, faces });
  }

  private remove(id: number): void {
    const s = this.shown.get(id)!;
    disposeTree(s.group);
    this.group.remove(s.group);
    this.shown.delete(id);
  }

  /** The nearest of them on a ray. */
  hit(ray: THREE.Ray): { part: number; distance: number } | null {
    this.group.updateMatrixWorld(true);
    const caster = new THREE.Raycaster(ray.origin, ray.direction);
    const [first] = caster.intersectObjects([...this.shown.values()].map((s) => s.faces), false); // prettier-ignore
    return first ? { part: first.object.userData.part as number, distance: first.distance } : null;
  }
}
