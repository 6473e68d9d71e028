import * as THREE from 'three';
import {
  addCut,
  addPart,
  drawnCutter,
  drawnRun,
  drawnTurned,
  findPart,
  type Drawn,
  type NewCutter,
  type Part,
  type Project,
} from '@dusky-mason/core/courses';
import { MasonError, type Vec3, sentenceOf } from '@dusky-mason/core/mesh';
import { offPlane, selfCrossing, snapTo, SNAP_NAMES, type Grid, type Point2 } from '@dusky-mason/core/shapes';
import type { CutOperationName } from '../words/operations.ts';
import { engine } from '../engine/engine.ts';
import { Latest } from '../engine/latest.ts';
import type { useNotices } from '../stores/notices.ts';
import type { useProject } from '../stores/project.ts';
import {
  clicked,
  closed,
  dragged,
  moved,
  onPlaneOf,
  operationOf,
  outlineOf,
  problemOf,
  pulled,
  shownRun,
  stepBack,
  tells,
  typed,
  type Draw,
} from '../tools/drawing.ts';
import { turnOfEdge } from '../tools/onFace.ts';
import type { useTools } from '../tools/tools.ts';
import { rayOnPlane, type FaceSketches } from './faceSketches.ts';
import { alongAxis, onStep } from '../tools/handleMath.ts';
import type { PartHit, PartLayer } from './partLayer.ts';
import { SketchLayer } from './sketchLayer.ts';
import type { Stage } from './stage.ts';
import { isSquareTo, standsProud, straightOn, viewSketch } from './viewSketch.ts';

/** The pointer means a spot that is this near, pixels. */
const REACH = 9;
/** Half the size of the mark at such a spot, pixels. */
const MARK = 6;
/**
 * Fewer places than this are a straight drag to the next point; what is drawn by hand is kept to within so many pixels.
 */
const HAND = 6;
/** What is drawn by hand is thinned to within this, pixels. */
const LEAST_PULL = 2.5;

/** Keys that say what the cut will do, while it is pulled. */
export const PULL_KEYS: Record<string, CutOperationName> = {
  r: 'subtract',
  a: 'union',
  o: 'intersect',
  p: 'split',
  l: 'scribe',
  g: 'kerf',
};

export interface Tag {
  text: string;
  at: THREE.Vector3;
}

/** Draws an outline on the part with the pointer or the keyboard, and pulls it to a cutter. */
export class DrawOnPart {
  readonly layer = new SketchLayer();
  /** Set by who shows it: the tag beside the pointer. */
  tag: (tag: Tag | null) => void = () => undefined;
  private wantedFace = '';

  constructor(
    private readonly stage: Stage,
    private readonly part: PartLayer,
    private readonly sketches: FaceSketches,
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
        landed: this.landing(d),
        axis: d.makes === 'turned',
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
    const p = rayOnPlane(d.plane, ray);
    if (!p) return this.tag(null);
    const pixel = this.stage.pixelAt(new THREE.Vector3(...offPlane(d.plane, p)));
    const first = d.kind === 'free' && d.points.length > 2 ? d.points[0]! : null;
    const home = first && Math.hypot(first[0] - p[0], first[1] - p[1]) < REACH * pixel ? first : null;
    const snapped = snapTo(d.plane, p, REACH * pixel, this.tools.grid.shown ? this.grid() : null);
    const axis = d.makes === 'turned' && Math.abs(p[0]) < REACH * pixel;
    const { at, name } = home
      ? { at: home, name: null }
      : axis
        ? { at: [0, snapped.at[1]] as Point2, name: 'axis' as const }
        : snapped;
    const next = moved(d, at);
    this.set(next);
    const words = [tells(next, this.store.project?.unit ?? 'mm'), home ? 'closes' : name && SNAP_NAMES[name]];
    this.tag({ text: words.filter(Boolean).join(' · '), at: new THREE.Vector3(...offPlane(d.plane, at)) });
  }

  /**
   * The plane under the pointer: that of the face; in a straight-on view one square to the view, but for a face that is
   * so itself.
   */
  private findPlane(ray: THREE.Ray): void {
    const { makes } = this.draw!;
    const normal = straightOn(this.stage);
    // What is traced lies in the view, whatever stands before it.
    const hit = makes === 'cut' || !normal ? this.part.hit(ray) : null;
    // Straight on, a surface that bends or leans is drawn on squarely.
    if (hit && (!normal || isSquareTo(normal, hit.normal))) return this.faceOf(hit, ray);
    this.wantedFace = '';
    if (normal)
      this.tools.drawing = onPlaneOf(this.draw!, viewSketch(this.stage, this.part, normal, makes, hit?.point));
  }

  private faceOf(hit: PartHit, ray: THREE.Ray): void {
    const key = this.sketches.key(hit);
    // A fresh drawing has no plane yet, though the pointer is where it was.
    if (key === this.wantedFace && this.draw?.plane) return;
    this.wantedFace = key;
    const now = ray.clone();
    this.sketches.of(hit).then(
      (sketch) => {
        if (this.wantedFace !== key || !this.draw || this.draw.stage !== 'place') return;
        this.tools.drawing = onPlaneOf(this.draw, sketch);
        this.hover(now);
      },
      (e) => this.notices.fail(e),
    );
  }

