<script setup lang="ts">
import { computed, ref } from 'vue';
import { countWords } from '@dusky-mason/core/courses';
import { LIKENESSES_OF, type ElementKind, type Likeness, type PickAct } from '@dusky-mason/core/mend';
import { formatArea, formatLength } from '@dusky-mason/core/units';
import { useCommands } from '../words/commands.ts';
import LengthField from '../components/LengthField.vue';
import { radioKeys } from '../components/radioKeys.ts';
import { PICK_TOOLS, usePicks, type PickTool } from '../stores/picks.ts';
import { useProject } from '../stores/project.ts';

/** What clicks pick, and what can be done with a pick before it is used. */
const picks = usePicks();
const store = useProject();
const unit = computed(() => store.project?.unit ?? 'mm');
const angle = ref(30);

const KINDS: { kind: ElementKind | null; title: string }[] = [
  { kind: null, title: 'Courses' },
  { kind: 'vertex', title: 'Vertices' },
  { kind: 'edge', title: 'Edges' },
  { kind: 'face', title: 'Faces' },
];
interface Way {
  id: string;
  title: string;
  act: PickAct;
  /** Whether something must be picked for it. */
  needs: boolean;
}
const LIKE: Record<Likeness, string> = {
  length: 'As long',
  area: 'As large',
  direction: 'The same way',
  sides: 'As many corners',
  slot: 'In the same slot',
  source: 'Cut from the same face',
  valence: 'As many edges',
};
const ways = computed((): Way[] => {
  const { on } = picks;
  if (!on) return [];
  const plain = (
    id: 'connected' | 'invert' | 'none' | 'loop' | 'ring' | 'border' | 'all',
    title: string,
    needs = true,
  ): Way => ({ id, title, act: { do: id }, needs });
  return [
    plain('connected', 'All that hangs together'),
    ...(on === 'edge' ? [plain('loop', 'The run it is part of'), plain('ring', 'The ring across quads')] : []),
    ...(on === 'face' ? [plain('border', 'Its border, as edges')] : []),
    ...KINDS.filter((k) => k.kind && k.kind !== on).map((k): Way => ({
      id: `as-${k.kind}`,
      title: `As ${k.title.toLowerCase()}`,
      act: { do: 'as', kind: k.kind! },
      needs: true,
    })),
    ...LIKENESSES_OF[on].map((by): Way => ({
      id: `like-${by}`,
      title: `${LIKE[by]} as these`,
      act: { do: 'similar', by },
      needs: true,
    })),
    plain('invert', 'All the others instead', false),
    plain('all', 'All of them', false),
    plain('none', 'None'),
    { id: 'seams', title: 'The seams of all cuts', act: { do: 'seams' }, needs: false },
    ...(store.part?.courses ?? []).map((c): Way => ({
      id: `made-${c.id}`,
      title: `Made by ${c.name}`,
      act: { do: 'made', course: c.id },
      needs: false,
    })),
  ];
});
function more(e: Event): void {
  const field = e.target as HTMLSelectElement;
  const way = ways.value.find((w) => w.id === field.value);
  field.value = '';
  if (way) void picks.act(way.act);
}
const told = computed(() => {
  const { on, count, shape } = picks;
  if (!on) return '';
  const amount = !shape?.amount
    ? ''
    : on === 'edge'
      ? `, ${formatLength(shape.amount, unit.value, 2)}`
      : `, ${formatArea(shape.amount, unit.value)}`;
  return `${countWords(on, count)}${amount}`;
});
const there = () => !!store.picture;
const some = () => !!picks.on && picks.count > 0;
useCommands(() => [
  ...KINDS.map(({ kind, title }) => ({
    id: `pick-${kind ?? 'courses'}`,
    title: `Clicks pick ${title.toLowerCase()}`,
    also: 'select mode',
    when: there,
    run: () => picks.mode(kind),
  })),
  ...(Object.keys(PICK_TOOLS) as PickTool[]).map((by) => ({
    id: `pick-by-${by}`,
    title: `Pick ${PICK_TOOLS[by]}`,
    also: 'select',
    when: () => !!picks.on,
    run: () => {
      picks.by = by;
    },
  })),
  { id: 'pick-grow', title: 'Pick: grow', also: 'select more', when: some, run: () => void picks.act({ do: 'grow' }) },
  {
    id: 'pick-shrink',
    title: 'Pick: shrink',
    also: 'select less',
    when: some,
    run: () => void picks.act({ do: 'shrink' }),
  },
  {
    id: 'pick-sharper',
    title: `Pick edges sharper than ${angle.value}°`,
    also: 'select angle hard',
    when: there,
    run: () => void picks.act({ do: 'sharper', angle: angle.value }, 'edge'),
  },
  {
    id: 'pick-next',
    title: 'Pick the next one round its face',
    also: 'select step',
    keys: ']',
    when: () => !!picks.on,
    run: () => void picks.step(1),
  },
  {
    id: 'pick-before',
    title: 'Pick the one before round its face',
    also: 'select step',
    keys: '[',
    when: () => !!picks.on,
    run: () => void picks.step(-1),
  },
  {
    id: 'pick-onward',
    title: 'Pick the next one along its run',
    also: 'select step loop',
    keys: '}',
    when: () => picks.on === 'edge',
    run: () => void picks.step(1, 'loop'),
  },
  {
    id: 'pick-keep',
    title: 'Keep the pick by a name',
    also: 'select save group set',
    when: () => some() && !store.readOnly,
    run: () => void picks.keep(),
  },
  ...ways.value.map((w) => ({
    id: `pick-way-${w.id}`,
    title: `Pick: ${w.title.toLowerCase()}`,
    also: 'select',
    when: () => !w.needs || some(),
    run: () => void picks.act(w.act),
  })),
]);
</script>

