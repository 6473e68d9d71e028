<script setup lang="ts">
import { computed } from 'vue';
import { isPointed, shapeKinds, shapeTitle } from '@dusky-mason/core/courses';
import { formatLength } from '@dusky-mason/core/units';
import { OPERATION_SAYS, OPERATION_WORDS } from '../words/operations.ts';
import { radioKeys } from '../components/radioKeys.ts';
import { usePicks } from '../stores/picks.ts';
import { usePreferences } from '../stores/preferences.ts';
import { useProject } from '../stores/project.ts';
import { useTools } from '../tools/tools.ts';
import { wants } from '../tools/drawing.ts';
import { usePanels } from '../stores/panels.ts';
import DrawStrip from './DrawStrip.vue';
import { canRun, commandOf, keysOf } from '../words/commands.ts';
import { heldOf } from '../stores/held.ts';
import GripField from './GripField.vue';
import HandleField from './HandleField.vue';
import { grippedOf } from '../stores/grips.ts';
import { HANDLE_MODES, type HandleMode } from '../tools/handleMath.ts';
import PickStrip from './PickStrip.vue';
import StampStrip from './StampStrip.vue';

/** The tools of the stage, and in one line what the tool at hand wants next. */
const props = defineProps<{ cutting: boolean; dressing?: boolean }>();
const emit = defineEmits<{ draw: []; typed: [value: number] }>();
const store = useProject();
const panels = usePanels();
const tools = useTools();
const prefs = usePreferences();
const picks = usePicks();
const unit = computed(() => store.project?.unit ?? 'mm');
const step = computed(() => prefs.now.step);

const held = computed(() => {
  const mine = store.readOnly ? null : heldOf(store);
  return props.cutting || (props.dressing && mine?.kind === 'stroke') ? mine : null;
});
const gripped = computed(() => (props.dressing ? grippedOf(store) : null));
const pointed = computed(() => !!held.value && isPointed(held.value.placed.shape));
const mode = computed((): HandleMode => (tools.handles === 'points' && !pointed.value ? 'slide' : tools.handles));
const modes = computed(() =>
  held.value?.kind === 'part'
    ? []
    : (Object.keys(HANDLE_MODES) as HandleMode[]).filter((m) => m !== 'points' || pointed.value),
);
const HOW: Record<HandleMode, string> = {
  slide: 'Drag a post to slide it',
  turn: 'Drag a bead to turn it',
  resize: 'Drag a tab to move that side',
  points: 'Drag a point, or a lesser mark to bend its piece',
};
/** Commands that were put on the strip by hand. */
const pinned = computed(() => prefs.now.pinned.flatMap((id) => commandOf(id) ?? []));

const CUTTER_KINDS = shapeKinds(true);
const hint = computed(() => {
  if (tools.dragging === 'vertex') return 'Drag a vertex along one of its edges; at the end both merge. Esc ends it.';
  if (tools.dragging === 'tie')
    return 'Drag the end of a tie (a dotted edge) to another vertex of the faces beside it. Esc ends it.';
  if (tools.picking && tools.freehand)
    return 'Drag over the part, from edge to edge, to draw a line of edges. Beside the part, dragging turns the view.';
  if (tools.picking) {
    const { asks, got, plane, wants: kind } = tools.picking;
    const keys =
      kind === 'face'
        ? 'Enter takes the one in the middle of the view'
        : plane
          ? 'Arrow keys move the mark, Enter takes it'
          : 'Arrow keys go through them, Enter takes one';
    if (tools.picking.many && got.length >= asks.length)
      return `Click the next stop, or Done. ${got.length} so far; Esc takes one back.`;
    return `Click ${asks[got.length]}${asks.length > 1 ? ` (${got.length + 1} of ${asks.length})` : ''}. ${keys}.`;
  }
  if (gripped.value)
    return `Drag ${gripped.value.list.length > 1 ? 'a bead' : 'the bead'} in the view, or type a number.`;
  if (!props.cutting && picks.on && !held.value)
    return picks.by === 'click'
      ? 'Click picks one, Shift adds, Alt takes out; Enter: in the middle of the view.'
      : 'Drag over it: Shift adds, Alt takes out. Arrow keys turn the view.';
  if (!props.cutting && !held.value) return 'Drag to turn the view, right-drag to shift it, wheel to zoom.';
  if (tools.drawing) return wants(tools.drawing);
  if (tools.stamp) return 'Click each face to stamp. Esc ends it.';
  if (tools.placing) return 'Click the face it goes into, or press Enter for the middle of the top. Esc cancels.';
  if (held.value) {
    if (held.value.kind === 'part')
      return 'Drag a post to slide the part, level with others that are shown (Alt: not). Esc ends it.';
    const cutter = held.value.kind === 'cutter';
    const copies = cutter ? ', Ctrl leaves a copy' : '';
    const puck = cutter && mode.value === 'slide' ? ', the puck to slide it over the surface' : '';
    return `${HOW[mode.value]}${puck}; Shift keeps to ${mode.value === 'turn' ? '15°' : formatLength(step.value, unit.value)}${mode.value === 'resize' ? ', Alt moves both sides' : mode.value === 'slide' ? copies : ''}.`;
  }
  if (store.course?.kind === 'cut') return 'Click a cutter to pick it.';
  return 'Click a face to pick the course that made it, or place a cutter (C).';
});
</script>

