import {
  checkCancelled,
  lengthOf,
  sub,
  Surface,
  topologyOf,
  vertexCorners,
  type OpContext,
  type PolyMesh,
  type Vec3,
  pairsThatMeet,
} from '../../mesh/index.ts';
import { bevelGround, buildBevel, type BevelGround, type Built } from './build.ts';
import { ROUNDED, SOFT } from './bevelLoops.ts';
import type { GuideSurface } from '../guideSurface.ts';
import { rollingWidths } from './rolling.ts';
import { drawnSegments, type Profile } from './rows.ts';
import { alongFaces, chainsOf, edgeRoles, shortestBeside, turnAt, type BevelMeasure } from './widths.ts';

/** Settings of a bevel. */
export interface BevelWish {
  /**
   * Size, mm, or a share: see `measure`. An edge may have its own in `widths`, mm along the faces where that is a
   * share.
   */
  width: number;
  measure: BevelMeasure;
  widths?: ReadonlyMap<number, number>;
  segments: number;
  profile: Profile;
  /** Corners of a face that look into it are mitred, not gone round. */
  mitre?: boolean;
  /** Of a bevel by radius: the surfaces that faces stand for; then the ball rolls on these. */
  guide?: GuideSurface;
  /**
   * Where there is no room: narrower just there, strips that meet in a line where they come together, the whole chain
   * as wide as fits, or not at all.
   */
  past: 'narrow' | 'meet' | 'clamp' | 'stop';
  /** Over which length (mm) strips that end within a surface run out to a point; none: over their last edge. */
  taper?: number;
  /** Name of the slot of strips and corners; none: those of the faces beside them. */
  slot?: string;
  /** The number of the course, which new faces are said to come from; none: from the faces beside them. */
  course?: number;
}

/** Report of a bevel. */
export interface BevelReport {
  edges: number;
  strips: number;
  corners: number;
  /** Vertices at which it is narrower than asked for, where, and the least share that is left. */
  narrowed: number;
  least: number;
  /** Faces between strips that were used up, so that the strips meet in lines. */
  met: number;
  places: Vec3[];
  /** Vertices of the mesh given at which it is narrower, and the share of the edges' length that has its full width. */
  vertices: number[];
  full: number;
  /** Bands of quads that were laid beneath, where faces there would have narrowed it. */
  bands: number;
}

/** The settings of a bevel that make its shape. */
export type BevelShape = Pick<BevelWish, 'width' | 'measure' | 'widths' | 'segments' | 'profile' | 'mitre' | 'guide'>;

const grounds = new WeakMap<PolyMesh, { edges: readonly number[]; ground: BevelGround }>();

/**
 * What a bevel of some edges of a mesh needs, whatever its width. Kept with the mesh for the last edges, as dragging a
 * width needs it again and again.
 */
function groundOf(mesh: PolyMesh, edges: readonly number[]): BevelGround {
  const known = grounds.get(mesh);
  if (known && known.edges.length === edges.length && known.edges.every((e, i) => e === edges[i])) return known.ground;
  const role = edgeRoles(mesh, edges, new Surface(mesh, () => false, 180));
  const ground = bevelGround(mesh, role, new Surface(mesh, (e) => role[e] !== SOFT, 180));
  grounds.set(mesh, { edges: [...edges], ground });
  return ground;
}

