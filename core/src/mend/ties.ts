import {
  faceBegin,
  faceEnd,
  faceNormals,
  lengthOf,
  MasonError,
  nearestOn,
  partFace,
  sub,
  tieHoles,
  tieToCorners,
  topologyOf,
  vertexCorners,
  type Flat,
  type NewFace,
  type PolyMesh,
  type Vec3,
  type TieAim,
  type OpResult,
} from '../mesh/index.ts';
import { border } from './dissolve.ts';
import { MeshEdit } from './meshEdit.ts';
import { elementAt } from './select.ts';
import { chordCorners, isClearIn, neighbours } from './split.ts';
import type { FacesOptions } from './operands.ts';

/** Faces whose normals make more than this (cosine) are one flat. */
const ONE_FLAT_COS = 1 - 1e-9;

export interface TieOptions extends FacesOptions {
  /** Where ties go. */
  way: TieAim | 'corners';
}

export interface TieReport {
  /** Faces whose holes were tied. */
  tied: number;
}

/**
 * Puts ties into faces with holes: short ones, or to the corners of the face. Two at least for each hole. How many
 * faces had holes.
 *
 * @example
 * const { mesh: plate } = carve(box(100, 60, 20), { cutters: [cylinder(8, 40, 24)], operation: 'subtract' });
 * const { mesh } = tie(plate, { faces: elementsOf(plate, 'face'), way: 'corners' });
 */
export function tie(m: PolyMesh, { faces, way }: TieOptions): OpResult<TieReport> {
  const wanted = new Set(faces);
  const tied = [...wanted].filter((f) => m.faceLoops[f + 1]! - m.faceLoops[f]! > 1).length;
  const is = (f: number) => wanted.has(f);
  return { mesh: way === 'corners' ? tieToCorners(m, is) : tieHoles(m, is, way), report: { tied } };
}

/** A tie, or any edge across a flat: the two faces beside it, and the boundaries that are left without it. */
interface Tie {
  faces: [number, number];
  /** Edges between the two faces, by a corner each: the tie is one of them. */
  shared: number[];
  whole: NewFace;
  rings: Flat[][];
}

/** What lies beside an edge if it runs across a flat; else why it is no tie. */
function tieAlong(e: MeshEdit, edge: number): Tie | string {
  const t = e.topology;
  const o = t.opposite[edge]!;
  if (o < 0 || t.face[o] === t.face[edge])
    return 'There is no tie between the first two vertices. Pick the end that stays, the end that moves, and where it goes.';
  const [f, g] = [t.face[edge]!, t.face[o]!];
  const N = faceNormals(e.mesh);
  const level = [0, 1, 2].reduce((d, k) => d + N[3 * f + k]! * N[3 * g + k]!, 0);
  if (level < ONE_FLAT_COS)
    return 'The two faces beside this edge meet at an angle: it is no tie, and moving it would bend them. Pick an edge across a flat.';
  const shared = [...t.edgeCorner].filter((c) => {
    const k = t.opposite[c]!;
    return k >= 0 && ((t.face[c] === f && t.face[k] === g) || (t.face[c] === g && t.face[k] === f));
  });
  const whole = { from: f, boundaries: border(e.mesh, [f, g]) };
  return { faces: [f, g], shared, whole, rings: whole.boundaries.map((loop) => e.flat(f, loop)) };
}

export interface MoveTieOptions {
  /** The vertex at which the tie stays, and those that its other end leaves and goes to. */
  fixed: number;
  from: number;
  to: number;
}

export interface MoveTieReport {
  moved: number;
}

/**
 * Moves one end of a tie, or of any edge across a flat: the edge from `fixed` to `from` goes, one from `fixed` to `to`
 * comes, over the two faces beside it; other edges between these stay. Throws `bad-input` where there is no such edge,
 * or where the new one has no room.
 *
 * @example
 * const hexagon = [10, 0, 0, 5, 9, 0, -5, 9, 0, -10, 0, 0, -5, -9, 0, 5, -9, 0];
 * const m = meshFromFaces(hexagon, [[0, 1, 2, 3], [0, 3, 4, 5]]);
 * const { mesh } = moveTie(m, { fixed: 0, from: 3, to: 2 });
 */
