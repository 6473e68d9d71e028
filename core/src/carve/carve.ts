import {
  areaAndVolume,
  bounds,
  faceCount,
  isClosed,
  joinMeshes,
  wholeLayers,
  MasonError,
  type Measures,
  type OpContext,
  type PolyMesh,
  type OpResult,
} from '../mesh/index.ts';
import { asBody, bodiesOf, lastBody } from './bodies.ts';
import { checkMemory } from './cost.ts';
import { checkSheet, checkSolid, isOpen, isTrusted, trust } from './gate.ts';
import {
  carveInReach,
  type CarveMemory,
  uniteNear,
  type CarveOperation,
  type KernelReport,
  type Selection,
} from './kernel/index.ts';
import { withoutSkins } from './shells.ts';
import { withWallUvs, type WallUvs } from './wallUvs.ts';

/** What a cut does: three that make one body, one that parts the body in two, one that only marks its surface. */
export type CutOperation = CarveOperation | 'split' | 'scribe';

export type Direction = readonly [number, number, number];

/** Options of a cut, besides its cutters. */
export interface CarveSettings {
  operation: CutOperation;
  /** Flush faces of different bodies become one face. Default true. */
  joinFlush?: boolean;
  /**
   * Where the result touches itself only along an edge or at a vertex: part it into manifold pieces (default), or keep
   * it so.
   */
  pinches?: 'part' | 'keep';
  /** The course that new edges and walls are marked with. Default 1. */
  course?: number;
  /** Of a split: both bodies (default), only the rest, or only the offcut. */
  keeps?: 'both' | 'rest' | 'offcut';
  /**
   * Of a scribe: only on the surface that each cutter meets first along its direction. Default all that the cutters
   * meet.
   */
  nearest?: readonly Direction[];
  /** How new walls get texture coordinates where the target has some. Default `box`. */
  wallUvs?: WallUvs;
  /** Of the course whose cut this is: what it remembers from the last time. */
  memory?: CarveMemory;
}

export interface CarveOptions extends CarveSettings {
  cutters: readonly PolyMesh[];
}

export interface CarveReport extends KernelReport {
  /** How the result was reached, in words. */
  strategy: string;
  /** Volumes, mm³; null for a sheet. */
  volumeBefore: number | null;
  volumeAfter: number | null;
  /** Areas of the whole surface, mm². */
  areaBefore: number;
  areaAfter: number;
  /** Faces of the result that come from cutters. */
  newWalls: number;
  /** Edges of the result between target and cutter faces, or that were scribed. */
  seamEdges: number;
  /** Faces that a scribed outline encloses. */
  enclosed: number;
}

interface Cut {
  mesh: PolyMesh;
  report: KernelReport;
  strategy: string;
}

/**
 * Subtracts the cutters from the target, unites them with it, keeps what they have in common, parts the target along
 * them, or scribes their outline on its surface. Several cutters act as one, overlapping ones too. Faces that the cut
 * does not meet come out corner for corner as they went in. An open target is a sheet and stays one; the bodies of a
 * split part are cut one by one.
 *
 * @example
 * const { mesh, report } = carve(box(100, 60, 20), { cutters: [cylinder(8, 40, 64)], operation: 'subtract' });
 *
 * Throws `not-solid` when a body is not fit to be carved, `bad-input` when there is nothing to carve with or the result
 * would be empty, `too-large` when it would take more memory than is set aside, `not-done` when no tolerance gives a clean result; nothing is changed then.
 * Method: `kernel/`, a tolerant arrangement of planes. Limits: cutters must be closed.
 */
