import { sizeOf } from './measures.ts';
import { facePlane } from './planes.ts';
import { cornerCount, faceBegin, faceCount, faceEnd, loopCount, type PolyMesh, vertexPlace } from './polymesh.ts';
import { facesAsTheyAre, reface, type NewFace } from './reface.ts';
import { triangulateFace } from './triangulate.ts';
import { add, cross, dot, lengthOf, sub, unit, type Vec3 } from './vec.ts';

/**
 * What ties are chosen for: short ones; for a bevel those that stand most square to the boundaries at both ends, along
 * which the bevelled vertex can slide; for light those that run most level over a bent face; for a subdivision short
 * ones, as many as it takes for each face to be seen whole from its middle, where its quads meet.
 */
export type TieAim = 'short' | 'bevel' | 'light' | 'middle';

/**
 * The mesh with every face (or those wanted) that has inner boundaries, and for `middle` every face that is not seen
 * from its middle, cut into faces of one boundary each, by edges (ties) from the holes to their surround: at least two
 * a hole, as they are aimed at, none crossing another, never one doubled edge.
 *
 * Starts from a triangulation and takes its diagonals out again, the worst first, as long as the two faces that a
 * diagonal parts would join to a plain disc (they meet along one run only). Layers are handed on. No vertex is added.
 */
export function tieHoles(m: PolyMesh, wanted: (face: number) => boolean = () => true, aim: TieAim = 'short'): PolyMesh {
  if (loopCount(m) === faceCount(m) && aim !== 'middle') return m;
  const cost = costOf(m, aim);
  const next = loopNext(m);
  let cut = false;
  const faces = facesAsTheyAre(m).flatMap((face): NewFace[] => {
    const whole =
      face.boundaries.length === 1 &&
      (aim !== 'middle' || isSeen(m, face.from, range(faceBegin(m, face.from), faceEnd(m, face.from))));
    if (whole || !wanted(face.from)) return [face];
    cut = true;
    const mayJoin = aim === 'middle' ? (piece: readonly number[]) => isSeen(m, face.from, piece) : () => true;
    // An edge keeps its data only where the new corner still leaves along the old edge.
    return tiedPieces(m, face.from, cost(face.from, next), mayJoin).map((piece) => ({
      from: face.from,
      boundaries: [
        piece.map((c, i) => ({ vertex: m.corners[c]!, edge: next[c] === piece[(i + 1) % piece.length] ? c : -1 })),
      ],
    }));
  });
  return cut ? reface(m, faces) : m;
}

const range = (s: number, e: number): number[] => Array.from({ length: e - s }, (_, i) => s + i);

function loopNext(m: PolyMesh): Int32Array {
  const next = new Int32Array(cornerCount(m));
  for (let l = 0; l < loopCount(m); l++)
    for (let c = m.loopStart[l]!; c < m.loopStart[l + 1]!; c++)
      next[c] = c + 1 < m.loopStart[l + 1]! ? c + 1 : m.loopStart[l]!;
  return next;
}

/** What counts against a tie between two corners of a face. */
function costOf(m: PolyMesh, aim: TieAim): (f: number, next: Int32Array) => (a: number, b: number) => number {
  const at = (c: number): Vec3 => vertexPlace(m, m.corners[c]!);
  const length = (a: number, b: number) => lengthOf(sub(at(b), at(a)));
  if (aim === 'short' || aim === 'middle') return () => length;
  // Of two equally good ones, the shorter.
  const little = TIE_BREAK / (sizeOf(m) || 1);
  if (aim === 'light')
    return (f) => {
      const plane = facePlane(m, f);
      const high = (c: number) => dot(at(c), [plane[0]!, plane[1]!, plane[2]!]);
      return (a, b) => Math.abs(high(a) - high(b)) / length(a, b) + little * length(a, b);
    };
  return (f, next) => {
    const before = new Map<number, number>();
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) before.set(next[c]!, c);
    /** How far from square a way out of a corner is to the nearer of its two edges: 0 square or beyond, 1 along it. */
    const aslant = (c: number, to: number) => {
      const way = unit(sub(at(to), at(c)));
      return [next[c]!, before.get(c)!].reduce((most, x) => Math.max(most, dot(way, unit(sub(at(x), at(c))))), 0);
    };
    return (a, b) => Math.max(aslant(a, b), aslant(b, a)) + little * length(a, b);
  };
}