<template>
  <div class="choice" role="radiogroup" aria-label="What clicks pick" @keydown="radioKeys">
    <button
      v-for="k in KINDS"
      :key="k.title"
      role="radio"
      :aria-checked="picks.on === k.kind"
      :tabindex="picks.on === k.kind ? 0 : -1"
      @click="picks.mode(k.kind)"
    >
      {{ k.title }}
    </button>
  </div>
  <template v-if="picks.on">
    <span class="number" role="status">{{ told }}</span>
    <select v-model="picks.by" aria-label="How to pick">
      <option v-for="(title, by) in PICK_TOOLS" :key="by" :value="by">{{ title }}</option>
    </select>
    <button
      v-if="picks.by !== 'click'"
      :aria-pressed="picks.through"
      title="Also picks what is hidden"
      @click="picks.through = !picks.through"
    >
      Through
    </button>
    <button :disabled="!picks.count" title="Adds what lies beside it" @click="picks.act({ do: 'grow' })">Grow</button>
    <button :disabled="!picks.count" title="Takes away its border" @click="picks.act({ do: 'shrink' })">Shrink</button>
    <span v-if="picks.on === 'edge'" class="sharp">
      <button title="All edges at which the faces turn by more" @click="picks.act({ do: 'sharper', angle })">
        Sharper than
      </button>
      <LengthField id="pick-angle" v-model="angle" as="angle" label="Sharper than" :unit="unit" :min="0" :max="180" />
    </span>
    <select aria-label="More ways to pick" class="also" @change="more">
      <option value="">Also …</option>
      <option v-for="w in ways" :key="w.id" :value="w.id" :disabled="w.needs && !picks.count">{{ w.title }}</option>
    </select>
    <button v-if="picks.count && !store.readOnly" title="Kept by name, with the part" @click="picks.keep()">
      Keep
    </button>
  </template>
</template>

<style scoped>
.also {
  width: 82px;
}
.sharp {
  display: grid;
  grid-template-columns: auto 74px;
}
</style>
