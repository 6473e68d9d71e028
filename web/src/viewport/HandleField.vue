<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { parseAngle, parseLength } from '@dusky-mason/core/units';
import { AXIS_NAMES, SaidError, sentenceOf } from '@dusky-mason/core/mesh';
import { useProject } from '../stores/project.ts';
import { useTools } from '../tools/tools.ts';

/** A typed value for the handles: along which own axis, and how far, how much, how long. */
const emit = defineEmits<{ typed: [value: number] }>();
const store = useProject();
const tools = useTools();
const unit = computed(() => store.project?.unit ?? 'mm');
const text = ref('');
const wrong = ref<string | null>(null);
watch(
  () => [tools.handles, tools.axis],
  () => {
    text.value = '';
    wrong.value = null;
  },
);

const ASKS = { slide: 'Slide by', turn: 'Turn by', resize: 'Size', points: '' } as const;

/** Esc empties the field; an empty one leaves it to what is going on. */
function clear(e: KeyboardEvent): void {
  if (text.value) e.stopPropagation();
  text.value = '';
  wrong.value = null;
}

function take(): void {
  if (!text.value.trim()) return;
  try {
    const value = tools.handles === 'turn' ? parseAngle(text.value) : parseLength(text.value, unit.value);
    if (tools.handles === 'resize' && !(value > 0)) throw new SaidError('Type a size above 0.');
    if (Math.abs(value) > 1e6) throw new SaidError('That is more than 1 km. Check the unit.');
    emit('typed', value);
    text.value = '';
    wrong.value = null;
  } catch (e) {
    wrong.value = sentenceOf(e);
  }
}
</script>

<template>
  <span class="typed-handle" role="group" :aria-label="`${ASKS[tools.handles]}, typed`">
    <select
      :value="tools.axis"
      aria-label="Own axis"
      @change="tools.axis = Number(($event.target as HTMLSelectElement).value) as 0 | 1 | 2"
    >
      <option v-for="(name, k) in AXIS_NAMES" :key="name" :value="k">{{ name }}</option>
    </select>
    <input
      v-model="text"
      class="number"
      :class="{ wrong }"
      :aria-label="`${ASKS[tools.handles]} along ${AXIS_NAMES[tools.axis]}, in ${tools.handles === 'turn' ? 'degrees' : unit}`"
      :placeholder="tools.handles === 'turn' ? '15°' : `12 ${unit}`"
      :aria-invalid="!!wrong"
      :data-settled="!text"
      autocomplete="off"
      @keydown.esc="clear"
      @keydown.enter.stop.prevent="take"
    />
    <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
  </span>
</template>

<style scoped>
.typed-handle {
  display: flex;
  align-items: center;
  gap: 4px;
}
select,
input {
  min-height: 30px;
  padding: 0 6px;
  border: 1px solid var(--joint);
  background: var(--raised);
}
input {
  width: 74px;
}
input.wrong {
  border-color: var(--brick);
}
span.wrong {
  color: var(--brick);
}
</style>
