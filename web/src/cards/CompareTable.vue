<script setup lang="ts">
import { computed } from 'vue';
import { formatArea, formatLength, formatVolume, type LengthUnit } from '@dusky-mason/core/units';
import { useProject } from '../stores/project.ts';
import { useWipe } from '../stores/wipe.ts';

/** What changed between two courses, in numbers. */
const props = defineProps<{ unit: LengthUnit }>();
const wipe = useWipe();
const store = useProject();
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
    ['Surface', formatArea(b.area, props.unit), formatArea(a.area, props.unit)],
  ] as const;
});
const far = (x: { distance: number } | null | undefined) =>
  x ? formatLength(x.distance, props.unit, 3) : 'not measured';
const name = computed(() => store.part?.courses.find((c) => c.id === wipe.course)?.name ?? '');
</script>

<template>
  <section>
    <h3>Before and after</h3>
    <div class="acts">
      <button
        :aria-pressed="wipe.on"
        :disabled="(store.part?.courses.length ?? 0) < 2"
        title="Wipe across the view (W)"
        @click="wipe.toggle()"
      >
        {{ wipe.on ? 'Done comparing' : 'Compare' }}
      </button>
    </div>
    <p v-if="wipe.on && !wipe.compared" class="soft" role="status">Comparing …</p>
    <table v-if="wipe.compared">
      <caption class="unseen">
        What changed
      </caption>
      <thead>
        <tr>
          <td></td>
          <th scope="col" :title="`up to ${name}`">before</th>
          <th scope="col">now</th>
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
      Furthest that its vertices were from what it is now: {{ far(wipe.compared.gone) }}; that they are now from what it
      was: {{ far(wipe.compared.come) }}.
    </p>
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
