import { partOf, sizeOf, topologyOf, type OpContext, type PolyMesh, type Vec3 } from '../../mesh/index.ts';
import { Bevelling, type BevelShape } from './bevelling.ts';
import type { Built } from './build.ts';
import { exactLimit } from './exactLimit.ts';
import { onFlatPieces } from './flatPieces.ts';
import { ROUNDED } from './bevelLoops.ts';
import type { Trouble } from './nodes.ts';
import { chainsOf } from './widths.ts';

/** How wide a chain of edges can get (as `measure` says, mm) before something is in its way: what, and where. */
export interface ChainHeadroom {
  edges: number;
  /** The first vertex of the chain. */
  vertex: number;
  headroom: number;
  what: Trouble['what'] | 'nothing';
  at: Vec3;
}

/** Share of a chain's headroom that a clamped bevel uses. */
export const WITHIN_ROOM = 0.99;
/**
 * Accuracy of the headroom as a share of itself: of the least one, of other chains, and where the least alone is
 * wanted.
 */
const [EXACT, NEAR] = [1e-9, 1e-2];
/** Accuracy of the headroom shown while a width is dragged, as a share of it. */
export const QUICK = 1e-3;

/** What is in the way of a bevel, in words. */
export function inWords(what: Trouble['what'] | 'nothing'): string {
  if (what === 'used up') return 'an edge or a face beside it would be used up';
  if (what === 'in the way') return 'another edge is in the way';
  if (what === 'meets') return 'two strips meet, or one meets another boundary';
  return what === 'nothing' ? 'nothing is in the way' : 'it would cut through another face';
}

/**
 * How wide a bevel of some edges can get before it collides, chain by chain: edges that meet are a chain. Found by
 * bisection on the bevel itself, with all its tests; the least exactly where flats give it, else to 1e-9 of itself, the
 * others to 1e-2; with `only` the least, those chains alone that have it, to 1e-3. `wish.width` (and `widths`) set how
 * the widths of edges are to each other.
 */
export function bevelHeadroom(
  m: PolyMesh,
  edges: readonly number[],
  wish: BevelShape,
  ctx?: OpContext,
  only: 'least' | 'all' = 'all',
): ChainHeadroom[] {
  return bestOf(m, { ...wish, edges }, ctx, (on, { edges: list, ...shape }, step) => {
    const b = new Bevelling(on, list, shape, step);
    return headrooms(b, step, only).map((x) => ({ ...x, headroom: x.headroom * wish.width }));
  });
}

/**
 * The rooms of chains as a bevel will find them: where it would cut through something, bent faces are looked at in flat
 * pieces, too, and each chain has the greater room of both.
 */
export function bestOf<R extends ChainHeadroom, O extends BevelShape & { edges: readonly number[] }>(
  m: PolyMesh,
  options: O,
  ctx: OpContext | undefined,
  run: (m: PolyMesh, options: O, ctx: OpContext | undefined) => R[],
): R[] {
  const folded = onFlatPieces(m, options);
  const rooms = run(m, options, folded ? partOf(ctx, 0, 0.5) : ctx);
  if (!folded || !rooms.some((x) => x.what === 'cuts through')) return rooms;
  // Vertices are the same in both.
  const others = new Map(run(folded.mesh, folded.options, partOf(ctx, 0.5, 1)).map((x) => [x.vertex, x]));
  return rooms.map((x) => {
    const other = others.get(x.vertex);
    return other && other.headroom > x.headroom ? other : x;
  });
}

/**
 * Headrooms as shares of the widths asked for: all chains grow together; what runs into something stays as it is then,
 * and the others go on. The least is found to `least` of itself.
 */
