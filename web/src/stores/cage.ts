import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { CageChoice } from '@dusky-mason/core/courses';

/** Which points of the cage at hand are chosen: the card chooses, and the view has their handles. */
export const useCage = defineStore('cage', () => ({ choice: ref<CageChoice>([0, 0, 0]) }));
