import { z } from 'zod';
import { BEVEL_DEFAULTS, HOLD_RIMS_DEFAULTS } from '../../dress/index.ts';
import { many, some, n, stroke } from './stroke.ts';
import { ALL_SEAMS, everything, type Pick, PickSchema } from '../base/picks.ts';
import { length, onlyWhen, choice, flag, count, text, angle, lengthOrZero } from '../base/fields.ts';
import { type LengthUnit, formatLength } from '../../units/index.ts';

// Strokes that dress edges: they stand above the cuts, so that a new cut is dressed like the rest.

/** Edges by a rule that is looked at anew above every cut. */
const sharper = (degrees: number): Pick => ({ by: 'sharper', on: 'edge', angle: degrees });

/** Whether bands are laid beneath a bevel. */
const over = (first: boolean) =>
  flag(
    'Over what lies beneath',
    first,
    'Where faces beside an edge leave no room, lays bands of quads over them, and bevels on these.',
  );

const bevelled = {
  width: onlyWhen(length('Width', BEVEL_DEFAULTS.width, 'From the edge to the end of the strip.'), 'measure', [
    'offset',
    'radius',
    'depth',
  ]),
  share: onlyWhen(
    z.number().min(0.1).max(1000).default(25).meta({
      title: 'Width',
      as: 'count',
      min: 0.1,
      max: 1000,
      hint: 'Percent of the shortest edge that meets the chain.',
    }),
    'measure',
    ['share'],
  ),
  measure: choice('Measured', BEVEL_DEFAULTS.measure, {
    offset: 'along the faces',
    radius: 'as the radius of the rounding',
    depth: 'as the depth of a flat below the edge',
    share: 'as a share',
  }),
  rolls: onlyWhen(
    flag('True to round surfaces', false, 'Rolls the ball on the smooth surfaces that the facets stand for.'),
    'measure',
    ['radius'],
  ),
  segments: onlyWhen(count('Segments', BEVEL_DEFAULTS.segments, 1, 32), 'profile', [
    'round',
    'straight',
    'hollow',
    'full',
    'own',
  ]),
  profile: choice('Profile', 'round', {
    round: 'round',
    straight: 'straight',
    hollow: 'hollow',
    full: 'full',
    own: 'in between',
    drawn: 'drawn',
  }),
  bulge: onlyWhen(
    z.number().min(-100).max(200).default(50).meta({
      title: 'Bulge',
      as: 'count',
      min: -100,
      max: 200,
      hint: 'In percent: −100 hollow, 0 straight, 100 round, 200 full.',
    }),
    'profile',
    ['own'],
  ),
  /** Of a drawn profile the points from one side to the middle: how far along, and how far out, in percent. */
  drawn: z
    .array(z.tuple([z.number().min(1).max(100), z.number().min(-100).max(200)]))
    .min(1)
    .max(8)
    .refine(
      (list) => list.every(([x], i) => i === 0 || x > list[i - 1]![0]),
      'Points of a profile follow each other towards the middle.',
    )
    .default([
      [30, 0],
      [50, 70],
      [100, 70],
    ]),
  inner: choice(
    'Inside corners of faces',
    'round',
    { round: 'gone round', mitre: 'mitred' },
    'For strips around a corner that points into a face.',
  ),
  past: choice(
    'Without room',
    BEVEL_DEFAULTS.past,
    {
      narrow: 'narrower there',
      meet: 'strips meet',
      clamp: 'chain narrower',
      stop: 'not at all',
    },
    'Narrows the bevel just there, or along the whole chain of connected edges, or lets strips meet in a line.',
  ),
  over: over(false),
  own: flag('Edges keep their own widths', true, 'Uses the width that was marked on an edge.'),
  strips: flag('Strips in a slot of their own', false),
  slot: onlyWhen(text('Their slot', 'Edges'), 'strips', ['true']),
};

/** The result of a bevel in one line. */
function bevelSays(
  p: { width: number; measure: string; share: number; segments: number; profile: string },
  counts: Record<string, number> | undefined,
  unit: LengthUnit,
): string {
  const width = p.measure === 'share' ? `${p.share} % of the shortest neighbour` : formatLength(p.width, unit, 3);
  const size = `${width}, ${p.profile === 'drawn' ? 'a drawn profile' : `${p.segments} segment${p.segments === 1 ? '' : 's'}`}`;
  if (!counts) return `bevels edges by ${size}`;
  return `bevels ${some('edge', counts, 'edges')} by ${size}${n(counts, 'narrowed') ? `; narrower at ${some('vertex', counts, 'narrowed')}` : ''}${n(counts, 'met') ? `; strips meet over ${some('face', counts, 'met')}` : ''}${n(counts, 'bands') ? `; on ${many(counts, 'bands', 'band')}` : ''}`;
}

