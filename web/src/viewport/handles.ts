import * as THREE from 'three';
import {
  bentThrough,
  isPointed,
  movedBy,
  pieceMiddle,
  pointPlace,
  pointPlane,
  resizedTo,
  slidAlong,
  slidTo,
  turnCentre,
  turnedAbout,
  withPoint,
  type Placed,
  type Pointed,
} from '@dusky-mason/core/courses';
import type { Point2 } from '@dusky-mason/core/shapes';
import { formatAngle, formatLength, type LengthUnit } from '@dusky-mason/core/units';
import type { ShapeBox } from '../stores/shapes.ts';
import { alongAxis, angleAround, onStep, placementMatrix, tidy, type HandleMode } from '../tools/handleMath.ts';
import { arc, clearHandles, dot, KNOB, paint, post, puck, tab } from './handleShapes.ts';
import type { Stage } from './stage.ts';
import type { SurfaceBelow } from './surfaceBelow.ts';

type Axis = 0 | 1 | 2;
const NAMES = ['x', 'y', 'z'] as const;

interface Handle {
  object: THREE.Object3D;
  kind: 'post' | 'tab' | 'arc' | 'puck' | 'point' | 'bend';
  axis: Axis;
  sign: 1 | -1;
  /** Of a point, or of the piece after it. */
  at: number;
}

/** What a drag does to what is held, and the number that it shows. */
export interface Dragged {
  /** Null while it is not known yet. */
  placed: Placed | null;
  label: string;
  at: THREE.Vector3;
}

/** How a drag is meant: to steps of so many mm (and 15°), or freely; with both sides moving, or one. */
export interface DragWish {
  step: number | null;
  both: boolean;
}

export type Follow = (ray: THREE.Ray, wish: DragWish) => Dragged | null;

/** A handle whose axis is nearer to the line of sight than this (cosine) has no use. */
const END_ON_COS = 0.985;
/** Handles of an outline with more points than this are not shown. */
const MOST_POINTS = 120;
const vec = (p: readonly number[]) => new THREE.Vector3(p[0], p[1], p[2]);
const arr = (p: THREE.Vector3): [number, number, number] => [p.x, p.y, p.z];

/**
 * Handles on what is picked: posts to slide it along its own axes and a puck to slide it over the surface, arcs to turn
 * it, tabs on the sides of its box to resize it, dots on the points of its outline. They keep their size on the screen.
 */
export class Handles {
  readonly group = new THREE.Group();
  private list: Handle[] = [];
  private held: Placed | null = null;
  private box: ShapeBox | null = null;
  private mode: HandleMode = 'slide';
  private built = '';
  private hot: Handle | null = null;

  constructor(
    private readonly stage: Stage,
    private readonly surface: SurfaceBelow,
  ) {}

  /** Shows the handles of something; `slides` is whether there is a surface below it to slide over. */
  show(held: Placed | null, box: ShapeBox | null, mode: HandleMode, slides = false): void {
    this.held = held && box ? held : null;
    this.box = box;
    this.mode = mode === 'points' && held && !isPointed(held.shape) ? 'slide' : mode;
    const points = this.held && isPointed(this.held.shape) ? this.held.shape.points.length : 0;
    const wanted = this.held ? `${this.mode} ${slides} ${this.mode === 'points' ? points : ''}` : '';
    if (wanted !== this.built) this.build(wanted, slides);
    this.place();
  }

  private build(wanted: string, slides: boolean): void {
    clearHandles(this.group);
    this.list = [];
    this.built = wanted;
    this.hot = null;
    if (!this.held) return;
    const put = (kind: Handle['kind'], object: THREE.Object3D, rest: Partial<Handle> = {}) => {
      this.group.add(object);
      this.list.push({ object, kind, axis: 2, sign: 1, at: 0, ...rest });
    };
    if (this.mode === 'points') {
      const { points } = this.held.shape as Pointed;
      if (points.length > MOST_POINTS) return;
      points.forEach((_, at) => put('bend', dot(true), { at }));
      points.forEach((_, at) => put('point', dot(false), { at }));
      return;
    }
    for (const axis of [0, 1, 2] as const) {
      if (this.mode === 'turn') put('arc', arc(axis), { axis });
      else
        for (const sign of [1, -1] as const)
          put(this.mode === 'slide' ? 'post' : 'tab', this.mode === 'slide' ? post() : tab(), { axis, sign });
    }
    if (this.mode === 'slide' && slides) put('puck', puck());
  }

  /** The frame of the box: its middle, its unit axes, its half sizes along them, mm. */
  private frame(c: Placed, box: ShapeBox): { middle: THREE.Vector3; axes: THREE.Vector3[]; half: number[] } {
    const m = placementMatrix(c.placement);
    const axes = [0, 1, 2].map((k) => new THREE.Vector3().setFromMatrixColumn(m, k));
    const half = axes.map((a, k) => (a.length() * box.size[k]!) / 2);
    axes.forEach((a) => a.normalize());
    return { middle: vec(box.centre).applyMatrix4(m), axes, half };
  }

