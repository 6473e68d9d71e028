<script setup lang="ts">
import { PANEL_WIDTHS, usePanels } from '../stores/panels.ts';
import type { PanelName } from '../stores/preferences.ts';

/** The edge of a panel beside the view: dragged, or by arrow keys, it is made wider or narrower, down to folded. */
const props = defineProps<{ of: PanelName; label: string }>();
const panels = usePanels();

/** An arrow key moves the edge so far, pixels. */
const STEP = 16;
const outward = props.of === 'wall' ? 1 : -1;

let from: { x: number; width: number } | null = null;
function press(e: PointerEvent): void {
  if (e.button !== 0) return;
  from = { x: e.clientX, width: panels.widths[props.of] };
  (e.currentTarget as HTMLElement).setPointerCapture(e.pointerId);
}
function drag(e: PointerEvent): void {
  if (from) panels.widen(props.of, from.width + (outward * (e.clientX - from.x)) / panels.share);
}
function key(e: KeyboardEvent): void {
  const way = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
  if (e.key === 'Enter') panels.turn(props.of);
  else if (way) {
    const { least } = PANEL_WIDTHS[props.of];
    const now = panels.widths[props.of];
    const next = now + outward * way * STEP;
    // By key it folds and unfolds in one step.
    panels.widen(props.of, now === 0 ? (next > 0 ? least : 0) : next < least ? 0 : next);
  } else return;
  e.preventDefault();
  e.stopPropagation();
}
</script>

<template>
  <div
    class="edge"
    :class="of"
    role="separator"
    aria-orientation="vertical"
    tabindex="0"
    :aria-label="label"
    :aria-valuenow="panels.widths[of]"
    :aria-valuemin="0"
    :aria-valuemax="PANEL_WIDTHS[of].most"
    :title="`${label}: drag it, or double-click to fold`"
    @pointerdown="press"
    @pointermove="drag"
    @pointerup="from = null"
    @pointercancel="from = null"
    @dblclick="panels.turn(of)"
    @keydown="key"
  ></div>
</template>

<style scoped>
.edge {
  position: absolute;
  z-index: 1;
  top: 0;
  bottom: 0;
  width: 8px;
  cursor: col-resize;
  touch-action: none;
}
.edge.wall {
  left: -4px;
}
.edge.card {
  right: -4px;
}
.edge:hover,
.edge:focus-visible {
  background: var(--verdigris);
  opacity: 0.6;
}
</style>
