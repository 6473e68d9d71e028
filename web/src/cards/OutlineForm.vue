<script setup lang="ts">
import { computed } from 'vue';
import type { Shape } from '@dusky-mason/core/courses';
import type { Point2 } from '@dusky-mason/core/shapes';
import type { LengthUnit } from '@dusky-mason/core/units';
import LengthField from '../components/LengthField.vue';

/** The points of a drawn outline, and how far the piece after each bows out. */
type Outline = Extract<Shape, { kind: 'outline' }>;
const props = defineProps<{ shape: Outline; unit: LengthUnit; name: string }>();
const emit = defineEmits<{ change: [shape: Outline, title: string] }>();

/** Longer outlines come from a file, and are not typed point by point. */
const MOST_ROWS = 40;
const bowAt = (i: number) => props.shape.bows[i] ?? 0;
const rows = computed(() => props.shape.points.map(([x, y], i) => ({ x, y, bow: bowAt(i) })));
const few = computed(() => rows.value.length <= MOST_ROWS);

function put(list: readonly { x: number; y: number; bow: number }[], title: string): void {
  const points = list.map(({ x, y }): Point2 => [x, y]);
  emit('change', { ...props.shape, points, bows: list.map((r) => r.bow) }, title);
}
const set = (i: number, change: Partial<{ x: number; y: number; bow: number }>): void =>
  put(rows.value.map((r, k) => (k === i ? { ...r, ...change } : r)), `Point ${i + 1}`); // prettier-ignore
const remove = (i: number): void => put(rows.value.filter((_, k) => k !== i), `Remove point ${i + 1}`); // prettier-ignore
/** A new point in the middle of the piece after a point, which is straight on both sides of it. */
function after(i: number): void {
  const [a, b] = [rows.value[i]!, rows.value[(i + 1) % rows.value.length]!];
  const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, bow: 0 };
  put([...rows.value.slice(0, i), { ...a, bow: 0 }, middle, ...rows.value.slice(i + 1)], `Point after ${i + 1}`);
}
</script>

<template>
  <p v-if="!few" class="soft">Its outline has {{ rows.length }} points.</p>
  <table v-else>
    <caption class="soft">
      Points of the outline, in
      {{
        unit
      }}; a bow stands out of the piece that follows.
    </caption>
    <thead>
      <tr>
        <th></th>
        <th>x</th>
        <th>y</th>
        <th>bow</th>
        <th><span class="unseen">Acts</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(r, i) in rows" :key="i">
        <th scope="row" class="number">{{ i + 1 }}</th>
        <td v-for="key in ['x', 'y', 'bow'] as const" :key="key">
          <LengthField
            :id="`${name}-point-${i}-${key}`"
            :model-value="r[key]"
            as="length"
            :label="`${key === 'bow' ? 'Bow after' : `${key} of`} point ${i + 1}`"
            :unit="unit"
            narrow
            @update:model-value="set(i, { [key]: $event })"
          />
        </td>
        <td class="acts">
          <button :aria-label="`Add a point after point ${i + 1}`" title="Add a point after it" @click="after(i)">
            +
          </button>
          <button v-if="rows.length > 2" :aria-label="`Remove point ${i + 1}`" title="Remove it" @click="remove(i)">
            −
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
  border-spacing: 3px;
}
caption {
  text-align: left;
  font-size: 12px;
  padding-bottom: 3px;
}
th {
  font-weight: 400;
  color: var(--soft);
}
.acts {
  width: 50px;
  white-space: nowrap;
}
.acts button {
  width: 22px;
  padding: 0;
  min-height: 26px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
</style>
