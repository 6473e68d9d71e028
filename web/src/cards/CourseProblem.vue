<script setup lang="ts">
import { computed } from 'vue';
import { useProject } from '../stores/project.ts';

/** Why a course could not be done, where, and what follows. */
const props = defineProps<{ course: number }>();
const store = useProject();
const error = computed(() => store.outcome?.courses.find((c) => c.id === props.course)?.error);
</script>

<template>
  <div v-if="error" class="told" role="alert">
    <strong>Not done.</strong> {{ error.message }}
    <span class="soft">The part goes on as it was below this course.</span>
  </div>
</template>

<style scoped>
.told {
  padding: 8px 10px;
  border-left: 5px double var(--brick);
  background: var(--raised);
  overflow-wrap: anywhere;
}
</style>
