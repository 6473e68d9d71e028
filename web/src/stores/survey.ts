import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { RuleName, ShownFinding } from '@dusky-mason/core/survey';
import { EngineError } from '../engine/client.ts';
import { sideEngine } from '../engine/engine.ts';
import { Stopper } from '../engine/stopper.ts';
import { Latest } from '../engine/latest.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';

/** What the survey of the part at hand has found, and which place of it is looked at. */
export const useSurvey = defineStore('survey', () => {
  const store = useProject();
  const notices = useNotices();
  const findings = shallowRef<readonly ShownFinding[] | null>(null);
  /** Whether rules that take longer are asked for, too. */
  const deep = ref(false);
  const working = ref<{ fraction: number; stage: string } | null>(null);
  /** Whether a panel shows findings just now: only then are they looked for. */
  const wanted = ref(false);
  const picked = ref<{ rule: RuleName; at: number } | null>(null);
  /** Whether all but the picked finding's faces fade. */
  const alone = ref(false);

  const stopper = new Stopper();
  const { stop } = stopper;
  const latest = new Latest<number>(async () => {
    const { part } = store;
    if (!part || !wanted.value) return;
    const cancel = stopper.begin();
    try {
      const a = await sideEngine().ask(
        { kind: 'survey', part, deep: deep.value, cancel },
        {
          progress: (p) => {
            working.value = p;
          },
        },
      );
      if (store.part?.id === part.id) findings.value = a.findings;
    } catch (e) {
      if (!(e instanceof EngineError && e.code === 'cancelled')) notices.fail(e);
    } finally {
      working.value = null;
    }
  }, stop);

  watch(
    () => [wanted.value, deep.value, store.outcome?.key, store.part?.id] as const,
    ([on, , , part], before) => {
      if (part !== before?.[3]) {
        findings.value = null;
        picked.value = null;
      }
      if (on) latest.request(0);
    },
  );

  const finding = computed(() => findings.value?.find((f) => f.rule === picked.value?.rule) ?? null);
  /** Where the place that is looked at is, its way out and its reach, mm. */
  const place = computed(() => {
    const f = finding.value;
    const i = picked.value?.at ?? 0;
    if (!f || i >= f.ids.length) return null;
    const three = (a: ArrayLike<number>) => [a[3 * i]!, a[3 * i + 1]!, a[3 * i + 2]!] as [number, number, number];
    return { point: three(f.points), normal: three(f.normals), reach: f.reach[i]!, value: f.values[i] };
  });

  function pick(rule: RuleName | null, at = 0): void {
    const f = rule && findings.value?.find((x) => x.rule === rule);
    picked.value = f ? { rule: f.rule, at: (at + f.ids.length) % f.ids.length } : null;
    if (!picked.value) alone.value = false;
  }
  /** The next place of the picked finding, or the one before. */
  function step(by: number): void {
    if (picked.value) pick(picked.value.rule, picked.value.at + by);
  }
  /** A place that is flown to besides, mm. */
  const spot = shallowRef<readonly [number, number, number] | null>(null);
  const flyTo = (point: readonly [number, number, number]): void => {
    spot.value = [...point];
  };
  /** Stops the search under way; what takes longer is not asked for again. */
  function giveUp(): void {
    stop();
    deep.value = false;
  }

  return { findings, deep, working, wanted, picked, alone, finding, place, pick, step, giveUp, spot, flyTo };
});
