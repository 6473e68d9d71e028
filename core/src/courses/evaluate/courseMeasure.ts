import { formatLength, type LengthUnit } from '../../units/index.ts';
import { fieldsOf } from '../base/fields.ts';
import { instancesOn } from '../base/repeat.ts';
import { sizeWords } from '../cutters/placed.ts';
import type { Course } from '../document/document.ts';
import type { Cutter } from '../settings/cutSettings.ts';
import { STROKES } from '../settings/strokes.ts';

/**
 * The one measure by which one knows a course in a list, in the unit of the project: the width of a bevel with its
 * unit, `Ø 25` of a hole, `10 × Ø 4.5` of ten alike, `18 × 30` of a pocket. Empty where none names it.
 *
 * @example
 * // 10 × Ø 4.5
 * courseMeasure(boltRing, 'mm');
 */
export function courseMeasure(c: Course, unit: LengthUnit): string {
  if (c.kind === 'shape') return acrossOf(sizeWords(c.params.shape, unit));
  if (c.kind === 'cut') return cutMeasure(c.params.cutters, unit);
  const params = c.params as Record<string, unknown>;
  const first = fieldsOf(STROKES[c.kind].settings, params).find(({ meta }) => meta.as === 'length');
  const value = first && params[first.key];
  return typeof value === 'number' && value ? formatLength(value, unit, 3) : '';
}

function cutMeasure(cutters: readonly Cutter[], unit: LengthUnit): string {
  const sizes = cutters.map((x) => acrossOf(sizeWords(x.shape, unit)));
  const n = cutters.reduce((sum, x) => sum + instancesOn(x.repeat), 0);
  if (sizes.every((s) => s === sizes[0]) && sizes[0]) return n > 1 ? `${n} × ${sizes[0]}` : sizes[0];
  return n > 1 ? `${n} cutters` : '';
}

/** A size without what goes along the axis, which is the last of its numbers; titles of meshes are no measure. */
function acrossOf(size: string): string {
  const parts = size.split(' × ');
  if (!parts.every((p) => /^(Ø )?[\d.,]+( to [\d.,]+)?$/.test(p))) return '';
  return (parts.length > 1 ? parts.slice(0, -1) : parts).join(' × ');
}