/** Widths of a bevel on one mesh, which can be built and tried. */
export class Bevelling {
  readonly ground: BevelGround;
  readonly width: Float64Array;
  /** How many edges are rounded. */
  readonly rounded: number;
  private corners: ((v: number) => number[]) | null = null;
  private readonly rolled: ReadonlyMap<number, number> | null;
  constructor(
    readonly mesh: PolyMesh,
    edges: readonly number[],
    private readonly wish: BevelShape & { holds?: boolean },
    private readonly ctx: OpContext | undefined,
  ) {
    const t = topologyOf(mesh);
    this.ground = groundOf(mesh, edges);
    const { role, surface } = this.ground;
    this.width = new Float64Array(t.edgeCount);
    this.rounded = role.reduce((n, r) => n + (r === ROUNDED ? 1 : 0), 0);
    this.rolled =
      wish.guide && wish.measure === 'radius' ? rollingWidths(mesh, role, surface, wish.guide, wish.width) : null;
    const chains = chainsOf(mesh, role);
    const beside = wish.measure === 'share' ? shortestBeside(mesh, role, chains) : null;
    for (const c of t.edgeCorner) {
      const e = t.edge[c]!;
      if (role[e] !== ROUNDED) continue;
      const own = wish.widths?.get(e);
      this.width[e] =
        own && beside
          ? own
          : alongFaces(
              own ?? wish.width,
              turnAt(mesh, surface, c),
              wish.measure,
              beside?.[chains.of[mesh.corners[c]!]!] ?? 0,
            );
    }
  }

  /** The vertices that rounded edges lead to from one. */
  beside(v: number): number[] {
    const m = this.mesh;
    const t = topologyOf(m);
    this.corners ??= vertexCorners(m);
    return this.corners(v).flatMap((c) => [
      ...(this.ground.role[t.edge[c]!] === ROUNDED ? [m.corners[t.next[c]!]!] : []),
      ...(this.ground.role[t.edge[t.prev[c]!]!] === ROUNDED ? [m.corners[t.prev[c]!]!] : []),
    ]);
  }

  /** The share of the length of the rounded edges whose two ends pass the test. */
  lengthShare(is: (v: number) => boolean): number {
    const m = this.mesh;
    const t = topologyOf(m);
    let [some, all] = [0, 0];
    for (const c of t.edgeCorner) {
      if (this.ground.role[t.edge[c]!] !== ROUNDED) continue;
      const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
      const length = lengthOf(sub(this.ground.surface.at(a), this.ground.surface.at(b)));
      all += length;
      if (is(a) && is(b)) some += length;
    }
    return all > 0 ? some / all : 1;
  }

  /** Shares of the width per vertex: all of it, and nothing where strips run out. */
  shares(): Float64Array {
    const share = new Float64Array(this.mesh.positions.length / 3).fill(1);
    for (const v of this.ground.pointed) share[v] = 0;
    return share;
  }

  /** Builds it, scaled and without layers, and checks whether any of its faces cut through others. */
  build(share: Float64Array, scale = 1): Built {
    checkCancelled(this.ctx);
    const width = scale === 1 ? this.width : this.width.map((w) => w * scale);
    const { profile, holds = false, mitre = false } = this.wish;
    const segments = typeof profile === 'number' ? this.wish.segments : drawnSegments(profile);
    const built = buildBevel(
      this.ground,
      { role: this.ground.role, width, share, segments, holds, mitre, rolled: this.rolled, scale },
      profile,
      this.rolled ? this.wish.guide : undefined,
    );
    if (!built.mesh) return built;
    const { mesh, first, made } = built;
    for (const [f, g] of pairsThatMeet(mesh, { wanted: (x) => x >= first, ctx: { signal: this.ctx?.signal } })) {
      const vertices = [f, g].flatMap((x) => (x >= first ? [...made[x - first]!.of] : this.verticesOf(built.kept[x]!)));
      const c = mesh.loopStart[mesh.faceLoops[f >= first ? f : g]!]!;
      const v = 3 * mesh.corners[c]!;
      built.troubles.push({
        what: 'cuts through',
        at: [mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!],
        vertices,
      });
    }
    return built;
  }

  /** Vertices of the rounded edges of a face. */
  verticesOf(f: number): number[] {
    const m = this.mesh;
    const t = topologyOf(m);
    const out: number[] = [];
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++)
      if (this.ground.role[t.edge[c]!] === ROUNDED) out.push(m.corners[c]!, m.corners[t.next[c]!]!);
    return out;
  }
}
