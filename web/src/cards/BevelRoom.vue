<script setup lang="ts">
import { computed, onUnmounted, ref, shallowRef, watch } from 'vue';
import type { StrokeCourse } from '@dusky-mason/core/courses';
import { inWords, type ChainHeadroom, type ChainRoom } from '@dusky-mason/core/dress';
import { formatLength } from '@dusky-mason/core/units';
import { EngineError } from '../engine/client.ts';
import { sideEngine } from '../engine/engine.ts';
import { Stopper } from '../engine/stopper.ts';
import { Latest } from '../engine/latest.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import { useSurvey } from '../stores/survey.ts';

/** How wide a bevel can get: as a number, on a slider that ends past it, and where it runs into something. */
const props = defineProps<{ course: Extract<StrokeCourse, { kind: 'bevel' | 'finish' }> }>();
/** Widths are shown as the course has them: mm, or percent of the shortest neighbour. */
const emit = defineEmits<{ width: [value: number]; preview: [value: number] }>();
const store = useProject();
const survey = useSurvey();
const notices = useNotices();
const unit = computed(() => store.project!.unit);
/** A width is a length, or a share of the shortest edge that meets the chain. */
const byShare = computed(() => props.course.params.measure === 'share');
const width = computed(() => (byShare.value ? props.course.params.share / 100 : props.course.params.width));
const told = (x: number) => (byShare.value ? `${Number((100 * x).toPrecision(3))} %` : formatLength(x, unit.value, 3));

const chains = shallowRef<ChainHeadroom[] | null>(null);
const working = ref<number | null>(null);
/** Whether all chains are known, or only those with the least room. */
const all = ref(false);
const stopper = new Stopper();
const { stop } = stopper;
/** Widths for most of the length: measured when asked for, as that takes its time on large parts. */
const rooms = shallowRef<ChainRoom[] | null>(null);
const latest = new Latest<'headroom' | 'lengths'>(async (what) => {
  const { part } = store;
  if (!part?.courses.some((c) => c.id === props.course.id)) return;
  const asked = { part, course: props.course.id, cancel: stopper.begin() };
  const progress = (p: { fraction: number }) => {
    working.value = p.fraction;
  };
  working.value = 0;
  try {
    if (what === 'lengths') {
      rooms.value = (await sideEngine().ask({ kind: 'lengthRooms', ...asked }, { progress })).chains;
      return;
    }
    // The least one first, as it decides; the others take longer.
    for (const only of ['least', 'all'] as const) {
      chains.value = (await sideEngine().ask({ kind: 'headroom', ...asked, only }, { progress })).chains;
      all.value = only === 'all';
    }
  } catch (e) {
    if (!(e instanceof EngineError && e.code === 'cancelled')) notices.fail(e);
  } finally {
    working.value = null;
  }
}, stop);
onUnmounted(stop);

/** For each share of the length the chain with the least width. */
const byLength = computed(() =>
  (rooms.value?.[0]?.rooms ?? []).map((_, i) =>
    rooms.value!.map((c) => c.rooms[i]!).reduce((a, b) => (b.width < a.width ? b : a)),
  ),
);
const showsLengths = computed(() => byLength.value.some((r) => Number.isFinite(r.width)));

/** What the room depends on: the state below, and all settings but the width. */
const hangsOn = computed(() => {
  const at = store.part?.courses.findIndex((c) => c.id === props.course.id) ?? -1;
  const shape = { ...props.course.params, width: 0, share: 0, past: '' };
  return JSON.stringify([store.part?.courses.slice(0, at), shape]);
});
watch(
  hangsOn,
  () => {
    chains.value = null;
    rooms.value = null;
    all.value = false;
    latest.request('headroom');
  },
  { immediate: true },
);

const sorted = computed(() => [...(chains.value ?? [])].sort((a, b) => a.headroom - b.headroom));
const least = computed(() => sorted.value[0] ?? null);
const share = computed(() => (least.value ? width.value / least.value.headroom : 0));
/** Whether there is a finite room above 0. */
const roomy = computed(() => !!least.value && least.value.headroom > 0 && Number.isFinite(least.value.headroom));
/** Chains that are listed; the rest is counted. */
const SHOWN = 4;
/** The slider reaches past the room by this, in steps of a two-hundredth of it, rounded to a figure that reads well. */
const REACH = 1.25;
const step = computed(() => 10 ** Math.floor(Math.log10((least.value?.headroom ?? 1) / 100)));
const inCourse = (x: number): number => Number(((byShare.value ? 100 : 1) * x).toPrecision(3));
const asked = (e: Event): number => inCourse(Number((e.target as HTMLInputElement).value));
</script>

