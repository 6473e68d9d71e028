<script setup lang="ts">
import { computed } from 'vue';
import { PlacementSchema, settingProblem, type Cutter } from '@dusky-mason/core/courses';
import type { LengthUnit } from '@dusky-mason/core/units';
import VectorRow from './VectorRow.vue';

type Placement = Cutter['placement'];
type Row = 'position' | 'turn' | 'scale';

/** Where something stands: position, turn, and scale where it has one. */
const props = defineProps<{ modelValue: Placement; unit: LengthUnit; name: string; scaled: boolean }>();
const emit = defineEmits<{ change: [placement: Placement, title: string] }>();

const rows = computed(() => [
  { key: 'position' as Row, title: 'Position', as: 'length' as const, values: props.modelValue.position },
  { key: 'turn' as Row, title: 'Turn', as: 'angle' as const, values: props.modelValue.turn },
  ...(props.scaled || props.modelValue.scale
    ? [{ key: 'scale' as Row, title: 'Scale', as: 'factor' as const, values: props.modelValue.scale ?? [1, 1, 1] }]
    : []),
]);

function set(key: Row, values: [number, number, number]): void {
  emit('change', { ...props.modelValue, [key]: values }, key[0]!.toUpperCase() + key.slice(1));
}
</script>

<template>
  <div class="placement">
    <VectorRow
      v-for="r in rows"
      :key="r.key"
      :title="r.title"
      :model-value="r.values"
      :as="r.as"
      :unit="unit"
      :name="`${name}-${r.key}`"
      :check="(v) => settingProblem(PlacementSchema.shape[r.key], v, unit)"
      @update:model-value="set(r.key, $event)"
    />
    <p class="soft note">In {{ unit }}, and degrees about x, y, then z.</p>
  </div>
</template>

<style scoped>
.placement {
  display: grid;
  gap: 7px;
}
.note {
  font-size: 12px;
}
</style>
