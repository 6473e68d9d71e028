<script setup lang="ts">
import { computed, defineAsyncComponent, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { addCutOf, addPart, drawingCutters, viewFacing } from '@dusky-mason/core/courses';
import { MasonError, SaidError } from '@dusky-mason/core/mesh';
import CutPanel from '../cards/CutPanel.vue';
import { useCommands } from '../words/commands.ts';
import DropArea from '../components/DropArea.vue';
import FirstWalk from '../components/FirstWalk.vue';
import InTurn from '../components/InTurn.vue';
import LevelBar from '../components/LevelBar.vue';
import PanelEdge from '../components/PanelEdge.vue';
import TopRail from '../components/TopRail.vue';
import WallColumn from '../components/WallColumn.vue';
import { isPicture, PICTURE_ENDINGS, usePictures } from '../stores/pictures.ts';
import { importFile, OPENABLE, stopReading, titleOf, type ImportedDrawing } from '../stores/imports.ts';
import { useNotices } from '../stores/notices.ts';
import { usePanels } from '../stores/panels.ts';
import { useProject } from '../stores/project.ts';
import { useWalk } from '../stores/walk.ts';
import { STAGES } from '../words/stages.ts';
import { keepProject } from '../stores/storage.ts';
import ViewportPane from '../viewport/ViewportPane.vue';

// The bench opens on Cut: what the other stages need is fetched when one goes there.
const RackDialog = defineAsyncComponent(() => import('../components/RackDialog.vue'));
const SurveyPanel = defineAsyncComponent(() => import('../cards/SurveyPanel.vue'));
const DressPanel = defineAsyncComponent(() => import('../cards/DressPanel.vue'));
const DispatchPanel = defineAsyncComponent(() => import('../cards/DispatchPanel.vue'));

const store = useProject();
const notices = useNotices();
const pictures = usePictures();
const panels = usePanels();
const route = useRoute();
const router = useRouter();
const stage = computed(() => String(route.params.stage));
const stageTitle = computed(() => STAGES.find((s) => s.name === stage.value)?.title ?? '');
watch(
  () => [store.project?.name, stageTitle.value] as const,
  ([name, title]) => {
    if (name) document.title = `${name} · ${title} · Dusky Mason`;
  },
  { immediate: true },
);
const walk = useWalk();
watch(stage, (name) => (walk.stage = name), { immediate: true });
/** Folded panels take no room; those of a narrow page lie over the view. */
const columns = computed(() => {
  const { wall, card } = panels.shown;
  return panels.narrow ? {} : { gridTemplateColumns: `${wall}px minmax(0, 1fr) ${card}px` };
});
// What is picked on a narrow wall is looked at on the card.
watch(
  () => store.selection.course,
  (now) => {
    if (now !== null && panels.over === 'wall') panels.over = 'card';
  },
);
const toView = (): void => document.querySelector<HTMLElement>('canvas')?.focus();
const chooser = ref<HTMLInputElement>();
const reading = ref('');
/** How much of a file is read. */
const readShare = ref(0);
const panel = ref<HTMLElement>();
// Another card is read from its top; between two of a kind one stays at the setting that one looks at.
watch(
  () => `${stage.value} ${store.course?.kind}`,
  // With the frame, which lays the page out anyway.
  () => requestAnimationFrame(() => panel.value?.scrollTo(0, 0)),
  { flush: 'post' },
);

watch(
  () => String(route.params.id),
  async (id) => {
    try {
      if (await store.open(id)) return;
      notices.say('problem', 'That project is not in this browser. It may have been deleted, or made in another one.');
    } catch (e) {
      // A project that cannot be read whole can still be opened in part, saved to a file or deleted there.
      if (e instanceof MasonError) return void (await router.replace({ name: 'yard', query: { broken: id } }));
      notices.fail(e);
    }
    await router.replace('/yard');
  },
  { immediate: true },
);
/** The browser may end the page at any time once it is hidden. */
const onHidden = (): void => {
  if (document.visibilityState === 'hidden') void store.saveNow();
};
const onGone = (): void => void store.saveNow();
onMounted(() => {
  window.addEventListener('pagehide', onGone);
  document.addEventListener('visibilitychange', onHidden);
});
onBeforeUnmount(() => {
  window.removeEventListener('pagehide', onGone);
  document.removeEventListener('visibilitychange', onHidden);
  void store.close();
});

/**
 * The outlines of a drawing become the cutters of one cut, round the middle of the part; one unit of the drawing is one
 * mm, until they are scaled on the card.
 */
function cutWith({ title, outlines, warnings }: ImportedDrawing): void {
  const [part, middle] = [store.part, store.picture?.origin];
  if (!part || !middle) throw new SaidError('A drawing becomes cutters: pick a part first, then open it again.');
  const course = store.project!.nextId;
  store.change(`Open ${title}`, addCutOf(store.project!, part.id, drawingCutters(outlines, title, middle), title));
  store.select({ course, cutter: course + 1 });
  for (const w of warnings) notices.say('warning', `${title}: ${w}`);
}

/** A mesh file becomes a part of this project, a drawing cutters in it; a project file becomes a project beside it. */
async function take(files: readonly File[]): Promise<void> {
  for (const file of files) {
    reading.value = file.name;
    try {
      if (isPicture(file.name)) {
        await pinned(file);
        continue;
      }
      readShare.value = 0;
      const r = await importFile(file, { progress: (p) => (readShare.value = p.fraction) });
      if (r.kind === 'project') {
        const card = await keepProject(r.project);
        for (const w of r.warnings) notices.say('warning', `${file.name}: ${w}`);
        notices.say('said', `"${card.name}" is in the Yard now.`, {
          title: 'Open it',
          run: () => void router.push({ name: 'bench', params: { id: card.id, stage: 'cut' } }),
        });
      } else if (r.kind === 'drawing') cutWith(r);
      else {
        await store.loadMesh(r.hash);
        const p = addPart(store.project!, titleOf(r), r.shape);
        store.change(`Open ${file.name}`, p);
        store.select({ part: p.parts.at(-1)!.id });
        for (const w of r.warnings) notices.say('warning', `${file.name}: ${w}`);
      }
    } catch (e) {
      notices.fail(e);
    } finally {
      reading.value = '';
    }
  }
}
/** A picture is pinned behind the view that one looks from, or behind the front. */
async function pinned(file: File): Promise<void> {
  const view = store.viewNow();
  const way = view?.position.map((x, k) => x - view.target[k]!) ?? [0, -1, 0];
  const long = Math.hypot(...way) || 1;
  const side = viewFacing(way.map((x) => x / long) as [number, number, number], 0.99) ?? 'front';
  await pictures.pin(file, side);
  notices.say('said', `Pinned behind the ${side} view. Set its size and strength on the part’s card.`);
}

function chosen(): void {
  const files = [...(chooser.value?.files ?? [])];
  chooser.value!.value = '';
  void take(files);
}
useCommands([
  {
    id: 'part-import',
    title: 'Open a mesh as a part, a drawing as cutters, or a picture to trace',
    also: 'import file obj stl svg png',
    when: () => !store.readOnly,
    run: () => chooser.value?.click(),
  },
]);
</script>

<template>
  <DropArea label="Drop a mesh to open it as a part, a drawing to cut with it" @files="take">
    <div v-if="store.project" class="bench">
      <a class="skip" href="#view" @click.prevent="toView">Skip to the view</a>
      <TopRail />
      <main class="body" :class="{ narrow: panels.narrow }" :style="columns">
        <h1 class="unseen">{{ store.project.name }}, {{ stageTitle }}</h1>
        <WallColumn v-show="panels.isOpen('wall')" class="beside" :cutting="stage === 'cut'" />
        <div class="middle">
          <ViewportPane :cutting="stage === 'cut'" :dressing="stage === 'dress'" />
          <template v-if="!panels.narrow">
            <PanelEdge of="wall" label="Edge of the wall" />
            <PanelEdge of="card" label="Edge of the card" />
          </template>
        </div>
        <aside v-show="panels.isOpen('card')" ref="panel" class="panel" aria-label="Card" tabindex="0">
          <p v-if="reading" role="status">
            Reading {{ reading }} … {{ Math.round(100 * readShare) }} %
            <button class="small" @click="stopReading">Stop</button>
          </p>
          <FirstWalk />
          <InTurn :key="stage">
            <CutPanel v-if="stage === 'cut'" />
            <SurveyPanel v-else-if="stage === 'survey'" />
            <DressPanel v-else-if="stage === 'dress'" />
            <DispatchPanel v-else />
          </InTurn>
        </aside>
      </main>
      <LevelBar />
      <input
        ref="chooser"
        type="file"
        class="unseen"
        tabindex="-1"
        aria-label="Mesh or drawing to open"
        :accept="[...OPENABLE, ...PICTURE_ENDINGS].join(',')"
        @change="chosen"
      />
    </div>
    <RackDialog />
    <main v-if="!store.project" class="opening"><p role="status">Opening the project …</p></main>
  </DropArea>
</template>

<style scoped>
.bench {
  height: 100%;
  display: flex;
  flex-direction: column;
  overflow: hidden;
}
.body {
  flex: 1;
  min-height: 0;
  position: relative;
  display: grid;
}
.beside {
  grid-column: 1;
}
.middle {
  grid-column: 2;
  position: relative;
  min-width: 0;
  min-height: 0;
  display: grid;
}
.panel {
  grid-column: 3;
  /* What is hidden in it is placed in it, and does not make the page longer. */
  position: relative;
  overflow: auto;
  padding: 14px 14px 24px;
  display: flex;
  flex-direction: column;
  gap: 14px;
  border-left: 2px solid var(--joint);
}
.opening {
  height: 100%;
  display: grid;
  place-items: center;
}
.narrow .beside,
.narrow .panel {
  position: absolute;
  z-index: 3;
  top: 0;
  bottom: 0;
  width: min(300px, 86%);
  background: var(--panel);
}
.narrow .beside {
  left: 0;
}
.narrow .panel {
  right: 0;
}
.narrow .middle {
  grid-column: 1 / -1;
}
</style>
