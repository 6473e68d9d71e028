import { defineStore } from 'pinia';
import { ref, watch } from 'vue';
import { useProject } from './project.ts';

/** Whether the part as a whole has handles in the view; until another part or something of it is picked. */
export const usePartHand = defineStore('partHand', () => {
  const store = useProject();
  const on = ref(false);
  watch(
    [() => store.selection.part, () => store.selection.course],
    () => {
      on.value = false;
    },
    // Before the act that picked it goes on.
    { flush: 'sync' },
  );
  return { on };
});
