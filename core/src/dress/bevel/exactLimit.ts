import { dot, faceBegin, faceEnd, facePlane, planeBasis, topologyOf, type PolyMesh } from '../../mesh/index.ts';
import type { Built } from './build.ts';

/** Positions that stray from a straight way by more than this share of the size do not move evenly. */
const EVEN = 1e-11;
/** An edge is used up below this share of its length. */
const GONE = 1e-6;
/** A vertex meets an edge within its ends, or beyond them by this share of it. */
const WITHIN_ENDS = 1e-6;

/**
 * The exact scale at which a bevel runs into something, between one at which it does not (`low`) and one at which it
 * does (`high`), where what meets lies in one flat: all corners of what is left of it move evenly with the width, so
 * that the width at which an edge of it has no length left is the root of a linear equation, and the one at which a
 * vertex comes to an edge that of a quadratic one. Null where the flats do not tell it, as where surfaces bend.
 *
 * `built` are the bevels at three scales below `high`, without anything in their way, the last one at `low`.
 */
export function exactLimit(
  built: readonly [Built, Built, Built],
  scales: readonly [number, number, number],
  high: number,
  size: number,
): number | null {
  const [a, middle, b] = built.map((x) => x.mesh) as [PolyMesh | null, PolyMesh | null, PolyMesh | null];
  if (!a || !middle || !b || !sameCorners(a, b) || !sameCorners(middle, b)) return null;
  const [from, half, to] = scales;
  const share = (half - from) / (to - from);
  const strays = (v: number): boolean =>
    [0, 1, 2].some(
      (k) =>
        Math.abs(
          a.positions[3 * v + k]! +
            share * (b.positions[3 * v + k]! - a.positions[3 * v + k]!) -
            middle.positions[3 * v + k]!,
        ) >
        EVEN * size,
    );
  let least = Infinity;
  for (let f = 0; f < built[2].first; f++) {
    const corners = Array.from({ length: faceEnd(b, f) - faceBegin(b, f) }, (_, i) => faceBegin(b, f) + i);
    const vertices = corners.map((c) => b.corners[c]!);
    if (vertices.every((v) => [0, 1, 2].every((k) => a.positions[3 * v + k] === b.positions[3 * v + k]))) continue;
    if (vertices.some(strays)) continue;
    least = Math.min(least, limitOf(a, b, f, from, to, high));
  }
  return least <= high ? least : null;
}

const sameCorners = (a: PolyMesh, b: PolyMesh): boolean =>
  a.corners.length === b.corners.length && a.corners.every((v, c) => v === b.corners[c]);

/**
 * The least scale from `to` up to `high` at which something happens in a face, whose corners are known at two scales;
 * infinite where nothing does.
 */
function limitOf(a: PolyMesh, b: PolyMesh, f: number, from: number, to: number, high: number): number {
  const frame = new Float64Array(6);
  planeBasis(facePlane(b, f), 0, frame);
  const flat = (m: PolyMesh, v: number): [number, number] =>
    [0, 3].map(
      (k) =>
        frame[k]! * m.positions[3 * v]! +
        frame[k + 1]! * m.positions[3 * v + 1]! +
        frame[k + 2]! * m.positions[3 * v + 2]!,
    ) as [number, number];
  const { next } = topologyOf(b);
  const begin = faceBegin(b, f);
  const list = Array.from({ length: faceEnd(b, f) - begin }, (_, i) => {
    const v = b.corners[begin + i]!;
    const [p, q] = [flat(a, v), flat(b, v)];
    return {
      v,
      next: next[begin + i]! - begin,
      at: q,
      way: [0, 1].map((k) => (q[k]! - p[k]!) / (to - from)) as [number, number],
    };
  });
  let least = Infinity;
  const offer = (s: number) => {
    if (s >= 0 && to + s <= high) least = Math.min(least, to + s);
  };
  for (const x of list) {
    const y = list[x.next]!;
    const e = [y.at[0] - x.at[0], y.at[1] - x.at[1]] as const;
    const d = [y.way[0] - x.way[0], y.way[1] - x.way[1]] as const;
    const dd = d[0] * d[0] + d[1] * d[1];
    if (dd > 0) {
      const s = -(e[0] * d[0] + e[1] * d[1]) / dd;
      if (Math.hypot(e[0] + s * d[0], e[1] + s * d[1]) <= GONE * Math.hypot(...e)) offer(s);
    }
    // A vertex meets this edge where the area of the three vanishes: c + b s + a s² = 0.
    for (const z of list) {
      if (z.v === x.v || z.v === y.v) continue;
      const [w, u] = [
        [z.at[0] - x.at[0], z.at[1] - x.at[1]] as const,
        [z.way[0] - x.way[0], z.way[1] - x.way[1]] as const,
      ];
      const c0 = e[0] * w[1] - e[1] * w[0];
      const c1 = e[0] * u[1] - e[1] * u[0] + d[0] * w[1] - d[1] * w[0];
      const c2 = d[0] * u[1] - d[1] * u[0];
      for (const s of roots(c0, c1, c2)) {
        if (!(s >= 0 && to + s <= Math.min(high, least))) continue;
        const E = [e[0] + s * d[0], e[1] + s * d[1]] as const;
        const W = [w[0] + s * u[0], w[1] + s * u[1]] as const;
        const along = dot([...E, 0], [...W, 0]) / (E[0] * E[0] + E[1] * E[1]);
        if (along > -WITHIN_ENDS && along < 1 + WITHIN_ENDS) offer(s);
      }
    }
  }
  return least;
}

/** Real roots of c + b s + a s² = 0, in the way that keeps their digits. */
function roots(c: number, b: number, a: number): number[] {
  if (a === 0) return b === 0 ? [] : [-c / b];
  const square = b * b - 4 * a * c;
  if (square < 0) return [];
  const q = -(b + (b < 0 ? -1 : 1) * Math.sqrt(square)) / 2;
  return q === 0 ? [0] : [q / a, c / q];
}
