import * as THREE from 'three';
import { addCut, drawnCutter, findPart, type NewCutter, type Project } from '@dusky-mason/core/courses';
import { MasonError } from '@dusky-mason/core/mesh';
import { offPlane, onPlane, sketchPlane, snapTo, SNAP_NAMES, type Grid, type Point2, type Sketch } from '@dusky-mason/core/shapes'; // prettier-ignore
import type { CutOperationName } from '../components/marks.ts';
import { engine } from '../engine/engine.ts';
import type { useNotices } from '../stores/notices.ts';
import type { useProject } from '../stores/project.ts';
import { clicked, closed, dragged, moved, onPlaneOf, operationOf, outlineOf, pulled, shownRun, stepBack, tells, typed, type Draw } from '../tools/drawing.ts'; // prettier-ignore
import type { useTools } from '../tools/tools.ts';
import { alongAxis, onStep } from './handleMath.ts';
import type { PartHit, PartLayer } from './partLayer.ts';
import { SketchLayer } from './sketchLayer.ts';
import type { Stage } from './stage.ts';

/** The pointer means a spot that is this near, pixels. */
const REACH = 9;
const MARK = 6;
/** Fewer places than this are a straight drag to the next point; what is drawn by hand is kept to within so many pixels. */
const HAND = 6;
const THIN = 2.5;
/** A view within this of an axis is straight on: cosine. */
const STRAIGHT = Math.cos((3 * Math.PI) / 180);

/** Keys that say what the cut will do, while it is pulled. */
export const PULL_KEYS: Record<string, CutOperationName> = { r: 'subtract', a: 'union', o: 'intersect', p: 'split', l: 'scribe', g: 'kerf' }; // prettier-ignore

export interface Tag {
  text: string;
  at: THREE.Vector3;
}

/** Draws an outline on the part with the pointer or the keyboard, and pulls it to a cutter. */
export class DrawOnPart {
  readonly layer = new SketchLayer();
  /** Set by who shows it: the tag beside the pointer. */
  tag: (tag: Tag | null) => void = () => undefined;
  private sketches = new Map<string, Promise<Sketch>>();
  private wantedFace = '';
  private picture: unknown = null;
  private toFace = false;

  constructor(
    private readonly stage: Stage,
    private readonly part: PartLayer,
    private readonly store: ReturnType<typeof useProject>,
    private readonly tools: ReturnType<typeof useTools>,
    private readonly notices: ReturnType<typeof useNotices>,
    private readonly step: () => number,
  ) {}

  private get draw(): Draw | null {
    return this.tools.drawing;
  }

  private set(d: Draw | null): void {
    this.tools.drawing = d;
    this.refresh();
  }

  /** Shows the state as it is. */
  refresh(): void {
    const d = this.draw;
    if (!d?.plane) this.layer.show(null);
    else {
      const { points, closed: whole } = shownRun(d);
      const middle = new THREE.Vector3(...offPlane(d.plane, d.hover ?? [0, 0]));
      const pull = d.stage !== 'pull' ? 0 : d.pull === 'through' ? -this.part.radius : d.pull;
      this.layer.show({
        plane: d.plane,
        grid: this.tools.grid.shown && d.stage !== 'pull' ? this.grid() : null,
        reach: this.part.radius,
        points,
        closed: whole,
        mark: d.stage === 'pull' ? null : d.hover,
        size: MARK * this.stage.pixelAt(middle),
        pull,
      });
    }
    this.stage.redraw();
  }

  private grid = (): Grid => ({ ...this.tools.grid });

  /** The pointer moves over the part. */
  move(ray: THREE.Ray): void {
    const d = this.draw;
    if (!d) return;
    if (d.stage === 'pull') return this.pullTo(ray);
    if (d.stage === 'place') this.findPlane(ray);
    this.hover(ray);
  }

