import { z } from 'zod';
import { fillOpenings } from '../mend/index.ts';
import { flipMesh, MasonError, transformMesh, type PolyMesh } from '../mesh/index.ts';
import {
  arcRun,
  ballFromPatches,
  ballFromRings,
  box,
  checkCrossing,
  circleOutline,
  cone,
  cylinder,
  insetOutline,
  prism,
  rectangleOutline,
  sheet,
  slotOutline,
  torus,
  tube,
  wedge,
  type Outline,
} from '../shapes/index.ts';
import { choice, count, flag, length, lengthOrZero, offset, onlyWhen } from './fields.ts';

const point2 = z.tuple([z.number().min(-1e7).max(1e7), z.number().min(-1e7).max(1e7)]);
const run = z.array(point2).min(3).max(10_000);
const segments = (value = 32) => count('Segments', value, 3, 4096, 'How many flats go round.');

/** Shapes that a part can start from and a cutter can be. Sizes in mm. Adding one here is all that its form, file and check need. */
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
    }),
  },
  polygon: {
    title: 'Regular prism',
    schema: z.object({
      kind: z.literal('polygon'),
      diameter: length('Diameter', 20, 'Over the corners.'),
      height: length('Height', 30),
      segments: count('Sides', 6, 3, 256),
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
    }),
  },
  wedge: {
    title: 'Wedge',
    schema: z.object({
      kind: z.literal('wedge'),
      x: length('Length', 40),
      y: length('Width', 30),
      z: length('Height', 20),
    }),
  },
  ball: {
    title: 'Ball from rings',
    schema: z.object({
      kind: z.literal('ball'),
      diameter: length('Diameter', 30),
      segments: segments(),
      rings: count('Rings', 16, 2, 2048),
    }),
  },
  patchBall: {
    title: 'Ball from six patches',
    schema: z.object({
      kind: z.literal('patchBall'),
      diameter: length('Diameter', 30),
      segments: count('Divisions', 8, 1, 512, 'Quads along each side of a patch.'),
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
      bows: z.array(z.number().min(-1e7).max(1e7)).max(10_000).default([]),
      holes: z.array(run).max(1000).default([]),
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
    }),
  },
  part: {
    title: 'Another part',
    schema: z.object({
      kind: z.literal('part'),
      /** Its number; its name when it was chosen. */
      part: z.number().int().positive(),
      title: z.string().max(200),
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
  SHAPES.fitted.schema,
  SHAPES.sheet.schema,
  SHAPES.part.schema,
  SHAPES.mesh.schema,
]);
export type Shape = z.infer<typeof Shape>;
export type ShapeKind = Shape['kind'];

/** Kinds that can be chosen from a list: those whose fields all have a value to begin with, and that are closed when a cutter. */
export const shapeKinds = (closedOnly: boolean): ShapeKind[] =>
  (Object.keys(SHAPES) as ShapeKind[]).filter(
    (k) => !['mesh', 'part', 'outline', 'fitted'].includes(k) && !(closedOnly && k === 'sheet'),
  );

export const shapeTitle = (kind: ShapeKind): string => SHAPES[kind].title;
export const shapeSchema = (kind: ShapeKind): z.ZodObject => SHAPES[kind].schema;
/** A shape of a kind with the sizes it begins with. */
export const newShape = (kind: ShapeKind): Shape => Shape.parse({ kind });

/** Where imported meshes are found by the hash of their content. */
export type MeshStore = (hash: string) => PolyMesh | undefined;

/** The mesh of a shape, centred on the origin (imported meshes as they were). Throws `bad-input` with a sentence. */
export function shapeMesh(s: Shape, store: MeshStore): PolyMesh {
  switch (s.kind) {
    case 'box':
      return box(s.x, s.y, s.z, [s.nx, s.ny, s.nz]);
    case 'cylinder':
      return cylinder(s.diameter / 2, s.height, s.segments, s.rows);
    case 'slot':
      return prism({ points: slotOutline(s.x, s.y, s.segments) }, s.z);
    case 'plate':
      return prism({ points: rectangleOutline(s.x, s.y, s.corner, s.segments) }, s.z);
    case 'polygon':
      return prism({ points: circleOutline(s.diameter / 2, s.segments) }, s.height);
    case 'tube':
      return tube(s.diameter / 2, s.bore / 2, s.height, s.segments);
    case 'cone':
      return cone(s.foot / 2, s.top / 2, s.height, s.segments);
    case 'wedge':
      return wedge(s.x, s.y, s.z);
    case 'ball':
      return ballFromRings(s.diameter / 2, s.segments, s.rings);
    case 'patchBall':
      return ballFromPatches(s.diameter / 2, s.segments);
    case 'torus':
      return torus(s.diameter / 2, s.thickness / 2, s.segments, s.rings);
    case 'outline':
      return outlineMesh(s);
    case 'fitted':
      return fittedMesh(s);
    case 'sheet':
      return sheet(s.x, s.y, [s.nx, s.ny]);
    case 'part':
      // What it comes to is put in its place before (`Evaluator.linked`), where that can be done.
      throw new MasonError('bad-input', `The part ${s.title} cannot be the cutter: it is gone, has failed, or is itself cut with this one. Choose another shape.`); // prettier-ignore
    case 'mesh': {
      const m = store(s.hash);
      if (!m)
        throw new MasonError('bad-input', `The imported mesh "${s.title}" is not stored here. Import its file again.`);
      return mended(m, s.closed, s.turned);
    }
  }
}

/** A prism of straight and arc pieces. Throws `bad-input` with the place when its outline crosses itself. */
function outlineMesh({ points, bows, segments, holes, height }: Extract<Shape, { kind: 'outline' }>): PolyMesh {
  const outer = arcRun(points, bows, segments);
  checkCrossing(outer);
  return prism({ points: outer, holes } satisfies Outline, height);
}

/** Imported meshes as they are wanted, made once: what is known of a mesh is kept as long as it. */
const wanted = new WeakMap<PolyMesh, Map<string, PolyMesh>>();

function mended(m: PolyMesh, closed: boolean, turned: boolean): PolyMesh {
  if (!closed && !turned) return m;
  const made = wanted.get(m) ?? new Map<string, PolyMesh>();
  wanted.set(m, made);
  const key = `${closed} ${turned}`;
  let mesh = made.get(key);
  if (mesh) return mesh;
  const whole = closed ? fillOpenings(m) : m;
  mesh = turned ? flipMesh(whole) : whole;
  made.set(key, mesh);
  return mesh;
}

/** A frame, leaf or pane for an opening, its own z axis along the way through. */
function fittedMesh(s: Extract<Shape, { kind: 'fitted' }>): PolyMesh {
  const outer = insetOutline(s.points, s.gap);
  const holes = s.piece === 'frame' ? [insetOutline(s.points, s.gap + s.leg)] : [];
  return transformMesh(prism({ points: outer, holes }, s.thickness), [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, s.setback]);
}

/** The size of a shape along its own axes, mm; null where only its mesh tells. */
export function shapeSize(s: Shape): [number, number, number] | null {
  switch (s.kind) {
    case 'box':
    case 'wedge':
    case 'slot':
    case 'plate':
      return [s.x, s.y, s.z];
    case 'sheet':
      return [s.x, s.y, 0];
    case 'cylinder':
    case 'tube':
    case 'polygon':
      return [s.diameter, s.diameter, s.height];
    case 'cone':
      return [Math.max(s.foot, s.top), Math.max(s.foot, s.top), s.height];
    case 'ball':
    case 'patchBall':
      return [s.diameter, s.diameter, s.diameter];
    case 'torus':
      return [s.diameter + s.thickness, s.diameter + s.thickness, s.thickness];
    default:
      return null;
  }
}

const LEAST = 1e-3;

/**
 * The shape with its size along one of its own axes changed to `size` (mm); round shapes change in both round directions.
 * Shapes that have no size of their own come back as they are: they are scaled by their placement.
 */
export function resizeShape(s: Shape, axis: 0 | 1 | 2, size: number): Shape {
  const to = Math.max(LEAST, size);
  switch (s.kind) {
    case 'box':
    case 'wedge':
    case 'slot':
    case 'plate':
      return { ...s, [(['x', 'y', 'z'] as const)[axis]]: to };
    case 'sheet':
      return axis === 2 ? s : { ...s, [(['x', 'y'] as const)[axis]!]: to };
    case 'cylinder':
    case 'polygon':
      return axis === 2 ? { ...s, height: to } : { ...s, diameter: to };
    case 'tube':
      return axis === 2 ? { ...s, height: to } : { ...s, diameter: to, bore: (s.bore * to) / s.diameter };
    case 'cone': {
      const k = to / Math.max(s.foot, s.top);
      return axis === 2 ? { ...s, height: to } : { ...s, foot: s.foot * k, top: s.top * k };
    }
    case 'ball':
    case 'patchBall':
      return { ...s, diameter: to };
    case 'torus':
      return axis === 2 ? { ...s, thickness: to } : { ...s, diameter: Math.max(LEAST, to - s.thickness) };
    default:
      return s;
  }
}
