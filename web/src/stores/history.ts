/** A step that can be taken back: what it was called, and what came before and after it. */
export interface Step<T> {
  title: string;
  before: T;
  after: T;
}

/** How many steps can be taken back. States share what they have in common, so a step costs about what it changed. */
const MOST_STEPS = 500;

/** Undo and redo over states that are never changed in place. */
export class History<T> {
  private done: Step<T>[] = [];
  private undone: Step<T>[] = [];

  record(title: string, before: T, after: T): void {
    this.done.push({ title, before, after });
    if (this.done.length > MOST_STEPS) this.done.shift();
    this.undone = [];
  }

  undo(): Step<T> | undefined {
    const step = this.done.pop();
    if (step) this.undone.push(step);
    return step;
  }

  redo(): Step<T> | undefined {
    const step = this.undone.pop();
    if (step) this.done.push(step);
    return step;
  }

  get undoTitle(): string | undefined {
    return this.done.at(-1)?.title;
  }

  get redoTitle(): string | undefined {
    return this.undone.at(-1)?.title;
  }

  clear(): void {
    this.done = [];
    this.undone = [];
  }
}
