import { orient2d } from 'robust-predicates';
import {
  add,
  cross,
  dot,
  planeBasis,
  scaled,
  sub,
  unit,
  type Flat,
  type Spot,
  type Surface,
  type Vec3,
} from '../../mesh/index.ts';

/** A corner's bearing nearer to its edges than this (radians) runs along them. */
const ALONG_EDGE = 1e-6;

/** Straight ways within flat faces, to the last digit, as long as no edge of the face is in the way. */
export class FlatWays {
  private readonly boundaries = new Map<number, { at: (p: Vec3) => Flat; edges: [Flat, Flat][] }>();

  constructor(
    private readonly surface: Surface,
    private readonly flat: (face: number) => boolean,
  ) {}

  /**
   * The end of a way from a vertex that begins in a fan of corners at an angle (radians) from its first edge; null
   * where it leaves its flat face.
   */
  from(fan: readonly number[], bearing: number, distance: number): Spot | null {
    const { mesh, topology } = this.surface;
    let left = bearing;
    for (const [i, c] of fan.entries()) {
      const angle = fan.length === 1 ? Infinity : this.surface.fan([c]).reduce((s, w) => s + w.angle, 0);
      if (left > angle - ALONG_EDGE && i + 1 < fan.length) {
        if (left < angle + ALONG_EDGE) return null;
        left -= angle;
        continue;
      }
      const face = topology.face[c]!;
      if (!this.flat(face)) return null;
      const from = this.surface.at(mesh.corners[c]!);
      const along = unit(sub(this.surface.at(mesh.corners[topology.next[c]!]!), from));
      const across = cross(this.surface.normal(face), along);
      const point = add(from, add(scaled(along, Math.cos(left)), across, Math.sin(left)), distance);
      return this.clear(face, from, point) ? { point, vertex: -1, corner: -1, share: 0, triangle: -1, face } : null;
    }
    return null;
  }

  /** Whether the way between two places of a face crosses none of its edges. */
  clear(face: number, a: Vec3, b: Vec3): boolean {
    const { at, edges } = this.boundary(face);
    const [p, q] = [at(a), at(b)];
    const [x0, x1] = p[0] < q[0] ? [p[0], q[0]] : [q[0], p[0]];
    const [y0, y1] = p[1] < q[1] ? [p[1], q[1]] : [q[1], p[1]];
    for (const [r, s] of edges) {
      if ((r[0] < x0 && s[0] < x0) || (r[0] > x1 && s[0] > x1)) continue;
      if ((r[1] < y0 && s[1] < y0) || (r[1] > y1 && s[1] > y1)) continue;
      if (
        orient2d(...p, ...q, ...r) * orient2d(...p, ...q, ...s) < 0 &&
        orient2d(...r, ...s, ...p) * orient2d(...r, ...s, ...q) < 0
      )
        return false;
    }
    return true;
  }

  private boundary(face: number) {
    let known = this.boundaries.get(face);
    if (known) return known;
    const { mesh: m, topology: t } = this.surface;
    const basis = new Float64Array(6);
    planeBasis(this.surface.normal(face), 0, basis);
    const begin = m.loopStart[m.faceLoops[face]!]!;
    const origin = this.surface.at(m.corners[begin]!);
    const [u, w]: [Vec3, Vec3] = [
      [basis[0]!, basis[1]!, basis[2]!],
      [basis[3]!, basis[4]!, basis[5]!],
    ];
    const at = (p: Vec3): Flat => [dot(sub(p, origin), u), dot(sub(p, origin), w)];
    const edges: [Flat, Flat][] = [];
    for (let c = begin; c < m.loopStart[m.faceLoops[face + 1]!]!; c++)
      edges.push([at(this.surface.at(m.corners[c]!)), at(this.surface.at(m.corners[t.next[c]!]!))]);
    known = { at, edges };
    this.boundaries.set(face, known);
    return known;
  }
}
