import type { FineTriangles } from './fineTriangles.ts';
import type { LevelLine } from './levelLine.ts';
import type { EndsOnLine } from './spokeEnds.ts';
import type { SeamSides } from './seamSides.ts';

/** The vertices of a line in order, with the ends of spokes among them. */
export interface FullLine {
  list: number[];
  isClosed: boolean;
  /** Vertices of the ends of each spoke. */
  ends: number[][];
  /** New vertices within the triangles that the line passes, in its order. */
  inside: Map<number, number[]>;
}

/** Ends nearer to each other than this are one; in widths. */
const SAME_END = 0.04;
/** An end this near to a node takes it: one that stands between groups, any other, and for one held by a crease. */
const [TO_BORDER_NODE, TO_NODE, TO_HELD] = [0.06, 0.004, 1e-9];
/** A place moved onto the line keeps this share from the sides of its triangle. */
const WITHIN = 0.02;
/** Newton steps, their probe (share of the triangle), where they end (widths), and how good the last is. */
const [NEWTON_STEPS, PROBE, EXACT, GOOD] = [6, 1e-5, 1e-9, 1e-3];
/** A determinant below this has no inverse. */
const SINGULAR = 1e-9;
/** Two neighbouring nodes are at a kink when the side's way between them is so many times theirs. */
const KINK = 3;

/** Puts the ends of spokes on their line as vertices. `width`: the full one, mm. */
export function lineWithEnds(
  fine: FineTriangles,
  s: SeamSides,
  line: LevelLine,
  { spokes, places, length }: EndsOnLine,
  width: number,
): FullLine {
  const { nodes, isClosed } = line;
  const n = nodes.length;
  const steps = isClosed ? n : n - 1;
  const between = (j: number): boolean => {
    const h = nodes[j % n]!.edge;
    const o = fine.opposite[h]!;
    return o < 0 || fine.group[(h / 3) | 0] !== fine.group[(o / 3) | 0];
  };
  const added: { p: number; v: number; step: number }[] = [];
  const vertexAt = (p: number, isHeld: boolean): number => {
    let q = isClosed ? p - length * Math.floor(p / length) : Math.max(0, Math.min(length, p));
    if (isClosed && q >= length) q = 0;
    let [lo, hi] = [0, steps];
    while (lo + 1 < hi) {
      const mid = (lo + hi) >> 1;
      if (places[mid]! <= q) lo = mid;
      else hi = mid;
    }
    const [before, after] = [q - places[lo]!, places[lo + 1]! - q];
    const takes = (j: number) => (isHeld ? TO_HELD : between(j) ? TO_BORDER_NODE : TO_NODE) * width;
    if (before <= after && before <= takes(lo)) return nodes[lo]!.vertex;
    if (after <= takes(lo + 1)) return nodes[(lo + 1) % n]!.vertex;
    const [a, b] = [fine.at(nodes[lo]!.vertex), fine.at(nodes[(lo + 1) % n]!.vertex)];
    const k = before / (before + after);
    const place = ontoLine(fine, s, line, lo, [
      a[0] + k * (b[0] - a[0]),
      a[1] + k * (b[1] - a[1]),
      a[2] + k * (b[2] - a[2]),
    ]);
    const v = fine.add(place);
    added.push({ p: q, v, step: lo });
    return v;
  };
  const held = spokes.flatMap((x) => x.ends.filter((e) => e.isHeld).map((e) => e.p));
  const apart = (p: number, q: number) => Math.abs(p - q - (isClosed ? length * Math.round((p - q) / length) : 0));
  let first: { p: number; v: number } | null = null;
  let last: { p: number; v: number } | null = null;
  const ends = spokes.map((x) =>
    x.ends.map((e) => {
      const p = e.isHeld ? e.p : (held.find((q) => apart(q, e.p) < SAME_END * width) ?? e.p);
      const isHeld = e.isHeld || p !== e.p;
      if (last && Math.abs(p - last.p) < (e.isHeld ? TO_HELD : SAME_END) * width) return last.v;
      if (isClosed && first && Math.abs(p - length - first.p) < SAME_END * width) return first.v;
      last = { p, v: vertexAt(p, isHeld) };
      first ??= last;
      return last.v;
    }),
  );
  added.sort((a, b) => a.p - b.p);
  const list: number[] = [];
  const inside = new Map<number, number[]>();
  let i = 0;
  for (let j = 0; j < n; j++) {
    list.push(nodes[j]!.vertex);
    for (; i < added.length && added[i]!.step === j; i++) {
      list.push(added[i]!.v);
      const t = line.triangles[j]!;
      inside.set(t, [...(inside.get(t) ?? []), added[i]!.v]);
    }
  }
  return { list, isClosed, ends, inside };
}

type Place = [number, number, number];

/**
 * A place within a triangle that the line passes, moved in its plane onto the line itself: to one width from the
 * nearest half-edge, or, in a kink, from both that make it. It stays where it is when that leads out of the triangle.
 */
function ontoLine(fine: FineTriangles, s: SeamSides, line: LevelLine, step: number, p: Place): Place {
  const [x, y] = [line.nodes[step]!, line.nodes[(step + 1) % line.nodes.length]!];
  const t = line.triangles[step]!;
  const [A, B, C] = [0, 1, 2].map((i) => fine.at(fine.vertex[3 * t + i]!)) as [Place, Place, Place];
  const [e, g, d] = [B, C, p].map((q) => q.map((c, k) => c - A[k]!)) as [Place, Place, Place];
  const place = (u: number, w: number): Place => [
    A[0] + u * e[0] + w * g[0],
    A[1] + u * e[1] + w * g[1],
    A[2] + u * e[2] + w * g[2],
  ];
  const product = (a: Place, b: Place) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const D = product(e, e) * product(g, g) - product(e, g) ** 2;
  if (!(D > 0)) return p;
  let u = (product(g, g) * product(d, e) - product(e, g) * product(d, g)) / D;
  let w = (product(e, e) * product(d, g) - product(e, g) * product(d, e)) / D;
  const isKink = s.arc(x.h, x.share, y.h, y.share) > KINK * fine.length(x.vertex, y.vertex);
  const off = (a: number, b: number): [number, number] => {
    const q = place(a, b);
    const [one, two] = [x.h, y.h].map((h) => s.nearest(q[0], q[1], q[2], h, 2) - 1) as [number, number];
    return isKink ? [one, two] : [Math.min(one, two), 0];
  };
  for (let i = 0; i < NEWTON_STEPS; i++) {
    const at = off(u, w);
    if (Math.abs(at[0]) + Math.abs(at[1]) < EXACT) break;
    const [du, dw] = [off(u + PROBE, w), off(u, w + PROBE)];
    const [a, b] = [(du[0] - at[0]) / PROBE, (dw[0] - at[0]) / PROBE];
    const [c, h] = [(du[1] - at[1]) / PROBE, (dw[1] - at[1]) / PROBE];
    const det = a * h - b * c;
    if (isKink && Math.abs(det) > SINGULAR) {
      u -= (h * at[0] - b * at[1]) / det;
      w -= (a * at[1] - c * at[0]) / det;
      continue;
    }
    const l = a * a + b * b;
    if (!(l > 0)) return p;
    u -= (at[0] * a) / l;
    w -= (at[0] * b) / l;
  }
  const [one, two] = off(u, w);
  const isGood = Math.abs(one) + Math.abs(two) < GOOD;
  return Math.min(u, w, 1 - u - w) > WITHIN && isGood ? place(u, w) : p;
}
