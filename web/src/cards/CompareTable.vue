<script setup lang="ts">
import { computed } from 'vue';
import { formatArea, formatLength, formatVolume, type LengthUnit } from '@dusky-mason/core/units';
import HeatScale from '../components/HeatScale.vue';
import { useWipe } from '../stores/wipe.ts';

/** What changed between two courses, in numbers. */
const props = defineProps<{ unit: LengthUnit }>();
const wipe = useWipe();
const rows = computed(() => {
  const c = wipe.compared;
  if (!c) return [];
  const { before: b, after: a } = c;
  const volume = (x: number | null) => (x === null ? 'open' : formatVolume(x, props.unit));
  return [
    ['Faces', b.faces, a.faces],
    ['Quads', b.quads, a.quads],
    ['N-gons', b.ngons, a.ngons],
    ['Triangles', b.triangles, a.triangles],
    ['Vertices', b.vertices, a.vertices],
    ['Open edges', b.openEdges, a.openEdges],
    ['Slivers', b.slivers, a.slivers],
    ['Volume', volume(b.volume), volume(a.volume)],
    ...(c.shading
      ? [
          ['Shading, worst', angle(c.shading.before.worst), angle(c.shading.after.worst)] as const,
          ['Shading, mean', angle(c.shading.before.mean), angle(c.shading.after.mean)] as const,
        ]
      : []),
    ['Surface', formatArea(b.area, props.unit), formatArea(a.area, props.unit)],
  ] as const;
});
/** Less than a ten-thousandth of a degree is rounding. */
const angle = (x: number) => `${x < 1e-4 ? 0 : +x.toPrecision(3)}°`;
const far = (x: { distance: number } | null | undefined) =>
  x ? formatLength(x.distance, props.unit, 3) : 'not measured';
const name = (id: string) => wipe.states.find((x) => x.id === id)?.title ?? '';
const heats = computed(() => wipe.heat && wipe.compared?.heat);
</script>

<template>
  <section>
    <h3>Before and after</h3>
    <div class="acts">
      <button
        :aria-pressed="wipe.on"
        :disabled="wipe.states.length < 2"
        title="Wipe across the view (W)"
        @click="wipe.toggle()"
      >
        {{ wipe.on ? 'Done comparing' : 'Compare' }}
      </button>
      <button title="Keeps this state, to compare later ones with it" @click="wipe.keep()">Keep this state</button>
    </div>
    <p v-if="wipe.on && !wipe.compared" class="soft" role="status">Comparing …</p>
    <table v-if="wipe.compared">
      <caption class="unseen">
        What changed
      </caption>
      <thead>
        <tr>
          <td></td>
          <th scope="col" :title="name(wipe.before)">before</th>
          <th scope="col" :title="name(wipe.after)">after</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="[title, b, a] in rows" :key="title" :class="{ same: b === a }">
          <th scope="row">{{ title }}</th>
          <td class="number">{{ b }}</td>
          <td class="number">{{ a }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="wipe.compared" class="soft">
      Largest distance from before to after: {{ far(wipe.compared.gone) }}; from after to before:
      {{ far(wipe.compared.come) }}.
    </p>
    <HeatScale v-if="heats" :heat="heats.after" as="length" :unit="unit" label="Distance to the other side" />
  </section>
</template>

<style scoped>
table {
  width: 100%;
  border-spacing: 0 2px;
  margin-top: 6px;
}
th {
  text-align: left;
  font-weight: 400;
}
thead th,
td {
  text-align: right;
}
.same {
  color: var(--soft);
}
tr:not(.same) td:last-child {
  font-weight: 700;
}
</style>
