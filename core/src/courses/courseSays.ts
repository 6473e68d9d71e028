import type { LengthUnit } from '../units/index.ts';
import type { CourseReport } from './courseKind.ts';
import { sayCut } from './cutSays.ts';
import type { Course } from './document.ts';
import { mendSays } from './mendKinds.ts';
import { shapeWords } from './placed.ts';

/** What a course does, in words, for the wall. Apart from what does it, so that a page which only tells of courses need not carry that. */
export function courseSays(c: Course, unit: LengthUnit, report?: CourseReport): string {
  if (c.kind === 'shape') return shapeWords(c.params.shape, unit, ', ');
  if (c.kind === 'cut') return sayCut(c.params, unit, report);
  return mendSays(c.kind, c.params as never, unit, report);
}
