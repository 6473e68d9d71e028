import * as THREE from 'three';
import { resizeShape, type Cutter } from '@dusky-mason/core/courses';
import { formatAngle, formatLength, type LengthUnit } from '@dusky-mason/core/units';
import { placementMatrix, type ShapeBox } from './cutterLayer.ts';
import { alongAxis, angleAround, onStep, tidy, turnedBy } from './handleMath.ts';
import { disposeTree } from './lines.ts';
import type { Stage } from './stage.ts';

export type HandleMode = 'slide' | 'turn' | 'resize';
export const HANDLE_MODES: Record<HandleMode, string> = { slide: 'Slide', turn: 'Turn', resize: 'Resize' };

type Axis = 0 | 1 | 2;
const NAMES = ['x', 'y', 'z'] as const;

interface Handle {
  object: THREE.Object3D;
  axis: Axis;
  sign: 1 | -1;
}

/** What a drag does to the cutter, and the number that it shows. */
export interface Dragged {
  cutter: Cutter;
  label: string;
  at: THREE.Vector3;
}

const LIMESTONE = 0xece6dc;
const VERDIGRIS = 0x2f7f79;
const OCHRE = 0xb07a1e;
/** Sizes on the screen, pixels. */
const KNOB = 13;
const POST = 46;

/**
 * Handles on the picked cutter: posts to slide it along its own axes, arcs to turn it, tabs on the sides of its box to resize it. They keep
 * their size on the screen.
 */
export class Handles {
  readonly group = new THREE.Group();
  private list: Handle[] = [];
  private cutter: Cutter | null = null;
  private shape: ShapeBox | null = null;
  private mode: HandleMode = 'slide';
  private hot: Handle | null = null;

  constructor(private readonly stage: Stage) {}

  show(cutter: Cutter | null, shape: ShapeBox | null, mode: HandleMode): void {
    this.cutter = cutter && shape ? cutter : null;
    this.shape = shape;
    if (!this.cutter || mode !== this.mode || !this.list.length) this.build(mode);
    this.place();
  }

  private build(mode: HandleMode): void {
    disposeTree(this.group);
    this.group.clear();
    this.list = [];
    this.mode = mode;
    if (!this.cutter) return;
    for (const axis of [0, 1, 2] as const)
      for (const sign of mode === 'turn' ? ([1] as const) : ([1, -1] as const)) {
        const object = mode === 'turn' ? arc(axis) : mode === 'slide' ? post() : tab();
        this.group.add(object);
        this.list.push({ object, axis, sign });
      }
  }

  /** The frame of the cutter's box: its middle, its unit axes, its half sizes along them, mm. */
  private frame(c: Cutter): { middle: THREE.Vector3; axes: THREE.Vector3[]; half: number[] } {
    const m = placementMatrix(c.placement);
    const axes = [0, 1, 2].map((k) => new THREE.Vector3().setFromMatrixColumn(m, k));
    const half = axes.map((a, k) => (a.length() * this.shape!.size[k]!) / 2);
    axes.forEach((a) => a.normalize());
    return { middle: new THREE.Vector3(...this.shape!.centre).applyMatrix4(m), axes, half };
  }

  /** Puts all handles where they belong for the camera as it stands. */
  place(): void {
    if (!this.cutter) return;
    const { middle, axes, half } = this.frame(this.cutter);
    const pixel = this.stage.pixelAt(middle);
    const radius = Math.max(...half) + 26 * pixel;
    for (const h of this.list) {
      const dir = axes[h.axis]!.clone().multiplyScalar(h.sign);
      const o = h.object;
      o.quaternion.setFromRotationMatrix(new THREE.Matrix4().makeBasis(axes[0]!, axes[1]!, axes[2]!));
      if (this.mode === 'turn') {
        o.position.copy(middle);
        o.scale.setScalar(radius);
        o.children.forEach((c) => c.userData.knob && c.scale.setScalar((KNOB * pixel) / radius));
      } else {
        o.position.copy(middle).addScaledVector(dir, half[h.axis]!);
        o.scale.setScalar(pixel);
        o.quaternion.setFromUnitVectors(new THREE.Vector3(0, 0, 1), dir);
      }
      const colour = h === this.hot ? OCHRE : LIMESTONE;
      o.traverse((x) => x.userData.knob && ((x as THREE.Mesh).material as THREE.MeshBasicMaterial).color.set(colour));
    }
  }

