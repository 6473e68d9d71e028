<script setup lang="ts">
import { Eye, EyeOff, Lock, LockOpen, Pencil, Plus } from '@lucide/vue';
import InputText from 'primevue/inputtext';
import { computed, ref } from 'vue';
import { reorderPart, setPart, type Part } from '@dusky-mason/core/courses';
import { usePartLooks } from '../stores/partLooks.ts';
import { useProject } from '../stores/project.ts';

/**
 * The parts of the project: picked by a click, put in order by dragging, seen beside each other by the eye, kept from
 * change by the lock.
 */
defineEmits<{ newPart: [] }>();
const store = useProject();
const looks = usePartLooks();

/** Fewer parts than this are seen at a glance. */
const MANY = 8;
const typed = ref('');
const all = computed(() => store.project?.parts ?? []);
const shown = computed(() => {
  const words = typed.value.toLowerCase().split(/\s+/).filter(Boolean);
  return all.value.filter((p) => words.every((w) => p.name.toLowerCase().includes(w)));
});

const dragging = ref<number | null>(null);
const before = ref<number | null>(null);
function over(e: DragEvent, p: Part): void {
  if (dragging.value === null) return;
  e.preventDefault();
  before.value = p.id;
}
function drop(p: Part): void {
  const id = dragging.value;
  dragging.value = before.value = null;
  const { project } = store;
  if (id === null || id === p.id || !project) return;
  const moved = project.parts.find((x) => x.id === id)!;
  store.change(`Order of ${moved.name}`, reorderPart(project, id, project.parts.indexOf(p)));
}
const state = (p: Part): string => `${p.shown ? '' : ', hidden'}${p.locked ? ', locked' : ''}`;

/** What a part is or is not: its icon, words and title for no and for yes. */
const FLAGS = [
  {
    key: 'locked',
    name: 'locked',
    usual: false,
    icons: [LockOpen, Lock],
    acts: ['Unlock', 'Lock'],
    says: ['Can be changed', 'Locked: nothing changes it'],
  },
  {
    key: 'shown',
    name: 'shown beside others',
    usual: true,
    icons: [EyeOff, Eye],
    acts: ['Hide', 'Show'],
    says: ['Not shown beside the part at hand', 'Shown beside the part at hand (Others)'],
  },
] as const;
const turn = (p: Part, { key, acts }: (typeof FLAGS)[number]): void =>
  store.change(`${acts[Number(!p[key])]} ${p.name}`, setPart(store.project!, p.id, { [key]: !p[key] }));
</script>

<template>
  <section class="parts" aria-label="Parts">
    <header>
      <h2>
        Parts <span v-if="all.length >= MANY" class="number">{{ all.length }}</span>
      </h2>
      <button
        v-if="store.part"
        class="act"
        aria-label="Name, unit and numbers of the part"
        title="Name, unit and numbers of the part"
        @click="store.select({ course: null })"
      >
        <Pencil :size="14" />
      </button>
      <button class="act" :disabled="store.readOnly" aria-label="New part" title="New part" @click="$emit('newPart')">
        <Plus :size="15" />
      </button>
    </header>
    <InputText
      v-if="all.length >= MANY"
      v-model="typed"
      class="filter"
      placeholder="Filter"
      aria-label="Filter the parts"
    />
    <ul>
      <li
        v-for="p in shown"
        :key="p.id"
        :class="{ hidden: !p.shown, before: before === p.id, picked: p.id === store.selection.part }"
        :draggable="!store.readOnly"
        @dragstart="dragging = p.id"
        @dragend="dragging = before = null"
        @dragover="over($event, p)"
        @drop.prevent="drop(p)"
      >
        <button
          class="part"
          :aria-pressed="p.id === store.selection.part"
          :aria-label="`${p.name}${state(p)}`"
          :title="`${p.name}${state(p)}`"
          @click="store.select({ part: p.id })"
        >
          <svg viewBox="-4 -4 108 108" aria-hidden="true"><path :d="looks.lines.get(p.id) ?? ''" /></svg>
          <span>{{ p.name }}</span>
        </button>
        <button
          v-for="f in FLAGS"
          :key="f.key"
          class="flag"
          :class="{ set: p[f.key] !== f.usual }"
          role="switch"
          :aria-checked="p[f.key]"
          :aria-label="`${p.name} ${f.name}`"
          :title="f.says[Number(p[f.key])]"
          :disabled="store.readOnly"
          @click="turn(p, f)"
        >
          <component :is="f.icons[Number(p[f.key])]" :size="15" aria-hidden="true" />
        </button>
      </li>
    </ul>
    <p v-if="all.length && !shown.length" class="soft none">No part is named like that.</p>
  </section>
</template>

<style scoped>
.parts {
  padding: 8px 10px 10px;
  border-top: 2px solid var(--joint);
  display: flex;
  flex-direction: column;
  gap: 4px;
  min-height: 110px;
  /* Fifty parts scroll; the wall keeps most of the height. */
  max-height: 38%;
}
header {
  display: flex;
  align-items: center;
  gap: 4px;
}
header h2 {
  flex: 1;
  font-size: 12px;
  font-weight: 600;
  color: var(--soft);
}
button {
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
}
.act,
.flag {
  width: 26px;
  min-height: 26px;
  padding: 0;
  display: grid;
  place-items: center;
}
.act:hover:not(:disabled) {
  background: var(--raised);
}
.filter {
  padding: 4px 8px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  overflow: auto;
  display: grid;
  gap: 2px;
  align-content: start;
}
li {
  display: flex;
  align-items: center;
  background: var(--block);
  padding-right: 3px;
}
.part {
  flex: 1;
  min-width: 0;
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 2px 4px;
  text-align: left;
}
.part span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.part svg {
  flex: none;
  width: 25px;
  height: 25px;
}
path {
  fill: none;
  stroke: currentColor;
  stroke-width: 2.2;
  stroke-linecap: round;
}
/* What is as usual stands back until one points at the row. */
.flag {
  opacity: 0;
}
.flag.set,
li:hover .flag,
li:focus-within .flag {
  opacity: 1;
}
@media (hover: none) {
  .flag {
    opacity: 1;
  }
}
.hidden .part {
  color: var(--soft);
  font-style: italic;
}
.picked,
.picked.hidden .part {
  background: var(--ink);
  color: var(--panel);
}
.picked {
  outline-color: var(--panel);
}
.before {
  box-shadow: 0 -3px var(--verdigris);
}
.none {
  margin: 4px;
}
</style>
