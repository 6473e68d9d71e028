import type { z } from 'zod';
import { AXIS_NAMES, MasonError } from '../../mesh/index.ts';
import { formatAngle, formatLength, type LengthUnit } from '../../units/index.ts';
import type { FieldMeta } from './fields.ts';

type Issue = z.core.$ZodIssue;
/** The parts of a schema read here: its description and its inner schemas. */
interface Def {
  type: string;
  innerType?: z.ZodType;
  shape?: Record<string, z.ZodType>;
  element?: z.ZodType;
  items?: z.ZodType[];
  options?: z.ZodType[];
  discriminator?: string;
  valueType?: z.ZodType;
}
const defOf = (schema: z.ZodType): Def => schema.def as unknown as Def;

/** Lengths from here on are shown in metres, whatever the project’s unit, as nobody reads 10000000 mm. */
const LONG = 1e5;

function inner(schema: z.ZodType, key: PropertyKey, value: unknown): z.ZodType | undefined {
  const def = defOf(schema);
  if (def.innerType) return inner(def.innerType, key, value);
  if (def.shape) return def.shape[String(key)];
  if (def.element) return def.element;
  if (def.items) return def.items[Number(key)];
  if (def.valueType) return def.valueType;
  const { options, discriminator } = def;
  const kind = discriminator && (value as Record<string, unknown> | null)?.[discriminator];
  const option = options?.find((o) => discriminator && literalOf(defOf(o).shape?.[discriminator]) === kind);
  return option && inner(option, key, value);
}

const literalOf = (schema: z.ZodType | undefined): unknown =>
  schema && (schema.def as unknown as { values?: unknown[] }).values?.[0];

/** Where an issue is: the nearest described field above it, and the rest of the path. */
function fieldAt(schema: z.ZodType, issue: Issue, value: unknown): { meta?: Partial<FieldMeta>; name: string } {
  let meta = schema.meta() as Partial<FieldMeta> | undefined;
  let rest: string[] = [];
  let [at, of]: [z.ZodType | undefined, unknown] = [schema, value];
  for (const key of issue.path) {
    const row = at && isRow(at);
    at = at && inner(at, key, of);
    of = (of as Record<PropertyKey, unknown> | null | undefined)?.[key];
    const own = at?.meta() as Partial<FieldMeta> | undefined;
    rest.push(partName(key, !!row));
    if (own?.title) [meta, rest] = [own, []];
    // Named by the caller where it has a name: what is within it counts from there.
    else if (isNamed(of)) [meta, rest] = [undefined, []];
  }
  const name = [meta?.title, ...rest].filter(Boolean).join(' ');
  return { meta, name: name && name[0]!.toUpperCase() + name.slice(1) };
}

/** What a thing in a document is called, or null. */
export function calledIn(value: unknown): string | null {
  const { name, slot } = (value ?? {}) as { name?: unknown; slot?: unknown };
  return typeof name === 'string' && name ? name : typeof slot === 'string' && slot ? slot : null;
}
const isNamed = (value: unknown): boolean => typeof value === 'object' && calledIn(value) !== null;

/** Whether a schema is that of a row of numbers along the axes. */
function isRow(schema: z.ZodType): boolean {
  const def = defOf(schema);
  return def.innerType ? isRow(def.innerType) : !!def.items;
}

function partName(key: PropertyKey, row: boolean): string {
  if (typeof key === 'number') return row && key < 3 ? `along ${AXIS_NAMES[key]}` : `number ${key + 1}`;
  return String(key)
    .replace(/([A-Z])/g, ' $1')
    .toLowerCase();
}

function amount(x: number, as: FieldMeta['as'] | undefined, unit: LengthUnit): string {
  const plain = String(+x.toPrecision(12));
  switch (as) {
    case 'length':
    case 'lengths':
      if (Math.abs(x) >= LONG) return formatLength(x, 'm');
      return formatLength(x, unit, Math.abs(x) < 0.001 ? 12 : undefined);
    case 'angle':
    case 'angles':
      return formatAngle(x);
    case 'share':
      return `${+(100 * x).toPrecision(6)} %`;
    default:
      return plain;
  }
}

function whatIsWrong(issue: Issue, as: FieldMeta['as'] | undefined, unit: LengthUnit): string {
  switch (issue.code) {
    case 'too_big':
      if (issue.origin === 'string') return `at most ${issue.maximum} characters`;
      if (issue.origin === 'array') return `at most ${Number(issue.maximum).toLocaleString('en')} of them`;
      return `at most ${amount(Number(issue.maximum), as, unit)}`;
    case 'too_small':
      if (issue.origin === 'string')
        return Number(issue.minimum) <= 1 ? 'some text is needed' : `at least ${issue.minimum} characters`;
      if (issue.origin === 'array') return `at least ${issue.minimum} of them`;
      return issue.inclusive === false
        ? `more than ${amount(Number(issue.minimum), as, unit)}`
        : `at least ${amount(Number(issue.minimum), as, unit)}`;
    case 'invalid_type':
      if (issue.expected === 'int') return 'a whole number is needed';
      if (issue.expected === 'number') return 'a finite number is needed';
      return `${{ string: 'a text', boolean: 'yes or no', array: 'a list', object: 'a group of settings', tuple: 'a row of numbers' }[issue.expected as string] ?? 'another kind of value'} is needed`;
    case 'invalid_value':
      return `one of: ${issue.values.map(String).slice(0, 12).join(', ')}`;
    case 'invalid_union':
      return 'a newer version of Dusky Mason made this, and this one does not know its kind';
    case 'custom':
      return issue.message.replace(/\.$/, '');
    default:
      return 'this value cannot be used';
  }
}

/**
 * One sentence about the first thing that a schema refuses in a value: the field by its title, and what it accepts,
 * with units; null when the value is valid.
 */
export function settingProblem(schema: z.ZodType, value: unknown, unit: LengthUnit = 'mm'): string | null {
  const r = schema.safeParse(value);
  return r.success ? null : sayIssue(schema, value, r.error.issues[0]!, unit);
}

/** The sentence about one issue of a schema with a value. */
export function sayIssue(schema: z.ZodType, value: unknown, issue: Issue, unit: LengthUnit = 'mm'): string {
  const { meta, name } = fieldAt(schema, issue, value);
  const wrong = whatIsWrong(issue, meta?.as, unit);
  if (!name) return `${wrong[0]!.toUpperCase()}${wrong.slice(1)}.`;
  return issue.code === 'custom' ? `${name}: ${wrong[0]!.toLowerCase()}${wrong.slice(1)}.` : `${name}: ${wrong}.`;
}

/**
 * A value as the schema gives it, what is left out filled in. Throws `bad-input` with one sentence where the schema
 * refuses it.
 */
export function checked<T extends z.ZodType>(
  schema: T,
  value: z.input<T> | Readonly<Record<string, unknown>>,
): z.output<T> {
  const r = schema.safeParse(value);
  if (r.success) return r.data;
  throw new MasonError('bad-input', sayIssue(schema, value, r.error.issues[0]!));
}
