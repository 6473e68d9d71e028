import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { Part } from '@dusky-mason/core/courses';
import { usePreferences } from './preferences.ts';
import { useProject } from './project.ts';

/** What the walk looks at: the part at hand, the stage, and how many files were written so far. */
export interface Seen {
  part: Part | undefined;
  stage: string;
  written: number;
}

const cutters = ({ part }: Seen) => part?.courses.flatMap((c) => (c.kind === 'cut' ? c.params.cutters : [])) ?? [];
const finishes = ({ part }: Seen): number => part?.courses.filter((c) => c.kind === 'finish').length ?? 0;

/** A step of the first walk: what to do, and whether it was done since the step began. */
interface Step {
  title: string;
  say: string;
  done(before: Seen, now: Seen): boolean;
}

/** The first walk: five steps from a cutter to a file, each of them one's own act. */
export const WALK: readonly Step[] = [
  {
    title: 'Place a cutter',
    say: 'On Cut, press C, then click a face of the part. The cutter goes in where you click.',
    done: (before, now) => before.part?.id === now.part?.id && cutters(now).length > cutters(before).length,
  },
  {
    title: 'Drag it',
    say: 'Drag one of the posts on the cutter to slide it. M changes the handles; every number can be typed on its card.',
    done: (before, now) =>
      cutters(now).some((c) => {
        const was = cutters(before).find((x) => x.id === c.id);
        return !!was && (was.placement !== c.placement || was.shape !== c.shape);
      }),
  },
  {
    title: 'Finish its edges',
    say: 'Go to Dress and choose Edge finish: all sharp edges are bevelled, those of later cuts too.',
    done: (before, now) => finishes(now) > finishes(before),
  },
  {
    title: 'Look it over',
    say: 'Go to Survey: it lists what is wrong with the mesh, and flies to each place.',
    done: (_, now) => now.stage === 'survey',
  },
  {
    title: 'Write a file',
    say: 'Go to Dispatch, choose a format and write the part. That is the whole way.',
    done: (before, now) => now.written > before.written,
  },
];

/** The first walk: offered once, then taken again from *Help*. */
export const useWalk = defineStore('walk', () => {
  const store = useProject();
  const prefs = usePreferences();
  const stage = ref('cut');
  const written = ref(0);
  const seen = computed((): Seen => ({ part: store.part, stage: stage.value, written: written.value }));

  /** The step that is under way, from 0; null while none is. */
  const at = ref<number | null>(null);
  /** How things stood when it began. */
  const before = shallowRef<Seen | null>(null);
  const step = computed(() => (at.value === null ? null : (WALK[at.value] ?? null)));
  const offered = computed(() => !prefs.now.walked && at.value === null);

  function begin(): void {
    go(0);
  }
  function go(to: number): void {
    at.value = to;
    before.value = seen.value;
  }
  function leave(): void {
    at.value = null;
    prefs.now.walked = true;
  }
  watch(
    () => [seen.value, store.previewing] as const,
    ([now, previewing]) => {
      // What is shown beforehand while it is dragged is not done yet.
      if (previewing || !step.value || !before.value || !step.value.done(before.value, now)) return;
      if (at.value! + 1 < WALK.length) go(at.value! + 1);
      else {
        at.value = WALK.length;
        prefs.now.walked = true;
      }
    },
  );

  return { at, step, offered, stage, begin, leave, wrote: () => written.value++ };
});
