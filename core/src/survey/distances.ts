import {
  add,
  dot,
  faceAreas,
  faceBend,
  faceBegin,
  faceEnd,
  lengthOf,
  scaled,
  sub,
  type PolyMesh,
  type Vec3,
} from '../mesh/index.ts';
import { Thickness } from './thickness.ts';

/** How far two closed runs of points are from each other, mm. */
export interface LoopDistance {
  /** Where they come nearest, and how near. */
  least: number;
  from: Vec3;
  to: Vec3;
  /** Between the middles of the two: of their lengths, not of their points. */
  middles: number;
}

/**
 * The distance between two boundaries. Source: Ericson, "Real-Time Collision Detection", 5.1.9, for each pair of edges.
 */
export function loopDistance(a: readonly Vec3[], b: readonly Vec3[]): LoopDistance {
  let best: LoopDistance = {
    least: Infinity,
    from: a[0]!,
    to: b[0]!,
    middles: lengthOf(sub(middleOf(a), middleOf(b))),
  };
  a.forEach((p, i) =>
    b.forEach((q, j) => {
      const [from, to] = nearestOf(p, a[(i + 1) % a.length]!, q, b[(j + 1) % b.length]!);
      const d = lengthOf(sub(from, to));
      if (d < best.least) best = { ...best, least: d, from, to };
    }),
  );
  return best;
}

function middleOf(run: readonly Vec3[]): Vec3 {
  let [sum, length]: [Vec3, number] = [[0, 0, 0], 0];
  run.forEach((p, i) => {
    const q = run[(i + 1) % run.length]!;
    const d = lengthOf(sub(q, p));
    sum = add(sum, add(p, q), d / 2);
    length += d;
  });
  return scaled(sum, 1 / (length || 1));
}

/** The nearest places of two segments. */
function nearestOf(p: Vec3, p1: Vec3, q: Vec3, q1: Vec3): [Vec3, Vec3] {
  const [d, e, r] = [sub(p1, p), sub(q1, q), sub(p, q)];
  const [a, f, c, b, g] = [dot(d, d), dot(e, r), dot(d, r), dot(d, e), dot(e, e)];
  const unitShare = (x: number) => Math.max(0, Math.min(1, x));
  if (!(a > 0)) return [p, add(q, e, g > 0 ? unitShare(f / g) : 0)];
  if (!(g > 0)) return [add(p, d, unitShare(-c / a)), q];
  const denom = a * g - b * b;
  let s = denom > 0 ? unitShare((b * f - c * g) / denom) : 0;
  let t = (b * s + f) / g;
  if (t < 0 || t > 1) {
    t = unitShare(t);
    s = unitShare((b * t - c) / a);
  }
  return [add(p, d, s), add(q, e, t)];
}

/** Measures of a face and a place on it. */
export interface FaceMeasures {
  /** mm². */
  area: number;
  /** Of each boundary its length, mm, and how many corners it has; the outer one first. */
  boundaries: { length: number; corners: number }[];
  /** How far it departs from its plane, mm. */
  bend: number;
  /**
   * How thick the material is below the place, mm: straight in, and by the largest ball. Null where nothing is across.
   */
  ray: number | null;
  ball: number | null;
}

/** Measures a face, and the material below a place on it. */
export function measureFace(m: PolyMesh, face: number, point: Vec3): FaceMeasures {
  const at = (c: number): Vec3 => [0, 1, 2].map((k) => m.positions[3 * m.corners[c]! + k]!) as unknown as Vec3;
  const boundaries = [];
  for (let l = m.faceLoops[face]!; l < m.faceLoops[face + 1]!; l++) {
    const [begin, end] = [m.loopStart[l]!, m.loopStart[l + 1]!];
    let length = 0;
    for (let c = begin; c < end; c++) length += lengthOf(sub(at(c + 1 < end ? c + 1 : begin), at(c)));
    boundaries.push({ length, corners: end - begin });
  }
  const t = new Thickness(m);
  const { thick, face: across } = t.ray(face, point);
  const [ray, ball] = across === null ? [null, null] : [thick, t.ball(face, point)];
  return {
    area: faceAreas(m)[face]!,
    boundaries,
    bend: faceEnd(m, face) - faceBegin(m, face) > 3 ? faceBend(m, face) : 0,
    ray,
    ball,
  };
}
