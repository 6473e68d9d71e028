<script setup lang="ts">
import { computed } from 'vue';
import type { LookValues } from '@dusky-mason/core/survey';
import { formatLength, type LengthUnit } from '@dusky-mason/core/units';
import { HEAT_GRADIENT } from '../theme/colours.ts';
import HeatBars from './HeatBars.vue';

/** What the colours of a heat mean: a ramp with numbers, and how often each value comes. */
const props = defineProps<{
  heat: LookValues;
  /** A length is shown in the project's unit. */
  as: 'length' | 'number';
  unit: LengthUnit;
  /** Of a number its own unit. */
  suffix?: string;
  label: string;
}>();

const told = (x: number): string =>
  props.as === 'length' ? formatLength(x, props.unit, 2) : `${+x.toPrecision(3)}${props.suffix === '°' ? '°' : ''}`;
/** The value at a share of the scale. */
const valueAt = (s: number): number => {
  const { min, max, log } = props.heat;
  return log ? Math.exp(Math.log(min) + s * (Math.log(max) - Math.log(min))) : min + s * (max - min);
};
const marks = computed(() => [0, 0.25, 0.5, 0.75, 1].map((s) => told(valueAt(s))));
</script>

<template>
  <div class="heat">
    <HeatBars :bins="heat.bins" :told="(s) => told(valueAt(s))" :label="label" />
    <div
      class="ramp"
      role="img"
      :aria-label="`From ${marks[0]} to ${marks[4]}`"
      :style="{ background: HEAT_GRADIENT }"
    ></div>
    <div class="marks number">
      <span v-for="(m, i) in marks" :key="i">{{ m }}</span>
    </div>
    <small v-if="as === 'number' && suffix !== '°'" class="soft">{{ suffix }}</small>
  </div>
</template>

<style scoped>
.ramp {
  height: 14px;
  border: 1px solid var(--joint);
}
.marks {
  display: flex;
  justify-content: space-between;
  font-size: 11px;
}
</style>
