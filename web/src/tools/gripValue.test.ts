import { describe, expect, it } from 'vitest';
import { heldValue } from './gripValue.ts';

describe('a setting that is dragged', () => {
  const width = { as: 'length', min: 1e-9, max: 1e7 } as const;
  it('has as many digits as the screen tells apart, or stands on steps', () => {
    expect(heldValue(width, 3.14159, 0.05, null)).toBe(3.14);
    expect(heldValue(width, 3.14159, 2, null)).toBe(3);
    expect(heldValue(width, 3.14159, 0.05, 0.5)).toBe(3);
    expect(heldValue(width, 3.3, 0.05, 0.5)).toBe(3.5);
  });
  it('stays within its bounds, and a width does not shrink to what nobody sees', () => {
    expect(heldValue(width, -4, 0.05, null)).toBe(0.05);
    expect(heldValue({ as: 'length', min: -1e7, max: 1e7 }, -4, 0.05, null)).toBe(-4);
    expect(heldValue({ as: 'length', min: 0, max: 5 }, -4, 0.05, null)).toBe(0);
    expect(heldValue({ as: 'length', min: 0, max: 5 }, 9, 0.05, null)).toBe(5);
  });
  it('a share goes by percent, with steps by five', () => {
    const share = { as: 'share', min: 0, max: 1 } as const;
    expect(heldValue(share, 0.3337, 1e-3, null)).toBe(0.33);
    expect(heldValue(share, 0.3337, 1e-3, 1)).toBe(0.35);
    expect(heldValue(share, 1.4, 1e-3, null)).toBe(1);
  });
});
