import { z } from 'zod';
import {
  choice,
  count,
  factor3,
  type FieldMeta,
  flag,
  idField,
  length,
  nameField,
  onlyWhen,
  text,
  triple,
  vector3,
} from '../base/fields.ts';
import { notRepeated, RepeatSchema } from '../base/repeat.ts';
import { Shape } from '../base/shapeSpec.ts';

export const PlacementSchema = z.object({
  position: triple('Position', 'lengths'),
  /** Degrees about x, then y, then z. */
  turn: triple('Turn', 'angles'),
  scale: factor3.optional().meta({ title: 'Scale', as: 'factors' } satisfies FieldMeta),
});

export const CutterSchema = z.object({
  id: idField,
  name: nameField,
  shape: Shape,
  placement: PlacementSchema,
  through: flag('Through', false, 'Stretched along its z axis until it clears the part.'),
  /** Where else it stands. */
  repeat: RepeatSchema.default(notRepeated),
  /** Material slot of the walls it makes, where the cut asks for the cutters' own. */
  slot: text('Slot of its walls', ''),
});
export type Cutter = z.infer<typeof CutterSchema>;

export const ShapeParams = z.object({
  shape: Shape,
  placement: PlacementSchema,
  slot: text('Material slot', 'Body'),
});

const operation = choice('Does what', 'subtract', {
  subtract: 'remove',
  union: 'add',
  intersect: 'keep',
  split: 'split',
  scribe: 'scribe',
  kerf: 'kerf',
});
const of = <T extends z.ZodType>(field: T, ...operations: z.infer<typeof operation>[]): T =>
  onlyWhen(field, 'operation', operations);

/** The most cutters of one cut. */
export const MOST_CUTTERS = 10_000;

/** What leaves holes in faces. */
const MAKES_HOLES = ['subtract', 'union', 'intersect', 'split'] as const;

export const CutParams = z.object({
  operation,
  keeps: of(choice('Keeps', 'both', { both: 'both pieces', rest: 'the rest', offcut: 'the offcut' }), 'split'),
  reach: of(
    choice(
      'On',
      'all',
      { all: 'all surfaces', nearest: 'the first met' },
      'Searched against the projection direction.',
    ),
    'scribe',
    'kerf',
  ),
  along: of(
    choice(
      'Projected along',
      'own',
      {
        own: 'its own axis',
        normal: 'surface normal',
        x: 'X',
        y: 'Y',
        z: 'Z',
        set: 'as set below',
      },
      'The outline keeps its place in the cutter’s own plane; its sides run along this. The surface normal is that of the face nearest to the cutter.',
    ),
    'scribe',
    'kerf',
  ),
  fromBack: onlyWhen(flag('From the other side', false, 'Decides which of two surfaces comes first.'), 'reach', [
    'nearest',
  ]),
  /** Where `along` is a direction of its own: towards where one looks from, in the part's frame. */
  direction: vector3.refine((d) => Math.hypot(...d) > 0, 'A direction needs a length.').default([0, 0, 1]),
  width: of(length('Slit width', 2), 'kerf'),
  depth: of(length('Slit depth', 1, 'Below the surface, along its normal.'), 'kerf'),
  bottom: of(choice('Bottom', 'square', { square: 'square', v: 'V', round: 'round' }), 'kerf'),
  lines: of(count('Slits side by side', 1, 1, 50), 'kerf'),
  spacing: of(length('Spacing', 5, 'Centre to centre, outward.'), 'kerf'),
  joinFlush: of(
    flag('Join flush faces', true, 'Faces of part and cutter that end up level become one face.'),
    ...MAKES_HOLES,
  ),
  ties: of(
    choice(
      'Edges round new holes',
      'none',
      {
        none: 'none',
        short: 'short ties',
        corners: 'ties to corners',
        ring: 'ring of quads',
      },
      'Without ties, faces keep their holes. With two or more ties a hole, each face has one boundary.',
    ),
    ...MAKES_HOLES,
  ),
  ring: onlyWhen(length('Ring width', 4, 'Narrower where there is no room.'), 'ties', ['ring']),
  tidy: of(
    flag(
      'Tidy afterwards',
      false,
      'Removes vertices in straight runs, tiny edges and narrow faces beside the seam. The seam stays.',
    ),
    ...MAKES_HOLES,
  ),
  wallSlots: of(
    choice('Slot of new walls', 'part', {
      part: 'the part’s',
      cutter: 'the cutter’s',
      own: 'their own',
    }),
    'subtract',
    'union',
    'intersect',
    'split',
    'kerf',
  ),
  wallSlot: onlyWhen(text('Own slot', 'Walls'), 'wallSlots', ['own']),
  wallUvs: of(choice('UVs of new walls', 'box', { box: 'along the axes', strip: 'unrolled' }), ...MAKES_HOLES, 'kerf'),
  cutters: z.array(CutterSchema).min(1).max(MOST_CUTTERS),
});
