import * as THREE from 'three';
import type { Material } from '@dusky-mason/core/courses';
import { heatShare, type LookKind, type LookValues } from '@dusky-mason/core/survey';
import type { PartPicture } from '../engine/protocol.ts';
import { disposeTree, edgeLines } from './lines.ts';
import { CLASS_COLOURS, heatColour, MARKED, partMaterial, type Effects } from './partMaterial.ts';

/** Colours of slots without a look of their own, in the order of their use; all near the part's own, so that shape stays what is seen first. */
const SLOT_COLOURS = [0xd8ccba, 0xb7aa97, 0xc4b49a, 0xa9a39b, 0xcdb7a5];

/** Radius of what is looked at while there is no part, mm. */
const NOTHING = 100;

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
  radius = NOTHING;
  private faces: THREE.Mesh | null = null;
  private picture: PartPicture | null = null;

  /** Shows a picture, or nothing. */
  show(p: PartPicture | null): void {
    disposeTree(this.group);
    this.group.clear();
    this.faces = this.faded = this.only = null;
    this.picture = p;
    if (!p) {
      this.centre.set(0, 0, 0);
      this.radius = NOTHING;
      return;
    }
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(p.positions, 3));
    geometry.setAttribute('normal', new THREE.BufferAttribute(p.normals, 3));
    addSlotGroups(geometry, p.slotOfTriangle, Math.max(1, p.slots.length));
    geometry.computeBoundingSphere();
    const count = Math.max(1, p.slots.length);
    const materials = Array.from({ length: count }, () => partMaterial(this.effects));
    this.faces = new THREE.Mesh(geometry, materials);
    this.group.position.set(...p.origin);
    this.group.add(this.faces, ...edgeLines(p));
    this.applyTint();
    this.paint();
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

  private looks: readonly Material[] = [];

  /** How slots look; the usual look for those that are not named. */
  wear(looks: readonly Material[]): void {
    this.looks = looks;
    this.paint();
  }

  /** Whether what lies behind the part shows through it. */
  seeThrough(glass: boolean): void {
    this.glass = glass;
    this.paint();
  }

  private effects: Effects = { bands: false, checker: null };
  private tint: { values: LookValues; kind: LookKind; below: number } | null = null;

  /** Light bands over it, or none. */
  bands(on: boolean): void {
    if (this.effects.bands === on) return;
    this.effects.bands = on;
    for (const m of (this.faces?.material ?? []) as THREE.MeshStandardMaterial[]) m.needsUpdate = true;
  }

  /** Coloured by the values of a look, one for each corner of its triangles, those below a limit marked; null for its own colours. */
  colourBy(values: LookValues | null, kind: LookKind, below = 0): void {
    this.tint = values && { values, kind, below };
    this.applyTint();
    this.paint();
  }

  private applyTint(): void {
    const geometry = this.faces?.geometry;
    if (!geometry) return;
    geometry.deleteAttribute('color');
    geometry.deleteAttribute('squareAt');
    this.effects.checker = null;
    const { tint } = this;
    const corners = geometry.getAttribute('position').count;
    this.onlyEdges(tint?.kind === 'edges');
    if (!tint || tint.values.values.length !== corners || tint.kind === 'edges') return;
    if (tint.kind === 'checker') {
      const { uvs, square } = tint.values;
      if (!uvs || !square) return;
      geometry.setAttribute('squareAt', new THREE.BufferAttribute(uvs, 2));
      this.effects.checker = square;
      return;
    }
    const colours = new Float32Array(3 * corners);
    tint.values.values.forEach((x, i) => {
      if (tint.kind === 'heat' && x < tint.below) MARKED.toArray(colours, 3 * i);
      else if (tint.kind === 'heat') heatColour(heatShare(tint.values, x), colours, 3 * i);
      else CLASS_COLOURS[x % CLASS_COLOURS.length]!.toArray(colours, 3 * i);
    });
    geometry.setAttribute('color', new THREE.BufferAttribute(colours, 3));
  }

  /** The edges of faces that are nothing more are left out, or there again. */
  private onlyEdges(only: boolean): void {
    for (const line of this.group.children) if (line.userData.plain) line.visible = !only;
  }

  private faded: THREE.Mesh | null = null;

  /** All but some faces fade; null shows all of them again. */
  fade(left: ReadonlySet<number> | null): void {
    if (this.faded) {
      disposeTree(this.faded);
      this.group.remove(this.faded);
      this.faded = null;
    }
    this.only = left;
    this.paint();
    if (!left?.size || !this.picture) return;
    const { positions, normals, faceOfTriangle } = this.picture;
    const kept = [...faceOfTriangle.keys()].filter((t) => left.has(faceOfTriangle[t]!));
    const gather = (from: Float32Array) => Float32Array.from({ length: 9 * kept.length }, (_, i) => from[9 * kept[Math.floor(i / 9)]! + (i % 9)]!); // prettier-ignore
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(gather(positions), 3));
    geometry.setAttribute('normal', new THREE.BufferAttribute(gather(normals), 3));
    this.faded = new THREE.Mesh(geometry, new THREE.MeshStandardMaterial({ color: SLOT_COLOURS[0], roughness: 0.82, side: THREE.DoubleSide })); // prettier-ignore
    this.group.add(this.faded);
  }

  private only: ReadonlySet<number> | null = null;

  private paint(): void {
    const pale = this.tint?.kind === 'edges' || !!this.effects.checker;
    const tinted = !!this.faces?.geometry.getAttribute('color');
    ((this.faces?.material ?? []) as THREE.MeshStandardMaterial[]).forEach((m, i) => {
      m.vertexColors = tinted;
      const look = this.looks.find((l) => l.slot === this.picture?.slots[i]);
      if (tinted || pale) m.color.set(0xf4eee4);
      else m.color.set(look?.colour ?? SLOT_COLOURS[i % SLOT_COLOURS.length]!);
      m.roughness = look?.roughness ?? 0.82;
      m.metalness = look?.metal ?? 0.02;
      m.opacity = (look?.opacity ?? 1) * (this.only ? 0.12 : this.glass ? 0.4 : 1);
      m.transparent = m.opacity < 1;
      m.depthWrite = !m.transparent;
      m.needsUpdate = true;
    });
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
function addSlotGroups(geometry: THREE.BufferGeometry, slots: Uint16Array, count: number): void {
  let from = 0;
  for (let t = 1; t <= slots.length; t++) {
    if (t < slots.length && slots[t] === slots[from]) continue;
    geometry.addGroup(3 * from, 3 * (t - from), slots[from]! % count);
    from = t;
  }
}
