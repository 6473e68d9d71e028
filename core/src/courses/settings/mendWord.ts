import type { z } from 'zod';
import type { ElementKind } from '../../mend/index.ts';
import type { LengthUnit } from '../../units/index.ts';
import { countWords } from '../base/picks.ts';
import type { MEND_PARAMS, MendKindName } from './mends.ts';

export type MendParams<K extends MendKindName> = z.infer<(typeof MEND_PARAMS)[K]>;

/** How a mend is called, and what it says of itself. Apart from what it does, so that a page which only tells of mends need not carry them. */
export interface MendWords<K extends MendKindName> {
  title: string;
  /** What it may be picked on; the first is what it is for. */
  on: readonly ElementKind[];
  /** Fewest elements that it needs. */
  least?: number;
  /** Whether a closed part may come open by it: then that is not told. */
  opens?: boolean;
  /** Whether it is there to change the surface: then it is not told how far it went. */
  reshapes?: boolean;
  /** Whether it may stand there and do nothing, to be moved in the view. */
  waits?: boolean;
  /** Other words that it is found by. */
  also: string;
  /** What it does, and what it did. */
  says(params: MendParams<K>, did: Record<string, number> | undefined, unit: LengthUnit): string;
}

/** Declares the words of a kind. */
export const words = <K extends MendKindName>(_kind: K, w: MendWords<K>): MendWords<K> => w;
export const n = (did: Record<string, number> | undefined, key: string): number => did?.[key] ?? 0;
/** How many of a kind there were, by a figure of what was done; of what was not done yet the kind alone: `3 vertices`, `vertices`. */
export const some = (where: ElementKind, did: Record<string, number> | undefined, key: string): string =>
  did ? countWords(where, n(did, key)) : countWords(where, 2).slice(2);
/** A number with its word: `1 band`, `2 bands`. */
export const many = (did: Record<string, number> | undefined, key: string, word: string): string =>
  `${n(did, key).toLocaleString('en')} ${word}${n(did, key) === 1 ? '' : 's'}`;
