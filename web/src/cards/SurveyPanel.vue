<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, onMounted, watch } from 'vue';
import { useRoute } from 'vue-router';
import { RULE_NAMES, RULES, type RuleName } from '@dusky-mason/core/survey';
import { formatArea, formatLength, formatVolume } from '@dusky-mason/core/units';
import { useCommands } from '../words/commands.ts';
import { named } from '../words/stageCommands.ts';
import { solidState } from '../words/counts.ts';
import LineLegend from '../components/LineLegend.vue';
import { sideEngine } from '../engine/engine.ts';
import { fileName, saveFile } from '../stores/files.ts';
import { useLooks } from '../stores/looks.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import { useSurvey } from '../stores/survey.ts';
import CompareTable from './CompareTable.vue';
import FindingList from './FindingList.vue';
import GaugeForm from './GaugeForm.vue';
import LooksForm from './LooksForm.vue';
import MeasureForm from './MeasureForm.vue';
import SidesForm from './SidesForm.vue';

const store = useProject();
const notices = useNotices();
const route = useRoute();
const unit = computed(() => store.project!.unit);
const c = computed(() => store.outcome?.counts ?? null);
const state = computed(() => solidState(c.value));

interface Row {
  id: string;
  title: string;
  value: string;
}

const groups = computed((): { title: string; rows: Row[] }[] => {
  const s = c.value;
  if (!s) return [];
  const plain = (id: string, title: string, value: string | number): Row => ({ id, title, value: String(value) });
  const size = s.bounds.max.map((x, k) => formatLength(x - s.bounds.min[k]!, unit.value, 2).replace(/ \S+$/, ''));
  return [
    {
      title: 'Topology',
      rows: [
        plain('faces', 'Faces', s.faces),
        plain('quads', 'Quads', s.quads),
        plain('vertices', 'Vertices', s.vertices),
        plain('edges', 'Edges', s.edges),
        plain('components', 'Separate bodies', s.components),
        plain('boundaryLoops', 'Open boundaries', s.boundaryLoops),
        plain('genus', 'Holes through (genus)', s.genus ?? 'unknown: not closed'),
      ],
    },
    {
      title: 'Measures',
      rows: [
        plain('volume', 'Volume', s.volume === null ? 'none: not closed' : formatVolume(s.volume, unit.value)),
        plain('area', 'Surface', formatArea(s.area, unit.value)),
        plain('size', 'Size', `${size.join(' × ')} ${unit.value}`),
      ],
    },
  ];
});

const survey = useSurvey();
const looks = useLooks();
onMounted(() => (survey.wanted = true));
onBeforeUnmount(() => {
  survey.wanted = false;
  looks.shown = 'clay';
  looks.levels = 0;
  survey.pick(null);
});
/** The findings as a file, or as a table to be pasted. */
async function report(as: 'copy' | 'csv' | 'json'): Promise<void> {
  try {
    const { csv, table, json } = await sideEngine().ask({ kind: 'report', part: store.part!, deep: survey.deep });
    const name = `${fileName(store.part!.name)}-survey.${as}`;
    if (as === 'copy') {
      await navigator.clipboard.writeText(table);
      notices.say('said', 'Copied the findings to the clipboard, as a table.');
    } else
      saveFile(
        name,
        new TextEncoder().encode(as === 'csv' ? csv : json),
        as === 'csv' ? 'text/csv' : 'application/json',
      );
  } catch (e) {
    notices.fail(e);
  }
}
const found = () => !!survey.picked;
useCommands([
  {
    ...named('finding-next'),
    when: found,
    run: () => survey.step(1),
  },
  {
    ...named('finding-before'),
    when: found,
    run: () => survey.step(-1),
  },
  {
    ...named('finding-alone'),
    when: found,
    run: () => {
      survey.alone = !survey.alone;
    },
  },
  {
    ...named('survey-deep'),
    run: () => {
      survey.deep = true;
    },
  },
  {
    ...named('survey-csv'),
    when: () => !!store.part,
    run: () => void report('csv'),
  },
]);

