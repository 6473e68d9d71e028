<script setup lang="ts">
import Dialog from 'primevue/dialog';
import InputText from 'primevue/inputtext';
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import {
  canRun,
  commandFor,
  dialogOpen,
  escSteps,
  findCommands,
  isTyping,
  useCommands,
  type Command,
  keysOf,
} from '../words/commands.ts';
import { usePreferences } from '../stores/preferences.ts';
import { useProject } from '../stores/project.ts';
import { useTools } from '../tools/tools.ts';
import { usePanels } from '../stores/panels.ts';

/** More buttons than this would crowd the strip: the oldest is dropped. */
const MOST_PINNED = 6;

const prefs = usePreferences();
const panels = usePanels();
const store = useProject();
const tools = useTools();
const isPinned = (c: Command) => prefs.now.pinned.includes(c.id);
/** Puts a command on the strip of the stage, or takes it off. */
function pin(c: Command | undefined): void {
  if (!c) return;
  const { pinned } = prefs.now;
  prefs.now.pinned = isPinned(c) ? pinned.filter((id) => id !== c.id) : [...pinned, c.id].slice(-MOST_PINNED);
}

const typed = ref('');
const at = ref(0);
const found = computed(() => (panels.finder ? findCommands(typed.value) : []));
watch(typed, () => (at.value = 0));
watch(
  () => panels.finder,
  (is) => {
    if (!is) return;
    typed.value = '';
    at.value = 0;
  },
);
watch(at, async () => {
  await nextTick();
  document.getElementById(`found-${at.value}`)?.scrollIntoView({ block: 'nearest' });
});

function pick(c: Command | undefined): void {
  if (c && !canRun(c) && store.readOnly) store.onlyLooking();
  if (!c || !canRun(c)) return;
  panels.finder = false;
  // After the dialog has given the focus back.
  setTimeout(() => c.run());
}

function onKey(e: KeyboardEvent): void {
  // Keys that the view or a dialog has handled reach no command.
  if (panels.finder || e.defaultPrevented || dialogOpen()) return;
  const back = escSteps(e);
  // Plain keys, and undo of typing, belong to the field that has the focus.
  if (isTyping(e) && !back && !(e.ctrlKey && e.key.toLowerCase() === 'k')) return;
  // While something is drawn, placed or picked, keys reach no other command.
  if (tools.busy && !back && !e.ctrlKey && !e.metaKey && !e.altKey) {
    if (tools.actKey?.(e)) e.preventDefault();
    return;
  }
  const c = commandFor(e);
  if (!c && store.readOnly && commandFor(e, true)) store.onlyLooking();
  if (!c) return;
  e.preventDefault();
  c.run();
}

useCommands([{ id: 'finder', title: 'Find a tool', keys: 'Ctrl+K', run: () => (panels.finder = true) }]);
onMounted(() => window.addEventListener('keydown', onKey));
onBeforeUnmount(() => window.removeEventListener('keydown', onKey));
</script>

<template>
  <Dialog
    v-model:visible="panels.finder"
    modal
    header="Find a tool"
    :draggable="false"
    position="top"
    class="finder"
    dismissable-mask
  >
    <InputText
      v-model="typed"
      autofocus
      fluid
      role="combobox"
      aria-expanded="true"
      aria-controls="found"
      :aria-activedescendant="`found-${at}`"
      aria-label="Name of a tool"
      placeholder="Type what you want to do"
      @keydown.down.prevent="at = Math.min(found.length - 1, at + 1)"
      @keydown.up.prevent="at = Math.max(0, at - 1)"
      @keydown.enter.exact.prevent="pick(found[at])"
      @keydown.ctrl.enter.prevent="pin(found[at])"
    />
    <ul id="found" role="listbox" aria-label="Tools">
      <li
        v-for="(c, i) in found"
        :id="`found-${i}`"
        :key="c.id"
        role="option"
        :aria-selected="i === at"
        :aria-disabled="!canRun(c)"
        @click="pick(c)"
        @pointermove="at = i"
      >
        <span>{{ c.title }}</span>
        <span v-if="!canRun(c)" class="soft">not now</span>
        <kbd v-else-if="keysOf(c)">{{ keysOf(c).split(', ')[0] }}</kbd>
        <span
          class="pin"
          :class="{ on: isPinned(c) }"
          :title="isPinned(c) ? 'Unpin it from the strip (Ctrl+Enter)' : 'Pin it to the strip (Ctrl+Enter)'"
          @click.stop="pin(c)"
        >
          {{ isPinned(c) ? 'on the strip' : 'pin' }}
        </span>
      </li>
    </ul>
    <p v-if="!found.length" class="soft">No tool of that name. Try another word.</p>
    <p v-else class="soft foot">Enter runs it. Ctrl+Enter pins it to the strip of the stage, or unpins it.</p>
  </Dialog>
</template>

<style>
.finder {
  width: min(520px, calc(100vw - 32px));
}
.finder ul {
  list-style: none;
  margin: 10px 0 0;
  padding: 0;
  max-height: 46vh;
  overflow: auto;
}
.finder li {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  padding: 6px 10px;
  cursor: pointer;
  border-left: 3px solid transparent;
}
.finder li[aria-selected='true'] {
  background: var(--block);
  border-left-color: var(--verdigris);
}
.finder li[aria-disabled='true'] {
  cursor: default;
  color: var(--soft);
}
.finder li > span:first-child {
  flex: 1;
}
.finder .pin {
  border: 0;
  padding: 0 6px;
  background: none;
  color: var(--soft);
  cursor: pointer;
  font-size: 12px;
}
.finder .pin.on {
  color: var(--verdigris);
  font-weight: 600;
}
.finder .foot {
  margin-top: 8px;
  font-size: 12px;
}
.finder kbd {
  font: 12px var(--numbers);
  color: var(--soft);
}
</style>
