import { applyPatch, patchOf, type Patch } from '@dusky-mason/core/courses';

/** A step that can be taken back: what it was called, what it changed, and what takes that back. */
export interface Step {
  title: string;
  there: Patch;
  back: Patch;
}

/**
 * What is kept of a history: steps that can be taken back, the last one last, and steps that were taken back, the next
 * one last.
 */
export interface KeptHistory {
  done: Step[];
  undone: Step[];
}

/** How many steps can be taken back. A step holds what it changed, and shares the rest. */
const MOST_STEPS = 500;

/** Undo and redo over states that are never changed in place. */
export class History<T> {
  private done: Step[] = [];
  private undone: Step[] = [];

  /** Records a change; the step, or null when nothing changed. */
  record(title: string, before: T, after: T): Step | null {
    const there = patchOf(before, after);
    const back = patchOf(after, before);
    if (!there || !back) return null;
    const step = { title, there, back };
    this.push(step);
    return step;
  }

  /** Lays a step on the others, done already. */
  push(step: Step): void {
    this.done.push(step);
    if (this.done.length > MOST_STEPS) this.done.shift();
    this.undone = [];
  }

  /** The step taken back last, and the state before it; undefined where there is none. */
  undo(now: T): { title: string; state: T } | undefined {
    const step = this.done.pop();
    if (!step) return undefined;
    this.undone.push(step);
    return { title: step.title, state: applyPatch(now, step.back) as T };
  }

  /** The step done again, and the state after it. */
  redo(now: T): { title: string; state: T } | undefined {
    const step = this.undone.pop();
    if (!step) return undefined;
    this.done.push(step);
    return { title: step.title, state: applyPatch(now, step.there) as T };
  }

  get undoTitle(): string | undefined {
    return this.done.at(-1)?.title;
  }

  get redoTitle(): string | undefined {
    return this.undone.at(-1)?.title;
  }

  get kept(): KeptHistory {
    return { done: [...this.done], undone: [...this.undone] };
  }

  load({ done, undone }: KeptHistory): void {
    this.done = [...done];
    this.undone = [...undone];
  }
}
