import { shapeSize, type Shape } from '@dusky-mason/core/courses';
import { sideEngine } from '../engine/engine.ts';
import type { ShapeBox, ShapePicture } from './cutterLayer.ts';

/** Pictures kept: enough for every cutter of a course and the sizes that a drag goes through. */
const KEPT = 200;

/** Pictures of shapes, asked of the worker once each. */
export class ShapePictures {
  private readonly known = new Map<string, ShapePicture>();
  private readonly asked = new Set<string>();

  /** `arrived` is called whenever a picture that was missing has come; `failed` when a shape cannot be made. */
  constructor(
    private readonly arrived: () => void,
    private readonly failed: (e: unknown) => void,
  ) {}

  /** The picture of a shape, if it is here; if not, it is asked for. */
  get(shape: Shape): ShapePicture | undefined {
    // A linked part looks as it does just now.
    const key = JSON.stringify(shape.kind === 'part' ? [shape, sideEngine().parts()] : shape);
    const p = this.known.get(key);
    if (!p && !this.asked.has(key)) void this.ask(key, shape);
    return p;
  }

  /** The box of a shape: from its sizes, or from its picture once that is here. */
  box(shape: Shape): ShapeBox | null {
    const size = shapeSize(shape);
    return size ? { size, centre: [0, 0, 0] } : (this.get(shape) ?? null);
  }

  private async ask(key: string, shape: Shape): Promise<void> {
    this.asked.add(key);
    try {
      const { picture, size, centre } = await sideEngine().ask({ kind: 'shape', shape });
      this.known.set(key, { picture, size, centre });
      for (const old of this.known.keys()) {
        if (this.known.size <= KEPT) break;
        this.known.delete(old);
      }
      this.asked.delete(key);
      this.arrived();
    } catch (e) {
      // It stays among the asked, so that a shape which cannot be made is not asked for in every frame.
      this.failed(e);
    }
  }
}
