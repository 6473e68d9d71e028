<script setup lang="ts">
import { computed } from 'vue';
import { AXIS_NAMES } from '@dusky-mason/core/mesh';

/** Which way the main axes point on the screen: unit vectors, to the right, upward and towards the viewer. */
const props = defineProps<{ axes: readonly (readonly [number, number, number])[] }>();

/** How long an axis is drawn that lies in the screen, and where its letter stands, pixels. */
const [LONG, LETTER] = [17, 24];
/** An axis that is shorter than this on the screen is a dot. */
const END_ON = 0.12;

const strokes = computed(() =>
  props.axes
    .map(([x, y, z], k) => {
      const length = Math.hypot(x, y);
      // The letter stands beyond the end, also of an axis that is nearly end on.
      const at = length < END_ON ? [-0.5, -0.55] : [x, y].map((v) => v * (1 + (LETTER - LONG) / (LONG * length)));
      return {
        name: AXIS_NAMES[k]!,
        x: x * LONG,
        y: -y * LONG,
        at: [at[0]! * LONG, -at[1]! * LONG],
        away: z < -0.05,
        z,
      };
    })
    .sort((a, b) => a.z - b.z),
);
</script>

<template>
  <svg class="axes" viewBox="-32 -32 64 64" width="64" height="64" aria-hidden="true">
    <g v-for="s in strokes" :key="s.name" :class="{ away: s.away }">
      <line x1="0" y1="0" :x2="s.x" :y2="s.y" />
      <text :x="s.at[0]" :y="s.at[1]">{{ s.name }}</text>
    </g>
    <circle r="2" />
  </svg>
</template>

<style scoped>
.axes {
  position: absolute;
  left: 8px;
  top: 8px;
  pointer-events: none;
}
line {
  stroke: var(--on-veil);
  stroke-width: 1.5;
}
.away line {
  stroke-dasharray: 3 2.5;
}
circle,
text {
  fill: var(--on-veil);
}
text {
  font: 12px var(--numbers);
  text-anchor: middle;
  dominant-baseline: central;
}
</style>
