<script setup lang="ts">
import * as THREE from 'three';
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { setCutter, DRAWN_TITLES, type Cutter, type DrawnKind, type Project } from '@dusky-mason/core/courses';
import { isTyping, useCommands } from '../components/commands.ts';
import { useNotices } from '../stores/notices.ts';
import { usePreferences } from '../stores/preferences.ts';
import { useProject } from '../stores/project.ts';
import { useTools } from '../tools/tools.ts';
import { CutterLayer } from './cutterLayer.ts';
import { DrawOnPart } from './drawOnPart.ts';
import { HANDLE_MODES, Handles, type HandleMode } from './handles.ts';
import { scaleDashes } from './lines.ts';
import { NUDGES, nudged, ORBITS, type Way } from './nudges.ts';
import { PartLayer, type PartHit } from './partLayer.ts';
import { ShapePictures } from './shapePictures.ts';
import ToolStrip from './ToolStrip.vue';
import { PlaceOnPart } from './placeOnPart.ts';
import { Snapshot } from './snapshot.ts';
import { Stage, VIEWS, type ViewName } from './stage.ts';
import { ViewHelps } from './viewHelps.ts';

/** Whether cutters and their tools are shown: on Cut they are, elsewhere the part stands alone. */
const props = defineProps<{ cutting: boolean }>();

const store = useProject();
const tools = useTools();
const prefs = usePreferences();
const notices = useNotices();

const canvas = ref<HTMLCanvasElement>();
const frame = ref<HTMLElement>();
const label = shallowRef<{ text: string; x: number; y: number } | null>(null);
const failed = ref(false);
const unit = computed(() => store.project?.unit ?? 'mm');
const step = computed(() => prefs.now.step);

/** A tag nearer to the right edge than this stands to the left of its place, pixels. */
const TAG_ROOM = 260;
/** A pointer that moved less than this between down and up was a click, pixels. */
const CLICK = 4;

let stage: Stage | null = null;
const part = new PartLayer();
const cutters = new CutterLayer();
let handles: Handles | null = null;
let placer: PlaceOnPart | null = null;
let drawer: DrawOnPart | null = null;
const helps = shallowRef<ViewHelps | null>(null);
const snapshot = new Snapshot();
const shapes = new ShapePictures(
  () => {
    showCutters();
    placer?.again();
  },
  (e) => notices.fail(e),
);
/** Where each part was last looked at from. */
const cameras = new Map<number, { position: number[]; target: number[] }>();
let shownPart: number | null = null;
let resized: ResizeObserver | null = null;

function showPart(): void {
  if (!stage) return;
  const id = store.selection.part;
  const fresh = id !== shownPart;
  if (fresh) keepCamera();
  // What was begun on one part is not gone on with on another.
  if (fresh && tools.drawing) tools.end();
  part.show(store.picture);
  if (store.picture) {
    stage.setReach(part.radius);
    if (fresh) {
      const kept = (id !== null && cameras.get(id)) || (shownPart === null ? store.cameraKept() : undefined);
      shownPart = id;
      if (kept) stage.look(kept.position, kept.target);
      else stage.fit(part.centre, part.radius, VIEWS.corner.from);
    }
  }
  showCutters();
}

function keepCamera(): void {
  if (stage && shownPart !== null) cameras.set(shownPart, stage.place());
}

function showCutters(): void {
  if (!stage) return;
  const course = store.course;
  const list = props.cutting && course?.kind === 'cut' ? course.params.cutters : [];
  cutters.show(list, store.selection.cutter, (s) => shapes.get(s));
  // Before the part is seen, the camera does not stand where it will.
  const busy = tools.placing || tools.drawing;
  const ready = props.cutting && shownPart === store.selection.part && !busy && !store.readOnly;
  const picked = ready ? (store.cutter ?? null) : null;
  handles?.show(picked, picked && shapes.box(picked.shape), tools.handles);
  helps.value?.apply();
  stage.redraw();
}

// The pointer: a handle is dragged, the view is orbited, a click picks or places.
let down: { x: number; y: number } | null = null;
let drag: ReturnType<Handles['grab']> = null;
let dragged: Cutter | null = null;
let dragFrom: Project | null = null;

