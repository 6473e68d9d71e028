import { offSegment, type Flat } from '../../mesh/index.ts';
import { apart, cornerAngle, crosses, edgesOf, type FlatMesh } from './flatMesh.ts';

/** A ring takes at most this share of the room that its boundary has. */
const ROOM = 0.4;
/** Neighbours' widths differ by at most this share of the edge between them. */
const WIDTH_GRADE = 0.35;
/** Angles that the quads of a ring may have, degrees. */
const [LEAST_ANGLE, MOST_ANGLE] = [15, 170];
/** A ring that does not fit is tried narrower so many times, by this factor each. */
const RING_TRIES = 4;
const NARROWER = 0.6;

/**
 * Lays a ring of quads round one loop, on its left: one for each edge, as wide as the edges are long where there is
 * room. The inner side of the ring, in the order of the loop, for the rest to be filled up to; null where there is no
 * room for it.
 */
export function ringRound(m: FlatMesh, loops: readonly (readonly number[])[], which: number): number[] | null {
  const n = loops[which]!.length;
  return bandBeside(m, loops, which, [...Array(n).keys()], true);
}

/** Angles within the boundary from which on, and up to which, vertices are those of an inward bend, degrees. */
const [BEND_FROM, BEND_TO] = [181, 226];

/**
 * Lays a band of quads beside each rounded inward bend of a loop, so that every vertex of it has a spoke; the loop then
 * runs out along the first spoke, beside the band, and back along the last.
 */
export function bandsAlong(m: FlatMesh, loops: readonly (readonly number[])[], which: number): number[] {
  const loop = loops[which]!;
  const n = loop.length;
  const bends = loop.map((v, i) => {
    const angle = cornerAngle(m.points[loop[(i + n - 1) % n]!]!, m.points[v]!, m.points[loop[(i + 1) % n]!]!);
    return angle > BEND_FROM && angle < BEND_TO;
  });
  const start = bends.indexOf(false);
  if (start < 0) return [...loop];
  const out: number[] = [];
  let run: number[] = [];
  const close = () => {
    const inner = run.length > 1 ? bandBeside(m, loops, which, run, false) : null;
    const own = run.map((i) => loop[i]!);
    out.push(...(inner ? [own[0]!, ...inner, own.at(-1)!] : own));
    run = [];
  };
  for (let k = 0; k < n; k++) {
    const i = (start + k) % n;
    if (bends[i]) run.push(i);
    else {
      close();
      out.push(loop[i]!);
    }
  }
  close();
  return out;
}

/**
 * A band of quads on the left of a run of a loop, given by its places; its inner side, or null where there is no
 * room.
 */
