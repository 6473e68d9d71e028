import { faceCount, MasonError, tieHoles, topologyOf, vertexCount, type PolyMesh } from '../mesh/index.ts';

/** More faces than this are not made: the picture would bring the page down. */
export const MOST_SUBDIVIDED = 2_000_000;

/** A subdivided mesh and what of it comes from the cage. */
export interface Subdivided {
  mesh: PolyMesh;
  /** Corners whose edges lie on edges of the cage: all that is left of its lines. */
  cage: Int32Array;
}

/**
 * One or more rounds of Catmull–Clark subdivision: every face becomes quads round its middle, and vertices move towards a smooth surface. Open edges
 * follow the smooth curve of the rim alone; hard and non-manifold edges stay where they are (their vertices move along them only). Faces with holes
 * are tied first. Throws `too-large` before it would make more than `MOST_SUBDIVIDED` faces.
 * Source: Catmull and Clark, "Recursively generated B-spline surfaces on arbitrary topological meshes", 1978; rims and creases as in DeRose, Kass and
 * Truong, "Subdivision Surfaces in Character Animation", 1998.
 */
export function subdivide(m: PolyMesh, levels: number): Subdivided {
  let mesh = tieHoles(m);
  let cage: Int32Array = Int32Array.from({ length: mesh.corners.length }, (_, c) => c);
  for (let i = 0; i < levels; i++) {
    if (mesh.corners.length > MOST_SUBDIVIDED)
      throw new MasonError('too-large', `The next level would have ${mesh.corners.length.toLocaleString('en')} faces; up to ${MOST_SUBDIVIDED.toLocaleString('en')} are made. Use a lower level.`); // prettier-ignore
    ({ mesh, cage } = once(mesh, cage));
  }
  return { mesh, cage };
}

function once(m: PolyMesh, cage: Int32Array): Subdivided {
  const t = topologyOf(m);
  const [nv, nf, ne] = [vertexCount(m), faceCount(m), t.edgeCount];
  const P = m.positions;
  const out = new Float64Array(3 * (nv + nf + ne));
  const faceAt = 3 * nv;
  const edgeAt = 3 * (nv + nf);
  for (let f = 0; f < nf; f++) {
    const [begin, end] = [m.loopStart[f]!, m.loopStart[f + 1]!];
    for (let k = 0; k < 3; k++) {
      let s = 0;
      for (let c = begin; c < end; c++) s += P[3 * m.corners[c]! + k]!;
      out[faceAt + 3 * f + k] = s / (end - begin);
    }
  }
  const { hard } = m.layers;
  /** Edges that keep their own line, by edge. */
  const kept = new Uint8Array(ne);
  for (const c of t.edgeCorner) {
    const o = t.opposite[c]!;
    if (o < 0 || hard?.[c] || hard?.[o]) kept[t.edge[c]!] = 1;
  }
  const lines = new Int32Array(nv);
  const lineSum = new Float64Array(3 * nv);
  const edges = new Int32Array(nv);
  const edgeSum = new Float64Array(3 * nv);
  for (const c of t.edgeCorner) {
    const e = t.edge[c]!;
    const [u, v] = [m.corners[c]!, m.corners[t.next[c]!]!];
    for (let k = 0; k < 3; k++) {
      const mid = (P[3 * u + k]! + P[3 * v + k]!) / 2;
      out[edgeAt + 3 * e + k] = kept[e] ? mid : (2 * mid + out[faceAt + 3 * t.face[c]! + k]! + out[faceAt + 3 * t.face[t.opposite[c]!]! + k]!) / 4;
      for (const [a, b] of [[u, v], [v, u]] as const) {
        edgeSum[3 * a + k]! += mid;
        if (kept[e]) lineSum[3 * a + k]! += P[3 * b + k]!;
      }
    }
    for (const a of [u, v]) {
      edges[a]!++;
      if (kept[e]) lines[a]!++;
    }
  } // prettier-ignore
  const faces = new Int32Array(nv);
  const faceSum = new Float64Array(3 * nv);
  for (let c = 0; c < m.corners.length; c++) {
    const v = m.corners[c]!;
    faces[v]!++;
    for (let k = 0; k < 3; k++) faceSum[3 * v + k]! += out[faceAt + 3 * t.face[c]! + k]!;
  }
  for (let v = 0; v < nv; v++)
    for (let k = 0; k < 3; k++) {
      const p = P[3 * v + k]!;
      const n = edges[v]!;
      // On one line through it a vertex follows that line; where more meet, or one ends, it is a corner or smooth.
      if (lines[v] === 2) out[3 * v + k] = (6 * p + lineSum[3 * v + k]!) / 8;
      else if (lines[v]! > 2 || n === 0) out[3 * v + k] = p;
      else out[3 * v + k] = (faceSum[3 * v + k]! / faces[v]! + (2 * edgeSum[3 * v + k]!) / n + (n - 3) * p) / n;
    }
  // A quad for each corner: the vertex, the middle of the edge that leaves it, the middle of the face, the middle of the edge that arrives.
  const count = m.corners.length;
  const corners = new Int32Array(4 * count);
  const half = new Uint8Array(hard ? 4 * count : 0);
  const { slot, source } = m.layers;
  const slots = slot && new Int32Array(count);
  const sources = source && new Int32Array(3 * count);
  for (let c = 0; c < count; c++) {
    const f = t.face[c]!;
    const before = t.prev[c]!;
    corners.set([m.corners[c]!, nv + nf + t.edge[c]!, nv + f, nv + nf + t.edge[before]!], 4 * c);
    if (hard) {
      half[4 * c] = hard[c]!;
      half[4 * c + 3] = hard[before]!;
    }
    if (slots) slots[c] = slot[f]!;
    if (sources) sources.set(source.subarray(3 * f, 3 * f + 3), 3 * c);
  }
  const mesh: PolyMesh = {
    positions: out,
    faceLoops: Int32Array.from({ length: count + 1 }, (_, i) => i),
    loopStart: Int32Array.from({ length: count + 1 }, (_, i) => 4 * i),
    corners,
    layers: { ...(slots && { slot: slots }), ...(sources && { source: sources }), ...(hard && { hard: half }) },
    slots: m.slots,
  };
  // An edge of the cage is now the first half of itself in one quad, and the second in the next.
  const left = new Int32Array(2 * cage.length);
  cage.forEach((c, i) => left.set([4 * c, 4 * t.next[c]! + 3], 2 * i));
  return { mesh, cage: left };
}