export function carve(target: PolyMesh, options: CarveOptions, ctx?: OpContext): OpResult<CarveReport> {
  const { cutters } = options;
  if (!cutters.length) throw new MasonError('bad-input', 'There is no cutter to cut with.');
  if (faceCount(target) === 0) throw new MasonError('bad-input', 'The part has no faces to cut.');
  checkMemory(target, cutters);
  const bodies = bodiesOf(target);
  bodies.forEach((m) => (isOpen(m) ? checkSheet(m, 'The part') : checkSolid(m, 'The part')));
  cutters.forEach((m, i) => checkCutter(m, cutters.length > 1 ? `Cutter ${i + 1}` : 'The cutter'));
  if (options.operation === 'union' && bodies.some(isOpen))
    throw new MasonError(
      'bad-input',
      'A sheet has no inside, so nothing can be added to it. Close it first, or take away.',
    );
  // Layers that only some of them have are computed here, where each is still whole.
  const [lit, ...tools] = wholeLayers([target, ...cutters]) as [PolyMesh, ...PolyMesh[]];
  const whole = lit === target ? bodies : bodiesOf(lit);
  const cuts =
    options.operation === 'union'
      ? [uniteWithOne(whole, tools, options, ctx)]
      : cutEach(lit, whole, tools, options, ctx);
  const joined = joinMeshes(cuts.map((c) => c.mesh).filter((m) => faceCount(m) > 0));
  const solid = options.operation === 'scribe' || bodies.some(isOpen) ? joined : withoutSkins(joined);
  const mesh = withWallUvs(solid, target, cutters, options.course ?? 1, options.wallUvs);
  const sum = solid === joined && sums.get(joined);
  if (sum) sums.set(mesh, sum);
  if (faceCount(mesh) === 0) throw new MasonError('bad-input', nothingLeft(options, target, cutters));
  if (cuts.every((c) => !faceCount(c.mesh) || isTrusted(c.mesh))) trust(mesh, bodies.some(isOpen));
  return { mesh, report: reportOf(target, mesh, cuts, options.course ?? 1) };
}

function checkCutter(m: PolyMesh, name: string): void {
  if (!isOpen(m)) return checkSolid(m, name);
  throw new MasonError(
    'not-solid',
    `${name} is not closed, so it has no inside to cut with. Fill its openings, or give it a thickness, then cut again.`,
  );
}

function assemblyOf(o: CarveOptions) {
  return { joinFlush: o.joinFlush ?? true, pinches: o.pinches ?? 'part', course: o.course ?? 1 } as const;
}

/** Measures of results that were summed up from what a cut changed: a large part is not measured anew for each. */
const sums = new WeakMap<PolyMesh, Measures>();
const measuresOf = (m: PolyMesh): Measures => sums.get(m) ?? areaAndVolume(m);

/** One arrangement of a body and cutters whose surfaces do not come near each other. */
function arrange(
  body: PolyMesh,
  cutters: readonly PolyMesh[],
  selections: readonly Selection[],
  o: CarveOptions,
  ctx?: OpContext,
  nearest?: Direction,
): { meshes: PolyMesh[]; report: KernelReport; strategy: string } {
  const united = uniteNear(cutters, assemblyOf(o), ctx);
  const open = isOpen(body);
  const { meshes, gains, report } = carveInReach(
    [body, ...united],
    selections,
    { ...assemblyOf(o), open, nearest },
    ctx,
    o.memory,
  );
  meshes.forEach((m, i) => {
    if (open || o.pinches !== 'keep' || isClosed(m)) trust(m, open);
    const gain = gains[i];
    if (gain) sums.set(m, { area: measuresOf(body).area + gain.area, volume: measuresOf(body).volume + gain.volume });
  });
  const joint = united.length < cutters.length ? `, ${cutters.length} cutters as ${united.length}` : '';
  return { meshes, report, strategy: `planes at ${report.relativeTolerance} of the size${joint}` };
}

/** Subtract, intersect, split and scribe work on each body of a part by itself. */
function cutEach(
  target: PolyMesh,
  bodies: readonly PolyMesh[],
  cutters: readonly PolyMesh[],
  o: CarveOptions,
  ctx?: OpContext,
): Cut[] {
  let last = lastBody(target);
  return bodies.map((body): Cut => {
    if (o.operation === 'split') return split(body, cutters, o, () => ++last, ctx);
    // The nearest place is reported for each cutter by itself.
    const lists = o.operation === 'scribe' && o.nearest ? cutters.map((c) => [c]) : [cutters];
    return lists.reduce<Cut | null>((done, list, i) => {
      const { meshes, report, strategy } = arrange(
        done?.mesh ?? body,
        list,
        [o.operation as Selection],
        o,
        ctx,
        o.nearest?.[i],
      );
      const mesh = meshes[0]!;
      return { mesh, report: done ? worse(done.report, report) : report, strategy };
    }, null)!;
  });
}

/**
 * Parts a body along the cutters: the rest, and what lies in them. Cutters apart from each other take one arrangement;
 * where some come near each other, each parts the pieces that those before it left.
 */
