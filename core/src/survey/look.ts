import {
  components,
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
  private piecesOnce: ReturnType<typeof components> | null = null;
  /** What rules have found out that others want, too. */
  readonly known = new Map<string, unknown>();

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

  /** The pieces of the surface that hang together by edges. */
  get pieces(): ReturnType<typeof components> {
    return (this.piecesOnce ??= components(this.mesh));
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

/** Whole numbers or others, put down one by one without garbage. */
class Column<A extends Int32Array | Float64Array> {
  private used = 0;

  constructor(private data: A) {}

  add(x: number): void {
    if (this.used === this.data.length) {
      const more = new (this.data.constructor as new (n: number) => A)(2 * this.used);
      more.set(this.data as never);
      this.data = more;
    }
    this.data[this.used++] = x;
  }

  get all(): A {
    return this.data.subarray(0, this.used) as A;
  }
}

/** What a rule has found: vertices, edges (by a corner that leaves along each) or faces, and a value for each where the rule measures one. */
export class Places {
  private readonly idColumn = new Column(new Int32Array(16));
  private readonly valueColumn = new Column(new Float64Array(16));

  constructor(readonly on: 'vertex' | 'edge' | 'face') {}

  add(id: number, value?: number): void {
    this.idColumn.add(id);
    if (value !== undefined) this.valueColumn.add(value);
  }

  get ids(): Int32Array {
    return this.idColumn.all;
  }

  get values(): Float64Array {
    return this.valueColumn.all;
  }
}
