import { add, dot, lengthOf, sub, unit, type Vec3 } from '../mesh/index.ts';

/** The surface that a part is meant to have. */
export interface GuideSurface {
  /** Whether a face comes from a surface that is known. */
  knows(face: number): boolean;
  /** The normal that is meant at a point of a face; any length. */
  normal(face: number, point: Vec3): Vec3;
  /** How far a point of a face is from its surface, mm. */
  off(face: number, point: Vec3): number;
}

/** Rounds of going from one surface to the other, to the line that they meet in. */
const TURNS = 12;
/** Steps towards the surface; each leaves about the square of what was left. */
const STEPS = 8;

/** A place of a face brought onto its surface, along a direction or the surface's normal. */
export function seated(guide: GuideSurface, face: number, from: Vec3, along: Vec3 | null, near: number): Vec3 {
  let p = from;
  for (let i = 0; i < STEPS; i++) {
    const off = guide.off(face, p);
    if (off <= near) break;
    const n = unit(guide.normal(face, p));
    const d = along ?? n;
    const slope = dot(d, n);
    if (Math.abs(slope) < 0.05) return from;
    const [a, b] = [add(p, d, off / slope), add(p, d, -off / slope)];
    p = guide.off(face, a) < guide.off(face, b) ? a : b;
  }
  return p;
}

/** The place near one on the surfaces of all of some faces, by going from one to the other in turn. */
export function onto(guide: GuideSurface, faces: readonly number[], from: Vec3, near: number): Vec3 {
  let p = from;
  for (let turn = 0; turn < TURNS; turn++) {
    const was = p;
    for (const f of faces) p = seated(guide, f, p, null, near);
    if (faces.length < 2 || lengthOf(sub(was, p)) <= near) break;
  }
  return p;
}
