import { shortName } from '../base/fields.ts';
import { checked } from '../base/settingProblem.ts';
import { nameForKind, Shape } from '../base/shapeSpec.ts';
import { CutParams, type Cutter, CutterSchema } from '../settings/cutSettings.ts';
import {
  type Course,
  CourseSchema,
  type CutCourse,
  isStroke,
  type ShapeCourse,
  type StrokeCourse,
  type Part,
  type Project,
} from './document.ts';
import { MasonError } from '../../mesh/index.ts';
import { isDressing, type StrokeName, STROKES } from '../settings/strokes.ts';

// Changes of the document: each takes a project and gives a new one, sharing what did not change. The page keeps the
// old ones for undo; nothing here is ever changed in place.

/** A cutter that has no number yet; what is left out takes its usual value. */
export type NewCutter = Pick<Cutter, 'name' | 'shape' | 'placement'> & Partial<Omit<Cutter, 'id'>>;

/** A project with one part changed. */
export const mapPart = (p: Project, partId: number, change: (part: Part) => Part): Project => ({
  ...p,
  parts: p.parts.map((part) => (part.id === partId ? change(part) : part)),
});

const mapCourse = (p: Project, partId: number, courseId: number, change: (course: Course) => Course): Project =>
  mapPart(p, partId, (part) => ({ ...part, courses: part.courses.map((c) => (c.id === courseId ? change(c) : c)) }));

export const findPart = (p: Project, partId: number | null): Part | undefined =>
  p.parts.find((part) => part.id === partId);
export const findCourse = (part: Part | undefined, courseId: number | null): Course | undefined =>
  part?.courses.find((c) => c.id === courseId);
export const findCutter = (course: Course | undefined, cutterId: number | null): Cutter | undefined =>
  course?.kind === 'cut' ? course.params.cutters.find((c) => c.id === cutterId) : undefined;

export const setUnit = (p: Project, unit: Project['unit']): Project => ({ ...p, unit });

/**
 * Courses with one more on top; a mirror that stays on top goes above it, so that it shows on both sides, and so does
 * what dresses the edges of cuts.
 */
function laid(courses: readonly Course[], course: Course): Course[] {
  let at = courses.length;
  while (at > 1) {
    const above = courses[at - 1]!;
    const stays = above.kind === 'mirror' && above.params.live && above.on;
    if (!stays && !(course.kind === 'cut' && isDressing(above.kind))) break;
    at--;
  }
  return [...courses.slice(0, at), course, ...courses.slice(at)];
}

/**
 * A new cut with one cutter, on top of the wall. The cut's number is the old `nextId`, the cutter's the one after it.
 */
export function addCut(
  p: Project,
  partId: number,
  cutter: NewCutter,
  operation: CutCourse['params']['operation'] = 'subtract',
): Project {
  const course: CutCourse = {
    id: p.nextId,
    kind: 'cut',
    name: shortName(cutter.name),
    on: true,
    params: checked(CutParams, { operation, cutters: [{ ...cutter, name: shortName(cutter.name), id: p.nextId + 1 }] }),
  };
  return { ...mapPart(p, partId, (part) => ({ ...part, courses: laid(part.courses, course) })), nextId: p.nextId + 2 };
}

/** A course of any kind with settings of its kind, on top of the wall. Its number is the old `nextId`. */
export function addCourse(p: Project, partId: number, kind: StrokeName, name: string, params: unknown): Project {
  const course = checked(CourseSchema, { id: p.nextId, kind, name, params });
  return { ...mapPart(p, partId, (part) => ({ ...part, courses: laid(part.courses, course) })), nextId: p.nextId + 1 };
}

/**
 * Lays the mend that a course needs below it: a healing, or a recasting where a healing lies there already. `message`
 * is why the course was refused; null where it is not the part that it says is at fault.
 */
export function mendBelow(
  p: Project,
  partId: number,
  courseId: number,
  { code, message }: { code: string; message: string },
): { project: Project; kind: 'heal' | 'recast' } | null {
  const part = p.parts.find((x) => x.id === partId);
  const at = part?.courses.findIndex((c) => c.id === courseId) ?? -1;
  if (code !== 'not-solid' || !message.startsWith('The part') || at < 1) return null;
  const kind = part!.courses[at - 1]!.kind === 'heal' ? 'recast' : 'heal';
  const added = addCourse(p, partId, kind, STROKES[kind].title, {});
  return { project: moveCourse(added, partId, p.nextId, at), kind };
}

