<script setup lang="ts">
import { computed } from 'vue';
import { pickWords, setPicks, type KeptPick } from '@dusky-mason/core/courses';
import { usePicks } from '../stores/picks.ts';
import { useProject } from '../stores/project.ts';

/** Picks that are kept with the part, by name. */
const store = useProject();
const picks = usePicks();
const kept = computed(() => store.part?.picks ?? []);
const put = (list: KeptPick[], title: string): void =>
  store.change(title, setPicks(store.project!, store.part!.id, list));
function rename(i: number, e: Event): void {
  const name = (e.target as HTMLInputElement).value.trim();
  if (name)
    put(
      kept.value.map((k, j) => (j === i ? { ...k, name } : k)),
      'Rename a pick',
    );
}
const drop = (i: number): void =>
  put(
    kept.value.filter((_, j) => j !== i),
    'Delete a kept pick',
  );
const nameOf = (id: number) => store.part?.courses.find((c) => c.id === id)?.name ?? 'a removed course';
</script>

<template>
  <section v-if="kept.length">
    <h3>Kept picks</h3>
    <ul class="lines">
      <li v-for="(k, i) in kept" :key="i">
        <input
          :value="k.name"
          :aria-label="`Name of kept pick ${i + 1}`"
          maxlength="200"
          :disabled="store.readOnly"
          @change="rename(i, $event)"
        />
        <button class="small" :title="pickWords(k.pick, nameOf)" @click="picks.recall(k)">Pick</button>
        <button class="small" :aria-label="`Delete ${k.name}`" :disabled="store.readOnly" @click="drop(i)">
          Delete
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
input {
  flex: 1;
  width: 0;
  min-width: 0;
  padding: 2px 5px;
  border: 1px solid var(--joint);
  background: none;
}
</style>
