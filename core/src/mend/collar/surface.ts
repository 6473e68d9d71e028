import {
  add,
  cross,
  dot,
  faceCount,
  faceNormals,
  lengthOf,
  nearestOn,
  scaled,
  sizeOf,
  sub,
  topologyOf,
  triangulateFace,
  unit,
  vertexCorners,
  type PolyMesh,
  type Topology,
  type Vec3,
} from '../../mesh/index.ts';

/** A place on a surface: at a vertex, on an edge (by a corner that leaves along it, and the share from there), or within a triangle of a face. */
export interface Spot {
  point: Vec3;
  vertex: number;
  corner: number;
  share: number;
  triangle: number;
}

/** What a way over the surface came to: places at the wanted lengths, how far it got (mm), and what it ended at before, if anything did. */
export interface Walked {
  spots: Spot[];
  reach: number;
  stop: Barrier | null;
}

/** What no way over the surface crosses: a line that is held, an edge that the surface bends at, its border, a vertex of such edges. */
export type Barrier = 'line' | 'bend' | 'border' | 'corner';

/** A straight stretch of a line over the surface: through a face, or along an edge (`face` −1). */
export interface Pass {
  face: number;
  from: Spot;
  to: Spot;
}

/** A triangle at a vertex, by its number and which of its corners it is, with its angle there. */
export interface Wedge {
  triangle: number;
  at: number;
  angle: number;
}

/** Places nearer to a vertex than this share of the size are the vertex. */
const AT_VERTEX = 1e-8;
/** Directions that lean from an edge by less (radians) run along it. */
const ALONG = 1e-6;
/** Edges where the surface bends by more (cosine of 35°) are not crossed. */
const BEND = Math.cos((35 * Math.PI) / 180);
/** Most triangles that one way leads over. */
const MOST_STEPS = 4000;
/** A triangle thinner than this (height to length) has no normal worth having. */
const FLAT = 1e-7;

const atVertex = (point: Vec3, vertex: number): Spot => ({ point, vertex, corner: -1, share: 0, triangle: -1 });

/**
 * Straight ways over a mesh, facet by facet: faces are cut to triangles when a way first comes there. A way goes on straight across an edge, the two faces
 * unfolded to one plane, and halves the angle round a vertex that it meets: the straightest geodesic of Polthier and Schmies (1998).
 */
export class Surface {
  readonly topology: Topology;
  readonly tolerance: number;
  private readonly normals: Float64Array;
  private readonly around: (v: number) => number[];
  private readonly corners: number[] = [];
  private readonly faces: number[] = [];
  /** Of a corner the side of a triangle (3 × triangle + side) that its edge is; −1 where its face is not cut yet. */
  private readonly side: Int32Array;
  private readonly cut: Uint8Array;
  private readonly diagonals = new Map<number, number>();
  private readonly normalOf: Vec3[] = [];

  /** `held` says of an edge, by its number, that no way may cross it. */
  constructor(
    readonly mesh: PolyMesh,
    private readonly held: (edge: number) => boolean,
  ) {
    this.topology = topologyOf(mesh);
    this.normals = faceNormals(mesh);
    this.around = vertexCorners(mesh);
    this.side = new Int32Array(mesh.corners.length).fill(-1);
    this.cut = new Uint8Array(faceCount(mesh));
    this.tolerance = AT_VERTEX * sizeOf(mesh);
  }

