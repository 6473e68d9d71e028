import {
  formatAngle,
  formatLength,
  LENGTH_UNITS,
  lengthNumber,
  parseAngle,
  parseLength,
  parseNumber,
  type LengthUnit,
} from '@dusky-mason/core/units';
import { LONGEST } from '@dusky-mason/core/courses';
import { SaidError } from '@dusky-mason/core/mesh';

/** What a typed number is: a length (mm), an angle (degrees), a whole number, a factor or a share (0 … 1). */
export type NumberKind = 'length' | 'angle' | 'count' | 'factor' | 'share';

/** The greatest factor, and the least one its inverse. */
const MOST_FACTOR = 1e6;
/**
 * How far a number may be from 0 where its field says nothing closer: angles go round a hundred times, and whole
 * numbers are exact.
 */
const BOUNDS = { length: LONGEST, angle: 36_000, count: 1e9, factor: MOST_FACTOR, share: 1e3 };
/** One step of a field, in the unit that it shows: percent for shares. */
const STEPS = { mm: 1, cm: 0.1, m: 0.01, in: 0.1, ft: 0.1, angle: 1, count: 1, factor: 0.1, share: 1 };
/** Values nearer to 0 than this many steps go by tenths of a step. */
const FINE_BELOW = 2;

/** A value as a field shows it, in the unit of the project, without the unit. */
export function shownNumber(x: number, as: NumberKind, unit: LengthUnit): string {
  if (as === 'length') return lengthNumber(x, unit);
  if (as === 'angle') return formatAngle(x).replace('°', '');
  return as === 'share' ? String(+(100 * x).toPrecision(6)) : String(x);
}

/** A typed text as a value; sums and units are read. Throws a sentence for the field. */
export function readNumber(text: string, as: NumberKind, unit: LengthUnit): number {
  if (as === 'length') return parseLength(text, unit);
  if (as === 'angle') return parseAngle(text);
  if (as === 'share') return readShare(text);
  const n = parseNumber(text);
  if (as === 'factor') {
    if (n === 0) throw new SaidError('A factor of 0 leaves nothing.');
    if (Math.abs(n) > MOST_FACTOR || Math.abs(n) < 1 / MOST_FACTOR)
      throw new SaidError(
        `Type a factor from ${1 / MOST_FACTOR} to ${MOST_FACTOR.toLocaleString('en')}, or the same below 0.`,
      );
    return n;
  }
  if (!Number.isInteger(n)) throw new SaidError('Type a whole number.');
  return n;
}

/** Percent, as `25`, `25 %` or `100/3`; a fraction up to 1, as `1/3`, is one of the whole. */
function readShare(text: string): number {
  const x = parseNumber(text.trim().replace(/%$/, ''));
  return text.includes('/') && !text.includes('%') && Math.abs(x) <= 1 ? x : x / 100;
}

/** Why a value is out of bounds, in words; null when it is not. Bounds left out are those of its kind. */
export function boundProblem(
  x: number,
  as: NumberKind,
  unit: LengthUnit,
  bounds: { min?: number; max?: number },
): string | null {
  const say = (n: number) =>
    as === 'length'
      ? Math.abs(n) >= 1e5
        ? formatLength(n, 'm')
        : formatLength(n, unit, 8)
      : as === 'share'
        ? `${100 * n} %`
        : String(n);
  const [min, max] = [bounds.min ?? -BOUNDS[as], bounds.max ?? BOUNDS[as]];
  if (x < min) return `At least ${say(min)}.`;
  return x > max ? `At most ${say(max)}.` : null;
}

/**
 * A value some steps further, within its bounds; a step is a round figure in the unit shown. Values near 0 go by tenths
 * of a step, whole numbers by one at least.
 */
export function stepped(
  x: number,
  steps: number,
  as: NumberKind,
  unit: LengthUnit,
  bounds: { min?: number; max?: number },
): number {
  const scale = as === 'length' ? LENGTH_UNITS[unit] : as === 'share' ? 0.01 : 1;
  const step = as === 'length' ? STEPS[unit] : STEPS[as];
  if (as === 'count') return clamped(x + Math.sign(steps) * Math.max(1, Math.round(Math.abs(steps))), bounds);
  const near = as !== 'angle' && Math.abs(x / scale) < FINE_BELOW * step;
  const to = x / scale + steps * (near ? step / 10 : step);
  return clamped(Number(to.toFixed(6)) * scale, bounds);
}

const clamped = (x: number, { min = -Infinity, max = Infinity }: { min?: number; max?: number }): number =>
  +Math.max(min, Math.min(max, x)).toPrecision(12);
