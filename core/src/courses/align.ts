import {
  bounds,
  cross,
  dot,
  lengthOf,
  placementAffine,
  scaled,
  sub,
  turnOf,
  unit,
  type Bounds,
  type Vec3,
} from '../mesh/index.ts';
import type { Cutter } from './document.ts';
import { placedMesh } from './placed.ts';
import { fitsRack } from './rack.ts';

const none = () => undefined;

/** The box of a cutter where it stands, mm; null for one whose shape is kept elsewhere or cannot be made. */
export function cutterBounds(c: Cutter): Bounds | null {
  if (!fitsRack(c.shape)) return null;
  try {
    return bounds(placedMesh(c.shape, c.placement, none));
  } catch {
    // Its course says what is wrong with it.
    return null;
  }
}

const movedBy = (c: Cutter, by: Vec3): Cutter => {
  const position = c.placement.position.map((x, k) => +(x + by[k]!).toFixed(9) + 0) as [number, number, number];
  return { ...c, placement: { ...c.placement, position } };
};

/** The cutter moved so that the middle of its box is that of another box, along some axes (0, 1, 2 for x, y, z). The same where it has no box. */
export function centredOn(c: Cutter, box: Bounds, axes: readonly number[]): Cutter {
  const own = cutterBounds(c);
  if (!own) return c;
  const by = [0, 1, 2].map((k) => (axes.includes(k) ? (box.min[k]! + box.max[k]! - own.min[k]! - own.max[k]!) / 2 : 0));
  return movedBy(c, by as unknown as Vec3);
}

/** The cutter moved down or up so that its lowest point is at a height, mm. The same where it has no box. */
export function droppedTo(c: Cutter, z: number): Cutter {
  const own = cutterBounds(c);
  return own ? movedBy(c, [0, 0, z - own.min[2]]) : c;
}

/**
 * The cutter seated anew on a face: its own z along the normal, turned about it as little as can be, and its end in the face: beneath it when
 * it takes away, on it when it adds.
 */
export function seatedOn(c: Cutter, point: Vec3, normal: Vec3, adds: boolean): Cutter {
  const z = unit(normal);
  const a = placementAffine({ ...c.placement, scale: [1, 1, 1] });
  const before: Vec3 = [a[0]!, a[4]!, a[8]!];
  const flat = sub(before, scaled(z, dot(before, z)));
  const x = unit(lengthOf(flat) > 1e-6 ? flat : cross(Math.abs(z[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0], z));
  const y = cross(z, x);
  const turned: Cutter = { ...c, placement: { ...c.placement, position: [0, 0, 0], turn: turnOf([0, 1, 2].map((k) => [x[k]!, y[k]!, z[k]!])) } }; // prettier-ignore
  const reach = heights(turned, z);
  const lift = adds ? -reach[0] : -reach[1];
  return movedBy(turned, [0, 1, 2].map((k) => point[k]! + lift * z[k]!) as unknown as Vec3);
}

/** From where to where a cutter reaches along a direction, mm. */
function heights(c: Cutter, way: Vec3): [number, number] {
  if (!fitsRack(c.shape)) return [0, 0];
  const { positions: P } = placedMesh(c.shape, c.placement, none);
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < P.length; i += 3) {
    const h = dot([P[i]!, P[i + 1]!, P[i + 2]!], way);
    [low, high] = [Math.min(low, h), Math.max(high, h)];
  }
  return [low, high];
}
