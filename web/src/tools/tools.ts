import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { ShapeKind } from '@dusky-mason/core/courses';
import type { CutOperationName } from '../components/marks.ts';
import type { HandleMode } from '../viewport/handles.ts';

/** What the pointer does in the viewport: which handles the picked cutter has, or what is being placed. */
export const useTools = defineStore('tools', () => {
  const handles = ref<HandleMode>('slide');
  const placing = ref(false);
  const kind = ref<ShapeKind>('cylinder');
  const operation = ref<CutOperationName>('subtract');
  /** Cut that the next cutter goes into; a cut of its own when null. */
  const into = ref<number | null>(null);

  function begin(course: number | null = null): void {
    into.value = course;
    placing.value = true;
  }

  function end(): void {
    placing.value = false;
    into.value = null;
  }

  return { handles, placing, kind, operation, into, begin, end };
});
