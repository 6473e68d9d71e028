<script setup lang="ts">
import { ref } from 'vue';

/** Takes files that are dropped anywhere on what it holds. */
defineProps<{ label: string }>();
const emit = defineEmits<{ files: [files: File[]] }>();

const over = ref(0);
const hasFiles = (e: DragEvent): boolean => [...(e.dataTransfer?.types ?? [])].includes('Files');

function enter(e: DragEvent): void {
  if (hasFiles(e)) over.value++;
}
function leave(e: DragEvent): void {
  if (hasFiles(e)) over.value = Math.max(0, over.value - 1);
}
function drop(e: DragEvent): void {
  if (!hasFiles(e)) return;
  e.preventDefault();
  over.value = 0;
  emit('files', [...(e.dataTransfer?.files ?? [])]);
}
</script>

<template>
  <div
    class="area"
    @dragenter="enter"
    @dragleave="leave"
    @dragover="hasFiles($event) && $event.preventDefault()"
    @drop="drop"
  >
    <slot />
    <div v-if="over" class="veil" aria-hidden="true">{{ label }}</div>
  </div>
</template>

<style scoped>
.area {
  position: relative;
  height: 100%;
}
.veil {
  position: absolute;
  inset: 10px;
  z-index: 40;
  display: grid;
  place-items: center;
  font-size: 1.2rem;
  background: var(--veil);
  color: var(--on-veil);
  border: 2px dashed var(--on-veil);
  pointer-events: none;
}
</style>