  private centreOf = (c: Placed): THREE.Vector3 => vec(turnCentre(c, this.box!));

  /** Puts all handles where they belong for the camera as it stands. */
  place(): void {
    if (!this.held) return;
    const { middle, axes, half } = this.frame(this.held, this.box!);
    const pixel = this.stage.pixelAt(middle);
    const radius = Math.max(...half) + 26 * pixel;
    const centre = this.centreOf(this.held);
    for (const h of this.list) {
      const o = h.object;
      const dir = axes[h.axis]!.clone().multiplyScalar(h.sign);
      if (h.kind === 'arc') {
        o.quaternion.setFromRotationMatrix(new THREE.Matrix4().makeBasis(axes[0]!, axes[1]!, axes[2]!));
        o.position.copy(centre);
        o.scale.setScalar(radius);
        o.children.forEach((c) => c.userData.knob && c.scale.setScalar((KNOB * pixel) / radius));
      } else {
        if (h.kind === 'point' || h.kind === 'bend') o.position.copy(this.dotPlace(this.held, h));
        else o.position.copy(middle).addScaledVector(dir, h.kind === 'puck' ? 0 : half[h.axis]!);
        o.scale.setScalar(this.stage.pixelAt(o.position));
        o.quaternion.setFromUnitVectors(new THREE.Vector3(0, 0, 1), dir);
      }
      // Looked at along its axis, a post or tab would only stand before the others.
      const view = o.position.clone().sub(this.stage.eye).normalize();
      o.visible = (h.kind !== 'post' && h.kind !== 'tab') || Math.abs(view.dot(dir)) < END_ON_COS;
      paint(o, h === this.hot);
    }
  }

  private dotPlace(c: Placed, h: Handle): THREE.Vector3 {
    const s = c.shape as Pointed;
    const p = h.kind === 'point' ? s.points[h.at]! : pieceMiddle(s, h.at);
    return vec(pointPlace(s, p)).applyMatrix4(placementMatrix(c.placement));
  }

  /** The handle under a ray: of several that of a point, then the nearest. */
  private hit(ray: THREE.Ray): Handle | null {
    this.group.updateMatrixWorld(true);
    const caster = new THREE.Raycaster(ray.origin, ray.direction);
    const targets = this.list
      .filter((h) => h.object.visible)
      .flatMap((h) => h.object.children.filter((c) => c.userData.grip));
    const found = caster
      .intersectObjects(targets, false)
      .map((x) => this.list.find((h) => h.object === x.object.parent)!);
    return found.find((h) => h.kind === 'point') ?? found[0] ?? null;
  }

  /** Marks the handle under the pointer; true when there is one. */
  hover(ray: THREE.Ray): boolean {
    const before = this.hot;
    this.hot = this.held ? this.hit(ray) : null;
    if (before !== this.hot) {
      this.place();
      this.stage.redraw();
    }
    return this.hot !== null;
  }

  /**
   * Takes hold of the handle under a ray: a function that gives the held thing for any later ray, and the axis that it
   * goes along; null when there is none.
   */
  grab(ray: THREE.Ray, unit: LengthUnit): { axis: Axis; follow: Follow } | null {
    const h = this.held && this.hit(ray);
    if (!h) return null;
    const [start, box] = [this.held!, this.box!];
    const follow = this.followed(h, start, box, ray, unit);
    return follow && { axis: h.axis, follow };
  }