  at(v: number): Vec3 {
    const P = this.mesh.positions;
    return [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!];
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

  private place(triangle: number, at: number): Vec3 {
    return this.at(this.mesh.corners[this.corner(triangle, at)]!);
  }

  private triangles(f: number): void {
    if (this.cut[f]) return;
    this.cut[f] = 1;
    const first = this.faces.length;
    this.corners.push(...triangulateFace(this.mesh, f));
    for (let i = first; 3 * i < this.corners.length; i++) {
      this.faces.push(f);
      const [a, b, c] = [0, 1, 2].map((k) => this.place(i, k)) as [Vec3, Vec3, Vec3];
      const n = cross(sub(b, a), sub(c, a));
      const longest = Math.max(dot(sub(b, a), sub(b, a)), dot(sub(c, a), sub(c, a)));
      this.normalOf.push(lengthOf(n) > FLAT * longest ? unit(n) : this.normal(f));
      for (let k = 0; k < 3; k++) {
        const [p, q] = [this.corner(i, k), this.corner(i, k + 1)];
        if (this.topology.next[p] === q && this.side[p]! < 0) this.side[p] = 3 * i + k;
        else this.diagonals.set(p * this.mesh.corners.length + q, 3 * i + k);
      }
    }
  }

  /** The corner whose edge a side of a triangle is; −1 for a diagonal of its face. */
  private edgeOf(side: number): number {
    const p = this.corners[side]!;
    return this.side[p] === side ? p : -1;
  }

  /** The side of the triangle beyond a side; −1 where there is none. */
  private beyond(side: number): number {
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
    return dot(this.normal(face[c]!), this.normal(face[opposite[c]!]!)) < BEND ? 'bend' : null;
  }

  /** Triangles at a corner, counter-clockwise from its own edge to the one before it. */
  private wedgesAt(c: number): Wedge[] {
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
  private allRound(c: number): number[] | null {
    const out = [c];
    for (;;) {
      const o = this.topology.opposite[this.topology.prev[out.at(-1)!]!]!;
      if (o < 0) return null;
      if (o === c) return out;
      if (out.length > MOST_STEPS) return null;
      out.push(o);
    }
  }

  /** A way from a vertex into its fan, at an angle (radians) from where the fan begins; places on it at some lengths (mm, rising). */
  walk(fan: readonly Wedge[], angle: number, lengths: readonly number[]): Walked {
    const out: Walked = { spots: [], reach: 0, stop: null };
    const far = lengths.at(-1)!;
    let way = this.into(fan, angle);
    for (let step = 0; step < MOST_STEPS; step++) {
      const next = way.along >= 0 ? this.alongEdge(way.along, lengths, out) : this.throughTriangles(way, lengths, out);
      if (!next || out.reach >= far) return out;
      way = next;
    }
    out.stop = 'corner';
    return out;
  }

  /** How a way leaves a vertex: along an edge, by its corner, or through a triangle. */
  private into(fan: readonly Wedge[], angle: number): Way {
    let left = angle;
    for (const [i, w] of fan.entries()) {
      const begins = this.beginsAt(w);
      if (Math.abs(left) < ALONG && begins >= 0) return { along: begins, triangle: -1, point: [0, 0, 0], d: [0, 0, 0] };
      if (left < w.angle - ALONG || i === fan.length - 1) {
        const p = this.place(w.triangle, w.at);
        const u = unit(sub(this.place(w.triangle, w.at + 1), p));
        const turn = Math.max(ALONG, Math.min(left, w.angle - ALONG));
        const d = add(scaled(u, Math.cos(turn)), cross(this.normalOf[w.triangle]!, u), Math.sin(turn));
        return { along: -1, triangle: w.triangle, point: p, d };
      }
      left -= w.angle;
    }
    throw new RangeError('a fan has no triangles');
  }

  /** On along an edge to its other end; how it goes on from there, or null where it ends. */
  private alongEdge(c: number, lengths: readonly number[], out: Walked): Way | null {
    const { next } = this.topology;
    const [a, b] = [this.at(this.mesh.corners[c]!), this.at(this.mesh.corners[next[c]!]!)];
    const length = lengthOf(sub(b, a));
    while (out.spots.length < lengths.length && lengths[out.spots.length]! < out.reach + length - this.tolerance) {
      const share = (lengths[out.spots.length]! - out.reach) / length;
      out.spots.push({ point: add(a, sub(b, a), share), vertex: -1, corner: c, share, triangle: -1 });
    }
    if (out.spots.length === lengths.length) {
      out.reach = lengths.at(-1)!;
      return null;
    }
    return this.onward(this.mesh.corners[next[c]!]!, sub(b, a), length, this.barrier(c) === 'bend', lengths, out);
  }

  /** On from a vertex that a way meets, coming from a direction. */
  private onward(
    v: number,
    from: Vec3,
    length: number,
    bends: boolean,
    lengths: readonly number[],
    out: Walked,
  ): Way | null {
    out.reach += length;
    const end = (stop: Barrier) => {
      out.stop = stop;
      return null;
    };
    while (out.spots.length < lengths.length && lengths[out.spots.length]! <= out.reach + this.tolerance)
      out.spots.push(atVertex(this.at(v), v));
    if (out.spots.length === lengths.length) return null;
    const round = this.allRound(this.around(v)[0]!);
    if (!round) return end('border');
    const barred = round.filter((c) => this.barrier(c));
    const way = unit(from);
    const to = (c: number) => unit(sub(this.at(this.mesh.corners[this.topology.next[c]!]!), this.at(v)));
    // Along a bend it goes on along the bend, where that is one line.
    if (bends) {
      const ahead = barred.filter((c) => dot(to(c), way) > Math.SQRT1_2);
      return barred.length === 2 && ahead.length === 1 && this.barrier(ahead[0]!) === 'bend'
        ? { along: ahead[0]!, triangle: -1, point: [0, 0, 0], d: [0, 0, 0] }
        : end('corner');
    }
    if (barred.length) return end('corner');
    const fan = this.fan(round);
    const total = fan.reduce((s, w) => s + w.angle, 0);
    return this.into(fan, (this.angleOf(fan, scaled(way, -1)) + total / 2) % total);
  }

  /** At which angle of a fan a direction lies that leads along it. */
  private angleOf(fan: readonly Wedge[], d: Vec3): number {
    let [best, least, sum] = [0, -2, 0];
    for (const w of fan) {
      const p = this.place(w.triangle, w.at);
      const u = unit(sub(this.place(w.triangle, w.at + 1), p));
      const a = Math.max(0, Math.min(w.angle, Math.atan2(dot(cross(this.normalOf[w.triangle]!, u), d), dot(u, d))));
      const on = add(scaled(u, Math.cos(a)), cross(this.normalOf[w.triangle]!, u), Math.sin(a));
      const near = dot(on, d);
      if (near > least) [best, least] = [sum + a, near];
      sum += w.angle;
    }
    return best;
  }

  /** On through triangles to a vertex, or to where it ends. */
  private throughTriangles(from: Way, lengths: readonly number[], out: Walked): Way | null {
    let { triangle, point, d } = from;
    for (let step = 0; step < MOST_STEPS; step++) {
      const hit = this.leaves(triangle, point, d);
      if (!hit) break;
      while (out.spots.length < lengths.length && lengths[out.spots.length]! < out.reach + hit.t - this.tolerance)
        out.spots.push({
          point: add(point, d, lengths[out.spots.length]! - out.reach),
          vertex: -1,
          corner: -1,
          share: 0,
          triangle,
        });
      if (out.spots.length === lengths.length) {
        out.reach = lengths.at(-1)!;
        return null;
      }
      if (hit.vertex >= 0) return this.onward(hit.vertex, d, hit.t, false, lengths, out);
      out.reach += hit.t;
      const c = this.edgeOf(hit.side);
      const barrier = c >= 0 ? this.barrier(c) : null;
      if (barrier) {
        out.stop = barrier;
        return null;
      }
      const beyond = this.beyond(hit.side);
      if (beyond < 0) break;
      const k = hit.side % 3;
      const e = unit(sub(this.place(triangle, k + 1), this.place(triangle, k)));
      const next = Math.floor(beyond / 3);
      const across = dot(d, cross(e, this.normalOf[triangle]!));
      d = unit(add(scaled(e, dot(d, e)), cross(e, this.normalOf[next]!), across));
      point = hit.point;
      triangle = next;
    }
    out.stop = 'corner';
    return null;
  }

  /** Where a ray in a triangle leaves it: through which side, or at which vertex, and after which length. */
  private leaves(
    triangle: number,
    p: Vec3,
    d: Vec3,
  ): { side: number; vertex: number; t: number; point: Vec3; share: number } | null {
    const across = cross(this.normalOf[triangle]!, d);
    const at = [0, 1, 2].map((k) => sub(this.place(triangle, k), p));
    const y = at.map((r) => dot(r, across));
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
        vertex: near < 0 ? -1 : this.mesh.corners[this.corner(triangle, near)]!,
        t,
        point,
        share,
      };
    }
    return found;
  }

