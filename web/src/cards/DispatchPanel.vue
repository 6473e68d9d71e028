<script setup lang="ts">
import Select from 'primevue/select';
import ToggleSwitch from 'primevue/toggleswitch';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { cutterParts, type Part } from '@dusky-mason/core/courses';
import { EXPORT_FORMATS, exportDefaults, extensionOf, type ExportFormat, type UpAxis } from '@dusky-mason/core/formats';
import { LENGTH_UNITS, type LengthUnit } from '@dusky-mason/core/units';
import InTurn from '../components/InTurn.vue';
import { useCommands } from '../words/commands.ts';
import { named } from '../words/stageCommands.ts';
import { EngineError } from '../engine/client.ts';
import { sideEngine } from '../engine/engine.ts';
import { Latest } from '../engine/latest.ts';
import type { PartVerdict } from '../engine/protocol.ts';
import { Stopper } from '../engine/stopper.ts';
import { fileName, saveFile } from '../stores/files.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import { useWalk } from '../stores/walk.ts';

const store = useProject();
const notices = useNotices();
const router = useRouter();

const format = ref<ExportFormat>('obj');
const unit = ref<LengthUnit>('mm');
const up = ref<UpAxis>('z');
watch(format, (f) => ({ unit: unit.value, up: up.value } = exportDefaults(f)));

const FORMATS = Object.entries(EXPORT_FORMATS).map(([value, f]) => ({ value, title: f.title }));
const UNITS = Object.keys(LENGTH_UNITS) as LengthUnit[];
const UPS = [
  { value: 'z', title: 'z is up, as on the bench' },
  { value: 'y', title: 'y is up' },
];

const parts = computed(() => store.project?.parts ?? []);
const tools = computed(() => (store.project ? cutterParts(store.project) : new Set<number>()));
/** The note beside a part that is left out by default. */
const asideOf = (p: Part): string => (!p.shown ? 'hidden' : tools.value.has(p.id) ? 'a cutter' : '');
/** Parts that were taken or left out by hand. */
const byHand = ref<ReadonlyMap<number, boolean>>(new Map());
const isTaken = (p: Part): boolean => byHand.value.get(p.id) ?? !asideOf(p);
const chosen = computed(() => parts.value.filter(isTaken));
const take = (id: number, is: boolean): void => {
  byHand.value = new Map([...byHand.value, [id, is]]);
};

// The verdict: every chosen part is checked in the side worker; a stale check is cancelled.
const verdicts = ref<ReadonlyMap<number, PartVerdict>>(new Map());
const looking = ref(false);
const stopper = new Stopper();
const latest = new Latest<readonly Part[]>(async (list) => {
  looking.value = true;
  try {
    const { parts: told } = await sideEngine().ask({ kind: 'verdict', parts: [...list], cancel: stopper.begin() });
    verdicts.value = new Map(told.map((v) => [v.part, v]));
  } catch (e) {
    if (!(e instanceof EngineError && e.code === 'cancelled')) notices.fail(e);
  } finally {
    looking.value = false;
  }
}, stopper.stop);
watch(
  chosen,
  (list, before) => {
    if (list.length === before?.length && list.every((p, i) => p === before[i])) return;
    verdicts.value = new Map();
    if (list.length) latest.request(list);
  },
  { immediate: true },
);
onBeforeUnmount(stopper.stop);

/** A part's verdict in words; empty when nothing is in the way. */
function inTheWay(v: PartVerdict): string {
  const list = v.findings.map((f) => `${f.count.toLocaleString('en')} × ${f.title.toLowerCase()}`);
  return [v.problem, list.join(', ')].filter(Boolean).join(' ');
}
const told = computed(() => chosen.value.flatMap((p) => verdicts.value.get(p.id) ?? []));
const bad = computed(() => told.value.filter((v) => inTheWay(v)));
const nameOf = (id: number): string => parts.value.find((p) => p.id === id)?.name ?? '';
const summary = computed(() => {
  if (!chosen.value.length) return 'No part is chosen.';
  if (looking.value || told.value.length < chosen.value.length) return 'Checking the chosen parts …';
  if (bad.value.length)
    return 'You can write them, but the next program may fail on them. Survey shows where, and offers mends.';
  const unseen = told.value.some((v) => !v.whole) ? ' Parts this large were not checked for crossings.' : '';
  return `${chosen.value.length === 1 ? 'Ready' : `All ${chosen.value.length} are ready`} to send: no open edges, crossings, slivers or broken normals.${unseen}`;
});

/** Goes to where a part is surveyed. */
function seeIn(part: number): void {
  store.select({ part });
  void router.push({ name: 'bench', params: { id: store.project!.id, stage: 'survey' } });
}