  /** Follows the pointer on the plane that is there. */
  private hover(ray: THREE.Ray): void {
    const d = this.draw;
    if (!d?.plane) return;
    const p = this.onPlane(d.plane, ray);
    if (!p) return this.tag(null);
    const pixel = this.stage.pixelAt(new THREE.Vector3(...offPlane(d.plane, p)));
    const first = d.kind === 'free' && d.points.length > 2 ? d.points[0]! : null;
    const home = first && Math.hypot(first[0] - p[0], first[1] - p[1]) < REACH * pixel ? first : null;
    const { at, name } = home ? { at: home, name: null } : snapTo(d.plane, p, REACH * pixel, this.tools.grid.shown ? this.grid() : null); // prettier-ignore
    const next = moved(d, at);
    this.set(next);
    const words = [tells(next, this.store.project?.unit ?? 'mm'), home ? 'closes' : name && SNAP_NAMES[name]];
    this.tag({ text: words.filter(Boolean).join(' · '), at: new THREE.Vector3(...offPlane(d.plane, at)) });
  }

  private onPlane(plane: Sketch, ray: THREE.Ray): Point2 | null {
    const normal = new THREE.Vector3(...plane.axes[2]);
    const hit = ray.intersectPlane(new THREE.Plane().setFromNormalAndCoplanarPoint(normal, new THREE.Vector3(...plane.origin)), new THREE.Vector3()); // prettier-ignore
    return hit && onPlane(plane, hit.toArray());
  }

  /** The plane under the pointer: that of the face, or where there is none and the view is straight on, one square to the view. */
  private findPlane(ray: THREE.Ray): void {
    const hit = this.part.hit(ray);
    if (hit) return this.faceOf(hit, ray);
    this.wantedFace = '';
    const view = this.viewPlane();
    if (view) this.tools.drawing = onPlaneOf(this.draw!, view);
  }

  private faceOf(hit: PartHit, ray: THREE.Ray): void {
    if (this.picture !== this.store.picture) {
      this.sketches.clear();
      this.picture = this.store.picture;
    }
    const key = `${this.store.part!.id} ${hit.face}`;
    // A fresh drawing has no plane yet, though the pointer is where it was.
    if (key === this.wantedFace && this.draw?.plane) return;
    this.wantedFace = key;
    let asked = this.sketches.get(key);
    if (!asked) {
      asked = engine()
        .ask({ kind: 'face', part: this.store.part!, face: hit.face })
        .then((a) => a.sketch);
      this.sketches.set(key, asked);
    }
    const now = ray.clone();
    asked.then(
      (sketch) => {
        if (this.wantedFace !== key || !this.draw || this.draw.stage !== 'place') return;
        this.tools.drawing = onPlaneOf(this.draw, sketch);
        this.hover(now);
      },
      (e) => this.notices.fail(e),
    );
  }

  /** A plane square to a straight-on view, where the part begins. */
  private viewPlane(): Sketch | null {
    const back = this.stage.camera.getWorldDirection(new THREE.Vector3()).negate();
    const axes = [0, 1, 2].map((k) => new THREE.Vector3().setComponent(k, Math.sign(back.getComponent(k)) || 1));
    const normal = axes.find((a) => a.dot(back) > STRAIGHT);
    if (!normal) return null;
    const right = new THREE.Vector3().setFromMatrixColumn(this.stage.camera.matrixWorld, 0);
    const lead = normal.clone().multiplyScalar(this.part.reach(normal) - this.part.centre.dot(normal));
    const origin = this.part.centre.clone().add(lead);
    return sketchPlane(origin.toArray(), normal.toArray(), right.toArray());
  }

  /** Pulls to where the pointer is along the normal, or to the face under it. */
  private pullTo(ray: THREE.Ray): void {
    const d = this.draw!;
    const normal = new THREE.Vector3(...d.plane!.axes[2]);
    const foot = new THREE.Vector3(...offPlane(d.plane!, this.middle(d)));
    let depth: number | null;
    if (this.toFace) {
      const hit = this.part.hit(ray);
      depth = hit && hit.point.clone().sub(foot).dot(normal);
    } else {
      depth = alongAxis(ray, foot, normal);
      if (depth !== null) depth = onStep(depth, this.step());
    }
    if (depth === null) return;
    this.preview(pulled(d, +depth.toFixed(6) + 0));
  }

  private middle(d: Draw): Point2 {
    const { points } = shownRun(d);
    return [0, 1].map((k) => points.reduce((s, p) => s + p[k]!, 0) / points.length) as Point2;
  }

