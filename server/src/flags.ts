import { MasonError } from '@dusky-mason/core/mesh';

/** A word that a flag may be given; the first one where it is not given. */
export function oneOf<T extends string>(flag: string, value: string | undefined, known: readonly [T, ...T[]]): T {
  const found = value === undefined ? known[0] : known.find((k) => k === value);
  if (!found) throw new MasonError('bad-input', `--${flag} takes one of ${known.join(', ')}; it is "${value}".`);
  return found;
}
