import type { BevelPlan, GuideSurface } from '../dress/index.ts';
import type { z } from 'zod';
import {
  carve,
  hollowsOf,
  isTrusted,
  kerf,
  type KerfReport,
  trust,
  CarveMemory,
  type CarveOptions,
  type CarveReport,
  type Direction,
} from '../carve/index.ts';
import {
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  isRimOf,
  MasonError,
  ringHoles,
  SpatialIndex,
  tieHoles,
  tieToCorners,
  type RingReport,
  withSlot,
  withSource,
  type OpContext,
  type PolyMesh,
} from '../mesh/index.ts';
import { tidy, type TidyReport } from '../mend/index.ts';
import { formatLength, type LengthUnit } from '../units/index.ts';
import type { Cutter, CutParams } from './document.ts';
import type { BodySizes } from './picks.ts';
import { instancesOf } from './repeat.ts';
import { alongOwnAxis, ownAxis, placedMesh, shapeWords } from './placed.ts';
import type { MeshStore } from './shapeMesh.ts';

type Params = z.infer<typeof CutParams>;

/** What a course's run is given beside its input and its settings. */
export interface CourseEnv {
  store: MeshStore;
  /** The number of the course: what it makes is marked with it. */
  course: number;
  /** How many faces the part's own bodies have just now; picks are found by them. */
  bodies?: BodySizes;
  /** The guide surface of a state of the part. */
  guide?: (m: PolyMesh) => GuideSurface;
  /** What the course remembers of its last run. */
  memory?: CourseMemory;
  /** The cutter that is being moved just now, or the course whose width is: only the picture counts, not the order of its faces. */
  moving?: number;
}

/** What a course remembers of its last run, so that the next one costs what has changed. */
export class CourseMemory {
  readonly carve = new CarveMemory();
  /** Of a bevel whose width is dragged. */
  plan: BevelPlan | null = null;
  /** The cutters of the last run, where they stood, by all that they were made from. */
  private cutters = new Map<string, PolyMesh>();

  private done: { target: PolyMesh; cutters: PolyMesh[]; options: string; cut: ReturnType<typeof carve> } | null = null;

  /** The cut of cutters that stay where they are, found again while target and cutters are the very same. */
  still(target: PolyMesh, cutters: PolyMesh[], options: CarveOptions, ctx?: OpContext): ReturnType<typeof carve> {
    const { memory, ...settings } = options;
    const words = JSON.stringify(settings);
    const { done } = this;
    const same =
      done?.target === target &&
      done.options === words &&
      done.cutters.length === cutters.length &&
      cutters.every((m, i) => m === done.cutters[i]);
    if (!same)
      this.done = { target, cutters, options: words, cut: carve(target, cutters, { ...settings, memory }, ctx) };
    return this.done!.cut;
  }

  /** Lets go of what is of use only while a cutter moves. */
  rest(): void {
    this.done = this.plan = null;
  }

  /** Hands out the cutters of a run one by one; those that were there in the last one are not made again. */
  cutterRun(): (key: string, make: () => PolyMesh) => PolyMesh {
    const last = this.cutters;
    const now = (this.cutters = new Map<string, PolyMesh>());
    return (key, make) => {
      const mesh = last.get(key) ?? make();
      now.set(key, mesh);
      return mesh;
    };
  }
}

const AXES: Record<'x' | 'y' | 'z', Direction> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };
const against = (d: Direction): Direction => [-d[0], -d[1], -d[2]];

/** What a cutter's outline is projected along, towards where one looks from; null for the cutter's own axis. */
function projection(target: PolyMesh, { placement }: Cutter, { along, direction }: Params): Direction | null {
  if (along === 'own') return null;
  if (along === 'set') return direction;
  if (along !== 'normal') return AXES[along];
  const near = new SpatialIndex(target).closest(placement.position);
  if (!near) return null;
  const n = faceNormals(target).subarray(3 * near.face, 3 * near.face + 3);
  return [n[0]!, n[1]!, n[2]!];
}

/** What a cutter goes through or is projected along, towards where one looks from: it looks for the surface that it meets first against this. */
export function outward(target: PolyMesh, cutter: Cutter, params: Params): Direction {
  const own = ownAxis(cutter.placement);
  if (!isDrawn(params)) return own;
  const out = projection(target, cutter, params) ?? own;
  return params.fromBack ? against(out) : out;
}

/** Whether a cut draws the outlines of its cutters rather than taking their volume. */
const isDrawn = ({ operation }: Params): boolean => operation === 'scribe' || operation === 'kerf';

/** Most faces that the cutters of one cut may have in all. */
const MOST_FACES = 2_000_000;

/** The cutters of a cut wherever they stand: one for each instance that is switched on, with the number of the cutter that it repeats. */
export const standing = (params: Params): Cutter[] =>
  params.cutters.flatMap((c) =>
    instancesOf(c.placement, c.repeat).flatMap((i) => (i.off ? [] : [{ ...c, placement: i.placement }])),
  );