/**
 * Lays a stroke on top of every part that is not locked, over all of it; how many parts that are. What works on cut
 * outlines goes where there is a cut.
 */
export function addToAllParts(p: Project, kind: StrokeName, name: string): { project: Project; parts: number } {
  const { data } = STROKES[kind].settings.safeParse({});
  const wantsCut = !!data && 'pick' in data && data.pick.by === 'outlines';
  const open = p.parts.filter((part) => !part.locked && (!wantsCut || part.courses.some((c) => c.kind === 'cut')));
  return { project: open.reduce((q, part) => addCourse(q, part.id, kind, name, {}), p), parts: open.length };
}

/** The strokes in a row that a stroke of a part stands among, from the first to the last. */
export function strokesInRow(part: Part, courseId: number): StrokeCourse[] {
  const at = part.courses.findIndex((c) => c.id === courseId);
  let [from, to] = [at, at];
  while (from > 1 && isStroke(part.courses[from - 1]!)) from--;
  while (to + 1 < part.courses.length && isStroke(part.courses[to + 1]!)) to++;
  return part.courses.slice(from, to + 1).filter(isStroke);
}

/**
 * Makes one course of the strokes in a row that a stroke stands among; those that are gathered already are taken apart
 * first. Its number is the old `nextId`.
 */
export function gatherStrokes(p: Project, partId: number, courseId: number): Project {
  const part = findPart(p, partId);
  const row = part ? strokesInRow(part, courseId) : [];
  if (!part || row.length < 2) return p;
  const edits = row.flatMap((c) =>
    c.kind === 'gathered'
      ? c.params.edits
      : [{ kind: c.kind, name: c.name, params: c.params as Record<string, unknown> }],
  );
  const course = checked(CourseSchema, {
    id: p.nextId,
    kind: 'gathered',
    name: `${edits.length} strokes`,
    params: { edits },
  });
  const ids = new Set(row.map((c) => c.id));
  const at = part.courses.findIndex((c) => ids.has(c.id));
  const courses = [...part.courses.slice(0, at), course, ...part.courses.slice(at).filter((c) => !ids.has(c.id))];
  return { ...mapPart(p, partId, (x) => ({ ...x, courses })), nextId: p.nextId + 1 };
}

/** Lays gathered strokes as courses of their own again. */
export function scatterStrokes(p: Project, partId: number, courseId: number): Project {
  const course = findCourse(findPart(p, partId), courseId);
  if (course?.kind !== 'gathered') return p;
  let { nextId } = p;
  const single = course.params.edits.map((e) =>
    checked(CourseSchema, { id: nextId++, kind: e.kind, name: e.name, params: e.params }),
  );
  const courses = (part: Part) => part.courses.flatMap((c) => (c.id === courseId ? single : [c]));
  return { ...mapPart(p, partId, (part) => ({ ...part, courses: courses(part) })), nextId };
}

/** One more cutter in a cut; its number is the old `nextId`. */
export const addCutter = (p: Project, partId: number, courseId: number, cutter: NewCutter): Project => ({
  ...mapCourse(p, partId, courseId, (c) =>
    c.kind === 'cut'
      ? {
          ...c,
          params: {
            ...c.params,
            cutters: [
              ...c.params.cutters,
              checked(CutterSchema, { ...cutter, name: shortName(cutter.name), id: p.nextId }),
            ],
          },
        }
      : c,
  ),
  nextId: p.nextId + 1,
});

/** Takes a cutter out; with the last one goes its cut. */
export function removeCutter(p: Project, partId: number, courseId: number, cutterId: number): Project {
  const course = findCourse(findPart(p, partId), courseId);
  if (course?.kind !== 'cut') return p;
  const cutters = course.params.cutters.filter((k) => k.id !== cutterId);
  if (!cutters.length) return removeCourse(p, partId, courseId);
  return mapCourse(p, partId, courseId, () => ({ ...course, params: { ...course.params, cutters } }));
}

export const setCutter = (p: Project, partId: number, courseId: number, cutter: Cutter): Project =>
  mapCourse(p, partId, courseId, (c) =>
    c.kind === 'cut'
      ? { ...c, params: { ...c.params, cutters: c.params.cutters.map((k) => (k.id === cutter.id ? cutter : k)) } }
      : c,
  );

