import { defineStore } from 'pinia';
import { checked, freezePart, Shape, shortName, type Part } from '@dusky-mason/core/courses';
import { engine } from '../engine/engine.ts';
import { editing } from './editing.ts';
import { evaluation } from './evaluation.ts';
import { keeping, loadMesh } from './keeping.ts';
import { useNotices } from './notices.ts';
import { projectState } from './state.ts';

/**
 * The open project: the document and what is picked in it, its changes, where it is kept, and what the workers made of
 * it.
 */
export const useProject = defineStore('project', () => {
  const notices = useNotices();
  const state = projectState();
  const made = evaluation(state, {
    previewing: () => edits.before() !== null,
    change: (title, next) => edits.change(title, next),
  });
  const edits = editing(state, { show: made.show, note: (entry) => kept.note(entry) });
  const kept = keeping(state, { ...made, ...edits });

  function select(s: Parameters<typeof state.select>[0]): void {
    if (state.select(s)) made.show();
    kept.keepViewNow();
  }

  /** A part's result at a course, as a stored mesh. */
  async function meshOf(p: Part, courseId: number, title: string): Promise<Shape> {
    const { hash } = await engine().ask({ kind: 'freeze', part: p, course: courseId });
    await loadMesh(hash);
    return checked(Shape, { kind: 'mesh', hash, title: shortName(title) });
  }

  /** Freezes the part at hand up to a course. */
  async function freeze(courseId: number): Promise<void> {
    const p = state.part.value;
    if (!p || state.readOnly.value) return;
    try {
      const shape = await meshOf(p, courseId, `${p.name}, frozen`);
      edits.change(`Freeze ${p.name}`, freezePart(state.project.value!, p.id, courseId, shape));
      notices.say('said', `Frozen to one mesh. The courses are kept in "${p.name}, its courses".`);
    } catch (e) {
      made.onLost(e, p.id);
    }
  }

  const { project, selection, readOnly, part, course, cutter } = state;
  const { outcome, picture, fits, working, behind, stopWork } = made;
  const { undoTitle, redoTitle, previewing, onlyLooking, preview, change, dropPreview, undo, redo } = edits;
  const { saved, savedAt, setCamera, saveNow, open, close, cameraKept, viewNow, setViewNow, setThumbnail } = kept;
  return {
    ...{ project, selection, readOnly, part, course, cutter, select },
    ...{ outcome, picture, fits, working, behind, stopWork },
    ...{ undoTitle, redoTitle, previewing, onlyLooking, preview, change, dropPreview, undo, redo },
    ...{ saved, savedAt, setCamera, saveNow, open, close, cameraKept, viewNow, setViewNow, setThumbnail },
    ...{ loadMesh, meshOf, freeze },
  };
});
