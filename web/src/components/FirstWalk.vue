<script setup lang="ts">
import { computed } from 'vue';
import { useWalk, WALK } from '../stores/walk.ts';

/** The first walk: offered, then one step after the other, each of which waits for one's own act. */
const walk = useWalk();
const over = computed(() => walk.at === WALK.length);
</script>

<template>
  <section v-if="walk.offered || walk.at !== null" class="walk" aria-label="First walk">
    <template v-if="walk.at === null">
      <p><strong>New here?</strong> Five steps lead from a cutter to a file.</p>
      <div class="acts">
        <button @click="walk.begin()">Take the first walk</button>
        <button @click="walk.leave()">Not now</button>
      </div>
    </template>
    <template v-else-if="over">
      <p role="status"><strong>That was the walk.</strong> Help has the guide, and what each word means.</p>
      <div class="acts"><button @click="walk.leave()">Close</button></div>
    </template>
    <template v-else-if="walk.step">
      <div role="status">
        <p class="soft">
          Step <span class="number">{{ walk.at + 1 }}</span> of <span class="number">{{ WALK.length }}</span>
        </p>
        <p>
          <strong>{{ walk.step.title }}.</strong> {{ walk.step.say }}
        </p>
      </div>
      <div class="acts"><button @click="walk.leave()">Leave the walk</button></div>
    </template>
  </section>
</template>

<style scoped>
.walk {
  padding: 10px 12px;
  background: var(--block);
  box-shadow: inset 3px 0 var(--verdigris);
  display: grid;
  gap: 8px;
}
p {
  margin: 0;
}
</style>
