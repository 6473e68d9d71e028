import * as THREE from 'three';
import { instancesOf, type Cutter, type Instance } from '@dusky-mason/core/courses';
import { MasonError } from '@dusky-mason/core/mesh';
import type { ShapePicture } from '../stores/shapes.ts';
import { DEEP_VERDIGRIS, SMOKE } from '../theme/colours.ts';
import { placementMatrix } from '../tools/handleMath.ts';
import { disposeTree, kept } from './lines.ts';

/** Light hatching in screen space: a cutter is seen through, and told from the part in black and white too. */
const HATCH = {
  vertexShader: `void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }`,
  fragmentShader: `
    uniform vec3 colour; uniform float strength; uniform float spacing;
    void main() {
      float s = mod(gl_FragCoord.x + gl_FragCoord.y, spacing);
      float line = 1.0 - smoothstep(0.6, 1.4, abs(s - spacing * 0.5));
      gl_FragColor = vec4(mix(colour, vec3(0.96, 0.93, 0.88), line * 0.6), strength * (0.22 + 0.5 * line));
    }`,
};

const hatched = (colour: number, strength: number) =>
  kept(
    new THREE.ShaderMaterial({
      ...HATCH,
      uniforms: { colour: { value: new THREE.Color(colour) }, strength: { value: strength }, spacing: { value: 9 } },
      transparent: true,
      depthWrite: false,
      side: THREE.DoubleSide,
    }),
  );
const HATCHED = { picked: hatched(DEEP_VERDIGRIS, 0.75), other: hatched(SMOKE, 0.5) };

interface Shown {
  group: THREE.Group;
  faces: THREE.Mesh;
  known: ShapePicture;
}

/** More instances of a cutter than this are not drawn: their holes show where they are. */
const MOST_DRAWN = 200;

function shownInstances(c: Cutter): Instance[] {
  try {
    return instancesOf(c.placement, c.repeat)
      .filter((i) => !i.off)
      .slice(0, MOST_DRAWN);
  } catch (e) {
    // Too many of them: the course says so.
    if (e instanceof MasonError) return [{ number: 0, placement: c.placement, off: false }];
    throw e;
  }
}

/** Cutters as smoky hatched bodies with an outline. */
export class CutterLayer {
  readonly group = new THREE.Group();
  /** By cutter and instance. */
  private readonly shown = new Map<string, Shown>();

  /** The box round one of them and its copies, mm; empty where it is not shown. */
  boxOf(cutter: number | null): THREE.Box3 {
    const box = new THREE.Box3();
    for (const [key, s] of this.shown) if (key.startsWith(`${cutter} `)) box.expandByObject(s.group);
    return box;
  }

  /** Shows these cutters; one whose new shape is not known yet keeps its old one until it is. */
  show(
    cutters: readonly Cutter[],
    picked: number | null,
    pictures: (shape: Cutter['shape']) => ShapePicture | undefined,
  ): void {
    const left = new Set(this.shown.keys());
    for (const c of cutters) {
      const known = pictures(c.shape);
      for (const { number, placement } of shownInstances(c)) {
        const key = `${c.id} ${number}`;
        let s = this.shown.get(key);
        if (known && s?.known !== known) {
          if (s) this.remove(key);
          s = this.make(key, c.id, known);
        }
        if (!s) continue;
        left.delete(key);
        s.group.matrix.copy(placementMatrix(placement));
        s.group.matrixWorldNeedsUpdate = true;
        this.paint(s, c.id === picked);
      }
    }
    for (const id of left) this.remove(id);
  }

  private outlined = false;

  /** How cutters are drawn: as bodies, by their outlines only, or not at all. */
  look(as: 'drawn' | 'outlined' | 'hidden'): void {
    this.outlined = as === 'outlined';
    this.group.visible = as !== 'hidden';
    for (const s of this.shown.values()) s.faces.visible = !this.outlined;
  }

  private make(key: string, id: number, known: ShapePicture): Shown {
    const geometry = new THREE.BufferGeometry().setAttribute(
      'position',
      new THREE.BufferAttribute(known.picture.positions, 3),
    );
    const faces = new THREE.Mesh(geometry, HATCHED.other);
    faces.renderOrder = 2;
    // Only the edges that shade as hard: a round cutter is drawn by its rims.
    const hard = known.picture.lines.subarray(6 * known.picture.lineStart[2]!);
    const all = hard.length ? hard : known.picture.lines;
    const lines = new THREE.LineSegments(
      new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(all, 3)),
      new THREE.LineBasicMaterial({ color: SMOKE }),
    );
    lines.renderOrder = 3;
    const hidden = new THREE.LineSegments(
      lines.geometry,
      new THREE.LineBasicMaterial({ color: SMOKE, transparent: true, opacity: 0.3, depthTest: false }),
    );
    const group = new THREE.Group();
    group.matrixAutoUpdate = false;
    group.add(faces, lines, hidden);
    faces.userData.cutter = id;
    faces.visible = !this.outlined;
    this.group.add(group);
    const s = { group, faces, known };
    this.shown.set(key, s);
    return s;
  }

  private paint(s: Shown, picked: boolean): void {
    const [, lines, hidden] = s.group.children as [THREE.Mesh, THREE.LineSegments, THREE.LineSegments];
    for (const l of [lines, hidden]) (l.material as THREE.LineBasicMaterial).color.set(picked ? DEEP_VERDIGRIS : SMOKE);
    (hidden.material as THREE.LineBasicMaterial).opacity = picked ? 0.75 : 0.3;
    s.faces.material = picked ? HATCHED.picked : HATCHED.other;
  }

  private remove(key: string): void {
    const s = this.shown.get(key);
    if (!s) return;
    disposeTree(s.group);
    this.group.remove(s.group);
    this.shown.delete(key);
  }

  /** The nearest cutter on a ray. */
  hit(ray: THREE.Ray): { cutter: number; distance: number } | null {
    this.group.updateMatrixWorld(true);
    const caster = new THREE.Raycaster(ray.origin, ray.direction);
    const [first] = caster.intersectObjects(
      [...this.shown.values()].map((s) => s.faces),
      false,
    );
    return first ? { cutter: first.object.userData.cutter as number, distance: first.distance } : null;
  }
}
