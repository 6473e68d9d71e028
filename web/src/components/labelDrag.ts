import { onBeforeUnmount, onMounted } from 'vue';

/** A drag goes one step in so many pixels. */
const STEP_PIXELS = 4;

/** The label of a field: one for its id, one around it, or what names it in `data-drags`. */
function labelOf(id: string): HTMLElement | null {
  const name = CSS.escape(id);
  const label = document.querySelector<HTMLElement>(`label[for="${name}"], [data-drags="${name}"]`);
  return label ?? document.getElementById(id)?.closest('label') ?? null;
}

/**
 * Lets a number be changed by dragging sideways on its label. `step` is called with the steps since the last call and
 * the keys held; `end` once after them, with whether they are to be kept: not when the pointer was lost. A field that
 * is disabled is left alone.
 */
export function useLabelDrag(
  id: string,
  step: (steps: number, e: PointerEvent) => void,
  end: (kept: boolean) => void,
): void {
  let label: HTMLElement | null = null;
  let from: { x: number; steps: number } | null = null;
  let moved = false;

  const down = (e: PointerEvent): void => {
    moved = false;
    const field = document.getElementById(id);
    if (e.button !== 0 || e.target === field || !field || field.matches(':disabled')) return;
    from = { x: e.clientX, steps: 0 };
    label!.setPointerCapture(e.pointerId);
  };
  const move = (e: PointerEvent): void => {
    if (!from) return;
    const steps = Math.trunc((e.clientX - from.x) / STEP_PIXELS);
    if (steps === from.steps) return;
    step(steps - from.steps, e);
    from.steps = steps;
    moved = true;
  };
  const up = (e: PointerEvent): void => {
    if (from && moved) end(e.type === 'pointerup');
    from = null;
  };
  // A drag is no click: the field must not take the focus and its text.
  const click = (e: MouseEvent): void => {
    if (moved) e.preventDefault();
    moved = false;
  };
  const listeners = { pointerdown: down, pointermove: move, pointerup: up, pointercancel: up, click };
  const each = (act: 'addEventListener' | 'removeEventListener'): void => {
    for (const [name, run] of Object.entries(listeners)) label?.[act](name, run as EventListener);
  };

  onMounted(() => {
    label = labelOf(id);
    label?.classList.add('drags');
    each('addEventListener');
  });
  onBeforeUnmount(() => each('removeEventListener'));
}
