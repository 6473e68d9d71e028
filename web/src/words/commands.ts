import type { StageName } from './stages.ts';
import { onBeforeUnmount, shallowReactive, watch } from 'vue';

/** A command of the page. */
export interface Command {
  id: string;
  title: string;
  /** Other words that it is found by. */
  also?: string;
  /** Keys, such as `Ctrl+Z`, where it has some. */
  keys?: string;
  /** Whether it can be done now; always, if left out. */
  when?: () => boolean;
  /** What is missing while it cannot be done, in a few words. */
  needs?: string | (() => string);
  /** The stage that it lives on, if it is one of a single stage. */
  stage?: StageName;
  run: () => void;
}

const all = shallowReactive(new Map<string, Command>());

/**
 * Makes commands known as long as the calling component lives; a function gives those that change with what is there.
 */
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

/** All commands that are known just now. */
export const knownCommands = (): Command[] => [...all.values()];

/** A command that is known just now, by its id. */
export const commandOf = (id: string): Command | undefined => all.get(id);

export const canRun = (c: Command): boolean => c.when?.() ?? true;

/** What is missing for a command that cannot be done now, in a few words. */
export const needsOf = (c: Command): string =>
  (typeof c.needs === 'function' ? c.needs() : c.needs) || 'not possible now';

/**
 * Commands whose words hold every word typed: those that can be done now first, among these those whose title begins
 * with what was typed.
 */
export function findCommands(typed: string, list: readonly Command[] = knownCommands()): Command[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (c: Command) => words.every((w) => `${c.title} ${c.also ?? ''}`.toLowerCase().includes(w));
  const begins = (c: Command) => Number(words.length > 0 && c.title.toLowerCase().startsWith(words[0]!));
  return list.filter(fits).sort((a, b) => Number(canRun(b)) - Number(canRun(a)) || begins(b) - begins(a));
}

/** A dialog that was closed and is still drawn while it fades: keys are no longer its own. */
const FADING = '[role=dialog][class*=leave]';

/** Whether a dialog is open, to which keys belong. */
export const dialogOpen = (): boolean => !!document.querySelector(`[role=dialog]:not(${FADING})`);

/**
 * Whether typing goes into a field, so that keys are not commands. In a number field where nothing is typed that is not
 * settled, undo and its like are the project's.
 */
export function isTyping(e: Event): boolean {
  const t = e.target;
  if (!(t instanceof HTMLElement) || t.closest(FADING)) return false;
  if (e instanceof KeyboardEvent && (e.ctrlKey || e.metaKey) && t.dataset.settled === 'true') return false;
  return t.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(t.tagName);
}

/** Keys that were given to commands by hand, by command; empty for none. */
const given = shallowReactive(new Map<string, string>());

/** Sets the keys that were given by hand, all at once. */
export function giveKeys(keys: Readonly<Record<string, string>>): void {
  given.clear();
  for (const [id, k] of Object.entries(keys)) given.set(id, k);
}

/** The keys of a command: those given by hand, else its own. */
export const keysOf = (c: Command): string => given.get(c.id) ?? c.keys ?? '';

/** A key press as it is written: `Ctrl+Shift+Z`, `C`, `ArrowUp`, `?`. */
export function keyName(e: KeyboardEvent): string {
  const letter = e.key.length === 1 && e.key.toUpperCase() !== e.key.toLowerCase();
  // Shift is part of a sign such as ?, and a key of its own beside a letter.
  const shift = e.shiftKey && (letter || e.key.length > 1);
  return [
    e.ctrlKey || e.metaKey ? 'Ctrl' : '',
    shift ? 'Shift' : '',
    e.altKey ? 'Alt' : '',
    e.key.length === 1 ? e.key.toUpperCase() : e.key,
  ]
    .filter(Boolean)
    .join('+');
}

/** The command that a key press asks for, if any: one that can be done now, else, with `any`, one that cannot. */
export function commandFor(e: KeyboardEvent, any = false): Command | undefined {
  const name = keyName(e);
  return [...all.values()].find((c) => keysOf(c).split(', ').includes(name) && (any || canRun(c)));
}

/**
 * Whether Esc steps back from where the focus is: not out of a field in which something is typed that is not settled
 * (there it puts that back), a list that is open, or a dialog, which close by it.
 */
export function escSteps(e: KeyboardEvent): boolean {
  const t = e.target;
  if (e.key !== 'Escape' || !(t instanceof HTMLElement)) return false;
  if (t.getAttribute('aria-expanded') === 'true') return false;
  if (t instanceof HTMLInputElement || t instanceof HTMLTextAreaElement)
    return /^(checkbox|radio|range|file)$/.test(t.type) || t.dataset.settled === 'true' || t.value === '';
  return !t.isContentEditable;
}

/** What the browser itself does with Ctrl, and keys that the page needs for going round and for typing. */
const TAKEN =
  /^(Ctrl\+(A|C|D|F|G|H|J|K|L|N|O|P|R|S|T|U|V|W|X|\d|Shift\+.*)|F\d+|Alt\+(ArrowLeft|ArrowRight|F|E|D|Home)|(Shift\+)?Tab|Enter|Escape| |Shift|Alt|Control|Meta|Ctrl\+Control|Shift\+Shift|Alt\+Alt)$/;

/**
 * Why a key cannot be given to a command, in words; null when it can. `list` are the commands that it must be told
 * from: those of other stages, too, as keys go with one from stage to stage.
 */
export function keyProblem(id: string, name: string, list: readonly Command[] = knownCommands()): string | null {
  if (TAKEN.test(name)) return `${name} is the browser’s or the page’s own. Choose another key.`;
  const other = list.find((c) => c.id !== id && keysOf(c).split(', ').includes(name));
  return other ? `${name} already does “${other.title}”. Choose another key, or take it away there first.` : null;
}