const at = (e: PointerEvent) => {
  const r = canvas.value!.getBoundingClientRect();
  return { x: e.clientX - r.left, y: e.clientY - r.top };
};

function onDown(e: PointerEvent): void {
  if (!stage || e.button !== 0) return;
  const p = at(e);
  down = p;
  if (tools.drawing) return drawDown(e, p);
  if (tools.placing || !handles) return;
  drag = handles.grab(stage.ray(p.x, p.y), unit.value);
  if (!drag) return;
  e.stopImmediatePropagation();
  stage.controls.enabled = false;
  canvas.value!.setPointerCapture(e.pointerId);
  dragFrom = store.project;
  dragged = null;
}

/** While an outline is drawn: what the press was. The first place is taken at once, so that one may drag to the second. */
let pressed: 'first' | 'next' | null = null;
function drawDown(e: PointerEvent, p: { x: number; y: number }): void {
  const ray = stage!.ray(p.x, p.y);
  drawer?.move(ray);
  // Empty ground turns the view.
  if (!tools.drawing?.plane || !tools.drawing.hover) return;
  pressed = tools.drawing.points.length ? 'next' : 'first';
  e.stopImmediatePropagation();
  stage!.controls.enabled = false;
  canvas.value!.setPointerCapture(e.pointerId);
  canvas.value!.focus();
  if (pressed === 'first') drawer?.click(ray);
}

function onMove(e: PointerEvent): void {
  if (!stage) return;
  const p = at(e);
  const ray = stage.ray(p.x, p.y);
  if (drag) return follow(ray, e.shiftKey ? step.value : null);
  if (tools.drawing && (pressed || !e.buttons)) return pressed ? drawer?.drag(ray) : drawer?.move(ray);
  if (e.buttons) return;
  if (tools.placing) canvas.value!.style.cursor = placer?.hover(ray) ? 'crosshair' : 'not-allowed';
  else canvas.value!.style.cursor = handles?.hover(ray) ? 'grab' : '';
}

function follow(ray: THREE.Ray, snap: number | null): void {
  const d = drag!(ray, snap);
  if (!d || !dragFrom) return;
  dragged = d.cutter;
  store.preview(setCutter(dragFrom, store.selection.part!, store.selection.course!, d.cutter));
  const c = stage!.onCanvas(d.at);
  label.value = { text: d.label, ...c };
}

function onUp(e: PointerEvent): void {
  if (!stage || !down) return;
  const p = at(e);
  const still = Math.hypot(p.x - down.x, p.y - down.y) < CLICK;
  down = null;
  if (drag) {
    endDrag(true);
    return;
  }
  if (pressed) {
    stage.controls.enabled = true;
    if (pressed === 'next' || !still) drawer?.letGo(stage.ray(p.x, p.y));
    pressed = null;
    return;
  }
  if (tools.drawing) return;
  if (still) click(stage.ray(p.x, p.y));
}

function endDrag(keep: boolean): void {
  const c = dragged;
  drag = null;
  dragged = null;
  label.value = null;
  if (stage) stage.controls.enabled = true;
  if (keep && c && dragFrom) {
    const words = { slide: 'Slide', turn: 'Turn', resize: 'Resize' }[tools.handles];
    store.change(`${words} ${c.name || 'cutter'}`, setCutter(dragFrom, store.selection.part!, store.selection.course!, c)); // prettier-ignore
  } else store.dropPreview();
  dragFrom = null;
}

/** What one may look straight at, or seat a cutter on. */
function noteFace({ direction }: THREE.Ray, hit: PartHit): void {
  const normal = hit.normal.clone().multiplyScalar(-Math.sign(hit.normal.dot(direction)) || 1).normalize(); // prettier-ignore
  if (helps.value) helps.value.normal = normal;
  tools.face = { part: store.selection.part!, point: hit.point.toArray(), normal: normal.toArray() };
}

