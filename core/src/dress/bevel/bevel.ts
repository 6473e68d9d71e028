import {
  faceBend,
  faceCount,
  MasonError,
  partOf,
  sizeOf,
  type OpContext,
  type PolyMesh,
  type OpResult,
  pairsThatMeet,
} from '../../mesh/index.ts';
import { Bevelling, type BevelReport, type BevelWish } from './bevelling.ts';
import { FLAT_FACE, onFlatPieces } from './flatPieces.ts';
import { headrooms, QUICK, WITHIN_ROOM } from './headroom.ts';
import { meetInLines } from './meetInLines.ts';
import { overBands } from './overBands.ts';
import { comeTogether, narrow } from './past.ts';
import { chainsOf, levelled } from './widths.ts';

/** Options of a bevel: its edges, as numbers (see `topologyOf`), and how they are bevelled. */
export interface BevelOptions extends Partial<BevelWish> {
  edges: readonly number[];
  /** Whether bands of quads are laid beneath where the faces there would narrow it, when it is wider on these. */
  over?: boolean;
}

/** Defaults of the options. */
export const BEVEL_DEFAULTS: Required<
  Pick<BevelOptions, 'width' | 'measure' | 'segments' | 'profile' | 'past' | 'mitre'>
> = {
  width: 1,
  measure: 'offset',
  segments: 2,
  profile: 2,
  past: 'narrow',
  mitre: false,
};

/**
 * Rounds or chamfers edges of a polygon mesh: each gets a strip between two lines beside it, drawn at one distance over
 * the faces and across soft edges; faces keep what lies beyond the lines, and corners where strips meet are filled with
 * quads. Edges that a line uses up are passed over; inside corners beyond 230° are rounded, or mitred. Faces
 * with inner boundaries need no ties.
 *
 * `edges`: numbers of edges (see `topologyOf`) with two faces. Where there is no room the bevel is made narrower at the
 * vertices concerned (`past`: 'narrow'), and strips that come near each other may meet in a line there ('meet'), along
 * the whole chain ('clamp'), or refused ('stop', `not-done` with the place). A result whose faces cut through others is
 * never returned. With `over`, bands are laid beneath where faces there are in the way, if it gets wider on them.
 * Source: offsets by straight-skeleton events along each boundary (Aichholzer and Aurenhammer, 1996), on unrolled
 * facets; arcs as rational curves of second degree (Farin, "Curves and Surfaces for CAGD").
 *
 * @example
 * const m = box(20, 20, 20);
 * const { mesh, report } = bevel(m, { edges: sharpEdges(m, 30), width: 2, segments: 3 });
 */
export function bevel(m: PolyMesh, options: BevelOptions, ctx?: OpContext): OpResult<BevelReport> {
  const run = (on: PolyMesh, o: BevelOptions, step: OpContext | undefined) =>
    onFolds(on, o, (x, wish) => bevelOnce(x, wish, step), step);
  return options.over ? overBands(m, { ...BEVEL_DEFAULTS, ...options }, run, ctx) : run(m, options, ctx);
}

/**
 * Bevels; where what a line leaves of a bent face cuts through something, bevels again with bent faces in flat pieces,
 * as the rest of a bent face spans another surface than the whole face.
 */
function onFolds<O extends { edges: readonly number[]; widths?: BevelOptions['widths'] }>(
  m: PolyMesh,
  options: O,
  run: (m: PolyMesh, options: O) => OpResult<BevelReport>,
  ctx: OpContext | undefined,
): OpResult<BevelReport> {
  const tolerance = FLAT_FACE * sizeOf(m);
  const made = run(m, options);
  const first = faceCount(made.mesh) - made.report.strips - made.report.corners;
  const isBent = (f: number) => f < first && faceBend(made.mesh, f) > tolerance;
  if (!pairsThatMeet(made.mesh, { wanted: isBent, ctx: { signal: ctx?.signal }, most: 1 }).length) return made;
  const folded = onFlatPieces(m, options);
  return folded ? run(folded.mesh, folded.options) : made;
}

function bevelOnce(m: PolyMesh, options: BevelOptions, ctx?: OpContext): OpResult<BevelReport> {
  const { edges, ...wish } = { ...BEVEL_DEFAULTS, ...options };
  const b = new Bevelling(m, edges, wish, ctx);
  if (!b.rounded)
    throw new MasonError(
      'bad-input',
      'There is no edge to bevel: the picked ones lie in flats, or do not have two faces. Pick edges at which the surface turns.',
    );
  const share = b.shares();
  if (wish.taper) tapered(b, share, wish.taper);
  if (wish.past === 'clamp') {
    const { of } = chainsOf(m, b.ground.role);
    const rooms = headrooms(b, partOf(ctx, 0, TO_CLAMP), 'all', QUICK).map((x) => x.headroom);
    for (let v = 0; v < share.length; v++)
      if (of[v]! >= 0) share[v] = Math.min(share[v]!, WITHIN_ROOM * rooms[of[v]!]!);
  }
  const { mesh, report } = finished(b, share, wish.past, wish.past === 'clamp' ? partOf(ctx, TO_CLAMP, 1) : ctx);
  return { mesh: marked(mesh, faceCount(mesh) - report.strips - report.corners, wish), report };
}

