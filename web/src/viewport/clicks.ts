import type * as THREE from 'three';
import type { usePicks } from '../stores/picks.ts';
import type { useProject } from '../stores/project.ts';
import type { useTools } from '../tools/tools.ts';
import type { At } from './gesture.ts';
import type { PartHit } from './partLayer.ts';
import type { PickOnPart } from './pickOnPart.ts';
import type { PlaceOnPart } from './placeOnPart.ts';
import type { Stage } from './stage.ts';

/** A place of the canvas, pixels from its upper left corner, and the ray that it means. */
export type Spot = Pick<At, 'x' | 'y' | 'ray'>;

/** A click reaches edges and vertices so far from it, pixels, looked for in so many directions. */
const REACH = [4, 9];
const ROUND = 8;

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
  /** Told, in a few words, that a click met nothing. */
  missed(at: { x: number; y: number }, words: string): void;
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

  click({ x, y, ray }: Spot, keys: ClickKeys): void {
    const { store, tools, picks } = this.stores;
    if (tools.drawing) return;
    const onPart = this.under.part(ray);
    if (onPart) this.noteFace(ray, onPart);
    if (tools.dragging || (tools.freehand && tools.picking)) return;
    if (tools.picking) return void this.its.picker.click(ray);
    if (tools.placing) return this.placed(this.its.placer.click(ray));
    if (picks.on) return this.pick({ x, y, ray }, onPart, keys);
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
    const { clientWidth: w, clientHeight: h } = this.stage.canvas;
    this.click({ x: w / 2, y: h / 2, ray: this.stage.middleRay() }, keys);
  }

  /** Places at the middle of the top: by keyboard, without pointing. */
  placeOnTop(): void {
    this.placed(this.its.placer.onTop());
  }

  private pick(spot: Spot, onPart: PartHit | null, keys: ClickKeys): void {
    const { picks } = this.stores;
    const how = keys.altKey ? 'drop' : keys.shiftKey ? 'add' : 'only';
    // Edges and vertices are met from either side of them, as from within a hole its rim.
    const faces = picks.on === 'face' ? (onPart ? [onPart.face] : []) : this.facesAbout(spot);
    if (faces.length) {
      const { origin, direction } = spot.ray;
      // Without perspective one looks from very far, so that near and far are alike.
      const back = this.stage.eye.distanceTo(this.stage.camera.position);
      return void picks.act({
        do: 'aim',
        faces,
        from: origin.clone().addScaledVector(direction, -back).toArray(),
        along: direction.clone().normalize().toArray(),
        how,
      });
    }
    if (how === 'only') picks.clear();
    this.its.missed(spot, how === 'only' ? 'Nothing here: nothing is picked' : 'Nothing here: the pick stays');
  }

  /** The faces that are seen about a place, within reach of a click. */
  private facesAbout({ x, y, ray }: Spot): number[] {
    const rays = [ray];
    for (const r of REACH)
      for (let i = 0; i < ROUND; i++) {
        const a = (2 * Math.PI * i) / ROUND;
        rays.push(this.stage.ray(x + r * Math.cos(a), y + r * Math.sin(a)));
      }
    return [...new Set(rays.flatMap((r) => this.under.part(r)?.face ?? []))];
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
