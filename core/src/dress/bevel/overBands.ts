import { MasonError, partOf, topologyOf, type OpContext, type OpResult, type PolyMesh } from '../../mesh/index.ts';
import { keptEdges, layBands } from '../../mend/index.ts';
import { Bevelling, type BevelReport, type BevelWish } from './bevelling.ts';
import { chainsOf } from './widths.ts';

type Options = BevelWish & { edges: readonly number[] };
type Made = OpResult<BevelReport>;

/** Greatest share of a band that a bevel takes, so that mitres stay inside its outer line. */
const OF_BAND = 0.9;
/** A bevel counts as better when so much more of its length has its full width. */
const MORE = 1e-3;
/** Shares of the work done after the plain bevel, and after the bands are laid. */
const [BARE, LAID] = [0.4, 0.7];

/**
 * A bevel as it is, or, where it has no room, on bands of quads that are laid along its chains over whatever faces lie
 * there: the one that has more of its width. `run` bevels.
 */
export function overBands(
  m: PolyMesh,
  options: Options,
  run: (m: PolyMesh, options: Options, ctx: OpContext | undefined) => Made,
  ctx: OpContext | undefined,
): Made {
  // A ball that rolls on fitted surfaces knows the faces of the mesh given alone.
  if (options.guide) return run(m, options, ctx);
  const [bare, problem] = attempt(() => run(m, options, partOf(ctx, 0, BARE)));
  if (bare && !bare.report.narrowed) return bare;
  const [on, noBand] = attempt(() => banded(m, options, bare?.report.vertices ?? null, partOf(ctx, BARE, LAID)));
  if (!on) {
    if (bare) return bare;
    throw problem ?? noBand;
  }
  const [over] = attempt(() => run(on.mesh, on.options, partOf(ctx, LAID, 1)));
  if (over && (!bare || hasMoreRoom(over.report, bare.report)))
    return { mesh: over.mesh, report: { ...over.report, bands: on.bands } };
  if (bare) return bare;
  throw problem;
}

/** The result of a step, or why it has no room; other errors are thrown on. */
function attempt<T>(step: () => T): [T, null] | [null, MasonError] {
  try {
    return [step(), null];
  } catch (e) {
    if (e instanceof MasonError && e.code === 'not-done') return [null, e];
    throw e;
  }
}

const hasMoreRoom = (a: BevelReport, b: BevelReport): boolean =>
  a.full > b.full + MORE || (a.full > b.full - MORE && a.least > b.least);

/** The mesh with bands along the chains that have no room (`narrowed`: vertices of theirs; null: all), and the edges. */
function banded(m: PolyMesh, options: Options, narrowed: readonly number[] | null, ctx: OpContext | undefined) {
  const t = topologyOf(m);
  const { edges, ...wish } = options;
  const b = new Bevelling(m, edges, wish, ctx);
  const { of } = chainsOf(m, b.ground.role);
  const chains = narrowed && new Set(narrowed.map((v) => of[v]!));
  const isTaken = (e: number) => !chains || chains.has(of[m.corners[t.edgeCorner[e]!]!]!);
  const rounded = edges.filter((e) => b.width[e]! > 0);
  const taken = rounded.filter(isTaken);
  const widest = taken.reduce((w, e) => Math.max(w, b.width[e]!), 0);
  const isKept = keptEdges(m);
  const others = new Set(rounded.filter((e) => !isTaken(e)));
  const { mesh, seam, numbers, bands } = layBands(
    m,
    {
      seam: taken.map((e) => t.edgeCorner[e]!),
      width: widest / OF_BAND,
      rows: 1,
      shift: 0,
      aim: 'square',
      isWanted: () => true,
      isCrease: (c) => others.has(t.edge[c]!) || isKept(c),
    },
    ctx,
  );
  const u = topologyOf(mesh);
  const byEnds = new Map([...u.edgeCorner].map((c) => [ends(mesh.corners[c]!, mesh.corners[u.next[c]!]!), u.edge[c]!]));
  const widths = new Map<number, number>();
  for (const [a, c, corner] of seam) widths.set(byEnds.get(ends(a, c))!, b.width[t.edge[corner]!]!);
  for (const e of others) {
    const c = t.edgeCorner[e]!;
    const now = byEnds.get(ends(numbers[m.corners[c]!]!, numbers[m.corners[t.next[c]!]!]!));
    if (now !== undefined) widths.set(now, b.width[e]!);
  }
  // All measures are converted to widths along the faces.
  return {
    mesh,
    bands,
    options: { ...wish, edges: [...widths.keys()], width: widest, widths, measure: 'offset' as const },
  };
}

const ends = (a: number, b: number): string => (a < b ? `${a},${b}` : `${b},${a}`);
