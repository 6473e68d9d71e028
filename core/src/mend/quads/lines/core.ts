import type { Flat } from '../../../mesh/index.ts';
import { apart, towards } from '../flatMesh.ts';
import { extentOf, type Extent } from './extent.ts';
import { isCircle } from './roundFrame.ts';

// A face without holes that is bent outwards all round: a core of rows and columns in its midst, and a band between it
// and the outline, as between the box of a hole and its rim.

/** What a face with a core is like: those of one kind are laid out alike. */
export interface Core {
  kind: string;
  extent: Extent;
  /** Whether the outline is a circle. */
  isRound: boolean;
  /**
   * Where columns and rows stand that go on from the outline's own vertices, from −1 to 1; null where opposite sides
   * have other numbers of them.
   */
  own: { columns: number[]; rows: number[] } | null;
}

/**
 * How the core is laid: its columns and rows, evenly or those of the outline, and how far it is from the outline as a
 * share of half of the lesser width.
 */
export interface CoreWays {
  kind: string;
  count: { columns: number; rows: number } | 'own';
  inset: number;
}

/** Outlines of fewer edges have no core. */
const LEAST_EDGES = 8;
/** An outline turns inward nowhere by more than this (sine). */
const INWARD = 1e-6;

/** The core of a face in its frame; null where it has holes, few edges or an odd number, or turns inward. */
export function coreOf(rings: readonly (readonly Flat[])[]): Core | null {
  const [ring, hole] = rings as [readonly Flat[], (readonly Flat[])?];
  const n = ring.length;
  if (hole || n < LEAST_EDGES || n % 2) return null;
  for (let i = 0; i < n; i++) {
    const [a, b, c] = [ring[i]!, ring[(i + 1) % n]!, ring[(i + 2) % n]!];
    const cross = (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]);
    if (cross < -INWARD * apart(a, b) * apart(b, c)) return null;
  }
  const extent = extentOf(ring);
  const isRound = isCircle(ring, towards(extent[0], extent[1], 0.5));
  const size = [0, 1].map((k) => (extent[1][k]! - extent[0][k]!).toPrecision(2));
  return { kind: `core ${n}: ${size.join(' × ')}`, extent, isRound, own: ownRows(ring, extent) };
}

/** Columns and rows from the vertices of an outline, of which those furthest out aslant are its corners. */
function ownRows(ring: readonly Flat[], [low, high]: Extent): Core['own'] {
  const n = ring.length;
  const middle = towards(low, high, 0.5);
  const [w, h] = [(high[0] - low[0]) / 2, (high[1] - low[1]) / 2];
  const scaled = ring.map((p): Flat => [(p[0] - middle[0]) / w, (p[1] - middle[1]) / h]);
  const corners = ASLANT.map(([x, y]) => {
    const out = (i: number) => ring[i]![0] * x + ring[i]![1] * y;
    return ring.reduce((best, _, i) => (out(i) > out(best) + ALIKE * w ? i : best), 0);
  });
  const sides = corners.map((from, k) => {
    const count = (corners[(k + 1) % 4]! - from + n) % n;
    return Array.from({ length: count + 1 }, (_, i) => scaled[(from + i) % n]!);
  }) as [Flat[], Flat[], Flat[], Flat[]];
  const [bottom, right, top, left] = sides;
  const sum = sides.reduce((s, side) => s + side.length - 1, 0);
  if (sum !== n || bottom.length !== top.length || right.length !== left.length) return null;
  if (Math.min(bottom.length, right.length) < 2) return null;
  const between = (one: readonly Flat[], two: readonly Flat[], k: 0 | 1): number[] => {
    const back = [...two].reverse();
    const list = one.map((p, i) => (p[k] + back[i]![k]) / 2);
    const [first, last] = [list[0]!, list.at(-1)!];
    return list.map((x) => (2 * (x - first)) / (last - first) - 1);
  };
  return { columns: between(bottom, top, 0), rows: between(right, left, 1) };
}

/** The four ways aslant, to the left round from below on the left; what is as far out to this share is alike. */
const ASLANT: readonly Flat[] = [
  [-1, -1],
  [1, -1],
  [1, 1],
  [-1, 1],
];
const ALIKE = 1e-9;

/**
 * Ways to lay a core that are tried: with the outline's own columns and rows; where these do not suit, or `coarser` ones
 * are wanted, as many edges round it as the outline has, or fewer.
 */
export function coreWays({ kind, extent, own }: Core, edges: number, coarser: boolean): CoreWays[] {
  const fitted = own ? INSETS.map((inset): CoreWays => ({ kind, count: 'own', inset })) : [];
  if (own && !coarser) return fitted;
  const [w, h] = [0, 1].map((k) => extent[1][k]! - extent[0][k]!) as [number, number];
  const out = [...fitted];
  for (const share of SHARES)
    for (const inset of INSETS) {
      const off = inset * Math.min(w, h);
      const sum = Math.round((edges / 2) * share);
      const even = Math.round((sum * (w - off)) / (w - off + h - off));
      for (const columns of [even, even - 1, even + 1])
        if (columns > 0 && sum - columns > 0) out.push({ kind, count: { columns, rows: sum - columns }, inset });
    }
  return out;
}

/** A core has so many edges round it as a share of the outline's, and is so far in. */
const SHARES = [1, 0.75, 0.5, 0.3];
const INSETS = [0.48, 0.35, 0.6];
