import { z } from 'zod';
import { n, stroke, pick, some, many } from './stroke.ts';
import { PickSchema, ALL_SEAMS } from '../base/picks.ts';
import { length, lengthOrZero, choice, flag, angle, count, offset } from '../base/fields.ts';
import { formatLength } from '../../units/index.ts';
import { COLLAR_DEFAULTS, HEAL_DEFAULTS, QUAD_DEFAULTS } from '../../mend/index.ts';
import { LEAST_CELLS, MOST_CELLS } from '../../recast/index.ts';

/** What the setting for gathered rims does. */
const GATHERS = 'Removes the vertices of a cut edge at which only edges of the surface beside it end.';

// Strokes that find by themselves what there is to do.

/** The result of a healing in one line; steps that found nothing are left out. */
function healSays(counts: Record<string, number>): string {
  const x = (word: string, ...keys: string[]) =>
    keys.reduce((s, k) => s + n(counts, k), 0) ? [`${word} ${keys.reduce((s, k) => s + n(counts, k), 0)}`] : [];
  const list = [
    ...x('welds', 'weld', 'stitch', 'sides'),
    ...x('drops', 'doubled', 'flat', 'walls', 'shells'),
    ...x('parts', 'parted'),
    ...x('fills', 'filled'),
    ...x('turns', 'outward'),
    ...x('resolves', 'crossed'),
    ...x('unites', 'united'),
  ];
  return list.length ? `heals: ${list.join(', ')}` : 'finds nothing to heal';
}