const walk = useWalk();
const busy = ref('');
async function run(words: string, job: () => Promise<void>): Promise<void> {
  if (busy.value) return;
  busy.value = words;
  try {
    await job();
  } catch (e) {
    notices.fail(e);
  } finally {
    busy.value = '';
  }
}

const name = computed(() =>
  fileName(chosen.value.length === 1 ? chosen.value[0]!.name : (store.project?.name ?? 'part')),
);
const write = (): Promise<void> =>
  run('Writing the file', async () => {
    const options = { format: format.value, unit: unit.value, up: up.value };
    const { file } = await sideEngine().ask({
      kind: 'export',
      parts: chosen.value,
      options,
      looks: store.project?.materials ?? [],
    });
    const title = `${name.value}.${extensionOf(format.value)}`;
    saveFile(title, file, EXPORT_FORMATS[format.value].type);
    walk.wrote();
    notices.say('said', `${title} is written: ${sizeWords(file.size)}.`);
  });
const writeProject = (): Promise<void> =>
  run('Packing the project', async () => {
    const { file } = await sideEngine().ask({ kind: 'writeProject', project: store.project! });
    const title = `${fileName(store.project!.name)}.mason.zip`;
    saveFile(title, file, 'application/zip');
    notices.say('said', `${title} is written: ${sizeWords(file.size)}.`);
  });
const sizeWords = (n: number): string => (n < 1e6 ? `${Math.ceil(n / 1000)} kB` : `${(n / 1e6).toFixed(1)} MB`);

useCommands([
  {
    ...named('dispatch'),
    when: () => chosen.value.length > 0 && !busy.value,
    run: () => void write(),
  },
  {
    ...named('dispatch-project'),
    when: () => !!store.project && !busy.value,
    run: () => void writeProject(),
  },
]);
</script>

<template>
  <header>
    <h2>Dispatch</h2>
    <p class="soft">Write parts to a file for the next program, the printer or the mill.</p>
  </header>
  <div class="verdict" :class="{ bad: bad.length }" role="status">
    <p>
      <strong v-if="bad.length">◇ Problems in {{ bad.length }} of {{ chosen.length }}.</strong>
      <strong v-else-if="told.length === chosen.length && told.length">◆</strong>
      {{ summary }}
    </p>
    <ul v-if="bad.length">
      <li v-for="v in bad" :key="v.part">
        <button class="small" @click="seeIn(v.part)">{{ nameOf(v.part) }}</button> {{ inTheWay(v) }}
      </li>
    </ul>
  </div>
  <section>
    <h3>File</h3>
    <InTurn>
      <div class="rows">
        <label for="format">Format</label>
        <Select
          v-model="format"
          input-id="format"
          aria-label="Format"
          :options="FORMATS"
          option-label="title"
          option-value="value"
          fluid
        />
        <span></span>
        <p class="soft">Carries {{ EXPORT_FORMATS[format].says }}.</p>
        <label for="file-unit">One unit is</label>
        <Select
          v-model="unit"
          input-id="file-unit"
          aria-label="One unit in the file is"
          :options="UNITS"
          :disabled="format === 'glb'"
          fluid
        />
        <label for="file-up">Up axis</label>
        <Select
          v-model="up"
          input-id="file-up"
          aria-label="Up axis"
          :options="UPS"
          option-label="title"
          option-value="value"
          :disabled="format === 'glb'"
          fluid
        />
      </div>
    </InTurn>
  </section>
  <section>
    <h3>Parts</h3>
    <p v-if="!parts.length" class="soft">The project has no parts yet.</p>
    <InTurn>
      <div v-for="p in parts" :key="p.id" class="part">
        <ToggleSwitch
          :input-id="`take-${p.id}`"
          :model-value="isTaken(p)"
          @update:model-value="(is: boolean) => take(p.id, is)"
        />
        <label :for="`take-${p.id}`">{{ p.name }}</label>
        <span v-if="asideOf(p)" class="soft">{{ asideOf(p) }}</span>
      </div>
    </InTurn>
  </section>
  <div class="acts">
    <button class="main" :disabled="!chosen.length || !!busy" @click="write">
      Write {{ name }}.{{ extensionOf(format) }}
    </button>
  </div>
  <p v-if="busy" role="status">{{ busy }} …</p>
  <section>
    <h3>Project file</h3>
    <p class="soft">Everything in one zip: parts, courses, imported meshes. Drop it on the Yard to open it anywhere.</p>
    <div class="acts">
      <button :disabled="!store.project || !!busy" @click="writeProject">Save a project file</button>
    </div>
  </section>
</template>

<style scoped>
.rows {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  gap: 7px 8px;
  align-items: center;
  margin-top: 6px;
}
.rows p {
  line-height: 1.25;
  font-size: 13px;
}
.rows label {
  color: var(--soft);
}
.verdict ul {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 4px;
}
.part {
  display: flex;
  align-items: center;
  gap: 10px;
  margin-top: 7px;
}
</style>
