<script setup lang="ts">
import { computed } from 'vue';
import { LOOKS, type LookName } from '@dusky-mason/core/survey';
import type { LengthUnit } from '@dusky-mason/core/units';
import HeatScale from '../components/HeatScale.vue';
import LengthField from '../components/LengthField.vue';
import LineLegend from '../components/LineLegend.vue';
import { useLooks, type Shown } from '../stores/looks.ts';
import { useProject } from '../stores/project.ts';
import { useSurvey } from '../stores/survey.ts';
import { CLASS_COLOURS, cssColour } from '../theme/colours.ts';

/** How the part is shown, and what its colours mean. */
defineProps<{ unit: LengthUnit }>();
const looks = useLooks();
const store = useProject();
const survey = useSurvey();

const OWN: Record<'clay' | 'bands', { title: string; says: string }> = {
  clay: { title: 'Clay', says: 'Shows its own material.' },
  bands: { title: 'Light bands', says: 'Mirrored light that moves with the view: a dent is a kink in it.' },
};
const all = computed(
  () => [...Object.entries(OWN), ...Object.entries(LOOKS)] as [Shown, { title: string; says: string }][],
);
const says = computed(() => all.value.find(([k]) => k === looks.shown)![1].says);
const v = computed(() => looks.values);
const kind = computed(() => (v.value ? LOOKS[v.value.look].kind : null));

const isThick = computed(() => v.value?.look === 'thickness' || v.value?.look === 'ball');
const isLength = computed(() => isThick.value || v.value?.look === 'edgeLength');
const unitOf = (look: LookName): string => ('unit' in LOOKS[look] ? (LOOKS[look] as { unit: string }).unit : '');
/** The name of the course for a class of faces by origin. */
const nameOf = (c: string): string =>
  v.value?.look === 'source' ? (store.part?.courses.find((x) => x.id === Number(c))?.name ?? 'unknown') : c;
const hex = (i: number) => cssColour(CLASS_COLOURS[i % CLASS_COLOURS.length]!);
</script>

<template>
  <section>
    <h3>Look at it as</h3>
    <select v-model="looks.shown" aria-label="Look">
      <option v-for="[key, l] in all" :key="key" :value="key">{{ l.title }}</option>
    </select>
    <p class="soft">{{ says }}</p>
    <label class="levels">
      Subdivided preview
      <select v-model="looks.levels">
        <option :value="0">off</option>
        <option v-for="n in 3" :key="n" :value="n">{{ n }} time{{ n === 1 ? '' : 's' }}</option>
      </select>
    </label>
    <template v-if="looks.levels && looks.preview">
      <p class="soft">
        {{ looks.faces.toLocaleString('en') }} faces, with the lines of the cage alone: a bad vertex shows as a pinch.
      </p>
      <label class="tick">
        <input v-model="looks.offGuide" type="checkbox" />
        Colour it by its distance from the guide surface
      </label>
      <HeatScale
        v-if="looks.offGuide && looks.off"
        :heat="looks.off"
        as="length"
        :unit="unit"
        label="Distance from the guide surface"
      />
    </template>
    <template v-if="v && kind === 'heat'">
      <HeatScale
        :heat="v"
        :as="isLength ? 'length' : 'number'"
        :suffix="unitOf(v.look)"
        :unit="unit"
        :label="LOOKS[v.look].title"
      />
      <div v-if="isThick" class="thin">
        <label for="thin">Mark walls thinner than</label>
        <LengthField id="thin" v-model="looks.thin" as="length" label="Mark walls thinner than" :unit="unit" :min="0" />
      </div>
    </template>
    <p v-if="v && kind === 'checker'" class="soft">
      {{
        v.square
          ? `Each square is ${v.square} wide in UV; the notch in it is at its lower left.`
          : 'The part has no UVs.'
      }}
    </p>
    <LineLegend v-if="v?.edges" title="Edges by kind" :edges="v.edges" :unit="unit" />
    <p v-if="v?.worst && v.max > 0" class="worst">
      <span>Worst {{ +v.max.toPrecision(4) }}{{ unitOf(v.look) }}</span>
      <button @click="survey.flyTo(v.worst!)">Go there</button>
    </p>
    <ul v-if="v && kind === 'classes'">
      <li v-for="(c, i) in v.classes" :key="c">
        <span class="swatch" :style="{ background: hex(i) }"></span>{{ nameOf(c) }}
      </li>
    </ul>
  </section>
</template>

<style scoped>
select {
  width: 100%;
  min-height: 32px;
  border: 1px solid var(--joint);
  background: var(--raised);
}
.levels {
  display: grid;
  grid-template-columns: 1fr 90px;
  gap: 8px;
  align-items: center;
  margin-top: 6px;
}
.tick {
  display: flex;
  gap: 6px;
  align-items: start;
  font-size: 13px;
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 3px 12px;
}
li {
  display: flex;
  align-items: center;
  gap: 6px;
}
.thin {
  display: grid;
  grid-template-columns: 1fr 110px;
  gap: 8px;
  align-items: center;
  margin-top: 6px;
}
.worst {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-top: 4px;
}
.worst button {
  padding: 3px 9px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
.swatch {
  width: 16px;
  height: 16px;
  border: 1px solid var(--soft);
}
</style>
