<script setup lang="ts">
import { computed } from 'vue';
import type { LineClass } from '@dusky-mason/core/mesh';
import { formatLength, type LengthUnit } from '@dusky-mason/core/units';
import { LINE_LOOKS } from '../theme/colours.ts';

/** How the lines in the view are told apart; with numbers, how many there are of each and how long they are. */
const props = defineProps<{
  title: string;
  edges?: readonly { name: LineClass; count: number; length: number }[];
  unit?: LengthUnit;
}>();
const lines = computed(() =>
  Object.entries(LINE_LOOKS).map(([name, look]) => ({ name, look, told: props.edges?.find((e) => e.name === name) })),
);
</script>

<template>
  <section>
    <h3>{{ title }}</h3>
    <ul>
      <li v-for="{ name, look, told } in lines" :key="name" :class="{ counted: !!edges }">
        <svg width="44" height="8" aria-hidden="true">
          <line
            x1="0"
            y1="4"
            x2="44"
            y2="4"
            stroke="currentColor"
            :stroke-width="look.width"
            :stroke-dasharray="look.dash.join(' ')"
            :opacity="Math.max(0.5, look.opacity)"
          />
        </svg>
        <span>{{ look.title }}</span>
        <span v-if="told" class="number">{{ told.count.toLocaleString('en') }}</span>
        <span v-if="told" class="number">{{ formatLength(told.length, unit ?? 'mm', 1) }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 56px 1fr;
  align-items: center;
  padding: 2px 0;
}
li.counted {
  grid-template-columns: 50px 1fr auto 84px;
  gap: 0 6px;
}
li .number {
  text-align: right;
}
</style>
