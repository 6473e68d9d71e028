<script setup lang="ts">
import { AXIS_NAMES } from '@dusky-mason/core/mesh';
import type { LengthUnit } from '@dusky-mason/core/units';
import LengthField from './LengthField.vue';

/** Three numbers along x, y and z, under one title. */
const props = defineProps<{
  title: string;
  modelValue: readonly number[];
  as: 'length' | 'angle' | 'factor';
  unit: LengthUnit;
  /** Names the row, so that the ids of its fields are its own. */
  name: string;
  /** What is wrong with the three, in one sentence. */
  check?: (values: [number, number, number]) => string | null;
}>();
const emit = defineEmits<{ 'update:modelValue': [values: [number, number, number]] }>();

const withOne = (k: number, x: number) => props.modelValue.map((v, i) => (i === k ? x : v)) as [number, number, number];
</script>

<template>
  <div class="row" role="group" :aria-label="title">
    <span class="title">{{ title }}</span>
    <span v-for="(axis, k) in AXIS_NAMES" :key="axis" class="cell">
      <span class="axis soft" aria-hidden="true" :data-drags="`${name}-${axis}`">{{ axis }}</span>
      <LengthField
        :id="`${name}-${axis}`"
        :model-value="modelValue[k]!"
        :as="as"
        :label="`${title} along ${axis}`"
        :unit="unit"
        narrow
        :check="(x) => check?.(withOne(k, x)) ?? null"
        @update:model-value="emit('update:modelValue', withOne(k, $event))"
      />
    </span>
  </div>
</template>

<style scoped>
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
.cell:last-child :deep(.problem) {
  left: auto;
  right: 0;
}
.axis {
  position: absolute;
  z-index: 1;
  left: 5px;
  top: 7px;
  font-size: 12px;
}
</style>
