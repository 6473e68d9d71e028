<script setup lang="ts">
import { computed, nextTick, ref } from 'vue';
import {
  addPart,
  courseMeasure,
  courseSays,
  isDressing,
  duplicatePart,
  moveCourse,
  newShape,
  removeCourse,
  removePart,
  renameCourse,
  reorderPart,
  seatedOn,
  switchCourse,
  type Course,
  type Placed,
} from '@dusky-mason/core/courses';
import { useProject } from '../stores/project.ts';
import { useTools } from '../tools/tools.ts';
import { useCommands } from '../words/commands.ts';
import type { MarkName } from '../words/operations.ts';
import MasonMark from './MasonMark.vue';
import PartsList from './PartsList.vue';

const props = defineProps<{ cutting: boolean }>();
const store = useProject();
const tools = useTools();

const results = computed(() => new Map(store.outcome?.courses.map((c) => [c.id, c]) ?? []));
/** Newest first, as the wall is read from the top. */
const laid = computed(() => [...(store.part?.courses ?? [])].reverse());

/** The wall in lots that belong together, from the top: how a course is meant decides, not its number. */
const LOTS = { dress: 'Edges and form', mend: 'Mends', cut: 'Cuts', base: 'Base' } as const;
type Lot = keyof typeof LOTS;
const lotOf = (c: Course): Lot =>
  c.kind === 'shape' ? 'base' : c.kind === 'cut' ? 'cut' : isDressing(c.kind) ? 'dress' : 'mend';
const lots = computed(() => {
  const out: { lot: Lot; courses: Course[] }[] = [];
  for (const c of laid.value) {
    const lot = lotOf(c);
    if (out.at(-1)?.lot === lot) out.at(-1)!.courses.push(c);
    else out.push({ lot, courses: [c] });
  }
  return out;
});
/** Lots that are folded; a course that is picked shows all the same. */
const folded = ref<ReadonlySet<Lot>>(new Set());
function fold(lot: Lot): void {
  const next = new Set(folded.value);
  if (!next.delete(lot)) next.add(lot);
  folded.value = next;
}
const inSight = (lot: Lot, c: Course): boolean => !folded.value.has(lot) || c.id === store.selection.course;

function says(c: Course): string {
  return courseSays(c, store.project!.unit, results.value.get(c.id)?.report);
}
/** An edge that is split has another mark than a body. */
const markOf = (c: Course): MarkName =>
  c.kind === 'cut' ? c.params.operation : c.kind === 'split' ? 'splitEdge' : c.kind;
/** Times from here on are shown, ms: shorter ones matter to nobody. */
const SLOW = 100;
const ms = (c: Course): string => {
  const r = results.value.get(c.id);
  return r?.state === 'done' && r.ms >= SLOW ? r.ms.toFixed(0) : '';
};

const partId = () => store.part!.id;
function turn(c: Course): void {
  store.change(`Switch ${c.on ? 'off' : 'on'} ${c.name}`, switchCourse(store.project!, partId(), c.id, !c.on));
}
function lay(c: Course, to: number): void {
  store.change(`Lay ${c.name} elsewhere`, moveCourse(store.project!, partId(), c.id, to));
  void focus(c.id);
}
function remove(c: Course): void {
  if (isBase(c)) return;
  const at = store.part!.courses.indexOf(c);
  store.change(`Delete ${c.name}`, removeCourse(store.project!, partId(), c.id));
  const next = store.part!.courses[Math.min(at, store.part!.courses.length - 1)]!;
  store.select({ course: next.id });
  void focus(next.id);
}
const isBase = (c: Course): boolean => c.kind === 'shape';
const place = (c: Course): number => store.part!.courses.indexOf(c);
const focus = async (id: number) => {
  await nextTick();
  document.getElementById(`course-${id}`)?.focus();
};

function onKey(e: KeyboardEvent, c: Course): void {
  const i = laid.value.indexOf(c);
  if (e.altKey && e.key === 'ArrowUp') lay(c, place(c) + 1);
  else if (e.altKey && e.key === 'ArrowDown') lay(c, place(c) - 1);
  else if (e.key === 'ArrowUp' && i > 0) void focus(laid.value[i - 1]!.id);
  else if (e.key === 'ArrowDown' && i < laid.value.length - 1) void focus(laid.value[i + 1]!.id);
  else if (e.key === 'F2') void rename(c);
  else return;
  e.preventDefault();
}

