import { z } from 'zod';
import { angle, choice, count, flag, length, lengthOrZero, offset, onlyWhen, vector3 } from './fields.ts';

const point2 = z.tuple([z.number().min(-1e7).max(1e7), z.number().min(-1e7).max(1e7)]);
const curve = z.array(z.number().min(-1e7).max(1e7)).max(10_000);
const radii = z.array(z.number().min(0).max(1e7)).max(10_000);
const run = z.array(point2).min(3).max(10_000);
/** Where a shape's own origin, its pivot, can be: the point that its position places and that it turns about. */
export const PIVOTS = {
  own: 'as made',
  middle: 'middle of its box',
  base: 'middle of its base',
  set: 'as set',
} as const;
export type Pivot = keyof typeof PIVOTS;
const pivot = {
  /** As made where it is left out. */
  pivot: z.enum(Object.keys(PIVOTS) as [Pivot, ...Pivot[]]).optional(),
  /** Where it is set: a place in the frame that the shape is made in, mm. */
  pivotAt: vector3.optional(),
};
const segments = (value = 32) => count('Segments', value, 3, 4096, 'How many flats go round.');

/**
 * Shapes that a part can start from and a cutter can be. Sizes in mm. Adding one here is all that its form, file and
 * check need.
 */
const SHAPES = {
  box: {
    title: 'Box',
    schema: z.object({
      kind: z.literal('box'),
      x: length('Length', 40),
      y: length('Width', 30),
      z: length('Height', 20),
      nx: count('Segments along length', 1, 1, 1000),
      ny: count('Segments along width', 1, 1, 1000),
      nz: count('Segments along height', 1, 1, 1000),
      ...pivot,
    }),
  },
  cylinder: {
    title: 'Cylinder',
    schema: z.object({
      kind: z.literal('cylinder'),
      diameter: length('Diameter', 20),
      height: length('Height', 40),
      segments: segments(),
      rows: count('Rows', 1, 1, 1000),
      ...pivot,
    }),
  },
  slot: {
    title: 'Slot',
    schema: z.object({
      kind: z.literal('slot'),
      x: length('Length', 40, 'Over both round ends.'),
      y: length('Width', 12),
      z: length('Height', 30),
      segments: count('Segments at each end', 16, 2, 1024),
      ...pivot,
    }),
  },
  plate: {
    title: 'Rounded box',
    schema: z.object({
      kind: z.literal('plate'),
      x: length('Length', 40),
      y: length('Width', 30),
      z: length('Height', 20),
      corner: lengthOrZero('Corner radius', 4),
      segments: count('Segments at each corner', 6, 1, 256),
      ...pivot,
    }),
  },
  polygon: {
    title: 'Regular prism',
    schema: z.object({
      kind: z.literal('polygon'),
      diameter: length('Diameter', 20, 'Over the corners.'),
      height: length('Height', 30),
      segments: count('Sides', 6, 3, 256),
      ...pivot,
    }),
  },
  tube: {
    title: 'Tube',
    schema: z.object({
      kind: z.literal('tube'),
      diameter: length('Diameter', 30),
      bore: length('Bore', 20),
      height: length('Height', 40),
      segments: segments(),
      ...pivot,
    }),
  },
  cone: {
    title: 'Cone',
    schema: z.object({
      kind: z.literal('cone'),
      foot: lengthOrZero('Diameter below', 30),
      top: lengthOrZero('Diameter above', 0, '0 is a point.'),
      height: length('Height', 30),
      segments: segments(),
      ...pivot,
    }),
  },
  wedge: {
    title: 'Wedge',
    schema: z.object({
      kind: z.literal('wedge'),
      x: length('Length', 40),
      y: length('Width', 30),
      z: length('Height', 20),
      ...pivot,
    }),
  },
  ball: {
    title: 'Ball from rings',
    schema: z.object({
      kind: z.literal('ball'),
      diameter: length('Diameter', 30),
      segments: segments(),
      rings: count('Rings', 16, 2, 2048),
      ...pivot,
    }),
  },
  patchBall: {
    title: 'Ball from six patches',
    schema: z.object({
      kind: z.literal('patchBall'),
      diameter: length('Diameter', 30),
      segments: count('Divisions', 8, 1, 512, 'Quads along each side of a patch.'),
      ...pivot,
    }),
  },
  torus: {
    title: 'Torus',
    schema: z.object({
      kind: z.literal('torus'),
      diameter: length('Ring diameter', 40, 'To the middle of the ring.'),
      thickness: length('Thickness', 10),
      segments: segments(),
      rings: count('Segments round the ring', 16, 3, 1024),
      ...pivot,
    }),
  },
  outline: {
    title: 'Prism of an outline',
    schema: z.object({
      kind: z.literal('outline'),
      height: length('Height', 20),
      segments: count('Segments of a full circle', 64, 3, 4096, 'Of its arcs.'),
      points: z.array(point2).min(2).max(10_000),
      /** How far each piece bows out, mm, after its first point: see `arcRun`. */
      bows: curve.default([]),
      /** Radius of each corner, mm: see `roundedRun`. */
      radii: radii.default([]),
      holes: z.array(run).max(1000).default([]),
      ...pivot,
    }),
  },
  turned: {
    title: 'Turned body',
    schema: z.object({
      kind: z.literal('turned'),
      segments: count('Segments of a full turn', 64, 3, 4096),
      sweep: angle('Sweep', 360, 1, 360, 'Below 360° the profile closes both ends.'),
      arcs: count('Segments of its arcs', 64, 3, 4096, 'Of a full circle.'),
      /** The profile: distance from the axis and height, mm. */
      points: z
        .array(point2)
        .min(3)
        .max(10_000)
        .default([
          [0, -20],
          [20, -20],
          [20, -10],
          [10, 0],
          [10, 20],
          [0, 20],
        ]),
      bows: curve.default([]),
      radii: radii.default([]),
      ...pivot,
    }),
  },
  fitted: {
    title: 'Fitted part',
    schema: z.object({
      kind: z.literal('fitted'),
      piece: choice('Piece', 'leaf', { frame: 'frame', leaf: 'leaf', pane: 'pane' }),
      gap: lengthOrZero('Gap all round', 3),
      leg: onlyWhen(length('Width of the legs', 60), 'piece', ['frame']),
      thickness: length('Thickness', 40),
      setback: offset('Set back', 0, 'Along the way through the opening, from the middle of the cutter.'),
      /** The outline of the opening, counter-clockwise, mm. */
      points: run,
      /** The cutter whose opening it fits; null once it is detached. */
      source: z.object({ part: z.number().int(), course: z.number().int(), cutter: z.number().int() }).nullable(),
      ...pivot,
    }),
  },
  sheet: {
    title: 'Flat sheet',
    schema: z.object({
      kind: z.literal('sheet'),
      x: length('Length', 60),
      y: length('Width', 40),
      nx: count('Segments along length', 1, 1, 1000),
      ny: count('Segments along width', 1, 1, 1000),
      ...pivot,
    }),
  },
  part: {
    title: 'Another part',
    schema: z.object({
      kind: z.literal('part'),
      /** Its number; its name when it was chosen. */
      part: z.number().int().positive(),
      title: z.string().max(200),
      ...pivot,
    }),
  },
  mesh: {
    title: 'Imported mesh',
    schema: z.object({
      kind: z.literal('mesh'),
      hash: z.string().regex(/^[0-9a-f]{8,64}$/),
      title: z.string().max(200),
      closed: flag('Openings closed', false, 'Each by one face.'),
      turned: flag('Faces turned over', false, 'For a mesh that looks inward.'),
      ...pivot,
    }),
  },
} as const;

