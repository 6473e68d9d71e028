import { cornerCount, faceCount, loopCount, vertexCount, type PolyMesh } from './polymesh.ts';

/** An edge used by one corner only. */
export const OPEN = -1;
/** An edge used by three or more corners, or by two that run the same way. */
export const UNPAIRED = -2;

/** Derived from a mesh's corners: neighbours of every kind, with damage marked. */
export interface Topology {
  /** The next and the previous corner of the same boundary. */
  readonly next: Int32Array;
  readonly prev: Int32Array;
  /** The face of each corner. */
  readonly face: Int32Array;
  /** The undirected edge of each corner. */
  readonly edge: Int32Array;
  /** The corner that runs the other way along the same edge; `OPEN` or `UNPAIRED` when there is not exactly one. */
  readonly opposite: Int32Array;
  readonly edgeCount: number;
  /** One corner of each edge. */
  readonly edgeCorner: Int32Array;
  /** The next corner of the same edge, in a ring through all of them. */
  readonly sameEdge: Int32Array;
}

const cache = new WeakMap<PolyMesh, Topology>();

/** The topology of a mesh, derived on first use and kept as long as the mesh. Linear in the corners. */
export function topologyOf(m: PolyMesh): Topology {
  let t = cache.get(m);
  if (!t) cache.set(m, (t = derive(m)));
  return t;
}

/** A mesh of the very same faces as another one, with its topology: vertices have moved. */
export function sharedTopology(m: PolyMesh, as: PolyMesh): PolyMesh {
  cache.set(m, topologyOf(as));
  return m;
}

function derive(m: PolyMesh): Topology {
  const n = cornerCount(m);
  const { corners } = m;
  const next = new Int32Array(n);
  const prev = new Int32Array(n);
  const face = new Int32Array(n);
  for (let l = 0; l < loopCount(m); l++) {
    const s = m.loopStart[l]!;
    const e = m.loopStart[l + 1]!;
    for (let c = s; c < e; c++) {
      next[c] = c + 1 < e ? c + 1 : s;
      prev[c] = c > s ? c - 1 : e - 1;
    }
  }
  for (let f = 0; f < faceCount(m); f++) face.fill(f, m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!);

  // Edges of a vertex hang in a chain at its lower end: short chains, no hashing, no sorting.
  const first = new Int32Array(vertexCount(m)).fill(-1);
  const chain = new Int32Array(n).fill(-1);
  const edge = new Int32Array(n);
  const sameEdge = new Int32Array(n);
  const edgeCorner = new Int32Array(n);
  let edgeCount = 0;
  for (let c = 0; c < n; c++) {
    const u = corners[c]!;
    const v = corners[next[c]!]!;
    const low = u < v ? u : v;
    const high = u < v ? v : u;
    let q = first[low]!;
    while (q >= 0) {
      const a = corners[q]!;
      if ((a === low ? corners[next[q]!]! : a) === high) break;
      q = chain[q]!;
    }
    if (q < 0) {
      chain[c] = first[low]!;
      first[low] = c;
      edge[c] = edgeCount;
      edgeCorner[edgeCount++] = c;
      sameEdge[c] = c;
    } else {
      edge[c] = edge[q]!;
      sameEdge[c] = sameEdge[q]!;
      sameEdge[q] = c;
    }
  }
  const opposite = new Int32Array(n);
  for (let c = 0; c < n; c++) {
    const o = sameEdge[c]!;
    if (o === c) opposite[c] = OPEN;
    else opposite[c] = sameEdge[o] === c && corners[o] !== corners[c] ? o : UNPAIRED;
  }
  return { next, prev, face, edge, opposite, edgeCount, edgeCorner: edgeCorner.subarray(0, edgeCount), sameEdge };
}

/** For each vertex the corners at it, whatever its faces are like. Linear to make. */
export function vertexCorners(m: PolyMesh): (v: number) => number[] {
  const start = new Int32Array(vertexCount(m) + 1);
  for (const v of m.corners) start[v + 1]!++;
  for (let v = 0; v < vertexCount(m); v++) start[v + 1]! += start[v]!;
  const at = start.slice();
  const list = new Int32Array(m.corners.length);
  m.corners.forEach((v, c) => (list[at[v]!++] = c));
  return (v) => [...list.subarray(start[v], start[v + 1])];
}

/** Vertices of corners that share a fan: corners reached from each other across paired edges round one vertex. */
export function cornerFans(m: PolyMesh, t: Topology, crosses: (corner: number) => boolean): Int32Array {
  const fan = new Int32Array(cornerCount(m)).fill(-1);
  let count = 0;
  for (let c = 0; c < fan.length; c++) {
    if (fan[c]! >= 0) continue;
    const id = count++;
    // Backward until an edge that does not cross, then forward from there.
    let start = c;
    for (;;) {
      const o = t.opposite[start]!;
      if (o < 0 || !crosses(start)) break;
      const before = t.next[o]!;
      if (before === c || fan[before]! >= 0) break;
      start = before;
    }
    let q = start;
    while (q >= 0 && fan[q]! < 0) {
      fan[q] = id;
      const arriving = t.prev[q]!;
      q = t.opposite[arriving]! >= 0 && crosses(arriving) ? t.opposite[arriving]! : -1;
    }
  }
  return fan;
}
