import {
  add,
  cross,
  dot,
  lengthOf,
  scaled,
  sub,
  topologyOf,
  unit,
  type PolyMesh,
  type Surface,
  type Vec3,
} from '../../mesh/index.ts';
import type { GuideSurface } from '../guideSurface.ts';
import { ROUNDED } from './bevelLoops.ts';
import { turnAt } from './widths.ts';

/** Rounds in which the middle of the ball is sought; each leaves about the square of what was left. */
const ROLL_ROUNDS = 12;
/** It is found when it is this share of the radius from where it touches. */
const FOUND = 1e-10;
/** Surfaces that meet at less than this (sine) have no ball between them. */
const SMOOTH = 0.02;

/**
 * The name of an edge's side at one of its ends: by the corner that leaves along it on that side, and whether it is the
 * end that it leaves.
 */
export const sideAt = (corner: number, leaves: boolean): number => 2 * corner + (leaves ? 0 : 1);

/**
 * How far along the faces a ball that rolls along rounded edges touches: not on the facets, but on the surfaces that
 * they stand for, for each side of each edge at both its ends, mm. Sides whose surfaces are not known, or between which
 * the ball finds no place, are left out.
 * Method: the middle of the ball is as far from both surfaces as its radius, in the plane across the edge; found by
 * Newton's method.
 */
export function rollingWidths(
  m: PolyMesh,
  role: Uint8Array,
  surface: Surface,
  guide: GuideSurface,
  radius: number,
): Map<number, number> {
  const t = topologyOf(m);
  const out = new Map<number, number>();
  for (let c = 0; c < m.corners.length; c++) {
    const o = t.opposite[c]!;
    if (o < 0 || role[t.edge[c]!] !== ROUNDED) continue;
    const [f, g] = [t.face[c]!, t.face[o]!];
    if (!guide.knows(f) || !guide.knows(g)) continue;
    const inward = turnAt(m, surface, c) > 0 ? -1 : 1;
    for (const leaves of [true, false]) {
      const v = surface.at(m.corners[leaves ? c : t.next[c]!]!);
      const middle = middleOf(guide, f, g, v, radius, inward);
      if (!middle) continue;
      const touch = add(middle, unit(guide.normal(f, middle)), -inward * radius);
      const along = unit(cross(guide.normal(f, v), guide.normal(g, v)));
      const way = sub(touch, v);
      out.set(sideAt(c, leaves), lengthOf(add(way, along, -dot(way, along))));
    }
  }
  return out;
}

/**
 * Where the middle of a ball is that touches the surfaces of two faces beside a place of their edge: on the side to
 * which `inward` times their normals leads.
 */
function middleOf(guide: GuideSurface, f: number, g: number, v: Vec3, radius: number, inward: 1 | -1): Vec3 | null {
  const [n1, n2] = [unit(guide.normal(f, v)), unit(guide.normal(g, v))];
  const along = cross(n1, n2);
  if (lengthOf(along) < SMOOTH) return null;
  const [x, y] = [n1, unit(cross(unit(along), n1))];
  let p = add(v, scaled(add(n1, n2), 1 / (1 + dot(n1, n2))), inward * radius);
  for (let k = 0; k < ROLL_ROUNDS; k++) {
    const [d1, d2] = [guide.off(f, p) - radius, guide.off(g, p) - radius];
    if (Math.max(Math.abs(d1), Math.abs(d2)) < FOUND * radius) return p;
    // The distances grow along the normals there, away from the edge.
    const [a, b] = [scaled(unit(guide.normal(f, p)), inward), scaled(unit(guide.normal(g, p)), inward)];
    const [ax, ay, bx, by] = [dot(a, x), dot(a, y), dot(b, x), dot(b, y)];
    const det = ax * by - ay * bx;
    if (Math.abs(det) < SMOOTH) return null;
    p = add(add(p, x, -(d1 * by - d2 * ay) / det), y, -(d2 * ax - d1 * bx) / det);
  }
  return null;
}
