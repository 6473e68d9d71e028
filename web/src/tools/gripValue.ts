import { onStep, tidy } from './handleMath.ts';

/** Steps of a share with Shift. */
const SHARE_STEP = 0.05;
/** A share that is dragged is rounded to this. */
const FINE_SHARE = 0.01;

/**
 * A dragged value of a setting, within its bounds: on multiples of `step` (mm; of a share 5 %) where one is given, else
 * rounded to what a `pixel` tells apart (in the setting's measure).
 */
export function heldValue(
  { as, min, max }: { as: 'length' | 'share'; min: number; max: number },
  value: number,
  pixel: number,
  step: number | null,
): number {
  const rounded =
    as === 'share'
      ? onStep(value, step === null ? FINE_SHARE : SHARE_STEP)
      : step === null
        ? tidy(value, pixel)
        : onStep(value, step);
  // Where 0 is not allowed the least is one pixel, not a hair that nothing shows.
  const least = min > 0 ? Math.max(min, Math.min(tidy(pixel, pixel), max)) : min;
  return +Math.max(least, Math.min(max, rounded)).toPrecision(12);
}
