import { z } from 'zod';
import { WELD_DEFAULTS } from '../../mend/index.ts';
import { stroke, pick, some, n } from './stroke.ts';
import { countWords } from '../base/picks.ts';
import { length, flag, lengthOrZero, choice, share } from '../base/fields.ts';
import { formatLength } from '../../units/index.ts';

// Strokes that bring together what is picked, or take it out.

export const JOINING = {
  weld: stroke({
    title: 'Weld',
    explains: 'Merges vertices that are close together.',
    on: ['vertex', 'edge', 'face'],
    also: 'near vertices together close cracks',
    settings: z.object({
      distance: length('Nearer than', WELD_DEFAULTS.distance, 'Vertices closer than this become one.'),
      outline: flag(
        'Seams, too',
        WELD_DEFAULTS.seams,
        'Off: vertices near a seam snap to it, and the seam stays where it is.',
      ),
      detail: lengthOrZero(
        'Detail size',
        WELD_DEFAULTS.detail,
        'Clusters wider than this are reported. 0 turns this off.',
      ),
      spare: flag('Spare details', WELD_DEFAULTS.spare),
      pick: pick('vertex'),
    }),
    says: (p, counts, unit) =>
      counts
        ? `welds ${some('vertex', counts, 'merged')} nearer than ${formatLength(p.distance, unit)}`
        : 'welds vertices',
  }),
  merge: stroke({
    title: 'Merge',
    explains: 'Merges the picked vertices into one.',
    on: ['vertex'],
    least: 2,
    also: 'collapse join vertices',
    settings: z.object({
      where: choice('Into', 'middle', { first: 'the first picked', last: 'the last picked', middle: 'their middle' }),
      pick: pick(),
    }),
    says: (p, counts) =>
      `merges ${counts ? countWords('vertex', n(counts, 'merged') + 1) : 'vertices'} into ${{ first: 'the first', last: 'the last', middle: 'their middle' }[p.where]}`,
  }),
  toOutline: stroke({
    title: 'Weld onto the seam',
    explains: 'Moves vertices that are near a seam onto it.',
    on: ['vertex', 'edge', 'face'],
    also: 'seam snap seam leftover',
    settings: z.object({
      distance: length(
        'Nearer than',
        1,
        'Vertices closer than this to a seam snap to its nearest vertex, or else to its edge.',
      ),
      pick: pick('vertex'),
    }),
    says: (p, counts, unit) =>
      `puts ${some('vertex', counts, 'merged')} onto seams nearer than ${formatLength(p.distance, unit)}`,
  }),
  slide: stroke({
    title: 'Slide a vertex',
    explains: 'Slides a vertex along one of its edges.',
    on: ['vertex'],
    least: 2,
    also: 'along edge merge neighbour',
    settings: z.object({
      share: share('Along the edge', 0.5, 'From the first picked towards the second. 100 % merges them.'),
      pick: pick(),
    }),
    says: (p) =>
      p.share >= 1
        ? 'slides a vertex into its neighbour'
        : `slides a vertex by ${+(100 * p.share).toFixed(2)} % of its edge`,
  }),
  dissolve: stroke({
    title: 'Dissolve',
    explains: 'Removes the picked elements and joins the faces around them.',
    on: ['vertex', 'edge', 'face'],
    also: 'remove edge keep surface join faces',
    settings: z.object({ pick: pick() }),
    says: (_, counts) =>
      counts
        ? `makes ${some('face', counts, 'joined')} one with others, takes out ${some('vertex', counts, 'vertices')}`
        : 'takes out what is picked and keeps the surface',
  }),
  remove: stroke({
    title: 'Delete',
    explains: 'Deletes the picked faces and leaves openings.',
    on: ['face', 'edge', 'vertex'],
    opens: true,
    also: 'remove erase faces hole',
    settings: z.object({ pick: pick() }),
    says: (_, counts) => `takes out ${some('face', counts, 'faces')}`,
  }),
} as const;
