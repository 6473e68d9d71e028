import type { z } from 'zod';
import { carve, hollowsOf, isTrusted, kerf, trust, type CarveSettings, type CarveReport } from '../../carve/index.ts';
import {
  faceBegin,
  faceCount,
  faceEnd,
  isRimOf,
  ringHoles,
  tieHoles,
  tieToCorners,
  type RingReport,
  type OpContext,
  type PolyMesh,
  type OpResult,
} from '../../mesh/index.ts';
import { tidy } from '../../mend/index.ts';
import { against, cutterMeshes, outward, standing } from '../cutters/standing.ts';
import { CutParams } from '../settings/cutSettings.ts';
import type { CutReport } from './courseKind.ts';
import { type CourseEnv, CourseMemory } from './env.ts';

type Params = z.infer<typeof CutParams>;

/** Runs a cut course on the mesh below it. Warns of what a modeller would not see on the part. */
export function runCut(target: PolyMesh, params: Params, env: CourseEnv, ctx?: OpContext): OpResult<CutReport> {
  const done = cutBy(target, params, env, ctx);
  if (env.moving !== undefined) return done;
  const warnings: string[] = [];
  const { slits } = done.report;
  if (slits && slits.cut < slits.asked)
    warnings.push(
      `${slits.cut} of ${slits.asked} slits are cut. The others leave the surface, or turn too sharply there.`,
    );
  const hollows = TAKES_AWAY.has(params.operation) ? hollowsOf(done.mesh, env.course) : 0;
  if (hollows)
    warnings.push(
      `It leaves ${hollows === 1 ? 'a closed hollow' : `${hollows} closed hollows`} within the part, which nothing opens to the outside. Move the cutter up to the surface, or send it through.`,
    );
  return warnings.length ? { ...done, report: { ...done.report, warnings } } : done;
}

/** What may leave a hollow. */
const TAKES_AWAY = new Set<Params['operation']>(['subtract', 'split', 'kerf']);

function cutBy(
  target: PolyMesh,
  params: Params,
  { store, course, memory, moving }: CourseEnv,
  ctx?: OpContext,
): OpResult<CutReport> {
  const all = standing(params);
  const cutters = cutterMeshes(target, params, store, course, memory?.cutterRun());
  const nearest = params.reach === 'nearest' ? all.map((c) => against(outward(target, c, params))) : undefined;
  const { operation, joinFlush, keeps, width, depth, bottom, lines, spacing, wallUvs } = params;
  if (operation === 'kerf') {
    // All slits of a cut are one list, so they take the slot that its first cutter would give.
    const [slot] = cutters[0]!.slots;
    return kerf(target, { cutters, width, depth, bottom, lines, spacing, nearest, course, slot, wallUvs }, ctx);
  }
  const options = { operation, joinFlush, keeps, nearest, course, wallUvs, memory: memory?.carve };
  const [still, moved] = [
    cutters.filter((_, i) => all[i]!.id !== moving),
    cutters.filter((_, i) => all[i]!.id === moving),
  ];
  const cut =
    still.length && moved.length && memory && ONE_BY_ONE.has(operation) && !nearest
      ? inTwo(target, still, moved, options, memory, ctx)
      : carve(target, { cutters, ...options }, ctx);
  // While a cutter moves only the picture counts.
  const done = params.tidy && moving === undefined && operation !== 'scribe' ? tidied(cut, course) : cut;
  if (params.ties === 'none' || operation === 'scribe') return done;
  const { mesh, rings } = withEdgesAsked(done.mesh, params, course);
  return { mesh: isTrusted(done.mesh) ? trust(mesh) : mesh, report: { ...done.report, rings } };
}

/** Whether a face has an edge of a course's own seam. */
function besideSeam(m: PolyMesh, course: number): (f: number) => boolean {
  const { seam } = m.layers;
  return (f) => {
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) if (seam?.[c] === course) return true;
    return false;
  };
}

/** The result of a cut, without what it left beside its own seam. */
export function tidied(cut: OpResult<CutReport>, course: number): OpResult<CutReport> {
  const { corners } = cut.mesh;
  const beside = new Set<number>();
  const touched = besideSeam(cut.mesh, course);
  for (let f = 0; f < faceCount(cut.mesh); f++)
    if (touched(f)) for (let c = faceBegin(cut.mesh, f); c < faceEnd(cut.mesh, f); c++) beside.add(corners[c]!);
  const { mesh, report } = tidy(cut.mesh, { wanted: (v) => beside.has(v), tolerance: 0 });
  return { mesh, report: { ...cut.report, tidied: report } };
}

/**
 * Operations that give the same result, but for the order of faces, whether cutters are taken as one list or one by
 * one.
 */
const ONE_BY_ONE = new Set(['subtract', 'union']);

/** As `carve`, the cutter that is moving after all others: those are cut once, as long as it moves. */
function inTwo(
  target: PolyMesh,
  still: PolyMesh[],
  moved: readonly PolyMesh[],
  options: CarveSettings,
  memory: CourseMemory,
  ctx?: OpContext,
): OpResult<CarveReport> {
  const first = memory.still(target, still, options, ctx);
  const { mesh, report } = carve(first.mesh, { cutters: moved, ...options }, ctx);
  const { volumeBefore, areaBefore } = first.report;
  return { mesh, report: { ...report, volumeBefore, areaBefore } };
}

/** The mesh with the edges that are asked for round the holes of a course's own cut lines. */
export function withEdgesAsked(
  m: PolyMesh,
  { ties, ring }: Pick<Params, 'ties' | 'ring'>,
  course: number,
): { mesh: PolyMesh; rings?: RingReport } {
  const touched = besideSeam(m, course);
  if (ties === 'short') return { mesh: tieHoles(m, touched) };
  if (ties === 'corners') return { mesh: tieToCorners(m, touched) };
  const { mesh, report } = ringHoles(m, ring, (_, loop) => isRimOf(m, loop, course));
  return { mesh, rings: report };
}