function split(
  body: PolyMesh,
  cutters: readonly PolyMesh[],
  o: CarveOptions,
  next: () => number,
  ctx?: OpContext,
): Cut {
  const near = uniteNear(cutters, assemblyOf(o), { signal: ctx?.signal }).length < cutters.length;
  let pieces = [{ mesh: body, offcut: false }];
  let last: Omit<Cut, 'mesh'> | null = null;
  for (const list of near ? cutters.map((c) => [c]) : [cutters])
    pieces = pieces.flatMap(({ mesh, offcut }) => {
      const { meshes, report, strategy } = arrange(mesh, list, ['subtract', 'intersect'], o, ctx);
      last = { report: last ? worse(last.report, report) : report, strategy };
      const [rest, inside] = meshes as [PolyMesh, PolyMesh];
      return [
        { mesh: rest, offcut },
        { mesh: inside, offcut: true },
      ].filter((p) => faceCount(p.mesh));
    });
  const number = body.layers.body?.[0] ?? 0;
  let first = true;
  const kept = pieces
    .filter((p) => (o.keeps ?? 'both') === 'both' || p.offcut === (o.keeps === 'offcut'))
    .map(({ mesh }) => {
      const n = first ? number : next();
      first = false;
      return n || body.layers.body || pieces.length > 1 ? asBody(mesh, n) : mesh;
    });
  return { mesh: joinMeshes(kept), ...last! };
}

/** Cutters are added to the first body that they meet. */
function uniteWithOne(
  bodies: readonly PolyMesh[],
  cutters: readonly PolyMesh[],
  o: CarveOptions,
  ctx?: OpContext,
): Cut {
  const met = bodies.filter((b) => cutters.some((c) => boxesMeet(b, c)));
  if (met.length > 1)
    throw new MasonError(
      'bad-input',
      'The cutter meets several bodies of the part, and can be added to one only. Move it, or lay it below the split.',
    );
  const body = met[0] ?? bodies[0]!;
  const { meshes, report, strategy } = arrange(body, cutters, ['union'], o, ctx);
  const mesh = bodies.length > 1 ? asBody(meshes[0]!, body.layers.body![0]!) : meshes[0]!;
  return { mesh: joinMeshes([mesh, ...bodies.filter((b) => b !== body)]), report, strategy };
}

function boxesMeet(a: PolyMesh, b: PolyMesh): boolean {
  const [p, q] = [bounds(a), bounds(b)];
  return [0, 1, 2].every((k) => p.min[k]! <= q.max[k]! && q.min[k]! <= p.max[k]!);
}

/** The report of the rung that was climbed highest, with the sums of both. */
function worse(a: KernelReport, b: KernelReport): KernelReport {
  const high = a.rung >= b.rung ? a : b;
  const sum = (key: 'facesCut' | 'cells' | 'contacts') => a[key] + b[key];
  return {
    ...high,
    drift: Math.max(a.drift, b.drift),
    facesCut: sum('facesCut'),
    cells: sum('cells'),
    contacts: sum('contacts'),
  };
}

function reportOf(target: PolyMesh, mesh: PolyMesh, cuts: readonly Cut[], course: number): CarveReport {
  const [before, after] = [measuresOf(target), measuresOf(mesh)];
  const sheet = isOpen(target);
  const count = (layer: ArrayLike<number> | undefined, from = 0, step = 1) => {
    let n = 0;
    if (layer) for (let i = from; i < layer.length; i += step) if (layer[i] === course) n++;
    return n;
  };
  const report = cuts.map((c) => c.report).reduce(worse);
  return {
    ...report,
    strategy: cuts[0]!.strategy,
    volumeBefore: sheet ? null : before.volume,
    volumeAfter: sheet ? null : after.volume,
    areaBefore: before.area,
    areaAfter: after.area,
    newWalls: count(mesh.layers.source, 2, 3),
    seamEdges: count(mesh.layers.seam) / (sheet ? 1 : 2),
    enclosed: count(mesh.layers.mark),
  };
}

function nothingLeft(o: CarveOptions, target: PolyMesh, cutters: readonly PolyMesh[]): string {
  if (o.operation === 'subtract' || o.keeps === 'rest')
    return 'The cutter takes the whole part away; nothing would be left. Make it smaller or move it.';
  return cutters.every((m) => !boxesMeet(target, m))
    ? 'The cutter and the part do not meet, so they have nothing in common. Move the cutter into the part.'
    : 'The cutter and the part have no volume in common; nothing would be left.';
}
