<script setup lang="ts">
import { computed, ref } from 'vue';
import {
  isStroke,
  STROKE_GROUPS,
  STROKE_NAMES,
  strokeOf,
  STROKES,
  pickWords,
  type StrokeName,
} from '@dusky-mason/core/courses';
import { useCommands } from '../words/commands.ts';
import { namedStroke } from '../words/stageCommands.ts';
import type { MarkName } from '../words/operations.ts';
import MasonMark from '../components/MasonMark.vue';
import { usePicks } from '../stores/picks.ts';
import { useProject } from '../stores/project.ts';
import KeptPicks from './KeptPicks.vue';
import { useTools } from '../tools/tools.ts';
import StrokeCard from './StrokeCard.vue';

/** Strokes of the part: the one that is picked, and those that can be laid on top. */
const store = useProject();
const picks = usePicks();
const tools = useTools();
const stroke = computed(() => (store.course && isStroke(store.course) ? store.course : null));

const WORDS = { vertex: 'vertices', edge: 'edges', face: 'faces' } as const;
const markOf = (k: StrokeName): MarkName => (k === 'split' ? 'splitEdge' : k);
/** Strokes that may be laid on every part at once. */
/** The stroke that is pointed at, or has the focus: it is explained below. */
const pointed = ref<StrokeName | null>(null);
const ALL_PARTS = STROKE_NAMES.filter((k) => strokeOf(k).onEveryPart);

/** Whether a stroke can go without a pick: then it works on all. */
const onAll = (k: StrokeName): boolean => STROKES[k].settings.safeParse({}).success;
/** Strokes that are dragged over the part where too little is picked for them. */
const DRAGS: { [K in StrokeName]?: 'vertex' | 'tie' } = { slide: 'vertex', moveTie: 'tie' };
const enough = (k: StrokeName): boolean => {
  const { on, least = 1 } = strokeOf(k);
  return !!picks.on && on.includes(picks.on) && picks.count >= least;
};
/** Why a stroke cannot be laid now; empty when it can. */
function missing(k: StrokeName): string {
  if (!store.part || store.readOnly) return 'No part can be changed';
  if (k === 'line' || DRAGS[k]) return '';
  const { on, least = 1 } = strokeOf(k);
  if (enough(k)) return '';
  if (onAll(k) && !picks.count) return '';
  return `Pick ${least > 1 ? `${least} ` : ''}${on.map((o) => WORDS[o]).join(' or ')} first`;
}
/** What a stroke works on while nothing is picked. */
function otherwise(k: StrokeName): string {
  const { data } = picks.count ? { data: undefined } : STROKES[k].settings.safeParse({});
  return data && 'pick' in data ? `Nothing is picked: it works on ${pickWords(data.pick)}.` : '';
}
/** A line is drawn from stop to stop on the part. */
function drawLine(): void {
  tools.pick({
    wants: 'stop',
    many: true,
    asks: ['where the line begins', 'where it goes next'],
    got: [],
    done: (stops) => void picks.line(stops.map((s) => ({ face: s.face!, point: s.point }))),
  });
}
function lay(k: StrokeName): void {
  pointed.value = null;
  if (k === 'line') return drawLine();
  if (DRAGS[k] && !enough(k)) return tools.drag(DRAGS[k]);
  const { title, on } = strokeOf(k);
  const picked = picks.on !== null && on.includes(picks.on) && picks.count > 0;
  void picks.lay(k, title, {}, picked ? undefined : null);
}
useCommands([
  ...STROKE_GROUPS.flatMap((g) => g.kinds).map((k) => ({
    ...namedStroke(k),
    when: () => !missing(k),
    needs: () => missing(k),
    run: () => lay(k),
  })),
  ...ALL_PARTS.map((k) => ({
    id: `stroke-${k}-all`,
    title: `${strokeOf(k).title}, all parts`,
    also: `mend every ${strokeOf(k).also}`,
    when: () => !!store.part && !store.readOnly,
    run: () => picks.layOnAllParts(k, strokeOf(k).title),
  })),
  {
    id: 'again',
    title: 'Do the last stroke again, on what is picked now',
    also: 'repeat',
    keys: 'A',
    when: () => picks.canRepeat,
    run: () => void picks.again(),
  },
]);
</script>

<template>
  <StrokeCard v-if="stroke" :key="stroke.id" :course="stroke" />
  <header v-else>
    <h2>Dress</h2>
    <p class="soft">
      {{
        store.part
          ? 'Edge finish bevels all sharp edges at once. For everything else, pick vertices, edges or faces in the view, then choose what to do. Each act becomes a course on top of the wall. New cuts go below those that dress edges.'
          : 'There is no part to mend.'
      }}
    </p>
  </header>
  <template v-if="store.part">
    <p v-if="picks.last" class="again">
      <button
        :disabled="!picks.canRepeat"
        :title="picks.canRepeat ? 'On what is picked now (A)' : 'Pick something first'"
        @click="picks.again()"
      >
        Again: {{ picks.last.name }}
      </button>
    </p>
    <KeptPicks />
    <section v-for="g in STROKE_GROUPS" :key="g.title">
      <h3>{{ g.title }}</h3>
      <div class="strokes">
        <button
          v-for="k in g.kinds"
          :key="k"
          :disabled="!!missing(k)"
          :title="[strokeOf(k).explains, missing(k) || otherwise(k)].filter(Boolean).join(' ')"
          @pointerenter="pointed = k"
          @pointerleave="pointed = null"
          @focus="pointed = k"
          @blur="pointed = null"
          @click="lay(k)"
        >
          <MasonMark :name="markOf(k)" :size="18" />
          <span>{{ strokeOf(k).title }}</span>
        </button>
      </div>
      <p v-if="g.title === 'Automatic'" class="all">
        <span class="soft">All parts:</span>
        <button
          v-for="k in ALL_PARTS"
          :key="k"
          class="small"
          :disabled="store.readOnly"
          :aria-label="`${strokeOf(k).title}, all parts`"
          @click="picks.layOnAllParts(k, strokeOf(k).title)"
        >
          {{ strokeOf(k).title }}
        </button>
      </p>
    </section>
    <p v-if="pointed" class="explains">
      <b>{{ strokeOf(pointed).title }}</b> {{ strokeOf(pointed).explains }}
    </p>
  </template>
</template>

<style scoped>
.explains {
  /* It may come to lie over the button that it explains, which is still to be pressed. */
  pointer-events: none;
  position: sticky;
  bottom: calc(-1 * 24px);
  margin: 8px 0 calc(-1 * 24px);
  padding: 6px 0 24px;
  border-top: 1px solid var(--joint);
  background: var(--panel);
}
.strokes {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 5px;
}
.strokes button {
  scroll-margin-bottom: 72px;
}
.strokes button,
.again button {
  display: flex;
  align-items: center;
  gap: 7px;
  min-height: 34px;
  padding: 3px 8px;
  text-align: left;
  line-height: 1.15;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
.strokes button:hover:not(:disabled),
.again button:hover:not(:disabled) {
  border-color: var(--verdigris);
}
.all {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 5px;
  margin: 6px 0 0;
}
button:disabled {
  color: var(--soft);
  background: none;
  cursor: default;
}
</style>
