<script setup lang="ts">
import { computed, ref } from 'vue';
import type { MendCourse } from '@dusky-mason/core/courses';
import { formatLength, type LengthUnit } from '@dusky-mason/core/units';
import VectorRow from '../components/VectorRow.vue';

/** The points of a cage that were moved; one is told by its place along the three sides, from the low end on. */
type Cage = Extract<MendCourse, { kind: 'cage' }>['params'];
const props = defineProps<{ params: Cage; unit: LengthUnit; disabled: boolean }>();
const emit = defineEmits<{ change: [moves: Cage['moves']] }>();
const AXES = ['x', 'y', 'z'] as const;
const point = ref<[number, number, number]>([0, 0, 0]);
const same = (p: readonly number[]) => p.every((x, k) => x === point.value[k]);
const by = computed(() => props.params.moves.find((m) => same(m.point))?.by ?? [0, 0, 0]);
function move(to: readonly number[]): void {
  const rest = props.params.moves.filter((m) => !same(m.point));
  const next = { point: [...point.value] as [number, number, number], by: [...to] as [number, number, number] };
  emit('change', to.some((x) => x !== 0) ? [...rest, next] : rest);
}
const far = (v: readonly number[]) => v.map((x) => formatLength(x, props.unit, 3)).join(', ');
</script>

<template>
  <section>
    <h3>Points of the cage</h3>
    <p class="soft">Of each side from its low end on, 0 first. Choose one, then say how far it goes.</p>
    <div class="which">
      <label v-for="(a, k) in AXES" :key="a">
        <span>{{ a.toUpperCase() }}</span>
        <select v-model.number="point[k]" :aria-label="`Point along ${a.toUpperCase()}`" :disabled="disabled">
          <option v-for="i in params[a] + 1" :key="i" :value="i - 1">{{ i - 1 }}</option>
        </select>
      </label>
    </div>
    <VectorRow
      title="Goes by"
      :model-value="by"
      as="length"
      :unit="unit"
      name="cage-point"
      @update:model-value="move"
    />
    <ul v-if="params.moves.length">
      <li v-for="m in params.moves" :key="m.point.join()">
        <button :aria-label="`Point ${m.point.join(', ')}`" @click="point = [...m.point]">
          {{ m.point.join(' · ') }}
        </button>
        <span class="number">{{ far(m.by) }}</span>
      </li>
    </ul>
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
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  margin: 3px 0;
}
button {
  padding: 2px 8px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
</style>
