import {
  checkCancelled,
  closestOnTriangle,
  sizeOf,
  SpatialIndex,
  triangulateFace,
  type OpContext,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../mesh/index.ts';
import { changedSurface } from './changed.ts';

/** The vertex of one mesh that is furthest from the other, mm. */
export interface Furthest {
  distance: number;
  point: [number, number, number];
}

/** Steps between two checks of the signal. */
const ASK_EVERY = 4096;

/**
 * How far the vertices of a mesh get from the surface of another: the greatest distance, mm, and where. One way only:
 * what the other has beside it is found the other way round. Null where either has no faces.
 */
export function furthestVertex(from: PolyMesh, to: PolyMesh, ctx?: OpContext): Furthest | null {
  if (!from.corners.length || !to.corners.length) return null;
  const index = new SpatialIndex(to);
  const P = from.positions;
  let best: Furthest = { distance: 0, point: [P[0]!, P[1]!, P[2]!] };
  for (let v = 0; v < P.length / 3; v++) {
    if (v % ASK_EVERY === 0) checkCancelled(ctx);
    const p: [number, number, number] = [...vertexPlace(from, v)];
    const d = index.closest(p)!.distance;
    if (d > best.distance) best = { distance: d, point: p };
  }
  return best;
}

/** How far two surfaces get from each other. */
export interface Drift extends Furthest {
  /** Whether the search was ended before it was sure: there may be a place that is further. */
  atLeast: boolean;
}

/** Less drift than this share of the size counts as none. */
const NO_DRIFT = 1e-9;
/**
 * The search is sure when nothing can be further by more than this share of the size, or of what was found; it ends
 * after so many steps each way.
 */
const SURE_OF_MOST = 1e-6;
const CLOSE = 1e-4;
/** After so many pieces the drift is reported as "at least": bounds the work where surfaces differ everywhere. */
const MOST_LOOKS = 8000;

/**
 * The greatest distance between two surfaces, both ways, mm, and where; null where one of them is empty. Faces that
 * both have, and flats that they only cut otherwise, are left out. Triangles are halved as long as something in them
 * may be further than what was found: the distance from one triangle of the other surface, which is convex and so
 * greatest at a corner, tells how far at most. Source: the branch and bound of Guthe, Borodin and Klein, "Fast and
 * accurate Hausdorff distance calculation between meshes", 2005.
 */
export function surfaceDrift(before: PolyMesh, after: PolyMesh, ctx?: OpContext): Drift | null {
  if (!before.corners.length || !after.corners.length) return null;
  const size = Math.max(sizeOf(before), sizeOf(after));
  const changed = changedSurface(before, after);
  const one = furthest(before, changed.before, after, size, ctx);
  const two = furthest(after, changed.after, before, size, ctx);
  const best = one.distance >= two.distance ? one : two;
  const none = best.distance <= NO_DRIFT * size;
  return { distance: none ? 0 : best.distance, point: best.point, atLeast: one.atLeast || two.atLeast };
}

/** A place of the one surface, how far the other is from it, and which triangle of that is nearest. */
interface Probe {
  at: Vec3;
  distance: number;
  near: number;
}
type Probes = readonly [Probe, Probe, Probe];

function furthest(from: PolyMesh, faces: readonly number[], to: PolyMesh, size: number, ctx?: OpContext): Drift {
  const P = from.positions;
  let best: Drift = { distance: 0, point: [P[0]!, P[1]!, P[2]!], atLeast: false };
  if (!faces.length) return best;
  const index = new SpatialIndex(to);
  let looks = 0;
  const probe = (at: Vec3): Probe => {
    if (looks++ % ASK_EVERY === 0) checkCancelled(ctx);
    const { distance, triangle } = index.closest(at)!;
    if (distance > best.distance) best = { ...best, distance, point: [...at] };
    return { at, distance, near: triangle };
  };
  /** How far something of a triangle may be at most: from one triangle, which is convex, it is furthest at a corner. */
  const mostOf = (corners: Probes): number => {
    const nears = new Set(corners.map((c) => c.near));
    let most = Infinity;
    for (const near of nears) {
      const [a, b, c] = index.corners(near);
      let far = 0;
      for (const { at, near: own, distance } of corners) {
        if (own === near) far = Math.max(far, distance);
        else {
          const r = closestOnTriangle(at, a, b, c);
          far = Math.max(far, Math.hypot(at[0] - r[0], at[1] - r[1], at[2] - r[2]));
        }
      }
      most = Math.min(most, far);
    }
    return most;
  };
  const known = new Map<number, Probe>();
  const vertex = (c: number): Probe => {
    const v = from.corners[c]!;
    const there = known.get(v);
    if (there) return there;
    const made = probe([...vertexPlace(from, v)]);
    known.set(v, made);
    return made;
  };
  // The most promising first: a large value found soon rules out most of the rest.
  const waiting = new Waiting<Probes>();
  const wait = (corners: Probes) => waiting.put(corners, mostOf(corners));
  for (const f of faces) {
    const t = triangulateFace(from, f);
    for (let i = 0; i < t.length; i += 3) wait([vertex(t[i]!), vertex(t[i + 1]!), vertex(t[i + 2]!)]);
  }
  for (let next = waiting.take(); next; next = waiting.take()) {
    const { what: corners, rank } = next;
    if (rank <= best.distance + Math.max(SURE_OF_MOST * size, CLOSE * best.distance)) return best;
    if (looks > MOST_LOOKS) return { ...best, atLeast: true };
    const mid = ({ at: p }: Probe, { at: q }: Probe): Probe =>
      probe([(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2]);
    const [a, b, c] = corners;
    const [ab, bc, ca] = [mid(a, b), mid(b, c), mid(c, a)];
    for (const part of [
      [a, ab, ca],
      [ab, b, bc],
      [ca, bc, c],
      [ab, bc, ca],
    ] as const)
      wait(part);
  }
  return best;
}

/** A priority queue, the greatest rank first: a binary heap. */
class Waiting<T> {
  private readonly list: { what: T; rank: number }[] = [];

  put(what: T, rank: number): void {
    const { list } = this;
    let i = list.push({ what, rank }) - 1;
    for (let up = (i - 1) >> 1; i > 0 && list[up]!.rank < rank; i = up, up = (i - 1) >> 1)
      [list[i], list[up]] = [list[up]!, list[i]!];
  }

  take(): { what: T; rank: number } | undefined {
    const { list } = this;
    const first = list[0];
    const last = list.pop();
    if (!list.length) return first;
    list[0] = last!;
    for (let i = 0; ;) {
      let most = i;
      for (const k of [2 * i + 1, 2 * i + 2]) if (k < list.length && list[k]!.rank > list[most]!.rank) most = k;
      if (most === i) return first;
      [list[i], list[most]] = [list[most]!, list[i]!];
      i = most;
    }
  }
}
