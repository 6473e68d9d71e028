import { checkCancelled, faceCount, MasonError, Surface, topologyOf, type OpContext, type PolyMesh, type Vec3 } from '../../mesh/index.ts'; // prettier-ignore
import { pairsThatMeet } from '../../survey/index.ts';
import { bevelGround, buildBevel, type BevelGround, type Built } from './build.ts';
import { ROUNDED, SOFT } from './loops.ts';
import type { Trouble } from './nodes.ts';
import { alongFaces, chainsOf, edgeRoles, levelled, turnAt, type BevelMeasure } from './widths.ts';

/** What a bevel is to be. */
export interface BevelWish {
  /** Size, mm: see `measure`. An edge may have its own in `widths`, by edge. */
  width: number;
  measure: BevelMeasure;
  widths?: ReadonlyMap<number, number>;
  segments: number;
  /** −1 hollow, 0 straight, 1 round, 2 full. */
  profile: number;
  /** Where there is no room: narrower just there, the whole chain as wide as fits, or not at all. */
  past: 'narrow' | 'clamp' | 'stop';
  /** Over which length (mm) strips that end within a surface run out to a point; none: over their last edge. */
  taper?: number;
  /** Name of the slot of strips and corners; none: those of the faces beside them. */
  slot?: string;
  /** The number of the course, which new faces are said to come from; none: from the faces beside them. */
  course?: number;
}

/** What of a bevel makes its shape. */
export type BevelShape = Pick<BevelWish, 'width' | 'measure' | 'widths' | 'segments' | 'profile'>;

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

/** How wide a chain of edges can get (as `measure` says, mm) before something is in its way: what, and where. */
export interface ChainHeadroom {
  edges: number;
  headroom: number;
  what: Trouble['what'] | 'nothing';
  at: Vec3;
}

/** Narrower by this share where something is in the way, so many times at most. */
const [NARROWER, MOST_ROUNDS] = [0.9, 64];
/** Steps in which width is given back after it was narrowed. */
const GIVES_BACK = 5;
/** What is left of a width below this share is none. */
const NOTHING = 0.02;
/** Of a chain's headroom so much is used where it is held to it. */
const WITHIN = 0.99;
/** The least headroom is found to this share of itself, those of other chains to the second. */
const [EXACT, NEAR] = [1e-9, 1e-3];

/** Widths of a bevel on one mesh, which can be built and tried. */
class Bevelling {
  readonly ground: BevelGround;
  readonly width: Float64Array;
  /** How many edges are rounded. */
  readonly rounded: number;
  constructor(
    readonly mesh: PolyMesh,
    edges: readonly number[],
    private readonly wish: BevelShape & { holds?: boolean },
    private readonly ctx: OpContext | undefined,
  ) {
    const t = topologyOf(mesh);
    const plain = new Surface(mesh, () => false, 180);
    const role = edgeRoles(mesh, edges, plain);
    const surface = new Surface(mesh, (e) => role[e] !== SOFT, 180);
    this.ground = bevelGround(mesh, role, surface);
    this.width = new Float64Array(t.edgeCount);
    this.rounded = role.reduce((n, r) => n + (r === ROUNDED ? 1 : 0), 0);
    for (const c of t.edgeCorner) {
      const e = t.edge[c]!;
      if (role[e] === ROUNDED)
        this.width[e] = alongFaces(wish.widths?.get(e) ?? wish.width, turnAt(mesh, surface, c), wish.measure);
    }
  }

  private built(share: Float64Array, width: Float64Array, bare: boolean): Built {
    const { segments, profile, holds = false } = this.wish;
    return buildBevel(this.ground, { role: this.ground.role, width, share, segments, holds }, profile, bare);
  }

  /** Shares of the width per vertex: all of it, and nothing where strips run out. */
  shares(): Float64Array {
    const share = new Float64Array(this.mesh.positions.length / 3).fill(1);
    for (const v of this.ground.pointed) share[v] = 0;
    return share;
  }

  /** Builds it, scaled, and looks whether any of its faces cut through others. Without layers. */
  build(share: Float64Array, scale = 1): Built {
    checkCancelled(this.ctx);
    const width = scale === 1 ? this.width : this.width.map((w) => w * scale);
    const built = this.built(share, width, true);
    if (!built.mesh) return built;
    const { mesh, first, made } = built;
    for (const [f, g] of pairsThatMeet(mesh, (x) => x >= first, this.ctx)) {
      const vertices = [f, g].flatMap((x) => (x >= first ? [...made[x - first]!.of] : this.verticesOf(built.kept[x]!)));
      const c = mesh.loopStart[mesh.faceLoops[f >= first ? f : g]!]!;
      const v = 3 * mesh.corners[c]!;
      built.troubles.push({ what: 'cuts through', at: [mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!], vertices }); // prettier-ignore
    }
    return built;
  }

  /** Builds it with all layers. */
  dressed(share: Float64Array): Built {
    return this.built(share, this.width, false);
  }

