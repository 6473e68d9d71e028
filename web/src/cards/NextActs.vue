<script setup lang="ts">
import { computed } from 'vue';
import { canRun, commandOf, keysOf } from '../words/commands.ts';

/** What one does next with a part, each with its key: commands under the words that suit the card. */
const ACTS = [
  ['place', 'Place a cutter'],
  ['draw', 'Draw on it'],
  ['rack', 'From the rack'],
  ['stage-dress', 'Finish its edges'],
  ['stage-survey', 'Look it over'],
  ['stage-dispatch', 'Write a file'],
] as const;

const acts = computed(() =>
  ACTS.flatMap(([id, title]) => {
    const command = commandOf(id);
    return command ? [{ id, title, command, key: keysOf(command).split(', ')[0] }] : [];
  }),
);
</script>

<template>
  <div class="next acts" role="group" aria-label="What to do next">
    <button v-for="a in acts" :key="a.id" :disabled="!canRun(a.command)" @click="a.command.run()">
      <span>{{ a.title }}</span>
      <kbd v-if="a.key">{{ a.key }}</kbd>
    </button>
  </div>
</template>

<style scoped>
.acts.next {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
.acts.next button {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 6px;
  padding: 5px 8px;
  text-align: left;
  font-size: 13px;
}
kbd {
  font: 12px var(--numbers);
  color: var(--soft);
}
</style>
