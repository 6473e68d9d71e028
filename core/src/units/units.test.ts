import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  formatAngle,
  formatArea,
  formatLength,
  shortLength,
  formatVolume,
  LENGTH_UNITS,
  parseAngle,
  parseLength,
  UnitError,
  type LengthUnit,
} from './index.ts';

describe('lengths', () => {
  it.each([
    ['40', 40],
    ['2.2 m', 2200],
    ['1/4 in', 6.35],
    ['3 ft 2 in', 965.2],
    ['12,5 mm', 12.5],
    ['120/3 + 2 mm', 42],
    ['2 1/2 in', 63.5],
    ['5\' 3"', 1600.2],
    ['-3 mm', -3],
    ['(2 + 3) cm', 50],
    ['10 mm / 4', 2.5],
    ['2 × 3 mm', 6],
    ['1e2', 100],
    ['.5cm', 5],
    ['3 ft − 2 in', 863.6],
  ])('reads %s', (text, mm) => expect(parseLength(text)).toBeCloseTo(mm, 10));

  it('takes plain numbers in the document unit', () => {
    expect(parseLength('2', 'in')).toBeCloseTo(50.8, 12);
    expect(parseLength('120/3 + 2 mm', 'cm')).toBeCloseTo(402, 12);
  });

  it.each([
    ['', 0],
    ['4 apples', 2],
    ['3 +', 3],
    ['(2 + 3', 6],
    ['5 / 0', 2],
    ['5 mm * 2 mm', 9],
    ['5 mm * (2 mm)', 5],
    ['1.234,5', 5],
    ['7 $', 2],
    ['2 mm cm', 5],
    ['1/(2 mm)', 1],
  ])('refuses %j and says where', (text, at) => {
    let seen: unknown;
    try {
      parseLength(text);
    } catch (e) {
      seen = e;
    }
    expect(seen).toBeInstanceOf(UnitError);
    expect((seen as UnitError).at).toBe(at);
    expect((seen as UnitError).message.length).toBeGreaterThan(10);
  });

  it('reads back what it prints', () => {
    const units = Object.keys(LENGTH_UNITS) as LengthUnit[];
    fc.assert(
      fc.property(fc.double({ min: -1e5, max: 1e5, noNaN: true }), fc.constantFrom(...units), (mm, unit) => {
        expect(Math.abs(parseLength(formatLength(mm, unit)) - mm)).toBeLessThanOrEqual(6e-4);
      }),
    );
  });

  it('never throws anything but a UnitError', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 30 }), (text) => {
        try {
          expect(Number.isFinite(parseLength(text))).toBe(true);
        } catch (e) {
          expect(e).toBeInstanceOf(UnitError);
        }
      }),
    );
  });
});

describe('angles and printing', () => {
  it.each([
    ['22.5', 22.5],
    ['360/8', 45],
    ['1/8 turn', 45],
    ['90°', 90],
  ])('reads %s', (text, degrees) => expect(parseAngle(text)).toBeCloseTo(degrees, 12));

  it('prints without trailing zeros and without minus zero', () => {
    expect(formatLength(40, 'mm')).toBe('40 mm');
    expect([340.197, 0.0123456, 12345.678, 0].map((x) => shortLength(x, 'mm'))).toEqual([
      '340.2 mm',
      '0.01235 mm',
      '12346 mm',
      '0 mm',
    ]);
    expect(formatLength(-0.00001, 'mm')).toBe('0 mm');
    expect(formatLength(25.4, 'in')).toBe('1 in');
    expect(formatLength(100, 'mm', 0)).toBe('100 mm');
    expect(formatAngle(22.5)).toBe('22.5°');
    expect(formatVolume(327760, 'mm')).toBe('327.76 cm³');
    expect(formatVolume(683025370, 'mm')).toBe('683.03 dm³');
    expect(formatVolume(-2.5e10, 'mm')).toBe('-25 m³');
    expect(formatVolume(2.5e9, 'm')).toBe('2.5 m³');
    expect(formatArea(250, 'mm')).toBe('250 mm²');
    expect(formatArea(9238664, 'mm')).toBe('9.24 m²');
  });
});
