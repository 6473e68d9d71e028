<script setup lang="ts">
import Dialog from 'primevue/dialog';
import { computed, ref, watch } from 'vue';
import { usePreferences } from '../stores/preferences.ts';
import { everyCommand } from '../words/stageCommands.ts';
import { STAGES } from '../words/stages.ts';
import { findCommands, keyName, keyProblem, keysOf, type Command } from '../words/commands.ts';

/** All commands that have a key, or could have one; each can be given another. */
const open = defineModel<boolean>('open', { required: true });
const prefs = usePreferences();
const stageTitle = (name: string): string => STAGES.find((s) => s.name === name)?.title ?? '';
const typed = ref('');
const waiting = ref<string | null>(null);
const problem = ref<string | null>(null);

const commands = computed(() => {
  if (!open.value) return [];
  const list = findCommands(typed.value, everyCommand());
  return typed.value ? list : list.filter((c) => keysOf(c));
});
/** Keys of the view, which are not commands. */
const VIEW_KEYS = [
  ['Arrow keys', 'turn the view, or nudge the picked cutter along its x and y; Page Up and Down along z'],
  ['Shift + arrow keys', 'nudge ten times as far'],
  ['+ and −', 'zoom'],
  ['Enter', 'places, goes on, or finishes while something is placed or drawn'],
  ['R A O P L G', 'while an outline is pulled: remove, add, keep, split, scribe, kerf; T through, F to a face'],
  ['A, Backspace', 'while a free outline is drawn: an arc next; the last point away'],
  ['O, E', 'while an outline is drawn: the grid begins here; it runs along this edge'],
] as const;

watch(open, () => {
  typed.value = '';
  waiting.value = null;
  problem.value = null;
});
const give = (c: Command, keys: string): void => {
  prefs.now.keys = { ...prefs.now.keys, [c.id]: keys };
};
function back(c: Command): void {
  prefs.now.keys = Object.fromEntries(Object.entries(prefs.now.keys).filter(([id]) => id !== c.id));
}

function press(c: Command, e: KeyboardEvent): void {
  if (waiting.value !== c.id) return;
  e.preventDefault();
  e.stopPropagation();
  if (e.key === 'Escape') {
    waiting.value = null;
    problem.value = null;
    return;
  }
  if (['Shift', 'Control', 'Alt', 'Meta'].includes(e.key)) return;
  const name = keyName(e);
  problem.value = keyProblem(c.id, name, everyCommand());
  if (problem.value) return;
  give(c, name);
  waiting.value = null;
}
</script>

<template>
  <Dialog v-model:visible="open" header="Keys" modal :draggable="false" dismissable-mask :close-on-escape="!waiting">
    <div class="sheet">
      <input v-model="typed" class="find" placeholder="Find a command to give it a key" aria-label="Find a command" />
      <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
      <table>
        <caption class="unseen">
          Commands and their keys
        </caption>
        <tbody>
          <tr v-for="c in commands" :key="c.id">
            <th scope="row">
              {{ c.title }} <span v-if="c.stage" class="soft">on {{ stageTitle(c.stage) }}</span>
            </th>
            <td>
              <kbd v-for="k in keysOf(c).split(', ').filter(Boolean)" :key="k">{{ k }}</kbd>
              <span v-if="!keysOf(c)" class="soft">none</span>
            </td>
            <td class="acts">
              <button
                :aria-label="`Change the key of: ${c.title}`"
                :aria-pressed="waiting === c.id"
                @click="waiting = waiting === c.id ? null : c.id"
                @keydown="press(c, $event)"
              >
                {{ waiting === c.id ? 'Press a key …' : 'Change' }}
              </button>
              <button
                v-if="prefs.now.keys[c.id] !== undefined"
                :aria-label="`Reset the key of: ${c.title}`"
                @click="back(c)"
              >
                Reset
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <h3>In the view</h3>
      <dl>
        <template v-for="[key, does] in VIEW_KEYS" :key="key">
          <dt>
            <kbd>{{ key }}</kbd>
          </dt>
          <dd>{{ does }}</dd>
        </template>
      </dl>
    </div>
  </Dialog>
</template>

<style scoped>
.sheet {
  width: min(640px, 86vw);
  max-height: 66vh;
  overflow: auto;
  display: grid;
  gap: 10px;
}
.find {
  min-height: 32px;
  padding: 0 10px;
  border: 1px solid var(--joint);
  background: var(--raised);
}
table {
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
}
th,
td {
  padding: 3px 8px 3px 0;
  border-bottom: 1px solid var(--joint);
}
kbd {
  margin-right: 5px;
  padding: 1px 6px;
  border: 1px solid var(--joint);
  background: var(--raised);
}
.acts {
  white-space: nowrap;
  text-align: right;
}
.acts button {
  min-height: 26px;
  padding: 1px 8px;
  border: 1px solid var(--joint);
  background: none;
  cursor: pointer;
}
.acts [aria-pressed='true'] {
  border-color: var(--verdigris);
  box-shadow: inset 0 -3px var(--verdigris);
}
.problem {
  color: var(--brick);
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 5px 12px;
  margin: 0;
}
dd {
  margin: 0;
}
</style>