  private followed(h: Handle, start: Placed, box: ShapeBox, ray: THREE.Ray, unit: LengthUnit): Follow | null {
    const { middle, axes, half } = this.frame(start, box);
    const axis = axes[h.axis]!;
    if (h.kind === 'puck') return this.overSurface(start, middle, axis);
    if (h.kind === 'point' || h.kind === 'bend') return this.ofPoint(h, start, unit);
    if (h.kind === 'arc') {
      const centre = this.centreOf(start);
      const [u, v] = [axes[(h.axis + 1) % 3]!, axes[(h.axis + 2) % 3]!];
      const from = angleAround(ray, centre, axis, u, v);
      if (from === null) return null;
      const tip = centre
        .clone()
        .addScaledVector(u, half[(h.axis + 1) % 3]!)
        .addScaledVector(v, half[(h.axis + 2) % 3]!);
      return (r, { step }) => {
        const to = angleAround(r, centre, axis, u, v);
        if (to === null) return null;
        const by = ((to - from + 540) % 360) - 180;
        const degrees = step ? onStep(by, 15) : Math.round(by * 2) / 2;
        return {
          placed: turnedAbout(start, h.axis, degrees, arr(centre)),
          label: `${NAMES[h.axis]} ${signed(formatAngle(degrees))}`,
          at: tip,
        };
      };
    }
    const pixel = this.stage.pixelAt(middle);
    const from = alongAxis(ray, middle, axis);
    if (from === null) return null;
    return (r, { step, both }) => {
      const to = alongAxis(r, middle, axis);
      if (to === null) return null;
      const by = step ? onStep(to - from, step) : tidy(to - from, pixel);
      if (h.kind === 'post') {
        const at = middle.clone().addScaledVector(axis, by + h.sign * half[h.axis]!);
        return {
          placed: slidAlong(start, h.axis, by),
          label: slideLabel(h.axis, by, unit),
          at,
        };
      }
      const size = Math.max(2e-3 * half[h.axis]!, 2 * half[h.axis]! + by * h.sign * (both ? 2 : 1));
      const at = middle.clone().addScaledVector(axis, h.sign * half[h.axis]! + by);
      const placed = resizedTo(start, box, h.axis, both ? 0 : h.sign, size);
      return { placed, label: `${NAMES[h.axis]} ${formatLength(size, unit, 2)}`, at };
    };
  }

  /** Slides over the surface below, as soon as that is read: it keeps its depth and its angle to it. */
  private overSurface(start: Placed, middle: THREE.Vector3, axis: THREE.Vector3): Follow | null {
    let seat = this.surface.along(middle, axis);
    if (!seat && !this.surface.isComing) return null;
    return (r) => {
      seat ??= this.surface.along(middle, axis);
      if (!seat) return { placed: null, label: 'reading the surface…', at: middle };
      const to = this.surface.hit(r);
      if (!to) return null;
      const placed = slidTo(start, seat, to);
      return { placed, label: 'over the surface', at: vec(to.point) };
    };
  }

  /** Moves a point of the outline, or bends a piece of it, in the outline's own plane. */
  private ofPoint(h: Handle, start: Placed, unit: LengthUnit): Follow {
    const shape = start.shape as Pointed;
    const m = placementMatrix(start.placement);
    const back = m.clone().invert();
    const { origin, right, up } = pointPlane(shape);
    const local = (r: THREE.Ray): Point2 | null => {
      const o = r.clone().applyMatrix4(back);
      const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(vec(right).cross(vec(up)), vec(origin));
      const p = o.intersectPlane(plane, new THREE.Vector3())?.sub(vec(origin));
      return p ? [p.dot(vec(right)), p.dot(vec(up))] : null;
    };
    const pixel = this.stage.pixelAt(this.dotPlace(start, h));
    return (r, { step }) => {
      const p = local(r);
      if (!p) return null;
      const [x, y] = p.map((v) => (step ? onStep(v, step) : tidy(v, pixel))) as Point2;
      // A profile stays on its side of the axis.
      const at: Point2 = shape.kind === 'turned' ? [Math.max(0, x), y] : [x, y];
      const next = h.kind === 'point' ? withPoint(shape, h.at, { x: at[0], y: at[1] }) : bentThrough(shape, h.at, at);
      const words =
        h.kind === 'point'
          ? `${formatLength(at[0], unit, 2)}, ${formatLength(at[1], unit, 2)}`
          : `bow ${formatLength(next.bows[h.at]!, unit, 2)}`;
      const placed = keptInPlace({ ...start, shape: next }, start);
      return { placed, label: words, at: vec(pointPlace(next, at)).applyMatrix4(placementMatrix(placed.placement)) };
    };
  }
}

/**
 * A shape whose points were changed may be made round another middle: the points that did not move stay where they are.
 */
function keptInPlace(next: Placed, before: Placed): Placed {
  const where = (c: Placed) => vec(pointPlace(c.shape as Pointed, [0, 0])).applyMatrix4(placementMatrix(c.placement));
  return movedBy(next, arr(where(before).sub(where(next))));
}

/** How far something was slid along an axis, as it is shown beside the pointer. */
export const slideLabel = (axis: Axis, by: number, unit: LengthUnit): string =>
  `${NAMES[axis]} ${signed(formatLength(by, unit, 2))}`;

const signed = (text: string): string => (text.startsWith('-') ? text.replace('-', '− ') : `+ ${text}`);

/**
 * What a typed value of the handles does: slides or turns by it along an own axis, or makes the size along it that
 * long.
 */
export function byTyped(c: Placed, box: ShapeBox, mode: HandleMode, axis: Axis, value: number, both: boolean): Placed {
  if (mode === 'turn') return turnedAbout(c, axis, value, turnCentre(c, box));
  if (mode === 'resize') return resizedTo(c, box, axis, both ? 0 : 1, value);
  return slidAlong(c, axis, value);
}