/** The base of a part with another shape; a name that was made of the kind of the old one follows. */
export function reshapeBase(p: Project, partId: number, base: ShapeCourse, shape: Shape): Project {
  const changed = setParams(p, partId, base.id, { shape });
  return renameCourse(changed, partId, base.id, nameForKind(base.name, base.params.shape.kind, shape.kind));
}

/** A cutter with another shape; names of it and of its cut, if it is the only one, follow as for `reshapeBase`. */
export function reshapeCutter(p: Project, partId: number, cut: CutCourse, cutter: Cutter, shape: Shape): Project {
  const named = (name: string) => nameForKind(name, cutter.shape.kind, shape.kind);
  const changed = setCutter(p, partId, cut.id, { ...cutter, shape, name: named(cutter.name) });
  return cut.params.cutters.length === 1 ? renameCourse(changed, partId, cut.id, named(cut.name)) : changed;
}

/** Changes settings of a course; they must be settings of its kind. */
export const setParams = (p: Project, partId: number, courseId: number, change: Partial<Course['params']>): Project =>
  mapCourse(p, partId, courseId, (c) => ({ ...c, params: { ...c.params, ...change } }) as Course);

export const renameCourse = (p: Project, partId: number, courseId: number, name: string): Project =>
  mapCourse(p, partId, courseId, (c) => ({ ...c, name }));
export const switchCourse = (p: Project, partId: number, courseId: number, on: boolean): Project =>
  mapCourse(p, partId, courseId, (c) => ({ ...c, on }));

/** Takes a course out. The base stays: without it there is no part. */
export function removeCourse(p: Project, partId: number, courseId: number): Project {
  const part = findPart(p, partId);
  if (part?.courses[0]?.id === courseId)
    throw new MasonError('bad-input', 'The base carries all courses; delete the part instead.');
  return mapPart(p, partId, (x) => ({ ...x, courses: x.courses.filter((c) => c.id !== courseId) }));
}

/** Lays a course at another place of the wall, counted from the bottom; nothing goes under the base. */
export const moveCourse = (p: Project, partId: number, courseId: number, to: number): Project =>
  mapPart(p, partId, (part) => {
    const from = part.courses.findIndex((c) => c.id === courseId);
    const course = part.courses[from];
    if (!course || from === 0) return part;
    const rest = part.courses.filter((c) => c.id !== courseId);
    const at = Math.max(1, Math.min(rest.length, to));
    return { ...part, courses: [...rest.slice(0, at), course, ...rest.slice(at)] };
  });

/** One new cut of several cutters, on top; there is at least one of them. */
export function addCutOf(p: Project, partId: number, cutters: readonly NewCutter[], name: string): Project {
  const course = p.nextId;
  const [first, ...more] = cutters as [NewCutter, ...NewCutter[]];
  const cut = addCut(p, partId, first);
  return renameCourse(
    more.reduce((q, c) => addCutter(q, partId, course, c), cut),
    partId,
    course,
    name,
  );
}

/** Takes a cut out of one part and lays it on top of another. */
export function moveToPart(p: Project, partId: number, courseId: number, toPart: number): Project {
  const course = findCourse(findPart(p, partId), courseId);
  if (course?.kind !== 'cut' || partId === toPart || !findPart(p, toPart)) return p;
  return mapPart(removeCourse(p, partId, courseId), toPart, (x) => ({ ...x, courses: [...x.courses, course] }));
}

/** Numbers of the parts that cutters are linked to: they are tools, not what is made. */
export const cutterParts = (p: Project): Set<number> =>
  new Set(
    p.parts.flatMap((part) =>
      part.courses.flatMap((c) =>
        (c.kind === 'cut' ? shapesOf(c) : []).flatMap((s) => (s.kind === 'part' ? [s.part] : [])),
      ),
    ),
  );

/** Whether anything in a project is linked to a part. */
export const hasLinks = (p: Project): boolean =>
  p.parts.some((part) => part.courses.some((c) => shapesOf(c).some((s) => s.kind === 'part')));

const shapesOf = (c: Course): Shape[] =>
  c.kind === 'shape' ? [c.params.shape] : c.kind === 'cut' ? c.params.cutters.map((k) => k.shape) : [];

/** Hashes of the imported meshes that a project uses. */
export function meshesUsed(p: Project): string[] {
  const shapes = p.parts.flatMap((part) => part.courses.flatMap(shapesOf));
  return [...new Set(shapes.flatMap((s) => (s.kind === 'mesh' ? [s.hash] : [])))];
}