  /** Pulls to where the pointer is along the normal, or to the face under it. */
  private pullTo(ray: THREE.Ray): void {
    const d = this.draw!;
    const normal = new THREE.Vector3(...d.plane!.axes[2]);
    const foot = new THREE.Vector3(...offPlane(d.plane!, this.middle(d)));
    let depth: number | null;
    if (this.tools.toFace) {
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
    const cut = d.makes === 'cut' ? this.cut(d) : null;
    if (cut) this.store.preview(cut);
    else this.store.dropPreview();
    this.shown = cut && this.store.project;
    const depth = d.pull === 'through' ? 0 : d.pull;
    this.tag({
      text: tells(d, this.store.project?.unit ?? 'mm'),
      at: new THREE.Vector3(...offPlane(d.plane!, this.middle(d), depth)),
    });
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
      const n = findPart((this.from ?? this.store.project)!, this.store.selection.part)?.courses.length ?? 1;
      const made = drawnCutter(d.drawn, d.plane, d.pull, standsProud(d, this.part));
      return { ...made, name: `${made.name} ${n}` };
    } catch (e) {
      if (e instanceof MasonError) return null;
      throw e;
    }
  }

  private landed: { run: string; lines: Float64Array } = { run: '', lines: new Float64Array() };
  private readonly drapes = new Latest<{ run: string; points: Vec3[]; part: Part; direction: Vec3 }>(
    async ({ run, points, part, direction }) => {
      try {
        const { lines } = await engine().ask({ kind: 'drape', part, run: points, direction });
        this.landed = { run, lines };
        if (this.draw) this.refresh();
      } catch {
        // A part that cannot be made has nothing to land on, and says so itself.
      }
    },
    () => undefined,
  );

  /**
   * Where an outline that reaches past its face lands on the part: what is known of it now. It is asked for when it has
   * changed.
   */
  private landing(d: Draw): Float64Array {
    const { points } = shownRun(d);
    const part = findPart((this.from ?? this.store.project)!, this.store.selection.part);
    if (d.makes !== 'cut' || points.length < 3 || !part || !standsProud(d, this.part)) return new Float64Array();
    const run = JSON.stringify([d.plane!.origin, points]);
    if (run !== this.landed.run) {
      const direction = d.plane!.axes[2].map((x) => -x) as [number, number, number];
      this.drapes.request({ run, points: points.map((p) => offPlane(d.plane!, p)), part, direction });
    }
    return this.landed.lines;
  }

  /** The places that the pointer has passed while it was held down on a free outline. */
  private trail: Point2[] = [];

  /** The pointer is held down and moves: a free outline is drawn by hand. */
  drag(ray: THREE.Ray): void {
    const d = this.draw;
    const p = d?.kind === 'free' && d.stage === 'shape' && d.plane ? rayOnPlane(d.plane, ray) : null;
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
    this.set(dragged(d, trail, LEAST_PULL * pixel));
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
    const drawn = next === before && outlineOf(moved(before, p));
    this.set(next);
    if (drawn) this.refuse(before, drawn, p);
    this.settle();
  }

  /** Takes a typed value; the sentence that says what is wrong with it, or null. */
  type(text: string): string | null {
    try {
      const d = typed(this.draw!, text, this.store.project?.unit ?? 'mm');
      if (d.stage === 'pull') this.preview(d);
      else this.set(d);
      this.settle();
      return null;
    } catch (e) {
      return sentenceOf(e);
    }
  }

  /** Enter: the face in the middle of the view, a click at the mark, the outline closed, or the cut made. */
  enter(): void {
    const d = this.draw;
    if (!d) return;
    if (d.stage === 'pull') return this.finish();
    if (!d.plane) return this.move(this.stage.middleRay());
    if (d.kind === 'free' && d.points.length > 2 && !d.bending) return this.close(d);
    if (d.hover) this.at(d.hover);
  }

  private close(d: Draw): void {
    const next = closed(d);
    this.set(next);
    if (next === d) this.refuse(d, { kind: 'free', points: d.points, bows: d.bows }, d.points[0]!);
    this.settle();
  }

  /** Says why an outline cannot be gone on with, where it is. */
  private refuse(d: Draw, drawn: Drawn, at: Point2): void {
    const problem = problemOf(d, drawn);
    const where = problem ? (selfCrossing(drawnRun(drawn)) ?? at) : at;
    this.tag(problem ? { text: problem, at: new THREE.Vector3(...offPlane(d.plane!, where)) } : null);
  }

  /** A profile that is whole becomes a part at once: there is nothing to pull. */
  private settle(): void {
    const d = this.draw;
    if (d?.stage === 'done' && d.drawn && d.plane) this.makePart(drawnTurned(d.drawn, d.plane));
  }

  private makePart({ name, shape, placement }: NewCutter): void {
    const project = this.store.project!;
    this.store.change(`Draw a ${name.toLowerCase()}`, addPart(project, name, shape, 'Body', placement));
    this.stop();
    this.store.select({ part: project.nextId + 1, course: project.nextId });
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
    this.tag({
      text: tells(this.draw!, this.store.project?.unit ?? 'mm'),
      at: new THREE.Vector3(...offPlane(d.plane, this.draw!.hover!)),
    });
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
    else if (d.stage === 'pull' && key === 'f') this.pullToFace();
    else if (d.stage !== 'pull' && key === 'a' && d.kind === 'free') this.set({ ...d, arc: !d.arc });
    else if (d.stage !== 'pull' && key === 'backspace') this.back();
    else if (d.stage !== 'pull' && key === 'o' && d.hover) this.regrid({ origin: [...d.hover] });
    else if (d.stage !== 'pull' && key === 'e' && d.hover && d.plane)
      this.regrid({ turn: turnOfEdge(d.plane, d.hover) ?? this.tools.grid.turn });
    else return false;
    return true;
  }

  pullToFace(): void {
    this.tools.toFace = !this.tools.toFace;
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
    if (d.makes === 'part') {
      const made = this.cutter(d.pull === 'through' ? pulled(d, 0) : d);
      if (made) this.makePart(made);
      return;
    }
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
    this.tools.toFace = false;
  }

  stop(): void {
    this.dropPreview();
    this.tag(null);
    this.wantedFace = '';
    this.set(null);
  }
}
