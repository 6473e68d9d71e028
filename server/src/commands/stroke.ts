import type { z } from 'zod';
import {
  addCourse,
  addPart,
  ALL_SEAMS,
  checked,
  Evaluator,
  everything,
  fieldsOf,
  isStrokeKind,
  newProject,
  PickSchema,
  Shape,
  STROKE_NAMES,
  strokeOf,
  STROKES,
  type FieldMeta,
  type Pick,
  type StrokeName,
} from '@dusky-mason/core/courses';
import type { ElementKind } from '@dusky-mason/core/mend';
import { MasonError, type PolyMesh } from '@dusky-mason/core/mesh';
import { parseAngle, parseLength } from '@dusky-mason/core/units';
import { type Command, helpOf, JSON_OPTION, type OptionSpecs, OUT_OPTION } from '../command.ts';
import { oneOf, said, UsageError } from '../flags.ts';
import { type Made, runOnMesh } from './onMesh.ts';

/** By which the mesh is found as the base of a part. */
const MESH = '00000000';
const ON = ['vertex', 'edge', 'face'] as const;

/** Strokes that options say in full; a line and gathered strokes have lists among their settings. */
export const KINDS = STROKE_NAMES.filter(
  (kind) => STROKES[kind].settings.safeParse({ pick: everything(strokeOf(kind).on[0]!) }).success,
);

/** How a setting is written as an option: `uvScale` as `uv-scale`. */
const optionOf = (key: string): string => key.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);

const TAKES: Record<FieldMeta['as'], string> = {
  length: 'LENGTH',
  angle: 'ANGLE',
  count: 'N',
  factor: 'FACTOR',
  share: 'SHARE',
  flag: 'yes|no',
  choice: '',
  text: 'TEXT',
  lengths: 'X,Y,Z',
  angles: 'X,Y,Z',
  factors: 'X,Y,Z',
};

/** The options of a stroke, from its declaration. */
function optionsOf(kind: string | undefined): OptionSpecs {
  const picks: OptionSpecs = {
    on: { takes: ON.join('|'), says: 'What is picked.', first: 'what the stroke works on' },
    pick: {
      takes: 'all|outlines|sharper=ANGLE',
      says: 'All of it, the edges of seams, or edges at which the surface turns by more than an angle.',
      first: 'all',
    },
  };
  const common = { ...picks, ...OUT_OPTION, ...JSON_OPTION };
  if (!kind || !isStrokeKind(kind)) return common;
  const { settings } = STROKES[kind];
  const known = settings.safeParse({ pick: everything('face') });
  const first = (known.success ? known.data : {}) as Record<string, unknown>;
  const said = ({ title, hint, when }: FieldMeta): string => {
    const only = when ? ` Only where --${optionOf(when.key)} is ${when.is.join(' or ')}.` : '';
    return `${title}.${hint ? ` ${hint}` : ''}${only}`;
  };
  const own = fieldsOf(settings).map(({ key, meta }) => [
    optionOf(key),
    {
      takes: meta.as === 'choice' ? Object.keys(meta.options!).join('|') : TAKES[meta.as],
      says: said(meta),
      first: first[key] === undefined ? undefined : firstOf(first[key], meta),
    },
  ]);
  return { ...(Object.fromEntries(own) as OptionSpecs), ...common };
}

function firstOf(value: unknown, { as }: FieldMeta): string {
  if (as === 'flag') return value ? 'yes' : 'no';
  const unit = as === 'length' || as === 'lengths' ? ' mm' : as === 'angle' || as === 'angles' ? '°' : '';
  return `${String(value)}${unit}`;
}

