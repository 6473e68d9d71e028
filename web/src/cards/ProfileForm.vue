<script setup lang="ts">
import { X } from '@lucide/vue';
import { computed, ref } from 'vue';

/**
 * A profile that is drawn from one side of the strip to its middle: points in percent, how far along and how far out.
 * The other half is its mirror image.
 */
type Point = [along: number, out: number];
const props = defineProps<{ points: readonly Point[]; disabled: boolean }>();
const emit = defineEmits<{ change: [points: Point[]]; preview: [points: Point[]] }>();

/** Points between both ends; more cannot be told apart in the picture. */
const MOST_POINTS = 8;
/** The picture: both sides of the strip meet above the middle, where its tangents do. */
const WIDE = 220;
const RISE = WIDE / 2;
const FLOOR = 56;
const HIGH = FLOOR + RISE;
const x = (along: number) => (along * WIDE) / 200;
const y = (out: number) => HIGH - FLOOR - (out * RISE) / 100;
const at = ([along, out]: Point) => `${x(along)},${y(out)}`;
const mirrored = (p: Point) => `${WIDE - x(p[0])},${y(p[1])}`;
const line = computed(() => {
  const half = props.points.map(at);
  const other = props.points
    .filter(([a]) => a < 100)
    .map(mirrored)
    .reverse();
  return [`0,${y(0)}`, ...half, ...other, `${WIDE},${y(0)}`].join(' ');
});

const picture = ref<SVGSVGElement | null>(null);
/** The point that is dragged, and where it is meanwhile. */
const held = ref<number | null>(null);
/** Points stay apart by this share of the width, percent. */
const LEAST_STEP = 1;
/** A point at a place, between its neighbours. */
function put(i: number, along: number, out: number): Point[] {
  const low = (props.points[i - 1]?.[0] ?? 0) + LEAST_STEP;
  const high = (props.points[i + 1]?.[0] ?? 100 + LEAST_STEP) - LEAST_STEP;
  const to: Point = [Math.round(Math.min(high, Math.max(low, along))), Math.round(Math.min(200, Math.max(-100, out)))];
  return props.points.map((p, k) => (k === i ? to : p));
}
function placeOf(e: PointerEvent): Point {
  const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(picture.value!.getScreenCTM()!.inverse());
  return [(200 * p.x) / WIDE, (100 * (HIGH - FLOOR - p.y)) / RISE];
}
let last: Point[] | null = null;
function drag(e: PointerEvent): void {
  if (held.value === null) return;
  last = put(held.value, ...placeOf(e));
  emit('preview', last);
}
function drop(): void {
  if (held.value !== null && last) emit('change', last);
  held.value = null;
  last = null;
}
/** Arrow keys move the point that has the focus by one percent, with Shift by ten. */
const KEY_WAYS: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
function nudge(e: KeyboardEvent, i: number): void {
  const way = KEY_WAYS[e.key];
  if (!way || props.disabled) return;
  e.preventDefault();
  const by = e.shiftKey ? 10 : 1;
  const [along, out] = props.points[i]!;
  emit('change', put(i, along + by * way[0], out + by * way[1]));
}
/** The two figures of a point, percent. */
const COORDINATES = [
  { name: 'along', min: 1, max: 100 },
  { name: 'out', min: -100, max: 200 },
] as const;
const other = (p: Point, k: number, value: number): Point => (k === 0 ? [value, p[1]] : [p[0], value]);
const typed = (e: Event): number => Number((e.target as HTMLInputElement).value) || 0;
/** A new point half way to the middle from the last one. */
const more = computed(() => props.points.length < MOST_POINTS && gapOf() !== null);
function gapOf(): number | null {
  const list = [0, ...props.points.map((p) => p[0]), 100];
  const widest = list.slice(1).reduce((best, a, i) => (a - list[i]! > list[best + 1]! - list[best]! ? i : best), 0);
  return list[widest + 1]! - list[widest]! > 2 * LEAST_STEP ? widest : null;
}
function add(): void {
  const i = gapOf()!;
  const [a, b] = [
    props.points[i - 1] ?? ([0, 0] as Point),
    props.points[i] ?? ([100, props.points.at(-1)?.[1] ?? 0] as Point),
  ];
  const point: Point = [Math.round((a[0] + b[0]) / 2), Math.round((a[1] + b[1]) / 2)];
  emit('change', [...props.points.slice(0, i), point, ...props.points.slice(i)]);
}
const without = (i: number) =>
  emit(
    'change',
    props.points.filter((_, k) => k !== i),
  );
