import { defineStore } from 'pinia';
import { ref } from 'vue';

/** Which of the panels that lie over every view are open. */
export const usePanels = defineStore('panels', () => ({ rack: ref(false), finder: ref(false) }));
