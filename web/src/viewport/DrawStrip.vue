<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { DRAWN_TITLES, type DrawnKind } from '@dusky-mason/core/courses';
import { OPERATION_WORDS } from '../words/operations.ts';
import { useProject } from '../stores/project.ts';
import { operationOf } from '../tools/drawing.ts';
import { useTools } from '../tools/tools.ts';
import { PULL_KEYS } from './drawOnPart.ts';
import StripField from './StripField.vue';

/** The settings of what is being drawn, and a field for typed values. */
const store = useProject();
const tools = useTools();
const draw = computed(() => tools.drawing!);
const unit = computed(() => store.project?.unit ?? 'mm');

const text = ref('');
const field = ref<HTMLInputElement>();
watch(field, (input) => (tools.typedField = input ?? null));
onBeforeUnmount(() => (tools.typedField = null));
const wrong = ref<string | null>(null);
watch(
  () => draw.value?.stage,
  () => {
    text.value = '';
    wrong.value = null;
  },
);

/** Esc empties the field; an empty one leaves it to what is going on. */
function clear(e: KeyboardEvent): void {
  if (text.value) e.stopPropagation();
  text.value = '';
  wrong.value = null;
}

function take(): void {
  // Nothing typed: Enter does what it does in the view.
  if (!text.value.trim()) return tools.hand?.enter();
  const pulling = draw.value.stage === 'pull';
  wrong.value = tools.hand?.type(text.value) ?? null;
  if (wrong.value) return;
  text.value = '';
  if (pulling) tools.hand?.enter();
}
const set = (change: Partial<typeof draw.value>): void => {
  tools.drawing = { ...draw.value, ...change };
};
const PLACEHOLDERS: Record<DrawnKind, string> = {
  rectangle: '40 x 25',
  circle: 'Ø 40',
  polygon: 'Ø 40',
  slot: '60 x 12',
  free: '30, 45',
};
const placeholder = computed(() => (draw.value.stage === 'pull' ? '12 or through' : PLACEHOLDERS[draw.value.kind]));
const keys = Object.entries(PULL_KEYS);
</script>

<template>
  <template v-if="draw.stage !== 'pull'">
    <select
      :value="draw.kind"
      aria-label="Outline to draw"
      @change="tools.draw(($event.target as HTMLSelectElement).value as DrawnKind)"
    >
      <option v-for="(title, k) in DRAWN_TITLES" :key="k" :value="k">{{ title }}</option>
    </select>
    <StripField
      v-if="draw.kind === 'polygon'"
      id="draw-sides"
      title="Sides"
      label="Sides"
      as="count"
      :unit="unit"
      :min="3"
      :max="256"
      :model-value="draw.sides"
      @update:model-value="set({ sides: $event })"
    />
    <StripField
      v-if="draw.kind === 'rectangle'"
      id="draw-corner"
      title="Corners"
      label="Corner radius"
      as="length"
      :unit="unit"
      :min="0"
      :model-value="draw.corner"
      @update:model-value="set({ corner: $event })"
    />
    <button
      v-if="draw.kind === 'free'"
      :aria-pressed="draw.arc"
      title="Next segment: an arc (A)"
      @click="set({ arc: !draw.arc })"
    >
      Arc
    </button>
    <StripField
      id="draw-grid"
      title="Grid"
      label="Step of the grid"
      as="length"
      :unit="unit"
      :model-value="tools.grid.step"
      @update:model-value="tools.grid = { ...tools.grid, typed: true, step: Math.max(0.01, $event) }"
    />
    <StripField
      id="draw-grid-turn"
      title="Turned"
      label="Turn of the grid"
      as="angle"
      :unit="unit"
      :model-value="tools.grid.turn"
      @update:model-value="tools.grid = { ...tools.grid, turn: $event }"
    />
    <button
      :aria-pressed="tools.grid.shown"
      title="Show the grid, and snap to it"
      @click="tools.grid = { ...tools.grid, shown: !tools.grid.shown }"
    >
      {{ tools.grid.shown ? 'On' : 'Off' }}
    </button>
  </template>
  <div v-else-if="draw.makes === 'cut'" class="does" role="group" aria-label="What the cut does">
    <button
      v-for="[key, op] in keys"
      :key="op"
      :aria-pressed="operationOf(draw) === op"
      :title="`${OPERATION_WORDS[op]} (${key.toUpperCase()})`"
      @click="tools.hand?.choose(op)"
    >
      {{ OPERATION_WORDS[op] }}
    </button>
  </div>
  <button
    v-if="draw.stage === 'pull' && draw.makes === 'cut'"
    :aria-pressed="tools.toFace"
    title="Pulls to the face under the pointer (F)"
    @click="tools.hand?.pullToFace()"
  >
    To a face
  </button>
  <input
    ref="field"
    v-model="text"
    :data-settled="!text"
    class="number typed"
    :class="{ wrong }"
    :placeholder="placeholder"
    aria-label="Typed size or depth"
    :aria-invalid="!!wrong"
    autocomplete="off"
    @keydown.esc="clear"
    @keydown.enter.stop.prevent="take"
  />
  <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
</template>

<style scoped>
button,
select,
.typed {
  min-height: 30px;
  padding: 0 9px;
  border: 1px solid var(--joint);
  background: var(--panel);
}
button,
select {
  cursor: pointer;
}
button[aria-pressed='true'] {
  background: var(--block);
  box-shadow: inset 0 -3px var(--verdigris);
  font-weight: 600;
}
.does {
  display: flex;
}
.does button + button {
  border-left: 0;
}
.typed {
  width: 132px;
  background: var(--raised);
}
.typed.wrong {
  border-color: var(--brick);
}
span.wrong {
  color: var(--brick);
}
</style>
