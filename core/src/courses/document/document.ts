import { z } from 'zod';
import { MasonError } from '../../mesh/index.ts';
import { LENGTH_UNITS, type LengthUnit } from '../../units/index.ts';
import { idField as id, nameField as name } from '../base/fields.ts';
import { PickSchema } from '../base/picks.ts';
import { calledIn, sayIssue } from '../base/settingProblem.ts';
import { CutParams, ShapeParams } from '../settings/cutSettings.ts';
import { DOCUMENT_VERSION, upToDate } from './migrations.ts';
import { type StrokeName, STROKES, STROKE_NAMES, isStrokeKind } from '../settings/strokes.ts';

const common = { id, name, on: z.boolean().default(true) };
const strokeSchema = <K extends StrokeName>(kind: K) =>
  z.object({ ...common, kind: z.literal(kind), params: STROKES[kind].settings as (typeof STROKES)[K]['settings'] });
type StrokeSchema = { [K in StrokeName]: ReturnType<typeof strokeSchema<K>> }[StrokeName];
export const CourseSchema = z.discriminatedUnion('kind', [
  z.object({ ...common, kind: z.literal('shape'), params: ShapeParams }),
  z.object({ ...common, kind: z.literal('cut'), params: CutParams }),
  ...STROKE_NAMES.map((kind) => strokeSchema(kind) as StrokeSchema),
]);
export type Course = z.infer<typeof CourseSchema>;
export type CutCourse = Extract<Course, { kind: 'cut' }>;
export type ShapeCourse = Extract<Course, { kind: 'shape' }>;
export type StrokeCourse = Extract<Course, { kind: StrokeName }>;
export const isStroke = (c: Course): c is StrokeCourse => isStrokeKind(c.kind);

/** The most parts of a project, and courses of a part. */
export const [MOST_PARTS, MOST_COURSES] = [1000, 1000];

/** Whether a wall begins with its base, and has no other one. */
export const oneShapeFirst = (list: readonly { kind: string }[]): boolean =>
  list.every((c, i) => (c.kind === 'shape') === (i === 0));

export const PartSchema = z.object({
  id,
  name,
  shown: z.boolean().default(true),
  /** Nothing in it can be changed until it is unlocked. */
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

/**
 * A project from what was read from a file or from storage: migrated when old, checked in full. Throws `bad-file` with
 * the place in the document.
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
