import type { LengthUnit } from '../../units/index.ts';
import { settingProblem } from '../base/settingProblem.ts';
import { MOST_CUTTERS } from '../settings/cutSettings.ts';
import { isStrokeKind, STROKES } from '../settings/strokes.ts';
import {
  type Course,
  CourseSchema,
  MOST_COURSES,
  MOST_PARTS,
  numbersOnce,
  oneShapeFirst,
  type Part,
  PartSchema,
  type Project,
  ProjectFrame,
} from './document.ts';

/** The document and a part without what is looked at piece by piece. */
const Frame = ProjectFrame.omit({ parts: true });
const PartFrame = PartSchema.omit({ courses: true });

/**
 * What the schema minds in a changed document, in one sentence that names the place; null when all of it is valid. What
 * is the same object as before is not looked at again, so that it costs what was changed, not what there is.
 */
export function changeProblem(before: Project | null, after: Project): string | null {
  const { unit } = after;
  const frame = settingProblem(Frame, after, unit);
  if (frame) return frame;
  if (after.parts === before?.parts) return numbersOnce(after) ? null : TWICE;
  if (after.parts.length > MOST_PARTS) return `A project has at most ${MOST_PARTS.toLocaleString('en')} parts.`;
  const known = new Set(before?.parts);
  for (const part of after.parts) {
    if (known.has(part)) continue;
    const problem = partProblem(
      before?.parts.find((p) => p.id === part.id),
      part,
      unit,
    );
    if (problem) return problem;
  }
  return numbersOnce(after) ? null : TWICE;
}

const TWICE = 'Two things in the project would have the same number.';

function partProblem(before: Part | undefined, part: Part, unit: LengthUnit): string | null {
  const frame = settingProblem(PartFrame, part, unit);
  if (frame) return frame;
  if (part.courses.length > MOST_COURSES) return `A part has at most ${MOST_COURSES.toLocaleString('en')} courses.`;
  if (!part.courses.length || !oneShapeFirst(part.courses)) return 'A part begins with one shape, and only with one.';
  const known = new Set(before?.courses);
  for (const course of part.courses) {
    if (known.has(course)) continue;
    const problem = courseProblem(
      before?.courses.find((c) => c.id === course.id),
      course,
      unit,
    );
    if (problem) return problem;
  }
  return null;
}

function courseProblem(before: Course | undefined, course: Course, unit: LengthUnit): string | null {
  if (course.kind === 'gathered') return settingProblem(CourseSchema, course, unit) ?? gatheredProblem(course, unit);
  if (course.kind !== 'cut' || before?.kind !== 'cut') return settingProblem(CourseSchema, course, unit);
  const known = new Set(before.params.cutters);
  const changed = course.params.cutters.filter((k) => !known.has(k));
  // A cut needs one cutter at least: a known one stands for those that were not changed.
  const cutters = changed.length ? changed : course.params.cutters.slice(0, 1);
  const looked = { ...course, params: { ...course.params, cutters } };
  if (course.params.cutters.length > MOST_CUTTERS)
    return `A cut has at most ${MOST_CUTTERS.toLocaleString('en')} cutters.`;
  return settingProblem(CourseSchema, looked, unit);
}

/** What is wrong with one of the strokes that are gathered to one course. */
function gatheredProblem(course: Extract<Course, { kind: 'gathered' }>, unit: LengthUnit): string | null {
  for (const e of course.params.edits) {
    const problem = isStrokeKind(e.kind)
      ? settingProblem(STROKES[e.kind].settings, e.params, unit)
      : 'It is of a kind that is not known here.';
    if (problem) return `${e.name}: ${problem}`;
  }
  return null;
}
