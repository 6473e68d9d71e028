<script setup lang="ts">
import { PanelLeft, PanelRight, CircleHelp, Redo2, Search, Settings, Undo2 } from '@lucide/vue';
import { computed, defineAsyncComponent, ref } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { STAGES } from '../words/stages.ts';
import { useProject } from '../stores/project.ts';
import { useCommands } from '../words/commands.ts';
import KeySheet from './KeySheet.vue';
import PreferencesDialog from './PreferencesDialog.vue';
import { useWalk } from '../stores/walk.ts';
import { usePanels } from '../stores/panels.ts';

/** The guide is read when it is asked for. */
const HelpDialog = defineAsyncComponent(() => import('./HelpDialog.vue'));

const store = useProject();
const panels = usePanels();
const walk = useWalk();
const route = useRoute();
const router = useRouter();
const preferences = ref(false);
const help = ref(false);
const keySheet = ref(false);

/** The panels beside the view. */
const SIDES = { wall: PanelLeft, card: PanelRight } as const;

const saved = computed(() => {
  if (store.readOnly) return 'read-only';
  if (store.saved === 'saving') return 'saving …';
  if (store.saved === 'failed') return 'not saved';
  const at = store.savedAt;
  return at ? `saved ${at.toTimeString().slice(0, 5)}` : 'saved';
});
const stage = (name: string) => ({ name: 'bench', params: { id: route.params.id, stage: name } });

useCommands([
  {
    id: 'undo',
    title: 'Undo',
    also: 'take back',
    keys: 'Ctrl+Z',
    when: () => !!store.undoTitle,
    needs: 'nothing to undo',
    run: () => store.undo(),
  },
  {
    id: 'redo',
    title: 'Redo',
    also: 'do again',
    keys: 'Ctrl+Shift+Z, Ctrl+Y',
    when: () => !!store.redoTitle,
    needs: 'nothing to redo',
    run: () => store.redo(),
  },
  ...(['wall', 'card'] as const).map((name) => ({
    id: `panel-${name}`,
    title: `Show or fold the ${name}`,
    also: 'panel sidebar hide narrow full view',
    run: () => panels.turn(name),
  })),
  { id: 'yard', title: 'Go to the Yard', also: 'projects open home', run: () => void router.push('/yard') },
  ...STAGES.map((s) => ({
    id: `stage-${s.name}`,
    title: `Go to ${s.title}`,
    also: s.says,
    run: () => void router.push(stage(s.name)),
  })),
  {
    id: 'preferences',
    title: 'Preferences',
    also: 'settings theme night light step limit',
    run: () => {
      preferences.value = true;
    },
  },
  {
    id: 'help',
    title: 'Help: the guide and our words',
    also: 'manual documentation glossary terms tutorial learn',
    run: () => {
      help.value = true;
    },
  },
  {
    id: 'walk',
    title: 'Take the first walk',
    also: 'tutorial tour learn begin help',
    run: () => walk.begin(),
  },
  {
    id: 'keys',
    title: 'Keys of the bench',
    also: 'shortcuts help keyboard change',
    keys: '?',
    run: () => {
      keySheet.value = true;
    },
  },
]);
</script>

<template>
  <header class="rail">
    <RouterLink class="home" to="/yard" aria-label="Dusky Mason, to the Yard">
      <img src="/mark.svg" alt="" width="28" height="28" />
      <span>
        <strong>Dusky Mason</strong>
        <span class="soft name">{{ store.project?.name }}</span>
      </span>
    </RouterLink>
    <nav aria-label="Stages">
      <RouterLink v-for="s in STAGES" :key="s.name" :to="stage(s.name)" :title="`${s.title}: ${s.says}`">
        {{ s.title }}
      </RouterLink>
    </nav>
    <div class="right">
      <button class="find" aria-label="Find a tool" @click="panels.finder = true">
        <Search :size="15" aria-hidden="true" /><span>Find a tool</span><kbd>Ctrl K</kbd>
      </button>
      <button
        class="icon"
        :disabled="!store.undoTitle"
        :aria-label="store.undoTitle ? `Undo: ${store.undoTitle}` : 'Undo'"
        :title="store.undoTitle ? `Undo: ${store.undoTitle} (Ctrl+Z)` : 'Nothing to undo'"
        @click="store.undo()"
      >
        <Undo2 :size="17" />
      </button>
      <button
        class="icon"
        :disabled="!store.redoTitle"
        :aria-label="store.redoTitle ? `Redo: ${store.redoTitle}` : 'Redo'"
        :title="store.redoTitle ? `Redo: ${store.redoTitle} (Ctrl+Shift+Z)` : 'Nothing to redo'"
        @click="store.redo()"
      >
        <Redo2 :size="17" />
      </button>
      <button
        v-for="(icon, name) in SIDES"
        :key="name"
        class="icon"
        :aria-label="`The ${name}`"
        :aria-pressed="panels.isOpen(name)"
        :title="`${panels.isOpen(name) ? 'Folds' : 'Shows'} the ${name}`"
        @click="panels.turn(name)"
      >
        <component :is="icon" :size="17" />
      </button>
      <button class="icon" aria-label="Help" title="The guide, our words, the first walk" @click="help = true">
        <CircleHelp :size="17" />
      </button>
      <button class="icon" aria-label="Preferences" title="Preferences" @click="preferences = true">
        <Settings :size="17" />
      </button>
      <span class="soft saved" role="status">{{ saved }}</span>
    </div>
    <HelpDialog v-if="help" v-model:open="help" />
    <PreferencesDialog v-model:open="preferences" />
    <KeySheet v-model:open="keySheet" />
  </header>
</template>

<style scoped>
.rail {
  display: flex;
  align-items: stretch;
  height: 48px;
  border-bottom: 2px solid var(--joint);
}
.home {
  width: 266px;
  flex: none;
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 0 14px;
  color: inherit;
  text-decoration: none;
  line-height: 1.15;
  border-right: 2px solid var(--joint);
  overflow: hidden;
}
.home > span {
  display: grid;
  min-width: 0;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: 13px;
}
nav {
  display: flex;
}
nav a {
  display: flex;
  align-items: center;
  padding: 0 22px;
  border-right: 1px solid var(--joint);
  color: inherit;
  text-decoration: none;
}
nav a:hover {
  background: var(--raised);
}
nav a.router-link-active {
  background: var(--block);
  box-shadow: inset 0 -4px var(--verdigris);
  font-weight: 600;
}
.right {
  margin-left: auto;
  display: flex;
  align-items: center;
  gap: 6px;
  padding: 0 12px;
}
button {
  height: 32px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
button:disabled {
  color: var(--soft);
  opacity: 0.6;
  cursor: default;
}
.icon {
  width: 34px;
  display: grid;
  place-items: center;
}
.find {
  width: 210px;
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 0 10px;
  color: var(--soft);
}
.find span {
  flex: 1;
  text-align: left;
}
kbd {
  font: 11px var(--numbers);
}
.saved {
  min-width: 74px;
  text-align: right;
  font-size: 13px;
}
.icon[aria-pressed='true'] {
  box-shadow: inset 0 -3px var(--verdigris);
}
@media (max-width: 1150px) {
  .find {
    width: 44px;
  }
  .find span,
  .find kbd {
    display: none;
  }
  nav a {
    padding: 0 14px;
  }
  .home {
    width: 226px;
  }
}
@media (max-width: 820px) {
  .rail .home {
    width: auto;
  }
  .home > span,
  .saved {
    display: none;
  }
  nav a {
    padding: 0 10px;
  }
  .right {
    padding: 0 6px;
    gap: 3px;
  }
}
</style>
