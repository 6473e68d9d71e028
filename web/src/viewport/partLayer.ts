import * as THREE from 'three';
import type { Material } from '@dusky-mason/core/courses';
import { LINE_CLASSES } from '@dusky-mason/core/mesh';
import { heatShare, type LookKind, type LookValues } from '@dusky-mason/core/survey';
import type { PartPicture } from '../engine/protocol.ts';

import { disposeTree, edgeLines } from './lines.ts';
import { FrameWork, hitOf, pieceOf, runsOf, sphereOf, type PictureHit } from './pictureParts.ts';
import { classColour, heatColour, markBeyond, partMaterial, type Effects } from './partMaterial.ts';

/**
 * Colours of slots without a look of their own, in the order of their use; all near the part's own, so that shape stays
 * what is seen first.
 */
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

/** Some of the part's triangles, from one on. */
interface Piece {
  mesh: THREE.Mesh;
  from: number;
}

/** The part that is worked on: its faces and its edges. */
export class PartLayer {
  readonly group = new THREE.Group();
  readonly centre = new THREE.Vector3();
  radius = NOTHING;
  private faces: Piece[] = [];
  private materials: THREE.MeshStandardMaterial[] = [];
  private picture: PartPicture | null = null;
  private readonly work = new FrameWork();

  /** Shows a picture, or nothing. Large ones are handed over in pieces: see `step`. */
  show(p: PartPicture | null): void {
    disposeTree(this.group);
    this.group.clear();
    this.faces = [];
    this.untinted.clear();
    this.faded = this.only = null;
    this.picture = p;
    if (!p) {
      this.work.begin([]);
      this.centre.set(0, 0, 0);
      this.radius = NOTHING;
      return;
    }
    this.group.position.set(...p.origin);
    this.centre.set(...p.origin);
    this.radius = p.radius || 1;
    this.materials = Array.from({ length: Math.max(1, p.slots.length) }, () => partMaterial(this.effects));
    this.settleTint();
    this.paint();
    const faces = runsOf(p.faceOfTriangle.length).map(([from, to]) => () => {
      const geometry = pieceOf(p, from, to);
      addSlotGroups(geometry, p.slotOfTriangle.subarray(from, to), this.materials.length);
      const piece = { mesh: new THREE.Mesh(geometry, this.materials), from };
      this.tintPiece(piece);
      this.faces.push(piece);
      this.group.add(piece.mesh);
    });
    const edges = edgeLines(p).map((line) => () => {
      (line as THREE.LineSegments).geometry.boundingSphere = sphereOf(p.radius);
      this.group.add(line);
      this.onlyEdges();
    });
    const small = faces.length <= 1 && edges.length <= LINE_CLASSES.length;
    this.work.begin(small ? [() => [...faces, ...edges].forEach((add) => add())] : [...faces, ...edges]);
  }

  /** Hands over the next pieces of a large picture; whether there is more, for the frame after. */
  step(): boolean {
    return this.work.step();
  }

  private first(ray: THREE.Ray): PictureHit | null {
    return this.picture && hitOf(this.picture, ray);
  }

  /**
   * How far the material goes below a point of the surface, mm, against its normal; null where the ray does not come
   * out again.
   */
  thicknessBelow(point: THREE.Vector3, normal: THREE.Vector3): number | null {
    const inside = 1e-4 * this.radius;
    const from = point.clone().addScaledVector(normal, -inside);
    const out = this.first(new THREE.Ray(from, normal.clone().negate()));
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
    for (const m of this.materials) m.needsUpdate = true;
  }

  /**
   * Coloured by the values of a look, one for each corner of its triangles, those below a limit marked; null for its
   * own colours.
   */
  colourBy(values: LookValues | null, kind: LookKind, below = 0): void {
    this.tint = values && { values, kind, below };
    this.settleTint();
    this.paint();
    this.onlyEdges();
    // A piece without colours would be black.
    for (const { mesh } of this.faces) mesh.visible = false;
    // Those that still wait for the look before get this one in their turn: a slider that is dragged asks faster than
    // pieces are coloured.
    const pieces = this.faces.filter((piece) => !this.untinted.has(piece));
    for (const piece of pieces) this.untinted.add(piece);
    this.work.add(pieces.map((piece) => () => this.tintPiece(piece)));
  }

