/** Units of length, in millimetres each. The inch and the foot are exact since the agreement of 1959. */
export const LENGTH_UNITS = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 } as const;
export type LengthUnit = keyof typeof LENGTH_UNITS;

/** Spellings that are read for each unit. */
export const LENGTH_WORDS: Record<string, number> = {
  µm: 0.001,
  um: 0.001,
  mm: 1,
  cm: 10,
  dm: 100,
  m: 1000,
  in: 25.4,
  inch: 25.4,
  inches: 25.4,
  '"': 25.4,
  '″': 25.4,
  ft: 304.8,
  foot: 304.8,
  feet: 304.8,
  "'": 304.8,
  '′': 304.8,
};

/** Spellings that are read for angles, in degrees each. */
export const ANGLE_WORDS: Record<string, number> = {
  '°': 1,
  deg: 1,
  degree: 1,
  degrees: 1,
  rad: 180 / Math.PI,
  turn: 360,
  turns: 360,
};

const trimmed = (x: number, digits: number): string => {
  const text = x.toFixed(digits);
  const short = text.includes('.') ? text.replace(/\.?0+$/, '') : text;
  return short === '-0' ? '0' : short;
};

/** Decimals that show about a micrometre in each unit. */
const DIGITS: Record<LengthUnit, number> = { mm: 3, cm: 4, m: 6, in: 5, ft: 6 };

/** A length of `mm` millimetres as a bare number in the given unit, trailing zeros off. */
export const lengthNumber = (mm: number, unit: LengthUnit, digits = DIGITS[unit]): string =>
  trimmed(mm / LENGTH_UNITS[unit], digits);

/** A length of `mm` millimetres with its unit, such as `40 mm`. */
export const formatLength = (mm: number, unit: LengthUnit, digits = DIGITS[unit]): string =>
  `${lengthNumber(mm, unit, digits)} ${unit}`;

/** The same with so many digits that matter, for a figure that is looked at, not typed: `340.2 mm`. */
export const shortLength = (mm: number, unit: LengthUnit, digits = 4): string => {
  const x = mm / LENGTH_UNITS[unit];
  // Whole units are never rounded away.
  const whole = Math.floor(Math.log10(Math.abs(x) || 1)) + 1;
  return `${+x.toPrecision(Math.max(digits, whole))} ${unit}`;
};

/** An angle in degrees with its sign, such as `22.5°`. */
export const formatAngle = (degrees: number, digits = 3): string => `${trimmed(degrees, digits)}°`;

/** Larger metric units for figures in millimetres that would be long, each from a figure on. */
const LARGER_AREAS = [
  [1e6, 'm', 1e6],
  [1e4, 'cm', 1e2],
] as const;
const LARGER_VOLUMES = [
  [1e10, 'm', 1e9],
  [1e8, 'dm', 1e6],
  [1e5, 'cm', 1e3],
] as const;

/** An area (mm²) in the square of the unit; larger squares where millimetres would be long. */
export function formatArea(mm2: number, unit: LengthUnit): string {
  const larger = unit === 'mm' ? LARGER_AREAS.find(([from]) => Math.abs(mm2) >= from) : undefined;
  const [, name, size] = larger ?? [0, unit, LENGTH_UNITS[unit] ** 2];
  return `${trimmed(mm2 / size, 2)} ${name}²`;
}

/** A volume (mm³) in the cube of the unit; larger cubes where millimetres would be long. */
export function formatVolume(mm3: number, unit: LengthUnit): string {
  const larger = unit === 'mm' ? LARGER_VOLUMES.find(([from]) => Math.abs(mm3) >= from) : undefined;
  const [, name, size] = larger ?? [0, unit, LENGTH_UNITS[unit] ** 3];
  return `${trimmed(mm3 / size, 2)} ${name}³`;
}
