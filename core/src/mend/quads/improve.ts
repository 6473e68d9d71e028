import type { Flat } from '../../mesh/index.ts';
import { badnessOf, cornerAngle, type FlatMesh } from './flatMesh.ts';

// Makes a layout of quads better in place: points move, pairs of quads are parted otherwise, quads that share two edges
// become one.

/** Least gain of a change, so that none goes back and forth. */
const GAIN = 1e-6;
/** How much a point with more or fewer quads than suits it counts. */
const POLE = 0.5;
/** Rounds of parting and smoothing; it ends sooner when nothing changed. */
const IMPROVE_ROUNDS = 3;

/**
 * How many quads suit each point: four within, two on a mirror line, and at the boundary as many as its angle there
 * asks for, degrees.
 */
export const suitableCounts =
  (m: FlatMesh, angles: ReadonlyMap<number, number>) =>
  (v: number): number =>
    m.holds[v] === 'free' ? 4 : m.holds[v] !== 'fixed' ? 2 : Math.max(1, Math.round((angles.get(v) ?? 360) / 90));

/**
 * Moves points, and changes which quads there are, as long as it gets better; points of rings give way only in the end.
 * `suits` tells how many quads are to meet at a point.
 */
export function improve(m: FlatMesh, suits: (v: number) => number, check: () => void): void {
  const ringed = new Set([...m.locked].flatMap((i) => m.polygons[i]!));
  const isStill = (v: number): boolean => ringed.has(v);
  smooth(m, 4, isStill);
  for (let round = 0; round < IMPROVE_ROUNDS; round++) {
    check();
    const changed = partPairs(m, suits) + dropDoublets(m);
    smooth(m, 6, isStill);
    if (!changed) break;
  }
  if (ringed.size) smooth(m, 3);
}

/** Corners from this on are no corners, degrees. */
const STRAIGHT_ON = 179.5;

/**
 * Parts quads with a corner that is straight or turns inward in two triangles there: what no improvement could make
 * convex. How many.
 */
export function partDarts(m: FlatMesh): number {
  let parted = 0;
  for (const i of m.live()) {
    const list = m.polygons[i]!;
    if (list.length !== 4 || m.locked.has(i)) continue;
    const angle = (k: number) =>
      cornerAngle(m.points[list[(k + 3) % 4]!]!, m.points[list[k]!]!, m.points[list[(k + 1) % 4]!]!);
    const k = [0, 1, 2, 3].reduce((a, b) => (angle(b) > angle(a) ? b : a));
    if (angle(k) < STRAIGHT_ON) continue;
    const r = (s: number) => list[(k + s) % 4]!;
    m.remove(i);
    m.polygon([r(0), r(1), r(2)]);
    m.polygon([r(0), r(2), r(3)]);
    parted++;
  }
  return parted;
}

/** How poor the polygons at a point are together. */
function around(m: FlatMesh, v: number): number {
  let sum = 0;
  for (const i of m.at(v)) sum += badnessOf(m.points, m.polygons[i]!);
  return sum;
}

/**
 * Moves every point that may move to where its polygons are best: towards the mean of its neighbours, and by steps
 * along and across.
 */
function smooth(m: FlatMesh, rounds: number, isStill: (v: number) => boolean = () => false): void {
  for (let round = 0; round < rounds; round++) {
    let moved = 0;
    for (let v = 0; v < m.points.length; v++)
      if (m.holds[v] !== 'fixed' && !isStill(v) && m.at(v).size && movePoint(m, v, round)) moved++;
    if (!moved) return;
  }
}

/** Ways that a point is tried along, in turn. */
const MAIN_WAYS: readonly Flat[] = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
];
/** Used in turn with the main ways, so that no direction is preferred. */
const DIAGONAL_WAYS: readonly Flat[] = [
  [0.7, 0.7],
  [-0.7, 0.7],
  [0.7, -0.7],
  [-0.7, -0.7],
];

