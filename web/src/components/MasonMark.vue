<script setup lang="ts">
import { MARKS, type MarkName } from '../words/operations.ts';

defineProps<{ name: MarkName; size?: number }>();
</script>

<template>
  <svg
    :width="size ?? 22"
    :height="size ?? 22"
    viewBox="0 0 24 24"
    fill="none"
    stroke="currentColor"
    stroke-width="2"
    stroke-linecap="square"
    aria-hidden="true"
  >
    <path v-for="d in MARKS[name]" :key="d" :d="d" />
  </svg>
</template>
