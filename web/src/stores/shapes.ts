import { defineStore } from 'pinia';
import { ref } from 'vue';
import { pivotPlace, shapeSize, type Shape } from '@dusky-mason/core/courses';
import type { RenderBuffers } from '@dusky-mason/core/mesh';
import { sideEngine } from '../engine/engine.ts';
import { useNotices } from './notices.ts';

/** The box of a cutter's shape in its own frame, mm. */
export interface ShapeBox {
  size: [number, number, number];
  centre: [number, number, number];
}

/** What the page knows of a cutter's shape: its picture round its own origin, and its box. */
export interface ShapePicture extends ShapeBox {
  picture: RenderBuffers;
}

/** Pictures kept: enough for every cutter of a course and the sizes that a drag goes through. */
const KEPT = 200;

/** What the page knows of shapes: their pictures and boxes, asked of the worker. */
export const useShapes = defineStore('shapes', () => {
  const known = new Map<string, ShapePicture>();
  const asked = new Set<string>();
  /** Grows whenever a picture that was missing has come. */
  const arrived = ref(0);

  /** The picture of a shape, if it is here; if not, it is asked for once. */
  function get(shape: Shape): ShapePicture | undefined {
    // A linked part looks as it does just now.
    const key = JSON.stringify(shape.kind === 'part' ? [shape, sideEngine().parts()] : shape);
    const p = known.get(key);
    if (!p && !asked.has(key)) void ask(key, shape);
    return p;
  }

  /** The box of a shape: from its sizes, or from its picture once that is here. */
  function box(shape: Shape): ShapeBox | null {
    const size = shapeSize(shape);
    if (!size) return get(shape) ?? null;
    const [x, y, z] = pivotPlace(shape, () => undefined);
    return { size, centre: [-x + 0, -y + 0, -z + 0] };
  }

  async function ask(key: string, shape: Shape): Promise<void> {
    asked.add(key);
    try {
      const { picture, size, centre } = await sideEngine().ask({ kind: 'shape', shape });
      known.set(key, { picture, size, centre });
      for (const old of known.keys()) {
        if (known.size <= KEPT) break;
        known.delete(old);
      }
      asked.delete(key);
      arrived.value++;
    } catch (e) {
      // It stays among the asked, so that a shape which cannot be made is not asked for in every frame.
      useNotices().fail(e);
    }
  }

  return { get, box, arrived };
});