function movePoint(m: FlatMesh, v: number, round: number): boolean {
  const hold = m.holds[v] as 'free' | Flat;
  const from = m.points[v]!;
  let least = around(m, v);
  let best = from;
  const neighbours = new Set<number>();
  for (const i of m.at(v)) {
    const list = m.polygons[i]!;
    const k = list.indexOf(v);
    neighbours.add(list[(k + 1) % list.length]!).add(list[(k + list.length - 1) % list.length]!);
  }
  const places = m.places([...neighbours]);
  const mean: Flat = [0, 1].map((d) => places.reduce((s, p) => s + p[d]!, 0) / places.length) as Flat;
  const reach = places.reduce((s, p) => s + Math.hypot(p[0] - from[0], p[1] - from[1]), 0) / places.length;
  const along = (p: Flat): Flat => {
    if (hold === 'free') return p;
    const s = (p[0] - from[0]) * hold[0] + (p[1] - from[1]) * hold[1];
    return [from[0] + s * hold[0], from[1] + s * hold[1]];
  };
  const tried = (p: Flat) => {
    m.points[v] = along(p);
    const cost = around(m, v);
    if (cost < least - GAIN) [least, best] = [cost, m.points[v]];
  };
  const half = (p: Flat, s: number): Flat => [from[0] + s * (p[0] - from[0]), from[1] + s * (p[1] - from[1])];
  tried(mean);
  tried(half(mean, 0.5));
  const [start, step] = [best, (round % 2 ? 0.05 : 0.15) * reach];
  for (const [x, y] of round & 2 ? DIAGONAL_WAYS : MAIN_WAYS) tried([start[0] + step * x, start[1] + step * y]);
  m.points[v] = best;
  return best !== from;
}

/** Pairs of quads beside each other are parted along the best of the three chords of their boundary. */
function partPairs(m: FlatMesh, suits: (v: number) => number): number {
  let changed = 0;
  for (const i of m.live()) {
    const one = m.polygons[i];
    if (one?.length !== 4 || m.locked.has(i)) continue;
    for (let k = 0; k < 4; k++) {
      const [u, v] = [one[k]!, one[(k + 1) % 4]!];
      const j = m.beside(i, u, v);
      const two = m.polygons[j];
      if (j < 0 || two?.length !== 4 || m.locked.has(j)) continue;
      const at = two.indexOf(u);
      // Round both: from v over the first to u, from u over the second back to v.
      const ring = [v, one[(k + 2) % 4]!, one[(k + 3) % 4]!, u, two[(at + 1) % 4]!, two[(at + 2) % 4]!];
      if (new Set(ring).size < 6) continue;
      const chord = (c: number) => [0, 3].map((s) => [0, 1, 2, 3].map((d) => ring[(c + s + d) % 6]!));
      const counts = ring.map((x, n) => m.at(x).size - (n % 3 === 0 ? 1 : 0));
      const cost = (c: number) =>
        chord(c).reduce((s, p) => s + badnessOf(m.points, p), 0) +
        POLE * ring.reduce((s, x, n) => s + (counts[n]! + (n % 3 === c ? 1 : 0) - suits(x)) ** 2, 0);
      const now = cost(0);
      const best = [1, 2].reduce((a, b) => (cost(b) < cost(a) ? b : a));
      if (cost(best) > now - GAIN) continue;
      m.remove(i);
      m.remove(j);
      for (const p of chord(best)) m.polygon(p);
      changed++;
      break;
    }
  }
  return changed;
}

/** A free point between two quads alone goes: the two are one. */
function dropDoublets(m: FlatMesh): number {
  let changed = 0;
  for (let v = 0; v < m.points.length; v++) {
    if (m.holds[v] !== 'free' || m.at(v).size !== 2) continue;
    const [i, j] = [...m.at(v)] as [number, number];
    const [one, two] = [m.polygons[i]!, m.polygons[j]!];
    if (one.length !== 4 || two.length !== 4 || m.locked.has(i) || m.locked.has(j)) continue;
    const k = one.indexOf(v);
    const far = two[(two.indexOf(v) + 2) % 4]!;
    const quad = [one[(k + 1) % 4]!, one[(k + 2) % 4]!, one[(k + 3) % 4]!, far];
    if (new Set(quad).size < 4 || badnessOf(m.points, quad) > badnessOf(m.points, one) + badnessOf(m.points, two))
      continue;
    m.remove(i);
    m.remove(j);
    m.polygon(quad);
    changed++;
  }
  return changed;
}