export const BY_THEMSELVES = {
  tidy: stroke({
    title: 'Tidy',
    explains: 'Takes out what cuts leave: vertices in straight runs, tiny edges, narrow faces.',
    on: ['vertex', 'edge', 'face'],
    also: 'clean leftover collinear tiny edges slivers simplify',
    onEveryPart: true,
    settings: z.object({
      tolerance: lengthOrZero('Tiny is below', 0, '0 means 1/10,000 of the size.'),
      pick: pick('vertex'),
    }),
    says: (_, counts) =>
      counts
        ? `takes out ${some('vertex', counts, 'straight')} of straight runs, ${some('edge', counts, 'collapsed').replace('edge', 'tiny edge')}, ${some('face', counts, 'narrow').replace('face', 'narrow face')}`
        : 'takes out what cuts leave',
  }),
  quads: stroke({
    title: 'To quads',
    explains: 'Lays n-gons and faces with holes out in quads.',
    on: ['face'],
    also: 'quadrangulate n-gons retopology grid polygons',
    onEveryPart: true,
    settings: z.object({
      goal: choice('For', QUAD_DEFAULTS.goal, {
        shape: 'best shapes',
        fewest: 'fewest faces',
        subdivision: 'a subdivision',
      }),
      split: flag(
        'Edges may be split',
        QUAD_DEFAULTS.split,
        'Splits straight edges for better shapes, and other edges where a triangle would be left otherwise.',
      ),
      gather: flag('Rims keep the segments of the cut', QUAD_DEFAULTS.gather, GATHERS),
      pairs: angle(
        'Triangles in pairs below',
        QUAD_DEFAULTS.pairs,
        0,
        90,
        'Two triangles become a quad where the surface bends by less than this. 0 turns this off.',
      ),
      all: flag(
        'All triangles in pairs',
        QUAD_DEFAULTS.all,
        'Off: only triangles that touch a face that is laid out, and all of a body of triangles.',
      ),
      density: lengthOrZero(
        'Edges about',
        QUAD_DEFAULTS.density,
        'Divides rows of longer edges evenly, but for those of round rims. 0 leaves edges as they come.',
      ),
      pick: pick('face'),
    }),
    says: (_, counts) =>
      counts
        ? `lays ${some('face', counts, 'faces')} out in ${many(counts, 'quads', 'quad')}${n(counts, 'triangles') ? ` and ${many(counts, 'triangles', 'triangle')}` : ''}${n(counts, 'paired') ? `, makes ${many(counts, 'paired', 'triangle')} quads` : ''}${n(counts, 'divided') ? `; divided rows add ${many(counts, 'divided', 'quad')}` : ''}`
        : 'lays faces out in quads',
  }),
  collar: stroke({
    title: 'Collar',
    explains: 'Lays a band of quads along both sides of a seam or of any edges.',
    on: ['edge'],
    also: 'band quads round hole seam loop support border strip',
    onEveryPart: true,
    settings: z.object({
      width: length('Width', COLLAR_DEFAULTS.width, 'From the edges to the outer edge of the band.'),
      rows: count('Quads across', COLLAR_DEFAULTS.rows, 1, 64),
      sides: choice('On', COLLAR_DEFAULTS.sides, {
        both: 'both sides',
        surface: 'the side of the part',
        walls: 'the walls of the cut',
      }),
      aim: choice(
        'Spokes',
        COLLAR_DEFAULTS.aim,
        { square: 'square', own: 'on own edges', across: 'on from beyond' },
        'Own edges meet the line on the same side. From beyond continues the edges of the other side.',
      ),
      shift: offset(
        'Outer edge moved by',
        COLLAR_DEFAULTS.shift,
        'Moves the outer edge along the line. Spokes that follow edges stay.',
      ),
      gather: flag('Rims keep the segments of the cut', COLLAR_DEFAULTS.gather, GATHERS),
      pick: PickSchema.default(ALL_SEAMS),
    }),
    says: (p, counts, unit) =>
      counts
        ? `lays ${many(counts, 'bands', 'band')} of ${many(counts, 'quads', 'quad')} along ${some('edge', counts, 'edges')}, ${formatLength(p.width, unit, 3)} wide${n(counts, 'narrowed') ? `, ${formatLength(n(counts, 'narrowest'), unit, 3)} at the narrowest` : ''}`
        : 'lays a band of quads along edges',
  }),
  heal: stroke({
    title: 'Heal',
    explains: 'Mends a damaged mesh, step by step, to a closed body or a clean sheet.',
    on: ['face'],
    opens: true,
    also: 'repair fix import damaged scan clean manifold watertight crack hole',
    onEveryPart: true,
    settings: z.object({
      tolerance: lengthOrZero('Cracks up to', HEAL_DEFAULTS.tolerance, '0 lets the gaps decide.'),
      widest: lengthOrZero('Openings up to', HEAL_DEFAULTS.widest, '0 fills all but the border of a sheet.'),
      as: choice('It is', HEAL_DEFAULTS.as, {
        seen: 'what it looks like',
        sheet: 'a sheet, left open',
        body: 'a body, closed',
      }),
      weld: flag('Vertices at one place', true),
      doubled: flag('Doubled faces', true),
      stitch: flag('Cracks', true),
      sides: flag('Sides split differently', true),
      flat: flag('Faces without area', true),
      walls: flag('Inner walls and fins', true),
      parted: flag('Pieces joined at a point', true),
      filled: flag('Openings', true),
      shells: flag('Bodies within a body', true),
      outward: flag('Faces that look inward', true),
      crossed: flag('Pieces that cross themselves', true),
      united: flag('Pieces that overlap', true),
      pick: pick('face'),
    }),
    says: (_, counts) => (counts ? healSays(counts) : 'brings damage to a sound body'),
  }),
  recast: stroke({
    title: 'Recast',
    explains: 'Rebuilds the part in quads through a volume grid, where mending is hopeless.',
    on: ['face'],
    also: 'rebuild volume grid voxel remesh watertight broken damage last resort',
    settings: z.object({
      cells: count(
        'Cells along the longest side',
        64,
        LEAST_CELLS,
        MOST_CELLS,
        'Twice as many cells take eight times as long.',
      ),
      pick: pick('face'),
    }),
    says: (_, counts, unit) =>
      counts
        ? `rebuilds it in ${many(counts, 'quads', 'quad')} from cells of ${formatLength(n(counts, 'cell'), unit, 3)}`
        : 'rebuilds a body through a volume grid',
  }),
} as const;
