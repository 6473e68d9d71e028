import { z } from 'zod';
import type { ElementKind } from '../../mend/index.ts';
import type { LengthUnit } from '../../units/index.ts';
import { type PickedOn, PickSchema, everything, countWords } from '../base/picks.ts';

/** Counts of what a stroke did, by name. */
export type Counts = Record<string, number>;

/**
 * A stroke: a course on a pick, declared once. Form, file, check, search and headless run follow from this; the
 * operation is kept apart, so that a page which only lists strokes need not load it.
 */
export interface Stroke<S extends z.ZodObject = z.ZodObject> {
  title: string;
  /** What it is for, in a sentence. */
  explains: string;
  /** What it may be picked on; the first is what it is for. */
  on: readonly ElementKind[];
  /** Fewest elements that it needs. */
  least?: number;
  /** Whether it may open a closed part: then no warning is given. */
  opens?: boolean;
  /** Whether it changes the surface on purpose: then no drift is reported. */
  reshapes?: boolean;
  /** Whether it may be laid without an effect, to be moved in the view. */
  waits?: boolean;
  /** Whether it may be laid on every part at once. */
  onEveryPart?: boolean;
  /** Other words that it is found by. */
  also: string;
  settings: S;
  /** What it does, and what it did. */
  says(params: z.infer<S>, counts: Counts | undefined, unit: LengthUnit): string;
}

/** Declares a stroke. */
export const stroke = <S extends z.ZodObject>(s: Stroke<S>): Stroke<S> => s;

/** What a stroke works on; all of a kind, where it can do without a pick. */
export const pick = (all?: PickedOn) => (all ? PickSchema.default(everything(all)) : PickSchema);

export const n = (counts: Counts | undefined, key: string): number => counts?.[key] ?? 0;
/** A count with its kind, or, before anything was done, the kind alone: `3 vertices`, `vertices`. */
export const some = (where: ElementKind, counts: Counts | undefined, key: string): string =>
  counts ? countWords(where, n(counts, key)) : countWords(where, 2).slice(2);
/** A number with its word: `1 band`, `2 bands`. */
export const many = (counts: Counts | undefined, key: string, word: string): string =>
  `${n(counts, key).toLocaleString('en')} ${word}${n(counts, key) === 1 ? '' : 's'}`;