/**
 * The bodies that a cut's cutters are, each instance by itself, where they stand for a target, with the slots that the cut gives their walls.
 * Throws `too-large` before a repeat makes more faces than can be handled.
 */
export function cutterMeshes(
  target: PolyMesh,
  params: Params,
  store: MeshStore,
  course: number,
  memory?: CourseMemory,
): PolyMesh[] {
  const known = memory?.cutterRun();
  const slotOf = (c: Cutter) =>
    params.wallSlots === 'own'
      ? params.wallSlot || 'Walls'
      : params.wallSlots === 'cutter'
        ? c.slot || c.name || 'Cutter'
        : target.slots[0] || 'Body';
  let faces = 0;
  return standing(params).map((c, _, all) => {
    const keeps = params.wallSlots === 'cutter' && c.shape.kind === 'mesh' && !c.slot;
    const tag = (m: PolyMesh) => withSource(keeps && m.layers.slot ? m : withSlot(m, slotOf(c)), c.id, course);
    const lean = isDrawn(params) ? projection(target, c, params) : null;
    const through = lean || (c.through && params.operation !== 'union') ? target : null;
    const make = () => placedMesh(c.shape, c.placement, store, tag, through, lean);
    const reach = through && alongOwnAxis(through, c.placement);
    const mesh = known
      ? known(JSON.stringify([{ ...c, repeat: 0 }, keeps || slotOf(c), reach, lean, course]), make)
      : make();
    const alike = all.filter((x) => x.id === c.id).length;
    if (faceCount(mesh) * alike > MOST_FACES || (faces += faceCount(mesh)) > MOST_FACES)
      throw new MasonError(
        'too-large',
        `${alike} instances of ${c.name || 'the cutter'} would have ${(faceCount(mesh) * alike).toLocaleString('en')} faces; up to ${MOST_FACES.toLocaleString('en')} are made. Repeat it less often, or make it coarser.`,
      );
    return mesh;
  });
}

/** Runs a cut course on the mesh below it. What a modeller would not see on the part is told. */
export function runCut(
  target: PolyMesh,
  params: Params,
  env: CourseEnv,
  ctx?: OpContext,
): { mesh: PolyMesh; report: CutReport } {
  const done = cutBy(target, params, env, ctx);
  if (env.moving !== undefined) return done;
  const heed: string[] = [];
  const { slits } = done.report;
  if (slits && slits.cut < slits.asked)
    heed.push(`${slits.cut} of ${slits.asked} slits are cut. The others leave the surface, or turn too sharply there.`);
  const hollows = TAKES_AWAY.has(params.operation) ? hollowsOf(done.mesh, env.course) : 0;
  if (hollows)
    heed.push(
      `It leaves ${hollows === 1 ? 'a closed hollow' : `${hollows} closed hollows`} within the part, which nothing opens to the outside. Move the cutter up to the surface, or send it through.`,
    );
  return heed.length ? { ...done, report: { ...done.report, heed } } : done;
}

/** What may leave a hollow. */
const TAKES_AWAY = new Set<Params['operation']>(['subtract', 'split', 'kerf']);

function cutBy(
  target: PolyMesh,
  params: Params,
  { store, course, memory, moving }: CourseEnv,
  ctx?: OpContext,
): { mesh: PolyMesh; report: CutReport } {
  const all = standing(params);
  const cutters = cutterMeshes(target, params, store, course, memory);
  const nearest = params.reach === 'nearest' ? all.map((c) => against(outward(target, c, params))) : undefined;
  const { operation, joinFlush, keeps, width, depth, bottom, lines, spacing, wallUvs } = params;
  if (operation === 'kerf') {
    // All slits of a cut are one list, so they take the slot that its first cutter would give.
    const [slot] = cutters[0]!.slots;
    return kerf(target, cutters, { width, depth, bottom, lines, spacing, nearest, course, slot, wallUvs }, ctx);
  }
  const options = { operation, joinFlush, keeps, nearest, course, wallUvs, memory: memory?.carve };
  const [still, moved] = [
    cutters.filter((_, i) => all[i]!.id !== moving),
    cutters.filter((_, i) => all[i]!.id === moving),
  ];
  const cut =
    still.length && moved.length && memory && ONE_BY_ONE.has(operation) && !nearest
      ? inTwo(target, still, moved, options, memory, ctx)
      : carve(target, cutters, options, ctx);
  // While a cutter moves only the picture counts.
  const done = params.tidy && moving === undefined && operation !== 'scribe' ? tidied(cut, course) : cut;
  if (params.ties === 'none' || operation === 'scribe') return done;
  const { mesh, rings } = withEdgesAsked(done.mesh, params, course);
  return { mesh: isTrusted(done.mesh) ? trust(mesh) : mesh, report: { ...done.report, rings } };
}

/** Whether a face has an edge of a course's own cut outline. */
function besideOutline(m: PolyMesh, course: number): (f: number) => boolean {
  const { seam } = m.layers;
  return (f) => {
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) if (seam?.[c] === course) return true;
    return false;
  };
}