export function headrooms(
  b: Bevelling,
  ctx: OpContext | undefined,
  only: 'least' | 'all' = 'all',
  least = only === 'least' ? QUICK : EXACT,
): ChainHeadroom[] {
  const m = b.mesh;
  const t = topologyOf(m);
  const { of, count } = chainsOf(m, b.ground.role);
  const chains = Array.from({ length: count }, (): ChainHeadroom => ({
    edges: 0,
    vertex: Infinity,
    headroom: Infinity,
    what: 'nothing',
    at: [0, 0, 0],
  }));
  for (const c of t.edgeCorner) if (b.ground.role[t.edge[c]!] === ROUNDED) chains[of[m.corners[c]!]!]!.edges++;
  for (let v = of.length; v-- > 0;) if (of[v]! >= 0) chains[of[v]!]!.vertex = v;
  const free = new Set(chains.keys());
  const tried = (scale: number): Trouble[] => {
    const share = b.shares();
    for (let v = 0; v < share.length; v++)
      if (of[v]! >= 0 && !free.has(of[v]!))
        share[v] = Math.min(share[v]!, (WITHIN_ROOM * chains[of[v]!]!.headroom) / scale);
    return b.build(share, scale).troubles;
  };
  const size = sizeOf(m);
  const builtAt = (scale: number) => b.build(b.shares(), scale);
  /** The scale between two others at which something happens, from the flats of all chains together. */
  const flatLimit = (from: number, to: number): number | null => {
    if (free.size < count) return null;
    const scales = [0.9 * from, 0.95 * from, from] as const;
    const limit = exactLimit(scales.map(builtAt) as unknown as [Built, Built, Built], scales, to, size);
    // Check it: nothing just before, and something just after.
    return limit !== null && !tried(limit * (1 - SURE_OF_LIMIT)).length && tried(limit * (1 + SURE_OF_LIMIT)).length
      ? limit
      : null;
  };
  let low = 0;
  for (let exact = least; free.size; exact = NEAR) {
    ctx?.progress?.(1 - free.size / (count + 1), 'looking how wide it can get');
    let high = Math.max(low * (1 + NEAR), 1);
    let troubles = tried(high);
    while (!troubles.length && high < MOST_SCALE) {
      low = high;
      high *= 2;
      troubles = tried(high);
    }
    if (!troubles.length) break;
    const narrow = (until = exact) => {
      while (high - low > until * high && high > LEAST_SCALE) {
        const middle = low > 0 && high > 4 * low ? Math.sqrt(low * high) : low > 0 ? (low + high) / 2 : high / 4;
        const found = tried(middle);
        if (found.length) [high, troubles] = [middle, found];
        else low = middle;
      }
    };
    narrow(Math.max(exact, QUICK));
    if (exact < QUICK && low > 0) {
      // Flats give it exactly; where something bends, bisect.
      const known = flatLimit(low, high);
      if (known !== null) [low, high] = [known, known];
      else narrow();
    }
    // Rarely something is in the way at a lesser width already.
    for (const share of free.size === count ? LESSER : []) {
      const found = tried(low * share);
      if (!found.length) continue;
      [high, troubles, low] = [low * share, found, 0];
      narrow();
    }
    // Chains that collide hardly later stop now, too, such as the many equal holes of a plate.
    const all = [...troubles, ...tried(high * (1 + NEAR))];
    const before = free.size;
    for (const x of all)
      for (const v of x.vertices) {
        const k = of[v]!;
        if (k < 0 || !free.delete(k)) continue;
        Object.assign(chains[k]!, { headroom: low, what: x.what, at: x.at });
      }
    if (only === 'least') return chains.filter((_, k) => !free.has(k));
    if (free.size === before) {
      for (const k of free) Object.assign(chains[k]!, { headroom: low, what: all[0]!.what, at: all[0]!.at });
      break;
    }
  }
  return chains;
}

/** A limit is checked this share before and after it. */
const SURE_OF_LIMIT = 1e-8;
/** Shares of the room at which it is tried again. */
const LESSER = [0.9, 0.7, 0.5, 0.25];

/** A bevel is not tried above so many times its width, nor below such a share of it. */
const [MOST_SCALE, LEAST_SCALE] = [4096, 1e-6];
