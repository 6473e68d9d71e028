import { computed, ref, shallowRef } from 'vue';
import { findCourse, findPart, hasLinks, switchCourse, type Part, type Project } from '@dusky-mason/core/courses';
import type { Fit } from '@dusky-mason/core/carve';
import { EngineError, EngineLost } from '../engine/client.ts';
import { engine, sideEngine } from '../engine/engine.ts';
import { Latest } from '../engine/latest.ts';
import type { EvaluateAnswer, PartPicture } from '../engine/protocol.ts';
import { Stopper } from '../engine/stopper.ts';
import { useNotices } from './notices.ts';
import type { ProjectState } from './state.ts';

/** An evaluation that takes longer than this shows its progress, ms. */
const WORKING_AFTER = 200;
/** A worker that was asked to stop has so long to listen, ms, before it is ended: a cancel is over within 200 ms. */
const LISTENS_WITHIN = 120;

/** Called for the part at hand once it is evaluated. */
export type Outcome = Omit<EvaluateAnswer, 'kind' | 'picture'> & { part: number };

interface Around {
  /** Whether a drag is shown beforehand just now. */
  previewing(): boolean;
  change(title: string, next: Project): void;
}

/**
 * What the workers make of the part at hand: always of its newest state, the work under way stopped when it is stale.
 */
export function evaluation(state: ProjectState, around: Around) {
  const { project, selection } = state;
  const notices = useNotices();
  const outcome = shallowRef<Outcome | null>(null);
  const picture = shallowRef<PartPicture | null>(null);
  const pictures = new Map<number, { key: string; picture: PartPicture }>();
  /** What the dry fit of a cut has found. */
  const fits = shallowRef<{ course: number; list: Fit[] } | null>(null);
  const working = ref<{ name: string; stage: string; fraction: number } | null>(null);
  /** How often what is shown has been asked for, and up to which time it was answered. */
  const asked = ref(0);
  const answered = ref(0);
  /** Whether the figures shown are still those of before the last change. */
  const behind = computed(() => answered.value < asked.value);

  const stopper = new Stopper();
  const { stop } = stopper;
  /** Whether it was the user who stopped what is under way. */
  let byUser = false;
  const latest = new Latest<number>(evaluate, stop);
  // Without links no part needs another one.
  const links = () => (project.value && hasLinks(project.value) ? project.value.parts : []);
  engine().parts = links;
  sideEngine().parts = links;

  /** The cutter whose drag is shown beforehand just now, or the course. */
  const moving = (): number | undefined =>
    (around.previewing() && (selection.value.cutter ?? selection.value.course)) || undefined;

  async function evaluate(partId: number): Promise<void> {
    const asking = asked.value;
    const p = project.value && findPart(project.value, partId);
    if (!p) {
      answered.value = asking;
      return;
    }
    const cancel = stopper.begin();
    // A stop from before this work does not concern it.
    byUser = false;
    let begun = { course: 0, name: 'the part' };
    const tell = setTimeout(() => (working.value = { name: begun.name, stage: '', fraction: 0 }), WORKING_AFTER);
    try {
      const a = await engine().ask(
        { kind: 'evaluate', part: p, have: pictures.get(partId)?.key ?? '', moving: moving(), cancel },
        {
          begun: (c) => {
            begun = c;
            if (working.value) working.value = { ...working.value, name: c.name };
          },
          progress: (g) => {
            if (working.value) working.value = { ...working.value, ...g };
          },
        },
      );
      if (a.picture) pictures.set(partId, { key: a.key, picture: a.picture });
      if (selection.value.part !== partId) return;
      picture.value = pictures.get(partId)?.picture ?? null;
      outcome.value = { key: a.key, courses: a.courses, counts: a.counts, ms: a.ms, part: partId };
      answered.value = asking;
      clearTimeout(tell);
      working.value = null;
      await lookAtFit(p);
    } catch (e) {
      // What the user stopped is switched off, whether the worker listened or had to be ended.
      const stopped = byUser && e instanceof EngineError && e.code === 'cancelled';
      onLost(stopped ? new EngineLost('stopped', begun.course ? begun : null) : e, partId);
    } finally {
      byUser = false;
      answered.value = asking;
      clearTimeout(tell);
      working.value = null;
    }
  }

  const otherParts = (id: number): Part[] => (project.value?.parts ?? []).filter((x) => x.id !== id && x.shown);

  /** The dry fit of the picked cut: after its picture, and dropped as soon as something newer is wanted. */
  async function lookAtFit(p: Part): Promise<void> {
    const course = findCourse(p, selection.value.course);
    if (course?.kind !== 'cut') return;
    const answer = await engine().ask({
      kind: 'fit',
      part: p,
      course: course.id,
      moving: moving(),
      others: otherParts(p.id),
      cancel: stopper.current,
    });
    fits.value = { course: course.id, list: answer.fits };
  }

  /** Reports why an evaluation ended without a result, and switches off the course that hung or crashed its worker. */
  function onLost(e: unknown, partId: number): void {
    if (e instanceof EngineError) {
      if (e.code !== 'cancelled') notices.fail(e);
      return;
    }
    if (!(e instanceof EngineLost)) return notices.fail(e);
    pictures.clear();
    const at = e.course;
    // A base that takes long is large, not wrong: without it there is no part to show.
    if (at && e.why === 'hung' && findPart(project.value!, partId)?.courses[0]?.id === at.course)
      return notices.say(
        'problem',
        `"${at.name}" is so large that it was not done in time. Raise the longest run in Preferences, then choose the part again.`,
      );
    const why =
      e.why === 'hung' ? 'did not finish in time' : e.why === 'crashed' ? 'crashed the worker' : 'was stopped';
    if (at && project.value) {
      notices.say(
        'warning',
        `"${at.name}" ${why} and was switched off. Nothing is lost: change it, then switch it on again.`,
      );
      around.change(`Switch off ${at.name}`, switchCourse(project.value, partId, at.course, false));
    } else notices.say('problem', `The part ${why}. Change the last thing you did, or undo it.`);
  }

  /** Stops the evaluation under way: by its flag, or by ending its worker if it does not listen. */
  function stopWork(): void {
    byUser = true;
    stop();
    setTimeout(() => working.value && engine().lose('stopped'), LISTENS_WITHIN);
  }

  /** Has the part at hand evaluated and shown. */
  function show(): void {
    const id = selection.value.part;
    if (id === null) return clear();
    if (outcome.value?.part !== id) {
      outcome.value = null;
      picture.value = pictures.get(id)?.picture ?? null;
    }
    asked.value++;
    latest.request(id);
  }

  /** Shows nothing. */
  function clear(): void {
    picture.value = null;
    outcome.value = null;
  }

  const forget = (): void => pictures.clear();

  return { outcome, picture, fits, working, behind, show, clear, forget, stopWork, onLost };
}