// Renaming in place.
const renaming = ref<number | null>(null);
/** Kept apart from the field: the row is drawn anew when a computation ends. */
const newName = ref('');
async function rename(c: Course): Promise<void> {
  [renaming.value, newName.value] = [c.id, c.name];
  await nextTick();
  const field = document.getElementById(`name-${c.id}`) as HTMLInputElement | null;
  field?.focus();
  field?.select();
}
function named(c: Course): void {
  const name = newName.value.trim();
  if (name && name !== c.name) store.change(`Rename ${c.name}`, renameCourse(store.project!, partId(), c.id, name));
}
function leave(c: Course): void {
  renaming.value = null;
  void focus(c.id);
}
function giveUp(c: Course, e: Event): void {
  newName.value = c.name;
  (e.target as HTMLInputElement).blur();
}

// Re-laying by drag: the joint that a block would go into is marked.
const dragging = ref<number | null>(null);
const joint = ref<number | null>(null);
function over(e: DragEvent, c: Course): void {
  if (dragging.value === null) return;
  e.preventDefault();
  const r = (e.currentTarget as HTMLElement).getBoundingClientRect();
  joint.value = Math.max(1, place(c) + (e.clientY < r.top + r.height / 2 ? 1 : 0));
}
function drop(): void {
  const c = store.part?.courses.find((x) => x.id === dragging.value);
  const to = joint.value;
  dragging.value = joint.value = null;
  if (!c || to === null) return;
  lay(c, to > place(c) ? to - 1 : to);
}

const picked = computed(() => store.course);
const change = () => !!picked.value && !store.readOnly;
/** With one of several cutters picked, Delete is for the cutter. */
const only = () => picked.value?.kind === 'cut' && picked.value.params.cutters.length === 1;
const above = () => change() && !isBase(picked.value!);
useCommands([
  {
    id: 'course-switch',
    title: 'Switch the picked course off or on',
    also: 'disable enable hide',
    when: above,
    run: () => turn(picked.value!),
  },
  {
    id: 'course-up',
    title: 'Lay the picked course one higher',
    also: 'move reorder',
    when: above,
    run: () => lay(picked.value!, place(picked.value!) + 1),
  },
  {
    id: 'course-down',
    title: 'Lay the picked course one lower',
    also: 'move reorder',
    when: above,
    run: () => lay(picked.value!, place(picked.value!) - 1),
  },
  {
    id: 'course-rename',
    title: 'Rename the picked course',
    keys: 'F2',
    when: change,
    run: () => void rename(picked.value!),
  },
  {
    id: 'course-delete',
    title: 'Delete the picked course',
    also: 'remove',
    keys: 'Delete',
    when: () => above() && (!store.cutter || only()),
    run: () => remove(picked.value!),
  },
  { id: 'part-new', title: 'New part', also: 'add box base shape', when: () => !store.readOnly, run: newPart },
  {
    id: 'part-copy',
    title: 'Duplicate the part',
    also: 'copy',
    when: () => !!store.part && !store.readOnly,
    run: copyPart,
  },
  {
    id: 'part-delete',
    title: 'Delete the part',
    also: 'remove',
    when: () => !!store.part && !store.readOnly,
    run: deletePart,
  },
  {
    id: 'part-earlier',
    title: 'Put the part earlier among the parts',
    also: 'reorder move list',
    when: () => !!store.part && !store.readOnly,
    run: () => orderPart(-1),
  },
  {
    id: 'part-later',
    title: 'Put the part later among the parts',
    also: 'reorder move list',
    when: () => !!store.part && !store.readOnly,
    run: () => orderPart(1),
  },
  {
    id: 'part-on-face',
    title: 'New part on the face clicked last',
    also: 'add box base shape stand',
    when: () => !!store.part && !store.readOnly && tools.face?.part === store.part.id,
    run: partOnFace,
  },
  { id: 'part-next', title: 'Next part', when: () => (store.project?.parts.length ?? 0) > 1, run: nextPart },
]);

