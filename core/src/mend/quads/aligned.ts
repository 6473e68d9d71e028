import type { Flat } from '../../mesh/index.ts';
import { apart, ringArea, towards } from './flatMesh.ts';

/** An edge is along a cross when it is off by less than this, radians (15°). */
const ALONG = Math.PI / 12;
/** Boundaries are sampled at steps of this share of the side of a square as large as the face. */
const STEP = 0.04;

/**
 * How many of a layout's inner edges there are, and how many of them follow the boundaries: run along or across the
 * mean fourfold direction of these, each weighed by its length and the square of how near it is. `rings`: the boundaries
 * as the layout's points are drawn.
 */
export function alignedEdges(
  rings: readonly (readonly Flat[])[],
  points: readonly Flat[],
  polygons: readonly (readonly number[])[],
): { along: number; all: number } {
  const samples = boundarySamples(rings);
  const n = points.length;
  const seen = new Set<number>();
  let [along, all] = [0, 0];
  for (const p of polygons)
    p.forEach((v, i) => {
      const w = p[(i + 1) % p.length]!;
      const name = Math.min(v, w) * n + Math.max(v, w);
      // The second polygon of an inner edge meets it again.
      if (!seen.has(name)) {
        seen.add(name);
        return;
      }
      const [a, b] = [points[v]!, points[w]!];
      const middle = towards(a, b, 0.5);
      let [c, s] = [0, 0];
      for (const { at, cos, sin, length } of samples) {
        const weight = length / ((at[0] - middle[0]) ** 2 + (at[1] - middle[1]) ** 2 || Number.MIN_VALUE);
        c += weight * cos;
        s += weight * sin;
      }
      const off = Math.atan2(b[1] - a[1], b[0] - a[0]) - Math.atan2(s, c) / 4;
      all++;
      if (Math.abs(off - (Math.PI / 2) * Math.round(off / (Math.PI / 2))) < ALONG) along++;
    });
  return { along, all };
}

interface Sample {
  at: Flat;
  /** Of four times the edge's angle. */
  cos: number;
  sin: number;
  length: number;
}

function boundarySamples(rings: readonly (readonly Flat[])[]): Sample[] {
  const side = Math.sqrt(Math.abs(ringArea(rings[0]!)));
  return rings.flatMap((ring) =>
    ring.flatMap((a, i) => {
      const b = ring[(i + 1) % ring.length]!;
      const long = apart(a, b);
      const turn = 4 * Math.atan2(b[1] - a[1], b[0] - a[0]);
      const count = Math.max(1, Math.ceil(long / (STEP * side)));
      return Array.from({ length: count }, (_, k) => ({
        at: towards(a, b, (k + 0.5) / count),
        cos: Math.cos(turn),
        sin: Math.sin(turn),
        length: long / count,
      }));
    }),
  );
}
