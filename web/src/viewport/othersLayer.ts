import * as THREE from 'three';
import type { PartPicture } from '../engine/protocol.ts';
import { disposeTree } from './lines.ts';
import { FrameWork, hitOf, pieceOf, runsOf } from './pictureParts.ts';

const STONE = 0x9c8f8c;
const LINE = 0x2a2233;

/** The other parts of the project, plain and dim: what the part at hand is fitted to. */
export class OthersLayer {
  readonly group = new THREE.Group();
  private readonly work = new FrameWork();
  private readonly shown = new Map<number, { picture: PartPicture; group: THREE.Group }>();

  /** Shows these parts and no others. */
  show(pictures: ReadonlyMap<number, PartPicture>): void {
    for (const [id, s] of this.shown) if (pictures.get(id) !== s.picture) this.remove(id);
    for (const [id, picture] of pictures) if (!this.shown.has(id)) this.add(id, picture);
  }

  private add(id: number, picture: PartPicture): void {
    const stone = new THREE.MeshStandardMaterial({
      color: STONE,
      roughness: 0.95,
      side: THREE.DoubleSide,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
    });
    const ink = new THREE.LineBasicMaterial({ color: LINE, transparent: true, opacity: 0.35 });
    const group = new THREE.Group();
    group.position.set(...picture.origin);
    const hard = picture.lines.subarray(6 * picture.lineStart[2]!);
    const lines = ([from, to]: [number, number]) =>
      new THREE.BufferGeometry().setAttribute(
        'position',
        new THREE.BufferAttribute(hard.subarray(6 * from, 6 * to), 3),
      );
    this.work.add([
      ...runsOf(picture.faceOfTriangle.length).map(
        ([from, to]) =>
          () =>
            group.add(new THREE.Mesh(pieceOf(picture, from, to), stone)),
      ),
      ...runsOf(hard.length / 6).map((run) => () => group.add(new THREE.LineSegments(lines(run), ink))),
    ]);
    this.group.add(group);
    this.shown.set(id, { picture, group });
  }

  private remove(id: number): void {
    const s = this.shown.get(id)!;
    disposeTree(s.group);
    this.group.remove(s.group);
    this.shown.delete(id);
  }

  /** Hands over the next pieces of large parts; whether there is more, for the frame after. */
  step(): boolean {
    return this.work.step();
  }

  /** The nearest of them on a ray. */
  hit(ray: THREE.Ray): { part: number; distance: number } | null {
    let nearest: { part: number; distance: number } | null = null;
    for (const [part, { picture }] of this.shown) {
      const hit = hitOf(picture, ray);
      if (hit && !(nearest && nearest.distance <= hit.distance)) nearest = { part, distance: hit.distance };
    }
    return nearest;
  }
}