  /** Triangles that a place belongs to. */
  private trianglesOf(s: Spot): number[] {
    if (s.vertex >= 0) return this.fan(this.around(s.vertex)).map((w) => w.triangle);
    if (s.corner < 0) return [s.triangle];
    const o = this.topology.opposite[s.corner]!;
    for (const c of o < 0 ? [s.corner] : [s.corner, o]) this.triangles(this.topology.face[c]!);
    return [s.corner, o].flatMap((c) => (c < 0 || this.side[c]! < 0 ? [] : [Math.floor(this.side[c]! / 3)]));
  }

  /** Faces that a place belongs to. */
  facesOf(s: Spot): number[] {
    return [...new Set(this.trianglesOf(s).map((i) => this.faces[i]!))];
  }

  /** A place moved onto the nearest edge of its face that may be crossed, where one is nearer than a distance (mm). */
  snapped(s: Spot, within: number): Spot {
    if (s.triangle < 0) return s;
    const f = this.faces[s.triangle]!;
    let best = s;
    let least = within;
    const { loopStart, faceLoops, corners } = this.mesh;
    for (let c = loopStart[faceLoops[f]!]!; c < loopStart[faceLoops[f + 1]!]!; c++) {
      if (this.barrier(c)) continue;
      const [a, b] = [this.at(corners[c]!), this.at(corners[this.topology.next[c]!]!)];
      const { share, distance } = nearestOn(s.point, a, b);
      if (distance >= least || share < 0.02 || share > 0.98) continue;
      least = distance;
      best = { point: add(a, sub(b, a), share), vertex: -1, corner: c, share, triangle: -1 };
    }
    return best;
  }