function newPart(): void {
  const p = addPart(store.project!, `Part ${store.project!.parts.length + 1}`);
  store.change('New part', p);
  const made = p.parts.at(-1)!;
  store.select({ part: made.id, course: made.courses[0]!.id });
}
/** A new part that stands on the face clicked last. */
function partOnFace(): void {
  const at = tools.face!;
  const base = { shape: newShape('box'), placement: { position: [0, 0, 0], turn: [0, 0, 0] } } satisfies Placed;
  const { shape, placement } = seatedOn(base as Placed, at.point, at.normal, true);
  const p = addPart(store.project!, `Part ${store.project!.parts.length + 1}`, shape, 'Body', placement);
  store.change('New part on a face', p);
  const made = p.parts.at(-1)!;
  store.select({ part: made.id, course: made.courses[0]!.id });
}
function orderPart(by: number): void {
  const at = store.project!.parts.indexOf(store.part!);
  store.change(`Order of ${store.part!.name}`, reorderPart(store.project!, partId(), at + by));
}
function copyPart(): void {
  const at = store.project!.parts.indexOf(store.part!);
  const p = duplicatePart(store.project!, partId());
  store.change(`Duplicate ${store.part!.name}`, p);
  store.select({ part: p.parts[at + 1]!.id });
}
function deletePart(): void {
  store.change(`Delete ${store.part!.name}`, removePart(store.project!, partId()));
}
function nextPart(): void {
  const all = store.project!.parts;
  store.select({ part: all[(all.indexOf(store.part!) + 1) % all.length]!.id });
}
</script>

<template>
  <aside class="column" aria-label="Parts and courses">
    <div class="wall" @dragleave.self="joint = null">
      <p v-if="!store.part" class="soft empty">
        A part begins with a base shape or a mesh file. Make a new part below, or drop an OBJ or STL file here.
      </p>
      <p v-else-if="laid.length === 1" class="soft empty">
        Each cut and each stroke becomes a course on this wall, the newest on top. A course stays open to change.
      </p>
      <ol aria-label="Wall of courses, newest first">
        <li v-if="props.cutting && store.part" class="slot">
          <button :disabled="store.readOnly" @click="tools.begin()">Place a cutter on top</button>
        </li>
        <template v-for="(l, i) in lots" :key="`${l.lot} ${i}`">
          <li v-if="lots.length > 1" class="head">
            <button :aria-expanded="!folded.has(l.lot)" @click="fold(l.lot)">
              {{ LOTS[l.lot] }} <span v-if="l.courses.length > 1" class="number">{{ l.courses.length }}</span>
            </button>
          </li>
          <li
            v-for="c in l.courses"
            v-show="inSight(l.lot, c)"
            :key="c.id"
            class="block"
            :class="{
              base: isBase(c),
              picked: c.id === store.selection.course,
              off: !c.on,
              failed: results.get(c.id)?.state === 'failed',
              into: dragging !== null && joint === place(c) + 1,
              even: place(c) % 2 === 0,
            }"
            :draggable="!isBase(c) && !store.readOnly && renaming !== c.id"
            @dragstart="dragging = c.id"
            @dragend="dragging = joint = null"
            @dragover="over($event, c)"
            @drop.prevent="drop"
          >
            <MasonMark :name="markOf(c)" class="mark" />
            <input
              v-if="renaming === c.id"
              :id="`name-${c.id}`"
              v-model="newName"
              class="rename"
              maxlength="200"
              :aria-label="`New name of ${c.name}`"
              @change="named(c)"
              @blur="leave(c)"
              @keydown.enter="($event.target as HTMLInputElement).blur()"
              @keydown.esc.stop="giveUp(c, $event)"
            />
            <button
              v-else
              :id="`course-${c.id}`"
              class="face"
              :aria-pressed="c.id === store.selection.course"
              :aria-label="`${c.name}: ${c.on ? says(c) : 'off'}`"
              @click="store.select({ course: c.id })"
              @dblclick="rename(c)"
              @keydown="onKey($event, c)"
            >
              <span class="title">
                <strong>{{ c.name }}</strong>
                <span class="number measure">{{ courseMeasure(c, store.project!.unit) }}</span>
              </span>
              <span class="soft says">
                {{ results.get(c.id)?.state === 'failed' ? 'failed; see its card' : c.on ? says(c) : 'off' }}
                <span v-if="ms(c)" class="number" title="last run of this course">· {{ ms(c) }} ms</span>
              </span>
            </button>
            <button
              v-if="!isBase(c)"
              class="switch"
              role="switch"
              :aria-checked="c.on"
              :aria-label="`${c.name} on`"
              :disabled="store.readOnly"
              @click="turn(c)"
            >
              <span></span>
            </button>
          </li>
        </template>
      </ol>
    </div>
    <PartsList @new-part="newPart" />
  </aside>
