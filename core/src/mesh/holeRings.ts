import type { OpResult } from './operation.ts';
import { FlatFace, insideRing, segmentsMeet, turned, type Flat } from './flatFace.ts';
import type { PolyMesh } from './polymesh.ts';
import { facesAsTheyAre, reface, type NewCorner, type NewFace } from './reface.ts';

/** A ring that finds no room is tried at half its width so many times. */
const RING_HALVINGS = 3;
/** How near, as a share of its width, a ring may come to other boundaries. */
const RING_CLEAR = 0.01;

export interface RingReport {
  /** Holes that got a ring; those of them where it had to be narrower; holes without room for any. */
  rings: number;
  narrowed: number;
  left: number;
}

/**
 * Lays a ring of quads round inner boundaries of faces: one for each edge of the hole, `width` mm wide, its outer
 * vertices on the lines that halve the hole's corners, so that corners stay aligned. Where other boundaries leave no
 * room the ring is made narrower, or is left out.
 * `wanted(face, loop)` tells which holes; faces stay planar, and no edge runs from a ring to the surround.
 */
export function ringHoles(
  m: PolyMesh,
  width: number,
  wanted: (face: number, loop: number) => boolean,
): OpResult<RingReport> {
  const report: RingReport = { rings: 0, narrowed: 0, left: 0 };
  const added: number[] = [];
  const first = m.positions.length / 3;
  const faces = facesAsTheyAre(m).flatMap((face): NewFace[] => {
    const loops = face.boundaries
      .map((_, i) => i)
      .filter((i) => i > 0 && wanted(face.from, m.faceLoops[face.from]! + i));
    if (!loops.length) return [face];
    const flat = new FlatFace(m, face.from);
    const boundaries = flat.boundaries.map((loop) => loop.map((c) => flat.at(c)));
    const made: NewFace[] = [];
    const outer = [...face.boundaries];
    for (const i of loops) {
      const ring = fitting(boundaries, i, width);
      if (!ring) {
        report.left++;
        continue;
      }
      report.rings++;
      if (ring.width < width) report.narrowed++;
      const vertices = ring.places.map((p) => first + added.push(...flat.lift(p)) / 3 - 1);
      const hole = face.boundaries[i]!;
      const n = hole.length;
      for (let k = 0; k < n; k++) {
        const j = (k + 1) % n;
        const corner = (vertex: number, edge = -1): NewCorner => ({ vertex, edge });
        made.push({
          from: face.from,
          boundaries: [[hole[k]!, corner(hole[j]!.vertex), corner(vertices[j]!), corner(vertices[k]!)]],
        });
      }
      outer[i] = vertices.map((vertex) => ({ vertex, edge: -1 }));
      boundaries[i] = ring.places;
    }
    return [{ from: face.from, boundaries: outer }, ...made];
  });
  if (!report.rings) return { mesh: m, report };
  const positions = new Float64Array(m.positions.length + added.length);
  positions.set(m.positions);
  positions.set(added, m.positions.length);
  return { mesh: reface(m, faces, positions), report };
}

/** The outer side of a ring round a boundary, as wide as there is room for. */
function fitting(boundaries: readonly Flat[][], i: number, width: number): { places: Flat[]; width: number } | null {
  for (let k = 0, w = width; k <= RING_HALVINGS; k++, w /= 2) {
    const places = offset(boundaries[i]!, w);
    if (places && hasRoom(boundaries, i, places, RING_CLEAR * w)) return { places, width: w };
  }
  return null;
}

/** An inner boundary (clockwise) drawn outward by w, mitred; null where a side would be used up. */
function offset(hole: readonly Flat[], w: number): Flat[] | null {
  const n = hole.length;
  const way = hole.map((p, k): Flat => {
    const q = hole[(k + 1) % n]!;
    const length = Math.hypot(q[0] - p[0], q[1] - p[1]);
    return [(q[0] - p[0]) / length, (q[1] - p[1]) / length];
  });
  const out = hole.map((p, k): Flat => {
    const [a, b] = [way.at(k - 1)!, way[k]!];
    // Outward of a clockwise side is to its left; the mitre is as far from both.
    const s = w / (1 + a[0] * b[0] + a[1] * b[1]);
    return [p[0] - s * (a[1] + b[1]), p[1] + s * (a[0] + b[0])];
  });
  const runs = out.every((p, k) => {
    const q = out[(k + 1) % n]!;
    return (q[0] - p[0]) * way[k]![0] + (q[1] - p[1]) * way[k]![1] > 0;
  });
  return runs ? out : null;
}

/** Whether a ring lies in the face, clear of its other boundaries and of itself. */
function hasRoom(boundaries: readonly Flat[][], i: number, ring: readonly Flat[], tol: number): boolean {
  const sides = (loop: readonly Flat[]) => loop.map((p, k): [Flat, Flat] => [p, loop[(k + 1) % loop.length]!]);
  const own = sides(ring);
  const convex = boundaries[i]!.every((p, k, loop) => turned(loop.at(k - 1)!, p, loop[(k + 1) % loop.length]!) <= 0);
  // Round a hole that bends inward the ring might meet itself.
  if (
    !convex &&
    own.some(([a, b], k) =>
      own.some(([c, d], l) => Math.abs(k - l) > 1 && Math.abs(k - l) < own.length - 1 && segmentsMeet(a, b, c, d, tol)),
    )
  )
    return false;
  for (const [l, loop] of boundaries.entries()) {
    if (l === i) continue;
    if (sides(loop).some(([c, d]) => own.some(([a, b]) => segmentsMeet(a, b, c, d, tol)))) return false;
    if (l > 0 && insideRing(ring, loop[0]!)) return false;
  }
  return insideRing(boundaries[0]!, ring[0]!);
}

/** Whether every edge of a boundary is marked with a course: it is the rim of a hole that this course cut. */
export function isRimOf(m: PolyMesh, loop: number, course: number): boolean {
  for (let c = m.loopStart[loop]!; c < m.loopStart[loop + 1]!; c++) if (m.layers.seam?.[c] !== course) return false;
  return true;
}
