<script setup lang="ts">
import Dialog from 'primevue/dialog';
import InputText from 'primevue/inputtext';
import { computed, nextTick, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { useRoute } from 'vue-router';
import {
  canRun,
  commandFor,
  commandOf,
  dialogOpen,
  escSteps,
  findCommands,
  isTyping,
  knownCommands,
  needsOf,
  useCommands,
  type Command,
  keysOf,
} from '../words/commands.ts';
import { STAGES } from '../words/stages.ts';
import { everyCommand } from '../words/stageCommands.ts';
import { useNotices } from '../stores/notices.ts';
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

const route = useRoute();
const notices = useNotices();
const onBench = computed(() => route.name === 'bench');
/** Whether a command lives on another stage than the one at hand. */
const isElsewhere = (c: Command): boolean => onBench.value && !!c.stage && c.stage !== route.params.stage;
const stageTitle = (c: Command): string => STAGES.find((s) => s.name === c.stage)?.title ?? '';

/** A command is looked for so long after its stage was opened, ms. */
const ARRIVES_WITHIN = 3000;

/** Goes to the stage of a command and begins it there, or says what is missing. */
async function goAndRun(c: Command): Promise<void> {
  commandOf(`stage-${c.stage}`)?.run();
  const until = performance.now() + ARRIVES_WITHIN;
  let there = commandOf(c.id);
  while ((!there || route.params.stage !== c.stage || !canRun(there)) && performance.now() < until) {
    await new Promise((done) => setTimeout(done, 50));
    there = commandOf(c.id);
    if (there && route.params.stage === c.stage && there.needs && !canRun(there)) break;
  }
  if (there && canRun(there)) there.run();
  else notices.say('said', `${c.title}: ${needsOf(there ?? c)}.`);
}

/** All that can be found: of the Yard only what is there; not the finder itself. */
const findable = (): Command[] => (onBench.value ? everyCommand() : knownCommands()).filter((c) => c.id !== 'finder');

/** Loaded with the first search: nothing else needs it. */
const fuzzy = shallowRef<typeof import('../words/fuzzySearch.ts') | null>(null);
const typed = ref('');
const at = ref(0);
const found = computed(() => {
  if (!panels.finder) return [];
  const list = findable();
  const exact = findCommands(typed.value, list);
  // Where no command has the very words, similar ones are listed.
  const wanted = !exact.length && typed.value.trim().length > 2;
  const similar = wanted ? (fuzzy.value?.similarCommands(typed.value, list) ?? []) : [];
  return [...exact, ...similar];
});
watch(typed, () => (at.value = 0));
watch(
  () => panels.finder,
  async (is) => {
    if (!is) return;
    typed.value = '';
    at.value = 0;
    fuzzy.value ??= await import('../words/fuzzySearch.ts');
  },
);
watch(at, async () => {
  await nextTick();
  document.getElementById(`found-${at.value}`)?.scrollIntoView({ block: 'nearest' });
});

function pick(c: Command | undefined): void {
  if (!c) return;
  const away = isElsewhere(c);
  if (!away && !canRun(c)) {
    if (store.readOnly) store.onlyLooking();
    return;
  }
  panels.finder = false;
  // After the dialog has given the focus back.
  setTimeout(() => (away ? void goAndRun(c) : c.run()));
}

function onKey(e: KeyboardEvent): void {
  // Keys that the view or a dialog has handled reach no command.
  if (panels.finder || e.defaultPrevented || dialogOpen()) return;
  const back = escSteps(e);
  // Plain keys, and undo of typing, belong to the field that has the focus.
  if (isTyping(e) && !back && !(e.ctrlKey && e.key.toLowerCase() === 'k')) return;
  // While something is drawn, placed or picked, keys reach no other command.
  if (!back && !e.ctrlKey && !e.metaKey && !e.altKey && tools.actKey) {
    if (tools.actKey(e)) e.preventDefault();
    // What goes into the field of the strip is no command, either.
    if (tools.busy || (tools.typedField && document.activeElement === tools.typedField)) return;
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
        :aria-disabled="!isElsewhere(c) && !canRun(c)"
        @click="pick(c)"
        @pointermove="at = i"
      >
        <span>{{ c.title }}</span>
        <span v-if="isElsewhere(c)" class="soft">on {{ stageTitle(c) }}</span>
        <span v-else-if="!canRun(c)" class="soft">{{ needsOf(c) }}</span>
        <kbd v-if="keysOf(c)">{{ keysOf(c).split(', ')[0] }}</kbd>
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
