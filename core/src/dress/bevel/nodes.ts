import {
  add,
  dot,
  cross,
  faceBend,
  faceEnd,
  lengthOf,
  scaled,
  sub,
  topologyOf,
  unit,
  vertexCorners,
  type PolyMesh,
  type Spot,
  type Surface,
  type Vec3,
} from '../../mesh/index.ts';
import type { GuideSurface } from '../guideSurface.ts';
import { SOFT } from './bevelLoops.ts';

/** A vertex of the lines that bound the strips. */
export interface BevelNode {
  /** Its number among the new vertices. */
  id: number;
  at: Vec3;
  /** The normal of the surface there, smooth over soft edges. */
  normal: Vec3;
  spot: Spot;
  /** Vertices of the rounded edges that it comes from. */
  of: readonly number[];
  /**
   * It lies in a flat face beside its vertex, square to the edges there: what is rounded between two of these is a true
   * arc.
   */
  plain: boolean;
}

/** Something that a bevel runs into: what, where (mm), and from which vertices of the rounded edges it comes. */
export interface Trouble {
  what: 'used up' | 'in the way' | 'meets' | 'cuts through';
  at: Vec3;
  vertices: readonly number[];
}

/** A face of which a soft edge bends by more than this (radians) is a facet of a bent surface. */
const BENT = 1e-6;

/** Vertices that the old mesh has, and those that are made. */
export class Nodes {
  private readonly made: number[] = [];
  private readonly olds: number;
  private readonly flats = new Map<number, boolean>();
  private readonly levels = new Map<number, boolean>();
  private readonly bent = new Map<number, number[]>();
  /** The corners at a vertex. */
  readonly cornersAt: (v: number) => number[];

  constructor(
    readonly mesh: PolyMesh,
    readonly surface: Surface,
    private readonly role: Uint8Array,
    /** The surfaces that faces stand for, where given: they give the normals. */
    private readonly guide?: GuideSurface,
  ) {
    this.olds = mesh.positions.length / 3;
    this.cornersAt = vertexCorners(mesh);
  }

  /** A new vertex. */
  place(p: Vec3): number {
    this.made.push(...p);
    return this.olds + this.made.length / 3 - 1;
  }

  at(id: number): Vec3 {
    if (id < this.olds) return this.surface.at(id);
    const i = 3 * (id - this.olds);
    return [this.made[i]!, this.made[i + 1]!, this.made[i + 2]!];
  }

  positions(): Float64Array {
    const out = new Float64Array(3 * this.olds + this.made.length);
    out.set(this.mesh.positions);
    out.set(this.made, 3 * this.olds);
    return out;
  }

  /** A node at a place of the surface; where that is a vertex of the mesh, the node is that vertex. */
  node(spot: Spot, of: readonly number[], plain: boolean): BevelNode {
    const id = spot.vertex >= 0 ? spot.vertex : this.place(spot.point);
    return { id, at: spot.point, normal: this.normal(spot), spot, of, plain };
  }

  /** Whether a face lies in one plane. */
  level(f: number): boolean {
    let known = this.levels.get(f);
    if (known === undefined) this.levels.set(f, (known = faceBend(this.mesh, f) <= this.surface.tolerance));
    return known;
  }

  /** Whether a face lies in one plane with all that soft edges join to it. */
  flat(f: number): boolean {
    const known = this.flats.get(f);
    if (known !== undefined) return known;
    const flat = this.level(f) && this.bends(f).length === 0;
    this.flats.set(f, flat);
    return flat;
  }

  /** Corners of a face along soft edges at which the surface bends. */
  private bends(f: number): number[] {
    const known = this.bent.get(f);
    if (known) return known;
    const { mesh: m, surface, role } = this;
    const t = topologyOf(m);
    const out: number[] = [];
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < faceEnd(m, f); c++) {
      const o = t.opposite[c]!;
      if (o < 0 || role[t.edge[c]!] !== SOFT) continue;
      if (lengthOf(cross(surface.normal(f), surface.normal(t.face[o]!))) > BENT) out.push(c);
    }
    this.bent.set(f, out);
    return out;
  }

  /**
   * The normal of the smooth surface that facets stand for: on a soft edge the mean of its two faces, in a facet from
   * there to its own normal at the middle.
   */
  private normal(s: Spot): Vec3 {
    const { surface, mesh: m } = this;
    const t = topologyOf(m);
    const faces = surface.facesOf(s);
    if (this.guide?.knows(faces[0]!)) return unit(this.guide.normal(faces[0]!, s.point));
    if (faces.length > 1) return unit(faces.reduce<Vec3>((sum, f) => add(sum, surface.normal(f)), [0, 0, 0]));
    const f = faces[0]!;
    let [nearest, least] = [-1, Infinity];
    const off = (c: number, p: Vec3) => {
      const a = surface.at(m.corners[c]!);
      return Math.abs(dot(sub(p, a), cross(surface.normal(f), unit(sub(surface.at(m.corners[t.next[c]!]!), a)))));
    };
    for (const c of this.bends(f)) {
      const d = off(c, s.point);
      if (d < least) [nearest, least] = [c, d];
    }
    if (nearest < 0) return surface.normal(f);
    let middle: Vec3 = [0, 0, 0];
    const [begin, end] = [m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f]! + 1]!];
    for (let c = begin; c < end; c++) middle = add(middle, surface.at(m.corners[c]!), 1 / (end - begin));
    const share = Math.min(1, least / (off(nearest, middle) || 1));
    const mean = unit(add(surface.normal(f), surface.normal(t.face[t.opposite[nearest]!]!)));
    return unit(add(scaled(mean, 1 - share), surface.normal(f), share));
  }
}
