import type { Flat } from '../../../mesh/index.ts';
import { cornerAngle, towards } from '../flatMesh.ts';
import { type Draft, squared } from './draft.ts';

/** Corners sharper and blunter than these count against a quad besides, degrees; one that is straight as much again. */
const [SHARP, BLUNT, STRAIGHT] = [40, 145, 179];
/** How much the ratio of opposite sides counts. */
const UNLIKE = 0.12;
/** Points of quads with a corner sharper or blunter than these are let go of, degrees. */
const [LOOSE_BELOW, LOOSE_ABOVE] = [32, 150];
/** Least gain of a move, so that none goes back and forth. */
const GAIN = 1e-7;
/** In the first rounds points go to the mean of their neighbours where that is better. */
const MEAN_ROUNDS = 8;

/** The corners of a quad, degrees. */
export const cornersOf = (m: Draft, q: readonly number[]): number[] =>
  q.map((v, i) => cornerAngle(m.points[q[(i + 3) % 4]!]!, m.points[v]!, m.points[q[(i + 1) % 4]!]!));

/** How poor a quad is: corners away from a right angle, much more so where sharp or blunt, and unlike sides. */
function poor(m: Draft, q: readonly number[]): number {
  let sum = 0;
  const sides = [0, 0, 0, 0];
  for (let i = 0; i < 4; i++) {
    const [p, b, n] = [m.points[q[(i + 3) % 4]!]!, m.points[q[i]!]!, m.points[q[(i + 1) % 4]!]!];
    const a = cornerAngle(p, b, n);
    sum += ((a - 90) / 90) ** 2;
    if (a < SHARP) sum += 0.01 * (SHARP - a) ** 2;
    if (a > BLUNT) sum += 0.01 * (a - BLUNT) ** 2;
    if (a >= STRAIGHT) sum += 20;
    sides[i] = Math.sqrt(squared(b, n)) + Number.MIN_VALUE;
  }
  return sum + UNLIKE * (Math.abs(Math.log(sides[0]! / sides[2]!)) + Math.abs(Math.log(sides[1]! / sides[3]!)));
}

const STEPS: readonly (readonly Flat[])[] = [
  [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ],
  [
    [0.7, 0.7],
    [-0.7, 0.7],
    [0.7, -0.7],
    [-0.7, -0.7],
  ],
];

/** Moves free points: to the mean of their neighbours, and by steps along and across, wherever their quads get better. */
export function relax(m: Draft, rounds: number): void {
  const quadsAt = m.points.map(() => [] as number[]);
  const beside = m.points.map(() => new Set<number>());
  m.quads.forEach((q, f) =>
    q.forEach((v, i) => {
      quadsAt[v]!.push(f);
      beside[v]!.add(q[(i + 1) % 4]!).add(q[(i + 3) % 4]!);
    }),
  );
  const cost = (v: number) => quadsAt[v]!.reduce((s, f) => s + poor(m, m.quads[f]!), 0);
  const movable = [...m.free.keys()].filter((v) => m.free[v] && quadsAt[v]!.length);
  const step = new Map<number, number>();
  for (let round = 0; round < rounds; round++) {
    let moved = false;
    for (const v of movable) {
      const from = m.points[v]!;
      const around = [...beside[v]!].map((u) => m.points[u]!);
      const own = step.get(v) ?? 0.25 * Math.sqrt(Math.min(...around.map((p) => squared(p, from))));
      step.set(v, own);
      let best = from;
      let least = cost(v);
      const tried = (p: Flat): void => {
        m.points[v] = p;
        const now = cost(v);
        if (now < least - GAIN) [least, best] = [now, p];
      };
      if (round < MEAN_ROUNDS) {
        const mean: Flat = [
          around.reduce((s, p) => s + p[0], 0) / around.length,
          around.reduce((s, p) => s + p[1], 0) / around.length,
        ];
        tried(mean);
        tried(towards(from, mean, 0.5));
      }
      const middle = best;
      for (const [x, y] of STEPS[round % 2]!) tried([middle[0] + own * x, middle[1] + own * y]);
      m.points[v] = best;
      if (best === from) step.set(v, own * 0.6);
      else moved = true;
    }
    if (!moved && round > MEAN_ROUNDS) break;
  }
}

/**
 * Lets go of the points of sharp or blunt quads, but for those of outlines, and moves all free ones: lines bend a little
 * there.
 */
export function loosen(m: Draft, rounds: number): void {
  const fixed = outlinePoints(m);
  let any = false;
  for (const q of m.quads) {
    if (cornersOf(m, q).every((a) => a >= LOOSE_BELOW && a <= LOOSE_ABOVE)) continue;
    for (const v of q)
      if (!fixed.has(v) && !m.free[v]) {
        m.free[v] = true;
        any = true;
      }
  }
  if (any) relax(m, rounds);
}

/** Edges that only one quad has, each by its two points in the quad's order. */
export function outlineEdges(m: Draft): [number, number][] {
  const n = m.points.length;
  const edges = new Map<number, [number, number] | null>();
  for (const q of m.quads)
    q.forEach((v, i) => {
      const w = q[(i + 1) % 4]!;
      const name = v < w ? v * n + w : w * n + v;
      edges.set(name, edges.has(name) ? null : [v, w]);
    });
  return [...edges.values()].filter((e) => e !== null);
}

const outlinePoints = (m: Draft): Set<number> => new Set(outlineEdges(m).flat());