  /** Vertices of the rounded edges of a face. */
  private verticesOf(f: number): number[] {
    const m = this.mesh;
    const t = topologyOf(m);
    const out: number[] = [];
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++)
      if (this.ground.role[t.edge[c]!] === ROUNDED) out.push(m.corners[c]!, m.corners[t.next[c]!]!);
    return out;
  }
}

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
  // prettier-ignore
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
  // prettier-ignore
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
  // prettier-ignore
  const full = share.slice();
  narrow(b, share, past, ctx);
  const { mesh, made } = b.dressed(share);
  const narrowed = [...share.keys()].filter((v) => share[v]! < full[v]!);
  return {
    mesh: mesh!,
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

/** Lessens shares where something is in the way until nothing is, then gives back as much as goes. */
function narrow(b: Bevelling, share: Float64Array, past: BevelWish['past'], ctx: OpContext | undefined): void {
  const full = share.slice();
  for (let round = 0; ; round++) {
    const { troubles } = b.build(share);
    if (!troubles.length) break;
    const first = troubles[0]!;
    if (past === 'stop' || round === MOST_ROUNDS) throw new MasonError('not-done', `The bevel has no room: ${inWords(first.what)}. Use less width${past === 'stop' ? ', or let it be narrower there' : ''}.`, { point: first.at }); // prettier-ignore
    ctx?.progress?.(Math.min(0.9, round / 20), 'making it narrower where there is no room');
    for (const v of new Set(troubles.flatMap((x) => x.vertices)))
      share[v] = share[v]! * NARROWER < NOTHING ? 0 : share[v]! * NARROWER;
    levelled(b.mesh, b.ground.role, b.width, share);
  }
  if (share.every((s, v) => s === full[v])) return;
  const least = share.slice();
  let [low, high] = [0, 1];
  for (let step = 0; step < GIVES_BACK; step++) {
    const middle = (low + high) / 2;
    const tried = least.map((s, v) => s + middle * (full[v]! - s));
    if (b.build(tried).troubles.length) high = middle;
    else {
      low = middle;
      share.set(tried);
    }
  }
}

/** What stands in the way of a bevel, in words. */
export function inWords(what: Trouble['what'] | 'nothing'): string {
  if (what === 'used up') return 'an edge or a face beside it would be used up';
  if (what === 'in the way') return 'another edge is in the way';
  if (what === 'meets') return 'two strips meet, or one meets another outline';
  return what === 'nothing' ? 'nothing is in the way' : 'it would cut through another face';
}

/**
 * How wide a bevel of some edges can get before it collides, chain by chain: edges that meet are a chain. Found by bisection on the bevel itself, with all
 * its tests: the least to 1e-9 of itself, the others to 1e-3. `wish.width` (and `widths`) set how the widths of edges are to each other.
 */
export function bevelHeadroom(
  m: PolyMesh,
  edges: readonly number[],
  wish: Pick<BevelWish, 'width' | 'measure' | 'widths' | 'segments' | 'profile'>,
  ctx?: OpContext,
): ChainHeadroom[] {
  // prettier-ignore
  const b = new Bevelling(m, edges, wish, ctx);
  return headrooms(b, ctx).map((x) => ({ ...x, headroom: x.headroom * wish.width }));
}

/** Headrooms as shares of the widths asked for: all chains grow together; what runs into something stays as it is then, and the others go on. */
function headrooms(b: Bevelling, ctx: OpContext | undefined): ChainHeadroom[] {
  const m = b.mesh;
  const t = topologyOf(m);
  const { of, count } = chainsOf(m, b.ground.role);
  const chains = Array.from({ length: count }, (): ChainHeadroom => ({ edges: 0, headroom: Infinity, what: 'nothing', at: [0, 0, 0] })); // prettier-ignore
  for (const c of t.edgeCorner) if (b.ground.role[t.edge[c]!] === ROUNDED) chains[of[m.corners[c]!]!]!.edges++;
  const free = new Set(chains.keys());
  const tried = (scale: number): Trouble[] => {
    const share = b.shares();
    for (let v = 0; v < share.length; v++)
      if (of[v]! >= 0 && !free.has(of[v]!)) share[v] = Math.min(share[v]!, (WITHIN * chains[of[v]!]!.headroom) / scale);
    return b.build(share, scale).troubles;
  };
  let low = 0;
  for (let exact = EXACT; free.size; exact = NEAR) {
    ctx?.progress?.(1 - free.size / (count + 1), 'looking how wide it can get');
    let high = Math.max(low * (1 + NEAR), 1);
    let troubles = tried(high);
    while (!troubles.length && high < MOST_SCALE) {
      low = high;
      high *= 2;
      troubles = tried(high);
    }
    if (!troubles.length) break;
    while (high - low > exact * high && high > LEAST_SCALE) {
      const middle = low > 0 && high > 4 * low ? Math.sqrt(low * high) : low > 0 ? (low + high) / 2 : high / 4;
      const found = tried(middle);
      if (found.length) [high, troubles] = [middle, found];
      else low = middle;
    }
    // What runs into something hardly later does so now, as the many alike holes of a plate do.
    const all = [...troubles, ...tried(high * (1 + NEAR))];
    const before = free.size;
    for (const x of all)
      for (const v of x.vertices) {
        const k = of[v]!;
        if (k < 0 || !free.delete(k)) continue;
        Object.assign(chains[k]!, { headroom: low, what: x.what, at: x.at });
      }
    if (free.size === before) {
      for (const k of free) Object.assign(chains[k]!, { headroom: low, what: all[0]!.what, at: all[0]!.at });
      break;
    }
  }
  return chains;
}

/** A bevel is not tried above so many times its width, nor below such a share of it. */
const [MOST_SCALE, LEAST_SCALE] = [4096, 1e-6];