/** So little counts a length as long as the part where slant or steepness is what matters. */
const TIE_BREAK = 1e-4;

/** A middle sees an edge when it is further inside of it than this share of the edge's length. */
const SEEN = 1e-3;

/** Whether the mean of the corners of a piece of a face lies inside of all its edges, seen squarely. */
function isSeen(m: PolyMesh, f: number, piece: readonly number[]): boolean {
  if (piece.length === 3) return true;
  const plane = facePlane(m, f);
  const n: Vec3 = [plane[0]!, plane[1]!, plane[2]!];
  const at = piece.map((c) => vertexPlace(m, m.corners[c]!));
  const mean = at.reduce<Vec3>((s, p) => add(s, p, 1 / at.length), [0, 0, 0]);
  return at.every((p, i) => {
    const edge = sub(at[(i + 1) % at.length]!, p);
    return dot(cross(edge, sub(mean, p)), n) > SEEN * dot(edge, edge);
  });
}

/** One face as plain discs, each a ring of corner numbers; two are joined only to one that may be. */
function tiedPieces(
  m: PolyMesh,
  f: number,
  cost: (a: number, b: number) => number,
  mayJoin: (piece: readonly number[]) => boolean,
): number[][] {
  const tris = triangulateFace(m, f);
  // Half-edges of the triangles, each with the corner it leaves.
  const n = tris.length;
  const next = Int32Array.from({ length: n }, (_, h) => (h % 3 === 2 ? h - 2 : h + 1));
  const twin = new Int32Array(n).fill(-1);
  const at = new Map<string, number>();
  for (let h = 0; h < n; h++) at.set(`${tris[h]},${tris[next[h]!]}`, h);
  for (let h = 0; h < n; h++) twin[h] = at.get(`${tris[next[h]!]},${tris[h]}`) ?? -1;
  const ring = (h: number): number[] => {
    const out = [h];
    for (let q = next[h]!; q !== h; q = next[q]!) out.push(q);
    return out;
  };
  const worth = Float64Array.from({ length: n }, (_, h) => cost(tris[h]!, tris[next[h]!]!));
  const diagonals = range(0, n).filter((h) => twin[h]! > h);
  diagonals.sort((a, b) => worth[b]! - worth[a]! || a - b);
  const face = Int32Array.from({ length: n }, (_, h) => Math.floor(h / 3));
  const prev = Int32Array.from({ length: n }, (_, h) => (h % 3 === 0 ? h + 2 : h - 1));
  const gone = new Uint8Array(n);
  for (const h of diagonals) {
    const g = twin[h]!;
    if (face[h] === face[g]) continue;
    const ours = ring(h);
    const theirs = ring(g);
    // Joined, the two rings must still pass each vertex once: they may share the two ends of this diagonal only.
    const vertices = new Set(ours.map((q) => m.corners[tris[q]!]!));
    if (theirs.filter((q) => vertices.has(m.corners[tris[q]!]!)).length !== 2) continue;
    if (!mayJoin([...ours.slice(1), ...theirs.slice(1)].map((q) => tris[q]!))) continue;
    for (const q of theirs) face[q] = face[h]!;
    next[prev[h]!] = next[g]!;
    prev[next[g]!] = prev[h]!;
    next[prev[g]!] = next[h]!;
    prev[next[h]!] = prev[g]!;
    gone[h] = gone[g] = 1;
  }
  const out: number[][] = [];
  const seen = new Uint8Array(n);
  for (let h = 0; h < n; h++) {
    if (gone[h] || seen[h]) continue;
    const r = ring(h);
    for (const q of r) seen[q] = 1;
    out.push(r.map((q) => tris[q]!));
  }
  return out;
}
