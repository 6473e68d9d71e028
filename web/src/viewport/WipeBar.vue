<script setup lang="ts">
import { computed, ref } from 'vue';
import { useWipe } from '../stores/wipe.ts';

/** The line of a wipe, to be dragged or moved by arrow keys, and what stands on either side of it. */
const wipe = useWipe();
const bar = ref<HTMLElement>();
const percent = computed(() => Math.round(wipe.at * 100));

function drag(e: PointerEvent): void {
  if (!e.buttons) return;
  const r = bar.value!.parentElement!.getBoundingClientRect();
  wipe.at = Math.max(0.02, Math.min(0.98, (e.clientX - r.left) / r.width));
}
function grab(e: PointerEvent): void {
  (e.currentTarget as HTMLElement).setPointerCapture(e.pointerId);
}
function onKey(e: KeyboardEvent): void {
  const by = { ArrowLeft: -0.02, ArrowRight: 0.02 }[e.key];
  if (!by) return;
  e.preventDefault();
  e.stopPropagation();
  wipe.at = Math.max(0.02, Math.min(0.98, wipe.at + by));
}
</script>

<template>
  <div ref="bar" class="wipe">
    <div
      v-if="!wipe.beside"
      class="line"
      role="slider"
      tabindex="0"
      aria-label="Wipe between before and after"
      aria-valuemin="2"
      aria-valuemax="98"
      :aria-valuenow="percent"
      :style="{ left: `${wipe.at * 100}%` }"
      @pointerdown.stop="grab"
      @pointermove.stop="drag"
      @keydown="onKey"
    ></div>
    <div v-else class="half" aria-hidden="true"></div>
    <div class="says">
      <label>
        Before
        <select v-model="wipe.before">
          <option v-for="x in wipe.states" :key="x.id" :value="x.id">{{ x.title }}</option>
        </select>
      </label>
      <label>
        After
        <select v-model="wipe.after">
          <option v-for="x in wipe.states" :key="x.id" :value="x.id">{{ x.title }}</option>
        </select>
      </label>
      <button
        :aria-pressed="wipe.heat"
        title="Colour each side by its distance from the other"
        @click="wipe.heat = !wipe.heat"
      >
        Heat
      </button>
      <button :aria-pressed="wipe.beside" @click="wipe.beside = !wipe.beside">Side by side</button>
      <button title="Close (W)" @click="wipe.toggle()">Done</button>
    </div>
  </div>
</template>

<style scoped>
.wipe {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
.line,
.half {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 24px;
  margin-left: -12px;
  touch-action: none;
}
.line {
  pointer-events: auto;
  cursor: ew-resize;
}
.half {
  left: 50%;
}
.line::before,
.half::before {
  content: '';
  position: absolute;
  left: 11px;
  top: 0;
  bottom: 0;
  width: 2px;
  background: var(--on-veil);
}
.line::after {
  content: '';
  position: absolute;
  left: 4px;
  top: 50%;
  width: 16px;
  height: 34px;
  margin-top: -17px;
  background: var(--panel);
  border: 1px solid var(--joint);
}
.says {
  position: absolute;
  left: 12px;
  top: 12px;
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  pointer-events: auto;
  max-width: calc(100% - 360px);
}
.says label,
.says button {
  min-height: 30px;
  padding: 0 8px;
  display: flex;
  align-items: center;
  gap: 6px;
  background: var(--panel);
  border: 1px solid var(--joint);
}
.says select {
  border: 0;
  background: none;
  max-width: 130px;
}
.says button {
  cursor: pointer;
}
.says [aria-pressed='true'] {
  background: var(--block);
  box-shadow: inset 0 -3px var(--verdigris);
}
</style>
