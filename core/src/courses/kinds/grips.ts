import {
  add,
  AXES,
  AXIS_NAMES,
  bounds,
  cross,
  dot,
  faceBegin,
  faceEnd,
  faceNormals,
  lengthOf,
  scaled,
  sub,
  topologyOf,
  triangulateFace,
  unit,
  vertexPlace,
  type PolyMesh,
  type Vec3,
} from '../../mesh/index.ts';
import { placeOf } from '../../survey/index.ts';

/**
 * Where a setting can be taken hold of in the view: with a value v the grip stands at `at` + v · `along`, mm. `along`
 * need not be of length 1.
 */
export interface Grip {
  /** The setting, by its key. */
  key: string;
  at: [number, number, number];
  along: [number, number, number];
  /** The most that there is room for, where that is known. */
  most?: number;
}

/** A grip of a setting, at a place and along a way. */
export const grip = (key: string, at: Vec3, along: Vec3): Grip => ({ key, at: [...at], along: [...along] });

const ends = (m: PolyMesh, c: number): [Vec3, Vec3] => [
  vertexPlace(m, m.corners[c]!),
  vertexPlace(m, m.corners[topologyOf(m).next[c]!]!),
];

/** The longest of some edges, each by one of its corners; of equal ones the first. */
function longest(m: PolyMesh, corners: Iterable<number>): number {
  let [best, most] = [-1, 0];
  for (const c of corners) {
    const [a, b] = ends(m, c);
    const length = lengthOf(sub(b, a));
    // Rounding decides nothing: an edge must be longer by more than that.
    if (length > most * (1 + 1e-9)) [best, most] = [c, length];
  }
  return best;
}

/** The way into the face of a corner, square to its edge, of length 1. */
function into(m: PolyMesh, c: number): Vec3 {
  const f = topologyOf(m).face[c]!;
  const N = faceNormals(m);
  const [a, b] = ends(m, c);
  return unit(cross([N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!], sub(b, a)));
}

/** On a face, in its middle or, where that is not within it, in its largest triangle: along its normal or a given way. */
export function onFace(m: PolyMesh, f: number, key: string, way?: Vec3): Grip {
  const N = faceNormals(m);
  const triangles = triangulateFace(m, f);
  const middle = placeOf(m, 'face', f).point;
  let [best, most]: [Vec3, number] = [middle, 0];
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => vertexPlace(m, m.corners[triangles[i + k]!]!)) as [Vec3, Vec3, Vec3];
    const area = lengthOf(cross(sub(b, a), sub(c, a)));
    const parts = [
      cross(sub(b, a), sub(middle, a)),
      cross(sub(c, b), sub(middle, b)),
      cross(sub(a, c), sub(middle, c)),
    ];
    // The middle is within it: all three see it on the same side.
    if (Math.abs(parts.reduce((sum, p) => sum + lengthOf(p), 0) - area) <= 1e-9 * area) {
      best = middle;
      break;
    }
    if (area > most) [best, most] = [scaled(add(add(a, b), c), 1 / 3), area];
  }
  return grip(key, best, way ?? [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!]);
}

/** From the longest edge of the border of some faces, in its middle: into them. */
export function intoFaces(m: PolyMesh, faces: readonly number[], key: string): Grip[] {
  const t = topologyOf(m);
  const inside = new Set(faces);
  const border: number[] = [];
  for (const f of faces)
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++)
      if (t.opposite[c]! < 0 || !inside.has(t.face[t.opposite[c]!]!)) border.push(c);
  return besideCorner(m, longest(m, border), key);
}

/**
 * From the longest of some edges (each by one of its corners), in its middle: over the face beside it. `rate` is how
 * many mm along the face each 1 of the setting goes there, from the angle (radians) by which the surface turns.
 */
export function besideEdges(
  m: PolyMesh,
  corners: Iterable<number>,
  key: string,
  rate: (turn: number) => number = () => 1,
): Grip[] {
  const c = longest(m, corners);
  if (c < 0) return [];
  const t = topologyOf(m);
  const o = t.opposite[c]!;
  const N = faceNormals(m);
  const normal = (f: number): Vec3 => [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!];
  const turn = o < 0 ? 0 : Math.acos(Math.max(-1, Math.min(1, dot(normal(t.face[c]!), normal(t.face[o]!)))));
  return besideCorner(m, c, key, rate(turn));
}

function besideCorner(m: PolyMesh, c: number, key: string, rate = 1): Grip[] {
  if (c < 0) return [];
  const [a, b] = ends(m, c);
  return [grip(key, add(a, sub(b, a), 0.5), scaled(into(m, c), rate))];
}

/**
 * Along the longest of some edges, from its start or, `back`, from its end: per mm, or per length of the edge where it
 * is a `share`.
 */
export function alongEdges(m: PolyMesh, corners: Iterable<number>, key: string, share: boolean, back = false): Grip[] {
  const c = longest(m, corners);
  if (c < 0) return [];
  const both = ends(m, c);
  const [a, b] = back ? (both.reverse() as [Vec3, Vec3]) : both;
  return [grip(key, a, share ? sub(b, a) : unit(sub(b, a)))];
}

/** At a vertex: along the longest edge that leaves it. */
export function atVertex(m: PolyMesh, v: number, key: string): Grip[] {
  const leaving: number[] = [];
  m.corners.forEach((w, c) => w === v && leaving.push(c));
  return alongEdges(m, leaving, key, false);
}

/**
 * Of a plane square to an axis: in the middle of the part across it, along the axis, from its 0 or, for a `share`, from
 * the low side of the part over its whole length.
 */
export function alongAxis(m: PolyMesh, axis: 'x' | 'y' | 'z', key: string, share: boolean): Grip {
  const way = AXES[axis];
  const { min, max } = bounds(m);
  const at = way.map((x, k) => (x ? (share ? min[k]! : 0) : (min[k]! + max[k]!) / 2));
  const k = AXIS_NAMES.indexOf(axis);
  return grip(key, at as unknown as Vec3, scaled(way, share ? max[k]! - min[k]! : 1));
}
