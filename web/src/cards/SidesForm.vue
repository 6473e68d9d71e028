<script setup lang="ts">
import { computed } from 'vue';
import { everything } from '@dusky-mason/core/courses';
import { useCommands } from '../words/commands.ts';
import { named } from '../words/stageCommands.ts';
import { usePicks } from '../stores/picks.ts';
import { useProject } from '../stores/project.ts';

/** Which way faces look, and ways to settle it. */
const store = useProject();
const picks = usePicks();
const can = computed(() => !!store.part && !store.readOnly);
const some = computed(() => can.value && picks.on === 'face' && picks.count > 0);
const over = () => (some.value ? undefined : everything('face'));

const flip = () => picks.lay('orient', 'Turn over', { way: 'flip' });
const agree = () => picks.lay('orient', 'Make consistent', { way: 'consistent' }, over());
const outward = () => picks.lay('orient', 'Turn outward', { way: 'outward' }, over());
useCommands([
  {
    ...named('sides-flip'),
    when: () => some.value,
    run: () => void flip(),
  },
  {
    ...named('sides-agree'),
    when: () => can.value,
    run: () => void agree(),
  },
  {
    ...named('sides-outward'),
    when: () => can.value,
    run: () => void outward(),
  },
]);
</script>

<template>
  <section>
    <h3>Which way faces look</h3>
    <p class="soft">
      Back sides are hatched with chevrons.
      {{ some ? 'Works on the pieces of the picked faces.' : 'Works on all faces, or on those that are picked.' }}
    </p>
    <div class="acts">
      <button :disabled="!some" :title="some ? 'As a course on top' : 'Pick faces first'" @click="flip">
        Turn over
      </button>
      <button :disabled="!can" title="Turns over the minority in each piece" @click="agree">Make consistent</button>
      <button :disabled="!can" title="Shell by shell; the walls of a hollow face into it" @click="outward">
        All outward
      </button>
    </div>
  </section>
</template>