/** Share of the work that finding the room of the chains takes, where widths are clamped to it. */
const TO_CLAMP = 0.8;

/** The mesh with all faces from a number on in the wanted slot and with the wanted source. */
function marked(m: PolyMesh, first: number, { slot: name, course }: BevelWish): PolyMesh {
  const layers = { ...m.layers };
  let { slots } = m;
  if (name) {
    slots = slots.includes(name) ? slots : [...slots, name];
    layers.slot = layers.slot?.slice() ?? new Int32Array(faceCount(m));
    layers.slot.fill(slots.indexOf(name), first);
  }
  if (course !== undefined && layers.source) {
    layers.source = layers.source.slice();
    for (let f = first; f < faceCount(m); f++) layers.source.set([course, f - first, course], 3 * f);
  }
  return { ...m, slots, layers };
}

export interface HoldEdgesOptions {
  /** Numbers of edges, see `topologyOf`. */
  edges: readonly number[];
  /** How far beside an edge its loops lie, mm. */
  distance: number;
}

/**
 * Lays lines at one distance on both sides of edges, which stay where they are, as the surface does: so that a
 * subdivision holds them. Corners where edges meet are filled with quads round the vertex. Where there is no room the
 * lines come nearer to the edge. Options and errors as for `bevel`.
 *
 * @example
 * const m = box(20, 20, 20);
 * const { mesh } = holdEdges(m, { edges: sharpEdges(m, 30), distance: 1 });
 */
export function holdEdges(m: PolyMesh, options: HoldEdgesOptions, ctx?: OpContext): OpResult<BevelReport> {
  return onFolds(m, options, (on, wish) => holdOnce(on, wish, ctx), ctx);
}

function holdOnce(m: PolyMesh, { edges, distance }: HoldEdgesOptions, ctx?: OpContext): OpResult<BevelReport> {
  const b = new Bevelling(m, edges, { width: distance, measure: 'offset', segments: 2, profile: 2, holds: true }, ctx);
  if (!b.rounded)
    throw new MasonError(
      'bad-input',
      'There is no edge to hold: the picked ones lie in flats, or do not have two faces. Pick edges at which the surface turns.',
    );
  return finished(b, b.shares(), 'narrow', ctx);
}

/** Narrows what has no room, and builds it with all layers. */
function finished(
  b: Bevelling,
  share: Float64Array,
  past: BevelWish['past'],
  ctx: OpContext | undefined,
): OpResult<BevelReport> {
  const full = share.slice();
  const narrowest = narrow(b, share, past, ctx);
  const apart = share.slice();
  const meeting =
    past === 'meet' && share.some((v, i) => v < full[i]!) ? comeTogether(b, share, full, narrowest, ctx) : null;
  const near = meeting?.built.dress() ?? null;
  const met = near && meetInLines(near, meeting!.built.first, meeting!.within);
  // Where they cannot meet they stay apart, so that no hairline is left.
  if (!met) share.set(apart);
  const { made, dress } = met ? meeting!.built : narrowest;
  const narrowed = [...share.keys()].filter((v) => share[v]! < full[v]!);
  const isNarrow = new Set(narrowed);
  return {
    mesh: met ?? dress()!,
    report: {
      edges: b.rounded,
      strips: made.filter((f) => f.kind === 'strip').length,
      corners: made.filter((f) => f.kind === 'corner').length,
      narrowed: narrowed.length,
      least: narrowed.reduce((x, v) => Math.min(x, share[v]!), 1),
      met: met ? faceCount(near) - faceCount(met) : 0,
      places: narrowed.map((v) => b.ground.surface.at(v)),
      vertices: narrowed,
      full: b.lengthShare((v) => !isNarrow.has(v)),
      bands: 0,
    },
  };
}

/** Lets strips that run out to a point do so evenly over a length (mm) of their chain. */
function tapered(b: Bevelling, share: Float64Array, over: number): void {
  for (const v of b.ground.pointed) share[v] = 0;
  levelled(b.mesh, b.ground.role, b.width, share, (width) => width / over);
}
