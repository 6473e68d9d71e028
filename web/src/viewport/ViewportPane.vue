<script setup lang="ts">
import type * as THREE from 'three';
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { useCommands } from '../words/commands.ts';
import { useCage } from '../stores/cage.ts';
import { useCompany } from '../stores/company.ts';
import { grippedOf } from '../stores/grips.ts';
import { heldOf } from '../stores/held.ts';
import { useNotices } from '../stores/notices.ts';
import { usePartHand } from '../stores/partHand.ts';
import { usePicks } from '../stores/picks.ts';
import { usePictures } from '../stores/pictures.ts';
import { usePreferences } from '../stores/preferences.ts';
import { useProject } from '../stores/project.ts';
import { useShapes } from '../stores/shapes.ts';
import { useWipe } from '../stores/wipe.ts';
import { HANDLE_MODES } from '../tools/handleMath.ts';
import { useTools } from '../tools/tools.ts';
import type { Tag } from './drawOnPart.ts';
import { hasCard } from './graphicsCard.ts';
import { byTyped } from './handles.ts';
import { prepareHandles } from './handleShapes.ts';
import { VIEWS, type ViewName } from './stage.ts';
import { useSurveyInView } from './surveyInView.ts';
import AxesMark from './AxesMark.vue';
import ToolStrip from './ToolStrip.vue';
import { View } from './view.ts';
import { viewCommands } from './viewCommands.ts';
import type { ViewHelps } from './viewHelps.ts';
import { ViewKeys } from './viewKeys.ts';
import WipeBar from './WipeBar.vue';

/** Whether cutters and their tools are shown: on Cut they are, elsewhere the part stands alone. */
const props = defineProps<{ cutting: boolean; dressing?: boolean }>();

const store = useProject();
const shapes = useShapes();
const cage = useCage();
const tools = useTools();
const prefs = usePreferences();
const company = useCompany();
const wipe = useWipe();
const pictures = usePictures();
const picks = usePicks();
const hand = usePartHand();

const canvas = ref<HTMLCanvasElement>();
const frame = ref<HTMLElement>();
const label = shallowRef<{ text: string; x: number; y: number } | null>(null);
const failed = ref(false);
const unit = computed(() => store.project?.unit ?? 'mm');
const habits = { cutting: () => props.cutting, step: () => prefs.now.step };
const stores = { store, tools, picks, notices: useNotices(), shapes };

/** A tag nearer to the right edge than this stands to the left of its place, pixels. */
const TAG_ROOM = 260;

/** What is told for a moment stays so long, ms. */
const READ_WITHIN = 2000;

/** Null before there is a renderer. */
let view: View | null = null;
const helps = shallowRef<ViewHelps | null>(null);
const keys = new ViewKeys(() => view, stores, habits);
/** The outline that is drawn to pick within. */
const area = ref('');
/** Where each part was last looked at from. */
const cameras = new Map<number, { position: number[]; target: number[] }>();
let shownPart: number | null = null;
let begun = false;
let resized: ResizeObserver | null = null;

function tag(t: Tag | null): void {
  label.value = t && t.text && view ? { text: t.text, ...view.stage.onCanvas(t.at) } : null;
}

let fading: ReturnType<typeof setTimeout> | undefined;
/** Shows a text for long enough to be read. */
function flash(text: string, at: { x: number; y: number }): void {
  clearTimeout(fading);
  const shown = (label.value = { text, ...at });
  fading = setTimeout(() => {
    if (label.value === shown) label.value = null;
  }, READ_WITHIN);
}

const axes = shallowRef<[number, number, number][]>([]);
/** Frames in which the camera did not turn change nothing on the page. */
function turned(now: [number, number, number][]): void {
  if (now.flat().some((x, i) => x !== axes.value.flat()[i])) axes.value = now;
}

function open(on: HTMLCanvasElement): View {
  const { smooth } = prefs.now;
  const card = hasCard();
  const smoothed = smooth === 'always' || (smooth === 'card' && card);
  return new View(on, stores, { ...habits, smooth: smoothed, card, unit: () => unit.value, tag, flash, axes: turned });
}

function showPart(): void {
  if (!view) return;
  const { stage, part } = view;
  const id = store.selection.part;
  const fresh = id !== shownPart || !begun;
  if (fresh) keepCamera();
  part.wear(store.project?.materials ?? []);
  part.show(store.picture);
  stage.setReach(view.extent().radius);
  if (fresh && (store.picture || id === null)) {
    const kept = (id !== null && cameras.get(id)) || (begun ? undefined : store.cameraKept());
    shownPart = id;
    begun = true;
    if (kept) stage.look(kept.position, kept.target);
    else stage.fit(part.centre, part.radius, VIEWS.corner.from);
  }
  showCutters();
}

function keepCamera(): void {
  if (view && shownPart !== null) cameras.set(shownPart, view.stage.place());
}