export function moveTie(m: PolyMesh, { fixed, from, to }: MoveTieOptions): OpResult<MoveTieReport> {
  const t = topologyOf(m);
  const ends = (c: number) => [m.corners[c]!, m.corners[t.next[c]!]!];
  const edge = [...t.edgeCorner].find((c) => ends(c).includes(fixed) && ends(c).includes(from));
  const e = new MeshEdit(m);
  const tie = tieAlong(e, edge ?? -1);
  if (typeof tie === 'string') throw new MasonError('bad-input', tie, { vertex: fixed });
  const { faces, shared, whole, rings } = tie;
  if (!whole.boundaries.some((l) => l.some((c) => c.vertex === to)))
    throw new MasonError(
      'bad-input',
      'The new end is not on the faces beside the tie. Pick a vertex of their boundaries.',
      { vertex: to },
    );
  if (!isClearIn(whole.boundaries, rings, fixed, to))
    throw new MasonError('not-done', 'The tie has no room there: it would leave the face, or lie on an edge.', {
      vertex: to,
    });
  const flat = rings.flat();
  const others = shared.filter((c) => c !== edge).map((c) => ends(c) as [number, number]);
  const chords = [...others, [fixed, to] as [number, number]].flatMap(([a, b]) => {
    const pair = chordCorners(whole, flat, a, b);
    return pair ? [pair] : [];
  });
  const pieces = partFace(whole, flat, chords);
  if (pieces.some((p) => p.boundaries.some((l) => l.length < 3)))
    throw new MasonError('not-done', 'The tie has no room there: it would lie on an edge.', { vertex: to });
  e.replace(faces[0], pieces);
  e.remove(faces[1]);
  return { mesh: e.done(), report: { moved: 1 } };
}

/** What can be dragged from a place: a vertex, and where it may go. */
export interface Grab {
  vertex: number;
  at: Vec3;
  /** For a tie: the end that stays. */
  fixed: { vertex: number; at: Vec3 } | null;
  /** For a vertex its neighbours along edges; for a tie the vertices that its end may go to. */
  ways: { vertex: number; at: Vec3 }[];
}

/**
 * What can be dragged at a place (mm) of a face: its nearest vertex along the edges, or the nearer end of its nearest
 * tie; null where it has no tie.
 */
export function grabAt(m: PolyMesh, what: 'vertex' | 'tie', f: number, point: Vec3): Grab | null {
  const t = topologyOf(m);
  const e = new MeshEdit(m);
  const spot = (vertex: number) => ({ vertex, at: e.at(vertex) });
  if (what === 'vertex') {
    const vertex = elementAt(m, 'vertex', f, point);
    const beside = vertexCorners(m)(vertex).flatMap((c) => [m.corners[t.next[c]!]!, m.corners[t.prev[c]!]!]);
    return { ...spot(vertex), fixed: null, ways: [...new Set(beside)].map(spot) };
  }
  const ends = (c: number) => [m.corners[c]!, m.corners[t.next[c]!]!] as [number, number];
  const off = (c: number) => nearestOn(point, e.at(ends(c)[0]), e.at(ends(c)[1])).distance;
  let best: { tie: Tie; corner: number } | null = null;
  for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
    if (best && off(c) >= off(best.corner)) continue;
    const tie = tieAlong(e, c);
    if (typeof tie !== 'string') best = { tie, corner: c };
  }
  if (!best) return null;
  const { whole, rings } = best.tie;
  const far = (v: number) => lengthOf(sub(e.at(v), point));
  const [from, fixed] = ends(best.corner).sort((a, b) => far(a) - far(b)) as [number, number];
  const others = new Set(whole.boundaries.flatMap((l) => l.map((c) => c.vertex)));
  const ways = [...others].filter(
    (v) =>
      v !== fixed &&
      v !== from &&
      !neighbours(whole.boundaries, fixed, v) &&
      isClearIn(whole.boundaries, rings, fixed, v),
  );
  return { ...spot(from), fixed: spot(fixed), ways: ways.map(spot) };
}
