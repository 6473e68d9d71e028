import { z } from 'zod';

/**
 * What a card needs to know about a field, beside its type: attached to the schema, so that form, file and check share
 * one declaration.
 */
export interface FieldMeta {
  title: string;
  /** How the value is typed and printed. */
  as: 'length' | 'angle' | 'count' | 'factor' | 'share' | 'flag' | 'choice' | 'text' | 'lengths' | 'angles' | 'factors';
  hint?: string;
  /** Least and greatest value that a form offers; lengths in mm, angles in degrees. */
  min?: number;
  max?: number;
  /** Words for the options of a choice. */
  options?: Record<string, string>;
  /** Shown only while another field has one of these values. */
  when?: { key: string; is: readonly string[] };
}

/** The number of a part, a course, a cutter or a picture. */
export const idField = z.number().int().positive();

/** The name of one. */
export const nameField = z.string().max(200);

type Numeric = z.ZodDefault<z.ZodNumber>;

/** The longest length, mm: 10 km. */
export const LONGEST = 1e7;
/** The shortest length above 0, mm: a picometre. */
export const SHORTEST = 1e-9;
/** The least and the greatest factor of a scale. */
const [LEAST_FACTOR, MOST_FACTOR] = [1e-6, 1e6];

/** A length in mm above 0. */
export const length = (title: string, value: number, hint?: string): Numeric =>
  z
    .number()
    .min(SHORTEST)
    .max(LONGEST)
    .default(value)
    .meta({ title, as: 'length', min: SHORTEST, max: LONGEST, hint } satisfies FieldMeta);

/** A length in mm that may be 0. */
export const lengthOrZero = (title: string, value: number, hint?: string): Numeric =>
  z
    .number()
    .min(0)
    .max(LONGEST)
    .default(value)
    .meta({ title, as: 'length', min: 0, max: LONGEST, hint } satisfies FieldMeta);

/** A length in mm to either side of 0. */
export const offset = (title: string, value: number, hint?: string): Numeric =>
  z
    .number()
    .min(-LONGEST)
    .max(LONGEST)
    .default(value)
    .meta({ title, as: 'length', min: -LONGEST, max: LONGEST, hint } satisfies FieldMeta);

/** An angle in degrees. */
export const angle = (title: string, value: number, min: number, max: number, hint?: string): Numeric =>
  z
    .number()
    .min(min)
    .max(max)
    .default(value)
    .meta({ title, as: 'angle', min, max, hint } satisfies FieldMeta);

/** A whole number. */
export const count = (title: string, value: number, min: number, max: number, hint?: string): Numeric =>
  z
    .number()
    .int()
    .min(min)
    .max(max)
    .default(value)
    .meta({ title, as: 'count', min, max, hint } satisfies FieldMeta);

/** A share, 0 … 1, typed in percent or as a fraction. */
export const share = (title: string, value: number, hint?: string): Numeric =>
  z
    .number()
    .min(0)
    .max(1)
    .default(value)
    .meta({ title, as: 'share', min: 0, max: 1, hint } satisfies FieldMeta);

/** Yes or no. */
export const flag = (title: string, value: boolean, hint?: string) =>
  z
    .boolean()
    .default(value)
    .meta({ title, as: 'flag', hint } satisfies FieldMeta);

/** The longest name, in characters. */
const MOST_LETTERS = 200;

/** A name cut to what a document holds, its end kept apart from its beginning by dots. */
export const shortName = (name: string): string =>
  name.length <= MOST_LETTERS ? name : `${name.slice(0, MOST_LETTERS - 20)} … ${name.slice(-15)}`;

/** A short text. */
export const text = (title: string, value: string, hint?: string) =>
  z
    .string()
    .max(MOST_LETTERS)
    .default(value)
    .meta({ title, as: 'text', hint } satisfies FieldMeta);

/** One of several words. */
export const choice = <K extends string>(title: string, value: NoInfer<K>, options: Record<K, string>, hint?: string) =>
  z
    .enum(Object.keys(options) as [K, ...K[]])
    .default(value as never)
    .meta({ title, as: 'choice', options, hint } satisfies FieldMeta);

const coordinate = z.number().min(-LONGEST).max(LONGEST);
export const vector3 = z.tuple([coordinate, coordinate, coordinate]);

/** Three factors along x, y and z; a negative one mirrors. */
export const factor3 = vector3.refine(
  (v) => v.every((x) => Math.abs(x) >= LEAST_FACTOR && Math.abs(x) <= MOST_FACTOR),
  `Factors are from ${LEAST_FACTOR} to ${MOST_FACTOR.toLocaleString('en')}, or the same below 0.`,
);

/** Three numbers along x, y and z: lengths in mm, degrees, or factors. */
export const triple = (title: string, as: 'lengths' | 'angles' | 'factors', hint?: string) =>
  (as === 'factors' ? factor3 : vector3)
    .default(as === 'factors' ? [1, 1, 1] : [0, 0, 0])
    .meta({ title, as, hint } satisfies FieldMeta);

/** The same field, shown only while another one has one of these values. */
export const onlyWhen = <T extends z.ZodType>(field: T, key: string, is: readonly string[]): T =>
  field.meta({ ...field.meta(), when: { key, is } });

/** The described fields of an object schema, in order; with values, only those that count for them. */
export function fieldsOf(schema: z.ZodObject, values?: Record<string, unknown>): { key: string; meta: FieldMeta }[] {
  const metaOf = (key: string) => (schema.shape[key] as z.ZodType | undefined)?.meta() as FieldMeta | undefined;
  // A field that depends on an inactive field is inactive too.
  const counts = ({ when }: FieldMeta): boolean =>
    !values || !when || (when.is.includes(String(values[when.key])) && counts(metaOf(when.key) ?? ({} as FieldMeta)));
  return Object.keys(schema.shape).flatMap((key) => {
    const meta = metaOf(key);
    return meta?.as && counts(meta) ? [{ key, meta }] : [];
  });
}