  private preview(d: Draw): void {
    this.set(d);
    const cut = this.cut(d);
    if (cut) this.store.preview(cut);
    else this.store.dropPreview();
    this.shown = cut && this.store.project;
    const depth = d.pull === 'through' ? 0 : d.pull;
    this.tag({ text: tells(d, this.store.project?.unit ?? 'mm'), at: new THREE.Vector3(...offPlane(d.plane!, this.middle(d), depth)) }); // prettier-ignore
  }

  /** The project with the cut that the drawing makes as it is; null while it makes none. */
  private cut(d: Draw): Project | null {
    this.catchUp();
    const project = this.from ?? this.store.project;
    const cutter = this.cutter(d);
    this.from ??= this.store.project;
    return project && cutter && addCut(project, this.store.selection.part!, cutter, operationOf(d));
  }

  /** Undone, or otherwise changed in the meantime: it goes on from what is there now. */
  private catchUp(): void {
    if (this.shown && this.store.project !== this.shown) this.from = this.shown = null;
  }

  /** The project before anything was shown of the cut. */
  private from: Project | null = null;
  /** The project with the cut, as it was shown last. */
  private shown: Project | null = null;

  private cutter(d: Draw): NewCutter | null {
    if (!d.drawn || !d.plane) return null;
    try {
      const n = findPart((this.from ?? this.store.project)!, this.store.selection.part)!.courses.length;
      const made = drawnCutter(d.drawn, d.plane, d.pull, this.proud(d));
      return { ...made, name: `${made.name} ${n}` };
    } catch (e) {
      if (e instanceof MasonError) return null;
      throw e;
    }
  }

  /** On one flat face an end in it is level. An outline that reaches past its face may stand before a bent surface: it stands proud. */
  private proud(d: Draw): number {
    const [outer] = d.plane!.outlines;
    const { points } = shownRun(d);
    const tol = 1e-6 * this.part.radius;
    if (!outer || points.every((p) => inside(outer, p, tol))) return 0;
    const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
    return Math.min(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)) / 2;
  }

  /** The places that the pointer has passed while it was held down on a free outline. */
  private trail: Point2[] = [];

  /** The pointer is held down and moves: a free outline is drawn by hand. */
  drag(ray: THREE.Ray): void {
    const d = this.draw;
    const p = d?.kind === 'free' && d.stage === 'shape' && d.plane ? this.onPlane(d.plane, ray) : null;
    if (p) this.trail.push(p);
    this.move(ray);
  }

  /** It is let go: what was drawn by hand is taken, or else this is a click. */
  letGo(ray: THREE.Ray): void {
    const d = this.draw;
    const trail = this.trail;
    this.trail = [];
    if (!d?.plane || trail.length < HAND) return this.click(ray);
    const pixel = this.stage.pixelAt(new THREE.Vector3(...offPlane(d.plane, trail[0]!)));
    this.set(dragged(d, trail, THIN * pixel));
  }

  /** A click: the next place of the outline, or the end of the pull. */
  click(ray: THREE.Ray): void {
    const d = this.draw;
    if (!d) return;
    if (d.stage === 'pull') return this.finish();
    this.move(ray);
    if (this.draw?.hover) this.at(this.draw.hover);
  }

  private at(p: Point2): void {
    const before = this.draw!;
    const next = clicked(before, p);
    if (next === before && outlineOf(before)) this.tag(null);
    this.set(next);
  }

  /** Takes a typed value; the sentence that says what is wrong with it, or null. */
  type(text: string): string | null {
    try {
      const d = typed(this.draw!, text, this.store.project?.unit ?? 'mm');
      if (d.stage === 'pull') this.preview(d);
      else this.set(d);
      return null;
    } catch (e) {
      return e instanceof Error ? e.message : String(e);
    }
  }

  /** Enter: the face in the middle of the view, a click at the mark, the outline closed, or the cut made. */
  enter(): void {
    const d = this.draw;
    if (!d) return;
    if (d.stage === 'pull') return this.finish();
    if (!d.plane) return this.move(this.stage.middleRay());
    if (d.kind === 'free' && d.points.length > 2 && !d.bending) return this.set(closed(d));
    if (d.hover) this.at(d.hover);
  }

  /** Moves the mark on the plane by so many steps of the grid. */
  nudge(x: number, y: number): void {
    const d = this.draw;
    if (!d) return;
    const k = this.tools.grid.step;
    if (d.stage === 'pull') return this.preview(pulled(d, (d.pull === 'through' ? 0 : d.pull) + y * this.step()));
    if (!d.plane) return this.enter();
    const [u, v] = d.hover ?? [0, 0];
    this.set(moved(d, [u + x * k, v + y * k]));
    this.tag({ text: tells(this.draw!, this.store.project?.unit ?? 'mm'), at: new THREE.Vector3(...offPlane(d.plane, this.draw!.hover!)) }); // prettier-ignore
  }

  /** What the cut will do, whichever way it is pulled. */
  choose(operation: CutOperationName): void {
    if (this.draw) this.preview({ ...this.draw, operation });
  }

  /** Keys while drawing; whether one was taken. */
  key(e: KeyboardEvent): boolean {
    const d = this.draw;
    if (!d) return false;
    const key = e.key.toLowerCase();
    if (d.stage === 'pull' && PULL_KEYS[key]) this.choose(PULL_KEYS[key]);
    else if (d.stage === 'pull' && key === 't') this.preview(pulled(d, 'through'));
    else if (d.stage === 'pull' && key === 'f') this.toFace = !this.toFace;
    else if (d.stage !== 'pull' && key === 'a' && d.kind === 'free') this.set({ ...d, arc: !d.arc });
    else if (d.stage !== 'pull' && key === 'backspace') this.back();
    else if (d.stage !== 'pull' && key === 'o' && d.hover) this.regrid({ origin: [...d.hover] });
    else if (d.stage !== 'pull' && key === 'e' && d.hover && d.plane)
      this.regrid({ turn: turnOfEdge(d.plane, d.hover) ?? this.tools.grid.turn }); // prettier-ignore
    else return false;
    return true;
  }

  private regrid(change: Partial<Grid>): void {
    this.tools.grid = { ...this.tools.grid, ...change } as typeof this.tools.grid;
    this.refresh();
  }

  /** One step back; drawing ends when there is none left. */
  back(): void {
    const d = this.draw;
    if (!d) return;
    this.dropPreview();
    const before = stepBack(d);
    if (before) this.set(before);
    else this.stop();
  }

  private finish(): void {
    const d = this.draw!;
    this.catchUp();
    const project = this.from ?? this.store.project!;
    const cut = this.cut(d.pull === 0 ? pulled(d, 'through') : d);
    if (!cut) return;
    this.store.change(`Draw ${cut.parts.flatMap((p) => p.courses).at(-1)?.name ?? 'a cut'}`, cut);
    this.store.select({ course: project.nextId, cutter: project.nextId + 1 });
    this.from = null;
    this.stop();
  }

  private dropPreview(): void {
    this.store.dropPreview();
    this.from = this.shown = null;
    this.toFace = false;
  }

  stop(): void {
    this.dropPreview();
    this.tag(null);
    this.wantedFace = '';
    this.set(null);
  }
}