<template>
  <div class="strip">
    <template v-if="cutting && tools.placing">
      <select
        v-model="tools.operation"
        aria-label="What the cutter does"
        :disabled="tools.into !== null"
        :title="OPERATION_SAYS[tools.operation]"
      >
        <option v-for="(word, op) in OPERATION_WORDS" :key="op" :value="op">{{ word }}</option>
      </select>
      <StampStrip v-if="tools.stamp" />
      <select v-else v-model="tools.kind" aria-label="Shape of the cutter">
        <option v-for="k in CUTTER_KINDS" :key="k" :value="k">{{ shapeTitle(k) }}</option>
      </select>
    </template>
    <template v-else-if="tools.picking">
      <strong class="asked">Pick</strong>
      <button
        v-if="tools.picking.wants === 'stop' && !tools.picking.got.length"
        :aria-pressed="tools.freehand"
        title="Draws where you drag, not from click to click"
        @click="tools.freehand = !tools.freehand"
      >
        Freehand
      </button>
    </template>
    <strong v-else-if="tools.dragging" class="asked">Drag</strong>
    <DrawStrip v-else-if="cutting && tools.drawing" />
    <template v-else-if="cutting">
      <button class="main" :disabled="store.readOnly || !store.part" @click="tools.begin()">Place a cutter</button>
      <button
        :disabled="store.readOnly || !store.part"
        title="Draw an outline on a face and pull it (D)"
        @click="emit('draw')"
      >
        Draw
      </button>
      <button
        :disabled="store.readOnly || !store.part"
        title="Cutters kept across projects (K)"
        @click="panels.rack = true"
      >
        Rack
      </button>
      <button
        v-for="c in pinned"
        :key="c.id"
        class="pinned"
        :disabled="!canRun(c)"
        :title="keysOf(c) ? `${c.title} (${keysOf(c)})` : c.title"
        @click="c.run()"
      >
        {{ c.title }}
      </button>
    </template>
    <PickStrip v-else />
    <template v-if="held && !tools.busy">
      <div v-if="modes.length" class="choice" role="radiogroup" aria-label="Handles" @keydown="radioKeys">
        <button
          v-for="m in modes"
          :key="m"
          role="radio"
          :aria-checked="mode === m"
          :tabindex="mode === m ? 0 : -1"
          @click="tools.handles = m"
        >
          {{ HANDLE_MODES[m] }}
        </button>
      </div>
      <HandleField v-if="mode !== 'points'" @typed="emit('typed', $event)" />
      <button
        v-if="mode === 'resize'"
        :aria-pressed="tools.aboutMiddle"
        title="Moves both sides, and the middle stays (Alt while dragging does the other)"
        @click="tools.aboutMiddle = !tools.aboutMiddle"
      >
        Both sides
      </button>
    </template>
    <GripField v-else-if="gripped && !tools.busy" :key="gripped.course" />
    <p class="hint">{{ hint }}</p>
    <button
      v-if="tools.picking?.many && !tools.freehand"
      class="main"
      :disabled="tools.picking.got.length < tools.picking.asks.length"
      @click="tools.finish()"
    >
      Done
    </button>
    <button v-if="tools.busy" @click="tools.end()">{{ tools.dragging ? 'Done' : 'Cancel' }}</button>
  </div>
</template>

<style scoped>
.strip :deep(button),
.strip :deep(select) {
  min-height: 30px;
  padding: 0 10px;
  border: 1px solid var(--joint);
  background: var(--panel);
  cursor: pointer;
}
.strip :deep(button:hover:not(:disabled)) {
  background: var(--raised);
}
.strip {
  position: absolute;
  /* As narrow as its content, in the middle. */
  left: 50%;
  transform: translateX(-50%);
  width: max-content;
  max-width: calc(100% - 24px);
  bottom: 12px;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  padding: 5px 8px;
  background: var(--panel);
  border: 1px solid var(--joint);
  /* Without a GPU, a browser leaves out what an opaque box hides of the picture, at the wrong end of it. */
  opacity: 0.99;
}
.strip .main {
  background: var(--ink);
  color: var(--panel);
  font-weight: 600;
}
.strip .main:hover:not(:disabled) {
  background: var(--verdigris);
  color: var(--on-verdigris);
}
.strip button:disabled {
  color: var(--soft);
  cursor: default;
}
[aria-pressed='true'] {
  background: var(--block);
  box-shadow: inset 0 -3px var(--verdigris);
}
.pinned {
  max-width: 180px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
:deep(.choice) {
  display: flex;
}
:deep(.choice button + button) {
  border-left: 0;
}
:deep(.choice [aria-checked='true']) {
  background: var(--block);
  box-shadow: inset 0 -3px var(--verdigris);
  font-weight: 600;
}
.hint {
  flex: 1;
  min-width: 160px;
  color: var(--soft);
  line-height: 1.25;
}
@media (max-width: 820px) {
  .strip {
    gap: 4px;
    bottom: 6px;
    max-height: 45%;
    overflow: auto;
  }
}
</style>
