<script setup lang="ts">
import Select from 'primevue/select';
import ToggleSwitch from 'primevue/toggleswitch';
import { computed, ref, watch } from 'vue';
import { EXPORT_FORMATS, exportDefaults, extensionOf, type ExportFormat, type UpAxis } from '@dusky-mason/core/formats';
import { LENGTH_UNITS, type LengthUnit } from '@dusky-mason/core/units';
import { useCommands } from '../components/commands.ts';
import { solidState } from '../components/counts.ts';
import { sideEngine } from '../engine/engine.ts';
import { fileName, saveFile } from '../stores/files.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';

const store = useProject();
const notices = useNotices();

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

/** Parts that are left out. */
const without = ref<Set<number>>(new Set());
const parts = computed(() => store.project?.parts ?? []);
const chosen = computed(() => parts.value.filter((p) => !without.value.has(p.id)));
function take(id: number, is: boolean): void {
  const next = new Set(without.value);
  if (is) next.delete(id);
  else next.add(id);
  without.value = next;
}

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
    const { bytes } = await sideEngine().ask({
      kind: 'export',
      parts: chosen.value,
      options,
      looks: store.project?.materials ?? [],
    });
    const file = `${name.value}.${extensionOf(format.value)}`;
    saveFile(file, bytes, EXPORT_FORMATS[format.value].type);
    notices.say('said', `${file} is written: ${sizeWords(bytes.length)}.`);
  });
const writeProject = (): Promise<void> =>
  run('Packing the project', async () => {
    const { bytes } = await sideEngine().ask({ kind: 'writeProject', project: store.project! });
    const file = `${fileName(store.project!.name)}.mason.zip`;
    saveFile(file, bytes, 'application/zip');
    notices.say('said', `${file} is written: ${sizeWords(bytes.length)}.`);
  });
const sizeWords = (n: number): string => (n < 1e6 ? `${Math.ceil(n / 1000)} kB` : `${(n / 1e6).toFixed(1)} MB`);

const state = computed(() => solidState(store.outcome?.counts ?? null));
useCommands([
  { id: 'dispatch', title: 'Write the chosen parts to a file', also: 'export download save obj glb stl', when: () => chosen.value.length > 0 && !busy.value, run: () => void write() },
  { id: 'dispatch-project', title: 'Save a project file', also: 'export download zip backup', when: () => !!store.project && !busy.value, run: () => void writeProject() },
]); // prettier-ignore
</script>

<template>
  <header>
    <h2>Dispatch</h2>
    <p class="soft">Write parts to a file for the next program, the printer or the mill.</p>
  </header>
  <p v-if="store.part && store.outcome" class="verdict" :class="{ bad: !state.sound }">
    <strong>{{ state.mark }} {{ store.part.name }}: {{ state.words.toLowerCase() }}.</strong>
    {{
      state.sound
        ? 'Fit to be sent.'
        : 'It can be written, but a receiver may refuse it. Survey says what is in the way.'
    }}
  </p>
  <section>
    <h3>File</h3>
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
  </section>
  <section>
    <h3>Parts</h3>
    <p v-if="!parts.length" class="soft">The project has no parts yet.</p>
    <div v-for="p in parts" :key="p.id" class="part">
      <ToggleSwitch
        :input-id="`take-${p.id}`"
        :model-value="!without.has(p.id)"
        @update:model-value="(is: boolean) => take(p.id, is)"
      />
      <label :for="`take-${p.id}`">{{ p.name }}</label>
    </div>
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
.part {
  display: flex;
  align-items: center;
  gap: 10px;
  margin-top: 7px;
}
</style>
