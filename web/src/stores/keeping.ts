import { ref } from 'vue';
import { meshesUsed, type Project } from '@dusky-mason/core/courses';
import { engine, sideEngine } from '../engine/engine.ts';
import { claim } from './claim.ts';
import type { KeptHistory } from './history.ts';
import { Keeper } from './keeper.ts';
import { useNotices } from './notices.ts';
import type { ProjectState } from './state.ts';
import { keepView, LOCK, openProject, readView, type Entry, type Opened, type ViewState } from './storage.ts';

/** How long the view may rest before it is kept, ms. */
const VIEW_RESTS = 400;

interface Around {
  show(): void;
  /** Lets go of all that was made of the project that is left. */
  clear(): void;
  forget(): void;
  onlyLooking(): boolean;
  dropPreview(): void;
  /** What there was before the drag that is shown beforehand. */
  before(): Project | null;
  loadHistory(kept: KeptHistory): void;
  keptHistory(): KeptHistory;
}

/** Has both workers load a mesh that is kept in this browser. */
export async function loadMesh(hash: string): Promise<void> {
  await Promise.all([engine(), sideEngine()].map((e) => e.ask({ kind: 'load', hash })));
}

/** Opens and closes projects, and keeps the one at hand in this browser, with how it was looked at. */
export function keeping(state: ProjectState, around: Around) {
  const { project, selection, readOnly } = state;
  const notices = useNotices();
  const saved = ref<'saved' | 'saving' | 'failed'>('saved');
  const savedAt = ref<Date | null>(null);
  let keeper: Keeper | null = null;
  let camera: ViewState['camera'];
  /** Where the part is looked at from just now, while a viewport shows it. */
  let viewNow: (() => ViewState['camera']) | null = null;
  let thumbnail: (() => string | undefined) | null = null;
  let release: (() => void) | null = null;
  /** Settled once what was open before is written. */
  let closed: Promise<void> = Promise.resolve();

  function onKept(how: 'saving' | 'saved' | 'failed'): void {
    if (how === 'saved') savedAt.value = new Date();
    if (how === 'failed' && saved.value !== 'failed')
      notices.say(
        'problem',
        'This browser could not keep the project: its storage is full or closed. Work goes on; save a project file on Dispatch.',
      );
    saved.value = how;
  }

  let resting: ReturnType<typeof setTimeout> | undefined;
  function keepViewNow(): void {
    clearTimeout(resting);
    if (project.value && !readOnly.value)
      void keepView(project.value.id, { ...selection.value, camera }).catch(() => undefined);
  }

  function setCamera(c: ViewState['camera']): void {
    camera = c;
    clearTimeout(resting);
    resting = setTimeout(keepViewNow, VIEW_RESTS);
  }

  /** Writes what is not written yet; the page calls it when it goes. */
  function saveNow(): Promise<void> {
    keepViewNow();
    return keeper?.settle() ?? Promise.resolve();
  }

  /**
   * Opens a kept project; false when there is none. One tab at a time may change it: others look on, and the next one
   * takes over when it closes.
   */
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
    if (readOnly.value) around.onlyLooking();
    const view = await readView(id);
    around.forget();
    camera = view?.camera;
    await standOn(opened, view);
    return true;
  }

  /** Shows a project as it was left, and keeps it from here on where it may be changed. */
  async function standOn(opened: Opened, at: Partial<ViewState> | null): Promise<void> {
    const { project: p } = opened;
    for (const hash of meshesUsed(p)) await loadMesh(hash);
    around.loadHistory(opened.history);
    around.clear();
    project.value = p;
    const whole = () => ({
      project: around.before() ?? project.value!,
      history: around.keptHistory(),
      thumbnail: thumbnail?.(),
    });
    keeper = readOnly.value ? null : new Keeper(p.id, opened, whole, onKept);
    selection.value = {
      part: at?.part ?? p.parts[0]?.id ?? null,
      course: at?.course ?? null,
      cutter: at?.cutter ?? null,
    };
    state.settle();
    around.show();
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

  /** Closes the project; resolves when all of it is written and another tab may have it. */
  function close(): Promise<void> {
    if (!project.value && !release) return closed;
    around.dropPreview();
    const [free, writing] = [release, saveNow()];
    release = null;
    keeper = null;
    project.value = null;
    around.clear();
    readOnly.value = false;
    closed = writing.finally(() => free?.());
    return closed;
  }

  return {
    saved,
    savedAt,
    note: (entry: Entry): void => keeper?.note(entry),
    keepViewNow,
    setCamera,
    saveNow,
    open,
    close,
    cameraKept: () => camera,
    viewNow: () => viewNow?.() ?? camera,
    setViewNow: (f: typeof viewNow): void => {
      viewNow = f;
    },
    setThumbnail: (f: typeof thumbnail): void => {
      thumbnail = f;
    },
  };
}
