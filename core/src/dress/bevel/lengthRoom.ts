import {
  lengthOf,
  partOf,
  sub,
  topologyOf,
  vertexPlace,
  type OpContext,
  type PolyMesh,
  type Vec3,
} from '../../mesh/index.ts';
import { Bevelling, type BevelShape } from './bevelling.ts';
import { ROUNDED } from './bevelLoops.ts';
import { bestOf, headrooms, type ChainHeadroom } from './headroom.ts';
import type { Trouble } from './nodes.ts';
import { chainsOf, levelled } from './widths.ts';

/** How wide a bevel can get with so much of a chain's length at its full width; then what takes more of it, and where. */
export interface LengthRoom {
  /** Of the length, 0 to 1. */
  share: number;
  /** As the bevel measures; infinite where nothing is in the way. */
  width: number;
  what: Trouble['what'] | 'nothing';
  at: Vec3;
}

/** A chain's headroom, and the widths for shares of its length, the greatest share first. */
export interface ChainRoom extends ChainHeadroom {
  rooms: LengthRoom[];
}

/** Shares of the length that widths are reported for, besides all of it. */
const LENGTH_SHARES = [0.99, 0.95] as const;
/** Widths are tried in steps of this factor, which is their accuracy. */
const GROWTH = 1.15;
/** Where less than this share of a chain has its width, no wider one is tried. */
const ENOUGH_LENGTH = 0.8;
/** Widths at a collision shrink by this share, at most so many times; then the width counts as impossible. */
const [NARROWER, MOST_TRIES] = [0.8, 8];
/** Bounds of the widths tried, as factors of the wanted one. */
const [MOST_SCALE, LEAST_SCALE] = [64, 1e-3];
/** Share of the work that the headroom of all chains takes. */
const OF_ALL = 0.4;
/** A share of the width from here on is all of it. */
const FULL = 1 - 1e-9;

/**
 * How wide a bevel can get, chain by chain, when it may be narrower on 0, 1 and 5 % of the length: a single hairline
 * edge sets the headroom of a whole chain, not these. Found by raising the width in steps, each narrowed where
 * something is in the way: the widest at which so much has its full width, to a seventh below.
 */
export function bevelLengthRooms(
  m: PolyMesh,
  edges: readonly number[],
  wish: BevelShape,
  ctx?: OpContext,
): ChainRoom[] {
  return bestOf(m, { ...wish, edges }, ctx, (on, { edges: list, ...shape }, step) =>
    lengthRooms(on, list, shape, step),
  );
}

function lengthRooms(m: PolyMesh, edges: readonly number[], wish: BevelShape, ctx: OpContext | undefined): ChainRoom[] {
  const b = new Bevelling(m, edges, wish, ctx);
  const chains = headrooms(b, partOf(ctx, 0, OF_ALL));
  const rest = partOf(ctx, OF_ALL, 1);
  const { of } = chainsOf(m, b.ground.role);
  const pieces = edgePieces(b, of);
  const rooms = chains.map((c): LengthRoom[] => {
    const room = { width: c.headroom * wish.width, what: c.what, at: c.at };
    return [1, ...LENGTH_SHARES].map((share) => ({ ...room, share }));
  });
  const open = new Set([...chains.keys()].filter((k) => Number.isFinite(chains[k]!.headroom)));
  const first = Math.max(
    LEAST_SCALE,
    [...open].reduce((x, k) => Math.min(x, chains[k]!.headroom), Infinity),
  );
  for (let scale = first * GROWTH; open.size && scale < MOST_SCALE; scale *= GROWTH) {
    const done = Math.log(scale / first) / Math.log(MOST_SCALE / first);
    rest?.progress?.(Math.min(0.99, done), 'looking how wide most of it can get');
    const { share, why } = settled(b, of, scale);
    const full = fullShares(pieces, chains.length, share);
    for (const k of open) {
      for (const room of rooms[k]!.slice(1)) {
        if (full[k]! >= room.share) room.width = Math.max(room.width, scale * wish.width);
        // What was in the way first when so much of the length was not full.
        else if (room.width < (scale / GROWTH) * wish.width * FULL) continue;
        else Object.assign(room, { what: why.get(k)?.what ?? room.what, at: why.get(k)?.at ?? room.at });
      }
      if (full[k]! < ENOUGH_LENGTH) open.delete(k);
    }
  }
  return chains.map((c, k) => ({ ...c, headroom: c.headroom * wish.width, rooms: rooms[k]! }));
}

/** Shares of a width at which nothing is in the way, and what of each chain was. */
function settled(b: Bevelling, of: Int32Array, scale: number): { share: Float64Array; why: Map<number, Trouble> } {
  const share = b.shares();
  const why = new Map<number, Trouble>();
  const width = b.width.map((w) => w * scale);
  for (let tries = 0; tries < MOST_TRIES; tries++) {
    const { troubles } = b.build(share, scale);
    if (!troubles.length) break;
    const narrowed = new Set<number>();
    for (const t of troubles)
      for (const v of t.vertices) {
        if (of[v]! < 0) continue;
        if (!why.has(of[v]!)) why.set(of[v]!, t);
        if (!narrowed.has(v)) share[v]! *= NARROWER;
        narrowed.add(v);
      }
    levelled(b.mesh, b.ground.role, width, share);
  }
  return { share, why };
}

interface Piece {
  a: number;
  b: number;
  chain: number;
  length: number;
}

/** The rounded edges with their chains and lengths, mm. */
function edgePieces(b: Bevelling, of: ArrayLike<number>): Piece[] {
  const m = b.mesh;
  const t = topologyOf(m);
  const out: Piece[] = [];
  for (const c of t.edgeCorner) {
    if (b.ground.role[t.edge[c]!] !== ROUNDED) continue;
    const [v, w] = [m.corners[c]!, m.corners[t.next[c]!]!];
    out.push({ a: v, b: w, chain: of[v]!, length: lengthOf(sub(vertexPlace(m, v), vertexPlace(m, w))) });
  }
  return out;
}

/** Of each chain the share of its length that has the full width. */
function fullShares(pieces: readonly Piece[], count: number, share: Float64Array): Float64Array {
  const [full, all] = [new Float64Array(count), new Float64Array(count)];
  for (const { a, b, chain, length } of pieces) {
    all[chain]! += length;
    if (share[a]! >= FULL && share[b]! >= FULL) full[chain]! += length;
  }
  return full.map((x, k) => (all[k]! > 0 ? x / all[k]! : 1));
}