function bandBeside(
  m: FlatMesh,
  loops: readonly (readonly number[])[],
  which: number,
  run: readonly number[],
  closed: boolean,
): number[] | null {
  const loop = loops[which]!;
  const n = loop.length;
  const count = run.length;
  const at = (i: number): Flat => m.points[loop[(i + n) % n]!]!;
  const P = run.map(at);
  const steps = closed ? count : count - 1;
  const mean =
    Array.from({ length: steps }, (_, i) => apart(P[i]!, P[(i + 1) % count]!)).reduce((s, x) => s + x, 0) / steps;
  const edges = edgesOf(loops);
  const others = edgesOf(loops.filter((_, k) => k !== which));
  const ways: Flat[] = [];
  const widths: number[] = [];
  for (const i of run) {
    const [a, b, c] = [at(i - 1), at(i), at(i + 1)];
    const [l, k] = [apart(a, b), apart(b, c)];
    const normal: Flat = [-(b[1] - a[1]) / l, (b[0] - a[0]) / l];
    const sum: Flat = [normal[0] - (c[1] - b[1]) / k, normal[1] + (c[0] - b[0]) / k];
    const length = Math.hypot(...sum);
    // The boundary turns back on itself here.
    if (!(length > 0.2)) return null;
    const way: Flat = [sum[0] / length, sum[1] / length];
    const lean = Math.max(0.5, way[0] * normal[0] + way[1] * normal[1]);
    ways.push([way[0] / lean, way[1] / lean]);
    widths.push(Math.min(mean, ROOM * clearance(m, edges, others, loop[i]!, b, way, mean)));
  }
  const beside = (i: number) =>
    closed ? [(i + 1) % count, (i + count - 1) % count] : [i + 1, i - 1].filter((j) => j >= 0 && j < count);
  for (let round = 0; round < count; round++) {
    let changed = false;
    for (let i = 0; i < count; i++)
      for (const j of beside(i)) {
        const most = widths[j]! + WIDTH_GRADE * apart(P[i]!, P[j]!);
        if (widths[i]! > most * (1 + 1e-9)) {
          widths[i] = most;
          changed = true;
        }
      }
    if (!changed) break;
  }
  // Of a band that ends, the rest of its own loop is in the way, too.
  const own = new Set(run.map((i) => loop[i]!));
  const rest = closed ? others : edges.filter(([u, v]) => !own.has(u) && !own.has(v));
  for (let t = 0; t < RING_TRIES; t++) {
    const R = P.map((p, i): Flat => [p[0] + ways[i]![0] * widths[i]!, p[1] + ways[i]![1] * widths[i]!]);
    if (fits(m, P, R, rest, steps)) {
      const inner = R.map((p) => m.point(p, 'free'));
      for (let i = 0; i < steps; i++) {
        const j = (i + 1) % count;
        m.locked.add(m.polygon([loop[run[i]!]!, loop[run[j]!]!, inner[j]!, inner[i]!]));
      }
      return inner;
    }
    widths.forEach((w, i) => (widths[i] = NARROWER * w));
  }
  return null;
}

/** How far it is from a vertex to the next boundary, along a way and all round to other loops. */
function clearance(
  m: FlatMesh,
  edges: readonly (readonly [number, number])[],
  others: readonly (readonly [number, number])[],
  vertex: number,
  p: Flat,
  way: Flat,
  scale: number,
): number {
  const far: Flat = [p[0] + 1e3 * scale * way[0], p[1] + 1e3 * scale * way[1]];
  const side = (a: Flat, b: Flat, q: Flat) => (b[0] - a[0]) * (q[1] - a[1]) - (q[0] - a[0]) * (b[1] - a[1]);
  let least = Infinity;
  for (const [u, v] of edges) {
    const [a, b] = [m.points[u]!, m.points[v]!];
    if (u === vertex || v === vertex || !crosses(p, far, a, b)) continue;
    const [s, t] = [side(a, b, p), side(a, b, far)];
    least = Math.min(least, (s / (s - t)) * 1e3 * scale);
  }
  for (const [u, v] of others) least = Math.min(least, offSegment(p, m.points[u]!, m.points[v]!));
  return least;
}

/** Whether the quads of a band are sound and meet nothing. */
function fits(
  m: FlatMesh,
  P: readonly Flat[],
  R: readonly Flat[],
  others: readonly (readonly [number, number])[],
  steps: number,
): boolean {
  const n = P.length;
  for (let i = 0; i < steps; i++) {
    const j = (i + 1) % n;
    const quad = [P[i]!, P[j]!, R[j]!, R[i]!];
    for (let k = 0; k < 4; k++) {
      const angle = cornerAngle(quad[(k + 3) % 4]!, quad[k]!, quad[(k + 1) % 4]!);
      if (angle < LEAST_ANGLE || angle > MOST_ANGLE) return false;
    }
    for (const [u, v] of others)
      if ([R[j]!, P[i]!].some((q) => crosses(R[i]!, q, m.points[u]!, m.points[v]!))) return false;
    for (let k = i + 2; k < steps; k++)
      if (!(i === 0 && k === n - 1) && crosses(R[i]!, R[j]!, R[k]!, R[(k + 1) % n]!)) return false;
  }
  return true;
}