  /** The handle under a ray. */
  private hit(ray: THREE.Ray): Handle | null {
    this.group.updateMatrixWorld(true);
    const caster = new THREE.Raycaster(ray.origin, ray.direction);
    const targets = this.list.flatMap((h) => h.object.children.filter((c) => c.userData.grip));
    const [first] = caster.intersectObjects(targets, false);
    return first ? (this.list.find((h) => h.object === first.object.parent) ?? null) : null;
  }

  /** Marks the handle under the pointer; true when there is one. */
  hover(ray: THREE.Ray): boolean {
    const before = this.hot;
    this.hot = this.cutter ? this.hit(ray) : null;
    if (before !== this.hot) {
      this.place();
      this.stage.redraw();
    }
    return this.hot !== null;
  }

  /** Takes hold of the handle under a ray: a function that says what the cutter is for any later ray; null when there is none. */
  grab(ray: THREE.Ray, unit: LengthUnit): ((ray: THREE.Ray, step: number | null) => Dragged | null) | null {
    const h = this.cutter && this.hit(ray);
    if (!h) return null;
    const start = this.cutter!;
    const { middle, axes, half } = this.frame(start);
    const axis = axes[h.axis]!;
    const pixel = this.stage.pixelAt(middle);
    if (this.mode === 'turn') {
      const [u, v] = [axes[(h.axis + 1) % 3]!, axes[(h.axis + 2) % 3]!];
      const from = angleAround(ray, middle, axis, u, v);
      if (from === null) return null;
      return (r, step) => {
        const to = angleAround(r, middle, axis, u, v);
        if (to === null) return null;
        let degrees = ((to - from + 540) % 360) - 180;
        degrees = step ? onStep(degrees, 15) : Math.round(degrees * 2) / 2;
        const placement = { ...start.placement, turn: turnedBy(start.placement.turn, h.axis, degrees) };
        // About the middle of its box, which need not be its origin.
        placement.position = this.keepMiddle(start, placement, middle);
        return {
          cutter: { ...start, placement },
          label: `${NAMES[h.axis]} ${signed(formatAngle(degrees))}`,
          at: this.tip(h, middle, axes, half, pixel),
        };
      };
    }
    const from = alongAxis(ray, middle, axis);
    if (from === null) return null;
    return (r, step) => {
      const to = alongAxis(r, middle, axis);
      if (to === null) return null;
      const drawn = step ? onStep(to - from, step) : tidy(to - from, pixel);
      return this.mode === 'slide'
        ? this.slid(start, h, axis, drawn, unit)
        : this.resized(start, h, axis, half[h.axis]! * 2, drawn * h.sign, unit);
    };
  }

  private slid(start: Cutter, h: Handle, axis: THREE.Vector3, by: number, unit: LengthUnit): Dragged {
    const p = new THREE.Vector3(...start.placement.position).addScaledVector(axis, by);
    const cutter = {
      ...start,
      placement: { ...start.placement, position: p.toArray().map(clean) as [number, number, number] },
    };
    return { cutter, label: `${NAMES[h.axis]} ${signed(formatLength(by, unit, 2))}`, at: this.side(cutter, h) };
  }

  private resized(start: Cutter, h: Handle, axis: THREE.Vector3, size: number, by: number, unit: LengthUnit): Dragged {
    const to = Math.max(size / 1000, size + by);
    const scale = start.placement.scale ?? [1, 1, 1];
    const own = this.shape!.size[h.axis]! || 1;
    let shape = resizeShape(start.shape, h.axis, to / Math.abs(scale[h.axis]!));
    let placement = start.placement;
    if (shape === start.shape) {
      const k = [...scale] as [number, number, number];
      k[h.axis] = (Math.sign(k[h.axis]!) * to) / own;
      placement = { ...placement, scale: k };
      shape = start.shape;
    }
    // The other side stays where it is.
    const p = new THREE.Vector3(...placement.position).addScaledVector(axis, (h.sign * (to - size)) / 2);
    placement = { ...placement, position: p.toArray().map(clean) as [number, number, number] };
    const cutter = { ...start, shape, placement };
    return {
      cutter,
      label: `${NAMES[h.axis]} ${formatLength(to, unit, 2)}`,
      at: this.side(start, h).addScaledVector(axis, h.sign * (to - size)),
    };
  }

