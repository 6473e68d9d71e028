import type * as THREE from 'three';
import type { Clicks } from './clicks.ts';
import type { At, Gesture } from './gesture.ts';
import type { Stage } from './stage.ts';

/** A pointer that moved less than this between down and up was a click, pixels. */
const CLICK = 4;

/**
 * The pointer in the view: a gesture takes hold of a press, or the view is turned; a press that goes nowhere is a
 * click.
 */
export class Pointer {
  private down: { x: number; y: number } | null = null;
  private under: Gesture | null = null;

  constructor(
    private readonly stage: Stage,
    /** What a press may do, in the order in which they are asked. */
    private readonly gestures: readonly Gesture[],
    private readonly clicks: Clicks,
    private readonly hover: (ray: THREE.Ray) => void,
  ) {}

  /** Whether a gesture is under way. */
  get busy(): boolean {
    return this.under !== null;
  }

  private at(e: PointerEvent): At {
    const { canvas } = this.stage;
    const { left, top } = canvas.getBoundingClientRect();
    const [x, y] = [e.clientX - left, e.clientY - top];
    const { shiftKey, altKey, ctrlKey, metaKey } = e;
    return { x, y, ray: this.stage.ray(x, y), shiftKey, altKey, ctrlKey, metaKey };
  }

  press(e: PointerEvent): void {
    if (e.button !== 0) return;
    const at = this.at(e);
    this.down = at;
    this.under = this.gestures.find((g) => g.begin(at)) ?? null;
    if (!this.under) return;
    e.stopImmediatePropagation();
    this.stage.controls.enabled = false;
    this.stage.canvas.setPointerCapture(e.pointerId);
  }

  move(e: PointerEvent): void {
    const at = this.at(e);
    if (this.under) this.under.move(at);
    else if (!e.buttons) this.hover(at.ray);
  }

  release(e: PointerEvent): void {
    if (!this.down) return;
    const at = this.at(e);
    const still = Math.hypot(at.x - this.down.x, at.y - this.down.y) < CLICK;
    this.down = null;
    if (this.under) this.end(true, at, still);
    else if (still) this.clicks.click(at, e);
  }

  /** Ends the gesture under way and takes back its result. */
  cancel(): void {
    this.end(false, null, false);
  }

  private end(keep: boolean, at: At | null, still: boolean): void {
    const { under } = this;
    this.under = null;
    this.stage.controls.enabled = true;
    under?.end(keep, at, still);
  }
}
