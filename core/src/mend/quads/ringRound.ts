import { offSegment, type Flat } from '../../mesh/index.ts';
import { apart, cornerAngle, crosses, edgesOf, type FlatMesh } from './flatMesh.ts';

/** A ring takes at most this share of the room that its outline has. */
const ROOM = 0.4;
/** Neighbours' widths differ by at most this share of the edge between them. */
const GRADE = 0.35;
/** Angles that the quads of a ring may have, degrees. */
const [LEAST, MOST] = [15, 170];
/** A ring that does not fit is tried narrower so many times, by this factor each. */
const TRIES = 4;
const NARROWER = 0.6;

/**
 * Lays a ring of quads round one loop, on its left: one for each edge, as wide as the edges are long where there is room. The inner side of the ring, in
 * the order of the loop, for the rest to be filled up to; null where there is no room for it.
 */
export function ringRound(m: FlatMesh, loops: readonly (readonly number[])[], which: number): number[] | null {
  const loop = loops[which]!;
  const n = loop.length;
  const P = m.places(loop);
  const next = (i: number) => P[(i + 1) % n]!;
  const mean = P.reduce((s, p, i) => s + apart(p, next(i)), 0) / n;
  const edges = edgesOf(loops);
  const others = edgesOf(loops.filter((_, k) => k !== which)); // prettier-ignore
  const ways: Flat[] = [];
  const widths: number[] = [];
  for (let i = 0; i < n; i++) {
    const [a, b, c] = [P[(i + n - 1) % n]!, P[i]!, next(i)];
    const [l, k] = [apart(a, b), apart(b, c)];
    const normal: Flat = [-(b[1] - a[1]) / l, (b[0] - a[0]) / l];
    const sum: Flat = [normal[0] - (c[1] - b[1]) / k, normal[1] + (c[0] - b[0]) / k];
    const length = Math.hypot(...sum);
    // The outline turns back on itself here.
    if (!(length > 0.2)) return null;
    const way: Flat = [sum[0] / length, sum[1] / length];
    const lean = Math.max(0.5, way[0] * normal[0] + way[1] * normal[1]);
    ways.push([way[0] / lean, way[1] / lean]);
    widths.push(Math.min(mean, ROOM * clearance(m, edges, others, loop[i]!, b, way, mean)));
  }
  for (let round = 0; round < n; round++) {
    let changed = false;
    for (let i = 0; i < n; i++)
      for (const j of [(i + 1) % n, (i + n - 1) % n]) {
        const most = widths[j]! + GRADE * apart(P[i]!, P[j]!);
        if (widths[i]! > most * (1 + 1e-9)) {
          widths[i] = most;
          changed = true;
        }
      }
    if (!changed) break;
  }
  for (let t = 0; t < TRIES; t++) {
    const R = P.map((p, i): Flat => [p[0] + ways[i]![0] * widths[i]!, p[1] + ways[i]![1] * widths[i]!]);
    if (fits(m, P, R, others)) {
      const inner = R.map((p) => m.point(p, 'free'));
      for (let i = 0; i < n; i++) m.locked.add(m.polygon([loop[i]!, loop[(i + 1) % n]!, inner[(i + 1) % n]!, inner[i]!])); // prettier-ignore
      return inner;
    }
    widths.forEach((w, i) => (widths[i] = NARROWER * w));
  }
  return null;
}

/** How far it is from a vertex to the next outline, along a way and all round to other loops. */
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

/** Whether the quads of a ring are sound and meet nothing. */
function fits(
  m: FlatMesh,
  P: readonly Flat[],
  R: readonly Flat[],
  others: readonly (readonly [number, number])[],
): boolean {
  const n = P.length;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const quad = [P[i]!, P[j]!, R[j]!, R[i]!];
    for (let k = 0; k < 4; k++) {
      const angle = cornerAngle(quad[(k + 3) % 4]!, quad[k]!, quad[(k + 1) % 4]!);
      if (angle < LEAST || angle > MOST) return false;
    }
    for (const [u, v] of others) if ([R[j]!, P[i]!].some((q) => crosses(R[i]!, q, m.points[u]!, m.points[v]!))) return false; // prettier-ignore
    for (let k = i + 2; k < n; k++) if (!(i === 0 && k === n - 1) && crosses(R[i]!, R[j]!, R[k]!, R[(k + 1) % n]!)) return false; // prettier-ignore
  }
  return true;
}
