import { describe, expect, it } from 'vitest';
import { meetBoxes } from './meetBoxes.ts';

const along = (low: number, high: number) => ({ min: [low, 0, 0], max: [high, 1, 1] }) as const;

describe('boxes that are brought level', () => {
  it('by their sides: against each other, or flush', () => {
    expect(meetBoxes(along(0, 10), [along(10.4, 15)], 0, 1)!.by).toBeCloseTo(0.4, 12);
    expect(meetBoxes(along(0, 10), [along(-0.3, 4)], 0, 1)!.by).toBeCloseTo(-0.3, 12);
    expect(meetBoxes(along(0, 10), [along(-30, 10.7)], 0, 1)!.by).toBeCloseTo(0.7, 12);
  });
  it('by their middles, where that is nearest', () => {
    expect(meetBoxes(along(0, 10), [along(4, 6.2)], 0, 1)).toEqual({ by: expect.closeTo(0.1, 12), meets: 'middle' });
    expect(meetBoxes(along(0, 10), [along(4, 6.2), along(9.95, 20)], 0, 1)).toEqual({
      by: expect.closeTo(-0.05, 12),
      meets: 'side',
    });
  });
  it('not from afar, and not along another axis', () => {
    expect(meetBoxes(along(0, 10), [along(12, 15)], 0, 1)).toBeNull();
    expect(meetBoxes(along(0, 10), [], 0, 1)).toBeNull();
    expect(meetBoxes(along(0, 10), [along(12, 15)], 1, 1)!.by).toBe(0);
  });
});