  /** Whether two places lie on one edge. */
  private onOneEdge(a: Spot, b: Spot): boolean {
    const { edge, next } = this.topology;
    const edges = (s: Spot): Set<number> =>
      s.vertex >= 0
        ? new Set(this.around(s.vertex).flatMap((c) => [edge[c]!, edge[this.topology.prev[c]!]!]))
        : new Set(s.corner >= 0 ? [edge[s.corner]!] : []);
    if (a.vertex >= 0 && b.vertex >= 0)
      return (
        this.around(a.vertex).some((c) => this.mesh.corners[next[c]!] === b.vertex) ||
        this.around(b.vertex).some((c) => this.mesh.corners[next[c]!] === a.vertex)
      );
    const those = edges(b);
    return [...edges(a)].some((e) => those.has(e));
  }

  /**
   * The line over the surface from one place to another in the plane through both and along a direction; null where it would cross what is held, bends or
   * ends there, or leads elsewhere.
   */
  section(a: Spot, b: Spot, up: Vec3): Pass[] | null {
    const way = sub(b.point, a.point);
    const n = cross(way, up);
    if (!(lengthOf(n) > 0)) return null;
    const last = new Set(this.trianglesOf(b));
    const lastFaces = new Set([...last].map((i) => this.faces[i]!));
    /** How a triangle leads on in the plane; those first whose face the line ends in, then those that lead most straight there. */
    const onward = (i: number) => {
      const d = unit(cross(n, this.normalOf[i]!));
      const ahead = dot(d, way) < 0 ? scaled(d, -1) : d;
      return { i, ahead, rank: dot(ahead, way) + (lastFaces.has(this.faces[i]!) ? lengthOf(way) : 0) };
    };
    const passes: Pass[] = [];
    const go = (face: number, to: Spot, from: Spot) => {
      const before = passes.at(-1);
      // Through a diagonal of the face it goes on in the same face.
      if (before && before.face === face && face >= 0 && before.to === from && from.vertex < 0 && from.corner < 0)
        before.to = to;
      else passes.push({ face, from, to });
    };
    let here = a;
    let came = -1;
    for (let step = 0; step < MOST_STEPS; step++) {
      if (this.onOneEdge(here, b)) {
        go(-1, b, here);
        return passes;
      }
      const around = this.trianglesOf(here).filter((i) => i !== came);
      const there = around.find((i) => last.has(i));
      if (there !== undefined) {
        go(this.faces[there]!, b, here);
        return passes;
      }
      let moved = false;
      for (const { i, ahead, rank } of around.map(onward).sort((x, y) => y.rank - x.rank)) {
        if (!(rank > 0)) continue;
        const hit = this.leaves(i, here.point, ahead);
        // Out by the way it came in: the triangle lies behind.
        if (!hit || hit.t < this.tolerance) continue;
        if (hit.vertex >= 0) {
          const to = atVertex(this.at(hit.vertex), hit.vertex);
          if (this.around(hit.vertex).some((c) => this.barrier(c))) return null;
          go(this.onOneEdge(here, to) ? -1 : this.faces[i]!, to, here);
          here = to;
        } else {
          const c = this.edgeOf(hit.side);
          if (c >= 0 && this.barrier(c)) return null;
          const beyond = this.beyond(hit.side);
          if (beyond < 0) return null;
          const to: Spot =
            c >= 0
              ? { point: hit.point, vertex: -1, corner: c, share: hit.share, triangle: -1 }
              : { point: hit.point, vertex: -1, corner: -1, share: 0, triangle: Math.floor(beyond / 3) };
          go(this.faces[i]!, to, here);
          here = to;
        }
        came = i;
        moved = true;
        break;
      }
      if (!moved) return null;
    }
    return null;
  }
}

interface Way {
  /** Corner of the edge that it runs along, or −1. */
  along: number;
  triangle: number;
  point: Vec3;
  d: Vec3;
}