function click(ray: THREE.Ray): void {
  const onPart = part.hit(ray);
  if (onPart) noteFace(ray, onPart);
  if (tools.placing) return placed(placer?.click(ray) ?? false);
  const onCutter = props.cutting ? cutters.hit(ray) : null;
  if (onCutter && onCutter.cutter !== store.selection.cutter) return store.select({ cutter: onCutter.cutter });
  if (onCutter && (!onPart || onCutter.distance < onPart.distance)) return;
  store.select({ course: onPart?.course ?? null });
}

/** After a cutter was placed the keys are the view's again. */
const placed = (done: boolean): void => void (done && canvas.value?.focus());

// Keyboard.
function onKey(e: KeyboardEvent): void {
  if (!stage || e.ctrlKey || e.metaKey || isTyping(e)) return;
  if (tools.drawing && drawKey(e)) return e.preventDefault();
  if (tools.placing && e.key === 'Enter') placed(placer?.onTop() ?? false);
  else if (e.key === '+' || e.key === '-') stage.zoom(e.key === '+' ? 1 / 1.2 : 1.2);
  else if (NUDGES[e.key] && props.cutting && store.cutter && !e.altKey) nudge(NUDGES[e.key]!, e.shiftKey ? 10 : 1);
  else if (ORBITS[e.key]) stage.orbit(...ORBITS[e.key]!);
  else return;
  e.preventDefault();
}

function drawKey(e: KeyboardEvent): boolean {
  const way = NUDGES[e.key];
  if (e.key === 'Enter') drawer?.enter();
  else if (way && !way[2] && !e.altKey) drawer?.nudge(way[0] * (e.shiftKey ? 10 : 1), way[1] * (e.shiftKey ? 10 : 1));
  else return drawer?.key(e) ?? false;
  return true;
}

function nudge(way: Way, times: number): void {
  const c = store.cutter!;
  store.change(`Nudge ${c.name || 'cutter'}`, setCutter(store.project!, store.selection.part!, store.selection.course!, nudged(c, way, step.value * times))); // prettier-ignore
}

const look = (v: ViewName): void => stage?.fit(part.centre, part.radius, VIEWS[v].from);
const fit = (): void => stage?.fit(part.centre, part.radius);
let viewAt = 0;
function nextView(): void {
  const names = Object.keys(VIEWS) as ViewName[];
  look(names[viewAt++ % names.length]!);
}

const cutNow = () => props.cutting && !!store.part && !store.readOnly;
const modes = Object.keys(HANDLE_MODES) as HandleMode[];
useCommands([
  { id: 'place', title: 'Place a cutter', also: 'new cut hole subtract add carve draw drill', keys: 'C', when: cutNow, run: () => tools.begin() },
  { id: 'draw', title: 'Draw on the part', also: 'sketch outline rectangle circle cut hole pull extrude', keys: 'D', when: cutNow, run: () => tools.draw(undefined, part.radius) },
  ...(Object.keys(DRAWN_TITLES) as DrawnKind[]).map((k) => ({ id: `draw-${k}`, title: `Draw: ${DRAWN_TITLES[k].toLowerCase()}`, when: cutNow, run: () => tools.draw(k, part.radius) })),
  { id: 'next-handles', title: 'Next set of handles', also: 'slide turn resize move rotate scale', keys: 'M', when: () => cutNow() && !!store.cutter, run: () => (tools.handles = modes[(modes.indexOf(tools.handles) + 1) % modes.length]!) },
  ...modes.map((m) => ({ id: `handles-${m}`, title: `Handles: ${HANDLE_MODES[m]}`, also: { slide: 'move', turn: 'rotate', resize: 'scale size' }[m], when: () => cutNow() && !!store.cutter, run: () => { tools.handles = m; } })),
  { id: 'fit', title: 'Fit the part into view', also: 'frame zoom all', keys: 'B', when: () => !!store.picture, run: fit },
  { id: 'next-view', title: 'Next straight-on view', also: 'front side top', keys: 'V', when: () => !!store.picture, run: nextView },
  ...(Object.keys(VIEWS) as ViewName[]).map((v) => ({ id: `view-${v}`, title: `Look from: ${VIEWS[v].title}`, when: () => !!store.picture, run: () => look(v) })),
  { id: 'drop', title: 'Let go of what is picked', also: 'deselect cancel', keys: 'Escape', when: () => tools.placing || !!tools.drawing || !!drag || store.selection.course !== null, run: letGo },
]); // prettier-ignore