const at = computed(() => String(route.query.at ?? ''));
/** What was asked for by the level and is not among the findings. */
const asked = computed(() =>
  RULE_NAMES.includes(at.value as RuleName) && survey.findings && !survey.findings.some((f) => f.rule === at.value)
    ? RULES[at.value as RuleName]
    : null,
);
/** A figure of the level is a door to its finding. */
watch(
  () => [at.value, !!survey.findings] as const,
  ([rule, there]) => {
    if (there && RULE_NAMES.includes(rule as RuleName)) survey.pick(rule as RuleName);
  },
  { immediate: true },
);
watch(
  [at, c],
  async () => {
    await nextTick();
    document.getElementById(`row-${at.value}`)?.scrollIntoView({ block: 'nearest' });
  },
  { immediate: true },
);
</script>

<template>
  <header>
    <h2>Survey</h2>
    <p class="soft">
      {{ store.part ? `Findings in ${store.part.name}, with all its courses.` : 'There is no part to survey.' }}
    </p>
  </header>
  <p v-if="c" class="verdict" :class="{ bad: !state.sound }">
    <strong>{{ state.mark }} {{ state.words }}.</strong>
    {{
      state.sound
        ? 'Nothing here would stop a bevel, a print or an export.'
        : 'The findings marked ▲ say what is in the way.'
    }}
  </p>
  <p v-else-if="store.part" class="soft">Measuring …</p>
  <section v-if="store.part">
    <h3>Findings</h3>
    <p v-if="!survey.findings" class="soft">Looking …</p>
    <p v-else-if="!survey.findings.length" class="soft">Nothing found.</p>
    <FindingList v-else :list="survey.findings" :unit="unit" :at="at" />
    <p v-if="asked" :id="`row-${at}`" class="asked">
      <strong>{{ asked.title }}: none.</strong> {{ asked.why }}
    </p>
    <div v-if="survey.working" class="working" role="status">
      <progress :value="survey.working.fraction" :aria-label="survey.working.stage"></progress>
      <span>{{ survey.working.stage }}</span>
      <button class="small" @click="survey.giveUp()">Cancel</button>
    </div>
    <label class="deep">
      <input v-model="survey.deep" type="checkbox" />
      Also look for faces that cross or overlap (takes longer)
    </label>
    <div class="acts">
      <button @click="report('copy')">Copy as a table</button>
      <button @click="report('csv')">CSV</button>
      <button @click="report('json')">JSON</button>
    </div>
  </section>
  <SidesForm v-if="store.part" />
  <LooksForm v-if="store.part" :unit="unit" />
  <GaugeForm v-if="store.part" :unit="unit" />
  <MeasureForm v-if="store.part" :unit="unit" />
  <CompareTable v-if="store.part" :unit="unit" />
  <section v-for="g in groups" :key="g.title">
    <h3>{{ g.title }}</h3>
    <ul>
      <li v-for="r in g.rows" :id="`row-${r.id}`" :key="r.id" :class="{ at: r.id === at }">
        <span class="title">{{ r.title }}</span>
        <span class="number">{{ r.value }}</span>
      </li>
    </ul>
  </section>
  <LineLegend v-if="store.part" title="Lines in the view" />
</template>

<style scoped>
.asked {
  padding: 4px 6px;
  background: var(--raised);
  border-left: 3px solid var(--verdigris);
  line-height: 1.3;
}
.deep {
  display: flex;
  gap: 6px;
  align-items: start;
  padding: 8px 0;
  font-size: 13px;
  line-height: 1.25;
}
.working {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 13px;
}
.working progress {
  width: 60px;
  accent-color: var(--verdigris);
}
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 8px;
  padding: 3px 6px;
  border-left: 3px solid transparent;
}
li.at {
  background: var(--raised);
  border-left-color: var(--verdigris);
}
</style>
