import { z } from 'zod';
import { angle, choice, count, flag, length, lengthOrZero, onlyWhen, text, vector3 } from '../base/fields.ts';
import { everything, type Pick, PickSchema } from '../base/picks.ts';

// The settings of every course that dresses edges: it stands above the cuts, so that a new cut is dressed like the rest.

/** Edges by a rule that is looked at anew above every cut. */
const sharper = (degrees: number): Pick => ({ by: 'sharper', on: 'edge', angle: degrees });

const bevelled = {
  width: onlyWhen(length('Width', 1, 'From the edge to where the strip ends.'), 'measure', [
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
      hint: 'In percent of the shortest edge that meets the chain.',
    }),
    'measure',
    ['share'],
  ),
  measure: choice('Measured', 'offset', {
    offset: 'along the faces',
    radius: 'as the radius of the rounding',
    depth: 'as the depth of a flat below the edge',
    share: 'as a share',
  }),
  rolls: onlyWhen(
    flag('True to round surfaces', false, 'The ball rolls on the surfaces that the facets stand for.'),
    'measure',
    ['radius'],
  ),
  segments: onlyWhen(count('Segments', 2, 1, 32), 'profile', ['round', 'straight', 'hollow', 'full', 'own']),
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
    'Of strips that go round a corner which stands into a face.',
  ),
  past: choice(
    'Without room',
    'narrow',
    {
      narrow: 'narrower there',
      meet: 'strips meet',
      clamp: 'chain narrower',
      stop: 'not at all',
    },
    'Narrower just there, or the whole chain: the edges that hang together. Strips meet in a line.',
  ),
  own: flag('Edges keep their own widths', true, 'Of edges that a width was marked on.'),
  strips: flag('Strips in a slot of their own', false),
  slot: onlyWhen(text('Their slot', 'Edges'), 'strips', ['true']),
};

/** Which smooth surface faces are held to. */
const guideChoice = choice(
  'Surface',
  'own',
  { own: 'of its bodies before the cuts', fitted: 'the smooth one nearest to these faces' },
  'The nearest one is fitted to the faces that it works on: pick those of one bent surface.',
);

/** The settings of each kind of dressing. */
export const DRESS_PARAMS = {
  finish: z.object({
    angle: angle(
      'Edges sharper than',
      30,
      1,
      179,
      'The angle by which the surface turns; looked at anew above every cut.',
    ),
    ...bevelled,
    pick: PickSchema.default(everything('edge')),
  }),
  bevel: z.object({
    ...bevelled,
    taper: lengthOrZero('Ends run out over', 0, 'Where a chain ends within a surface. 0: over its last edge.'),
    pick: PickSchema,
  }),
  cutOff: z.object({
    width: length('Width', 1, 'From the vertex along its edges.'),
    pick: PickSchema,
  }),
  ownWidth: z.object({
    width: lengthOrZero('Width', 2, 'Of a bevel above; 0: none of their own.'),
    pick: PickSchema,
  }),
  hold: z.object({
    distance: length('Distance', 1, 'From the edge to the lines on both sides.'),
    pick: PickSchema.default(sharper(30)),
  }),
  hard: z.object({
    to: choice('Edges are', 'hard', { hard: 'hard', soft: 'soft' }),
    weight: choice(
      'Normals by',
      'angle',
      { angle: 'the angles of corners', area: 'the areas of faces', largest: 'the largest face' },
      'The largest face alone keeps the light on flats exact, and leaves the rounding to the strips beside them.',
    ),
    pick: PickSchema.default(sharper(30)),
  }),
  crease: z.object({
    sharpness: z.number().min(0).max(10).default(2).meta({
      title: 'Sharp for',
      as: 'count',
      min: 0,
      max: 10,
      hint: 'So many rounds of a subdivision; 0: none, 10: for ever.',
    }),
    pick: PickSchema.default(sharper(30)),
  }),
  subdivide: z.object({
    levels: count('Levels', 2, 1, 4, 'Each makes four faces of one.'),
    limit: flag('Onto the limit surface', false, 'Vertices go to where no end of levels would bring them.'),
    corners: flag('Corners of open borders stay', true),
    uvs: choice('UVs', 'smooth', { smooth: 'smooth', straight: 'straight' }),
    pick: PickSchema.default(everything('face')),
  }),
  relight: z.object({
    surface: guideChoice,
    fade: lengthOrZero('Fades towards cuts over', 0, '0: right up to the edge of the cut.'),
    pick: PickSchema.default(everything('face')),
  }),
  reseat: z.object({
    surface: guideChoice,
    most: length('No vertex further than', 1),
    pick: PickSchema.default(everything('face')),
  }),
  cage: z.object({
    x: count('Parts along X', 1, 1, 8),
    y: count('Parts along Y', 1, 1, 8),
    z: count('Parts along Z', 2, 1, 8),
    smooth: flag('Smooth', true, 'Else straight from point to point.'),
    flats: flag('Flats stay flat', false, 'Those with sharp edges all round.'),
    axis: choice('Tapers along', 'z', { x: 'X', y: 'Y', z: 'Z' }),
    ratio: z.number().positive().max(100).default(0.8).meta({
      title: 'Far end times',
      as: 'factor',
      min: 0.01,
      max: 100,
      hint: 'How wide the far end becomes; 1: as it is.',
    }),
    /** Points of the cage that were moved: their places from 0 on, and how far, mm. */
    moves: z
      .array(
        z.object({
          point: z.tuple([
            z.number().int().min(0).max(8),
            z.number().int().min(0).max(8),
            z.number().int().min(0).max(8),
          ]),
          by: vector3,
        }),
      )
      .max(729)
      .default([]),
    pick: PickSchema.default(everything('vertex')),
  }),
  thicken: z.object({
    thickness: length('Thickness', 2),
    side: choice('Material', 'inside', { inside: 'on the back', outside: 'on the front', both: 'half on each' }),
    far: text('Slot of the far side', '', 'Empty: that of the near side.'),
    rim: text('Slot of the rim', ''),
    pick: PickSchema.default(everything('face')),
  }),
} as const;
export type DressKindName = keyof typeof DRESS_PARAMS;

/** Whether a course of a kind dresses: new cuts go under it. */
export const isDressKind = (kind: string): kind is DressKindName => Object.hasOwn(DRESS_PARAMS, kind);
