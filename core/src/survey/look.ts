import {
  components,
  faceShapes,
  type FaceShapes,
  OPEN,
  sizeOf,
  UNPAIRED,
  topologyOf,
  type OpContext,
  type PolyMesh,
  type Topology,
} from '../mesh/index.ts';

/** A mesh under survey, with what several rules need, each derived once and on demand. */
export class Looked {
  readonly topology: Topology;
  /** Longest side of the box round the mesh, mm: what tolerances are relative to. */
  readonly size: number;
  private shapesOnce: FaceShapes | null = null;
  private edgesOnce: EdgeSorts | null = null;
  private piecesOnce: ReturnType<typeof components> | null = null;
  /** Results that several rules share. */
  readonly known = new Map<string, unknown>();

  constructor(
    readonly mesh: PolyMesh,
    readonly ctx?: OpContext,
    /** Whether rules may take longer than a pass over the topology. */
    readonly deep = false,
  ) {
    this.topology = topologyOf(mesh);
    this.size = sizeOf(mesh);
  }

  /** What faces are like, in one go. */
  get shapes(): FaceShapes {
    return (this.shapesOnce ??= faceShapes(this.mesh));
  }

  /** Areas of the faces, mm². */
  get areas(): Float64Array {
    return this.shapes.areas;
  }

  /** Unit normals of the faces. */
  get normals(): Float64Array {
    return this.shapes.normals;
  }

  /** Whether every face is a triangle: then none is bent or folded, and none has more corners. */
  get allTriangles(): boolean {
    const { corners, loopStart, faceLoops } = this.mesh;
    return loopStart.length === faceLoops.length && corners.length === 3 * (faceLoops.length - 1);
  }

  /** The pieces of the surface that hang together by edges. */
  get pieces(): ReturnType<typeof components> {
    return (this.piecesOnce ??= components(this.mesh));
  }

  /**
   * Edges by what is out of the ordinary with them, and what they add up to at the vertices: computed once for all
   * rules.
   */
  get edges(): EdgeSorts {
    return (this.edgesOnce ??= sortEdges(this));
  }

  /** How many edges meet at each vertex; 0 for one that no face uses. */
  get valence(): Int32Array {
    return this.edges.valence;
  }

  /** The length of the edge that leaves a corner, mm. */
  edgeLength(c: number): number {
    const { mesh: m, topology: t } = this;
    const [a, b] = [3 * m.corners[c]!, 3 * m.corners[t.next[c]!]!];
    const P = m.positions;
    return Math.sqrt((P[a]! - P[b]!) ** 2 + (P[a + 1]! - P[b + 1]!) ** 2 + (P[a + 2]! - P[b + 2]!) ** 2);
  }
}

/** Edges out of the ordinary, each by a corner that leaves along it. */
export interface EdgeSorts {
  /** With one face. */
  open: Int32Array;
  /** With three faces or more, or with two that run the same way along them. */
  odd: Int32Array;
  /** With one face on both sides. */
  own: Int32Array;
  /** Per vertex, how many edges meet at it, and 1 where one of them is open or odd. */
  valence: Int32Array;
  rim: Uint8Array;
}

function sortEdges({ mesh: m, topology: t }: Looked): EdgeSorts {
  const [open, odd, own] = [new Places('edge'), new Places('edge'), new Places('edge')];
  const valence = new Int32Array(m.positions.length / 3);
  const rim = new Uint8Array(valence.length);
  const { edgeCorner, opposite, next, face } = t;
  const { corners } = m;
  for (let e = 0; e < edgeCorner.length; e++) {
    const c = edgeCorner[e]!;
    const [u, v] = [corners[c]!, corners[next[c]!]!];
    valence[u]!++;
    valence[v]!++;
    const o = opposite[c]!;
    if (o >= 0) {
      if (face[o] === face[c]) own.add(c);
      continue;
    }
    rim[u] = rim[v] = 1;
    if (o === OPEN) open.add(c);
    else if (o === UNPAIRED) odd.add(c);
  }
  return { open: open.ids, odd: odd.ids, own: own.ids, valence, rim };
}

/** Numbers in a list that grows without garbage. */
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

/** All faces of a mesh as places. */
export const allFaces = ({ mesh }: Looked): Places => Places.upTo('face', mesh.faceLoops.length - 1);

/**
 * What a rule has found: vertices, edges (by a corner that leaves along each) or faces, and a value for each where the
 * rule measures one.
 */
export class Places {
  private readonly idColumn = new Column(new Int32Array(16));
  private readonly valueColumn = new Column(new Float64Array(16));

  constructor(readonly on: 'vertex' | 'edge' | 'face') {}

  /** The first so many of a kind. */
  static upTo(on: Places['on'], count: number): Places {
    const out = new Places(on);
    out.all = new Int32Array(count);
    for (let i = 0; i < count; i++) out.all[i] = i;
    return out;
  }

  private all: Int32Array | null = null;

  add(id: number, value?: number): void {
    this.idColumn.add(id);
    if (value !== undefined) this.valueColumn.add(value);
  }

  get ids(): Int32Array {
    return this.all ?? this.idColumn.all;
  }

  get values(): Float64Array {
    return this.valueColumn.all;
  }
}
