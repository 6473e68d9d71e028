import { faceNormals, MasonError, partFace, tieHoles, tieToCorners, topologyOf, type PolyMesh } from '../mesh/index.ts';
import { border } from './dissolve.ts';
import { MeshEdit } from './meshEdit.ts';
import { chordCorners, isClearIn } from './split.ts';

/** Faces whose normals make more than this (cosine) are one flat. */
const LEVEL = 1 - 1e-9;

/** Puts ties into faces with holes: short ones, or to the corners of the face. Two at least for each hole. How many faces had holes. */
export function tie(m: PolyMesh, faces: Iterable<number>, way: 'short' | 'corners'): { mesh: PolyMesh; tied: number } {
  const wanted = new Set(faces);
  const tied = [...wanted].filter((f) => m.faceLoops[f + 1]! - m.faceLoops[f]! > 1).length;
  const is = (f: number) => wanted.has(f);
  return { mesh: way === 'short' ? tieHoles(m, is) : tieToCorners(m, is), tied };
}

/**
 * Moves one end of a tie, or of any edge across a flat: the edge from `fixed` to `from` goes, one from `fixed` to `to` comes, over the two faces beside it;
 * other edges between these stay. Throws `bad-input` where there is no such edge, or where the new one has no room.
 */
export function moveTie(m: PolyMesh, fixed: number, from: number, to: number): PolyMesh {
  const t = topologyOf(m);
  const ends = (c: number) => [m.corners[c]!, m.corners[t.next[c]!]!];
  const edge = [...t.edgeCorner].find((c) => ends(c).includes(fixed) && ends(c).includes(from));
  const o = edge === undefined ? -1 : t.opposite[edge]!;
  if (edge === undefined || o < 0 || t.face[o] === t.face[edge]) throw new MasonError('bad-input', 'There is no tie between the first two vertices. Pick the end that stays, the end that moves, and where it goes.', { vertex: fixed }); // prettier-ignore
  const [f, g] = [t.face[edge]!, t.face[o]!];
  const N = faceNormals(m);
  const level = [0, 1, 2].reduce((d, k) => d + N[3 * f + k]! * N[3 * g + k]!, 0);
  if (level < LEVEL) throw new MasonError('bad-input', 'The two faces beside this edge meet at an angle: it is no tie, and moving it would bend them. Pick an edge across a flat.', { vertex: fixed }); // prettier-ignore
  const shared = [...t.edgeCorner].filter((c) => {
    const k = t.opposite[c]!;
    return c !== edge && k >= 0 && ((t.face[c] === f && t.face[k] === g) || (t.face[c] === g && t.face[k] === f));
  });
  const e = new MeshEdit(m);
  const whole = { from: f, outlines: border(m, [f, g]) };
  const rings = whole.outlines.map((loop) => e.flat(f, loop));
  if (!whole.outlines.some((l) => l.some((c) => c.vertex === to))) throw new MasonError('bad-input', 'The new end is not on the faces beside the tie. Pick a vertex of their outlines.', { vertex: to }); // prettier-ignore
  if (!isClearIn(whole.outlines, rings, fixed, to)) throw new MasonError('not-done', 'The tie has no room there: it would leave the face, or lie on an edge.', { vertex: to }); // prettier-ignore
  const flat = rings.flat();
  const chords = [...shared.map((c) => ends(c) as [number, number]), [fixed, to] as [number, number]].flatMap(
    ([a, b]) => {
      const pair = chordCorners(whole, flat, a, b);
      return pair ? [pair] : [];
    },
  );
  const pieces = partFace(whole, flat, chords);
  if (pieces.some((p) => p.outlines.some((l) => l.length < 3))) throw new MasonError('not-done', 'The tie has no room there: it would lie on an edge.', { vertex: to }); // prettier-ignore
  e.replace(f, pieces);
  e.remove(g);
  return e.done();
}
