import { z } from 'zod';
import { angle, choice, count, flag, length, lengthOrZero, offset, onlyWhen, share, triple } from '../base/fields.ts';
import { ALL_OUTLINES, everything, type PickedOn, PickSchema } from '../base/picks.ts';
import { DRESS_PARAMS } from './dresses.ts';
import { LEAST_CELLS, MOST_CELLS } from '../../recast/index.ts';

// The settings of every mend: what it works on, and how.

/** What a mend works on; all of a kind, where it can do without a pick. */
const pick = (all?: PickedOn) => (all ? PickSchema.default(everything(all)) : PickSchema);

const axis = (title: string) => choice(title, 'x', { x: 'X', y: 'Y', z: 'Z' });
const splitBy = {
  by: choice('At', 'share', { share: 'a share', distance: 'a distance', parts: 'equal parts' }),
  share: onlyWhen(share('Of the length', 0.5), 'by', ['share']),
  distance: onlyWhen(length('Distance', 2), 'by', ['distance']),
  parts: onlyWhen(count('Parts', 2, 2, 1000), 'by', ['parts']),
};
const keep = choice('Keeps', 'above', { above: 'the far side (+)', below: 'the near side (−)' });

/** The settings of each kind of mend, and of what dresses edges, which works on picks as a mend does. */
export const MEND_PARAMS = {
  ...DRESS_PARAMS,
  weld: z.object({
    distance: length('Nearer than', 0.01, 'Vertices that near become one.'),
    outline: flag('Cut outlines, too', false, 'Else what is near an outline goes to it, and the outline stays.'),
    detail: lengthOrZero('Detail size', 0, 'Lots that reach further than this are told of. 0: none.'),
    spare: flag('Spare details', true),
    pick: pick('vertex'),
  }),
  merge: z.object({
    where: choice('Into', 'middle', { first: 'the first picked', last: 'the last picked', middle: 'their middle' }),
    pick: pick(),
  }),
  toOutline: z.object({
    distance: length(
      'Nearer than',
      1,
      'Vertices that near a cut outline go into its nearest vertex, else onto its edge.',
    ),
    pick: pick('vertex'),
  }),
  slide: z.object({
    share: share('Along the edge', 0.5, 'From the first picked towards the second; all of it merges them.'),
    pick: pick(),
  }),
  dissolve: z.object({ pick: pick() }),
  remove: z.object({ pick: pick() }),
  fill: z.object({
    way: choice('With', 'face', { face: 'one face', fan: 'a fan', ears: 'triangles', grid: 'a grid of quads' }),
    across: onlyWhen(count('Quads along one side', 0, 0, 10_000, '0: as its corners suggest.'), 'way', ['grid']),
    shift: onlyWhen(count('Corners moved on by', 0, -10_000, 10_000), 'way', ['grid']),
    pick: pick('edge'),
  }),
  bridge: z.object({
    segments: count('Segments', 1, 1, 500),
    twist: count('Twist', 0, -10_000, 10_000, 'By so many corners.'),
    bulge: offset('Bulge', 0, 'How far its middle stands out.'),
    pick: pick(),
  }),
  connect: z.object({ pick: pick() }),
  line: z.object({
    through: flag('Through to the back', false, 'The whole part is parted along the plane of its first stretch.'),
    /** Where the line goes: on which of the picked edges, and at which share of it. */
    stops: z
      .array(z.tuple([z.number().int().min(0), z.number().min(0).max(1)]))
      .min(2)
      .max(2000),
    pick: pick(),
  }),
  split: z.object({ ...splitBy, pick: pick() }),
  loop: z.object({
    ...splitBy,
    both: onlyWhen(flag('On both sides', false), 'by', ['share', 'distance']),
    flipped: onlyWhen(flag('From the other side', false), 'both', ['false']),
    pick: pick(),
  }),
  divide: z.object({ n: count('Into n × n', 2, 2, 64), pick: pick('face') }),
  inset: z.object({
    most: flag('As far as there is room', false),
    distance: onlyWhen(length('Distance', 1), 'most', ['false']),
    group: flag('As one', false, 'Faces that hang together get one band round them.'),
    depth: offset('Raised by', 0),
    pick: pick(),
  }),
  extrude: z.object({
    distance: offset('Distance', 5, 'Below 0 into the material.'),
    along: choice('Along', 'normal', { normal: 'normals', x: 'X', y: 'Y', z: 'Z' }),
    group: flag('As one', true),
    back: flag('Leave a back', false, 'So that a sheet becomes a body.'),
    pick: pick(),
  }),
  detach: z.object({ pick: pick() }),
  move: z.object({
    by: triple('Moved', 'lengths'),
    normal: offset('Along normals', 0),
    edge: offset('Along the first edge', 0, 'Of what is picked; of vertices from the first one towards the second.'),
    turn: triple('Turned', 'angles'),
    scale: triple('Scaled', 'factors'),
    about: choice('About', 'middle', { middle: 'the middle of the pick', origin: 'the origin' }),
    soft: lengthOrZero('Soft within', 0, 'What is that near goes along, less and less.'),
    pick: pick(),
  }),
  shapeRun: z.object({
    into: choice('Made', 'round', { round: 'round', even: 'evenly stepped', flat: 'flat', straight: 'straight' }),
    along: onlyWhen(
      choice('Round', 'own', { own: 'in its own plane', x: 'along X', y: 'along Y', z: 'along Z' }),
      'into',
      ['round'],
    ),
    radius: onlyWhen(lengthOrZero('Radius', 0, '0: the one that fits best.'), 'into', ['round']),
    even: onlyWhen(flag('Evenly stepped', false), 'into', ['round']),
    pick: pick(),
  }),
  match: z.object({ pick: pick() }),
  align: z.object({
    to: choice(
      'To',
      'axis',
      {
        axis: 'one place of an axis',
        plane: 'the plane of what is picked first',
        line: 'the line of what is picked first',
      },
      'The first face, edge or vertices of the pick say which plane or line; the others go there.',
    ),
    axis: onlyWhen(axis('To one place of'), 'to', ['axis']),
    own: onlyWhen(flag('Their mean', true), 'to', ['axis']),
    at: onlyWhen(offset('At', 0), 'own', ['false']),
    pick: pick(),
  }),
  tie: z.object({
    way: choice(
      'Ties',
      'short',
      { short: 'short', corners: 'to the corners', bevel: 'square', light: 'level' },
      'What comes next decides: to the corners for a subdivision, square to the outlines for a bevel that slides along them, level for light on a bent face.',
    ),
    pick: pick('face'),
  }),
  moveTie: z.object({ pick: pick() }),
  plane: z.object({
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
  mirror: z.object({
    through: choice('Plane', 'axis', { axis: 'square to an axis', picked: 'of the picked face, or of three vertices' }),
    axis: onlyWhen(axis('Across'), 'through', ['axis']),
    at: onlyWhen(offset('Plane at', 0), 'through', ['axis']),
    keep,
    second: onlyWhen(
      choice('And across', 'none', { none: 'no other', x: 'X', y: 'Y', z: 'Z' }, 'A quarter over all.'),
      'through',
      ['axis'],
    ),
    live: flag('Stays on top', true, 'New courses go under it, and so show on both sides.'),
    threshold: lengthOrZero('Onto the plane within', 0.001, 'Vertices that near are shared by both halves.'),
    pick: pick('face'),
  }),
  symmetric: z.object({
    axis: axis('Across'),
    at: offset('Plane at', 0),
    within: length('Partners within', 0.1),
    pick: pick('vertex'),
  }),
  orient: z.object({
    way: choice(
      'Turn over',
      'flip',
      { flip: 'what is picked', consistent: 'the odd ones out', outward: 'all to look outward' },
      'The odd ones out are the lesser part of a piece. Outward goes shell by shell: a hollow within a body looks into the hollow.',
    ),
    pick: pick('face'),
  }),
  tidy: z.object({
    tolerance: lengthOrZero('Tiny is below', 0, '0: a ten-thousandth of the size.'),
    pick: pick('vertex'),
  }),
  quads: z.object({
    goal: choice('For', 'shape', {
      shape: 'best shapes',
      fewest: 'fewest faces',
      subdivision: 'a subdivision',
    }),
    split: flag(
      'Edges may be split',
      true,
      'Straight edges, for better shapes; and others where a triangle would be left else.',
    ),
    pairs: angle(
      'Triangles in pairs below',
      20,
      0,
      90,
      'Triangles become quads where the surface bends by less. 0: none.',
    ),
    pick: pick('face'),
  }),
  collar: z.object({
    width: length('Width', 5, 'From the edges to the outer edge of the band.'),
    rows: count('Quads across', 2, 1, 64),
    sides: choice('On', 'both', { both: 'both sides', surface: 'the side of the part', walls: 'the walls of the cut' }),
    aim: choice(
      'Spokes',
      'square',
      { square: 'square', own: 'on own edges', across: 'on from beyond' },
      'Own edges come to the line on the same side; on from beyond is in line with those of the other side.',
    ),
    shift: offset('Outer edge moved by', 0, 'Along the edges; spokes on edges stay.'),
    pick: PickSchema.default(ALL_OUTLINES),
  }),
  heal: z.object({
    tolerance: lengthOrZero('Cracks up to', 0, '0: as its gaps suggest.'),
    widest: lengthOrZero('Openings up to', 0, '0: all but those of a sheet.'),
    as: choice('It is', 'seen', { seen: 'what it looks like', sheet: 'a sheet, left open', body: 'a body, closed' }),
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
  recast: z.object({
    cells: count(
      'Cells along the longest side',
      64,
      LEAST_CELLS,
      MOST_CELLS,
      'Twice as many take eight times as long.',
    ),
    pick: pick('face'),
  }),
  gathered: z.object({
    /** Mends that are one course, from the first to the last, each with the settings of its kind. */
    edits: z
      .array(
        z.object({ kind: z.string().max(40), name: z.string().max(200), params: z.record(z.string(), z.unknown()) }),
      )
      .min(1)
      .max(1000),
    pick: pick('vertex'),
  }),
} as const;
export type MendKindName = keyof typeof MEND_PARAMS;

/** Whether a kind is one of a mend or of what dresses edges. */
export const isMendKind = (kind: string): kind is MendKindName => Object.hasOwn(MEND_PARAMS, kind);
