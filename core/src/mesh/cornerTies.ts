import { FlatFace, offSegment, segmentsMeet, type Flat } from './flatFace.ts';
import type { PolyMesh } from './polymesh.ts';
import { partFace } from './partFace.ts';
import { facesAsTheyAre, reface, type NewFace } from './reface.ts';
import { tieHoles } from './tieHoles.ts';

/** A boundary turns at a real corner by more than this, degrees; less is a curve in short steps. */
const CORNER = 20;
/** How near, as a share of its length, a tie may come to what it does not end on. */
const TIE_CLEAR = 1e-6;

interface Tie {
  corner: number;
  hole: number;
  /** The corner of the hole's boundary where it ends. */
  end: number;
  length: number;
}

/**
 * The mesh with every wanted face that has inner boundaries cut by ties that run from the corners of its outer boundary
 * to the hole nearest to each, so that they lie symmetric where face and hole do. A hole gets two at least or none of
 * them; those left over, and faces without corners, get short ties (`tieHoles`). No vertex is added.
 */
export function tieToCorners(m: PolyMesh, wanted: (face: number) => boolean = () => true): PolyMesh {
  const faces = facesAsTheyAre(m).flatMap((face) =>
    face.boundaries.length > 1 && wanted(face.from) ? tiedFace(m, face) : [face],
  );
  const cut = reface(m, faces);
  return tieHoles(cut, (f) => wanted(faces[f]!.from));
}

function tiedFace(m: PolyMesh, face: NewFace): NewFace[] {
  const flat = new FlatFace(m, face.from);
  const ties = chosen(flat);
  return ties.length ? parted(flat, face, ties) : [face];
}

/** Corners of the outer boundary where it turns to the left by more than a curve's step. */
function realCorners(flat: FlatFace): number[] {
  const [outer] = flat.boundaries as [number[]];
  return outer.filter((c, i) => {
    const [p, q, r] = [outer.at(i - 1)!, c, outer[(i + 1) % outer.length]!].map((k) => flat.at(k)) as [
      Flat,
      Flat,
      Flat,
    ];
    const turn = Math.atan2(r[1] - q[1], r[0] - q[0]) - Math.atan2(q[1] - p[1], q[0] - p[0]);
    const degrees = (turn * 180) / Math.PI;
    return ((degrees + 540) % 360) - 180 > CORNER;
  });
}

function chosen(flat: FlatFace): Tie[] {
  const holes = flat.boundaries.slice(1);
  const edges = flat.edges();
  const taken: Tie[] = [];
  const clear = (t: Tie) => isClear(flat, edges, taken, t);
  /**
   * The shortest tie from a corner to a hole; of two as short, the one more along the face's longest edge, so that
   * mirrored places choose alike.
   */
  const best = (corner: number, hole: number): Tie => {
    const p = flat.at(corner);
    const list = holes[hole]!.map((end): Tie => {
      const q = flat.at(end);
      return { corner, hole, end, length: Math.hypot(q[0] - p[0], q[1] - p[1]) };
    });
    const least = Math.min(...list.map((t) => t.length));
    const along = longestWay(flat);
    const reach = (t: Tie) => {
      const q = flat.at(t.end);
      return Math.abs((q[0] - p[0]) * along[0] + (q[1] - p[1]) * along[1]);
    };
    return list.filter((t) => t.length <= least * (1 + TIE_CLEAR)).sort((a, b) => reach(a) - reach(b))[0]!;
  };
  const corners = realCorners(flat);
  const all = corners.map((c) => holes.map((_, h) => best(c, h)).sort((a, b) => a.length - b.length));
  for (const t of all.map((list) => list[0]!).sort((a, b) => a.length - b.length)) if (clear(t)) taken.push(t);
  holes.forEach((_, h) => {
    const own = () => taken.filter((t) => t.hole === h);
    // A second one to a hole that has one: the longest way round from it.
    if (own().length === 1) {
      const other = all
        .map((list) => list.find((t) => t.hole === h)!)
        .filter((t) => t.end !== own()[0]!.end && t.corner !== own()[0]!.corner);
      const next = other.sort((a, b) => a.length - b.length).find(clear);
      if (next) taken.push(next);
    }
    if (own().length === 1) taken.splice(taken.indexOf(own()[0]!), 1);
  });
  return taken;
}

function longestWay(flat: FlatFace): Flat {
  const [outer] = flat.boundaries as [number[]];
  let most = 0;
  let way: Flat = [1, 0];
  outer.forEach((c, i) => {
    const [a, b] = [flat.at(c), flat.at(outer[(i + 1) % outer.length]!)];
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
    if (length > most * (1 + TIE_CLEAR)) {
      most = length;
      way = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
    }
  });
  return way;
}

/** Whether a tie lies in the face, touching nothing but its two ends. */
function isClear(flat: FlatFace, edges: readonly [number, number][], taken: readonly Tie[], t: Tie): boolean {
  const [p, q] = [flat.at(t.corner), flat.at(t.end)];
  const tol = TIE_CLEAR * t.length;
  const free = (a: number, b: number) => {
    const ends = [t.corner, t.end];
    const shared = ends.includes(a) || ends.includes(b);
    if (!shared) return !segmentsMeet(p, q, flat.at(a), flat.at(b), tol);
    // An edge at one of its ends: its other end must not lie on the tie, nor the tie's on it.
    return [a, b].every((c) => ends.includes(c) || offSegment(flat.at(c), p, q) > tol);
  };
  if (!edges.every(([a, b]) => free(a, b)) || !taken.every((o) => free(o.corner, o.end))) return false;
  return flat.contains([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2]);
}

/** The pieces of a face along its ties. */
function parted(flat: FlatFace, face: NewFace, ties: readonly Tie[]): NewFace[] {
  const corners = flat.boundaries.flat();
  const begin = corners[0]!;
  return partFace(
    face,
    corners.map((c) => flat.at(c)),
    ties.map((t) => [t.corner - begin, t.end - begin] as const),
  );
}
