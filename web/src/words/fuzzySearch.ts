import Fuse from 'fuse.js';
import type { Command } from './commands.ts';

/** How unlike a word may be: 0 the very word, 1 anything. */
const UNLIKE = 0.4;

/** Commands whose words are like what is typed, the most alike first: for words with a slip of the pen. */
export function similarCommands(typed: string, list: readonly Command[]): Command[] {
  const words = list.map((command) => ({ command, words: `${command.title} ${command.also ?? ''}`.split(/[\s,:]+/) }));
  const fuse = new Fuse(words, { keys: ['words'], threshold: UNLIKE, ignoreLocation: true, minMatchCharLength: 3 });
  return fuse.search(typed.trim()).map(({ item }) => item.command);
}
