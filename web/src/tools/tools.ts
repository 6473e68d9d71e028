import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import type { DrawnKind, RackItem, ShapeKind } from '@dusky-mason/core/courses';
import type { CutOperationName } from '../components/marks.ts';
import type { HandleMode } from '../viewport/handles.ts';
import { beginDraw, type Draw } from './drawing.ts';
import { roundSize } from './placing.ts';

/** A part's radius is about so many steps of the grid. */
const GRID_STEPS = 60;

/** What draws: it is told what the strip takes. */
export interface DrawHand {
  /** A typed value; the sentence that says what is wrong with it, or null. */
  type(text: string): string | null;
  enter(): void;
  choose(operation: CutOperationName): void;
}

/** What the pointer does in the viewport: which handles the picked cutter has, or what is being placed. */
export const useTools = defineStore('tools', () => {
  const handles = ref<HandleMode>('slide');
  const placing = ref(false);
  const kind = ref<ShapeKind>('cylinder');
  const operation = ref<CutOperationName>('subtract');
  /** Cut that the next cutter goes into; a cut of its own when null. */
  const into = ref<number | null>(null);

  function begin(course: number | null = null): void {
    drawing.value = null;
    into.value = course;
    stamp.value = null;
    placing.value = true;
  }

  /** The face that was clicked last: a place on it and its normal, in the part's frame. */
  const face = shallowRef<{ part: number; point: [number, number, number]; normal: [number, number, number] } | null>(
    null,
  );
  /** The cutter of the rack that is stamped instead of a new shape. */
  const stamp = shallowRef<RackItem | null>(null);
  function stampWith(item: RackItem): void {
    begin();
    stamp.value = item;
  }

  function end(): void {
    stamp.value = null;
    placing.value = false;
    drawing.value = null;
    into.value = null;
  }

  /** The outline that is being drawn; null while none is. */
  const drawing = shallowRef<Draw | null>(null);
  const grid = ref({ shown: true, typed: false, step: 5, turn: 0, origin: [0, 0] as [number, number] });

  const hand = shallowRef<DrawHand | null>(null);

  /**
   * Begins to draw, the grid in the middle of the face and along it; its step is one that suits a part of this radius (mm), until another is typed.
   */
  function draw(like: DrawnKind = drawing.value?.kind ?? 'rectangle', radius?: number): void {
    end();
    const step = radius && !grid.value.typed ? roundSize(radius / GRID_STEPS) : grid.value.step;
    grid.value = { ...grid.value, step, turn: 0, origin: [0, 0] };
    drawing.value = beginDraw(like);
  }

  return { handles, placing, kind, operation, into, begin, end, drawing, grid, hand, draw, stamp, stampWith, face };
});
