import { onBeforeUnmount, onMounted } from 'vue';

/** A drag goes one step in so many pixels. */
const STEP_PIXELS = 4;

/**
 * Lets a number be changed by dragging sideways on its label: a `label` for the field of an id, or what names it in
 * `data-drags`. `step` is called with the steps since the last call and the keys held, `end` once when let go.
 */
export function useLabelDrag(id: string, step: (steps: number, e: PointerEvent) => void, end: () => void): void {
  let label: HTMLElement | null = null;
  let from: { x: number; steps: number } | null = null;

  const down = (e: PointerEvent): void => {
    if (e.button !== 0 || (e.target as HTMLElement).closest('input')) return;
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
  let moved = false;
  const up = (): void => {
    if (from && moved) end();
    from = null;
  };
  // A drag is no click: the field must not take the focus and its text.
  const click = (e: MouseEvent): void => {
    if (moved) e.preventDefault();
    moved = false;
  };

  onMounted(() => {
    label = document.querySelector<HTMLElement>(`label[for="${CSS.escape(id)}"], [data-drags="${CSS.escape(id)}"]`);
    if (!label) return;
    label.classList.add('drags');
    label.addEventListener('pointerdown', down);
    label.addEventListener('pointermove', move);
    label.addEventListener('pointerup', up);
    label.addEventListener('pointercancel', up);
    label.addEventListener('click', click);
  });
  onBeforeUnmount(() => {
    label?.removeEventListener('pointerdown', down);
    label?.removeEventListener('pointermove', move);
    label?.removeEventListener('pointerup', up);
    label?.removeEventListener('pointercancel', up);
    label?.removeEventListener('click', click);
  });
}
