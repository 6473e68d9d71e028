<script setup lang="ts">
import { mendBelow } from '@dusky-mason/core/courses';
import { computed } from 'vue';
import { useProject } from '../stores/project.ts';

/** Why a course failed and what follows, or its warnings. */
const props = defineProps<{ course: number }>();
const store = useProject();
const result = computed(() => store.outcome?.courses.find((c) => c.id === props.course));
const error = computed(() => result.value?.error);
/** The mend below this course that would let it be done. */
const mend = computed(() =>
  error.value && store.project && store.part
    ? mendBelow(store.project, store.part.id, props.course, error.value)
    : null,
);
const MENDS = { heal: 'Heal the part below', recast: 'Recast the part below' } as const;
const warnings = computed(() => (error.value ? [] : (result.value?.report?.warnings ?? [])));
</script>

<template>
  <div v-if="error" class="told" role="alert">
    <strong>Not done.</strong> {{ error.message }}
    <span class="soft">The part is shown as it is below this course.</span>
    <button v-if="mend && !store.readOnly" @click="store.change(MENDS[mend.kind], mend.project)">
      {{ MENDS[mend.kind] }}
    </button>
  </div>
  <ul v-if="warnings.length" class="warning">
    <li v-for="h in warnings" :key="h">△ {{ h }}</li>
  </ul>
</template>

<style scoped>
.told {
  padding: 8px 10px;
  border-left: 5px double var(--brick);
  background: var(--raised);
  overflow-wrap: anywhere;
}
.told button {
  display: block;
  margin-top: 6px;
  padding: 5px 10px;
  border: 1px solid var(--joint);
  background: var(--raised);
  cursor: pointer;
}
.warning {
  list-style: none;
  margin: 0;
  padding: 4px 0 4px 9px;
  border-left: 3px solid var(--ochre);
}
</style>