export const EDGES = {
  finish: stroke({
    title: 'Edge finish',
    explains: 'Bevels every edge sharper than an angle. It stays above the cuts, so that a new cut is dressed, too.',
    on: ['edge'],
    reshapes: true,
    also: 'bevel all edges chamfer round fillet everyday',
    onEveryPart: true,
    settings: z.object({
      angle: angle(
        'Edges sharper than',
        30,
        1,
        179,
        'The angle by which the surface turns, measured again after every change below.',
      ),
      ...bevelled,
      over: over(true),
      pick: PickSchema.default(everything('edge')),
    }),
    says: (p, counts, unit) => bevelSays(p, counts, unit),
  }),
  bevel: stroke({
    title: 'Bevel',
    explains: 'Replaces the picked edges with strips, flat or rounded.',
    on: ['edge'],
    reshapes: true,
    also: 'chamfer round fillet edge strip',
    settings: z.object({
      ...bevelled,
      taper: lengthOrZero('Ends run out over', 0, 'Where a chain ends within a surface. 0 uses its last edge.'),
      pick: PickSchema,
    }),
    says: (p, counts, unit) => bevelSays(p, counts, unit),
  }),
  ownWidth: stroke({
    title: 'Own width',
    explains: 'Gives the picked edges a width of their own for any bevel above.',
    on: ['edge', 'face'],
    also: 'bevel width group of edges mark',
    settings: z.object({
      width: lengthOrZero('Width', 2, 'For a bevel above. 0 removes the mark.'),
      pick: PickSchema,
    }),
    says: (p, counts, unit) =>
      `marks ${some('edge', counts, 'edges')} with ${p.width ? formatLength(p.width, unit, 3) : 'no width'} of their own`,
  }),
  hold: stroke({
    title: 'Hold edges',
    explains: 'Lays lines on both sides of an edge, so that a subdivision keeps it tight.',
    on: ['edge'],
    also: 'holding support loops both sides subdivision',
    settings: z.object({
      distance: length('Distance', 1, 'From the edge to the lines on both sides.'),
      pick: PickSchema.default(sharper(30)),
    }),
    says: (p, counts, unit) =>
      `lays lines beside ${some('edge', counts, 'edges')}, ${formatLength(p.distance, unit, 3)} away${n(counts, 'narrowed') ? `; nearer at ${some('vertex', counts, 'narrowed')}` : ''}`,
  }),
  holdRims: stroke({
    title: 'Hold this rim',
    explains: 'Makes rims of holes ready for a subdivision, so that they stay round and of their size.',
    on: ['edge'],
    reshapes: true,
    also: 'hold rims round hole circle subdivision compensate support ring',
    onEveryPart: true,
    settings: z.object({
      distance: length('Distance', HOLD_RIMS_DEFAULTS.distance, 'From a rim to the rings on both sides.'),
      sharp: flag(
        'Rims stay sharp',
        HOLD_RIMS_DEFAULTS.sharp,
        'Off: their rings round them over, which widens them by about a sixth of the distance.',
      ),
      others: flag(
        'Other sharp edges stay sharp',
        HOLD_RIMS_DEFAULTS.others,
        'Creases all edges at which the surface turns by more than 30°.',
      ),
      by: choice(
        'Sizes are right at',
        HOLD_RIMS_DEFAULTS.by,
        { few: '2 or 3 levels', limit: 'the limit' },
        'A subdivision shrinks what is round. The cage is moved outward by as much.',
      ),
      pick: PickSchema.default(ALL_SEAMS),
    }),
    says: (p, counts, unit) =>
      counts
        ? `holds ${many(counts, 'rims', 'rim')} with ${many(counts, 'rings', 'ring')}, ${formatLength(p.distance, unit, 3)} away; cage up to ${formatLength(n(counts, 'moved'), unit, 3)} wider`
        : `holds rims with rings, ${formatLength(p.distance, unit, 3)} away`,
  }),
  hard: stroke({
    title: 'Hard edges',
    explains: 'Marks edges as hard or soft and sets the shading normals to match.',
    on: ['edge', 'face'],
    also: 'sharp soft smooth normals shading',
    settings: z.object({
      to: choice('Edges are', 'hard', { hard: 'hard', soft: 'soft' }),
      weight: choice(
        'Normals by',
        'angle',
        { angle: 'the angles of corners', area: 'the areas of faces', largest: 'the largest face' },
        'The largest face keeps the shading of flats exact and leaves the rounding to the strips beside them.',
      ),
      pick: PickSchema.default(sharper(30)),
    }),
    says: (p, counts) => `makes ${some('edge', counts, 'edges')} ${p.to}`,
  }),
  crease: stroke({
    title: 'Crease',
    explains: 'Keeps edges sharp for some rounds of a subdivision.',
    on: ['edge', 'face'],
    also: 'sharp subdivision weight semi-sharp',
    settings: z.object({
      sharpness: z.number().min(0).max(10).default(2).meta({
        title: 'Sharp for',
        as: 'count',
        min: 0,
        max: 10,
        hint: 'Levels of a subdivision. 0 removes it, 10 keeps the edge sharp at every level.',
      }),
      pick: PickSchema.default(sharper(30)),
    }),
    says: (p, counts) =>
      p.sharpness
        ? `keeps ${some('edge', counts, 'edges')} sharp for ${p.sharpness >= 10 ? 'ever' : `${p.sharpness} rounds`}`
        : `takes creases off ${some('edge', counts, 'edges')}`,
  }),
  cutOff: stroke({
    title: 'Cut corners off',
    explains: 'Cuts corners off: each picked vertex becomes a face.',
    on: ['vertex'],
    reshapes: true,
    also: 'vertex bevel chamfer truncate corner',
    settings: z.object({
      width: length('Width', 1, 'From the vertex along its edges.'),
      pick: PickSchema,
    }),
    says: (p, counts, unit) =>
      `cuts ${some('vertex', counts, 'cut')} off, ${formatLength(p.width, unit, 3)} along their edges${n(counts, 'narrowed') ? `; nearer at ${n(counts, 'narrowed')}` : ''}`,
  }),
} as const;