/** Whether a place is in a ring of points or within `tol` of it. */
function inside(ring: readonly Point2[], p: Point2, tol: number): boolean {
  let within = false;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const [a, b] = [ring[i]!, ring[j]!];
    const [ex, ey] = [b[0] - a[0], b[1] - a[1]];
    const t = Math.max(0, Math.min(1, ((p[0] - a[0]) * ex + (p[1] - a[1]) * ey) / (ex * ex + ey * ey || 1)));
    if (Math.hypot(a[0] + t * ex - p[0], a[1] + t * ey - p[1]) <= tol) return true;
    if (a[1] > p[1] !== b[1] > p[1] && p[0] < ((b[0] - a[0]) * (p[1] - a[1])) / (b[1] - a[1]) + a[0]) within = !within;
  }
  return within;
}

/** The turn of the edge that a place lies on, degrees. */
function turnOfEdge(s: Sketch, p: Point2): number | null {
  const edges = s.outlines.flatMap((loop) => loop.map((a, i): [Point2, Point2] => [a, loop[(i + 1) % loop.length]!]));
  const on = edges.find(([a, b]) => {
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
    return Math.hypot(p[0] - a[0], p[1] - a[1]) + Math.hypot(p[0] - b[0], p[1] - b[1]) - length < 1e-6 * length;
  });
  return on ? +((Math.atan2(on[1][1] - on[0][1], on[1][0] - on[0][0]) * 180) / Math.PI).toFixed(6) : null;
}