</script>

<template>
  <section>
    <h3>Profile</h3>
    <p class="soft">Shows one half of the strip; the other half mirrors it. Drag the points, or type.</p>
    <svg
      ref="picture"
      :viewBox="`-6 -6 ${WIDE + 12} ${HIGH + 12}`"
      role="group"
      aria-label="The profile"
      @pointermove="drag"
      @pointerup="drop"
      @pointercancel="drop"
    >
      <polyline class="tangents" :points="`0,${y(0)} ${WIDE / 2},${y(100)} ${WIDE},${y(0)}`" />
      <line class="middle" :x1="WIDE / 2" :x2="WIDE / 2" :y1="y(100)" :y2="HIGH" />
      <line class="chord" :x1="0" :x2="WIDE" :y1="y(0)" :y2="y(0)" />
      <polyline class="profile" :points="line" />
      <circle
        v-for="(p, i) in points"
        :key="i"
        :cx="x(p[0])"
        :cy="y(p[1])"
        r="6"
        tabindex="0"
        role="slider"
        :aria-label="`Point ${i + 1} of the profile`"
        :aria-valuenow="p[1]"
        aria-valuemin="-100"
        aria-valuemax="200"
        :aria-valuetext="`${p[0]} % along, ${p[1]} % out`"
        :aria-disabled="disabled"
        @pointerdown.prevent="!disabled && ((held = i), ($event.target as Element).setPointerCapture($event.pointerId))"
        @keydown="nudge($event, i)"
      />
    </svg>
    <ol class="lines">
      <li v-for="(p, i) in points" :key="i">
        <label v-for="(way, k) in COORDINATES" :key="way.name">
          <span>{{ way.name }}</span>
          <input
            type="number"
            :min="way.min"
            :max="way.max"
            :value="p[k]"
            :disabled="disabled"
            :aria-label="`Point ${i + 1} ${way.name}, percent`"
            @change="emit('change', put(i, ...other(p, k, typed($event))))"
          />
          <span>%</span>
        </label>
        <button
          class="small"
          :disabled="disabled || points.length < 2"
          :aria-label="`Remove point ${i + 1}`"
          title="Remove this point"
          @click="without(i)"
        >
          <X :size="14" />
        </button>
      </li>
    </ol>
    <button class="small" :disabled="disabled || !more" @click="add">Add a point</button>
  </section>
</template>

<style scoped>
svg {
  width: 100%;
  max-height: 150px;
  touch-action: none;
  background: var(--block);
}
.tangents,
.middle,
.chord {
  fill: none;
  stroke: var(--joint);
  stroke-dasharray: 4 3;
}
.profile {
  fill: none;
  stroke: var(--verdigris);
  stroke-width: 2;
}
circle {
  fill: var(--raised);
  stroke: var(--verdigris);
  stroke-width: 2;
  cursor: grab;
}
circle:focus-visible {
  outline: none;
  stroke: var(--ochre);
  stroke-width: 4;
}
label {
  display: flex;
  align-items: center;
  gap: 5px;
}
section {
  min-width: 0;
}
input {
  width: 3.6em;
  padding: 3px 4px;
  border: 1px solid var(--joint);
  background: var(--raised);
  color: inherit;
}
</style>
