import Module, { type Manifold, type ManifoldToplevel } from 'manifold-3d';
import { triangulateMesh, type PolyMesh } from '@dusky-mason/core/mesh';
import type { CarveOperation } from '@dusky-mason/core/carve';

/** An independent engine, for telling whether our results agree with somebody else's. It works on 32-bit triangles. */
export class Witness {
  private constructor(private readonly engine: ManifoldToplevel) {}

  static async load(): Promise<Witness> {
    const engine = await Module();
    engine.setup();
    return new Witness(engine);
  }

  /** Import; the caller deletes what comes back. */
  body(m: PolyMesh): Manifold {
    const { triangles } = triangulateMesh(m);
    const mesh = new this.engine.Mesh({
      numProp: 3,
      vertProperties: Float32Array.from(m.positions),
      triVerts: Uint32Array.from(triangles, (c) => m.corners[c]!),
    });
    return this.engine.Manifold.ofMesh(mesh);
  }

  combine(a: Manifold, b: Manifold, operation: CarveOperation): Manifold {
    if (operation === 'union') return a.add(b);
    return operation === 'subtract' ? a.subtract(b) : a.intersect(b);
  }

  /** Import, one operation, export: what a caller with polygons in hand pays. Returns the number of triangles. */
  wholeRun(target: PolyMesh, cutters: readonly PolyMesh[], operation: CarveOperation): number {
    const a = this.body(target);
    const list = cutters.map((c) => this.body(c));
    const b = list.length === 1 ? list[0]! : this.engine.Manifold.union(list);
    const r = this.combine(a, b, operation);
    const mesh = r.getMesh();
    const n = mesh.triVerts.length / 3;
    for (const x of new Set([a, b, r, ...list])) x.delete();
    return n;
  }

  /** Import, one operation, export: the volume of what comes out, mm³. */
  volumeOf(target: PolyMesh, cutter: PolyMesh, operation: CarveOperation): number {
    const [a, b] = [this.body(target), this.body(cutter)];
    const r = this.combine(a, b, operation);
    r.getMesh();
    const volume = r.volume();
    for (const x of [a, b, r]) x.delete();
    return volume;
  }

  /** Volume, genus summed over the pieces, and the number of pieces of a result. */
  counts(
    target: PolyMesh,
    cutter: PolyMesh,
    operation: CarveOperation,
  ): { volume: number; genus: number; pieces: number } {
    const a = this.body(target);
    const b = this.body(cutter);
    const r = this.combine(a, b, operation);
    const parts = r.isEmpty() ? [] : r.decompose();
    const out = { volume: r.volume(), genus: 0, pieces: parts.length };
    for (const p of parts) {
      out.genus += p.genus();
      p.delete();
    }
    for (const x of [a, b, r]) x.delete();
    return out;
  }
}
