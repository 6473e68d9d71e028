import { SpatialIndex } from './spatial.ts';
import { bounds, sizeOf } from './measures.ts';
import type { PolyMesh } from './polymesh.ts';
import { add, lengthOf, sub, unit, type Vec3 } from './vec.ts';

/** Places that a run is looked at in all, and the fewest on a piece. */
const PLACES = 240;
/** Two neighbouring places that land further apart than so many times their own distance lie on different surfaces. */
const JUMP = 6;

const indices = new WeakMap<PolyMesh, SpatialIndex>();

/**
 * A closed run of points laid on the surface that it meets first along a direction: pairs of points, mm, x y z each,
 * one line after another. For a picture: it is looked at in places, and where neighbours land on different surfaces
 * there is no line.
 */
export function drape(m: PolyMesh, run: readonly Vec3[], direction: Vec3): Float64Array {
  let index = indices.get(m);
  if (!index) indices.set(m, (index = new SpatialIndex(m)));
  const d = unit(direction);
  // From outside of everything, so that what lies before the run's plane is met, too.
  const { min, max } = bounds(m);
  const back = 2 * sizeOf(m) + run.reduce((far, p) => Math.max(far, lengthOf(sub(p, min)), lengthOf(sub(p, max))), 0);
  const length = run.reduce((sum, p, i) => sum + lengthOf(sub(run[(i + 1) % run.length]!, p)), 0);
  const places = run.flatMap((p, i) => {
    const way = sub(run[(i + 1) % run.length]!, p);
    const n = Math.max(1, Math.round((PLACES * lengthOf(way)) / (length || 1)));
    return Array.from({ length: n }, (_, k) => add(p, way, k / n));
  });
  const landed = places.map((p) => index.raycast(add(p, d, -back), d)?.point ?? null);
  const lines: number[] = [];
  landed.forEach((a, i) => {
    const j = (i + 1) % landed.length;
    const b = landed[j];
    if (!a || !b) return;
    const apart = lengthOf(sub(places[j]!, places[i]!));
    if (lengthOf(sub(b, a)) <= JUMP * apart) lines.push(...a, ...b);
  });
  return Float64Array.from(lines);
}
