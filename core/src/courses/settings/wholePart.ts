import { z } from 'zod';
import { stroke, pick, some, n } from './stroke.ts';
import { length, choice, onlyWhen, offset, share, flag, lengthOrZero } from '../base/fields.ts';
import { formatLength } from '../../units/index.ts';

// Strokes on the whole part.

const axis = (title: string) => choice(title, 'x', { x: 'X', y: 'Y', z: 'Z' });
const keep = choice('Keeps', 'above', { above: 'the far side (+)', below: 'the near side (−)' });

export const WHOLE_PART = {
  plane: stroke({
    title: 'Cut with a plane',
    explains: 'Cuts the part with a plane, and keeps one side or both.',
    on: ['face', 'vertex'],
    opens: true,
    also: 'slice section half',
    settings: z.object({
      through: choice('Plane', 'axis', { axis: 'square to an axis', points: 'through three picked vertices' }),
      axis: onlyWhen(axis('Square to'), 'through', ['axis']),
      by: onlyWhen(choice('At', 'distance', { distance: 'a distance', share: 'a share of the part' }), 'through', [
        'axis',
      ]),
      at: onlyWhen(offset('Distance', 0, 'From the origin.'), 'by', ['distance']),
      share: onlyWhen(share('Share', 0.5), 'by', ['share']),
      keep: choice('Keeps', 'both', { both: 'both sides', above: 'the far side (+)', below: 'the near side (−)' }),
      cap: onlyWhen(flag('Closed again', true), 'keep', ['above', 'below']),
      pick: pick('face'),
    }),
    says: (p, counts) =>
      `cuts ${some('face', counts, 'cut')} with a plane${p.keep === 'both' ? '' : ', keeps one side'}`,
  }),
  mirror: stroke({
    title: 'Mirror',
    explains: 'Replaces one half of the part with the mirror image of the other.',
    on: ['face', 'vertex'],
    also: 'symmetry half quarter reflect',
    settings: z.object({
      through: choice('Plane', 'axis', {
        axis: 'square to an axis',
        picked: 'of the picked face, or of three vertices',
      }),
      axis: onlyWhen(axis('Across'), 'through', ['axis']),
      at: onlyWhen(offset('Plane at', 0), 'through', ['axis']),
      keep,
      second: onlyWhen(
        choice(
          'And across',
          'none',
          { none: 'no other', x: 'X', y: 'Y', z: 'Z' },
          'Keeps a quarter and mirrors it twice.',
        ),
        'through',
        ['axis'],
      ),
      live: flag('Stays on top', true, 'New courses go below it, so they show on both sides.'),
      threshold: lengthOrZero(
        'Onto the plane within',
        0.001,
        'Vertices closer than this to the plane are shared by both halves.',
      ),
      pick: pick('face'),
    }),
    says: (p, counts) =>
      `mirrors across ${p.through === 'picked' ? 'what is picked' : p.axis.toUpperCase()}${p.through === 'picked' || p.second === 'none' ? '' : ` and ${p.second.toUpperCase()}`}${counts ? `; ${some('vertex', counts, 'snapped')} put onto the plane` : ''}`,
  }),
  symmetric: stroke({
    title: 'Make symmetric',
    explains: 'Moves vertices so that both halves of the part match.',
    on: ['vertex'],
    also: 'symmetrize mirror average',
    settings: z.object({
      axis: axis('Across'),
      at: offset('Plane at', 0),
      within: length('Partners within', 0.1),
      pick: pick('vertex'),
    }),
    says: (_, counts, unit) =>
      counts
        ? `pairs ${some('vertex', counts, 'paired')}, moved by ${formatLength(n(counts, 'furthest'), unit, 4)} at most${n(counts, 'unpaired') ? `; ${n(counts, 'unpaired')} differ` : ''}`
        : 'pairs vertices across a plane',
  }),
  orient: stroke({
    title: 'Turn faces',
    explains: 'Turns faces over so that they look outward.',
    on: ['face'],
    opens: true,
    also: 'flip normals reverse consistent outward',
    settings: z.object({
      way: choice(
        'Turn over',
        'flip',
        { flip: 'what is picked', consistent: 'the odd ones out', outward: 'all to look outward' },
        'The odd ones out are the smaller share of a piece. Outward works shell by shell: the faces of a hollow look into the hollow.',
      ),
      pick: pick('face'),
    }),
    says: (_, counts) => (counts ? `turns ${some('face', counts, 'turned')} over` : 'turns faces over'),
  }),
} as const;
