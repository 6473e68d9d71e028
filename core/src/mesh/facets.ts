import { sizeOf } from './measures.ts';
import { faceNormals } from './normals.ts';
import { faceBend } from './planes.ts';
import { faceCount, type PolyMesh, vertexPlace } from './polymesh.ts';
import { topologyOf, vertexCorners, type Topology } from './topology.ts';
import { triangulateFace } from './triangulate.ts';
import { add, cross, dot, lengthOf, sub, unit, type Vec3 } from './vec.ts';

/**
 * A place on a surface: at a vertex, on an edge (by a corner that leaves along it, and the share from there), or within
 * a triangle of a face; `face` where it is not known in which of its triangles.
 */
export interface Spot {
  point: Vec3;
  vertex: number;
  corner: number;
  share: number;
  triangle: number;
  face?: number;
}

/**
 * What no way over the surface crosses: a line that is held, an edge that the surface bends at, its border, a vertex of
 * such edges.
 */
export type Barrier = 'line' | 'bend' | 'border' | 'corner';

/** A triangle at a vertex, by its number and which of its corners it is, with its angle there. */
export interface Wedge {
  triangle: number;
  at: number;
  angle: number;
}

/** Places nearer to a vertex than this share of the size are the vertex. */
const AT_VERTEX = 1e-8;
/** Most triangles that lie round one corner or vertex, or that one way leads over. */
export const MOST_STEPS = 4000;
/** A triangle thinner than this (height to length) has no normal worth having. */
const THIN_TRIANGLE = 1e-7;

/**
 * The facets of a mesh as triangles, with what lies beyond each of their sides: faces are cut when something first
 * comes there.
 */
export class Facets {
  readonly topology: Topology;
  readonly tolerance: number;
  protected readonly normals: Float64Array;
  protected readonly around: (v: number) => number[];
  protected readonly corners: number[] = [];
  protected readonly faces: number[] = [];
  /** Per corner the side of a triangle (3 × triangle + side) that is its edge; −1 where its face is not cut yet. */
  protected readonly side: Int32Array;
  protected readonly cut: Uint8Array;
  protected readonly diagonals = new Map<number, number>();
  private readonly firstOf = new Map<number, number>();
  /** Faces that were cut and lie in one plane. */
  protected readonly level = new Set<number>();
  protected readonly normalOf: Vec3[] = [];

  private readonly bend: number;

  /**
   * `held` says of an edge, by its number, that no way may cross it; nor are edges crossed where the surface bends by
   * more than an angle (degrees).
   */
  constructor(
    readonly mesh: PolyMesh,
    private readonly held: (edge: number) => boolean,
    most: number,
  ) {
    this.bend = most < 180 ? Math.cos((most * Math.PI) / 180) : -Infinity;
    this.topology = topologyOf(mesh);
    this.normals = faceNormals(mesh);
    this.around = vertexCorners(mesh);
    this.side = new Int32Array(mesh.corners.length).fill(-1);
    this.cut = new Uint8Array(faceCount(mesh));
    this.tolerance = AT_VERTEX * sizeOf(mesh);
  }

  at(v: number): Vec3 {
    return vertexPlace(this.mesh, v);
  }

  normal(f: number): Vec3 {
    return [this.normals[3 * f]!, this.normals[3 * f + 1]!, this.normals[3 * f + 2]!];
  }

  faceOf(triangle: number): number {
    return this.faces[triangle]!;
  }

  /** The corner of the mesh that a corner of a triangle is. */
  corner(triangle: number, at: number): number {
    return this.corners[3 * triangle + (at % 3)]!;
  }

  protected place(triangle: number, at: number): Vec3 {
    return this.at(this.mesh.corners[this.corner(triangle, at)]!);
  }

  protected triangles(f: number): void {
    if (this.cut[f]) return;
    this.cut[f] = 1;
    const first = this.faces.length;
    this.firstOf.set(f, first);
    this.corners.push(...triangulateFace(this.mesh, f));
    const flat = faceBend(this.mesh, f) <= this.tolerance;
    if (flat) this.level.add(f);
    for (let i = first; 3 * i < this.corners.length; i++) {
      this.faces.push(f);
      const [a, b, c] = [0, 1, 2].map((k) => this.place(i, k)) as [Vec3, Vec3, Vec3];
      const n = cross(sub(b, a), sub(c, a));
      const longest = Math.max(dot(sub(b, a), sub(b, a)), dot(sub(c, a), sub(c, a)));
      this.normalOf.push(!flat && lengthOf(n) > THIN_TRIANGLE * longest ? unit(n) : this.normal(f));
      for (let k = 0; k < 3; k++) {
        const [p, q] = [this.corner(i, k), this.corner(i, k + 1)];
        if (this.topology.next[p] === q && this.side[p]! < 0) this.side[p] = 3 * i + k;
        else this.diagonals.set(p * this.mesh.corners.length + q, 3 * i + k);
      }
    }
  }

  /** The corner whose edge a side of a triangle is; −1 for a diagonal of its face. */
  protected edgeOf(side: number): number {
    const p = this.corners[side]!;
    return this.side[p] === side ? p : -1;
  }

  /** The side of the triangle beyond a side; −1 where there is none. */
  protected beyond(side: number): number {
    const c = this.edgeOf(side);
    if (c < 0) {
      const triangle = Math.floor(side / 3);
      const [p, q] = [this.corner(triangle, side % 3), this.corner(triangle, (side % 3) + 1)];
      return this.diagonals.get(q * this.mesh.corners.length + p) ?? -1;
    }
    const o = this.topology.opposite[c]!;
    if (o < 0) return -1;
    this.triangles(this.topology.face[o]!);
    return this.side[o]!;
  }

