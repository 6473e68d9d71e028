<script setup lang="ts">
import { computed } from 'vue';
import { countWords } from '@dusky-mason/core/courses';
import type { ElementKind, PickAct } from '@dusky-mason/core/mend';
import { formatArea, formatLength } from '@dusky-mason/core/units';
import { useCommands } from '../components/commands.ts';
import { usePicks } from '../stores/picks.ts';
import { useProject } from '../stores/project.ts';

/** What clicks pick, and what can be done with a pick before it is used. */
const picks = usePicks();
const store = useProject();
const unit = computed(() => store.project?.unit ?? 'mm');

const KINDS: { kind: ElementKind | null; title: string }[] = [
  { kind: null, title: 'Courses' },
  { kind: 'vertex', title: 'Vertices' },
  { kind: 'edge', title: 'Edges' },
  { kind: 'face', title: 'Faces' },
];
type Plain = Exclude<PickAct['do'], 'click'>;
const ACTS: { act: Plain; title: string; says: string }[] = [
  { act: 'grow', title: 'Grow', says: 'And what lies beside it' },
  { act: 'shrink', title: 'Shrink', says: 'Without its border' },
  { act: 'connected', title: 'Connected', says: 'And all that hangs together with it' },
  { act: 'invert', title: 'Invert', says: 'All the others instead' },
  { act: 'none', title: 'None', says: 'Nothing' },
];
const told = computed(() => {
  const { on, count, shape } = picks;
  if (!on) return '';
  const amount = !shape?.amount ? '' : on === 'edge' ? `, ${formatLength(shape.amount, unit.value, 2)}` : `, ${formatArea(shape.amount, unit.value)}`; // prettier-ignore
  return `${countWords(on, count)}${amount}`;
});
const there = () => !!store.picture;
useCommands([
  ...KINDS.map(({ kind, title }) => ({ id: `pick-${kind ?? 'courses'}`, title: `Clicks pick ${title.toLowerCase()}`, also: 'select mode', when: there, run: () => picks.mode(kind) })),
  { id: 'pick-all', title: 'Pick all of them', also: 'select', when: () => !!picks.on, run: () => void picks.act({ do: 'all' }) },
  ...ACTS.map(({ act, title, says }) => ({ id: `pick-${act}`, title: `Pick: ${title.toLowerCase()}`, also: `select ${says}`, when: () => !!picks.on && picks.count > 0, run: () => void picks.act({ do: act }) })),
]); // prettier-ignore
</script>

<template>
  <div class="choice" role="radiogroup" aria-label="What clicks pick">
    <button
      v-for="k in KINDS"
      :key="k.title"
      role="radio"
      :aria-checked="picks.on === k.kind"
      @click="picks.mode(k.kind)"
    >
      {{ k.title }}
    </button>
  </div>
  <template v-if="picks.on">
    <span class="number" role="status">{{ told }}</span>
    <template v-if="picks.count">
      <button v-for="a in ACTS" :key="a.act" :title="a.says" @click="picks.act({ do: a.act })">{{ a.title }}</button>
    </template>
  </template>
</template>
