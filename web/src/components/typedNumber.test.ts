import { describe, expect, it } from 'vitest';
import { boundProblem, readNumber, shownNumber, stepped } from './typedNumber.ts';

const none = {};

describe('a number as it is typed', () => {
  it('takes sums of every kind', () => {
    expect(readNumber('2 * 12 + 8', 'count', 'mm')).toBe(32);
    expect(readNumber('3/2', 'factor', 'mm')).toBe(1.5);
    expect(readNumber('360/7', 'angle', 'mm')).toBeCloseTo(51.428571, 6);
    expect(readNumber('100/3', 'length', 'cm')).toBeCloseTo(333.333333, 6);
  });

  it('takes shares as percent, and fractions up to 1 of the whole', () => {
    expect(['25', '25 %', '100/3', '100/3 %', '1/3', '1/3 %'].map((t) => readNumber(t, 'share', 'mm'))).toEqual([
      0.25,
      0.25,
      expect.closeTo(1 / 3, 12),
      expect.closeTo(1 / 3, 12),
      expect.closeTo(1 / 3, 12),
      expect.closeTo(1 / 300, 12),
    ]);
  });

  it('says why it cannot be read', () => {
    expect(() => readNumber('4 mm', 'count', 'mm')).toThrow('type a plain number');
    expect(() => readNumber('7/2', 'count', 'mm')).toThrow('Type a whole number.');
    expect(() => readNumber('2 - 2', 'factor', 'mm')).toThrow('leaves nothing');
    expect(boundProblem(2, 'share', 'mm', { max: 1 })).toBe('At most 100 %.');
  });
});

describe('a number that goes by steps', () => {
  it('by one of the unit shown, ten, or a tenth', () => {
    expect([1, -1, 10, 0.1].map((n) => stepped(40, n, 'length', 'mm', none))).toEqual([41, 39, 50, 40.1]);
    expect(stepped(1000, 1, 'length', 'm', none)).toBe(1010);
    expect(shownNumber(stepped(25.4, 1, 'length', 'in', none), 'length', 'in')).toBe('1.1');
    expect(stepped(0.25, 1, 'share', 'mm', none)).toBe(0.26);
    expect(stepped(90, -10, 'angle', 'mm', none)).toBe(80);
  });

  it('whole numbers by one at least, whatever key is held', () => {
    expect([0.1, -0.1, 10].map((n) => stepped(32, n, 'count', 'mm', none))).toEqual([33, 31, 42]);
  });

  it('finer near 0, and never out of bounds', () => {
    expect(stepped(0.5, 1, 'length', 'mm', none)).toBe(0.6);
    expect(stepped(0.05, -1, 'length', 'mm', { min: 1e-9 })).toBe(1e-9);
    expect(stepped(99.5, 10, 'length', 'mm', { max: 100 })).toBe(100);
  });
});
