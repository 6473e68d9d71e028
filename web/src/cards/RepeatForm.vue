<script setup lang="ts">
import { computed, ref } from 'vue';
import { instancesOf, RepeatSchema, type Cutter, type Repeat } from '@dusky-mason/core/courses';
import { MasonError } from '@dusky-mason/core/mesh';
import type { LengthUnit } from '@dusky-mason/core/units';
import { useTools } from '../tools/tools.ts';
import SchemaForm from '../components/SchemaForm.vue';
import VectorRow from '../components/VectorRow.vue';

/** Where else a cutter stands, and which of its instances are switched off or moved. */
const props = defineProps<{ cutter: Cutter; unit: LengthUnit }>();
const emit = defineEmits<{ change: [repeat: Repeat, title: string] }>();

/** More than this are not listed one by one. */
const MOST_LISTED = 60;
const repeat = computed(() => props.cutter.repeat);
const list = computed(() => {
  try {
    return { instances: instancesOf(props.cutter.placement, repeat.value), problem: null };
  } catch (e) {
    if (e instanceof MasonError) return { instances: [], problem: e.message };
    throw e;
  }
});
const picked = ref<number | null>(null);
const isOff = (n: number) => repeat.value.off.includes(n);
const movedBy = (n: number) => repeat.value.moves.find((m) => m.instance === n)?.by ?? [0, 0, 0];

const set = (change: Partial<Repeat>, title: string): void => emit('change', { ...repeat.value, ...change }, title);
const tools = useTools();
const pickPath = (): void =>
  tools.pick({
    wants: 'edge',
    asks: ['an edge of the boundary that they stand along'],
    got: [],
    done: ([e]) =>
      set({ path: e!.boundary!.map((p) => [...p] as [number, number, number]), loop: true }, 'Boundary of the repeat'),
  });
function turn(n: number): void {
  const off = isOff(n) ? repeat.value.off.filter((x) => x !== n) : [...repeat.value.off, n];
  set({ off }, `${isOff(n) ? 'Switch on' : 'Switch off'} instance ${n + 1}`);
}
function move(n: number, by: [number, number, number]): void {
  const others = repeat.value.moves.filter((m) => m.instance !== n);
  set({ moves: by.some((x) => x !== 0) ? [...others, { instance: n, by }] : others }, `Move instance ${n + 1}`);
}
</script>

<template>
  <div class="repeat">
    <SchemaForm
      :schema="RepeatSchema"
      :model-value="repeat"
      :unit="unit"
      :name="`repeat-${cutter.id}`"
      @change="(key, value, title) => set({ [key]: value }, title)"
    />
    <VectorRow
      v-if="repeat.kind === 'round'"
      title="Axis at"
      :model-value="repeat.centre"
      as="length"
      :unit="unit"
      :name="`repeat-${cutter.id}-centre`"
      @update:model-value="set({ centre: $event }, 'Axis of the repeat')"
    />
    <div v-if="repeat.kind === 'along'" class="acts">
      <button title="Click an edge: the instances follow its boundary" @click="pickPath">
        {{ repeat.path.length ? 'Pick another boundary' : 'Pick the boundary' }}
      </button>
      <span class="soft">{{ repeat.path.length ? `${repeat.path.length} points` : 'none yet' }}</span>
    </div>
    <p v-if="list.problem" class="warning">{{ list.problem }}</p>
    <template v-else-if="repeat.kind !== 'none' && list.instances.length <= MOST_LISTED">
      <div class="instances" role="group" aria-label="Instances">
        <button
          v-for="i in list.instances"
          :key="i.number"
          :class="{ off: i.off }"
          :aria-pressed="picked === i.number"
          :aria-label="`Instance ${i.number + 1}${i.off ? ', switched off' : ''}`"
          @click="picked = picked === i.number ? null : i.number"
        >
          {{ i.number + 1 }}
        </button>
      </div>
      <template v-if="picked !== null && list.instances[picked]">
        <VectorRow
          :title="`Moved`"
          :model-value="movedBy(picked)"
          as="length"
          :unit="unit"
          :name="`repeat-${cutter.id}-move`"
          @update:model-value="move(picked, $event)"
        />
        <div class="acts">
          <button @click="turn(picked)">Switch {{ isOff(picked) ? 'on' : 'off' }} instance {{ picked + 1 }}</button>
        </div>
      </template>
      <p v-else class="soft">Pick one to switch it off or to move it by itself.</p>
    </template>
  </div>
</template>

<style scoped>
.repeat {
  display: grid;
  gap: 8px;
}
.instances {
  display: flex;
  flex-wrap: wrap;
  gap: 3px;
}
.instances button {
  min-width: 28px;
  min-height: 26px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
.instances .off {
  background: none;
  color: var(--soft);
  text-decoration: line-through;
  border-style: dashed;
}
.instances [aria-pressed='true'] {
  border-color: var(--verdigris);
  box-shadow: inset 0 -3px var(--verdigris);
}
.warning {
  padding-left: 9px;
  border-left: 3px solid var(--ochre);
}
</style>
