import type { useTools } from '../tools/tools.ts';
import type { DrawOnPart } from './drawOnPart.ts';
import type { At, Gesture } from './gesture.ts';

/** A press while an outline is drawn. The first place is taken at once, so that one may drag to the second. */
export class DrawPress implements Gesture {
  private first = false;

  constructor(
    private readonly drawer: DrawOnPart,
    private readonly tools: ReturnType<typeof useTools>,
    private readonly canvas: HTMLCanvasElement,
  ) {}

  begin({ ray }: At): boolean {
    if (!this.tools.drawing) return false;
    this.drawer.move(ray);
    // Empty ground turns the view.
    const { plane, hover, points } = this.tools.drawing;
    if (!plane || !hover) return false;
    this.first = points.length === 0;
    this.canvas.focus();
    if (this.first) this.drawer.click(ray);
    return true;
  }

  move({ ray }: At): void {
    if (this.tools.drawing) this.drawer.drag(ray);
  }

  end(keep: boolean, at: At | null, still: boolean): void {
    if (keep && at && this.tools.drawing && !(this.first && still)) this.drawer.letGo(at.ray);
  }
}
