import { defineStore } from 'pinia';
import { computed, ref, shallowRef, triggerRef } from 'vue';
import {
  changeProblem,
  findCourse,
  findCutter,
  followCutters,
  freezePart,
  hasLinks,
  lockedTouched,
  Shape,
  shortName,
  findPart,
  meshesUsed,
  switchCourse,
  type Part,
  type Project,
  checked,
} from '@dusky-mason/core/courses';
import type { Fit } from '@dusky-mason/core/carve';
import { engine, sideEngine } from '../engine/engine.ts';
import { Stopper } from '../engine/stopper.ts';
import { EngineError, EngineLost } from '../engine/client.ts';
import { Latest } from '../engine/latest.ts';
import type { EvaluateAnswer, PartPicture } from '../engine/protocol.ts';
import { History } from './history.ts';
import { useNotices } from './notices.ts';
import { tellField } from './refusals.ts';
import { claim } from './claim.ts';
import { Keeper } from './keeper.ts';
import { keepView, LOCK, openProject, readView, type Opened, type ViewState } from './storage.ts';

/** An evaluation that takes longer than this is told of, ms. */
const WORKING_AFTER = 200;
/** A worker that was asked to stop has so long to listen, ms, before it is ended: a cancel is over within 200 ms. */
const LISTENS_WITHIN = 120;
/** How long the view may rest before it is kept, ms. */
const VIEW_RESTS = 400;

/** Said of the part at hand once it is evaluated. */
export type Outcome = Omit<EvaluateAnswer, 'kind' | 'picture'> & { part: number };