useCommands(() => helps.value?.commands() ?? []);

function letGo(): void {
  if (drag) endDrag(false);
  else if (tools.drawing) drawer?.back();
  else if (tools.placing) tools.end();
  else store.select({ course: null, cutter: null });
}

onMounted(() => {
  try {
    stage = new Stage(canvas.value!);
  } catch {
    failed.value = true;
    return;
  }
  handles = new Handles(stage);
  placer = new PlaceOnPart(part, store, tools, notices, (x) => shapes.get(x));
  stage.scene.add(part.group, cutters.group, placer.ghost.group);
  placer.drawn = () => stage?.redraw();
  drawer = new DrawOnPart(stage, part, store, tools, notices, () => step.value);
  drawer.tag = (t) => (label.value = t && t.text ? { text: t.text, ...stage!.onCanvas(t.at) } : null);
  tools.hand = drawer;
  stage.overlay.add(handles.group, drawer.layer.group);
  stage.beforeFrame = () => {
    handles?.place();
    helps.value?.place(props.cutting && !tools.drawing && !tools.placing, unit.value);
    scaleDashes(part.group, stage!.pixelAt(part.centre));
  };
  stage.sceneDrawn = () => snapshot.take(canvas.value!);
  helps.value = new ViewHelps(stage, part, cutters, store);
  stage.controls.addEventListener('end', () => store.setCamera(stage!.place()));
  store.setViewNow(() => stage?.place());
  // Before the controls see it: a handle under the pointer goes first.
  canvas.value!.addEventListener('pointerdown', onDown, { capture: true });
  resized = new ResizeObserver(() => stage?.resize(frame.value!.clientWidth, frame.value!.clientHeight));
  resized.observe(frame.value!);
  stage.resize(frame.value!.clientWidth, frame.value!.clientHeight);
  store.setThumbnail(() => snapshot.address());
  showPart();
});

onBeforeUnmount(() => {
  resized?.disconnect();
  store.setThumbnail(null);
  store.setViewNow(null);
  tools.end();
  tools.hand = null;
  drawer?.layer.show(null);
  placer?.stop();
  cutters.show([], null, () => undefined);
  handles?.show(null, null, 'slide');
  part.show(null);
  stage?.dispose();
  stage = null;
});

watch(() => store.picture, showPart);
watch(
  () => store.fits,
  () => stage?.redraw(),
);
watch(
  () => [store.selection.course, store.selection.cutter, store.course, tools.handles, props.cutting] as const,
  showCutters,
);
watch(
  () => !!tools.drawing,
  (is) => {
    if (is) canvas.value?.focus();
    else drawer?.stop();
    if (canvas.value) canvas.value.style.cursor = is ? 'crosshair' : '';
    showCutters();
  },
);
watch(
  () => tools.grid,
  () => drawer?.refresh(),
);
watch(
  () => tools.placing,
  (is) => {
    if (!is) placer?.stop();
    if (canvas.value) canvas.value.style.cursor = '';
    if (is) canvas.value?.focus();
    showCutters();
  },
);
</script>

<template>
  <section ref="frame" class="viewport" aria-label="View of the part">
    <canvas
      ref="canvas"
      tabindex="0"
      role="application"
      :aria-label="`${store.part?.name ?? 'No part'}. Arrow keys turn the view, or nudge the picked cutter; plus and minus zoom.`"
      @pointermove="onMove"
      @pointerup="onUp"
      @pointercancel="endDrag(false)"
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

    <div class="views" role="group" aria-label="Views">
      <button v-for="(v, name) in VIEWS" :key="name" @click="look(name)">{{ v.title }}</button>
      <button title="Fit the part into view (B)" @click="fit">Fit</button>
    </div>

    <ToolStrip :cutting="cutting" @draw="tools.draw(undefined, part.radius)" />
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
.views button:hover {
  background: var(--raised);
}
</style>
