import { z } from 'zod';
import { stroke, pick, some } from './stroke.ts';
import { choice } from '../base/fields.ts';

// Strokes on the edges that tie holes to the outline of their face.

export const TIES = {
  tie: stroke({
    title: 'Tie holes',
    explains: 'Joins the holes of faces to their surround with edges, called ties.',
    on: ['face'],
    also: 'edges hole surround corners',
    settings: z.object({
      way: choice(
        'Ties',
        'short',
        { short: 'short', corners: 'to the corners', bevel: 'square', light: 'level' },
        'Choose by what comes next: to the corners for a subdivision, square to the boundaries for a bevel that slides along them, level to keep the shading of a bent face.',
      ),
      pick: pick('face'),
    }),
    says: (p, counts) =>
      `ties the holes of ${some('face', counts, 'tied')}${{ short: '', corners: ' to their corners', bevel: ' square to boundaries', light: ', level over bends' }[p.way]}`,
  }),
  moveTie: stroke({
    title: 'Move a tie',
    explains: 'Moves one end of a tie to another vertex.',
    on: ['vertex'],
    least: 3,
    also: 'edge end elsewhere',
    settings: z.object({ pick: pick() }),
    says: () => 'moves one end of a tie',
  }),
} as const;