export const Shape = z.discriminatedUnion('kind', [
  SHAPES.box.schema,
  SHAPES.cylinder.schema,
  SHAPES.slot.schema,
  SHAPES.plate.schema,
  SHAPES.polygon.schema,
  SHAPES.tube.schema,
  SHAPES.cone.schema,
  SHAPES.wedge.schema,
  SHAPES.ball.schema,
  SHAPES.patchBall.schema,
  SHAPES.torus.schema,
  SHAPES.outline.schema,
  SHAPES.turned.schema,
  SHAPES.fitted.schema,
  SHAPES.sheet.schema,
  SHAPES.part.schema,
  SHAPES.mesh.schema,
]);
export type Shape = z.infer<typeof Shape>;
export type ShapeKind = Shape['kind'];

/**
 * Kinds that can be chosen from a list: those whose fields all have a value to begin with, and that are closed when a
 * cutter.
 */
export const shapeKinds = (closedOnly: boolean): ShapeKind[] =>
  (Object.keys(SHAPES) as ShapeKind[]).filter(
    (k) => !['mesh', 'part', 'outline', 'fitted'].includes(k) && !(closedOnly && k === 'sheet'),
  );

export const shapeTitle = (kind: ShapeKind): string => SHAPES[kind].title;
export const shapeSchema = (kind: ShapeKind): z.ZodObject => SHAPES[kind].schema;
/** A shape of a kind with the sizes it begins with. */
export const newShape = (kind: ShapeKind): Shape => Shape.parse({ kind });

/**
 * The name of something whose shape becomes another kind: one that was made of a kind's title, such as `Box` or
 * `Box 3`, follows; one that was typed stays.
 */
export function nameForKind(name: string, from: ShapeKind, to: ShapeKind): string {
  const title = shapeTitle(from);
  const number = name.slice(title.length);
  return name.startsWith(title) && /^( \d+)?$/.test(number) ? shapeTitle(to) + number : name;
}
