import type { LengthUnit } from '../../units/index.ts';
import { shapeWords } from '../cutters/placed.ts';
import type { Course } from '../document/document.ts';
import type { CourseReport } from '../kinds/courseKind.ts';
import { sayCut } from '../kinds/cutSays.ts';
import { strokeSays } from '../kinds/strokeKinds.ts';

/**
 * What a course does, in words, for the wall. Kept apart from the operations, so that a page which only lists courses
 * need not load them.
 */
export function courseSays(c: Course, unit: LengthUnit, report?: CourseReport): string {
  if (c.kind === 'shape') return shapeWords(c.params.shape, unit, ', ');
  if (c.kind === 'cut') return sayCut(c.params, unit, report);
  return strokeSays(c.kind, c.params as never, unit, report);
}
