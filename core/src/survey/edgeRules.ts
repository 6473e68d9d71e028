import { Places, type Looked } from './look.ts';

/** Edges shorter than this share of the size are very short. */
export const SHORT_EDGE = 1e-4;

/** Open edges, and the run of open edges that each vertex of them belongs to. */
function openRuns({ mesh: m, topology: t, edges }: Looked): {
  open: Int32Array;
  runOf: (vertex: number) => number;
  runs: number;
} {
  const up = new Map<number, number>();
  const runOf = (v: number): number => {
    let r = v;
    while (up.get(r) !== r) r = up.get(r)!;
    up.set(v, r);
    return r;
  };
  const { open } = edges;
  for (const c of open) {
    const [u, v] = [m.corners[c]!, m.corners[t.next[c]!]!];
    if (!up.has(u)) up.set(u, u);
    if (!up.has(v)) up.set(v, v);
    up.set(runOf(u), runOf(v));
  }
  let runs = 0;
  for (const [v, to] of up) if (v === to) runs++;
  return { open, runOf, runs };
}

/** Edges with one face only; the value of each is the length of the run of open edges that it belongs to, mm. */
export function openEdges(l: Looked): Places {
  const out = new Places('edge');
  const { open, runOf } = openRuns(l);
  const lengths = new Map<number, number>();
  for (const c of open) {
    const r = runOf(l.mesh.corners[c]!);
    lengths.set(r, (lengths.get(r) ?? 0) + l.edgeLength(c));
  }
  for (const c of open) out.add(c, lengths.get(runOf(l.mesh.corners[c]!))!);
  return out;
}

/** How many runs of open edges there are. */
export const openRunCount = (l: Looked): number => openRuns(l).runs;

/** Edges with three faces or more; the value is how many. */
export function nonManifoldEdges({ topology: t, edges }: Looked): Places {
  const out = new Places('edge');
  for (const c of edges.odd) {
    let n = 1;
    for (let o = t.sameEdge[c]!; o !== c; o = t.sameEdge[o]!) n++;
    if (n > 2) out.add(c, n);
  }
  return out;
}

/** Edges whose two faces run the same way along them: one of the two is turned over. */
export function flippedEdges({ mesh: m, topology: t, edges }: Looked): Places {
  const out = new Places('edge');
  for (const c of edges.odd) {
    const o = t.sameEdge[c]!;
    if (o !== c && t.sameEdge[o] === c && m.corners[o] === m.corners[c]) out.add(c);
  }
  return out;
}

/** Edges shorter than `SHORT_EDGE` of the size; the value is the length, mm. */
export function shortEdges(l: Looked): Places {
  const out = new Places('edge');
  const least = SHORT_EDGE * l.size;
  // Where every face is a triangle without a short side there is none.
  const { shortest } = l.shapes;
  let some = false;
  for (let f = 0; f < shortest.length && !some; f++) some = !(shortest[f]! >= least * least);
  if (!some) return out;
  const { edgeCorner, next } = l.topology;
  const { corners, positions: P } = l.mesh;
  for (let e = 0; e < edgeCorner.length; e++) {
    const c = edgeCorner[e]!;
    const [a, b] = [3 * corners[c]!, 3 * corners[next[c]!]!];
    // Most edges are long along the first axis already.
    const x = P[a]! - P[b]!;
    if (x >= least || x <= -least) continue;
    const d = l.edgeLength(c);
    if (d < least) out.add(c, d);
  }
  return out;
}

/**
 * Edges that one face uses on both sides without its boundary turning back there: a hole tied to its surround by a
 * single doubled edge.
 */
export function singleTies({ mesh: m, topology: t, edges }: Looked): Places {
  const out = new Places('edge');
  for (const c of edges.own) {
    const o = t.opposite[c]!;
    const spur = t.next[c] === o || t.next[o] === c;
    if (!spur && m.corners[c] !== m.corners[o]) out.add(c);
  }
  return out;
}

/** Edges that a boundary runs along and at once back again: they bound nothing. */
export function strayEdges({ topology: t, edges }: Looked): Places {
  const out = new Places('edge');
  for (const c of edges.own) {
    const o = t.opposite[c]!;
    if (t.next[c] === o || t.next[o] === c) out.add(c);
  }
  return out;
}

/** Vertices at which a single hard edge ends, in the middle of their faces. */
export function looseHardEdges(l: Looked): Places {
  const out = new Places('vertex');
  const { mesh: m, topology: t } = l;
  const { hard } = m.layers;
  if (!hard) return out;
  const count = new Int32Array(m.positions.length / 3);
  const { rim } = l.edges;
  for (const c of t.edgeCorner) {
    const [u, v] = [m.corners[c]!, m.corners[t.next[c]!]!];
    const o = t.opposite[c]!;
    if (hard[c] || (o >= 0 && hard[o])) {
      count[u]!++;
      count[v]!++;
    }
  }
  count.forEach((n, v) => n === 1 && !rim[v] && out.add(v));
  return out;
}
