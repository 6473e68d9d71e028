<script setup lang="ts">
import { computed } from 'vue';
import type { Cutter } from '@dusky-mason/core/courses';
import type { LengthUnit } from '@dusky-mason/core/units';
import LengthField from './LengthField.vue';

type Placement = Cutter['placement'];
type Row = 'position' | 'turn' | 'scale';

/** Where something stands: position, turn, and scale where it has one. */
const props = defineProps<{ modelValue: Placement; unit: LengthUnit; name: string; scaled: boolean }>();
const emit = defineEmits<{ change: [placement: Placement, title: string] }>();

const AXES = ['x', 'y', 'z'] as const;
const rows = computed(() => [
  { key: 'position' as Row, title: 'Position', as: 'length' as const, values: props.modelValue.position },
  { key: 'turn' as Row, title: 'Turn', as: 'angle' as const, values: props.modelValue.turn },
  ...(props.scaled || props.modelValue.scale
    ? [{ key: 'scale' as Row, title: 'Scale', as: 'factor' as const, values: props.modelValue.scale ?? [1, 1, 1] }]
    : []),
]);

function set(key: Row, values: readonly number[], k: number, x: number): void {
  const next = values.map((v, i) => (i === k ? x : v)) as [number, number, number];
  emit('change', { ...props.modelValue, [key]: next }, key[0]!.toUpperCase() + key.slice(1));
}
</script>

<template>
  <div class="placement">
    <div v-for="r in rows" :key="r.key" class="row" role="group" :aria-label="r.title">
      <span class="title">{{ r.title }}</span>
      <span v-for="(axis, k) in AXES" :key="axis" class="cell">
        <span class="axis soft" aria-hidden="true">{{ axis }}</span>
        <LengthField
          :id="`${name}-${r.key}-${axis}`"
          :model-value="r.values[k]!"
          :as="r.as"
          :label="`${r.title} along ${axis}`"
          :unit="unit"
          narrow
          @update:model-value="set(r.key, r.values, k, $event)"
        />
      </span>
    </div>
    <p class="soft note">In {{ unit }}, and degrees about x, y, then z.</p>
  </div>
</template>

<style scoped>
.placement {
  display: grid;
  gap: 7px;
}
.row {
  display: grid;
  grid-template-columns: 58px repeat(3, minmax(0, 1fr));
  gap: 5px;
  align-items: start;
}
.title {
  color: var(--soft);
  padding-top: 6px;
}
.cell {
  position: relative;
}
.axis {
  position: absolute;
  z-index: 1;
  left: 5px;
  top: 7px;
  font-size: 12px;
  pointer-events: none;
}
.note {
  font-size: 12px;
}
</style>
