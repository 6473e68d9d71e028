import * as THREE from 'three';
import type { Joins } from '@dusky-mason/core/mend';
import type { usePicks } from '../stores/picks.ts';
import type { useTools } from '../tools/tools.ts';
import type { OnScreen } from '../tools/dragging.ts';
import type { At, Gesture } from './gesture.ts';
import type { Stage } from './stage.ts';

/** Radius of the brush, pixels, and how many corners its round has. */
const BRUSH = 16;
const BRUSH_CORNERS = 16;

/** Picks what lies within a box or a lasso that is drawn with the pointer, or under a brush. */
export class AreaPick implements Gesture {
  /** Set by who shows it: what is drawn over the view, pixels. */
  drawn: (outline: readonly OnScreen[]) => void = () => undefined;
  /** Set by who shows it: a press without a drag, which picks as a click does. */
  clicked: (at: At) => void = () => undefined;
  private points: OnScreen[] = [];
  private how: Joins = 'only';
  private busy = false;

  constructor(
    private readonly stage: Stage,
    private readonly picks: ReturnType<typeof usePicks>,
    private readonly tools: ReturnType<typeof useTools>,
  ) {}

  begin(p: At): boolean {
    if (!this.picks.on || this.picks.by === 'click' || this.tools.busy) return false;
    this.how = p.altKey ? 'drop' : p.shiftKey ? 'add' : 'only';
    this.points = [p];
    if (this.picks.by !== 'paint') return true;
    this.paint(p);
    // The first stroke begins anew, those after it add.
    if (this.how === 'only') this.how = 'add';
    return true;
  }

  move(p: At): void {
    this.points.push(p);
    if (this.picks.by === 'paint') return this.paint(p);
    this.drawn(this.shape());
  }

  /** Picks what is within; a press without a drag picks one. */
  end(keep: boolean, at: At | null, still: boolean): void {
    const shape = this.shape();
    const paints = this.picks.by === 'paint';
    this.points = [];
    this.drawn([]);
    if (!keep || paints) return;
    if (still && at) this.clicked(at);
    else if (shape.length > 2) void this.within(shape);
  }

  private shape(): OnScreen[] {
    if (this.picks.by !== 'box') return [...this.points];
    const [a, b] = [this.points[0]!, this.points.at(-1)!];
    if (Math.abs(a.x - b.x) < 2 || Math.abs(a.y - b.y) < 2) return [];
    return [a, { x: b.x, y: a.y }, b, { x: a.x, y: b.y }];
  }

  private paint(p: OnScreen): void {
    const ring = Array.from({ length: BRUSH_CORNERS }, (_, i) => {
      const a = (2 * Math.PI * i) / BRUSH_CORNERS;
      return { x: p.x + BRUSH * Math.cos(a), y: p.y + BRUSH * Math.sin(a) };
    });
    this.drawn(ring);
    // One at a time: what the pointer passed meanwhile is not waited for.
    if (this.busy) return;
    this.busy = true;
    void this.within(ring).finally(() => (this.busy = false));
  }

  private within(shape: readonly OnScreen[]): Promise<void> {
    const { camera, canvas } = this.stage;
    const { clientWidth: w, clientHeight: h } = canvas;
    this.stage.settle();
    const view = new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
    const outline = shape.map(({ x, y }): [number, number] => [(x / w) * 2 - 1, 1 - (y / h) * 2]);
    const eye = this.picks.through ? null : (this.stage.eye.toArray() as [number, number, number]);
    return this.picks.act({ do: 'area', how: this.how, area: { outline, view: view.elements, eye } });
  }
}
