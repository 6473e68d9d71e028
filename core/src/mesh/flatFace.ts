import { facePlane, planeBasis } from './planes.ts';
import { faceBegin, faceEnd, type PolyMesh } from './polymesh.ts';

export type Flat = [number, number];

/** A face laid on its own plane, so that its outer boundary runs counter-clockwise. */
export class FlatFace {
  /** Per boundary its corners (numbers of the mesh), the outer one first. */
  readonly boundaries: number[][] = [];
  private readonly plane: ArrayLike<number>;
  private readonly basis = new Float64Array(6);
  private readonly begin: number;
  private readonly places: Flat[] = [];

  constructor(
    readonly mesh: PolyMesh,
    readonly face: number,
  ) {
    this.plane = facePlane(mesh, face);
    planeBasis(this.plane, 0, this.basis);
    this.begin = faceBegin(mesh, face);
    for (let l = mesh.faceLoops[face]!; l < mesh.faceLoops[face + 1]!; l++)
      this.boundaries.push(
        Array.from({ length: mesh.loopStart[l + 1]! - mesh.loopStart[l]! }, (_, i) => mesh.loopStart[l]! + i),
      );
    for (let c = this.begin; c < faceEnd(mesh, face); c++)
      this.places.push(this.flat(mesh.positions, mesh.corners[c]!));
  }

  private flat(P: Float64Array, v: number): Flat {
    const { plane: L, basis: b } = this;
    const [x, y, z] = [P[3 * v]! - L[3]!, P[3 * v + 1]! - L[4]!, P[3 * v + 2]! - L[5]!];
    return [b[0]! * x + b[1]! * y + b[2]! * z, b[3]! * x + b[4]! * y + b[5]! * z];
  }

  /** Where a corner of the face is on the plane. */
  at(corner: number): Flat {
    return this.places[corner - this.begin]!;
  }

  /** The point of space over a place on the plane. */
  lift([x, y]: Flat): [number, number, number] {
    const { plane: L, basis: b } = this;
    return [0, 1, 2].map((k) => L[3 + k]! + b[k]! * x + b[3 + k]! * y) as [number, number, number];
  }

  /** All edges, as pairs of corners. */
  edges(): [number, number][] {
    return this.boundaries.flatMap((loop) => loop.map((c, i): [number, number] => [c, loop[(i + 1) % loop.length]!]));
  }

  /** Whether a place lies in the face, and in none of its inner boundaries. */
  contains(p: Flat): boolean {
    return (
      this.boundaries.filter((loop) =>
        insideRing(
          loop.map((c) => this.at(c)),
          p,
        ),
      ).length %
        2 ===
      1
    );
  }
}

/** Whether a place is inside a closed ring of points, by the even–odd rule. */
export function insideRing(ring: readonly Flat[], [x, y]: Flat): boolean {
  let inside = false;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const [a, b] = [ring[i]!, ring[j]!];
    if (a[1] > y !== b[1] > y && x < ((b[0] - a[0]) * (y - a[1])) / (b[1] - a[1]) + a[0]) inside = !inside;
  }
  return inside;
}

/** Twice the signed area of the triangle a b c: positive when it turns left. */
export const turned = (a: Flat, b: Flat, c: Flat): number =>
  (b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]);

/** Whether two closed segments come within `tol` of each other, one end of the one on the other included. */
export function segmentsMeet(a: Flat, b: Flat, c: Flat, d: Flat, tol: number): boolean {
  const opposite = (p: number, q: number) => (p > 0 && q < 0) || (p < 0 && q > 0);
  if (opposite(turned(a, b, c), turned(a, b, d)) && opposite(turned(c, d, a), turned(c, d, b))) return true;
  return [offSegment(a, c, d), offSegment(b, c, d), offSegment(c, a, b), offSegment(d, a, b)].some((x) => x <= tol);
}

/** Distance of a place from a segment. */
export function offSegment(p: Flat, a: Flat, b: Flat): number {
  // Much of the time of layouts goes into this: a root is many times faster than `Math.hypot`, whose care for the range
  // is not needed here.
  const ex = b[0] - a[0];
  const ey = b[1] - a[1];
  const t = Math.max(0, Math.min(1, ((p[0] - a[0]) * ex + (p[1] - a[1]) * ey) / (ex * ex + ey * ey || 1)));
  return Math.sqrt((a[0] + t * ex - p[0]) ** 2 + (a[1] + t * ey - p[1]) ** 2);
}
