import type { Distances } from './seamDistances.ts';
import type { FineTriangles } from './fineTriangles.ts';
import type { SeamSides } from './seamSides.ts';

/** A place of the line on a fine edge: its vertex, the half-edge of the side nearest to it, and the share of that. */
export interface LineNode {
  vertex: number;
  h: number;
  share: number;
  /** The edge of the fine triangles that it stands on. */
  edge: number;
}

/** A line at one width from a side, with what lies beyond on its left. */
export interface LevelLine {
  nodes: LineNode[];
  /** The triangle that it passes from each node to the next. */
  triangles: number[];
  isClosed: boolean;
}

export interface Traced {
  lines: LevelLine[];
  /** Whether a triangle corner (the half-edge that leaves it) lies under the band. */
  under: Uint8Array;
  /** The node on a crossed edge, by the edge. */
  on: Map<number, LineNode>;
}

/** A root is found to this share of the width, and an edge is halved so often at most. */
const [ROOT, MOST_HALVINGS] = [1e-11, 40];
/** A node keeps this share of its edge from either end. */
const FROM_END = 1e-5;
/** A false position keeps this share of what is left from either end. */
const FROM_SIDE = 0.02;

/** A vertex of the mesh this near beyond the line (widths) counts as under it, so that no hairline is left at it. */
const NEARLY = 0.01;

/** Whether a vertex off the seam lies under the band. */
export const liesUnder = (fine: FineTriangles, f: Float64Array, v: number): boolean =>
  f[v]! < (v < fine.own.length ? 1 + NEARLY : 1);

/**
 * The line at one width from the sides: on each edge with one end nearer and one farther a node by bisection with false
 * position; each triangle with both gives a stretch. Such a line never crosses itself.
 * Source: marching triangles on a signed field; bisection with regula falsi (Dowell and Jarratt, 1971).
 */
export function levelLines(fine: FineTriangles, s: SeamSides, { f, from }: Distances): Traced {
  const under = new Uint8Array(fine.vertex.length);
  for (let h = 0; h < under.length; h++) {
    const v = fine.vertex[h]!;
    under[h] = (s.onSeam[v] ? s.sector[h]! >= 0 && s.wants(s.sector[h]!) : liesUnder(fine, f, v)) ? 1 : 0;
  }
  const on = new Map<number, LineNode>();
  const nodeOn = (h: number): LineNode => {
    const edge = fine.edge(h);
    const known = on.get(edge);
    if (known) return known;
    const n = fine.next(h);
    const [u, v, cu] = under[h] ? [fine.vertex[h]!, fine.vertex[n]!, h] : [fine.vertex[n]!, fine.vertex[h]!, n];
    const node = { ...crossing(fine, s, f, u, v, s.onSeam[u] ? s.sector[cu]! : from[u]!, from[v]!), edge };
    on.set(edge, node);
    return node;
  };
  /** From the edge that a stretch begins on: its triangle, and the edge that it ends on. */
  const onward = new Map<number, { t: number; to: number }>();
  const entered = new Set<number>();
  for (let t = 0; t < fine.triangles; t++) {
    const sum = under[3 * t]! + under[3 * t + 1]! + under[3 * t + 2]!;
    if (sum === 0 || sum === 3) continue;
    let [begin, end] = [-1, -1];
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const n = fine.next(h);
      if (under[h] === under[n]) continue;
      const { edge } = nodeOn(h);
      if (under[h]) end = edge;
      else begin = edge;
    }
    onward.set(begin, { t, to: end });
    entered.add(end);
  }
  const lines: LevelLine[] = [];
  const seen = new Set<number>();
  const follow = (first: number) => {
    const line: LevelLine = { nodes: [], triangles: [], isClosed: true };
    let edge = first;
    while (!seen.has(edge)) {
      seen.add(edge);
      line.nodes.push(on.get(edge)!);
      const n = onward.get(edge);
      if (!n) {
        line.isClosed = false;
        break;
      }
      line.triangles.push(n.t);
      edge = n.to;
    }
    lines.push(line);
  };
  for (const edge of onward.keys()) if (!entered.has(edge)) follow(edge);
  for (const edge of onward.keys()) if (!seen.has(edge)) follow(edge);
  return { lines, under, on };
}

/** Where the edge from a vertex under the band to one beyond crosses the line; half-edges that may be nearest there. */
function crossing(
  fine: FineTriangles,
  s: SeamSides,
  f: Float64Array,
  u: number,
  v: number,
  fromU: number,
  fromV: number,
): Omit<LineNode, 'edge'> {
  const [p, q] = [fine.at(u), fine.at(v)];
  const starts = [fromU, fromV].filter((h, i, a) => h >= 0 && a.indexOf(h) === i);
  let [h, share] = [starts[0]!, 0];
  let x = p;
  // Each half-edge that may be nearest is kept up to date, as it changes little from look to look.
  const look = (k: number): number => {
    x = [p[0] + k * (q[0] - p[0]), p[1] + k * (q[1] - p[1]), p[2] + k * (q[2] - p[2])];
    let best = Infinity;
    for (let i = 0; i < starts.length; i++) {
      const d = s.nearest(x[0], x[1], x[2], starts[i]!, 3);
      starts[i] = s.found.h;
      if (d < best) [best, h, share] = [d, s.found.h, s.found.share];
    }
    return best - 1;
  };
  let [lo, hi] = [0, f[u]! < 1 ? 1 : 0];
  let [atLo, atHi] = [f[u]! - 1, s.onSeam[v] ? 1 : Math.min(1, f[v]! - 1)];
  for (let i = 0; i < MOST_HALVINGS && hi - lo > ROOT; i++) {
    const way = Math.max(FROM_SIDE, Math.min(1 - FROM_SIDE, atLo / (atLo - atHi)));
    const k = i % 3 === 2 ? (lo + hi) / 2 : lo + (hi - lo) * way;
    const d = look(k);
    if (Math.abs(d) < ROOT) {
      lo = hi = k;
      break;
    }
    if (d < 0) [lo, atLo] = [k, d];
    else [hi, atHi] = [k, d];
  }
  look(Math.max(FROM_END, Math.min(1 - FROM_END, (lo + hi) / 2)));
  return { vertex: fine.add(x), h, share };
}
