<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { DRAWN_TITLES, type DrawnKind } from '@dusky-mason/core/courses';
import LengthField from '../components/LengthField.vue';
import { OPERATION_WORDS } from '../components/marks.ts';
import { useProject } from '../stores/project.ts';
import { operationOf } from '../tools/drawing.ts';
import { useTools } from '../tools/tools.ts';
import { PULL_KEYS } from './drawOnPart.ts';

/** The settings of what is being drawn, and a field for typed values. */
const store = useProject();
const tools = useTools();
const draw = computed(() => tools.drawing!);
const unit = computed(() => store.project?.unit ?? 'mm');

const text = ref('');
const wrong = ref<string | null>(null);
watch(
  () => draw.value?.stage,
  () => {
    text.value = '';
    wrong.value = null;
  },
);

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
const PLACEHOLDERS: Record<DrawnKind, string> = { rectangle: '40 x 25', circle: 'Ø 40', polygon: 'Ø 40', slot: '60 x 12', free: '30, 45' }; // prettier-ignore
const placeholder = computed(() => (draw.value.stage === 'pull' ? '12, +12, through' : PLACEHOLDERS[draw.value.kind]));
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
    <label v-if="draw.kind === 'polygon'">
      Sides
      <span class="narrow">
        <LengthField
          id="draw-sides"
          :model-value="draw.sides"
          as="count"
          label="Sides"
          :unit="unit"
          :min="3"
          :max="256"
          narrow
          @update:model-value="set({ sides: $event })"
        />
      </span>
    </label>
    <label v-if="draw.kind === 'rectangle'">
      Corners
      <span class="narrow">
        <LengthField
          id="draw-corner"
          :model-value="draw.corner"
          as="length"
          label="Corner radius"
          :unit="unit"
          :min="0"
          narrow
          @update:model-value="set({ corner: $event })"
        />
      </span>
    </label>
    <button
      v-if="draw.kind === 'free'"
      :aria-pressed="draw.arc"
      title="The next piece is an arc (A)"
      @click="set({ arc: !draw.arc })"
    >
      Arc
    </button>
    <label>
      Grid
      <span class="narrow">
        <LengthField
          id="draw-grid"
          :model-value="tools.grid.step"
          as="length"
          label="Step of the grid"
          :unit="unit"
          narrow
          @update:model-value="tools.grid = { ...tools.grid, typed: true, step: Math.max(0.01, $event) }"
        />
      </span>
    </label>
    <label>
      Turned
      <span class="narrow">
        <LengthField
          id="draw-grid-turn"
          :model-value="tools.grid.turn"
          as="angle"
          label="Turn of the grid"
          :unit="unit"
          narrow
          @update:model-value="tools.grid = { ...tools.grid, turn: $event }"
        />
      </span>
    </label>
    <button
      :aria-pressed="tools.grid.shown"
      title="Show the grid and keep to it"
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
    v-model="text"
    class="number typed"
    :class="{ wrong }"
    :placeholder="placeholder"
    aria-label="Typed size or depth"
    :aria-invalid="!!wrong"
    autocomplete="off"
    @keydown.enter.stop.prevent="take"
  />
  <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
</template>

<style scoped>
label {
  display: flex;
  align-items: center;
  gap: 5px;
  color: var(--soft);
}
.narrow {
  width: 70px;
}
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
