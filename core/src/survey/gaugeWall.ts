import {
  cross,
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  lengthOf,
  MasonError,
  topologyOf,
  unit,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../mesh/index.ts';
import { gauge, type Gauged } from './gauge.ts';

/** Flats of one wall meet at less than this, degrees: those of a round wall of eight sides do. */
const ONE_WALL = 50;
/** Normals that span less than this (sine) do not go round anything. */
const SPREAD = 0.1;

/**
 * The faces of the wall that a face belongs to: from flat to flat, across edges that turn little and are neither hard
 * nor cut.
 */
export function wallOf(m: PolyMesh, face: number): number[] {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const limit = Math.cos((ONE_WALL * Math.PI) / 180);
  const { hard, seam } = m.layers;
  const seen = new Uint8Array(faceCount(m));
  const wall = [face];
  seen[face] = 1;
  for (let i = 0; i < wall.length; i++) {
    const f = wall[i]!;
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      const o = t.opposite[c]!;
      if (o < 0 || hard?.[c] || hard?.[o] || seam?.[c] || seam?.[o]) continue;
      const g = t.face[o]!;
      const lean = N[3 * f]! * N[3 * g]! + N[3 * f + 1]! * N[3 * g + 1]! + N[3 * f + 2]! * N[3 * g + 2]!;
      if (seen[g] || lean < limit) continue;
      seen[g] = 1;
      wall.push(g);
    }
  }
  return wall;
}

/** Normals that differ by more than this (sine) are of two flats, not of one that is in pieces. */
const TWO_FLATS = 1e-6;

/**
 * Vertices of a wall at which two of its flats meet: only these are meant to lie on the round; another cut's corners
 * lie within a flat.
 */
function ridgeVertices(m: PolyMesh, wall: readonly number[], N: Float64Array): Set<number> {
  const first = new Map<number, number>();
  const out = new Set<number>();
  for (const f of wall)
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      const v = m.corners[c]!;
      const g = first.get(v);
      if (g === undefined) first.set(v, f);
      else if (
        lengthOf(cross([N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!], [N[3 * g]!, N[3 * g + 1]!, N[3 * g + 2]!])) >
        TWO_FLATS
      )
        out.add(v);
    }
  return out;
}

/**
 * The cylinder that the wall of a hole or a pin lies on best, by all corners between its flats; `face` is any flat of
 * it. Its axis is first taken square to its flats.
 * Throws `bad-input` for a wall that does not go round anything.
 */
export function gaugeWall(m: PolyMesh, face: number): Gauged & { faces: number } {
  const wall = wallOf(m, face);
  const N = faceNormals(m);
  const normal = (f: number): Vec3 => [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!];
  const [most, axis] = wall.reduce<[number, Vec3]>(
    (best, f) => {
      const n = cross(normal(face), normal(f));
      return lengthOf(n) > best[0] ? [lengthOf(n), n] : best;
    },
    [0, [0, 0, 1]],
  );
  if (most < SPREAD)
    throw new MasonError(
      'bad-input',
      'This face is flat, and so is all that it goes over into. Click a wall that is round.',
      { face },
    );
  const points = [...ridgeVertices(m, wall, N)].map((v): Vec3 => vertexPlace(m, v));
  return { ...gauge(points, unit(axis)), faces: wall.length };
}
