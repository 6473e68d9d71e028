import { Bvh } from './bvh.ts';
import type { PolyMesh } from './polymesh.ts';
import { triangulateMesh } from './triangulate.ts';
import { alongTriangle } from './triangleRays.ts';
import { dot, sub, type Vec3 } from './vec.ts';

/** A place on the surface. */
export interface SurfacePoint {
  face: number;
  point: [number, number, number];
  /** Along the ray (in lengths of its direction), or from the point asked for (mm). */
  distance: number;
  /** The triangle of that face, for `corners`. */
  triangle: number;
}

/** Rays and closest points on a mesh, over a tree of its triangles. */
export class SpatialIndex {
  private readonly tree: Bvh;
  private readonly triangles: Int32Array;
  private readonly face: Int32Array;

  constructor(private readonly mesh: PolyMesh) {
    const { triangles, face } = triangulateMesh(mesh);
    this.triangles = triangles;
    this.face = face;
    const n = face.length;
    const boxes = new Float64Array(6 * n);
    for (let t = 0; t < n; t++)
      for (let k = 0; k < 3; k++) {
        const [a, b, c] = [0, 1, 2].map((j) => this.at(t, j, k)) as [number, number, number];
        boxes[6 * t + k] = Math.min(a, b, c);
        boxes[6 * t + 3 + k] = Math.max(a, b, c);
      }
    this.tree = new Bvh(
      boxes,
      Int32Array.from({ length: n }, (_, i) => i),
    );
  }

  /** Where the numbers of a triangle's corner begin. */
  private place(t: number, j: number): number {
    return 3 * this.mesh.corners[this.triangles[3 * t + j]!]!;
  }

  private at(t: number, j: number, k: number): number {
    return this.mesh.positions[this.place(t, j) + k]!;
  }

  private corner(t: number, j: number): [number, number, number] {
    return [this.at(t, j, 0), this.at(t, j, 1), this.at(t, j, 2)];
  }

  /** The corners of a triangle that a question has named. */
  corners(triangle: number): [Vec3, Vec3, Vec3] {
    return [this.corner(triangle, 0), this.corner(triangle, 1), this.corner(triangle, 2)];
  }

  /** The first hit of the ray from `origin` along `direction` (any length), either side of a face, or null. */
  raycast(origin: Vec3, direction: Vec3): SurfacePoint | null {
    const { positions } = this.mesh;
    let [triangle, distance] = [-1, Infinity];
    this.tree.ray(origin, direction, 0, (t) => {
      const at = alongTriangle(positions, this.place(t, 0), this.place(t, 1), this.place(t, 2), origin, direction);
      if (at < distance) [triangle, distance] = [t, at];
      return false;
    });
    if (triangle < 0) return null;
    const point = [0, 1, 2].map((k) => origin[k]! + distance * direction[k]!) as [number, number, number];
    return { face: this.face[triangle]!, point, distance, triangle };
  }

  /**
   * The surface point nearest to `p`, of all faces or of those that are wanted; null where there are none. Ericson,
   * "Real-Time Collision Detection", 5.1.5.
   */
  closest(p: Vec3, wanted?: (face: number) => boolean): SurfacePoint | null {
    let best: SurfacePoint | null = null;
    this.tree.nearest(p, (t, d2) => {
      if (wanted && !wanted(this.face[t]!)) return Infinity;
      const point = closestOnTriangle(p, this.corner(t, 0), this.corner(t, 1), this.corner(t, 2));
      const w = sub(p, point);
      const e2 = dot(w, w);
      if (e2 < d2) best = { face: this.face[t]!, point, distance: Math.sqrt(e2), triangle: t };
      return e2;
    });
    return best;
  }
}

/** The place of a triangle that is nearest to p. Ericson, "Real-Time Collision Detection", 5.1.5. */
export function closestOnTriangle(p: Vec3, a: Vec3, b: Vec3, c: Vec3): [number, number, number] {
  const mix = (o: Vec3, e: Vec3, s: number, g: Vec3 = [0, 0, 0], t = 0): [number, number, number] => [
    o[0] + e[0] * s + g[0] * t,
    o[1] + e[1] * s + g[1] * t,
    o[2] + e[2] * s + g[2] * t,
  ];
  const ab = sub(b, a);
  const ac = sub(c, a);
  const ap = sub(p, a);
  const d1 = dot(ab, ap);
  const d2 = dot(ac, ap);
  if (d1 <= 0 && d2 <= 0) return [...a];
  const bp = sub(p, b);
  const d3 = dot(ab, bp);
  const d4 = dot(ac, bp);
  if (d3 >= 0 && d4 <= d3) return [...b];
  const vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return mix(a, ab, share(d1, d1 - d3));
  const cp = sub(p, c);
  const d5 = dot(ab, cp);
  const d6 = dot(ac, cp);
  if (d6 >= 0 && d5 <= d6) return [...c];
  const vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return mix(a, ac, share(d2, d2 - d6));
  const va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return mix(b, sub(c, b), share(d4 - d3, d4 - d3 + d5 - d6));
  // The corners of a triangle without area lie on one line: its nearest side was found above, but for rounding.
  const k = share(1, va + vb + vc);
  return mix(a, ab, vb * k, ac, vc * k);
}

const share = (x: number, of: number): number => (of === 0 ? 0 : x / of);
