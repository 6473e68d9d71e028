import { Facets, MOST_STEPS, type Barrier, type Spot, type Wedge } from './facets.ts';
import { add, cross, dot, lengthOf, scaled, sub, unit, type Vec3 } from './vec.ts';

/** A way over the surface: places at the wanted lengths, how far it got (mm), and what stopped it, if anything did. */
export interface Walked {
  spots: Spot[];
  reach: number;
  stop: Barrier | null;
}

/** A straight stretch of a line over the surface: through a face, or along an edge (`face` −1). */
export interface Pass {
  face: number;
  from: Spot;
  to: Spot;
}

/** Directions that lean from an edge by less (radians) run along it. */
const ALONG_EDGE = 1e-6;

const atVertex = (point: Vec3, vertex: number): Spot => ({ point, vertex, corner: -1, share: 0, triangle: -1 });

/**
 * Straight ways over a mesh, facet by facet. A way goes on straight across an edge, the two faces unfolded to one
 * plane, and halves the angle round a vertex that it meets: the straightest geodesic of Polthier and Schmies (1998).
 */
export class Surface extends Facets {
  /**
   * A way from a vertex into its fan, at an angle (radians) from where the fan begins; places on it at some lengths
   * (mm, rising).
   */
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
      if (Math.abs(left) < ALONG_EDGE && begins >= 0)
        return { along: begins, triangle: -1, point: [0, 0, 0], d: [0, 0, 0] };
      if (left < w.angle - ALONG_EDGE || i === fan.length - 1) {
        const p = this.place(w.triangle, w.at);
        const u = unit(sub(this.place(w.triangle, w.at + 1), p));
        const turn = Math.max(ALONG_EDGE, Math.min(left, w.angle - ALONG_EDGE));
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
   * The line over the surface from one place to another in the plane through both and along a direction; null where it
   * would cross what is held, bends or ends there, or leads elsewhere.
   */
  section(a: Spot, b: Spot, up: Vec3): Pass[] | null {
    const way = sub(b.point, a.point);
    const n = cross(way, up);
    if (!(lengthOf(n) > 0)) return null;
    const last = new Set(this.trianglesOf(b));
    const lastFaces = new Set([...last].map((i) => this.faces[i]!));
    /**
     * How a triangle leads on in the plane; those first whose face the line ends in, then those that lead most straight
     * there.
     */
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
      // In a flat face the rest of the way is straight, whichever triangles it goes through.
      const there =
        around.find((i) => last.has(i)) ??
        around.find((i) => lastFaces.has(this.faces[i]!) && this.level.has(this.faces[i]!));
      if (there !== undefined) {
        go(this.faces[there]!, b, here);
        return passes;
      }
      let moved = false;
      for (const { i, ahead, rank } of around.map(onward).sort((x, y) => y.rank - x.rank)) {
        if (!(rank > 0)) continue;
        const hit = this.leaves(i, here.point, ahead);
        // From an edge or a vertex, out by the way it came in: the triangle lies behind.
        if (!hit || (hit.t < this.tolerance && (here.vertex >= 0 || here.corner >= 0))) continue;
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
