import { computed, shallowRef, triggerRef } from 'vue';
import { changeProblem, followCutters, lockedTouched, type Project } from '@dusky-mason/core/courses';
import { History, type KeptHistory } from './history.ts';
import { useNotices } from './notices.ts';
import { tellField } from './refusals.ts';
import type { ProjectState } from './state.ts';
import type { Entry } from './storage.ts';

interface Around {
  show(): void;
  /** Keeps a step, or a way through the history, in the browser. */
  note(entry: Entry): void;
}

/** Changes of the document: a preview shows without being kept; a change is one step of the history and is saved. */
export function editing(state: ProjectState, around: Around) {
  const { project, readOnly } = state;
  const notices = useNotices();
  const history = new History<Project>();
  const historyShown = shallowRef(history);
  const undoTitle = computed(() => historyShown.value.undoTitle);
  const redoTitle = computed(() => historyShown.value.redoTitle);
  const previewFrom = shallowRef<Project | null>(null);
  const previewing = computed(() => previewFrom.value !== null);

  /** A refusal is said at the field that asked for the change, or as a notice. */
  function refuse(sentence: string, kind: 'warning' | 'problem' = 'problem'): void {
    if (!tellField(sentence)) notices.say(kind, sentence);
  }

  /** Tells of a locked part that a change would touch. */
  function held(next: Project): boolean {
    const locked = project.value && lockedTouched(previewFrom.value ?? project.value, next);
    if (locked) refuse(`"${locked.name}" is locked. Unlock it on its card to change it.`, 'warning');
    return !!locked;
  }

  /** Shows that the project is read-only, if it is. */
  function onlyLooking(): boolean {
    if (readOnly.value) refuse('This project is open in another tab; here it can only be looked at.', 'warning');
    return readOnly.value;
  }

  function preview(next: Project): void {
    if (onlyLooking() || (project.value && lockedTouched(previewFrom.value ?? project.value, next))) return;
    const settled = followCutters(next);
    if (changeProblem(project.value, settled)) return;
    previewFrom.value ??= project.value;
    project.value = settled;
    around.show();
  }

  function change(title: string, next: Project): void {
    if (onlyLooking()) return;
    if (held(next)) return dropPreview();
    const before = previewFrom.value ?? project.value;
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
    previewFrom.value = null;
    arriveAt(settled, { step });
  }

  function arriveAt(next: Project, entry: Entry): void {
    triggerRef(historyShown);
    project.value = next;
    around.note(entry);
    state.settle();
    around.show();
  }

  /** Takes a preview back. */
  function dropPreview(): void {
    if (!previewFrom.value) return;
    project.value = previewFrom.value;
    previewFrom.value = null;
    around.show();
  }

  function travel(way: 'undo' | 'redo', word: string): void {
    if (onlyLooking()) return;
    dropPreview();
    const step = project.value && history[way](project.value);
    if (!step) return;
    arriveAt(step.state, { travel: way });
    notices.say('said', `${word}: ${step.title}`);
  }

  function loadHistory(kept: KeptHistory): void {
    history.load(kept);
    triggerRef(historyShown);
  }

  return {
    undoTitle,
    redoTitle,
    previewing,
    onlyLooking,
    preview,
    change,
    dropPreview,
    undo: () => travel('undo', 'Taken back'),
    redo: () => travel('redo', 'Done again'),
    loadHistory,
    keptHistory: () => history.kept,
    /** What there was before the drag that is shown beforehand; null while there is none. */
    before: () => previewFrom.value,
  };
}
