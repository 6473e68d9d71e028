import {
  faceAreas,
  faceNormals,
  sizeOf,
  topologyOf,
  type OpContext,
  type PolyMesh,
  type Topology,
} from '../mesh/index.ts';

/** A mesh that is being looked at, with what several rules need of it, each derived once and only when it is asked for. */
export class Looked {
  readonly topology: Topology;
  /** Longest side of the box round the mesh, mm: what tolerances are relative to. */
  readonly size: number;
  private areasOnce: Float64Array | null = null;
  private normalsOnce: Float64Array | null = null;
  private valenceOnce: Int32Array | null = null;

  constructor(
    readonly mesh: PolyMesh,
    readonly ctx?: OpContext,
  ) {
    this.topology = topologyOf(mesh);
    this.size = sizeOf(mesh);
  }

  get areas(): Float64Array {
    return (this.areasOnce ??= faceAreas(this.mesh));
  }

  get normals(): Float64Array {
    return (this.normalsOnce ??= faceNormals(this.mesh));
  }

  /** How many edges meet at each vertex; 0 for one that no face uses. */
  get valence(): Int32Array {
    if (this.valenceOnce) return this.valenceOnce;
    const { mesh: m, topology: t } = this;
    const out = new Int32Array(m.positions.length / 3);
    for (const c of t.edgeCorner) {
      out[m.corners[c]!]!++;
      out[m.corners[t.next[c]!]!]!++;
    }
    return (this.valenceOnce = out);
  }

  /** The length of the edge that leaves a corner, mm. */
  edgeLength(c: number): number {
    const { mesh: m, topology: t } = this;
    const [a, b] = [3 * m.corners[c]!, 3 * m.corners[t.next[c]!]!];
    const P = m.positions;
    return Math.sqrt((P[a]! - P[b]!) ** 2 + (P[a + 1]! - P[b + 1]!) ** 2 + (P[a + 2]! - P[b + 2]!) ** 2);
  }
}

/** What a rule has found: vertices, edges (by a corner that leaves along each) or faces, and a value for each where the rule measures one. */
export class Places {
  readonly ids: number[] = [];
  readonly values: number[] = [];

  constructor(readonly on: 'vertex' | 'edge' | 'face') {}

  add(id: number, value?: number): void {
    this.ids.push(id);
    if (value !== undefined) this.values.push(value);
  }
}
