<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { formatVolume } from '@dusky-mason/core/units';
import { solidState } from '../words/counts.ts';
import { useProject } from '../stores/project.ts';
import { useCommands } from '../words/commands.ts';

const store = useProject();
const route = useRoute();
const router = useRouter();

const counts = computed(() => store.outcome?.counts ?? null);
const state = computed(() => solidState(counts.value));
const quads = computed(() =>
  counts.value ? Math.round((100 * counts.value.quads) / Math.max(1, counts.value.faces)) : 0,
);
const ms = (x: number): string => (x < 100 ? x.toFixed(1) : x.toFixed(0));

const figures = computed(() => {
  const c = counts.value;
  if (!c) return [];
  return [
    {
      id: 'nonManifoldEdges',
      title: 'non-manifold',
      value: String(c.nonManifoldEdges + c.nonManifoldVertices),
      bad: c.nonManifoldEdges + c.nonManifoldVertices > 0,
    },
    { id: 'ngons', title: 'n-gons', value: String(c.ngons), bad: false },
    { id: 'slivers', title: 'slivers', value: String(c.slivers), bad: c.slivers > 0 },
    { id: 'flippedEdges', title: 'flipped', value: String(c.flippedEdges), bad: c.flippedEdges > 0 },
    { id: 'faces', title: 'faces', value: `${c.faces} · ${quads.value} % quads`, bad: false },
    {
      id: 'volume',
      title: 'volume',
      value: c.volume === null ? 'none' : formatVolume(c.volume, store.project!.unit),
      bad: false,
    },
  ];
});

/** What the last change came to, for those who do not see the level. */
const said = ref('');
watch(
  () => [store.outcome, store.behind] as const,
  ([outcome, behind]) => {
    if (!outcome || behind) return;
    const after = store.undoTitle ? `${store.undoTitle}: ` : '';
    said.value = `${after}${state.value.words}, ${outcome.counts.faces} faces.`;
  },
);

/** Each figure is a door to its finding. */
const open = (at: string): void =>
  void router.push({ name: 'bench', params: { id: route.params.id, stage: 'survey' }, query: { at } });

useCommands([
  {
    id: 'stop',
    title: 'Stop the course that is working',
    also: 'cancel abort',
    when: () => !!store.working,
    run: () => store.stopWork(),
  },
]);
</script>

<template>
  <footer class="level" aria-label="Level: the state of the part" :aria-busy="store.behind">
    <button v-if="counts" class="state" :class="{ bad: !state.sound }" data-figure="state" @click="open('openEdges')">
      {{ state.mark }} {{ state.words }}
    </button>
    <span v-else class="state">{{ store.part ? 'Measuring …' : 'No part' }}</span>
    <button
      v-for="f in figures"
      :key="f.id"
      :class="{ bad: f.bad }"
      :data-figure="f.id"
      :title="`${f.title}: see it on Survey`"
      @click="open(f.id)"
    >
      <span class="soft">{{ f.title }}</span> <span class="number">{{ f.bad ? '▲ ' : '' }}{{ f.value }}</span>
    </button>
    <p class="unseen" aria-live="polite">{{ said }}</p>
    <div v-if="store.working" class="working" role="status">
      <progress :value="store.working.fraction || undefined" :aria-label="`Working: ${store.working.name}`"></progress>
      <span>
        Working: {{ store.working.name }}<template v-if="store.working.stage">, {{ store.working.stage }}</template>
      </span>
      <button @click="store.stopWork()">Cancel</button>
    </div>
    <span v-else-if="store.outcome" class="last">
      <span class="soft">last change</span> <span class="number">{{ ms(store.outcome.ms) }} ms</span>
    </span>
  </footer>
</template>

<style scoped>
.level {
  display: flex;
  align-items: stretch;
  min-height: 34px;
  background: var(--block);
  border-top: 2px solid var(--joint);
  flex-wrap: wrap;
}
.level > * {
  padding: 0 12px;
  display: flex;
  align-items: center;
  gap: 7px;
  white-space: nowrap;
}
button {
  border: 0;
  border-right: 1px solid var(--joint);
  background: none;
  cursor: pointer;
}
button:hover {
  background: var(--raised);
}
.state {
  font-weight: 600;
}
.bad {
  box-shadow: inset 0 3px var(--brick);
  font-weight: 600;
}
.last,
.working {
  margin-left: auto;
  min-width: 0;
  flex: 0 1 auto;
}
/* A long name gives way, never the button. */
.working > span {
  overflow: hidden;
  text-overflow: ellipsis;
}
.working > button,
.working > progress {
  flex: none;
}
.working button {
  border: 1px solid var(--joint);
  background: var(--raised);
  padding: 3px 10px;
}
progress {
  width: 90px;
  accent-color: var(--verdigris);
}
:focus-visible {
  outline-offset: -3px;
}
@media (max-width: 820px) {
  .level > * {
    min-height: 26px;
  }
  .last {
    display: none;
  }
}
@media (max-width: 1150px) {
  .level > * {
    padding: 0 8px;
    font-size: 13px;
  }
  .last .soft {
    display: none;
  }
}
</style>
