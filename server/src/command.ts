import type { Options } from './flags.ts';

/** An option of a command, declared once: what is read, the help and the documentation follow from it. */
export interface OptionSpec {
  /** What its value is, such as `MM` or `a|b|c`; none for a switch. */
  takes?: string;
  says: string;
  /** What holds without it. */
  first?: string;
  needed?: boolean;
}

export type OptionSpecs = Readonly<Record<string, OptionSpec>>;

export type Write = (text: string) => void;

/** What was typed after a command. */
export interface Call {
  args: string[];
  values: Record<string, string>;
  on: (name: string) => boolean;
  json: boolean;
  write: Write;
}

/** A command of `mason`. */
export interface Command {
  /** What follows its word, such as `IN` or `TARGET CUTTER…`. */
  takes: string;
  words: readonly [least: number, most: number];
  says: string;
  /** Its options; of a command that has them from its first word, a function of that. */
  options: OptionSpecs | ((first: string | undefined) => OptionSpecs);
  /** What the help says after the options. */
  more?: string;
  run(call: Call): Promise<void>;
}

/** Ends with a status of its own, without a word: what there is to say was written. */
export class Ended extends Error {
  constructor(readonly status: number) {
    super();
  }
}

/** Exit status of the command: the words and numbers stay stable. */
export const EXIT = { done: 0, other: 1, usage: 2, notDone: 3, found: 4 } as const;

export const JSON_OPTION = { json: { says: 'Writes one line of JSON.' } } as const;
export const OUT_OPTION = { out: { takes: 'FILE', says: 'Writes the result: .obj, .stl or .glb.' } } as const;

export const specsOf = (c: Command, first?: string): OptionSpecs =>
  typeof c.options === 'function' ? c.options(first) : c.options;

/** The options as they are read. */
export const readAs = (specs: OptionSpecs): Options =>
  Object.fromEntries(Object.entries(specs).map(([name, { takes }]) => [name, takes ? 'value' : 'switch']));

const written = (name: string, { takes }: OptionSpec): string => `--${name}${takes ? ` ${takes}` : ''}`;

/** One line that says how a command is called. */
export function usageOf(word: string, c: Command): string {
  const options = Object.entries(specsOf(c)).map(([name, o]) =>
    o.needed ? written(name, o) : `[${written(name, o)}]`,
  );
  return [`mason ${word}`, c.takes, ...options].filter(Boolean).join(' ');
}

/** Columns of the help text, and where the second column begins. */
const WIDTH = 100;
const INDENT = 26;

function wrapped(text: string, indent: number): string {
  const lines = [''];
  for (const word of text.split(' ')) {
    if (lines.at(-1) && indent + lines.at(-1)!.length + word.length + 1 > WIDTH) lines.push('');
    lines.push([lines.pop(), word].filter(Boolean).join(' '));
  }
  return lines.join(`\n${' '.repeat(indent)}`);
}

const saidOf = ({ says, first, needed }: OptionSpec): string =>
  says + (needed ? ' Needed.' : first === undefined ? '' : ` Default: ${first}.`);

/** What a command's help says. */
export function helpOf(word: string, c: Command): string {
  const rows = Object.entries(specsOf(c)).map(([name, o]) => {
    const left = `  ${written(name, o)}`;
    const said = wrapped(saidOf(o), INDENT);
    return left.length < INDENT - 1 ? `${left.padEnd(INDENT)}${said}\n` : `${left}\n${' '.repeat(INDENT)}${said}\n`;
  });
  const head = `mason ${[word, c.takes].filter(Boolean).join(' ')} [options]\n\n${wrapped(c.says, 0)}\n`;
  return [head, rows.length ? `\n${rows.join('')}` : '', c.more ? `\n${c.more}\n` : ''].join('');
}

/** The same as a section of a document. */
export function sectionOf(word: string, c: Command): string {
  const cell = (text: string): string => text.replaceAll('|', '\\|');
  const rows = Object.entries(specsOf(c)).map(([name, o]) => `| \`${cell(written(name, o))}\` | ${cell(saidOf(o))} |`);
  const table = rows.length ? `\n| Option | What it does |\n| --- | --- |\n${rows.join('\n')}\n` : '';
  const more = c.more ? `\n\`\`\`text\n${c.more}\n\`\`\`\n` : '';
  return `### mason ${[word, c.takes].filter(Boolean).join(' ')}\n\n${c.says}\n${table}${more}`;
}

/** Prints the result, as lines or as JSON. */
export function tell(o: object, { json, write }: Pick<Call, 'json' | 'write'>): void {
  if (json) return write(`${JSON.stringify(o)}\n`);
  for (const [key, value] of Object.entries(o))
    write(`  ${key}: ${typeof value === 'object' ? JSON.stringify(value) : String(value)}\n`);
}