/** The open project: the document, what is picked in it, its history, and what the workers made of it. */
export const useProject = defineStore('project', () => {
  const notices = useNotices();
  const project = shallowRef<Project | null>(null);
  const selection = ref<{ part: number | null; course: number | null; cutter: number | null }>({
    part: null,
    course: null,
    cutter: null,
  });
  const history = new History<Project>();
  const historyShown = shallowRef(history);
  let keeper: Keeper | null = null;
  const saved = ref<'saved' | 'saving' | 'failed'>('saved');
  const savedAt = ref<Date | null>(null);
  const readOnly = ref(false);
  const outcome = shallowRef<Outcome | null>(null);
  /** How often what is shown has been asked for, and up to which time it was answered. */
  const asked = ref(0);
  const answered = ref(0);
  /** Whether the figures shown are still those of before the last change. */
  const behind = computed(() => answered.value < asked.value);
  /** What the dry fit of a cut has found. */
  const fits = shallowRef<{ course: number; list: Fit[] } | null>(null);
  const picture = shallowRef<PartPicture | null>(null);
  const pictures = new Map<number, { key: string; picture: PartPicture }>();
  const working = ref<{ name: string; stage: string; fraction: number } | null>(null);
  let camera: ViewState['camera'];
  /** Where the part is looked at from just now, while a viewport shows it. */
  let viewNow: (() => ViewState['camera']) | null = null;
  let thumbnail: (() => string | undefined) | null = null;
  let release: (() => void) | null = null;
  /** Settled once what was open before is written. */
  let closed: Promise<void> = Promise.resolve();

  const part = computed(() => (project.value ? findPart(project.value, selection.value.part) : undefined));
  const course = computed(() => findCourse(part.value, selection.value.course));
  const cutter = computed(() => findCutter(course.value, selection.value.cutter));
  const undoTitle = computed(() => historyShown.value.undoTitle);
  const redoTitle = computed(() => historyShown.value.redoTitle);

  // Evaluation: the newest state of the part at hand, the one under way stopped when it is stale.
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
    (previewFrom && (selection.value.cutter ?? selection.value.course)) ?? undefined;

  async function evaluate(partId: number): Promise<void> {
    const asking = asked.value;
    const p = project.value && findPart(project.value, partId);
    if (!p) {
      answered.value = asking;
      return;
    }
    const cancel = stopper.begin();
    // A stop that came when nothing was under way is none of this work.
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

  /** The dry fit of the picked cut: after its picture, and given up as soon as something newer is wanted. */
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
      change(`Switch off ${at.name}`, switchCourse(project.value, partId, at.course, false));
    } else notices.say('problem', `The part ${why}. Change the last thing you did, or undo it.`);
  }

  /** Stops the evaluation under way: by its flag, or by ending its worker if it does not listen. */
  function stopWork(): void {
    byUser = true;
    stop();
    setTimeout(() => working.value && engine().lose('stopped'), LISTENS_WITHIN);
  }

  function show(): void {
    const id = selection.value.part;
    if (id === null) {
      picture.value = null;
      outcome.value = null;
      return;
    }
    if (outcome.value?.part !== id) {
      outcome.value = null;
      picture.value = pictures.get(id)?.picture ?? null;
    }
    asked.value++;
    latest.request(id);
  }

  // Changes. A preview shows without being kept; a change is one step of the history and is saved.
  let previewFrom: Project | null = null;

  /** Tells of a locked part that a change would touch. */
  function held(next: Project): boolean {
    const locked = project.value && lockedTouched(previewFrom ?? project.value, next);
    if (locked) refuse(`"${locked.name}" is locked. Unlock it on its card to change it.`, 'warning');
    return !!locked;
  }

  /** Says that nothing can be changed, where that is so. */
  function onlyLooking(): boolean {
    if (readOnly.value) refuse('This project is open in another tab; here it can only be looked at.', 'warning');
    return readOnly.value;
  }

  /** A refusal is said at the field that asked for the change, or as a notice. */
  function refuse(sentence: string, kind: 'warning' | 'problem' = 'problem'): void {
    if (!tellField(sentence)) notices.say(kind, sentence);
  }

  function preview(next: Project): void {
    if (onlyLooking() || (project.value && lockedTouched(previewFrom ?? project.value, next))) return;
    const settled = followCutters(next);
    if (changeProblem(project.value, settled)) return;
    previewFrom ??= project.value;
    project.value = settled;
    show();
  }

  function change(title: string, next: Project): void {
    if (onlyLooking()) return;
    if (held(next)) return dropPreview();
    const before = previewFrom ?? project.value;
    if (!before) return;
    const settled = followCutters(next);
    const problem = changeProblem(before, settled);
    if (problem) {
      dropPreview();
      return refuse(problem);
    }
    const step = history.record(title, before, settled);
    // Back where it began: what was shown on the way goes.
    if (!step) return dropPreview();
    previewFrom = null;
    triggerRef(historyShown);
    project.value = settled;
    keeper?.note({ step });
    settle();
    show();
  }

  /** Takes a preview back. */
  function dropPreview(): void {
    if (!previewFrom) return;
    project.value = previewFrom;
    previewFrom = null;
    show();
  }

  function travel(way: 'undo' | 'redo', word: string): void {
    if (onlyLooking()) return;
    dropPreview();
    const step = project.value && history[way](project.value);
    if (!step) return;
    triggerRef(historyShown);
    project.value = step.state;
    keeper?.note({ travel: way });
    settle();
    show();
    notices.say('said', `${word}: ${step.title}`);
  }
  const undo = (): void => travel('undo', 'Taken back');
  const redo = (): void => travel('redo', 'Done again');

  /** Lets go of picks whose thing is gone. */
  function settle(): void {
    const s = selection.value;
    const p = findPart(project.value!, s.part) ?? project.value!.parts[0];
    const c = findCourse(p, s.course);
    selection.value = { part: p?.id ?? null, course: c?.id ?? null, cutter: findCutter(c, s.cutter)?.id ?? null };
  }

  function select(s: Partial<{ part: number | null; course: number | null; cutter: number | null }>): void {
    const { part: before, course: was } = selection.value;
    const next = { ...selection.value, ...s };
    if (s.part !== undefined && s.part !== before) {
      next.course = s.course ?? null;
      next.cutter = s.cutter ?? null;
    } else if (s.course !== undefined && s.cutter === undefined) {
      const c = findCourse(part.value, s.course);
      next.cutter = c?.kind === 'cut' && c.params.cutters.length === 1 ? c.params.cutters[0]!.id : null;
    }
    // What is not there, as after a change that was refused, is not picked.
    const there = project.value && findPart(project.value, next.part);
    if (next.part !== null && !there) return;
    if (next.course !== null && !findCourse(there ?? undefined, next.course)) next.course = next.cutter = null;
    selection.value = next;
    // Another course has another dry fit.
    if (next.part !== before || (next.course !== null && next.course !== was)) show();
    keepViewNow();
  }

  // Keeping.
  function onKept(state: 'saving' | 'saved' | 'failed'): void {
    if (state === 'saved') savedAt.value = new Date();
    if (state === 'failed' && saved.value !== 'failed')
      notices.say(
        'problem',
        'This browser could not keep the project: its storage is full or closed. Work goes on; save a project file on Dispatch.',
      );
    saved.value = state;
  }

  let resting: ReturnType<typeof setTimeout> | undefined;
  function saveView(): void {
    clearTimeout(resting);
    resting = setTimeout(keepViewNow, VIEW_RESTS);
  }
  function keepViewNow(): void {
    clearTimeout(resting);
    if (project.value && !readOnly.value)
      void keepView(project.value.id, { ...selection.value, camera }).catch(() => undefined);
  }

  /** Writes what is not written yet; the page calls it when it goes. */
  function saveNow(): Promise<void> {
    keepViewNow();
    return keeper?.settle() ?? Promise.resolve();
  }

  function setCamera(c: ViewState['camera']): void {
    camera = c;
    saveView();
  }

  /** Opens a kept project; false when there is none. One tab at a time may change it: others look on, and the next one takes over when it closes. */
  async function open(id: string): Promise<boolean> {
    await close();
    const claimed = await claim(`${LOCK}${id}`, () => void takeOver(id));
    release = claimed.release;
    readOnly.value = !claimed.held;
    const opened = await openProject(id);
    if (!opened) {
      await close();
      return false;
    }
    if (readOnly.value) onlyLooking();
    const view = await readView(id);
    pictures.clear();
    camera = view?.camera;
    await standOn(opened, view);
    return true;
  }

  /** Shows a project as it was left, and keeps it from here on where it may be changed. */
  async function standOn(opened: Opened, at: Partial<ViewState> | null): Promise<void> {
    const { project: p } = opened;
    for (const hash of meshesUsed(p)) await loadMesh(hash);
    history.load(opened.history);
    triggerRef(historyShown);
    outcome.value = null;
    picture.value = null;
    project.value = p;
    const whole = () => ({ project: previewFrom ?? project.value!, history: history.kept, thumbnail: thumbnail?.() });
    keeper = readOnly.value ? null : new Keeper(p.id, opened, whole, onKept);
    selection.value = {
      part: at?.part ?? p.parts[0]?.id ?? null,
      course: at?.course ?? null,
      cutter: at?.cutter ?? null,
    };
    settle();
    show();
  }

  /** The other tab has let the project go: what it left is read, and can be changed here from now on. */
  async function takeOver(id: string): Promise<void> {
    try {
      const opened = project.value?.id === id ? await openProject(id) : null;
      if (!opened || project.value?.id !== id) return;
      readOnly.value = false;
      await standOn(opened, selection.value);
      notices.say('said', 'The other tab has closed this project. It can be changed here now.');
    } catch (e) {
      notices.fail(e);
    }
  }

  /** Has both workers load a mesh that is kept in this browser. */
  async function loadMesh(hash: string): Promise<void> {
    await Promise.all([engine(), sideEngine()].map((e) => e.ask({ kind: 'load', hash })));
  }

  /** What a part comes to at a course, as a mesh that is kept. */
  async function meshOf(p: Part, courseId: number, title: string): Promise<Shape> {
    const { hash } = await engine().ask({ kind: 'freeze', part: p, course: courseId });
    await loadMesh(hash);
    return checked(Shape, { kind: 'mesh', hash, title: shortName(title) });
  }

  /** Freezes the part at hand up to a course. */
  async function freeze(courseId: number): Promise<void> {
    const p = part.value;
    if (!p || readOnly.value) return;
    try {
      const shape = await meshOf(p, courseId, `${p.name}, frozen`);
      change(`Freeze ${p.name}`, freezePart(project.value!, p.id, courseId, shape));
      notices.say('said', `Frozen to one mesh. The courses are kept in "${p.name}, its courses".`);
    } catch (e) {
      onLost(e, p.id);
    }
  }

  /** Closes the project; resolves when all of it is written and another tab may have it. */
  function close(): Promise<void> {
    if (!project.value && !release) return closed;
    dropPreview();
    const [free, writing] = [release, saveNow()];
    release = null;
    keeper = null;
    project.value = null;
    picture.value = null;
    outcome.value = null;
    readOnly.value = false;
    closed = writing.finally(() => free?.());
    return closed;
  }

  return {
    project,
    selection,
    part,
    course,
    cutter,
    saved,
    savedAt,
    readOnly,
    outcome,
    behind,
    fits,
    picture,
    working,
    undoTitle,
    redoTitle,
    preview,
    change,
    dropPreview,
    undo,
    redo,
    select,
    setCamera,
    open,
    close,
    loadMesh,
    meshOf,
    freeze,
    stopWork,
    saveNow,
    onlyLooking,
    cameraKept: () => camera,
    viewNow: () => viewNow?.() ?? camera,
    setViewNow: (f: typeof viewNow) => {
      viewNow = f;
    },
    setThumbnail: (f: typeof thumbnail) => {
      thumbnail = f;
    },
  };
});
