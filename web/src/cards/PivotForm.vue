<script setup lang="ts">
import { computed } from 'vue';
import { PIVOTS, pivotOn, repivoted, type Pivot, type Placed } from '@dusky-mason/core/courses';
import { useCommands } from '../words/commands.ts';
import VectorRow from '../components/VectorRow.vue';
import type { Held } from '../stores/held.ts';
import { useProject } from '../stores/project.ts';
import { useShapes } from '../stores/shapes.ts';
import { useTools } from '../tools/tools.ts';

/**
 * Where the pivot of the picked thing is: the point that its position places and that it turns about. The body stays
 * where it is.
 */
const props = defineProps<{ held: Held; name: string }>();
const store = useProject();
const shapes = useShapes();
const tools = useTools();
const unit = computed(() => store.project!.unit);
const shape = computed(() => props.held.placed.shape);
const pivot = computed((): Pivot => shape.value.pivot ?? 'own');

const put = (next: Placed): void => store.change(`Pivot of ${props.held.name}`, props.held.put(store.project!, next));
const set = (to: Pivot, at?: [number, number, number]): void =>
  put(repivoted(props.held.placed, to, at, shapes.box(shape.value)));
const pick = (): void =>
  tools.pick({
    wants: 'point',
    asks: ['the place of the pivot'],
    got: [],
    done: ([p]) => put(pivotOn(props.held.placed, p!.point)),
  });

useCommands([
  {
    id: 'pivot-pick',
    title: 'Put the pivot on a vertex or the middle of a face',
    also: 'origin centre',
    when: () => !store.readOnly,
    run: pick,
  },
  {
    id: 'pivot-middle',
    title: 'Put the pivot in the middle of the box',
    also: 'origin centre',
    when: () => !store.readOnly,
    run: () => set('middle'),
  },
]);
</script>

<template>
  <div class="field-row">
    <label :for="`${name}-pivot`">Pivot</label>
    <div class="pivot">
      <select :id="`${name}-pivot`" :value="pivot" @change="set(($event.target as HTMLSelectElement).value as Pivot)">
        <option v-for="(title, key) in PIVOTS" :key="key" :value="key">{{ title }}</option>
      </select>
      <button title="Pick a vertex, or the middle of a face, an opening or an edge" @click="pick">Pick</button>
    </div>
  </div>
  <VectorRow
    v-if="pivot === 'set'"
    title="Pivot at"
    :model-value="shape.pivotAt ?? [0, 0, 0]"
    as="length"
    :unit="unit"
    :name="`${name}-pivot-at`"
    @update:model-value="set('set', $event)"
  />
</template>

<style scoped>
.pivot {
  display: flex;
  gap: 4px;
}
select {
  flex: 1;
  min-width: 0;
  min-height: 30px;
  padding: 0 2px;
  border: 1px solid var(--joint);
  background: var(--raised);
}
button {
  padding: 0 8px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
</style>
