import { defineStore } from 'pinia';
import { ref, shallowRef, watch } from 'vue';
import { EngineError } from '../engine/client.ts';
import { sideEngine } from '../engine/engine.ts';
import { Latest } from '../engine/latest.ts';
import type { AnswerTo } from '../engine/protocol.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';

type Compared = AnswerTo<Extract<import('../engine/protocol.ts').Ask, { kind: 'compare' }>>;

/** Before and after: what the part was at a course, wiped across what it is now, or beside it. */
export const useWipe = defineStore('wipe', () => {
  const store = useProject();
  const notices = useNotices();
  const on = ref(false);
  /** The course up to which the part is shown on the left. */
  const course = ref<number | null>(null);
  /** Where the wipe stands, as a share of the width. */
  const at = ref(0.5);
  const beside = ref(false);
  const compared = shallowRef<Compared | null>(null);

  let cancel: Int32Array | null = null;
  const latest = new Latest<number>(
    async (id) => {
      const { part } = store;
      if (!part || !on.value || !part.courses.some((c) => c.id === id)) return;
      cancel = typeof SharedArrayBuffer === 'function' ? new Int32Array(new SharedArrayBuffer(4)) : null;
      try {
        const a = await sideEngine().ask({ kind: 'compare', part, course: id, cancel });
        if (on.value && store.part?.id === part.id) compared.value = a;
      } catch (e) {
        if (!(e instanceof EngineError && e.code === 'cancelled')) notices.fail(e);
      }
    },
    () => {
      if (cancel) Atomics.store(cancel, 0, 1);
    },
  );

  /** Shows what was there before the picked course, or before the last one; or no longer. */
  function toggle(): void {
    on.value = !on.value;
    if (!on.value) return;
    const list = store.part?.courses ?? [];
    const picked = list.findIndex((c) => c.id === store.selection.course);
    course.value = list[Math.max(0, (picked > 0 ? picked : list.length - 1) - 1)]?.id ?? null;
  }

  watch(
    () => [on.value, course.value, store.outcome?.key, store.part?.id] as const,
    ([is, id, , part], before) => {
      if (!is || part !== before?.[3]) compared.value = null;
      if (is && part !== before?.[3] && before?.[3] !== undefined) {
        on.value = false;
        return;
      }
      if (is && id !== null) latest.request(id);
    },
  );

  return { on, course, at, beside, compared, toggle };
});
