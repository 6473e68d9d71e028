import { faceCount, MasonError, type OpContext, type PolyMesh, type Vec3 } from '../../mesh/index.ts';
import { Bevelling, type BevelWish } from './bevelling.ts';
import type { Built } from './build.ts';
import { headrooms, inWords, WITHIN } from './headroom.ts';
import { chainsOf, levelled } from './widths.ts';

/** What a bevel came to. */
export interface BevelReport {
  edges: number;
  strips: number;
  corners: number;
  /** Vertices at which it is narrower than asked for, where, and the least share that is left. */
  narrowed: number;
  least: number;
  places: Vec3[];
}

/** Narrower by this share where something is in the way, so many times at most; by more when it takes long. */
const [NARROWER, PATIENT, MOST_ROUNDS] = [0.9, 40, 64];
/** Steps in which width is given back after it was narrowed. */
const GIVES_BACK = 5;
/** What is left of a width below this share is none. */
const NOTHING = 0.02;

/**
 * Rounds or chamfers edges of a polygon mesh: each gets a strip between two lines beside it, drawn at one distance over the faces and across soft edges; faces
 * keep what lies beyond the lines, and corners where strips meet are filled with quads. Edges that a line uses up are passed over; corners of the inside beyond
 * 230° are gone round. Faces with inner outlines need no ties.
 *
 * `edges`: numbers of edges (see `topologyOf`) with two faces. Where there is no room the bevel is made narrower at the vertices concerned (`past`: 'narrow'), along
 * the whole chain ('clamp'), or refused ('stop', `not-done` with the place). A result whose faces cut through others is never returned.
 * Source: offsets by straight-skeleton events along each outline (Aichholzer and Aurenhammer, 1996), on unrolled facets; arcs as rational curves of second
 * degree (Farin, "Curves and Surfaces for CAGD").
 */
export function bevel(
  m: PolyMesh,
  edges: readonly number[],
  wish: BevelWish,
  ctx?: OpContext,
): { mesh: PolyMesh; report: BevelReport } {
  const b = new Bevelling(m, edges, wish, ctx);
  if (!b.rounded) throw new MasonError('bad-input', 'There is no edge to bevel: those picked lie in flats, or have not two faces. Pick edges at which the surface turns.'); // prettier-ignore
  const share = b.shares();
  if (wish.taper) tapered(b, share, wish.taper);
  if (wish.past === 'clamp') {
    const { of } = chainsOf(m, b.ground.role);
    const rooms = headrooms(b, ctx).map((x) => x.headroom);
    for (let v = 0; v < share.length; v++) if (of[v]! >= 0) share[v] = Math.min(share[v]!, WITHIN * rooms[of[v]!]!);
  }
  const { mesh, report } = finished(b, share, wish.past, ctx);
  return { mesh: marked(mesh, faceCount(mesh) - report.strips - report.corners, wish), report };
}

/** The mesh with its faces from one on in the slot and of the source that are asked for. */
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

/**
 * Lays lines at one distance on both sides of edges, which stay where they are, as the surface does: so that a subdivision holds them. Corners where edges meet
 * are filled with quads round the vertex. Where there is no room the lines come nearer to the edge. Options and errors as for `bevel`.
 */
export function holdEdges(
  m: PolyMesh,
  edges: readonly number[],
  distance: number,
  ctx?: OpContext,
): { mesh: PolyMesh; report: BevelReport } {
  const b = new Bevelling(m, edges, { width: distance, measure: 'offset', segments: 2, profile: 2, holds: true }, ctx);
  if (!b.rounded) throw new MasonError('bad-input', 'There is no edge to hold: those picked lie in flats, or have not two faces. Pick edges at which the surface turns.'); // prettier-ignore
  return finished(b, b.shares(), 'narrow', ctx);
}

/** Narrows what has no room, and builds it with all layers. */
function finished(
  b: Bevelling,
  share: Float64Array,
  past: BevelWish['past'],
  ctx: OpContext | undefined,
): { mesh: PolyMesh; report: BevelReport } {
  const full = share.slice();
  const { made, dress } = narrow(b, share, past, ctx);
  const narrowed = [...share.keys()].filter((v) => share[v]! < full[v]!);
  return {
    mesh: dress()!,
    report: {
      edges: b.rounded,
      strips: made.filter((f) => f.kind === 'strip').length,
      corners: made.filter((f) => f.kind === 'corner').length,
      narrowed: narrowed.length,
      least: narrowed.reduce((x, v) => Math.min(x, share[v]!), 1),
      places: narrowed.map((v) => b.ground.surface.at(v)),
    },
  };
}

/** Lets strips that run out to a point do so evenly over a length (mm) of their chain. */
function tapered(b: Bevelling, share: Float64Array, over: number): void {
  for (const v of b.ground.pointed) share[v] = 0;
  levelled(b.mesh, b.ground.role, b.width, share, (width) => width / over);
}

/** Lessens shares where something is in the way until nothing is, then gives back as much as goes: what is built of them. */
function narrow(b: Bevelling, share: Float64Array, past: BevelWish['past'], ctx: OpContext | undefined): Built {
  const full = share.slice();
  let good: Built;
  for (let round = 0; ; round++) {
    good = b.build(share);
    const { troubles } = good;
    if (!troubles.length) break;
    const first = troubles[0]!;
    if (past === 'stop' || round === MOST_ROUNDS) throw new MasonError('not-done', `The bevel has no room: ${inWords(first.what)}. Use less width${past === 'stop' ? ', or let it be narrower there' : ''}.`, { point: first.at }); // prettier-ignore
    ctx?.progress?.(Math.min(0.9, round / 20), 'making it narrower where there is no room');
    const by = round < PATIENT ? NARROWER : round < MOST_ROUNDS - 8 ? 0.5 : 0;
    for (const v of new Set(troubles.flatMap((x) => x.vertices)))
      share[v] = share[v]! * by < NOTHING ? 0 : share[v]! * by;
    levelled(b.mesh, b.ground.role, b.width, share);
  }
  if (share.every((s, v) => s === full[v])) return good;
  const least = share.slice();
  let [low, high] = [0, 1];
  for (let step = 0; step < GIVES_BACK; step++) {
    const middle = (low + high) / 2;
    const tried = least.map((s, v) => s + middle * (full[v]! - s));
    const built = b.build(tried);
    if (built.troubles.length) high = middle;
    else {
      [low, good] = [middle, built];
      share.set(tried);
    }
  }
  return good;
}
