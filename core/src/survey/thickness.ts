import {
  add,
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  scaled,
  SpatialIndex,
  type PolyMesh,
  type Vec3,
} from '../mesh/index.ts';
import { Looked } from './look.ts';

/**
 * Rays start this share of the way from a corner to the middle of its face, and this share of the size below the
 * surface.
 */
const INWARD = 0.02;
/** A ray begins this share of the size below its face, so that it does not meet it. */
const BELOW = 1e-6;
/** A ball has settled when it shrinks by less than this share of its radius. */
const BALL_SETTLED = 1e-9;
/** A ball settles in a few rounds; this only bounds the loop. */
const BALL_ROUNDS = 60;
/**
 * Faces whose normals make more than this (cosine below 0) with that of the place are across from it: beside it there
 * is always an edge.
 */
const ACROSS_COS = -0.2;

/** How thick the material is below places of a mesh: by a ray straight in, or by the largest ball that fits. */
export class Thickness {
  readonly normals: Float64Array;
  /** Returned where a ray does not come out again, mm. */
  readonly size: number;
  private readonly index: SpatialIndex;

  constructor(private readonly mesh: PolyMesh) {
    this.normals = faceNormals(mesh);
    this.size = new Looked(mesh).size;
    this.index = new SpatialIndex(mesh);
  }

  private inward = (f: number): Vec3 => [-this.normals[3 * f]!, -this.normals[3 * f + 1]!, -this.normals[3 * f + 2]!];

  /**
   * Straight in from a place on a face until the ray comes out again, mm, and through which face; the size, and null,
   * where it does not.
   */
  ray(f: number, p: Vec3): { thick: number; face: number | null } {
    const way = this.inward(f);
    const below = BELOW * this.size;
    const from: Vec3 = [p[0] + below * way[0], p[1] + below * way[1], p[2] + below * way[2]];
    const hit = this.index.raycast(from, way);
    return hit ? { thick: hit.distance + below, face: hit.face } : { thick: this.size, face: null };
  }

  /**
   * The diameter of the largest ball inside that touches the surface at a place on a face and no face across from it,
   * mm; the size where nothing is across. Source: the shrinking ball of Ma, Bae and Choi, "3D medial axis point
   * approximation using nearest neighbors and the normal field", 2012.
   */
  ball(f: number, p: Vec3): number {
    const way = this.inward(f);
    const across = (g: number) => {
      const w = this.inward(g);
      return w[0] * way[0] + w[1] * way[1] + w[2] * way[2] < ACROSS_COS;
    };
    let radius = this.size / 2;
    for (let i = 0; i < BALL_ROUNDS; i++) {
      const c: Vec3 = [p[0] + radius * way[0], p[1] + radius * way[1], p[2] + radius * way[2]];
      const near = this.index.closest(c, across);
      if (!near || near.distance >= radius * (1 - BALL_SETTLED)) break;
      const e = [near.point[0] - p[0], near.point[1] - p[1], near.point[2] - p[2]] as const;
      const along = e[0] * way[0] + e[1] * way[1] + e[2] * way[2];
      // What touches beside the place itself is no wall.
      if (!(along > 0)) break;
      const next = (e[0] ** 2 + e[1] ** 2 + e[2] ** 2) / (2 * along);
      if (next >= radius * (1 - BALL_SETTLED)) break;
      radius = next;
    }
    return 2 * radius;
  }

  /**
   * A place just inside of each corner of some faces, mm: of an outer boundary towards its middle, of a hole's at the
   * corner itself.
   */
  *places(wanted: (face: number) => boolean = () => true): Generator<{ corner: number; face: number; at: Vec3 }> {
    const { mesh: m } = this;
    for (let f = 0; f < faceCount(m); f++) {
      if (!wanted(f)) continue;
      const outer = m.loopStart[m.faceLoops[f]! + 1]!;
      const begin = faceBegin(m, f);
      const mid = [0, 0, 0];
      for (let c = begin; c < outer; c++)
        for (let k = 0; k < 3; k++) mid[k]! += m.positions[3 * m.corners[c]! + k]! / (outer - begin);
      for (let c = begin; c < faceEnd(m, f); c++) {
        const step = c < outer ? INWARD : 0;
        const at = [0, 1, 2].map((k) => {
          const x = m.positions[3 * m.corners[c]! + k]!;
          return x + step * (mid[k]! - x);
        }) as unknown as Vec3;
        yield { corner: c, face: f, at };
      }
    }
  }
}

/**
 * How thick the material is below each corner, mm, from a place just inside the face. Where a ray does not come out
 * again (an open mesh) it is the size of the part.
 */
export function cornerThickness(m: PolyMesh, by: 'ray' | 'ball' = 'ray'): Float64Array {
  const t = new Thickness(m);
  const out = new Float64Array(m.corners.length);
  for (const { corner, face, at } of t.places()) out[corner] = by === 'ray' ? t.ray(face, at).thick : t.ball(face, at);
  return out;
}

/** The thinnest wall that is left beside some faces. */
export interface WallLeft {
  /** Straight in, and by the largest ball, mm. */
  ray: number;
  ball: number;
  /** Where the ray is shortest, mm, on which face, and which face is across. */
  point: [number, number, number];
  face: number;
  across: number | null;
}

/**
 * The thinnest material below some faces, sought just inside each of their corners and in the middle between
 * neighbours; null where there are none, or where nothing is across from any of them.
 */
export function wallLeft(m: PolyMesh, wanted: (face: number) => boolean): WallLeft | null {
  const t = new Thickness(m);
  const sought: { face: number; at: Vec3 }[] = [];
  for (const { face, at } of t.places(wanted)) {
    const last = sought.at(-1);
    if (last?.face === face) sought.push({ face, at: scaled(add(last.at, at), 0.5) });
    sought.push({ face, at });
  }
  let best: WallLeft | null = null;
  let ball = Infinity;
  for (const { face, at } of sought) {
    const { thick, face: across } = t.ray(face, at);
    if (across === null) continue;
    ball = Math.min(ball, t.ball(face, at));
    if (!best || thick < best.ray) best = { ray: thick, ball: 0, point: [...at], face, across };
  }
  return best && { ...best, ball };
}
