import * as THREE from 'three';
import type { Placed, Project } from '@dusky-mason/core/courses';
import type { LengthUnit } from '@dusky-mason/core/units';
import { heldOf, type Held } from '../stores/held.ts';
import type { usePicks } from '../stores/picks.ts';
import type { useProject } from '../stores/project.ts';
import type { useTools } from '../tools/tools.ts';
import type { AreaPick } from './areaPick.ts';
import type { CutterLayer } from './cutterLayer.ts';
import type { DragOnPart } from './dragOnPart.ts';
import type { DrawOnPart, Tag } from './drawOnPart.ts';
import type { Follow, Handles } from './handles.ts';
import type { OthersLayer } from './othersLayer.ts';
import type { PartHit, PartLayer } from './partLayer.ts';
import type { PickOnPart } from './pickOnPart.ts';
import type { PlaceOnPart } from './placeOnPart.ts';
import type { Stage } from './stage.ts';
import type { ViewHelps } from './viewHelps.ts';

/** A pointer that moved less than this between down and up was a click, pixels. */
const CLICK = 4;
const WORDS = { slide: 'Slide', turn: 'Turn', resize: 'Resize', points: 'Reshape' } as const;

export interface PointerParts {
  canvas: HTMLCanvasElement;
  stage: Stage;
  part: PartLayer;
  cutters: CutterLayer;
  others: OthersLayer;
  handles: Handles;
  placer: PlaceOnPart;
  drawer: DrawOnPart;
  picker: PickOnPart;
  dragger: DragOnPart;
  picks: ReturnType<typeof usePicks>;
  areas: AreaPick;
  helps: ViewHelps;
  store: ReturnType<typeof useProject>;
  tools: ReturnType<typeof useTools>;
  /** Whether cutters are shown. */
  cutting(): boolean;
  step(): number;
  unit(): LengthUnit;
  tag(tag: Tag | null): void;
}

interface Drag {
  follow: Follow;
  held: Held;
  /** The project before it began; of a copy, with the copy in it. */
  from: Project;
  copy: number | null;
  now: Placed | null;
}

type At = { x: number; y: number };

/** The pointer in the view: a handle is dragged, the view is turned, a click picks, places, draws. */
export class Pointer {
  private down: At | null = null;
  private drag: Drag | null = null;
  /** While an outline is drawn: what the press was. The first place is taken at once, so that one may drag to the second. */
  private pressed: 'first' | 'next' | null = null;

  constructor(private readonly its: PointerParts) {}

  get dragging(): boolean {
    return this.drag !== null || this.its.areas.active || this.its.dragger.active;
  }

  private at(e: PointerEvent): At {
    const r = this.its.canvas.getBoundingClientRect();
    return { x: e.clientX - r.left, y: e.clientY - r.top };
  }

  private capture(e: PointerEvent): void {
    e.stopImmediatePropagation();
    this.its.stage.controls.enabled = false;
    this.its.canvas.setPointerCapture(e.pointerId);
  }

  press(e: PointerEvent): void {
    if (e.button !== 0) return;
    const { stage, tools, handles, store } = this.its;
    const p = this.at(e);
    this.down = p;
    if (tools.drawing) return this.pressDrawing(e, p);
    if (tools.dragging || (tools.freehand && tools.picking)) {
      // Empty ground turns the view.
      if (this.its.dragger.press(p)) this.capture(e);
      return;
    }
    if (this.its.picks.on && this.its.picks.by !== 'click' && !tools.busy) {
      this.capture(e);
      return this.its.areas.begin(p, e);
    }
    const held = tools.busy ? null : heldOf(store);
    const grabbed = held && handles.grab(stage.ray(p.x, p.y), this.its.unit());
    if (!held || !grabbed || !store.project) return;
    this.capture(e);
    tools.axis = grabbed.axis;
    const copied = e.ctrlKey || e.metaKey ? held.copied(store.project, held.placed) : null;
    this.drag = {
      follow: grabbed.follow,
      held,
      from: store.project,
      copy: copied ? store.project.nextId : null,
      now: null,
    };
  }

  private pressDrawing(e: PointerEvent, p: At): void {
    const { stage, tools, drawer, canvas } = this.its;
    const ray = stage.ray(p.x, p.y);
    drawer.move(ray);
    // Empty ground turns the view.
    if (!tools.drawing?.plane || !tools.drawing.hover) return;
    this.pressed = tools.drawing.points.length ? 'next' : 'first';
    this.capture(e);
    canvas.focus();
    if (this.pressed === 'first') drawer.click(ray);
  }

