<script setup lang="ts">
import { AXIS_NAMES } from '@dusky-mason/core/mesh';
import { computed, watch } from 'vue';
import type { CageChoice, StrokeCourse } from '@dusky-mason/core/courses';
import { formatLength, type LengthUnit } from '@dusky-mason/core/units';
import VectorRow from '../components/VectorRow.vue';
import { useCage } from '../stores/cage.ts';
const cage = useCage();

/** The points of a cage that were moved; one is named by its place along the three sides, from the low end on. */
type Cage = Extract<StrokeCourse, { kind: 'cage' }>['params'];
const props = defineProps<{ params: Cage; unit: LengthUnit; disabled: boolean }>();
const emit = defineEmits<{ change: [moves: Cage['moves']] }>();
// Each cage begins at its first point, and with fewer points the choice stays among those that there are.
cage.choice = [0, 0, 0];
watch(
  () => AXIS_NAMES.map((a) => props.params[a]),
  (most) => {
    cage.choice = cage.choice.map((c, k) => (c === null ? null : Math.min(c, most[k]!))) as unknown as CageChoice;
  },
);
const choose = (k: number, e: Event): void => {
  const { value } = e.target as HTMLSelectElement;
  cage.choice = cage.choice.map((c, i) =>
    i === k ? (value === '' ? null : Number(value)) : c,
  ) as unknown as CageChoice;
};
const one = computed(() => cage.choice.every((c) => c !== null));
const same = (p: readonly number[]) => p.every((x, k) => x === cage.choice[k]);
const by = computed(() => props.params.moves.find((m) => same(m.point))?.by ?? [0, 0, 0]);
function move(to: readonly number[]): void {
  const rest = props.params.moves.filter((m) => !same(m.point));
  const next = { point: [...cage.choice] as [number, number, number], by: [...to] as [number, number, number] };
  emit('change', to.some((x) => x !== 0) ? [...rest, next] : rest);
}
const far = (v: readonly number[]) => v.map((x) => formatLength(x, props.unit, 3)).join(', ');
</script>

<template>
  <section>
    <h3>Points of the cage</h3>
    <p class="soft">
      Choose a point, a row or a layer. Counting starts at the low end with 0. Then drag the handles in the view, or
      type how far a point moves.
    </p>
    <div class="which">
      <label v-for="(a, k) in AXIS_NAMES" :key="a">
        <span>{{ a.toUpperCase() }}</span>
        <select
          :value="cage.choice[k] ?? ''"
          :aria-label="`Point along ${a.toUpperCase()}`"
          :disabled="disabled"
          @change="choose(k, $event)"
        >
          <option value="">all</option>
          <option v-for="i in params[a] + 1" :key="i" :value="i - 1">{{ i - 1 }}</option>
        </select>
      </label>
    </div>
    <VectorRow
      v-if="one"
      title="Moved by"
      :model-value="by"
      as="length"
      :unit="unit"
      name="cage-point"
      @update:model-value="move"
    />
    <ul v-if="params.moves.length" class="lines">
      <li v-for="m in params.moves" :key="m.point.join()">
        <button class="small" :aria-label="`Point ${m.point.join(', ')}`" @click="cage.choice = [...m.point]">
          {{ m.point.join(' · ') }}
        </button>
        <span class="number">{{ far(m.by) }}</span>
      </li>
    </ul>
    <button v-if="params.moves.length" class="small" :disabled="disabled" @click="emit('change', [])">Reset all</button>
  </section>
</template>

<style scoped>
.which {
  display: flex;
  gap: 12px;
  margin-bottom: 6px;
}
.which label {
  display: flex;
  align-items: center;
  gap: 6px;
}
.which select {
  padding: 3px 6px;
  border: 1px solid var(--joint);
  background: var(--raised);
  color: inherit;
}
</style>