<template>
  <section aria-live="polite">
    <h3>Room</h3>
    <p v-if="working !== null && !chains" class="soft">
      Measuring the room: {{ Math.round(100 * working) }} %
      <button class="small" @click="stop">Leave it</button>
    </p>
    <template v-else-if="least">
      <div v-if="roomy" class="slide">
        <input
          type="range"
          data-settled="true"
          aria-label="Width within the room"
          :aria-valuetext="`${told(width)} of ${told(least.headroom)}`"
          :min="step"
          :max="REACH * least.headroom"
          :step="step"
          :value="width"
          :disabled="store.readOnly"
          @input="emit('preview', asked($event))"
          @change="emit('width', asked($event))"
        />
        <span class="end" aria-hidden="true" :style="{ left: `${100 / REACH}%` }" />
      </div>
      <p class="line">
        <span>
          <span class="number">{{ told(width) }}</span> of
          <span class="number">{{ Number.isFinite(least.headroom) ? told(least.headroom) : 'any' }}</span>
          {{ share > 1 ? '△ past the room' : '' }}
        </span>
        <button
          class="small"
          :disabled="!roomy || store.readOnly"
          @click="emit('width', inCourse(0.95 * least.headroom))"
        >
          Take 95 %
        </button>
      </p>
      <p class="soft">Then {{ inWords(least.what) }}.</p>
      <p v-if="working !== null" class="soft">
        {{ all ? 'Measuring lengths' : 'Measuring the other chains' }}: {{ Math.round(100 * working) }} %
        <button class="small" @click="stop">Leave it</button>
      </p>
      <ul v-if="Number.isFinite(least.headroom)" class="lines">
        <li v-for="(c, i) in sorted.slice(0, SHOWN)" :key="i">
          <span>{{ c.edges }} edge{{ c.edges === 1 ? '' : 's' }}</span>
          <span class="number">{{ Number.isFinite(c.headroom) ? told(c.headroom) : 'any' }}</span>
          <button
            class="small"
            :disabled="!Number.isFinite(c.headroom)"
            :aria-label="`Go to where ${c.edges} edges have no more room`"
            @click="survey.flyTo(c.at)"
          >
            Go there
          </button>
        </li>
        <li v-if="sorted.length > SHOWN" class="soft">
          and {{ sorted.length - SHOWN }} more chains, with {{ told(sorted[SHOWN]!.headroom) }} or more
        </li>
      </ul>
      <template v-if="showsLengths">
        <p class="soft">Where the bevel may be narrower on a little of its length:</p>
        <ul class="lines">
          <li v-for="r in byLength" :key="r.share">
            <span>{{ Math.round(100 * r.share) }} % of it</span>
            <span class="number">{{ Number.isFinite(r.width) ? told(r.width) : 'any' }}</span>
            <button
              class="small"
              :disabled="!Number.isFinite(r.width) || store.readOnly"
              :aria-label="`Take the width for ${Math.round(100 * r.share)} % of the length`"
              @click="emit('width', inCourse(0.99 * r.width))"
            >
              Take it
            </button>
            <button
              class="small"
              :disabled="!Number.isFinite(r.width)"
              :aria-label="`Go to what is in the way beyond ${Math.round(100 * r.share)} % of the length`"
              @click="survey.flyTo(r.at)"
            >
              Go there
            </button>
          </li>
        </ul>
      </template>
      <p v-else-if="working === null && Number.isFinite(least.headroom)">
        <button class="small" @click="latest.request('lengths')">Measure it for 99 and 95 % of the length</button>
      </p>
    </template>
    <p v-else class="soft">
      {{ working === null ? 'The room is not known.' : '' }}
      <button v-if="working === null" class="small" @click="latest.request('headroom')">Look</button>
    </p>
  </section>
</template>

<style scoped>
.slide {
  position: relative;
}
.slide input {
  width: 100%;
  accent-color: var(--verdigris);
}
.end {
  position: absolute;
  top: -2px;
  bottom: -2px;
  width: 2px;
  background: var(--ochre);
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  margin: 4px 0;
}
li .number {
  margin-left: auto;
}
</style>
