import type * as THREE from 'three';
import type { usePicks } from '../stores/picks.ts';
import type { useProject } from '../stores/project.ts';
import type { useTools } from '../tools/tools.ts';
import type { PartHit } from './partLayer.ts';
import type { PickOnPart } from './pickOnPart.ts';
import type { PlaceOnPart } from './placeOnPart.ts';
import type { Stage } from './stage.ts';

/** Keys held with a click: with Shift it adds to a pick, with Alt it takes out of it. */
export interface ClickKeys {
  shiftKey: boolean;
  altKey: boolean;
}

/** What lies under a click: of the part, of a cutter, and of another part, each where it is met first. */
export interface Under {
  part(ray: THREE.Ray): PartHit | null;
  /** Null where cutters are not shown. */
  cutter(ray: THREE.Ray): { cutter: number; distance: number } | null;
  other(ray: THREE.Ray): { part: number; distance: number } | null;
}

/** The tools that take a click while they are at work. */
export interface ClickTools {
  placer: PlaceOnPart;
  picker: PickOnPart;
  /** Told of the face that was clicked, as one may look straight at it. */
  faced(normal: THREE.Vector3): void;
}

/** A click in the view picks, places, or goes to the tool at work. */
export class Clicks {
  constructor(
    private readonly stage: Stage,
    private readonly under: Under,
    private readonly its: ClickTools,
    private readonly stores: {
      store: ReturnType<typeof useProject>;
      tools: ReturnType<typeof useTools>;
      picks: ReturnType<typeof usePicks>;
    },
  ) {}

  click(ray: THREE.Ray, keys: ClickKeys): void {
    const { store, tools, picks } = this.stores;
    if (tools.drawing) return;
    const onPart = this.under.part(ray);
    if (onPart) this.noteFace(ray, onPart);
    if (tools.dragging || (tools.freehand && tools.picking)) return;
    if (tools.picking) return void this.its.picker.click(ray);
    if (tools.placing) return this.placed(this.its.placer.click(ray));
    if (picks.on) return this.pick(onPart, keys);
    const onCutter = this.under.cutter(ray);
    const other = this.under.other(ray);
    const nearest = Math.min(onPart?.distance ?? Infinity, onCutter?.distance ?? Infinity);
    if (other && other.distance < nearest) return store.select({ part: other.part });
    if (onCutter && onCutter.cutter !== store.selection.cutter) return store.select({ cutter: onCutter.cutter });
    if (onCutter && (!onPart || onCutter.distance < onPart.distance)) return;
    store.select({ course: onPart?.course ?? null });
  }

  /** As a click in the middle of the view. */
  clickMiddle(keys: ClickKeys): void {
    this.click(this.stage.middleRay(), keys);
  }

  /** Places at the middle of the top: by keyboard, without pointing. */
  placeOnTop(): void {
    this.placed(this.its.placer.onTop());
  }

  private pick(onPart: PartHit | null, keys: ClickKeys): void {
    const { picks } = this.stores;
    const how = keys.altKey ? 'drop' : keys.shiftKey ? 'add' : 'only';
    if (onPart) void picks.act({ do: 'click', face: onPart.face, point: onPart.point.toArray(), how });
    else if (how === 'only') picks.clear();
  }

  /** What one may look straight at, or seat something on. */
  private noteFace({ direction }: THREE.Ray, hit: PartHit): void {
    const { tools, store } = this.stores;
    const normal = hit.normal
      .clone()
      .multiplyScalar(-Math.sign(hit.normal.dot(direction)) || 1)
      .normalize();
    this.its.faced(normal);
    tools.face = { part: store.selection.part!, point: hit.point.toArray(), normal: normal.toArray() };
  }

  /** After a cutter was placed the keys are the view's again. */
  private placed(done: boolean): void {
    if (done) this.stage.canvas.focus();
  }
}
