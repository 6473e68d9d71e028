import { topologyOf, vertexCount, type PolyMesh } from '../../mesh/index.ts';
import { sharpnessOf, type SubdivideOptions } from '../catmullClark.ts';

/** Where a subdivision is looked at: between two and three rounds, or at its end. */
export type SmoothedBy = 'few' | 'limit';

/**
 * Share of the way left after two rounds: the distance of a vertex from its limit falls by 4 a round, and its place is
 * taken midway between two rounds and three.
 */
const LEFT = 0.625;

/**
 * Where Catmull–Clark subdivision brings the vertices of a cage, by its own places alone: the first round is written
 * out round each vertex, and the limit of that taken (see `subdivide`).
 */
export class SoonSmooth {
  private readonly lines: Int32Array;
  private readonly fixed: Uint8Array;
  private readonly sharp: Float64Array;
  /** Edges and faces at each vertex. */
  private readonly edges: Int32Array;
  private readonly faces: Int32Array;

  constructor(
    private readonly m: PolyMesh,
    private readonly by: SmoothedBy,
    options: SubdivideOptions = { corners: true },
  ) {
    const t = topologyOf(m);
    ({ sharp: this.sharp, fixed: this.fixed } = sharpnessOf(m, options));
    const n = vertexCount(m);
    [this.lines, this.edges, this.faces] = [new Int32Array(n), new Int32Array(n), new Int32Array(n)];
    for (const c of t.edgeCorner)
      for (const v of [m.corners[c]!, m.corners[t.next[c]!]!]) {
        this.edges[v]!++;
        if (this.sharp[t.edge[c]!]) this.lines[v]!++;
      }
    for (const v of m.corners) this.faces[v]!++;
  }

  /** Whether a vertex comes to lie on a surface or on a line; corners stay where they are. */
  moves(v: number): boolean {
    return this.lines[v]! < 3 && !this.fixed[v] && this.edges[v]! > 0;
  }

  /** Whether a vertex lies on a sharp line or a border, and comes to lie on it. */
  onLine(v: number): boolean {
    return this.lines[v] === 2;
  }

  /** The places of all vertices, 3 numbers each, from those of the cage. */
  at(P: Float64Array): Float64Array {
    const { m, edges, faces, sharp } = this;
    const t = topologyOf(m);
    const n = vertexCount(m);
    const F = new Float64Array(3 * (m.faceLoops.length - 1));
    for (let f = 0; f + 1 < m.faceLoops.length; f++) {
      const [begin, end] = [m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!];
      for (let c = begin; c < end; c++)
        for (let k = 0; k < 3; k++) F[3 * f + k]! += P[3 * m.corners[c]! + k]! / (end - begin);
    }
    const [faceSum, edgeSum, midSum, lineSum] = [0, 1, 2, 3].map(() => new Float64Array(3 * n)) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    for (let c = 0; c < m.corners.length; c++)
      for (let k = 0; k < 3; k++) faceSum[3 * m.corners[c]! + k]! += F[3 * t.face[c]! + k]!;
    for (const c of t.edgeCorner) {
      const [u, v] = [m.corners[c]!, m.corners[t.next[c]!]!];
      const o = t.opposite[c]!;
      const isSharp = sharp[t.edge[c]!]! > 0;
      for (let k = 0; k < 3; k++) {
        const mid = (P[3 * u + k]! + P[3 * v + k]!) / 2;
        const point = isSharp || o < 0 ? mid : (2 * mid + F[3 * t.face[c]! + k]! + F[3 * t.face[o]! + k]!) / 4;
        for (const a of [u, v]) {
          edgeSum[3 * a + k]! += point;
          midSum[3 * a + k]! += mid;
          if (isSharp) lineSum[3 * a + k]! += mid;
        }
      }
    }
    const out = P.slice();
    for (let v = 0; v < n; v++) {
      if (!this.moves(v)) continue;
      const e = edges[v]!;
      for (let i = 3 * v; i < 3 * v + 3; i++) {
        const onLine = this.onLine(v);
        // After the first round, at the limit, and after the second.
        const one = onLine
          ? P[i]! / 2 + lineSum[i]! / 4
          : (faceSum[i]! / faces[v]! + (2 * midSum[i]!) / e + (e - 3) * P[i]!) / e;
        const limit = onLine
          ? (4 * one + lineSum[i]!) / 6
          : (e * e * one + 4 * edgeSum[i]! + faceSum[i]!) / (e * (e + 5));
        const quads = one / 4 + edgeSum[i]! / e / 2 + faceSum[i]! / e / 4;
        const two = onLine ? (6 * one + lineSum[i]!) / 8 : (quads + one + edgeSum[i]! / e + (e - 3) * one) / e;
        out[i] = this.by === 'limit' ? limit : limit + LEFT * (two - limit);
      }
    }
    return out;
  }
}
