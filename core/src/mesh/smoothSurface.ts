import { cornerNormals, faceNormals, sharpCorners } from './normals.ts';
import { faceCount, type PolyMesh } from './polymesh.ts';
import { closestOnTriangle, SpatialIndex } from './spatial.ts';
import { triangulateMesh } from './triangulate.ts';
import { cross, dot, lengthOf, sub, type Vec3 } from './vec.ts';

/**
 * The smooth surface that a mesh stands for: on each face the normals that its hard-edge groups shade with (see
 * `cornerNormals`), whatever normals it carries itself. What each question needs is made once, when it is first asked.
 */
export class SmoothSurface {
  private made: { normals: Float32Array; triangles: Int32Array; start: Int32Array } | null = null;
  private index: SpatialIndex | null = null;

  constructor(private readonly mesh: PolyMesh) {}

  private get all() {
    if (this.made) return this.made;
    const flat = faceNormals(this.mesh);
    const normals = cornerNormals(this.mesh, flat, sharpCorners(this.mesh, flat));
    const { triangles, face } = triangulateMesh(this.mesh);
    // Triangles come face by face.
    const start = new Int32Array(faceCount(this.mesh) + 1);
    for (const f of face) start[f + 1]!++;
    for (let f = 0; f + 1 < start.length; f++) start[f + 1]! += start[f]!;
    return (this.made = { normals, triangles, start });
  }

  /** The normal at the place of a face that is nearest to p; not unit. Null where the mesh has no such face. */
  normalAt(face: number, p: Vec3): Vec3 | null {
    const { normals, triangles, start } = this.all;
    if (!(face >= 0 && face + 1 < start.length)) return null;
    let [best, least]: [Vec3 | null, number] = [null, Infinity];
    for (let t = start[face]!; t < start[face + 1]!; t++) {
      const corners = [0, 1, 2].map((j) => triangles[3 * t + j]!);
      const [a, b, c] = corners.map((x) => this.place(x)) as [Vec3, Vec3, Vec3];
      const q = closestOnTriangle(p, a, b, c);
      const d = lengthOf(sub(p, q));
      if (d >= least) continue;
      least = d;
      const weights = sharesOf(q, a, b, c);
      best = ([0, 1, 2] as const).map((k) =>
        weights.reduce((s, w, j) => s + w * normals[3 * corners[j]! + k]!, 0),
      ) as unknown as Vec3;
    }
    return best;
  }

  /** How far p is from the mesh, mm. */
  off(p: Vec3): number {
    return (this.index ??= new SpatialIndex(this.mesh)).closest(p)?.distance ?? Infinity;
  }

  /** The place of a corner, mm. */
  private place(corner: number): Vec3 {
    const v = 3 * this.mesh.corners[corner]!;
    const P = this.mesh.positions;
    return [P[v]!, P[v + 1]!, P[v + 2]!];
  }
}

/** The shares of a triangle's corners in a place on it. */
function sharesOf(q: Vec3, a: Vec3, b: Vec3, c: Vec3): [number, number, number] {
  const n = cross(sub(b, a), sub(c, a));
  const nn = dot(n, n);
  if (!(nn > 0)) return [1, 0, 0];
  const v = dot(cross(sub(q, a), sub(c, a)), n) / nn;
  const w = dot(cross(sub(b, a), sub(q, a)), n) / nn;
  return [1 - v - w, v, w];
}
