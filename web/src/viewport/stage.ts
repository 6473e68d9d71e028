import * as THREE from 'three';
import type { PointerHabits } from '../stores/preferences.ts';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { flatRay, flatten, isFlat } from './flatView.ts';
import { FrameStore } from './frameStore.ts';

/** Directions that a straight-on view looks from. */
export const VIEWS = {
  front: { title: 'Front', from: [0, -1, 0] },
  side: { title: 'Side', from: [1, 0, 0] },
  top: { title: 'Top', from: [0, 0, 1] },
  corner: { title: 'Corner', from: [0.62, -0.78, 0.5] },
} as const;
export type ViewName = keyof typeof VIEWS;

/** Upright, degrees: narrow, so that parallel edges look it. */
const FIELD_OF_VIEW = 32;
/** From where a view without perspective looks, in distances to what it looks at. */
const FAR_EYE = 100;
/** Most shader programs that are held. */
const MOST_PROGRAMS = 64;
/** What is fitted into view is so much smaller than the room there is for it. */
const FIT_MARGIN = 1.02;
/** What lies over the view at its upper and lower edge reaches so far into it, and its sides are kept free, pixels. */
const OVER = 54;
const BESIDE = 14;

/**
 * The renderer, camera and controls. Draws only when something asked for it: `redraw` is cheap to call, and one frame
 * is drawn for any number of calls.
 */
export class Stage {
  readonly scene = new THREE.Scene();
  /** Drawn over everything else: handles. */
  readonly overlay = new THREE.Scene();
  /** What lies on its far side alone is drawn of the scene. */
  section: THREE.Plane | null = null;
  readonly camera = new THREE.PerspectiveCamera(FIELD_OF_VIEW, 1, 0.1, 1000);
  readonly renderer: THREE.WebGLRenderer;
  readonly controls: OrbitControls;
  /** Told before each frame, for what keeps its size on the screen. */
  beforeFrame: () => void = () => undefined;
  /** Told when the scene is drawn and the handles are not yet. */
  sceneDrawn: () => void = () => undefined;
  afterFrame: () => void = () => undefined;
  readonly frames: FrameStore;
  private asked = 0;
  private reach = 100;
  private readonly light: THREE.DirectionalLight;

