<script setup lang="ts">
import { computed } from 'vue';
import { pointAfter, rowsOf, withoutPoint, withPoint, type Pointed, type PointRow } from '@dusky-mason/core/courses';
import type { LengthUnit } from '@dusky-mason/core/units';
import LengthField from '../components/LengthField.vue';

/** The points of an outline or a profile, how far the piece after each bows out, and how round each corner is. */
const props = defineProps<{ shape: Pointed; unit: LengthUnit; name: string }>();
const emit = defineEmits<{ change: [shape: Pointed, title: string] }>();

/** Longer outlines come from a file, and are not typed point by point. */
const MOST_ROWS = 40;
/** A few points are shown at once, more when they are asked for. */
const OPEN_UP_TO = 8;
const rows = computed(() => rowsOf(props.shape));
const few = computed(() => rows.value.length <= MOST_ROWS);
const turned = computed(() => props.shape.kind === 'turned');
const columns = computed(
  () =>
    [
      {
        key: 'x',
        title: turned.value ? 'from axis' : 'x',
        says: (i: number) => `${turned.value ? 'Distance from the axis' : 'x'} of point ${i + 1}`,
      },
      {
        key: 'y',
        title: turned.value ? 'height' : 'y',
        says: (i: number) => `${turned.value ? 'Height' : 'y'} of point ${i + 1}`,
      },
      { key: 'bow', title: 'bow', says: (i: number) => `Bow after point ${i + 1}` },
      { key: 'radius', title: 'radius', says: (i: number) => `Corner radius of point ${i + 1}` },
    ] as const,
);
function set(i: number, key: keyof PointRow, x: number): void {
  const value = key === 'radius' || (turned.value && key === 'x') ? Math.max(0, x) : x;
  emit('change', withPoint(props.shape, i, { [key]: value }), `Point ${i + 1}`);
}
const remove = (i: number): void => emit('change', withoutPoint(props.shape, i), `Remove point ${i + 1}`);
const after = (i: number): void => emit('change', pointAfter(props.shape, i), `Point after ${i + 1}`);
</script>

<template>
  <p v-if="!few" class="soft">Its outline has {{ rows.length }} points.</p>
  <details v-else :open="rows.length <= OPEN_UP_TO">
    <summary>Its {{ rows.length }} points</summary>
    <table>
      <caption class="soft">
        In
        {{
          unit
        }}. A bow stands out of the piece that follows its point; a radius rounds the corner between two straight
        pieces. Drag them in the view with the handles “Points”.
      </caption>
      <thead>
        <tr>
          <th></th>
          <th v-for="c in columns" :key="c.key">{{ c.title }}</th>
          <th><span class="unseen">Acts</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(r, i) in rows" :key="i">
          <th scope="row" class="number">{{ i + 1 }}</th>
          <td v-for="c in columns" :key="c.key">
            <LengthField
              :id="`${name}-point-${i}-${c.key}`"
              :model-value="r[c.key]"
              as="length"
              :label="c.says(i)"
              :unit="unit"
              narrow
              @update:model-value="set(i, c.key, $event)"
            />
          </td>
          <td class="ends">
            <button :aria-label="`Add a point after point ${i + 1}`" title="Add a point after it" @click="after(i)">
              +
            </button>
            <button
              v-if="rows.length > (turned ? 3 : 2)"
              :aria-label="`Remove point ${i + 1}`"
              title="Remove it"
              @click="remove(i)"
            >
              −
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  color: var(--soft);
}
table {
  width: 100%;
  border-spacing: 2px;
  table-layout: fixed;
}
caption {
  text-align: left;
  font-size: 12px;
  padding-bottom: 3px;
}
th {
  font-weight: 400;
  color: var(--soft);
  font-size: 12px;
}
th:first-child {
  width: 14px;
}
th:last-child {
  width: 56px;
}
.ends {
  white-space: nowrap;
}
.ends button {
  width: 25px;
  padding: 0;
  min-height: 26px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
</style>
