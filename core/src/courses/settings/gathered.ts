import { z } from 'zod';
import { stroke, pick, n } from './stroke.ts';

// A stroke that holds others.

export const GATHERED = {
  gathered: stroke({
    title: 'Gathered strokes',
    explains: 'Several strokes as one course.',
    on: ['vertex'],
    opens: true,
    also: 'several edits one course',
    settings: z.object({
      /** Strokes that are one course, from the first to the last, each with the settings of its kind. */
      edits: z
        .array(
          z.object({ kind: z.string().max(40), name: z.string().max(200), params: z.record(z.string(), z.unknown()) }),
        )
        .min(1)
        .max(1000),
      pick: pick('vertex'),
    }),
    says: ({ edits }, counts) => `${counts ? `does ${n(counts, 'done')} of ${edits.length}` : edits.length} strokes`,
  }),
} as const;