function showCutters(): void {
  if (!view) return;
  const { course, part: at } = store;
  const list = props.cutting && course?.kind === 'cut' ? course.params.cutters : [];
  view.cutters.show(list, store.selection.cutter, (s) => shapes.get(s));
  // Before the part is seen, the camera does not stand where it will.
  const ready =
    (props.cutting || props.dressing) && shownPart === store.selection.part && !tools.busy && !store.readOnly;
  const mine = ready ? heldOf(store) : null;
  const held = props.cutting || mine?.kind === 'stroke' ? mine : null;
  const slides = held?.kind === 'cutter' && tools.handles === 'slide';
  if (slides && at && course) view.surface.want(at, course);
  const mode = held?.kind === 'part' ? 'slide' : tools.handles;
  view.handles.show(held?.placed ?? null, held && shapes.box(held.placed.shape), mode, slides);
  // While one is dragged it stands where the pointer has it.
  if (!view.pointer.busy) view.grips.show(props.dressing && ready ? grippedOf(store) : null);
  helps.value?.apply();
  view.stage.redraw();
}

const showOthers = (): void => {
  view?.others.show(company.pictures);
  view?.stage.setReach(view.extent().radius);
  view?.behind.show(store.project?.pictures ?? [], pictures.images);
  view?.stage.redraw();
};

/** A typed value of the handles. */
function typeHandle(value: number): void {
  const held = heldOf(store);
  const box = held && shapes.box(held.placed.shape);
  if (!held || !box) return;
  const next = byTyped(held.placed, box, tools.handles, tools.axis, value, tools.aboutMiddle);
  store.change(`${HANDLE_MODES[tools.handles]} ${held.name}`, held.put(store.project!, next));
}

function fitted(ball: { centre: THREE.Vector3; radius: number } | null | undefined, from?: readonly number[]): void {
  if (view && ball) view.stage.fit(ball.centre, ball.radius, from);
}
const look = (v: ViewName): void => fitted(view?.extent(), VIEWS[v].from);
const fit = (): void => fitted(view?.extent());
const close = (): void => fitted(view?.pickedExtent());
const radius = (): number => view?.part.radius ?? 1;

function letGo(): void {
  if (view?.pointer.busy) view.pointer.cancel();
  else if (tools.drawing) view?.drawer.back();
  else if (tools.picking) view?.picker.back();
  else if (tools.placing || tools.dragging) tools.end();
  else if (picks.on && picks.count) picks.clear();
  else if (picks.on) picks.mode(null);
  else if (hand.on) hand.on = false;
  else store.select({ course: null, cutter: null });
}
const holds = () =>
  tools.busy || picks.on !== null || hand.on || !!view?.pointer.busy || store.selection.course !== null;
useCommands(
  viewCommands({ store, tools, picks, hand, cutting: habits.cutting, radius, look, fit, close, letGo, holds }),
);
useCommands(() => helps.value?.commands() ?? []);
useCommands([
  {
    id: 'wipe',
    title: 'Before and after: wipe across the view',
    also: 'compare difference side by side',
    keys: 'W',
    when: () => (store.part?.courses.length ?? 0) > 1,
    run: () => wipe.toggle(),
  },
]);

onMounted(() => {
  try {
    view = open(canvas.value!);
  } catch {
    failed.value = true;
    return;
  }
  const { stage, drawer, snapshot } = view;
  helps.value = view.helps;
  view.areas.drawn = (list) => (area.value = list.map((p) => `${p.x},${p.y}`).join(' '));
  tools.hand = drawer;
  tools.actKey = (e) => keys.elsewhere(e);
  stage.controls.addEventListener('end', () => store.setCamera(stage.place()));
  store.setViewNow(() => stage.place());
  resized = new ResizeObserver(() => stage.resize(frame.value!.clientWidth, frame.value!.clientHeight));
  resized.observe(frame.value!);
  stage.resize(frame.value!.clientWidth, frame.value!.clientHeight);
  stage.habits(prefs.now.pointer);
  store.setThumbnail(() => snapshot.address());
  showPart();
  showOthers();
  setTimeout(prepareHandles);
});

onBeforeUnmount(() => {
  resized?.disconnect();
  clearTimeout(fading);
  store.setThumbnail(null);
  store.setViewNow(null);
  tools.end();
  tools.hand = tools.actKey = null;
  view?.dispose();
  view = null;
});