  /** What of the look at hand fits the picture: values of another picture wait for their own. */
  private settleTint(): void {
    const { tint, picture } = this;
    this.shown = tint && tint.values.values.length === 3 * (picture?.faceOfTriangle.length ?? 0) ? tint : null;
    this.effects.checker =
      (this.shown?.kind === 'checker' && this.shown.values.uvs && this.shown.values.square) || null;
  }

  /** The look as it is shown. */
  private shown: PartLayer['tint'] = null;

  /** Pieces that wait for their colours. */
  private readonly untinted = new Set<Piece>();

  private tintPiece(piece: Piece): void {
    const { mesh, from } = piece;
    this.untinted.delete(piece);
    const { geometry } = mesh;
    mesh.visible = true;
    geometry.deleteAttribute('color');
    geometry.deleteAttribute('squareAt');
    const { shown } = this;
    if (!shown || shown.kind === 'edges') return;
    const corners = geometry.getAttribute('position').count;
    const first = 3 * from;
    if (shown.kind === 'checker') {
      const uvs = shown.values.uvs?.subarray(2 * first, 2 * (first + corners));
      if (uvs && this.effects.checker) geometry.setAttribute('squareAt', new THREE.BufferAttribute(uvs, 2));
      return;
    }
    const colours = new Float32Array(3 * corners);
    for (let i = 0; i < corners; i++) {
      const x = shown.values.values[first + i]!;
      if (shown.kind === 'heat' && x < shown.below) markBeyond(colours, 3 * i);
      else if (shown.kind === 'heat') heatColour(heatShare(shown.values, x), colours, 3 * i);
      else classColour(x, colours, 3 * i);
    }
    geometry.setAttribute('color', new THREE.BufferAttribute(colours, 3));
  }

  /** The edges of faces that are nothing more are left out of a look at edges, and there again. */
  private onlyEdges(): void {
    const only = this.tint?.kind === 'edges';
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
    const kept: number[] = [];
    faceOfTriangle.forEach((f, t) => left.has(f) && kept.push(t));
    const gather = (from: Float32Array) => {
      const out = new Float32Array(9 * kept.length);
      kept.forEach((t, i) => out.set(from.subarray(9 * t, 9 * t + 9), 9 * i));
      return out;
    };
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(gather(positions), 3));
    geometry.setAttribute('normal', new THREE.BufferAttribute(gather(normals), 3));
    this.faded = new THREE.Mesh(
      geometry,
      new THREE.MeshStandardMaterial({ color: SLOT_COLOURS[0], roughness: 0.82, side: THREE.DoubleSide }),
    );
    this.group.add(this.faded);
  }

  private only: ReadonlySet<number> | null = null;

  private paint(): void {
    const pale = this.tint?.kind === 'edges' || !!this.effects.checker;
    const tinted = this.shown?.kind === 'heat' || this.shown?.kind === 'classes';
    this.materials.forEach((m, i) => {
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
    if (!this.picture) return 0;
    const [x, y, z] = this.picture.half;
    const corner = new THREE.Vector3(way.x > 0 ? x : -x, way.y > 0 ? y : -y, way.z > 0 ? z : -z);
    return corner.add(this.group.position).dot(way);
  }

  /** The first hit of a ray. */
  hit(ray: THREE.Ray): PartHit | null {
    const first = this.first(ray);
    if (!this.picture || !first) return null;
    const { point, normal, distance, triangle } = first;
    const { courseOfTriangle, faceOfTriangle } = this.picture;
    return { point, normal, distance, course: courseOfTriangle[triangle] ?? 0, face: faceOfTriangle[triangle] ?? 0 };
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