</template>

<style scoped>
.column {
  display: flex;
  flex-direction: column;
  min-height: 0;
  border-right: 2px solid var(--joint);
}
.wall {
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 10px;
  display: flex;
  flex-direction: column;
}
ol {
  list-style: none;
  margin: auto 0 0;
  padding: 0;
  display: grid;
  gap: 4px;
}
.slot button {
  width: 100%;
  padding: 9px 12px;
  text-align: left;
  color: var(--soft);
  background: none;
  border: 1px dashed var(--soft);
  cursor: pointer;
}
.slot button:hover:not(:disabled) {
  background: var(--raised);
  color: var(--ink);
}
.block {
  position: relative;
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 52px;
  padding-left: 10px;
  background: var(--block);
  border-bottom: 2px solid var(--joint);
  outline: 2px solid transparent;
  outline-offset: -2px;
}
/* Courses are laid in bond: every other one a little set back. */
.block.even:not(.base) {
  margin-left: 12px;
}
.base {
  border-bottom-width: 5px;
}
.picked {
  background: var(--raised);
  outline-color: var(--verdigris);
}
.off {
  background: none;
  border: 1px dashed var(--joint);
}
.failed {
  border-left: 5px double var(--brick);
}
.into {
  box-shadow: 0 -4px var(--verdigris);
}
.mark {
  flex: none;
}
.face {
  flex: 1;
  min-width: 0;
  display: grid;
  padding: 6px 10px 6px 0;
  text-align: left;
  line-height: 1.2;
  background: none;
  border: 0;
  cursor: pointer;
}
.title {
  display: flex;
  align-items: baseline;
  gap: 8px;
}
.title strong {
  flex: 1;
  min-width: 0;
  font-weight: 600;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.measure {
  font-size: 12px;
  white-space: nowrap;
}
.head button {
  padding: 6px 2px 1px;
  border: 0;
  background: none;
  color: var(--soft);
  font-size: 12px;
  cursor: pointer;
}
.head button::before {
  content: '▾ ' / '';
}
.head [aria-expanded='false']::before {
  content: '▸ ' / '';
}
.says {
  font-size: 12.5px;
}
.rename {
  flex: 1;
  min-width: 0;
  padding: 5px;
  border: 1px solid var(--verdigris);
  background: var(--panel);
}
/* A switch that is on stands back until one points at its block. */
.switch {
  position: absolute;
  right: 6px;
  bottom: 3px;
  opacity: 0;
  background: inherit;
  width: 30px;
  height: 24px;
  padding: 0;
  border: 0;
  cursor: pointer;
}
.block:hover .switch,
.block:focus-within .switch,
.off .switch {
  opacity: 1;
}
@media (hover: none) {
  .switch {
    opacity: 1;
  }
}
.switch span {
  display: block;
  position: relative;
  width: 28px;
  height: 14px;
  margin: auto;
  border: 1.5px solid var(--soft);
}
.switch span::after {
  content: '';
  position: absolute;
  inset: 2px auto 2px 2px;
  width: 9px;
  background: var(--soft);
}
.switch[aria-checked='true'] span::after {
  inset: 2px 2px 2px auto;
  background: var(--ink);
}
.empty {
  margin: auto 4px;
}
</style>