useSurveyInView(() => view);
watch(
  () => props.cutting,
  (is) => is && picks.mode(null),
);
// What was begun on one part, or on one stage, is not gone on with on another.
watch([() => store.selection.part, () => props.cutting, () => props.dressing], () => tools.end(), { flush: 'sync' });
watch(() => store.picture, showPart);
watch(() => [company.pictures, pictures.images, store.project?.pictures] as const, showOthers);
watch(
  () => prefs.now.pointer,
  (p) => view?.stage.habits(p),
  { deep: true },
);
watch(
  () => store.project?.materials,
  (looks) => {
    view?.part.wear(looks ?? []);
    view?.stage.redraw();
  },
);
watch(
  () => store.fits,
  () => view?.stage.redraw(),
);
watch(
  () =>
    [
      store.selection.course,
      store.selection.cutter,
      store.course,
      cage.choice,
      tools.handles,
      props.cutting,
      props.dressing,
      store.outcome?.key,
      shapes.arrived,
      hand.on,
    ] as const,
  () => {
    showCutters();
    view?.placer.again();
  },
);
watch(
  [() => !!tools.drawing, () => tools.placing, () => tools.picking?.wants, () => tools.dragging],
  ([drawing, placing, picking, dragging]) => {
    view?.follow({ drawing, placing, picking: !!picking, dragging: !!dragging });
    showCutters();
  },
);
watch(
  () => [tools.grid, tools.stamping] as const,
  () => {
    if (tools.drawing) view?.drawer.refresh();
    view?.placer.again();
  },
  { deep: true },
);
</script>

<template>
  <section ref="frame" class="viewport" aria-label="View of the part">
    <canvas
      ref="canvas"
      tabindex="0"
      role="application"
      :aria-label="`${store.part?.name ?? 'No part'}. Arrow keys turn the view, or nudge the picked cutter; plus and minus zoom.`"
      @pointermove="view?.pointer.move($event)"
      @pointerup="view?.pointer.release($event)"
      @pointercancel="view?.pointer.cancel()"
      @keydown="keys.key($event)"
    ></canvas>
    <p v-if="failed" class="card">
      This browser cannot draw the part (WebGL 2 is off). Courses, numbers and exports still work.
    </p>
    <div
      v-if="label"
      class="tag number"
      :class="{ left: label.x > canvas!.clientWidth - TAG_ROOM }"
      :style="{ left: `${label.x}px`, top: `${label.y}px` }"
      role="status"
    >
      {{ label.text }}
    </div>

    <div
      v-for="n in helps?.notes.value ?? []"
      :key="n.text"
      class="tag note number"
      :style="{ left: `${n.x}px`, top: `${n.y}px` }"
      aria-hidden="true"
    >
      ▲ {{ n.text }}
    </div>

    <svg v-if="area" class="area" aria-hidden="true"><polygon :points="area" /></svg>
    <AxesMark :axes="axes" />
    <WipeBar v-if="wipe.on" />
    <div class="views" role="group" aria-label="Views">
      <button v-for="(v, name) in VIEWS" :key="name" @click="look(name)">{{ v.title }}</button>
      <button title="Fit the part into view (B)" @click="fit">Fit</button>
      <button
        v-if="(store.project?.parts.length ?? 0) > 1"
        :aria-pressed="company.shown"
        title="Shows the other parts of the project, or this one alone (O)"
        @click="company.shown = !company.shown"
      >
        Others
      </button>
    </div>

    <ToolStrip
      :cutting="cutting"
      :dressing="dressing"
      @draw="tools.draw(undefined, radius(), 'cut')"
      @typed="typeHandle"
    />
  </section>
</template>

<style scoped>
.viewport {
  position: relative;
  overflow: hidden;
  min-width: 0;
  background: linear-gradient(var(--sky-high), var(--sky-low));
}
canvas {
  display: block;
  width: 100%;
  height: 100%;
  touch-action: none;
}
canvas:focus-visible {
  outline: 2px solid var(--on-veil);
  outline-offset: -4px;
}
.card {
  position: absolute;
  inset: 40% 10% auto;
  padding: 12px;
  background: var(--panel);
}
.tag {
  position: absolute;
  transform: translate(14px, -50%);
  padding: 2px 8px;
  background: var(--veil);
  color: var(--on-veil);
  white-space: nowrap;
  pointer-events: none;
}
.tag.note {
  border-left: 3px solid var(--ochre);
}
.tag.left {
  transform: translate(calc(-100% - 14px), -50%);
}
.area {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}
.area polygon {
  fill: rgb(79 179 168 / 12%);
  stroke: #4fb3a8;
  stroke-width: 1.5;
  stroke-dasharray: 5 3;
}
.views {
  position: absolute;
  right: 12px;
  top: 12px;
  left: 84px;
  display: flex;
  flex-wrap: wrap;
  justify-content: end;
  gap: 4px;
  pointer-events: none;
}
.views button {
  pointer-events: auto;
  min-height: 30px;
  padding: 0 10px;
  border: 1px solid var(--joint);
  background: var(--panel);
  cursor: pointer;
}
.views [aria-pressed='true'] {
  background: var(--block);
  box-shadow: inset 0 -3px var(--verdigris);
}
.views button:hover {
  background: var(--raised);
}
</style>
