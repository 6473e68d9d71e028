import { onBeforeUnmount, shallowReactive, watch } from 'vue';

/** Something that can be done, by name. */
export interface Command {
  id: string;
  title: string;
  /** Other words that it is found by. */
  also?: string;
  /** Keys, such as `Ctrl+Z`, where it has some. */
  keys?: string;
  /** Whether it can be done now; always, if left out. */
  when?: () => boolean;
  run: () => void;
}

const all = shallowReactive(new Map<string, Command>());

/** Makes commands known as long as the calling component lives; a function gives those that change with what is there. */
export function useCommands(given: readonly Command[] | (() => readonly Command[])): void {
  let known: readonly Command[] = [];
  const forget = () => {
    for (const c of known) if (all.get(c.id) === c) all.delete(c.id);
  };
  const learn = (list: readonly Command[]) => {
    forget();
    known = list;
    for (const c of list) all.set(c.id, c);
  };
  if (typeof given === 'function') watch(given, learn, { immediate: true });
  else learn(given);
  onBeforeUnmount(forget);
}

export const canRun = (c: Command): boolean => c.when?.() ?? true;

/** Commands whose words hold every word typed: those that can be done now first, else in the order of the page. */
export function findCommands(typed: string): Command[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (c: Command) => words.every((w) => `${c.title} ${c.also ?? ''}`.toLowerCase().includes(w));
  return [...all.values()].filter(fits).sort((a, b) => Number(canRun(b)) - Number(canRun(a)));
}

/**
 * Whether typing goes into a field, so that keys are not commands. In a number field where nothing is typed that is not settled,
 * undo and its like are the project's.
 */
export function isTyping(e: Event): boolean {
  const t = e.target;
  if (!(t instanceof HTMLElement)) return false;
  if (e instanceof KeyboardEvent && (e.ctrlKey || e.metaKey) && t.dataset.settled === 'true') return false;
  return t.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(t.tagName);
}

/** The command that a key press asks for, if any. */
export function commandFor(e: KeyboardEvent): Command | undefined {
  const name = [e.ctrlKey || e.metaKey ? 'Ctrl' : '', e.shiftKey ? 'Shift' : '', e.altKey ? 'Alt' : '', e.key.length === 1 ? e.key.toUpperCase() : e.key].filter(Boolean).join('+'); // prettier-ignore
  return [...all.values()].find((c) => c.keys?.split(', ').includes(name) && canRun(c));
}
