<script setup lang="ts">
import LengthField from '../components/LengthField.vue';
import type { LengthUnit } from '@dusky-mason/core/units';

/** A number on the strip, with its title before it. */
defineProps<{
  title: string;
  /** Its full name, for those who do not see the strip. */
  label: string;
  id: string;
  as: 'length' | 'angle' | 'count' | 'factor';
  unit: LengthUnit;
  min?: number;
  max?: number;
}>();
const model = defineModel<number>({ required: true });
</script>

<template>
  <label>
    {{ title }}
    <span>
      <LengthField :id="id" v-model="model" :as="as" :label="label" :unit="unit" :min="min" :max="max" narrow />
    </span>
  </label>
</template>

<style scoped>
label {
  display: flex;
  align-items: center;
  gap: 5px;
  color: var(--soft);
}
span {
  width: 72px;
}
</style>
