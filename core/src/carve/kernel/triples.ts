import { Bvh } from '../../mesh/index.ts';
import { distanceInside } from './coplanar.ts';
import type { Crossings } from './points.ts';
import type { State } from './state.ts';

interface CutLine {
  /** Its number among the edges, its ends, and the facet on its other side. */
  edge: number;
  u: number;
  v: number;
  other: number;
}

/** A meeting point may lie so many tolerances off the third of its cut lines, which was placed by other edges. */
const OFF_THIRD = 1e3;

/**
 * Between steps 4 and 5, of a body that is held against itself: where three facets meet in a point inside all of them,
 * the cut lines of each cross there. The point is put into all three lines at once, whichever facet it is found on, so
 * that they agree on it.
 */
export function splitWhereThreeMeet(s: State, crossings: Crossings): void {
  const linesOf = cutLines(s);
  const known = new Map<string, number>();
  for (let f = 0; f < s.facets; f++) {
    const lines = linesOf(f);
    if (lines.length < 2) continue;
    const boxes = boxesOf(s, lines);
    const tree = new Bvh(
      boxes,
      Int32Array.from(lines, (_, i) => i),
    );
    lines.forEach((a, i) => {
      tree.overlaps(boxes, 6 * i, s.tol, (j) => {
        const b = lines[j]!;
        if (j <= i || a.u === b.u || a.u === b.v || a.v === b.u || a.v === b.v) return;
        const t = shareAt(s, f, a, b);
        if (!(t > 0 && t < 1)) return;
        const planes = [f, a.other, b.other].map((x) => s.facetPlane[x]!).sort((x, y) => x - y);
        if (planes[0] === planes[1] || planes[1] === planes[2]) return;
        const key = `${[f, a.other, b.other].sort((x, y) => x - y).join()}`;
        const x = known.get(key) ?? crossings.place(a.u, a.v, t);
        known.set(key, x);
        s.split(a.edge, x);
        s.split(b.edge, x);
        for (const c of linesOf(a.other))
          if (c.other === b.other && distanceInside(s.P, x, c.u, c.v) <= OFF_THIRD * s.tol) s.split(c.edge, x);
      });
    });
  }
}

/** The cut lines on a facet, each once. */
function cutLines(s: State): (facet: number) => readonly CutLine[] {
  const facetOf = new Int32Array(s.segA.length);
  for (let f = 0; f < s.facets; f++)
    for (let i = s.segments.start(f); i >= 0; i = s.segments.after(i)) facetOf[s.segments.at(i)] = f;
  const known = new Map<number, CutLine[]>();
  return (f) => {
    let list = known.get(f);
    if (list) return list;
    list = [];
    for (let i = s.segments.start(f); i >= 0; i = s.segments.after(i)) {
      const k = s.segments.at(i);
      const [u, v] = [s.segA.get(k), s.segB.get(k)];
      // The two facets of a cut line have it under numbers that follow each other.
      list.push({ edge: s.edges.indexEdge(u, v), u, v, other: facetOf[k ^ 1]! });
    }
    known.set(f, list);
    return list;
  };
}

function boxesOf({ P }: State, lines: readonly CutLine[]): Float64Array {
  const out = new Float64Array(6 * lines.length);
  lines.forEach(({ u, v }, i) => {
    for (let k = 0; k < 3; k++) {
      out[6 * i + k] = Math.min(P[3 * u + k]!, P[3 * v + k]!);
      out[6 * i + 3 + k] = Math.max(P[3 * u + k]!, P[3 * v + k]!);
    }
  });
  return out;
}

/**
 * Where along the first of two lines on a facet the second crosses it, if each parts the ends of the other by more than
 * the tolerance; else NaN.
 */
function shareAt(s: State, facet: number, a: CutLine, b: CutLine): number {
  const side = (p: CutLine, w: number) => {
    const { P, plane: L } = s;
    const n = 7 * s.planeFacet[s.facetPlane[facet]!]!;
    const [dx, dy, dz] = [0, 1, 2].map((k) => P[3 * p.v + k]! - P[3 * p.u + k]!) as [number, number, number];
    const [ex, ey, ez] = [0, 1, 2].map((k) => P[3 * w + k]! - P[3 * p.u + k]!) as [number, number, number];
    return (
      (L[n]! * (dy * ez - dz * ey) + L[n + 1]! * (dz * ex - dx * ez) + L[n + 2]! * (dx * ey - dy * ex)) /
      Math.hypot(dx, dy, dz)
    );
  };
  const [a0, a1, b0, b1] = [side(b, a.u), side(b, a.v), side(a, b.u), side(a, b.v)];
  const parted = (x: number, y: number) => (x > s.tol && y < -s.tol) || (x < -s.tol && y > s.tol);
  return parted(a0, a1) && parted(b0, b1) ? a0 / (a0 - a1) : NaN;
}