  /** What keeps a way from crossing the edge of a corner. */
  barrier(c: number): Barrier | null {
    const { opposite, edge, face } = this.topology;
    if (this.held(edge[c]!)) return 'line';
    if (opposite[c]! < 0) return 'border';
    return dot(this.normal(face[c]!), this.normal(face[opposite[c]!]!)) < this.bend ? 'bend' : null;
  }

  /** Triangles at a corner, counter-clockwise from its own edge to the one before it. */
  protected wedgesAt(c: number): Wedge[] {
    this.triangles(this.topology.face[c]!);
    const out: Wedge[] = [];
    for (let side = this.side[c]!; side >= 0 && out.length < MOST_STEPS;) {
      const triangle = Math.floor(side / 3);
      const at = side % 3;
      const p = this.place(triangle, at);
      const [u, v] = [sub(this.place(triangle, at + 1), p), sub(this.place(triangle, at + 2), p)];
      out.push({ triangle, at, angle: Math.atan2(lengthOf(cross(u, v)), dot(u, v)) });
      const before = 3 * triangle + ((at + 2) % 3);
      if (this.edgeOf(before) >= 0) break;
      side = this.beyond(before);
    }
    return out;
  }

  /** Triangles at the corners of one vertex, which follow each other counter-clockwise. */
  fan(corners: readonly number[]): Wedge[] {
    return corners.flatMap((c) => this.wedgesAt(c));
  }

  /** The corner that leaves along the edge at which a wedge of a fan begins; −1 where that is a diagonal. */
  beginsAt(w: Wedge): number {
    return this.edgeOf(3 * w.triangle + w.at);
  }

  /** Corners all round a vertex, counter-clockwise from one on; null where the surface does not close round it. */
  protected allRound(c: number): number[] | null {
    const out = [c];
    for (;;) {
      const o = this.topology.opposite[this.topology.prev[out.at(-1)!]!]!;
      if (o < 0) return null;
      if (o === c) return out;
      if (out.length > MOST_STEPS) return null;
      out.push(o);
    }
  }

  /** Where a ray in a triangle leaves it: through which side, or at which vertex, and after which length. */
  protected leaves(
    triangle: number,
    p: Vec3,
    d: Vec3,
  ): { side: number; vertex: number; t: number; point: Vec3; share: number } | null {
    const across = cross(this.normalOf[triangle]!, d);
    const at = [0, 1, 2].map((k) => sub(this.place(triangle, k), p));
    const y = at.map((r) => dot(r, across));
    const x = at.map((r) => dot(r, d));
    const out = (k: number) => this.mesh.corners[this.corner(triangle, k)]!;
    for (let k = 0; k < 3; k++) {
      const ends = [k, (k + 1) % 3].sort((i, j) => x[i]! - x[j]!);
      const [behind, ahead] = ends as [number, number];
      // Along a side it leaves at the vertex ahead, however the roundings fall.
      if (
        ends.every((i) => Math.abs(y[i]!) < this.tolerance) &&
        x[behind]! < this.tolerance &&
        x[ahead]! > this.tolerance
      )
        return {
          side: 3 * triangle + k,
          vertex: out(ahead),
          t: x[ahead]!,
          point: this.place(triangle, ahead),
          share: ahead === k ? 0 : 1,
        };
    }
    let found = null;
    for (let k = 0; k < 3; k++) {
      const j = (k + 1) % 3;
      if (!(y[k]! <= 0 && y[j]! > 0)) continue;
      const share = -y[k]! / (y[j]! - y[k]!);
      const point = add(p, add(at[k]!, sub(at[j]!, at[k]!), share));
      const t = Math.max(0, dot(sub(point, p), d));
      const length = lengthOf(sub(at[j]!, at[k]!));
      const near = share * length < this.tolerance ? k : (1 - share) * length < this.tolerance ? j : -1;
      found = {
        side: 3 * triangle + k,
        vertex: near < 0 ? -1 : out(near),
        t,
        point,
        share,
      };
    }
    return found;
  }

  /** Triangles that a place belongs to. */
  protected trianglesOf(s: Spot): number[] {
    if (s.vertex >= 0) return this.fan(this.around(s.vertex)).map((w) => w.triangle);
    if (s.corner < 0) return [s.triangle < 0 && s.face !== undefined ? this.triangleAt(s.face, s.point) : s.triangle];
    const o = this.topology.opposite[s.corner]!;
    for (const c of o < 0 ? [s.corner] : [s.corner, o]) this.triangles(this.topology.face[c]!);
    return [s.corner, o].flatMap((c) => (c < 0 || this.side[c]! < 0 ? [] : [Math.floor(this.side[c]! / 3)]));
  }

  /** The triangle of a face that a place of it lies in, or is nearest to. */
  private triangleAt(f: number, p: Vec3): number {
    this.triangles(f);
    let [best, most] = [this.firstOf.get(f)!, -Infinity];
    for (let i = best; this.faces[i] === f; i++) {
      let least = Infinity;
      for (let k = 0; k < 3; k++) {
        const a = this.place(i, k);
        const e = sub(this.place(i, k + 1), a);
        least = Math.min(least, dot(cross(e, sub(p, a)), this.normalOf[i]!) / (lengthOf(e) || 1));
      }
      if (least > most) [best, most] = [i, least];
    }
    return best;
  }

  /** Faces that a place belongs to. */
  facesOf(s: Spot): number[] {
    if (s.face !== undefined && s.triangle < 0) return [s.face];
    return [...new Set(this.trianglesOf(s).map((i) => this.faces[i]!))];
  }
}
