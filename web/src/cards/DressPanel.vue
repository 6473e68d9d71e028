<script setup lang="ts">
import { computed } from 'vue';
import { isMend } from '@dusky-mason/core/courses';
import { useProject } from '../stores/project.ts';
import MendCard from './MendCard.vue';
import SidesForm from './SidesForm.vue';

/** Mends of the part: the one that is picked, and those that can be laid on top. */
const store = useProject();
const mend = computed(() => (store.course && isMend(store.course) ? store.course : null));
</script>

<template>
  <MendCard v-if="mend" :key="mend.id" :course="mend" />
  <header v-else>
    <h2>Dress</h2>
    <p class="soft">
      {{
        store.part
          ? `Mends of ${store.part.name}. Pick vertices, edges or faces in the view, then say what is to be done with them: each act is a course on top of the wall.`
          : 'There is no part to mend.'
      }}
    </p>
  </header>
  <SidesForm v-if="store.part" />
</template>
