import { ref } from 'vue';

/** Whether the search for a tool is open. */
export const finderOpen = ref(false);
