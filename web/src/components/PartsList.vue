<script setup lang="ts">
import { EyeOff, Lock, Pencil, Plus } from '@lucide/vue';
import { ref } from 'vue';
import { reorderPart, type Part } from '@dusky-mason/core/courses';
import { useProject } from '../stores/project.ts';

/** The parts of the project: picked by a click, put in order by dragging, double click or pencil for the card. */
defineEmits<{ newPart: [] }>();
const store = useProject();

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
</script>

<template>
  <section class="parts" aria-label="Parts">
    <h2>Parts</h2>
    <div class="list">
      <button
        v-for="p in store.project?.parts"
        :key="p.id"
        :class="{ hidden: !p.shown, before: before === p.id }"
        :aria-pressed="p.id === store.selection.part"
        :aria-label="`${p.name}${state(p)}`"
        :title="`${p.name}${state(p)}`"
        :draggable="!store.readOnly"
        @click="store.select({ part: p.id })"
        @dragstart="dragging = p.id"
        @dragend="dragging = before = null"
        @dragover="over($event, p)"
        @drop.prevent="drop(p)"
      >
        {{ p.name }}
        <EyeOff v-if="!p.shown" :size="13" aria-hidden="true" />
        <Lock v-if="p.locked" :size="13" aria-hidden="true" />
      </button>
      <button :disabled="store.readOnly" aria-label="New part" title="New part" @click="$emit('newPart')">
        <Plus :size="15" />
      </button>
      <button
        v-if="store.part"
        aria-label="Name, unit and numbers of the part"
        title="Name, unit and numbers of the part"
        @click="store.select({ course: null })"
      >
        <Pencil :size="14" />
      </button>
    </div>
  </section>
</template>

<style scoped>
.parts {
  padding: 10px;
  border-top: 2px solid var(--joint);
}
.parts h2 {
  font-size: 12px;
  font-weight: 600;
  color: var(--soft);
  margin-bottom: 6px;
}
.list {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  max-height: 132px;
  overflow: auto;
}
.list button {
  min-height: 28px;
  min-width: 28px;
  padding: 2px 9px;
  border: 1px solid var(--joint);
  background: none;
  cursor: pointer;
  display: inline-flex;
  align-items: center;
  gap: 5px;
  overflow-wrap: anywhere;
}
.list [aria-pressed='true'] {
  background: var(--ink);
  border-color: var(--ink);
  color: var(--panel);
}
.list .hidden {
  border-style: dashed;
}
.list .before {
  box-shadow: -4px 0 var(--verdigris);
}
</style>
