import { FlatFace, type Flat, type PolyMesh } from '../../mesh/index.ts';
import type { LayoutMemory } from './layoutMemory.ts';
import { quadFace, type LayOut, type QuadGoal, type QuadLayout } from './quadFace.ts';
import { wantedParts, type Strip } from './quadStrips.ts';
import type { Spread } from './spread.ts';
import { mirrorsOf } from './symmetry.ts';

/** A face, and its boundaries seen squarely. */
export function flatRings(m: PolyMesh, f: number): { face: FlatFace; rings: Flat[][] } {
  const face = new FlatFace(m, f);
  return { face, rings: face.boundaries.map((loop) => loop.map((c) => face.at(c))) };
}

/** Faces with so few corners are looked at as they are first, and what scores less than this is good. */
const FEW_CORNERS = 16;
const GOOD = 6;

/**
 * Asks for the splits that a face would have: of long straight edges, and of those that a mirror line crosses in their
 * middle.
 */
export function askForSplits(
  face: FlatFace,
  rings: readonly (readonly Flat[])[],
  stripOf: (c: number) => Strip,
  goal: QuadGoal,
  by: LayOut,
): void {
  const corners = face.boundaries.flat();
  const ask = (i: number, parts: number) => {
    const strip = stripOf(corners[i]!);
    if (strip.free && !strip.round) strip.parts = Math.max(strip.parts, parts);
  };
  // What is well laid out as it is needs no splits.
  const layout = corners.length <= FEW_CORNERS ? quadFace(rings, goal, by) : null;
  if (layout && !layout.triangles && layout.score < GOOD) return;
  const parts = goal !== 'fewest' && corners.length > 5 ? wantedParts(rings) : rings.flat().map(() => 1);
  if (layout && goal !== 'fewest' && rings.length === 1)
    return tryParts(
      rings,
      layout.score,
      parts,
      (i) => stripOf(corners[i]!),
      (list) => quadFace(list, goal, by),
    );
  parts.forEach((n, i) => ask(i, n));
  if (goal === 'fewest' || rings.length < 2) return;
  const points = rings.flat();
  let at = 0;
  const loops = rings.map((r) => r.map(() => at++));
  const { centre, angles } = mirrorsOf({ points }, loops);
  const next = new Map(loops.flatMap((l) => l.map((v, i) => [v, l[(i + 1) % l.length]!] as const)));
  for (const angle of angles.length > 4 ? angles.filter((_, i) => i % (angles.length / 2) === 0) : angles)
    for (const [v, w] of next) {
      const off = [v, w].map(
        (x) => Math.cos(angle) * (points[x]![1] - centre[1]) - Math.sin(angle) * (points[x]![0] - centre[0]),
      );
      const long = Math.hypot(points[w]![0] - points[v]![0], points[w]![1] - points[v]![1]);
      if (Math.abs(off[0]! + off[1]!) < 1e-6 * long && Math.abs(off[0]!) > 0.4 * long) ask(v, 2);
    }
}

/**
 * A polygon of a bent face may be so many times further from its facets than these are from their bend; each time more
 * counts so much against it.
 */
const [MAY_DEPART, DEPARTS] = [1.5, 2];
/** Where the fewest faces are wanted, quads of a bent face may be so much wider. */
const WIDER = 2;
export const layOutOf = (bent: Spread | undefined, goal: QuadGoal, check: () => void, memory?: LayoutMemory): LayOut =>
  bent
    ? {
        check,
        ...(memory && { memory, judgedBy: bent.name() }),
        judge: (p) => DEPARTS * Math.max(0, bent.departs(p) - MAY_DEPART),
        most: (goal === 'fewest' ? WIDER : 1) * bent.most,
      }
    : { check, memory, judge: () => 0, most: Infinity };
export const drawnOn = (bent: Spread | undefined, rings: readonly (readonly Flat[])[]): Flat[][] =>
  rings.map((r) => r.map((p) => bent?.drawn(p) ?? p));

/**
 * Numbers of parts that the long edges of a face of few corners are tried with; what does not bring the score below
 * this share is not worth a split.
 */
const TRIED = [2, 3, 4, 6];
const WORTH = 0.7;
/** Edges longer than this share of the longest are long. */
const LONG_EDGE = 0.5;

/**
 * Lays a face out with its edges split as its sizes suggest, and with its long edges in several numbers of parts, and
 * asks for what does best.
 */
function tryParts(
  rings: readonly (readonly Flat[])[],
  now: number,
  suggested: readonly number[],
  stripOf: (i: number) => Strip,
  layOut: (list: readonly Flat[][]) => QuadLayout | null,
): void {
  const edges = rings.flatMap((r) => r.map((p, i) => ({ p, q: r[(i + 1) % r.length]! })));
  const length = edges.map(({ p, q }) => Math.hypot(q[0] - p[0], q[1] - p[1]));
  const longest = length.reduce((a, b) => Math.max(a, b));
  const free = edges.map((_, i) => stripOf(i).free && !stripOf(i).round);
  const ways = [suggested, ...TRIED.map((n) => length.map((l) => (l > LONG_EDGE * longest ? n : 1)))].map((parts) =>
    parts.map((n, i) => (free[i] ? n : 1)),
  );
  let best: { parts: readonly number[]; score: number } = { parts: [], score: WORTH * now };
  for (const parts of ways) {
    if (parts.every((n) => n === 1)) continue;
    let at = 0;
    const split = rings.map((r) =>
      r.flatMap((p, i): Flat[] => {
        const q = r[(i + 1) % r.length]!;
        const n = parts[at++]!;
        return Array.from({ length: n }, (_, k) => [p[0] + ((q[0] - p[0]) * k) / n, p[1] + ((q[1] - p[1]) * k) / n]);
      }),
    );
    const layout = layOut(split);
    if (layout && layout.score < best.score) best = { parts, score: layout.score };
    if (best.score < GOOD) break;
  }
  best.parts.forEach((parts, i) => {
    if (parts > stripOf(i).parts) Object.assign(stripOf(i), { parts, tried: true });
  });
}
