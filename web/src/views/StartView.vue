<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { skerryLight } from '@dusky-mason/core/demo';
import { newId } from '../stores/imports.ts';
import { keepProject, keepSetting } from '../stores/storage.ts';

// The first visit: the sample project is made and opened.
const router = useRouter();
const problem = ref('');

onMounted(async () => {
  try {
    const card = await keepProject({ ...skerryLight(), id: newId() });
    await keepSetting('been here', true);
    await router.replace({ name: 'bench', params: { id: card.id, stage: 'cut' } });
  } catch {
    problem.value =
      'This browser allows no storage for this page, so no project can be kept. Allow storage, then reload the page.';
  }
});
</script>

<template>
  <main class="start">
    <p role="status">{{ problem || 'Setting up the sample …' }}</p>
  </main>
</template>

<style scoped>
.start {
  height: 100%;
  display: grid;
  place-items: center;
  padding: 24px;
}
</style>