/** What a cut came to, without what it left beside its own outline. */
export function tidied(
  cut: { mesh: PolyMesh; report: CutReport },
  course: number,
): { mesh: PolyMesh; report: CutReport } {
  const { corners } = cut.mesh;
  const beside = new Set<number>();
  const touched = besideOutline(cut.mesh, course);
  for (let f = 0; f < faceCount(cut.mesh); f++)
    if (touched(f)) for (let c = faceBegin(cut.mesh, f); c < faceEnd(cut.mesh, f); c++) beside.add(corners[c]!);
  const { mesh, report } = tidy(cut.mesh, (v) => beside.has(v), 0);
  return { mesh, report: { ...cut.report, tidied: report } };
}

/** What comes out the same whether its cutters are taken as one list or one after the other, but for the order of faces. */
const ONE_BY_ONE = new Set(['subtract', 'union']);

/** As `carve`, the cutter that is moving after all others: those are cut once, as long as it moves. */
function inTwo(
  target: PolyMesh,
  still: PolyMesh[],
  moved: readonly PolyMesh[],
  options: CarveOptions,
  memory: CourseMemory,
  ctx?: OpContext,
): { mesh: PolyMesh; report: CarveReport } {
  const first = memory.still(target, still, options, ctx);
  const { mesh, report } = carve(first.mesh, moved, options, ctx);
  const { volumeBefore, areaBefore } = first.report;
  return { mesh, report: { ...report, volumeBefore, areaBefore } };
}

/** What a cut reports: of carving, and of the edges that were asked for. */
export type CutReport = Partial<KerfReport> & { rings?: RingReport; tidied?: TidyReport; heed?: string[] };

/** The mesh with the edges that are asked for round the holes of a course's own cut lines. */
export function withEdgesAsked(
  m: PolyMesh,
  { ties, ring }: Pick<Params, 'ties' | 'ring'>,
  course: number,
): { mesh: PolyMesh; rings?: RingReport } {
  const touched = besideOutline(m, course);
  if (ties === 'short') return { mesh: tieHoles(m, touched) };
  if (ties === 'corners') return { mesh: tieToCorners(m, touched) };
  const { mesh, report } = ringHoles(m, ring, (_, loop) => isRimOf(m, loop, course));
  return { mesh, rings: report };
}

const DOES = {
  subtract: 'removes',
  union: 'adds',
  intersect: 'keeps what is in',
  split: 'splits along',
  scribe: 'scribes',
  kerf: 'slits along',
} as const;

/** How many cutters stand in all; a repeat that is too large counts as one, as its course says why it fails. */
function countStanding(params: Params): number {
  try {
    return standing(params).length;
  } catch (e) {
    if (e instanceof MasonError) return params.cutters.length;
    throw e;
  }
}

/** What a cut does, in words, for the wall. */
export function sayCut(params: Params, unit: LengthUnit, report?: Partial<CarveReport>): string {
  const { operation, cutters } = params;
  const [first] = cutters as [Cutter];
  const one = shapeWords(first.shape, unit);
  const alike = cutters.every((c) => JSON.stringify(c.shape) === JSON.stringify(first.shape));
  const n = countStanding(params);
  const what = n === 1 ? one : alike ? `${n} cutters, each ${one}` : `${n} cutters`;
  const through = n === 1 && first.through ? ' through' : '';
  const size =
    operation === 'kerf' ? `, ${formatLength(params.width, unit)} wide, ${formatLength(params.depth, unit)} deep` : '';
  return `${DOES[operation]} ${what}${through}${size}${result(operation, report)}`;
}

/** What became of the rings of quads that were asked for, in words. */
export function sayRings({ rings, narrowed, left }: RingReport): string {
  const told = [`${rings}`];
  if (narrowed) told.push(`${narrowed} narrower`);
  if (left) told.push(`${left} without room`);
  return told.join(', ');
}

/** What tidying after a cut came to, in words. */
export function sayTidied({ straight, collapsed, narrow, left }: Omit<TidyReport, 'tolerance'>): string {
  const told: [number, string, string][] = [
    [straight, 'vertex out of straight runs', 'vertices out of straight runs'],
    [collapsed, 'tiny edge collapsed', 'tiny edges collapsed'],
    [narrow, 'narrow face joined', 'narrow faces joined'],
    [left, 'tiny edge left', 'tiny edges left'],
  ];
  const some = told.filter(([n]) => n).map(([n, one, many]) => `${n} ${n === 1 ? one : many}`);
  return some.join(', ') || 'nothing was left over';
}

function result(operation: Params['operation'], report?: Partial<CarveReport>): string {
  const many = (n: number, word: string) => `, ${n === 0 ? 'no' : n} ${word}${n === 1 ? '' : 's'}`;
  if (operation === 'scribe') return report?.enclosed === undefined ? '' : many(report.enclosed, 'enclosed face');
  return report?.newWalls === undefined ? '' : many(report.newWalls, 'new wall');
}
