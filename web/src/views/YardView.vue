<script setup lang="ts">
import { FileInput, Plus, Settings } from '@lucide/vue';
import { onMounted, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { addPart, newProject, rescueProject, shortName } from '@dusky-mason/core/courses';
import { sentenceOf, SaidError } from '@dusky-mason/core/mesh';
import { skerryLight } from '@dusky-mason/core/demo';
import { useCommands } from '../words/commands.ts';
import DropArea from '../components/DropArea.vue';
import PreferencesDialog from '../components/PreferencesDialog.vue';
import { sideEngine } from '../engine/engine.ts';
import { readMeshBytes } from '../engine/meshShelf.ts';
import { fileName, saveFile } from '../stores/files.ts';
import { importFile, newId, OPENABLE, projectOf, stopReading } from '../stores/imports.ts';
import { useNotices } from '../stores/notices.ts';
import { useProject } from '../stores/project.ts';
import {
  deleteProject,
  keepProject,
  listProjects,
  openProject,
  rawDocument,
  sweepMeshes,
  type ProjectCard,
} from '../stores/storage.ts';
import { usePanels } from '../stores/panels.ts';

const router = useRouter();
const panels = usePanels();
const route = useRoute();
const notices = useNotices();
const cards = ref<ProjectCard[] | null>(null);
const busy = ref('');
/** How much of a file is read. */
const done = ref(0);
const preferences = ref(false);
const chooser = ref<HTMLInputElement>();

const reload = async (): Promise<void> => {
  // What was open just now is written first.
  await useProject().close();
  cards.value = await listProjects();
};
onMounted(() => void attempt(reload).then(sweepMeshes));

async function attempt(job: () => Promise<void>): Promise<void> {
  try {
    await job();
  } catch (e) {
    notices.fail(e);
  }
}

const open = (id: string): void => void router.push({ name: 'bench', params: { id, stage: 'cut' } });

const start = (): Promise<void> =>
  attempt(async () => open((await keepProject(addPart(newProject(newId(), 'New project'), 'Part 1'))).id));
const sample = (): Promise<void> =>
  attempt(async () => open((await keepProject({ ...skerryLight(), id: newId() })).id));

/** A part with all kinds of damage, to be healed. */
const casting = (): Promise<void> =>
  attempt(async () => {
    const r = await fetch('/samples/salvaged-casting.obj');
    if (!r.ok) throw new SaidError('The salvaged casting is missing. Build the page again.');
    await take([new File([await r.blob()], 'Salvaged casting.obj')]);
  });

/** A copy of what can be read of a project; the project stays as it is. */
const duplicate = (card: ProjectCard, title = `${card.name} copy`): Promise<void> =>
  attempt(async () => {
    const opened = await openProject(card.id).catch(() => null);
    const { project, left } = opened
      ? { project: opened.project, left: [] }
      : rescueProject(await rawDocument(card.id));
    const name = shortName(title);
    await keepProject({ ...project, id: newId(), name }, card.thumbnail);
    for (const sentence of left) notices.say('warning', sentence);
    await reload();
  });

const remove = (card: ProjectCard): Promise<void> =>
  attempt(async () => {
    const bringBack = await deleteProject(card.id);
    await reload();
    notices.say('said', `"${card.name}" is deleted.`, {
      title: 'Bring it back',
      run: () => void attempt(() => bringBack().then(reload)),
    });
  });

// A project that cannot be read whole: says why, and what can be done.
const broken = ref<{ card: ProjectCard; why: string; left: string[]; readable: boolean } | null>(null);
async function lookAtBroken(): Promise<void> {
  broken.value = null;
  const card = cards.value?.find((c) => c.id === route.query.broken);
  if (!card) return;
  const why = await openProject(card.id).then(
    () => '',
    (e: unknown) => sentenceOf(e),
  );
  if (!why) return;
  try {
    broken.value = { card, why, left: rescueProject(await rawDocument(card.id)).left, readable: true };
  } catch {
    broken.value = { card, why, left: [], readable: false };
  }
}
watch(() => [route.query.broken, cards.value], lookAtBroken);

const openRest = (card: ProjectCard): Promise<void> =>
  attempt(async () => {
    const { project } = rescueProject(await rawDocument(card.id));
    open((await keepProject({ ...project, id: newId(), name: shortName(`${card.name}, what can be read`) })).id);
  });

/** Offers a document as it lies as a project file, with the meshes that it names. */
const writeRaw = (card: ProjectCard): Promise<void> =>
  attempt(async () => {
    const document = await rawDocument(card.id);
    const hashes = new Set(
      JSON.stringify(document)
        .match(/"[0-9a-f]{8,64}"/g)
        ?.map((h) => h.slice(1, -1)),
    );
    const kept = await Promise.all([...hashes].map(async (hash) => ({ hash, bytes: await readMeshBytes(hash) })));
    const meshes = kept.flatMap(({ hash, bytes }) => (bytes ? [{ hash, bytes }] : []));
    const { file } = await sideEngine().ask({ kind: 'writeRaw', document, meshes });
    saveFile(`${fileName(card.name)}.zip`, file, 'application/zip');
  });

async function take(files: readonly File[]): Promise<void> {
  for (const file of files)
    await attempt(async () => {
      busy.value = file.name;
      done.value = 0;
      try {
        const r = await importFile(file, { progress: (p) => (done.value = p.fraction) });
        if (r.kind === 'drawing')
          throw new SaidError('A drawing becomes cutters. Open a project, pick a part, and drop it there.');
        const card = await keepProject(r.kind === 'project' ? r.project : projectOf(r));
        await reload();
        for (const w of r.warnings) notices.say('warning', `${file.name}: ${w}`);
        if (files.length === 1) open(card.id);
      } finally {
        busy.value = '';
      }
    });
}

function chosen(): void {
  const files = [...(chooser.value?.files ?? [])];
  chooser.value!.value = '';
  void take(files);
}

const when = (t: number): string => new Date(t).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' });

useCommands([
  { id: 'project-new', title: 'New project', run: () => void start() },
  {
    id: 'project-import',
    title: 'Open a mesh or project file',
    also: 'import obj stl zip',
    run: () => chooser.value?.click(),
  },
  { id: 'project-sample', title: 'Open the sample, Skerry Light', also: 'demo example', run: () => void sample() },
  {
    id: 'project-casting',
    title: 'Open the salvaged casting',
    also: 'demo example damaged heal repair',
    run: () => void casting(),
  },
  {
    id: 'preferences',
    title: 'Preferences',
    also: 'settings theme night light',
    run: () => {
      preferences.value = true;
    },
  },
]);
useCommands(() =>
  (cards.value ?? []).flatMap((c) => [
    { id: `open-${c.id}`, title: `Open ${c.name}`, run: () => open(c.id) },
    { id: `duplicate-${c.id}`, title: `Duplicate ${c.name}`, also: 'copy', run: () => void duplicate(c) },
    { id: `delete-${c.id}`, title: `Delete ${c.name}`, also: 'remove', run: () => void remove(c) },
  ]),
);
</script>

<template>
  <DropArea label="Drop to open it" @files="take">
    <main class="yard">
      <header>
        <img src="/mark.svg" alt="" width="40" height="40" />
        <div>
          <h1>Yard</h1>
          <p class="soft">Your projects, kept in this browser. Nothing leaves this machine.</p>
        </div>
        <div class="acts">
          <button class="main" @click="start"><Plus :size="16" aria-hidden="true" /> New project</button>
          <button @click="chooser?.click()"><FileInput :size="16" aria-hidden="true" /> Open a file</button>
          <button @click="panels.finder = true">Find a tool <kbd>Ctrl K</kbd></button>
          <button aria-label="Preferences" title="Preferences" @click="preferences = true">
            <Settings :size="16" />
          </button>
        </div>
        <input
          ref="chooser"
          type="file"
          class="unseen"
          tabindex="-1"
          aria-label="File to open"
          :accept="OPENABLE.join(',')"
          multiple
          @change="chosen"
        />
      </header>
      <p v-if="busy" role="status" class="soft reading">
        Reading {{ busy }} … {{ Math.round(100 * done) }} %
        <button class="small" @click="stopReading">Stop</button>
      </p>
      <section v-if="broken" class="broken" role="alert">
        <h2>"{{ broken.card.name }}" cannot be read whole</h2>
        <p>{{ broken.why }}</p>
        <ul v-if="broken.left.length">
          <li v-for="sentence in broken.left.slice(0, 6)" :key="sentence">{{ sentence }}</li>
          <li v-if="broken.left.length > 6">and {{ broken.left.length - 6 }} more.</li>
        </ul>
        <p class="soft">It stays here unchanged until you delete it.</p>
        <div class="acts">
          <button v-if="broken.readable" class="main" @click="openRest(broken.card)">Open a copy of the rest</button>
          <button @click="writeRaw(broken.card)">Write it to a file unchanged</button>
          <button @click="remove(broken.card)">Delete it</button>
        </div>
      </section>
      <ul v-if="cards?.length" class="cards">
        <li v-for="c in cards" :key="c.id">
          <button class="open" :aria-label="`Open ${c.name}`" @click="open(c.id)">
            <span class="picture">
              <img v-if="c.thumbnail" :src="c.thumbnail" alt="" />
              <span v-else>no picture yet</span>
            </span>
            <strong>{{ c.name }}</strong>
            <span class="soft">{{ c.parts.length ? c.parts.join(' · ') : 'no parts yet' }}</span>
            <span class="soft when">changed {{ when(c.changed) }}</span>
          </button>
          <div class="acts">
            <button :aria-label="`Duplicate ${c.name}`" @click="duplicate(c)">Duplicate</button>
            <button :aria-label="`Delete ${c.name}`" @click="remove(c)">Delete</button>
          </div>
        </li>
        <li class="slot">
          <p>Drop an OBJ, an STL or a project file anywhere here to open it.</p>
          <div class="acts">
            <button @click="sample">Open the sample, Skerry Light</button>
            <button title="A scan with all kinds of damage, to heal on Dress" @click="casting">
              Open the salvaged casting
            </button>
          </div>
        </li>
      </ul>
      <section v-else-if="cards" class="empty">
        <h2>No projects yet</h2>
        <p>
          A project holds parts. Each part is a base with courses laid on it: cutters that take away, add, or keep what
          is common. Every course stays open to change.
        </p>
        <p class="soft">Or drop an OBJ, an STL or a project file anywhere here.</p>
        <div class="acts">
          <button class="main" @click="sample">Open the sample, Skerry Light</button>
          <button @click="start">Begin with a plain block</button>
          <button title="A scan with all kinds of damage, to heal on Dress" @click="casting">
            Open the salvaged casting
          </button>
        </div>
      </section>
    </main>
    <PreferencesDialog v-model:open="preferences" />
  </DropArea>
</template>

<style scoped>
.yard {
  height: 100%;
  overflow: auto;
  padding: 28px clamp(20px, 5vw, 72px);
  display: flex;
  flex-direction: column;
  gap: 24px;
}
header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 16px;
  padding-bottom: 18px;
  border-bottom: 2px solid var(--joint);
}
header .acts {
  margin-left: auto;
}
.cards {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 18px;
}
.cards li {
  background: var(--block);
  border-bottom: 4px solid var(--joint);
}
.open {
  display: grid;
  width: 100%;
  padding: 0 0 10px;
  text-align: left;
  background: none;
  border: 0;
  cursor: pointer;
}
.open > :not(.picture) {
  padding: 0 14px;
}
.open:hover {
  background: var(--raised);
}
.open strong {
  font-size: 1.05rem;
  padding-top: 10px !important;
}
.picture {
  display: grid;
  place-items: center;
  aspect-ratio: 8 / 5;
  overflow: hidden;
  background: linear-gradient(var(--sky-high), var(--sky-low));
  color: var(--on-veil);
}
.picture img {
  width: 100%;
  display: block;
}
.when {
  font-size: 13px;
}
.cards .acts {
  padding: 0 14px 12px;
}
.broken {
  display: grid;
  gap: 10px;
  padding: 14px;
  background: var(--block);
  border-left: 4px solid var(--brick);
}
.broken ul {
  margin: 0;
  padding-left: 18px;
}
.empty {
  max-width: 560px;
  display: grid;
  gap: 12px;
}
.cards .slot {
  display: grid;
  align-content: center;
  gap: 12px;
  min-height: 200px;
  padding: 14px;
  background: none;
  border: 1px dashed var(--soft);
  color: var(--soft);
}
.cards .slot .acts {
  padding: 0;
}
kbd {
  font: 11px var(--numbers);
  margin-left: 6px;
}
</style>
