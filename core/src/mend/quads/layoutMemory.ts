import { hashText } from '../../mesh/index.ts';

/**
 * Layouts of faces that were found before, by all that they follow from: a face that has not changed is not laid out
 * again. What the last two runs did not ask for is forgotten. Layouts are shared: nobody may write into them.
 */
export class LayoutMemory {
  private last = new Map<string, unknown>();
  private now = new Map<string, unknown>();

  /** Begins a run. */
  begin(): void {
    if (!this.now.size) return;
    this.last = this.now;
    this.now = new Map();
  }

  /** The layout that follows from some words (numbers, texts and lists of them), made if it is not known. */
  of<T>(words: unknown, make: () => T): T {
    const key = hashText(JSON.stringify(words));
    const held = [this.now, this.last].find((layouts) => layouts.has(key));
    const layout = held ? (held.get(key) as T) : make();
    this.now.set(key, layout);
    return layout;
  }

  /** How many layouts it holds. */
  get size(): number {
    return new Set([...this.last.keys(), ...this.now.keys()]).size;
  }
}
