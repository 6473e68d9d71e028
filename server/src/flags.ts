import { parseArgs } from 'node:util';
import { LONGEST, SHORTEST } from '@dusky-mason/core/courses';
import { SaidError, sentenceOf } from '@dusky-mason/core/mesh';
import { parseAngle, parseLength } from '@dusky-mason/core/units';

/** Bad usage: the command exits with 2. */
export class UsageError extends SaidError {}

/** Options that a command takes, each with a value or as a switch. */
export type Options = Readonly<Record<string, 'value' | 'switch'>>;

export interface Typed {
  args: string[];
  values: Record<string, string>;
  switches: Set<string>;
}

/**
 * What follows a name with two dashes is its value, though it begins with a dash, where it is a number or a list of
 * them.
 */
const NUMBERS = /^-[\d.][\d.,+\-°\p{L}]*$/u;

/**
 * The words and options of a command. Values may be negative numbers. Throws `UsageError` for an option that the
 * command does not take, one without its value, and one that is given twice.
 */
export function parseTyped(argv: readonly string[], options: Options, command: string): Typed {
  const joined: string[] = [];
  for (const a of argv) {
    const before = joined.at(-1);
    const name = before?.startsWith('--') && !before.includes('=') ? before.slice(2) : null;
    if (name && Object.hasOwn(options, name) && options[name] === 'value' && NUMBERS.test(a))
      joined[joined.length - 1] = `${before}=${a}`;
    else joined.push(a);
  }
  const { tokens } = parseArgs({
    args: joined,
    allowPositionals: true,
    strict: false,
    tokens: true,
    options: Object.fromEntries(
      Object.entries(options).map(([k, kind]) => [
        k,
        { type: kind === 'value' ? ('string' as const) : ('boolean' as const) },
      ]),
    ),
  });
  const out: Typed = { args: [], values: {}, switches: new Set() };
  for (const t of tokens) {
    if (t.kind === 'positional') out.args.push(t.value);
    if (t.kind !== 'option') continue;
    if (!Object.hasOwn(options, t.name))
      throw new UsageError(`mason ${command} takes no option "${t.rawName}"; see mason help.`);
    if (Object.hasOwn(out.values, t.name) || out.switches.has(t.name))
      throw new UsageError(`${t.rawName} is given twice.`);
    if (options[t.name] === 'switch') {
      if (t.value !== undefined) throw new UsageError(`${t.rawName} takes no value.`);
      out.switches.add(t.name);
    } else {
      if (!t.value) throw new UsageError(`${t.rawName} needs a value.`);
      out.values[t.name] = t.value;
    }
  }
  return out;
}

/** A word that an option may be given; the first one where it is not given. */
export function oneOf<T extends string>(flag: string, value: string | undefined, known: readonly [T, ...T[]]): T {
  const found = value === undefined ? known[0] : known.find((k) => k === value);
  if (!found) throw new UsageError(`--${flag} takes one of ${known.join(', ')}; it is "${value}".`);
  return found;
}

/** A number within bounds; a fallback where none is given. */
export function numberOf(flag: string, value: string | undefined, from: number, to: number, fallback: number): number {
  const x = value === undefined ? fallback : value.trim() ? Number(value) : NaN;
  if (!(x >= from && x <= to))
    throw new UsageError(`--${flag} takes a number from ${from} to ${to}; it is "${value}".`);
  return x;
}

/** A whole number within bounds; a fallback where none is given. */
export function wholeOf(flag: string, value: string | undefined, from: number, to: number, fallback: number): number {
  const x = value === undefined ? fallback : value.trim() ? Number(value) : NaN;
  if (!Number.isInteger(x) || x < from || x > to)
    throw new UsageError(`--${flag} takes a whole number from ${from} to ${to}; it is "${value}".`);
  return x;
}

/** A length in mm that is one; a plain number is in mm. */
export function lengthOf(flag: string, value: string | undefined): number {
  if (value === undefined) throw new UsageError(`--${flag} is missing; for example --${flag} 2mm.`);
  const x = said(flag, value, () => parseLength(value));
  if (!(x >= SHORTEST && x <= LONGEST))
    throw new UsageError(
      `--${flag} takes a length from ${SHORTEST} mm to ${LONGEST / 1e6} km, as in --${flag} 2mm; it is "${value}".`,
    );
  return x;
}

/** A length in mm from 0 on; a fallback where none is given. */
export function lengthFrom0(flag: string, value: string | undefined, fallback: number): number {
  if (value === undefined) return fallback;
  const x = said(flag, value, () => parseLength(value));
  if (!(x >= 0 && x <= LONGEST)) throw new UsageError(`--${flag} takes a length from 0 on; it is "${value}".`);
  return x;
}

/** An angle in degrees within bounds; a fallback where none is given. */
export function angleOf(flag: string, value: string | undefined, to: number, fallback: number): number {
  const x = value === undefined ? fallback : said(flag, value, () => parseAngle(value));
  if (!(x >= 0 && x <= to)) throw new UsageError(`--${flag} takes an angle from 0° to ${to}°; it is "${value}".`);
  return x;
}

/** What a value reads as; a `UsageError` with the option's name where it cannot be read. */
export function said<T>(flag: string, value: string, read: () => T): T {
  try {
    return read();
  } catch (e) {
    if (e instanceof UsageError) throw e;
    throw new UsageError(`--${flag} "${value}" cannot be read: ${sentenceOf(e)}`);
  }
}
