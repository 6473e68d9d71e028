import {
  add,
  dot,
  faceBegin,
  faceEnd,
  faceNormals,
  lengthOf,
  MasonError,
  scaled,
  sizeOf,
  sub,
  unit,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../mesh/index.ts';
import { fitQuadric, ontoQuadric } from '../mend/index.ts';
import type { GuideSurface } from './guideSurface.ts';

/** Normals that differ by less are of one flat. */
const ONE_FLAT = 1e-6;
/** A surface of the second degree has nine freedoms: with so many places it is settled by them alone. */
const ENOUGH_PLACES = 10;

/**
 * The smooth surface that passes nearest to some faces, as their guide where no body of the part gives one: of the
 * second degree, so that planes, balls, cylinders and cones come out as they are. Fitted to the vertices at which two
 * or more of their flats meet, as others lie below the surface, with the mean of the normals there. Throws `bad-input`
 * where they do not settle one.
 */
export function fittedGuide(m: PolyMesh, wanted: (face: number) => boolean): GuideSurface {
  const N = faceNormals(m);
  const met = new Map<number, Vec3[]>();
  for (let f = 0; f + 1 < m.faceLoops.length; f++) {
    if (!wanted(f)) continue;
    const n: Vec3 = [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!];
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      const list = met.get(m.corners[c]!) ?? [];
      if (!list.some((x) => lengthOf(sub(x, n)) < ONE_FLAT)) met.set(m.corners[c]!, [...list, n]);
    }
  }
  const ridges = [...met].filter(([, list]) => list.length > 1);
  const used = ridges.length >= ENOUGH_PLACES ? ridges : [...met];
  const at = (v: number): Vec3 => vertexPlace(m, v);
  const quadric = fitQuadric(
    used.map(([v]) => at(v)),
    used.map(([, list]) => unit(list.reduce((s, n) => add(s, n)))),
  );
  if (!quadric)
    throw new MasonError('bad-input', 'These faces do not define a smooth surface. Pick more faces around the cut.');
  const reach = sizeOf(m);
  return {
    knows: wanted,
    normal(f, p) {
      const g = quadric.gradient(ontoQuadric(quadric, p, reach) ?? p);
      return dot(g, [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!]) < 0 ? scaled(g, -1) : g;
    },
    off(_f, p) {
      const q = ontoQuadric(quadric, p, reach);
      return q ? lengthOf(add(q, p, -1)) : Infinity;
    },
  };
}
