import { z } from 'zod';
import { BRIDGE_DEFAULTS, FILL_DEFAULTS } from '../../mend/index.ts';
import { stroke, pick, many, some, n } from './stroke.ts';
import { length, choice, onlyWhen, share, count, offset, flag } from '../base/fields.ts';

// Strokes that close openings and split edges and faces.

const splitBy = {
  by: choice('At', 'share', { share: 'a share', distance: 'a distance', parts: 'equal parts' }),
  share: onlyWhen(share('Of the length', 0.5), 'by', ['share']),
  distance: onlyWhen(length('Distance', 2), 'by', ['distance']),
  parts: onlyWhen(count('Parts', 2, 2, 1000), 'by', ['parts']),
};
export const SPLITTING = {
  fill: stroke({
    title: 'Fill',
    explains: 'Closes openings with faces.',
    on: ['edge'],
    also: 'close hole cap opening grid fan',
    settings: z.object({
      way: choice('With', FILL_DEFAULTS.way, {
        face: 'one face',
        fan: 'a fan',
        ears: 'triangles',
        grid: 'a grid of quads',
      }),
      across: onlyWhen(
        count('Quads along one side', FILL_DEFAULTS.across, 0, 10_000, '0 lets its corners decide.'),
        'way',
        ['grid'],
      ),
      shift: onlyWhen(count('Corners moved on by', FILL_DEFAULTS.shift, -10_000, 10_000), 'way', ['grid']),
      pick: pick('edge'),
    }),
    says: (p, counts) =>
      `fills ${counts ? many(counts, 'filled', 'opening') : 'openings'} with ${some('face', counts, 'faces')}${p.way === 'grid' ? ' in a grid' : ''}`,
  }),
  bridge: stroke({
    title: 'Bridge',
    explains: 'Joins two openings with a tunnel of faces.',
    on: ['edge', 'face'],
    least: 2,
    also: 'connect loops tunnel',
    settings: z.object({
      segments: count('Segments', BRIDGE_DEFAULTS.segments, 1, 500),
      twist: count('Twist', BRIDGE_DEFAULTS.twist, -10_000, 10_000, 'Turns one loop by this many corners.'),
      bulge: offset('Bulge', BRIDGE_DEFAULTS.bulge, 'Pushes the middle out by this much.'),
      pick: pick(),
    }),
    says: (_, counts) => `bridges two loops with ${some('face', counts, 'faces')}`,
  }),
  connect: stroke({
    title: 'Connect',
    explains: 'Joins picked vertices with edges, one after the other.',
    on: ['vertex'],
    least: 2,
    also: 'edge between vertices cut join tie',
    settings: z.object({ pick: pick() }),
    says: (_, counts) =>
      `joins vertices by ${some('edge', counts, 'edges')}${n(counts, 'added') ? `, across ${n(counts, 'added')} others` : ''}`,
  }),
  line: stroke({
    title: 'Draw a line',
    explains: 'Cuts a line of edges through faces.',
    on: ['edge'],
    also: 'cut splits across faces straight',
    settings: z.object({
      through: flag('Through to the back', false, 'Splits the whole part along the plane of the first stretch.'),
      /** Stops of the line: on which picked edge, and at which share of it. */
      stops: z
        .array(z.tuple([z.number().int().min(0), z.number().min(0).max(1)]))
        .min(2)
        .max(2000),
      pick: pick(),
    }),
    says: (p, counts) =>
      `draws a line of ${p.stops.length} stops${p.through ? ' through to the back' : ''}${counts ? `, ${some('edge', counts, 'cut')}` : ''}`,
  }),
  split: stroke({
    title: 'Split edges',
    explains: 'Puts vertices into edges.',
    on: ['edge', 'face'],
    also: 'subdivide edge midpoint insert vertex',
    settings: z.object({ ...splitBy, pick: pick() }),
    says: (_, counts) => `puts ${some('vertex', counts, 'added')} into edges`,
  }),
  loop: stroke({
    title: 'Insert a loop',
    explains: 'Inserts a loop of edges across a ring of quads.',
    on: ['edge'],
    also: 'ring cut edge loop',
    settings: z.object({
      ...splitBy,
      both: onlyWhen(flag('On both sides', false), 'by', ['share', 'distance']),
      flipped: onlyWhen(flag('From the other side', false), 'both', ['false']),
      pick: pick(),
    }),
    says: (p, counts) => `cuts ${some('face', counts, 'cut')} by ${p.both && p.by !== 'parts' ? 'loops' : 'a loop'}`,
  }),
  divide: stroke({
    title: 'Divide faces',
    explains: 'Divides faces into a grid of quads.',
    on: ['face'],
    also: 'subdivide grid quads',
    settings: z.object({ n: count('Into n × n', 2, 2, 64), pick: pick('face') }),
    says: (p, counts) => `divides ${some('face', counts, 'divided')} into ${p.n} × ${p.n}`,
  }),
} as const;
