<script lang="ts">
import { reactive } from 'vue';

/** Stay as they were left, from one card to the next. */
const open = reactive({ state: false, more: false });
const left = (e: Event): boolean => (e.target as HTMLDetailsElement).open;
</script>

<script setup lang="ts">
import { computed, ref } from 'vue';
import {
  duplicatePart,
  mirrorPart,
  movePart,
  removePart,
  reorderPart,
  setPart,
  type Part,
  type Project,
} from '@dusky-mason/core/courses';
import { canRun, commandOf, useCommands } from '../words/commands.ts';
import LengthField from '../components/LengthField.vue';
import VectorRow from '../components/VectorRow.vue';
import { useMaking } from '../stores/making.ts';
import { useProject } from '../stores/project.ts';

/** What can be done with a part as a whole. */
const props = defineProps<{ part: Part }>();
const store = useProject();
const making = useMaking();
const unit = computed(() => store.project!.unit);
const parts = computed(() => store.project!.parts);
const at = computed(() => parts.value.indexOf(props.part));

const change = (title: string, p: Project): void => store.change(`${title} ${props.part.name}`, p);
const toggle = (key: 'shown' | 'locked', title: string): void =>
  change(title, setPart(store.project!, props.part.id, { [key]: !props.part[key] }));
const order = (by: number): void => change('Order of', reorderPart(store.project!, props.part.id, at.value + by));

const axis = ref<0 | 1 | 2>(0);
const plane = ref(0);
function mirror(): void {
  const p = store.project!;
  change('Mirror', mirrorPart(p, props.part.id, axis.value, plane.value));
  store.select({ part: p.nextId + 1 });
}

const others = computed(() => parts.value.filter((p) => p !== props.part));
const joined = ref<Set<number>>(new Set());
const chosen = computed(() => others.value.filter((p) => joined.value.has(p.id)));
function choose(id: number, is: boolean): void {
  const next = new Set(joined.value);
  if (is) next.add(id);
  else next.delete(id);
  joined.value = next;
}

const by = ref<[number, number, number]>([0, 0, 0]);
const move = (to: readonly [number, number, number]): void => {
  if (to.some((x) => x !== 0)) change('Move', movePart(store.project!, props.part.id, to));
};
const box = computed(() => store.outcome?.counts.bounds);
const toGround = (): void => {
  if (box.value) move([0, 0, -box.value.min[2]]);
};

/** Of the view, which is not there on every stage. */
const inView = computed(() => commandOf('part-hand'));

const can = () => !store.readOnly;
useCommands([
  { id: 'part-mirror', title: 'Mirror the part', also: 'flip symmetric other half', when: can, run: mirror },
  {
    id: 'part-separate',
    title: 'Separate the part’s loose pieces',
    also: 'split islands shells',
    when: can,
    run: () => void making.separate(props.part),
  },
  {
    id: 'part-rack',
    title: 'Put the part on the rack',
    also: 'library keep cutter offcut',
    when: can,
    run: () => void making.partToRack(props.part),
  },
  {
    id: 'part-lock',
    title: 'Lock or unlock the part',
    also: 'protect',
    when: can,
    run: () => toggle('locked', props.part.locked ? 'Unlock' : 'Lock'),
  },
  {
    id: 'part-hide',
    title: 'Hide or show the part among the others',
    also: 'visible',
    when: can,
    run: () => toggle('shown', props.part.shown ? 'Hide' : 'Show'),
  },
  { id: 'part-ground', title: 'Drop the whole part to the ground', also: 'floor move', when: can, run: toGround },
]);
</script>

<template>
  <details :open="open.state" @toggle="open.state = left($event)">
    <summary>Hide, lock, copy, delete</summary>
    <div class="acts more" role="group" aria-label="State of the part">
      <button
        :aria-pressed="!part.shown"
        title="Hidden parts are not drawn beside the part at hand"
        @click="toggle('shown', part.shown ? 'Hide' : 'Show')"
      >
        {{ part.shown ? 'Hide' : 'Show' }}
      </button>
      <button
        :aria-pressed="part.locked"
        title="A locked part cannot be changed"
        @click="toggle('locked', part.locked ? 'Unlock' : 'Lock')"
      >
        {{ part.locked ? 'Unlock' : 'Lock' }}
      </button>
      <button :disabled="at === 0" @click="order(-1)">Earlier</button>
      <button :disabled="at === parts.length - 1" @click="order(1)">Later</button>
      <button @click="change('Duplicate', duplicatePart(store.project!, part.id))">Duplicate</button>
      <button title="Keeps it across projects, as a cutter" @click="making.partToRack(part)">Put it on the rack</button>
      <button title="Makes a part of each connected piece" @click="making.separate(part)">Separate loose pieces</button>
      <button @click="change('Delete', removePart(store.project!, part.id))">Delete the part</button>
    </div>
  </details>
  <details :open="open.more" @toggle="open.more = left($event)">
    <summary>Move, mirror, join</summary>
    <div class="more">
      <VectorRow v-model="by" title="Move by" as="length" :unit="unit" name="part-move" />
      <div class="acts">
        <button @click="move(by)">Move all of it</button>
        <button
          v-if="inView && canRun(inView)"
          title="Slides it by handles, level with other parts (P)"
          @click="inView.run()"
        >
          In the view
        </button>
        <button title="Moves its lowest point to height 0" @click="toGround">To the ground</button>
      </div>
      <div class="mirror">
        <span class="soft">Mirror across</span>
        <select v-model="axis" aria-label="Axis that the mirror is square to">
          <option v-for="(name, k) in ['x', 'y', 'z']" :key="name" :value="k">{{ name }}</option>
        </select>
        <span class="soft">at</span>
        <LengthField id="mirror-at" v-model="plane" as="length" label="Place of the mirror" :unit="unit" narrow />
        <button title="Makes a part that follows this one" @click="mirror">Mirror</button>
      </div>
      <fieldset v-if="others.length" class="join">
        <legend class="soft">Join with</legend>
        <label v-for="p in others" :key="p.id">
          <input
            type="checkbox"
            :checked="joined.has(p.id)"
            @change="choose(p.id, ($event.target as HTMLInputElement).checked)"
          />
          {{ p.name }}
        </label>
        <div class="acts">
          <button
            :disabled="!chosen.length"
            title="Makes one part of them; the originals are kept, hidden"
            @click="making.join([part, ...chosen])"
          >
            Join
          </button>
        </div>
      </fieldset>
    </div>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  color: var(--soft);
}
.more {
  margin-top: 8px;
}
.more:not(.acts) {
  display: grid;
  gap: 8px;
}
.mirror {
  display: grid;
  grid-template-columns: auto 44px auto minmax(0, 1fr) auto;
  gap: 5px;
  align-items: center;
}
.mirror button,
.mirror select {
  min-height: 28px;
  padding: 0 6px;
  border: 1px solid var(--joint);
  background: var(--raised);
}
.join {
  border: 1px solid var(--joint);
  padding: 4px 8px 8px;
  display: grid;
  gap: 4px;
}
.join label {
  display: flex;
  gap: 6px;
  min-height: 24px;
  align-items: center;
}
</style>
