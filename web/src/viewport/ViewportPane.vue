<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { cutterName, setCutter } from '@dusky-mason/core/courses';
import { isTyping, useCommands } from '../words/commands.ts';
import { useCompany } from '../stores/company.ts';
import { cageChoice } from '../stores/cageChoice.ts';
import { heldOf } from '../stores/held.ts';
import { useNotices } from '../stores/notices.ts';
import { usePicks } from '../stores/picks.ts';
import { usePictures } from '../stores/pictures.ts';
import { usePreferences } from '../stores/preferences.ts';
import { useProject } from '../stores/project.ts';
import { shapes } from '../stores/shapes.ts';
import { useWipe } from '../stores/wipe.ts';
import { useTools } from '../tools/tools.ts';
import { AreaPick } from './areaPick.ts';
import { CutterLayer } from './cutterLayer.ts';
import { DragOnPart } from './dragOnPart.ts';
import { DrawOnPart, type Tag } from './drawOnPart.ts';
import { FaceSketches } from './faceSketches.ts';
import { FindingLayer } from './findingLayer.ts';
import { hasCard } from './graphicsCard.ts';
import { byTyped, Handles } from './handles.ts';
import { HANDLE_MODES } from '../tools/handleMath.ts';
import { prepareHandles } from './handleShapes.ts';
import { scaleDashes } from './lines.ts';
import { NUDGES, nudged, ORBITS, type Way } from './nudges.ts';
import { OthersLayer } from './othersLayer.ts';
import { PartLayer } from './partLayer.ts';
import { PickOnPart } from './pickOnPart.ts';
import { PickedLayer } from './pickedLayer.ts';
import { PictureLayer } from './pictureLayer.ts';
import { PlaceOnPart } from './placeOnPart.ts';
import { Pointer } from './pointer.ts';
import { Snapshot } from './snapshot.ts';
import { Stage, VIEWS, type ViewName } from './stage.ts';
import { SurfaceBelow } from './surfaceBelow.ts';
import { useSurveyInView } from './surveyInView.ts';
import ToolStrip from './ToolStrip.vue';
import WipeBar from './WipeBar.vue';
import { viewCommands } from './viewCommands.ts';
import { ViewHelps } from './viewHelps.ts';

/** Whether cutters and their tools are shown: on Cut they are, elsewhere the part stands alone. */
const props = defineProps<{ cutting: boolean; dressing?: boolean }>();

const store = useProject();
const tools = useTools();
const prefs = usePreferences();
const notices = useNotices();
const company = useCompany();
const wipe = useWipe();
const pictures = usePictures();
const chosen = usePicks();

const canvas = ref<HTMLCanvasElement>();
const frame = ref<HTMLElement>();
const label = shallowRef<{ text: string; x: number; y: number } | null>(null);
const failed = ref(false);
const unit = computed(() => store.project?.unit ?? 'mm');
const step = computed(() => prefs.now.step);

/** A tag nearer to the right edge than this stands to the left of its place, pixels. */
const TAG_ROOM = 260;

/** All that needs a renderer; null before there is one. */
let view: ReturnType<typeof open> | null = null;
const helps = shallowRef<ViewHelps | null>(null);
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

function open(on: HTMLCanvasElement) {
  const { smooth } = prefs.now;
  const card = hasCard();
  const stage = new Stage(on, smooth === 'always' || (smooth === 'card' && card), card);
  const part = new PartLayer();
  const before = new PartLayer();
  const after = new PartLayer();
  before.group.visible = after.group.visible = false;
  const cutters = new CutterLayer();
  const others = new OthersLayer();
  const behind = new PictureLayer();
  const surface = new SurfaceBelow();
  const handles = new Handles(stage, surface);
  const sketches = new FaceSketches(store);
  const placer = new PlaceOnPart(part, store, tools, notices, (x) => shapes.get(x));
  const drawer = new DrawOnPart(stage, part, sketches, store, tools, notices, () => step.value);
  const findings = new FindingLayer(stage);
  const picks = new PickedLayer();
  const areas = new AreaPick(stage, chosen);
  const picker = new PickOnPart(stage, part, sketches, tools, notices);
  const dragger = new DragOnPart(stage, part, store, tools, chosen, notices);
  const its = new ViewHelps(stage, [part, before], cutters, store);
  drawer.tag = picker.tag = dragger.tag = tag;
  placer.drawn = () => stage.redraw();
  stage.scene.add(behind.group, before.group, after.group, part.group, others.group, cutters.group, placer.ghost.group);
  stage.overlay.add(handles.group, drawer.layer.group, picker.group, dragger.group, findings.group, picks.group);
  const pointer = new Pointer({
    canvas: on,
    stage,
    part,
    cutters,
    others,
    handles,
    placer,
    drawer,
    picker,
    dragger,
    picks: chosen,
    areas,
    helps: its,
    store,
    tools,
    cutting: () => props.cutting,
    step: () => step.value,
    unit: () => unit.value,
    tag,
  });
  return {
    stage,
    part,
    before,
    after,
    cutters,
    others,
    behind,
    surface,
    handles,
    placer,
    drawer,
    picker,
    dragger,
    findings,
    picks,
    areas,
    helps: its,
    pointer,
    snapshot: new Snapshot(),
  };
}

