import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { EngineError } from '../engine/client.ts';
import { sideEngine } from '../engine/engine.ts';
import { Latest } from '../engine/latest.ts';
import type { Ask, AnswerTo, PartState } from '../engine/protocol.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';

type Compared = AnswerTo<Extract<Ask, { kind: 'compare' }>>;

/** A part as it was when it was kept, to be looked at beside what it becomes. */
export interface Kept {
  part: number;
  hash: string;
  name: string;
}

/** Most states kept of all parts; the oldest is dropped. */
const MOST_KEPT = 5;

/** Before and after: what the part was at one state, wiped across what it is at another, or beside it. */
export const useWipe = defineStore('wipe', () => {
  const store = useProject();
  const notices = useNotices();
  const on = ref(false);
  /** What stands on the left and on the right, as `course 12` or `kept 1a2b…`. */
  const before = ref('');
  const after = ref('');
  /** Where the wipe stands, as a share of the width. */
  const at = ref(0.5);
  const beside = ref(false);
  /** Whether each side is coloured by how far the other is from it. */
  const heat = ref(false);
  const compared = shallowRef<Compared | null>(null);
  const kept = ref<Kept[]>([]);

  /** What can be compared: the courses of the part, and what was kept of it. */
  const states = computed(() => {
    const list = store.part?.courses ?? [];
    const last = list.at(-1)?.id;
    return [
      ...kept.value.filter((k) => k.part === store.part?.id).map((k) => ({ id: `kept ${k.hash}`, title: k.name })),
      ...list.map((c) => ({ id: `course ${c.id}`, title: c.id === last ? `${c.name} (now)` : c.name })),
    ];
  });
  const stateOf = (id: string): PartState | null => {
    const [kind, name] = id.split(' ');
    if (!states.value.some((s) => s.id === id)) return null;
    return kind === 'kept' ? { kept: name! } : { course: Number(name) };
  };

  let cancel: Int32Array | null = null;
  const latest = new Latest<number>(
    async () => {
      const { part } = store;
      const [left, right] = [stateOf(before.value), stateOf(after.value)];
      if (!part || !on.value || !left || !right) return;
      cancel = typeof SharedArrayBuffer === 'function' ? new Int32Array(new SharedArrayBuffer(4)) : null;
      try {
        const a = await sideEngine().ask({ kind: 'compare', part, before: left, after: right, cancel });
        if (on.value && store.part?.id === part.id) compared.value = a;
      } catch (e) {
        if (!(e instanceof EngineError && e.code === 'cancelled')) notices.fail(e);
      }
    },
    () => {
      if (cancel) Atomics.store(cancel, 0, 1);
    },
  );

  const now = () => `course ${store.part?.courses.at(-1)?.id}`;
  /** Shows what was there before the picked course, or before the last one; or no longer. */
  function toggle(): void {
    on.value = !on.value;
    if (!on.value) return;
    const list = store.part?.courses ?? [];
    const picked = list.findIndex((c) => c.id === store.selection.course);
    before.value = `course ${list[Math.max(0, (picked > 0 ? picked : list.length - 1) - 1)]?.id}`;
    after.value = now();
  }

  /** Keeps the part as it is now, until the page is left; what it becomes can be compared with it. */
  async function keep(): Promise<void> {
    const { part } = store;
    if (!part) return;
    try {
      const last = part.courses.at(-1)!;
      const { hash } = await sideEngine().ask({ kind: 'freeze', part, course: last.id });
      // Told to load it, the worker that takes over from one that is lost has it, too.
      await sideEngine().ask({ kind: 'load', hash });
      const name = `Kept at ${new Date().toTimeString().slice(0, 5)}, with ${last.name}`;
      kept.value = [{ part: part.id, hash, name }, ...kept.value.filter((k) => k.hash !== hash)].slice(0, MOST_KEPT);
      notices.say('said', `${part.name} is kept as it is now, to be compared with what it becomes.`);
    } catch (e) {
      notices.fail(e);
    }
  }

  watch(
    () => [on.value, before.value, after.value, store.outcome?.key, store.part?.id] as const,
    ([is, , , , part], was) => {
      if (!is || part !== was?.[4]) compared.value = null;
      if (is && part !== was?.[4] && was?.[4] !== undefined) {
        on.value = false;
        return;
      }
      // A new course on top is what it is now.
      if (is && !stateOf(after.value)) after.value = now();
      if (is) latest.request(0);
    },
  );

  return { on, before, after, at, beside, heat, compared, kept, states, toggle, keep };
});
