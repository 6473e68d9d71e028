<script setup lang="ts">
import { computed } from 'vue';
import { LOOKS, type LookName } from '@dusky-mason/core/survey';
import { formatLength, type LengthUnit } from '@dusky-mason/core/units';
import LengthField from '../components/LengthField.vue';
import { useLooks, type Shown } from '../stores/looks.ts';
import { useProject } from '../stores/project.ts';
import { useSurvey } from '../stores/survey.ts';
import { CLASS_COLOURS, RAMP_CSS } from '../viewport/partMaterial.ts';

/** How the part is shown, and what its colours mean. */
defineProps<{ unit: LengthUnit }>();
const looks = useLooks();
const store = useProject();
const survey = useSurvey();

const OWN: Record<'clay' | 'bands', { title: string; says: string }> = {
  clay: { title: 'Clay', says: 'Its own material.' },
  bands: { title: 'Light bands', says: 'Mirrored light that moves with the view: a dent is a kink in it.' },
};
const all = computed(
  () => [...Object.entries(OWN), ...Object.entries(LOOKS)] as [Shown, { title: string; says: string }][],
);
const says = computed(() => all.value.find(([k]) => k === looks.shown)![1].says);
const v = computed(() => looks.values);
const heat = computed(() => !!v.value && LOOKS[v.value.look].kind === 'heat');

/** Five values along a heat. */
function marks(unit: LengthUnit): string[] {
  const { min, max, log, look } = v.value!;
  return [0, 0.25, 0.5, 0.75, 1].map((s) => {
    const x = log ? Math.exp(Math.log(min) + s * (Math.log(max) - Math.log(min))) : min + s * (max - min);
    return look === 'edgeLength' || look === 'thickness' ? formatLength(x, unit, 2) : `${+x.toPrecision(3)}`;
  });
}
/** Bars by the root of their count, so that a few far values are seen beside many near ones. */
const tall = (n: number): number => (n ? Math.max(4, 100 * Math.sqrt(n / Math.max(...v.value!.bins))) : 0);
const unitOf = (look: LookName): string => ('unit' in LOOKS[look] ? (LOOKS[look] as { unit: string }).unit : '');
/** Of a class of faces by where they come from the name of its course. */
const nameOf = (c: string): string =>
  v.value?.look === 'source' ? (store.part?.courses.find((x) => x.id === Number(c))?.name ?? 'unknown') : c;
const hex = (i: number) => `#${CLASS_COLOURS[i % CLASS_COLOURS.length]!.getHexString()}`;
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
    <p v-if="looks.levels && looks.preview" class="soft">
      {{ looks.faces.toLocaleString('en') }} faces, with the lines of the cage alone: a bad vertex shows as a pinch.
    </p>
    <div
      v-if="v && heat"
      class="heat"
      role="img"
      :aria-label="`From ${marks(unit)[0]} to ${marks(unit)[4]} ${unitOf(v.look)}`"
    >
      <div class="bars" role="img" aria-label="How often each value comes">
        <span v-for="(n, i) in v.bins" :key="i" :style="{ height: `${tall(n)}%` }" :title="`${n}`"></span>
      </div>
      <div class="ramp" :style="{ background: RAMP_CSS }"></div>
      <div class="marks number">
        <span v-for="(m, i) in marks(unit)" :key="i">{{ m }}</span>
      </div>
      <div v-if="v.look === 'thickness'" class="thin">
        <label for="thin">Mark what is thinner than</label>
        <LengthField
          id="thin"
          v-model="looks.thin"
          as="length"
          label="Mark what is thinner than"
          :unit="unit"
          :min="0"
        />
      </div>
      <small v-if="v.look !== 'edgeLength' && v.look !== 'thickness'" class="soft">{{ unitOf(v.look) }}</small>
    </div>
    <p v-if="v?.worst && v.max > 0" class="worst">
      <span>Worst {{ +v.max.toPrecision(4) }}{{ unitOf(v.look) }}</span>
      <button @click="survey.flyTo(v.worst!)">Go there</button>
    </p>
    <ul v-if="v && !heat">
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
.bars {
  display: flex;
  align-items: flex-end;
  gap: 1px;
  height: 44px;
}
.bars span {
  flex: 1;
  background: var(--soft);
}
.ramp {
  height: 14px;
  border: 1px solid var(--joint);
}
.marks {
  display: flex;
  justify-content: space-between;
  font-size: 11px;
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