function showPart(): void {
  if (!view) return;
  const { stage, part } = view;
  const id = store.selection.part;
  const fresh = id !== shownPart || !begun;
  if (fresh) keepCamera();
  part.wear(store.project?.materials ?? []);
  part.show(store.picture);
  stage.setReach(part.radius);
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
  const held = props.cutting || mine?.kind === 'mend' ? mine : null;
  const slides = held?.kind === 'cutter' && tools.handles === 'slide';
  if (slides && at && course) view.surface.want(at, course);
  view.handles.show(held?.placed ?? null, held && shapes.box(held.placed.shape), tools.handles, slides);
  helps.value?.apply();
  view.stage.redraw();
}

const showOthers = (): void => {
  view?.others.show(company.pictures);
  view?.behind.show(store.project?.pictures ?? [], pictures.images);
  view?.stage.redraw();
};

// Keyboard.
function onKey(e: KeyboardEvent): void {
  if (!view || e.ctrlKey || e.metaKey || isTyping(e)) return;
  const { stage, placer, picker, pointer } = view;
  if (tools.drawing && drawKey(e)) return e.preventDefault();
  if (tools.picking && !e.altKey && picker.key(e.key, e.shiftKey)) return e.preventDefault();
  if (tools.placing && e.key === 'Enter') pointer.placed(placer.onTop());
  else if (e.key === 'Enter' && chosen.on) pointer.clickMiddle(e);
  else if (tools.drawing && BEGINS_TYPING.test(e.key)) return;
  else if (e.key === '+' || e.key === '-') stage.zoom(e.key === '+' ? 1 / 1.2 : 1.2);
  else if (NUDGES[e.key] && props.cutting && store.cutter && !e.altKey) nudge(NUDGES[e.key]!, e.shiftKey ? 10 : 1);
  else if (ORBITS[e.key]) stage.orbit(...ORBITS[e.key]!);
  else return;
  e.preventDefault();
}