  private keepMiddle(start: Cutter, placement: Cutter['placement'], middle: THREE.Vector3): [number, number, number] {
    const now = new THREE.Vector3(...this.shape!.centre).applyMatrix4(placementMatrix(placement));
    return new THREE.Vector3(...start.placement.position).add(middle).sub(now).toArray().map(clean) as [
      number,
      number,
      number,
    ];
  }

  private side(c: Cutter, h: Handle): THREE.Vector3 {
    const { middle, axes, half } = this.frame(c);
    return middle.addScaledVector(axes[h.axis]!, h.sign * half[h.axis]!);
  }

  private tip(h: Handle, middle: THREE.Vector3, axes: THREE.Vector3[], half: number[], pixel: number): THREE.Vector3 {
    const r = Math.max(...half) + 26 * pixel;
    return middle.clone().addScaledVector(axes[(h.axis + 1) % 3]!, r * 0.7).addScaledVector(axes[(h.axis + 2) % 3]!, r * 0.7); // prettier-ignore
  }
}

const clean = (x: number): number => +x.toFixed(6) + 0;
const signed = (text: string): string => (text.startsWith('-') ? text.replace('-', '− ') : `+ ${text}`);

const plain = (color: number) => new THREE.MeshBasicMaterial({ color, depthTest: false, transparent: true });

function knob(geometry: THREE.BufferGeometry): THREE.Mesh[] {
  const m = new THREE.Mesh(geometry, plain(LIMESTONE));
  m.userData.knob = true;
  m.renderOrder = 11;
  const rim = new THREE.LineSegments(
    new THREE.EdgesGeometry(geometry),
    new THREE.LineBasicMaterial({ color: VERDIGRIS, depthTest: false }),
  );
  rim.renderOrder = 12;
  m.add(rim);
  // An unseen larger body to take hold of: at least 24 pixels.
  const grip = new THREE.Mesh(new THREE.SphereGeometry(KNOB, 8, 6), new THREE.MeshBasicMaterial({ visible: false }));
  grip.userData.grip = true;
  return [m, grip];
}

/** A post with a head, standing out of a side. In pixels, along z. */
function post(): THREE.Group {
  const g = new THREE.Group();
  const [head, grip] = knob(new THREE.OctahedronGeometry(KNOB * 0.62));
  const line = new THREE.Line(
    new THREE.BufferGeometry().setFromPoints([new THREE.Vector3(), new THREE.Vector3(0, 0, POST)]),
    new THREE.LineBasicMaterial({ color: VERDIGRIS, depthTest: false }),
  );
  for (const o of [head!, grip!]) o.position.z = POST;
  g.add(line, head!, grip!);
  return g;
}

/** A flat tab on a side. In pixels. */
function tab(): THREE.Group {
  const g = new THREE.Group();
  const [head, grip] = knob(new THREE.BoxGeometry(KNOB, KNOB, KNOB * 0.5));
  g.add(head!, grip!);
  return g;
}

/** A quarter arc about an axis with a bead in its middle; of radius 1. */
function arc(axis: Axis): THREE.Group {
  const g = new THREE.Group();
  const u = new THREE.Vector3().setComponent((axis + 1) % 3, 1);
  const v = new THREE.Vector3().setComponent((axis + 2) % 3, 1);
  const at = (a: number) => u.clone().multiplyScalar(Math.cos(a)).addScaledVector(v, Math.sin(a));
  const points = Array.from({ length: 25 }, (_, i) => at((i * Math.PI) / 48));
  const line = new THREE.Line(
    new THREE.BufferGeometry().setFromPoints(points),
    new THREE.LineBasicMaterial({ color: VERDIGRIS, depthTest: false }),
  );
  const bead = new THREE.Mesh(new THREE.SphereGeometry(0.5, 12, 8), plain(LIMESTONE));
  bead.userData.knob = bead.userData.grip = true;
  bead.renderOrder = 11;
  bead.position.copy(at(Math.PI / 4));
  g.add(line, bead);
  return g;
}