  constructor(
    readonly canvas: HTMLCanvasElement,
    smooth: boolean,
    card: boolean,
  ) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: false, alpha: true });
    this.renderer.autoClear = false;
    this.frames = new FrameStore(this.renderer.getContext() as WebGL2RenderingContext, smooth, !card);
    // Asking for errors waits for the compiler.
    this.renderer.debug.checkShaderErrors = false;
    this.camera.up.set(0, 0, 1);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.zoomToCursor = true;
    this.controls.enableDamping = false;
    this.controls.addEventListener('change', () => this.redraw());
    const sky = new THREE.HemisphereLight(0xfff4e6, 0x7a6a80, 1.7);
    sky.position.set(0, 0, 1);
    this.scene.add(sky);
    this.light = new THREE.DirectionalLight(0xfff0dd, 2.3);
    this.scene.add(this.light, this.light.target);
  }

  resize(width: number, height: number): void {
    if (!width || !height) return;
    this.renderer.setPixelRatio(Math.min(2, devicePixelRatio));
    this.renderer.setSize(width, height, false);
    this.frames.blank();
    this.camera.aspect = width / height;
    this.project();
    this.redraw();
  }

  redraw(): void {
    this.stale = true;
    // What changes while a frame is drawn goes into the one after it.
    if (this.frames.busy) this.wanted = true;
    else if (!this.asked) this.asked = requestAnimationFrame(() => this.next());
  }

  private next(): void {
    if (!this.frames.busy) return this.frames.turn(() => this.draw());
    // It was asked for while the one before was begun.
    this.asked = 0;
    this.wanted = true;
  }

  /** Whether the camera, or what keeps its size on the screen, may have changed since it was settled. */
  private stale = true;

  /**
   * Sets all that a frame needs of the camera. What is asked of the view before its next frame is asked of where it
   * looks now.
   */
  settle(): void {
    if (!this.stale) return;
    this.stale = false;
    const { distance } = this;
    // Before anything was looked at the distance is 0, and without a near plane there is no projection.
    this.camera.near = Math.max(distance / 200, (distance - 4 * this.reach) / 2, 1e-5 * this.reach);
    this.camera.far = distance + this.depth;
    this.project();
    this.camera.updateMatrixWorld();
    this.beforeFrame();
  }

  /** Whether the view is straight on, and drawn without perspective. */
  private get flat(): boolean {
    return isFlat(this.camera.position.clone().sub(this.controls.target));
  }

  private get distance(): number {
    return this.camera.position.distanceTo(this.controls.target);
  }

  /** How far nearer than its middle the part may reach, mm. */
  private get depth(): number {
    return 6 * this.reach;
  }

  /** Where one looks from, mm: in a straight-on view from very far. */
  get eye(): THREE.Vector3 {
    const { position } = this.camera;
    return this.flat ? position.clone().sub(this.controls.target).multiplyScalar(FAR_EYE).add(position) : position;
  }

  private project(): void {
    this.camera.updateProjectionMatrix();
    if (this.flat) flatten(this.camera, this.distance, this.depth);
  }

  /** Whether another frame was asked for while one was drawn. */
  private wanted = false;

  private draw(): void {
    this.asked = 0;
    this.wanted = false;
    this.stale = true;
    this.settle();
    // The light comes over the viewer's left shoulder, so that no side of the part is ever without shape.
    this.light.position.set(-0.45, 0.6, 1).applyQuaternion(this.camera.quaternion).add(this.controls.target);
    this.light.target.position.copy(this.controls.target);
    this.frames.begin();
    this.renderer.clear();
    this.renderer.clippingPlanes = this.section ? [this.section] : [];
    if (this.wipe) this.drawWiped(this.wipe);
    else this.renderer.render(this.scene, this.camera);
    this.renderer.clippingPlanes = [];
    this.sceneDrawn();
    this.renderer.clearDepth();
    this.renderer.render(this.overlay, this.camera);
    this.keepPrograms();
    this.frames.show(() => {
      this.afterFrame();
      if (this.wanted) this.redraw();
    });
  }

  private readonly programs = new Set<THREE.WebGLProgram>();

  /**
   * Holds shader programs when the last thing that used them goes: with the next change they are wanted again, and
   * compiling takes longer than many frames.
   */
  private keepPrograms(): void {
    for (const p of this.renderer.info.programs ?? []) {
      if (this.programs.size >= MOST_PROGRAMS) return;
      if (this.programs.has(p)) continue;
      this.programs.add(p);
      p.usedTimes++;
    }
  }

  /** What the buttons of a pointer, its wheel and a finger do. */
  habits({ left, wheel, touch }: PointerHabits): void {
    const [turn, shift] = [THREE.MOUSE.ROTATE, THREE.MOUSE.PAN];
    this.controls.mouseButtons = {
      LEFT: left === 'turn' ? turn : shift,
      MIDDLE: THREE.MOUSE.DOLLY,
      RIGHT: left === 'turn' ? shift : turn,
    };
    this.controls.zoomSpeed = wheel === 'towards' ? 1 : -1;
    this.controls.touches =
      touch === 'turn'
        ? { ONE: THREE.TOUCH.ROTATE, TWO: THREE.TOUCH.DOLLY_PAN }
        : { ONE: THREE.TOUCH.PAN, TWO: THREE.TOUCH.DOLLY_ROTATE };
  }

  /**
   * Before and after in one picture: what is shown to the left of a share of the width, and to the right; or in two
   * halves beside each other.
   */
  wipe: { at: number; beside: boolean; show: (side: 'before' | 'after') => void } | null = null;

  /** How much less of the part goes into half of the width, 0 … 1. */
  get halfRoom(): number {
    return Math.min(1, this.camera.aspect / 2) / Math.min(1, this.camera.aspect);
  }

  private drawWiped({ at, beside, show }: NonNullable<Stage['wipe']>): void {
    const { clientWidth: w, clientHeight: h } = this.canvas;
    const split = Math.round(w * (beside ? 0.5 : at));
    this.renderer.setScissorTest(true);
    for (const side of ['before', 'after'] as const) {
      const [x, width] = side === 'before' ? [0, split] : [split, w - split];
      if (width <= 0) continue;
      show(side);
      this.renderer.setScissor(x, 0, width, h);
      if (beside) {
        this.renderer.setViewport(x, 0, width, h);
        this.camera.aspect = width / h;
        this.project();
      }
      this.renderer.render(this.scene, this.camera);
    }
    this.renderer.setScissorTest(false);
    this.renderer.setViewport(0, 0, w, h);
    this.camera.aspect = w / h;
    this.project();
    show('after');
  }

  /** Tells how large the part is, so that near and far planes and steps fit it. */
  setReach(radius: number): void {
    this.reach = Math.max(radius, 1e-3);
    this.controls.minDistance = this.reach * 0.02;
    this.controls.maxDistance = this.reach * 60;
  }

  /** Half the angle (radians) that is free of what lies over the view, the lesser of across and upright. */
  private freeAngle(): number {
    const { clientWidth: w, clientHeight: h } = this.canvas;
    const upright = Math.tan((FIELD_OF_VIEW * Math.PI) / 360);
    const free = (size: number, over: number) => Math.max(0.5, 1 - (2 * over) / (size || 1));
    return Math.atan(upright * Math.min(free(h, OVER), this.camera.aspect * free(w, BESIDE)));
  }

  /** Looks at a sphere from a direction, or from where it looks now. */
  fit(centre: THREE.Vector3, radius: number, from?: readonly number[]): void {
    const half = this.freeAngle();
    const direction = from
      ? new THREE.Vector3(...(from as [number, number, number])).normalize()
      : this.camera.position.clone().sub(this.controls.target).normalize();
    if (!(direction.lengthSq() > 0)) direction.set(0.62, -0.78, 0.5).normalize();
    // With perspective a sphere's outline is seen along tangents; without, along parallels.
    const way = isFlat(direction) ? Math.tan : Math.sin;
    const distance = (FIT_MARGIN * Math.max(radius, 1e-3)) / way(half);
    // Straight down, "up" is undecided: a hair of tilt keeps the y axis upward on the screen.
    if (Math.abs(direction.z) > 0.9999) direction.set(0, -1e-4, direction.z).normalize();
    this.controls.target.copy(centre);
    this.camera.position.copy(centre).addScaledVector(direction, distance);
    this.controls.update();
    this.redraw();
  }

  /**
   * Looks at a place from outside of the surface: from where it stands when that is not behind the place, else along
   * the way out.
   */
  flyTo(point: readonly [number, number, number], way: readonly [number, number, number], reach: number): void {
    const normal = new THREE.Vector3(...way);
    const back = this.camera.position.clone().sub(this.controls.target).normalize();
    const from = back.dot(normal) > 0.35 ? back : normal.addScaledVector(back, 0.5).normalize();
    this.fit(new THREE.Vector3(...point), reach, from.toArray());
  }

  /** Where the camera stands and what it looks at, mm. */
  place(): { position: number[]; target: number[] } {
    return { position: this.camera.position.toArray(), target: this.controls.target.toArray() };
  }

  look(position: readonly number[], target: readonly number[]): void {
    this.camera.position.fromArray([...position]);
    this.controls.target.fromArray([...target]);
    this.controls.update();
    this.redraw();
  }

  /** Turns the camera round its target: degrees to the left and upward. */
  orbit(left: number, up: number): void {
    const offset = this.camera.position.clone().sub(this.controls.target);
    const s = new THREE.Spherical().setFromVector3(new THREE.Vector3(offset.x, offset.z, -offset.y));
    s.theta -= (left * Math.PI) / 180;
    s.phi = Math.max(0.01, Math.min(Math.PI - 0.01, s.phi - (up * Math.PI) / 180));
    const v = new THREE.Vector3().setFromSpherical(s);
    this.camera.position.copy(this.controls.target).add(new THREE.Vector3(v.x, -v.z, v.y));
    this.controls.update();
    this.redraw();
  }

  zoom(factor: number): void {
    this.camera.position.sub(this.controls.target).multiplyScalar(factor).add(this.controls.target);
    this.controls.update();
    this.redraw();
  }

  /** The ray under a place of the canvas, in pixels from its upper left corner. */
  ray(x: number, y: number): THREE.Ray {
    this.settle();
    const r = new THREE.Raycaster();
    // A canvas that has no size yet is asked in its middle.
    const [w, h] = [this.canvas.clientWidth, this.canvas.clientHeight];
    const at = w && h ? new THREE.Vector2((x / w) * 2 - 1, 1 - (y / h) * 2) : new THREE.Vector2();
    r.setFromCamera(at, this.camera);
    return this.flat ? flatRay(r.ray, this.camera, this.distance, this.depth) : r.ray;
  }

  /** The ray through the middle of the canvas. */
  middleRay(): THREE.Ray {
    return this.ray(this.canvas.clientWidth / 2, this.canvas.clientHeight / 2);
  }

  /** Where a point of the scene stands on the canvas, in pixels. */
  onCanvas(p: THREE.Vector3): { x: number; y: number } {
    this.settle();
    const q = p.clone().project(this.camera);
    const { clientWidth: w, clientHeight: h } = this.canvas;
    return { x: ((q.x + 1) / 2) * w, y: ((1 - q.y) / 2) * h };
  }

  /** How long one pixel is at a point of the scene, mm. */
  pixelAt(p: THREE.Vector3): number {
    this.settle();
    const depth = this.flat ? this.distance : -p.clone().applyMatrix4(this.camera.matrixWorldInverse).z;
    return (depth * 2 * Math.tan((FIELD_OF_VIEW * Math.PI) / 360)) / Math.max(1, this.canvas.clientHeight);
  }

  dispose(): void {
    cancelAnimationFrame(this.asked);
    this.frames.dispose();
    this.controls.dispose();
    this.renderer.dispose();
  }
}