/** What was typed as the value of a setting. */
function valueOf(option: string, text: string, meta: FieldMeta): unknown {
  const number = (t: string): number => (t.trim() ? Number(t) : NaN);
  const three = (read: (t: string) => number): number[] => text.split(',').map((t) => read(t));
  const read = (): unknown => {
    switch (meta.as) {
      case 'length':
        return parseLength(text);
      case 'angle':
        return parseAngle(text);
      case 'lengths':
        return three(parseLength);
      case 'angles':
        return three(parseAngle);
      case 'factors':
        return three(number);
      case 'flag':
        return oneOf(option, text, ['yes', 'no']) === 'yes';
      case 'choice':
        return oneOf(option, text, Object.keys(meta.options!) as [string, ...string[]]);
      case 'text':
        return text;
      default:
        return number(text);
    }
  };
  return said(option, text, read);
}

function pickOf(kind: StrokeName, values: Record<string, string>): Pick {
  const kinds = strokeOf(kind).on as readonly [ElementKind, ...ElementKind[]];
  const on = oneOf('on', values.on, kinds);
  const { pick = 'all' } = values;
  if (pick === 'all') return everything(on);
  if (pick === 'outlines') return ALL_SEAMS;
  const [, angle] = /^sharper=(.+)$/.exec(pick) ?? [];
  if (angle === undefined)
    throw new UsageError(`--pick takes all, outlines or sharper=ANGLE; it is "${pick}". See mason help stroke.`);
  return checked(PickSchema, { by: 'sharper', on: 'edge', angle: said('pick', angle, () => parseAngle(angle)) });
}

/** Lays a stroke on a mesh, as the page does. */
function laid(kind: StrokeName, m: PolyMesh, values: Record<string, string>): Made {
  const params: Record<string, unknown> = { pick: pickOf(kind, values) };
  for (const { key, meta } of fieldsOf(STROKES[kind].settings)) {
    const text = values[optionOf(key)];
    if (text !== undefined) params[key] = valueOf(optionOf(key), text, meta);
  }
  const shape = checked(Shape, { kind: 'mesh', hash: MESH, title: 'Mesh' });
  const bare = addPart(newProject('mason', 'Mason'), MESH);
  const [part] = bare.parts;
  const [base] = part!.courses;
  const on = { ...part!, courses: [{ ...base!, params: { ...base!.params, shape } }] } as typeof part;
  const project = addCourse(
    { ...bare, parts: [on!] },
    on!.id,
    kind,
    strokeOf(kind).title,
    checked(STROKES[kind].settings as z.ZodType, params) as object,
  );
  const { mesh, courses } = new Evaluator().evaluate(project.parts[0]!, () => m);
  const { error, report } = courses.at(-1)!;
  if (error) throw new MasonError(error.code as MasonError['code'], error.message);
  const { found, of, counts, warnings, surfaceDrift } = report;
  return { mesh, told: { found, of, counts, warnings, drift: surfaceDrift?.distance ?? null } };
}

export const stroke: Command = {
  takes: 'KIND IN',
  words: [2, 2],
  says: `Lays one stroke on a mesh, with the settings and defaults of its form in the page. It tells how many elements were found, of how many, its counts and warnings, and the drift in mm. KIND is one of ${KINDS.join(', ')}; mason help stroke KIND lists its options.`,
  options: optionsOf,
  run: async (call) => {
    const [kind, file] = call.args as [string, string];
    if (!isStrokeKind(kind)) throw new UsageError(`There is no stroke "${kind}"; see mason help stroke.`);
    if (!KINDS.includes(kind))
      throw new UsageError(`Options cannot say a stroke "${kind}" in full. Lay it in the page, then use mason run.`);
    await runOnMesh(file, call, (m) => laid(kind, m, call.values));
  },
};

/** The command for one kind of stroke alone. */
export const strokeOfKind = (kind: StrokeName): Command => {
  const { explains, on, least = 1 } = strokeOf(kind);
  const most = on.map((o) => ({ vertex: 'vertices', edge: 'edges', face: 'faces' })[o]).join(' or ');
  return {
    ...stroke,
    takes: 'IN',
    says: `${explains} It works on ${least > 1 ? `at least ${least} ` : ''}${most}.`,
    options: () => optionsOf(kind),
  };
};

export const strokeHelp = (kind: StrokeName): string => helpOf(`stroke ${kind}`, strokeOfKind(kind));
