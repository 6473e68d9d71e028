<script lang="ts">
/** Renders its items one at a time, so that the page can answer in between. */
const waiting: (() => void)[] = [];

function next(): void {
  waiting.shift()?.();
  if (waiting.length) setTimeout(next);
}

function inTurn(draw: () => void): () => void {
  waiting.push(draw);
  if (waiting.length === 1) setTimeout(next);
  return () => {
    const i = waiting.indexOf(draw);
    if (i >= 0) waiting.splice(i, 1);
  };
}
</script>

<script setup lang="ts">
import { onBeforeUnmount, ref } from 'vue';

// A part of a long card that is drawn a moment after the rest: a card of many fields in one go would hold up the page.
const here = ref(false);
onBeforeUnmount(inTurn(() => (here.value = true)));
</script>

<template>
  <slot v-if="here"></slot>
</template>
