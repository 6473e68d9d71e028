<script setup lang="ts">
import type Plot from 'plotly.js-cartesian-dist-min';
import { onBeforeUnmount, onMounted, ref, watch } from 'vue';

/**
 * How often each value of a heat comes: bars over its scale, by the root of their count so that a few far values are
 * seen beside many near ones.
 */
const props = defineProps<{ bins: readonly number[]; told: (share: number) => string; label: string }>();
const at = ref<HTMLDivElement>();
let plot: typeof Plot | null = null;
let gone = false;

function draw(): void {
  if (!plot || !at.value) return;
  const n = props.bins.length;
  const style = getComputedStyle(at.value);
  const ink = style.getPropertyValue('--soft').trim();
  const text = props.bins.map(
    (count, i) => `${props.told(i / n)} to ${props.told((i + 1) / n)}: ${count.toLocaleString('en')}`,
  );
  void plot.react(
    at.value,
    [
      {
        type: 'bar',
        x: props.bins.map((_, i) => i + 0.5),
        y: props.bins.map(Math.sqrt),
        hovertext: text,
        hoverinfo: 'text',
        marker: { color: ink },
      },
    ],
    {
      height: 64,
      margin: { l: 0, r: 0, t: 4, b: 0 },
      bargap: 0.08,
      paper_bgcolor: 'transparent',
      plot_bgcolor: 'transparent',
      font: { family: style.fontFamily, size: 12 },
      xaxis: { range: [0, n], visible: false, fixedrange: true },
      yaxis: { visible: false, fixedrange: true, rangemode: 'tozero' },
    },
    { displayModeBar: false, responsive: true },
  );
}

onMounted(async () => {
  // Large, and wanted only here.
  const loaded = (await import('plotly.js-cartesian-dist-min')).default;
  if (gone) return;
  plot = loaded;
  draw();
});
watch(() => props.bins, draw);
onBeforeUnmount(() => {
  gone = true;
  if (plot && at.value) plot.purge(at.value);
});
</script>

<template>
  <div ref="at" class="bars" role="img" :aria-label="`${label}: how often each value comes`"></div>
</template>

<style scoped>
.bars {
  height: 64px;
}
</style>
