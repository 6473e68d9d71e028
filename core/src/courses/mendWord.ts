import type { z } from 'zod';
import type { ElementKind } from '../mend/index.ts';
import type { LengthUnit } from '../units/index.ts';
import type { MEND_PARAMS, MendKindName } from './mends.ts';
import { countWords } from './picks.ts';

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
export const faces = (x: number): string => countWords('face', x);
export const vertices = (x: number): string => countWords('vertex', x);
export const edges = (x: number): string => countWords('edge', x);
