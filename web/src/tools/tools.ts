import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { DrawnKind, RackItem, ShapeKind } from '@dusky-mason/core/courses';
import type { CutOperationName } from '../words/operations.ts';
import type { HandleMode } from './handleMath.ts';
import { beginDraw, type Draw, type Makes } from './drawing.ts';
import { finished, type Picking } from './picking.ts';
import { roundSize, type StampSettings } from './placing.ts';

/** A part's radius is about so many steps of the grid. */
const GRID_STEPS = 60;

/** What draws, and follows the strip. */
export interface DrawHand {
  /** A typed value; the sentence that says what is wrong with it, or null. */
  type(text: string): string | null;
  enter(): void;
  choose(operation: CutOperationName): void;
  /** Pulls to the face under the pointer, or no longer. */
  pullToFace(): void;
}

/** What the pointer does in the viewport: which handles the picked cutter has, or what is being placed. */
export const useTools = defineStore('tools', () => {
  const handles = ref<HandleMode>('slide');
  /** The own axis that typed values of the handles go along. */
  const axis = ref<0 | 1 | 2>(0);
  /** The setting of the picked stroke that typed values go to, by its key. */
  const grip = ref('');
  /** Whether both sides move when one is pulled. */
  const aboutMiddle = ref(false);
  const placing = ref(false);
  const kind = ref<ShapeKind>('cylinder');
  const operation = ref<CutOperationName>('subtract');
  /** Cut that the next cutter goes into; a cut of its own when null. */
  const into = ref<number | null>(null);

  function begin(course: number | null = null): void {
    end();
    into.value = course;
    placing.value = true;
  }

  /** The face that was clicked last: a place on it and its normal, in the part's frame. */
  const face = shallowRef<{ part: number; point: [number, number, number]; normal: [number, number, number] } | null>(
    null,
  );
  /** The cutter of the rack that is stamped instead of a new shape. */
  const stamp = shallowRef<RackItem | null>(null);
  const stamping = ref<StampSettings>({ turn: 0, size: 1, depth: null });
  function stampWith(item: RackItem, course: number | null = null): void {
    const again = stamp.value?.id === item.id;
    begin(course);
    stamp.value = item;
    if (!again && course === null) stamping.value = { turn: 0, size: 1, depth: null };
  }

  function end(): void {
    stamp.value = null;
    placing.value = false;
    drawing.value = null;
    picking.value = null;
    dragging.value = null;
    freehand.value = false;
    into.value = null;
    toFace.value = false;
  }

  /** The outline that is being drawn; null while none is. */
  const drawing = shallowRef<Draw | null>(null);
  /** Whether it is pulled to the face under the pointer. */
  const toFace = ref(false);
  const grid = ref({ shown: true, typed: false, step: 5, turn: 0, origin: [0, 0] as [number, number] });

  const hand = shallowRef<DrawHand | null>(null);
  /** Takes keys for what is going on, wherever the focus is; whether it did. Set by the view. */
  const actKey = shallowRef<((e: KeyboardEvent) => boolean) | null>(null);
  /** The field of the strip that typed values go to, while there is one. */
  const typedField = shallowRef<HTMLInputElement | null>(null);

  /**
   * Begins to draw, the grid in the middle of the face and along it; its step is one that suits a part of this radius
   * (mm), until another is typed.
   */
  function draw(
    like: DrawnKind = drawing.value?.kind ?? 'rectangle',
    radius?: number,
    makes: Makes = drawing.value?.makes ?? 'cut',
  ): void {
    end();
    const step = radius && !grid.value.typed ? roundSize(radius / GRID_STEPS) : grid.value.step;
    grid.value = { ...grid.value, step, turn: 0, origin: [0, 0] };
    drawing.value = { ...beginDraw(like), makes };
  }

  /** Edges or places that are being picked; null while none are. */
  const picking = shallowRef<Picking | null>(null);
  /** Ends a picking of as many as one likes, once there are enough. */
  function finish(): void {
    if (picking.value) picking.value = finished(picking.value);
  }
  function pick(p: Picking): void {
    end();
    picking.value = p;
  }

  /** What is dragged over the part: vertices along their edges, or ends of ties; null while nothing is. */
  const dragging = shallowRef<'vertex' | 'tie' | null>(null);
  function drag(what: 'vertex' | 'tie'): void {
    end();
    dragging.value = what;
  }
  /** Whether a line that is drawn goes where the pointer is dragged, not from click to click. */
  const freehand = ref(false);

  /** Whether the pointer is in the midst of something that must be ended or cancelled. */
  const busy = computed(
    () => placing.value || drawing.value !== null || picking.value !== null || dragging.value !== null,
  );

  return {
    handles,
    axis,
    grip,
    aboutMiddle,
    placing,
    kind,
    operation,
    into,
    begin,
    end,
    drawing,
    toFace,
    grid,
    hand,
    actKey,
    typedField,
    draw,
    stamp,
    stamping,
    stampWith,
    face,
    picking,
    pick,
    finish,
    dragging,
    drag,
    freehand,
    busy,
  };
});