  move(e: PointerEvent): void {
    const { stage, tools, drawer, placer, picker, handles, canvas } = this.its;
    const p = this.at(e);
    const ray = stage.ray(p.x, p.y);
    if (this.its.areas.active) return this.its.areas.move(p);
    if (this.its.dragger.active) return this.its.dragger.move(p);
    if (this.drag) return this.follow(ray, e.shiftKey ? this.its.step() : null, tools.aboutMiddle !== e.altKey);
    if (tools.drawing && (this.pressed || !e.buttons)) return this.pressed ? drawer.drag(ray) : drawer.move(ray);
    if (e.buttons) return;
    if (tools.dragging) return;
    if (tools.picking) picker.move(ray);
    else if (tools.placing) canvas.style.cursor = placer.hover(ray) ? 'crosshair' : 'not-allowed';
    else canvas.style.cursor = handles.hover(ray) ? 'grab' : '';
  }

  private follow(ray: THREE.Ray, step: number | null, both: boolean): void {
    const drag = this.drag!;
    const d = drag.follow(ray, { step, both });
    if (!d) return;
    drag.now = d.placed;
    this.its.store.preview(this.dragged(drag));
    this.its.tag({ text: d.label, at: d.at });
  }

  private dragged = ({ held, from, copy, now }: Drag): Project =>
    copy === null ? held.put(from, now!) : held.copied(from, now!)!;

  release(e: PointerEvent): void {
    const { stage, tools, drawer } = this.its;
    if (!this.down) return;
    const p = this.at(e);
    const still = Math.hypot(p.x - this.down.x, p.y - this.down.y) < CLICK;
    this.down = null;
    if (this.its.areas.active) {
      stage.controls.enabled = true;
      return this.its.areas.end(true);
    }
    if (this.drag || this.its.dragger.active) return this.endDrag(true);
    if (this.pressed) {
      stage.controls.enabled = true;
      if (this.pressed === 'next' || !still) drawer.letGo(stage.ray(p.x, p.y));
      this.pressed = null;
      return;
    }
    if (!tools.drawing && still) this.click(stage.ray(p.x, p.y), e);
  }

  endDrag(keep: boolean): void {
    const { drag } = this;
    if (!keep && this.its.areas.active) this.its.areas.end(false);
    if (this.its.dragger.active) this.its.dragger.end(keep);
    const { store, tools, stage, tag } = this.its;
    this.drag = null;
    tag(null);
    stage.controls.enabled = true;
    if (!drag) return;
    if (!keep || !drag.now) return store.dropPreview();
    store.change(`${drag.copy === null ? WORDS[tools.handles] : 'Copy'} ${drag.held.name}`, this.dragged(drag));
    if (drag.copy !== null) store.select({ cutter: drag.copy });
  }

  private click(ray: THREE.Ray, keys: { shiftKey: boolean; altKey: boolean }): void {
    const { part, cutters, others, placer, picker, picks, store, tools } = this.its;
    const onPart = part.hit(ray);
    if (onPart) this.noteFace(ray, onPart);
    if (tools.dragging || (tools.freehand && tools.picking)) return;
    if (tools.picking) return void picker.click(ray);
    if (tools.placing) return this.placed(placer.click(ray));
    if (picks.on) {
      const how = keys.altKey ? 'drop' : keys.shiftKey ? 'add' : 'only';
      if (onPart) void picks.act({ do: 'click', face: onPart.face, point: onPart.point.toArray(), how });
      else if (how === 'only') picks.clear();
      return;
    }
    const onCutter = this.its.cutting() ? cutters.hit(ray) : null;
    const other = others.hit(ray);
    const nearest = Math.min(onPart?.distance ?? Infinity, onCutter?.distance ?? Infinity);
    if (other && other.distance < nearest) return store.select({ part: other.part });
    if (onCutter && onCutter.cutter !== store.selection.cutter) return store.select({ cutter: onCutter.cutter });
    if (onCutter && (!onPart || onCutter.distance < onPart.distance)) return;
    store.select({ course: onPart?.course ?? null });
  }

  /** As a click in the middle of the view. */
  clickMiddle(keys: { shiftKey: boolean; altKey: boolean }): void {
    this.click(this.its.stage.middleRay(), keys);
  }

  /** What one may look straight at, or seat something on. */
  private noteFace({ direction }: THREE.Ray, hit: PartHit): void {
    const { helps, tools, store } = this.its;
    const normal = hit.normal
      .clone()
      .multiplyScalar(-Math.sign(hit.normal.dot(direction)) || 1)
      .normalize();
    helps.normal = normal;
    tools.face = { part: store.selection.part!, point: hit.point.toArray(), normal: normal.toArray() };
  }

  /** After a cutter was placed the keys are the view's again. */
  placed = (done: boolean): void => void (done && this.its.canvas.focus());
}
