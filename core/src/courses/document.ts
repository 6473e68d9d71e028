import { z } from 'zod';
import { MasonError } from '../mesh/index.ts';
import { LENGTH_UNITS, type LengthUnit } from '../units/index.ts';
import { choice, count, factor3, flag, length, onlyWhen, text, triple, vector3, type FieldMeta } from './fields.ts';
import { isMendKind, MEND_PARAMS, type MendKindName } from './mends.ts';
import { PickSchema } from './picks.ts';
import { calledIn, sayIssue } from './settingProblem.ts';
import { notRepeated, RepeatSchema } from './repeat.ts';
import { Shape } from './shapeSpec.ts';

/** Version of the document's form; older ones are migrated, newer ones refused. */
export const DOCUMENT_VERSION = 7;

const id = z.number().int().positive();
const name = z.string().max(200);

export const PlacementSchema = z.object({
  position: triple('Position', 'lengths'),
  /** Degrees about x, then y, then z. */
  turn: triple('Turn', 'angles'),
  scale: factor3.optional().meta({ title: 'Scale', as: 'factors' } satisfies FieldMeta),
});

export const CutterSchema = z.object({
  id,
  name,
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
      'Looked for against the direction that the outline is projected along.',
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
  fromBack: onlyWhen(flag('From the other side', false, 'Which of two surfaces is met first.'), 'reach', ['nearest']),
  /** Where `along` is a direction of its own: towards where one looks from, in the part's frame. */
  direction: vector3.refine((d) => Math.hypot(...d) > 0, 'A direction needs a length.').default([0, 0, 1]),
  width: of(length('Slit width', 2), 'kerf'),
  depth: of(length('Slit depth', 1, 'Below the surface, along its normal.'), 'kerf'),
  bottom: of(choice('Bottom', 'square', { square: 'square', v: 'V', round: 'round' }), 'kerf'),
  lines: of(count('Slits side by side', 1, 1, 50), 'kerf'),
  spacing: of(length('Spacing', 5, 'From middle to middle, outward.'), 'kerf'),
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
      'Faces keep their holes without any. Ties, two or more a hole, give each face one outline.',
    ),
    ...MAKES_HOLES,
  ),
  ring: onlyWhen(length('Ring width', 4, 'Narrower where there is no room.'), 'ties', ['ring']),
  tidy: of(
    flag(
      'Tidy afterwards',
      false,
      'Takes vertices in straight runs, tiny edges and narrow faces out beside its outline, which stays.',
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

const common = { id, name, on: z.boolean().default(true) };
const mended = <K extends MendKindName>(kind: K) =>
  z.object({ ...common, kind: z.literal(kind), params: MEND_PARAMS[kind] });
export const CourseSchema = z.discriminatedUnion('kind', [
  z.object({ ...common, kind: z.literal('shape'), params: ShapeParams }),
  z.object({ ...common, kind: z.literal('cut'), params: CutParams }),
  mended('weld'),
  mended('merge'),
  mended('toOutline'),
  mended('slide'),
  mended('dissolve'),
  mended('remove'),
  mended('fill'),
  mended('bridge'),
  mended('connect'),
  mended('line'),
  mended('split'),
  mended('loop'),
  mended('divide'),
  mended('inset'),
  mended('extrude'),
  mended('detach'),
  mended('move'),
  mended('shapeRun'),
  mended('match'),
  mended('align'),
  mended('tie'),
  mended('moveTie'),
  mended('plane'),
  mended('mirror'),
  mended('symmetric'),
  mended('orient'),
  mended('tidy'),
  mended('quads'),
  mended('collar'),
  mended('heal'),
  mended('recast'),
  mended('gathered'),
  mended('finish'),
  mended('bevel'),
  mended('cutOff'),
  mended('ownWidth'),
  mended('hold'),
  mended('hard'),
  mended('crease'),
  mended('subdivide'),
  mended('relight'),
  mended('reseat'),
  mended('thicken'),
  mended('cage'),
]);
export type Course = z.infer<typeof CourseSchema>;
export type CourseKindName = Course['kind'];
export type CutCourse = Extract<Course, { kind: 'cut' }>;
export type ShapeCourse = Extract<Course, { kind: 'shape' }>;
export type MendCourse = Extract<Course, { kind: MendKindName }>;
export const isMend = (c: Course): c is MendCourse => isMendKind(c.kind);

/** The most parts of a project, and courses of a part. */
export const [MOST_PARTS, MOST_COURSES] = [1000, 1000];

/** Whether a wall begins with its base, and has no other one. */
export const oneShapeFirst = (list: readonly { kind: string }[]): boolean =>
  list.every((c, i) => (c.kind === 'shape') === (i === 0));

export const PartSchema = z.object({
  id,
  name,
  shown: z.boolean().default(true),
  /** Nothing of it can be changed until it is unlocked. */
  locked: z.boolean().default(false),
  /** Picks that are kept by name, as they were at its last course. */
  picks: z
    .array(z.object({ name, pick: PickSchema }))
    .max(200)
    .default([]),
  /** From the bottom up; the first one is the base. */
  courses: z
    .array(CourseSchema)
    .min(1)
    .max(MOST_COURSES)
    .refine(oneShapeFirst, 'A part begins with one shape, and only with one.'),
});
export type Part = z.infer<typeof PartSchema>;
export type KeptPick = Part['picks'][number];

/** How a material slot looks: a plain material that travels with GLB. */
export const MaterialSchema = z.object({
  slot: z.string().min(1).max(200),
  /** sRGB. */
  colour: z.string().regex(/^#[0-9a-f]{6}$/),
  roughness: z.number().min(0).max(1).default(0.8),
  metal: z.number().min(0).max(1).default(0),
  /** 1 is solid, less lets what lies behind be seen. */
  opacity: z.number().min(0.05).max(1).default(1),
});
export type Material = z.infer<typeof MaterialSchema>;

/** Straight-on views that a picture can be pinned behind: the ways that are right, up, and towards who looks. */
export const PICTURE_VIEWS = {
  front: { title: 'Front', right: [1, 0, 0], up: [0, 0, 1], towards: [0, -1, 0] },
  side: { title: 'Side', right: [0, 1, 0], up: [0, 0, 1], towards: [1, 0, 0] },
  top: { title: 'Top', right: [1, 0, 0], up: [0, 1, 0], towards: [0, 0, 1] },
} as const;
export type PictureView = keyof typeof PICTURE_VIEWS;

/** A reference picture. Its bytes stay in the browser, found by their hash. */
export const PictureSchema = z.object({
  id,
  name,
  hash: z.string().regex(/^[0-9a-f]{8,64}$/),
  view: z.enum(Object.keys(PICTURE_VIEWS) as [PictureView, ...PictureView[]]).default('front'),
  /** Where its middle is, to the right and up, and how wide it is, mm. */
  at: z.tuple([z.number().min(-1e7).max(1e7), z.number().min(-1e7).max(1e7)]).default([0, 0]),
  width: z.number().positive().max(1e7),
  /** Height by width. */
  aspect: z.number().positive().max(1000),
  opacity: z.number().min(0.05).max(1).default(0.5),
  shown: z.boolean().default(true),
  locked: z.boolean().default(false),
});
export type ReferencePicture = z.infer<typeof PictureSchema>;

/** A project, but for the rule that its numbers are used once. */
export const ProjectFrame = z.object({
  version: z.literal(DOCUMENT_VERSION),
  id: z.string().min(1).max(100),
  name,
  unit: z.enum(Object.keys(LENGTH_UNITS) as [LengthUnit, ...LengthUnit[]]).default('mm'),
  parts: z.array(PartSchema).max(MOST_PARTS),
  /** Of the slots that have a look of their own. */
  materials: z.array(MaterialSchema).max(1000).default([]),
  pictures: z.array(PictureSchema).max(20).default([]),
  /** The next number for a part, a course or a cutter: numbers are never used twice. */
  nextId: id,
});

/** Whether each part, course, cutter and picture has a number of its own, below the next one. */
export function numbersOnce(p: z.infer<typeof ProjectFrame>): boolean {
  const ids = new Set<number>();
  let count = 0;
  const take = (i: number): void => {
    ids.add(i);
    count++;
  };
  for (const part of p.parts) {
    take(part.id);
    for (const c of part.courses) {
      take(c.id);
      if (c.kind === 'cut') for (const k of c.params.cutters) take(k.id);
    }
  }
  for (const x of p.pictures) take(x.id);
  return ids.size === count && [...ids].every((i) => i < p.nextId);
}

export const ProjectSchema = ProjectFrame.refine(numbersOnce, 'Two things in it have the same number.');
export type Project = z.infer<typeof ProjectSchema>;

type Loose = Record<string, unknown>;
/** The settings of every cut changed, in a document whose form is not checked yet. */
function mapCuts(parts: unknown, change: (params: Loose) => Loose): unknown {
  const each = (list: unknown, f: (x: Loose) => unknown) =>
    Array.isArray(list) ? list.map((x) => (typeof x === 'object' && x !== null ? f(x as Loose) : x)) : list;
  return each(parts, (part) => ({
    ...part,
    courses: each(part.courses, (c) =>
      c.kind === 'cut' && typeof c.params === 'object' ? { ...c, params: change(c.params as Loose) } : c,
    ),
  }));
}

/** What turns a document of one version into one of the next. */
const MIGRATIONS: Record<number, (d: Record<string, unknown>) => Record<string, unknown>> = {
  // Version 1 had no unit of its own: everything was shown in mm.
  1: (d) => ({ unit: 'mm', ...d, version: 2 }),
  // Version 2 had only the name of the slot of new walls, empty for that of the part.
  2: (d) => ({
    ...d,
    version: 3,
    parts: mapCuts(d.parts, (p) => (p.wallSlot ? { ...p, wallSlots: 'own' } : { ...p, wallSlot: undefined })),
  }),
  // Version 3 knew ties as a yes or no.
  3: (d) => ({
    ...d,
    version: 4,
    parts: mapCuts(d.parts, (p) => ({ ...p, ties: p.ties === true ? 'short' : 'none' })),
  }),
  // Version 4 knew neither materials nor pictures, locks nor pivots: all of them begin as they are left out.
  4: (d) => ({ ...d, version: 5 }),
  // Version 5 knew no mends.
  5: (d) => ({ ...d, version: 6 }),
  // Version 6 was written with fewer kinds, too: from here on each new kind raises the number, so that an older program says so.
  6: (d) => ({ ...d, version: 7 }),
};

/** A document in the form of today, not checked yet. Throws `bad-file` where it is none, or was written by a newer version. */
export function upToDate(data: unknown): Record<string, unknown> {
  if (typeof data !== 'object' || data === null || Array.isArray(data))
    throw new MasonError('bad-file', 'This is not a project document.');
  let d = data as Record<string, unknown>;
  const version = d.version;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    throw new MasonError('bad-file', 'This is not a project document: it has no version.');
  if (version > DOCUMENT_VERSION)
    throw new MasonError(
      'bad-file',
      `A newer version of Dusky Mason wrote this project (document version ${version}; this one reads up to ${DOCUMENT_VERSION}). Open it with that one.`,
    );
  for (let v = version; v < DOCUMENT_VERSION; v++) d = MIGRATIONS[v]!(d);
  return d;
}

/**
 * A project from what was read from a file or from storage: migrated when old, checked in full. Throws `bad-file` with the
 * place in the document.
 */
export function readProject(data: unknown): Project {
  const d = upToDate(data);
  const r = ProjectSchema.safeParse(d);
  if (r.success) return r.data;
  throw new MasonError('bad-file', `The project cannot be read whole. ${issueIn(d, r.error.issues[0]!)}`);
}

/** One sentence about what is wrong with a document: in which part and course, and what. */
function issueIn(d: Record<string, unknown>, issue: z.core.$ZodIssue): string {
  let at: unknown = d;
  const names: string[] = [];
  for (const key of issue.path) {
    at = (at as Record<PropertyKey, unknown> | null | undefined)?.[key];
    const own = calledIn(at);
    if (own) names.push(`"${own.slice(0, 60)}"`);
  }
  const where = names.length ? `In ${names.join(', ')}: ` : '';
  return `${where}${sayIssue(ProjectSchema, d, issue)}`;
}

/** An empty project. */
export const newProject = (projectId: string, title: string): Project => ({
  version: DOCUMENT_VERSION,
  id: projectId,
  name: title,
  unit: 'mm',
  parts: [],
  materials: [],
  pictures: [],
  nextId: 1,
});