/** What begins a typed value: it goes to the field of the strip, with what follows. */
const BEGINS_TYPING = /^[\d.,+\-−Ø(]$/;

/** A key for what is going on, when the focus is not in the view. */
function actKey(e: KeyboardEvent): boolean {
  if (!view || !tools.drawing) return false;
  const field = tools.typedField;
  if (!field || !BEGINS_TYPING.test(e.key)) return view.drawer.key(e);
  // The key press itself is typed into what has the focus by then.
  field.focus();
  return false;
}

function drawKey(e: KeyboardEvent): boolean {
  const way = NUDGES[e.key];
  const { drawer } = view!;
  if (BEGINS_TYPING.test(e.key)) return false;
  if (e.key === 'Enter') drawer.enter();
  else if (way && !way[2] && !e.altKey) drawer.nudge(way[0] * (e.shiftKey ? 10 : 1), way[1] * (e.shiftKey ? 10 : 1));
  else return drawer.key(e);
  return true;
}

function nudge(way: Way, times: number): void {
  const c = store.cutter!;
  store.change(
    `Nudge ${cutterName(c)}`,
    setCutter(store.project!, store.selection.part!, store.selection.course!, nudged(c, way, step.value * times)),
  );
}

/** A typed value of the handles. */
function typeHandle(value: number): void {
  const held = heldOf(store);
  const box = held && shapes.box(held.placed.shape);
  if (!held || !box) return;
  const next = byTyped(held.placed, box, tools.handles, tools.axis, value, tools.aboutMiddle);
  store.change(`${HANDLE_MODES[tools.handles]} ${held.name}`, held.put(store.project!, next));
}

const look = (v: ViewName): void => view?.stage.fit(view.part.centre, view.part.radius, VIEWS[v].from);
const fit = (): void => view?.stage.fit(view.part.centre, view.part.radius);
const radius = (): number => view?.part.radius ?? 1;

function letGo(): void {
  if (view?.pointer.dragging) view.pointer.endDrag(false);
  else if (tools.drawing) view?.drawer.back();
  else if (tools.picking) view?.picker.back();
  else if (tools.placing || tools.dragging) tools.end();
  else if (chosen.on && chosen.count) chosen.clear();
  else if (chosen.on) chosen.mode(null);
  else store.select({ course: null, cutter: null });
}
const holds = () => tools.busy || chosen.on !== null || !!view?.pointer.dragging || store.selection.course !== null;
useCommands(viewCommands({ store, tools, cutting: () => props.cutting, radius, look, fit, letGo, holds }));
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
  const { stage, part, handles, drawer, pointer, snapshot, behind } = view;
  helps.value = view.helps;
  view.areas.drawn = (list) => (area.value = list.map((p) => `${p.x},${p.y}`).join(' '));
  tools.hand = drawer;
  tools.actKey = actKey;
  stage.beforeFrame = () => {
    handles.place();
    helps.value?.place(props.cutting && !tools.busy, unit.value);
    behind.place(stage.camera);
    view?.findings.place();
    for (const layer of [part, view!.before, view!.after]) scaleDashes(layer.group, stage.pixelAt(part.centre));
  };
  stage.sceneDrawn = () => snapshot.take(stage.renderer.getContext() as WebGL2RenderingContext, stage.frames);
  const layers = [part, view.before, view.after, view.others];
  stage.afterFrame = () => {
    if (layers.map((layer) => layer.step()).some(Boolean)) stage.redraw();
  };
  stage.controls.addEventListener('end', () => store.setCamera(stage.place()));
  store.setViewNow(() => stage.place());
  // Before the controls see it: a handle under the pointer goes first.
  canvas.value!.addEventListener('pointerdown', (e) => pointer.press(e), { capture: true });
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
  store.setThumbnail(null);
  store.setViewNow(null);
  tools.end();
  tools.hand = tools.actKey = null;
  if (!view) return;
  view.drawer.layer.show(null);
  view.picker.stop();
  view.dragger.stop();
  view.findings.show(null, null);
  view.picks.show(null);
  view.placer.stop();
  view.surface.release();
  view.cutters.show([], null, () => undefined);
  view.handles.show(null, null, 'slide');
  view.others.show(new Map());
  view.behind.show([], new Map());
  view.part.show(null);
  view.before.show(null);
  view.after.show(null);
  view.stage.dispose();
  view = null;
});

useSurveyInView(() => view);
watch(
  () => props.cutting,
  (is) => is && chosen.mode(null),
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
      cageChoice.value,
      tools.handles,
      props.cutting,
      props.dressing,
      store.outcome?.key,
      shapes.arrived.value,
    ] as const,
  () => {
    showCutters();
    view?.placer.again();
  },
);
watch(
  [() => !!tools.drawing, () => tools.placing, () => tools.picking?.wants, () => tools.dragging],
  ([drawing, placing, picking, dragging]) => {
    if (!drawing) view?.drawer.stop();
    if (!placing) view?.placer.stop();
    if (!picking) view?.picker.stop();
    if (!canvas.value) return;
    canvas.value.style.cursor = drawing || picking ? 'crosshair' : dragging ? 'grab' : '';
    if (drawing || placing || picking || dragging) canvas.value.focus();
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
      @pointercancel="view?.pointer.endDrag(false)"
      @keydown="onKey"
    ></canvas>
    <p v-if="failed" class="card">
      This browser shows no 3D picture (WebGL 2 is off). Courses, numbers and exports work all the same.
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
    <WipeBar v-if="wipe.on" />
    <div class="views" role="group" aria-label="Views">
      <button v-for="(v, name) in VIEWS" :key="name" @click="look(name)">{{ v.title }}</button>
      <button title="Fit the part into view (B)" @click="fit">Fit</button>
      <button
        v-if="(store.project?.parts.length ?? 0) > 1"
        :aria-pressed="company.shown"
        title="The other parts of the project beside this one, or this one alone (O)"
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
  display: flex;
  gap: 4px;
}
.views button {
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
