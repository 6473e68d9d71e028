import type { z } from 'zod';
import {
  areaAndVolume,
  checkCancelled,
  faceCount,
  isClosed,
  MasonError,
  sameMesh,
  type OpContext,
  type PolyMesh,
  type Vec3,
} from '../../mesh/index.ts';
import { verticesOfElement, type ElementKind } from '../../mend/index.ts';
import { changedFaces, boundaryCrosses, placeOf, surfaceDrift } from '../../survey/index.ts';
import { formatLength, type LengthUnit } from '../../units/index.ts';
import { countWords, type Pick, pickWords, resolvePick } from '../base/picks.ts';
import type { CourseKind, StrokeReport } from './courseKind.ts';
import type { CourseEnv } from './env.ts';
import type { Grip } from './grips.ts';
import { type StrokeName, strokeOf, type StrokeParams, STROKES } from '../settings/strokes.ts';
import type { StrokeTrial } from './trial.ts';

/** What an operation is given: the mesh, and what is picked of it. */
export interface StrokeResult {
  mesh: PolyMesh;
  counts: Record<string, number>;
  warnings?: string[];
  lines?: number[];
  box?: StrokeReport['box'];
  gaps?: number[];
  places?: Record<string, readonly Vec3[]>;
  made?: StrokeReport['made'];
}

/** What a stroke does to a mesh. */
export interface StrokeRun<K extends StrokeName> {
  trial?: StrokeTrial;
  op(
    m: PolyMesh,
    ids: readonly number[],
    params: StrokeParams<K>,
    on: ElementKind,
    env: CourseEnv,
    ctx: OpContext | undefined,
    /** For a pick of elements: each, or null where it was not found. */
    each: readonly (number | null)[],
  ): StrokeResult;
  /** Where its settings can be taken hold of, from the mesh below it, what is picked of that, and what it counted. */
  grips?(
    m: PolyMesh,
    ids: readonly number[],
    params: StrokeParams<K>,
    on: ElementKind,
    counts: Record<string, number>,
  ): Grip[];
}

export type StrokeKind<K extends StrokeName> = CourseKind<StrokeParams<K>> & PickedOnWhat<K>;
type PickedOnWhat<K extends StrokeName> = {
  on: readonly ElementKind[];
  least: number;
  also: string;
  kind: K;
  trial: StrokeTrial;
};

/** Above this many faces the drift is not measured: it would take longer than the stroke. */
const MOST_MEASURED = 100_000;

/** Runs any stroke alike: finds its picks, checks the result, and reports what it did. */
export function strokeKind<K extends StrokeName>(kind: K, { op, trial = {}, grips }: StrokeRun<K>): StrokeKind<K> {
  const m = strokeOf(kind);
  return {
    kind,
    title: m.title,
    on: m.on,
    least: m.least ?? 1,
    also: m.also,
    trial,
    schema: STROKES[kind].settings as unknown as z.ZodType<StrokeParams<K>>,
    run(ctx, input, params, env) {
      const { pick } = params as { pick: Pick };
      if (!m.on.includes(pick.on))
        throw new MasonError(
          'bad-input',
          `It works on ${m.on.map((o) => countWords(o, 2).slice(2)).join(' or ')} only. Pick some of those first.`,
        );
      const { ids, lost, each, of } = resolvePick(input!, pick, env.bodies);
      if (ids.length < (m.least ?? 1)) throw new MasonError('bad-input', tooFew(pick, ids.length, m.least ?? 1));
      const {
        mesh,
        counts,
        warnings = [],
        lines,
        box,
        gaps,
        places,
        made,
      } = op(input!, [...ids], params, pick.on, env, ctx, each);
      checkCancelled(ctx);
      lookOver(input!, mesh, m, warnings);
      const at = pick.by === 'elements' ? lost.map((i) => pick.elements[i]!.at) : [];
      const few = !m.reshapes && Math.max(faceCount(input!), faceCount(mesh)) <= MOST_MEASURED;
      const drift = few ? surfaceDrift(input!, mesh, ctx) : null;
      return {
        mesh,
        report: {
          found: ids.length,
          of,
          lost: at,
          counts,
          warnings,
          lines,
          box,
          surfaceDrift: drift,
          ...(gaps && { gaps }),
          ...(places && { places: copied(places) }),
          ...(made && { made }),
          ...(grips && { grips: grips(input!, [...ids], params, pick.on, counts) }),
        },
      };
    },
    says: (params, unit, report) => strokeSays(kind, params, unit, report),
  };
}

const copied = (places: Record<string, readonly Vec3[]>): NonNullable<StrokeReport['places']> =>
  Object.fromEntries(
    Object.entries(places).map(([key, list]) => [key, list.map((p): [number, number, number] => [...p])]),
  );

function tooFew(pick: Pick, found: number, least: number): string {
  const wanted = countWords(pick.on, least);
  if (pick.by !== 'elements') return `Nothing to work on: ${pickWords(pick)} come to ${found || 'nothing'} here.`;
  if (pick.elements.length < least) return `Pick at least ${wanted} (${pick.elements.length} picked).`;
  return `${found || 'None'} of ${countWords(pick.on, pick.elements.length)} picked ${found === 1 ? 'was' : 'were'} found: something below has changed. Pick again on its card.`;
}

/** Refuses broken results, with the place; warns of what got worse. */
function lookOver(
  before: PolyMesh,
  after: PolyMesh,
  { opens, waits }: { opens?: boolean; waits?: boolean },
  warnings: string[],
): void {
  if (!waits && sameMesh(before, after))
    throw new MasonError(
      'bad-input',
      'Nothing to do: the part is already like that, or the settings reach nothing. Change them, or pick something else.',
    );
  if (!after.corners.length) throw new MasonError('not-done', 'Nothing would be left of the part. Pick less.');
  for (const f of changedFaces(before, after).after)
    if (
      after.loopStart[after.faceLoops[f + 1]!]! - after.loopStart[after.faceLoops[f]!]! > 3 &&
      boundaryCrosses(after, f)
    ) {
      const { point } = placeOf(after, 'face', f);
      throw new MasonError(
        'not-done',
        'A face would cross itself there. Use a smaller value, or pick something else.',
        { face: f, point },
      );
    }
  const [was, is] = [isClosed(before), isClosed(after)];
  if (was && !is && !opens) warnings.push('The part was closed and is open now.');
  if (was && is && areaAndVolume(before).volume > 0 && areaAndVolume(after).volume < 0)
    throw new MasonError('not-done', 'The part would be turned inside out: its volume would be below 0. Use less.');
}

/** What a stroke does, in words, and its report: what was lost of its pick, and the drift. */
export const strokeSays = <K extends StrokeName>(
  kind: K,
  params: StrokeParams<K>,
  unit: LengthUnit,
  report?: StrokeReport,
): string => `${strokeOf(kind).says(params, report?.counts, unit)}${told(report, unit)}`;

/** What was lost of a pick, and the drift, in words. */
function told(r: StrokeReport | undefined, unit: LengthUnit): string {
  const lost = r?.lost?.length ? `; ${r.found} of ${r.of} picks found` : '';
  const drift = r?.surfaceDrift
    ? `; drift ${r.surfaceDrift.atLeast ? 'at least ' : ''}${formatLength(r.surfaceDrift.distance, unit, 4)}`
    : '';
  return `${lost}${drift}`;
}

/** The vertices of what is picked, each once, in order. */
export const verticesOf = (m: PolyMesh, on: ElementKind, ids: readonly number[]): number[] => [
  ...new Set(ids.flatMap((x) => verticesOfElement(m, on, x))),
];
