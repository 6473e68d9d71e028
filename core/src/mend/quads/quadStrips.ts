import { offSegment, type Flat, type PolyMesh, type Topology } from '../../mesh/index.ts';
import { apart, cornerAngle, ringArea, towards } from './flatMesh.ts';

// A split of an edge runs on through plain quads, from edge to edge across them, until a face that is laid out anew or
// an open edge: all edges of such a strip are split alike.

/** No edge is split into more parts than this to improve shapes. */
const MOST_PARTS = 16;
/**
 * An edge of a narrow face that would have to be split in more parts than this stays whole: equal parts do not suit it.
 */
const MOST_NARROW = 6;
/** An edge that is so many times longer than the side of a square as large as the face makes it narrow. */
const NARROW = 2;

/** Edges that are split together. */
export interface Strip {
  edges: number[];
  /** Faces that are laid out anew and have an edge of it, as often as they have one. */
  ends: number[];
  /** Whether it ends at an open edge. */
  open: boolean;
  /** Whether it may be split at all: not where it ends at a face that stays as it is. */
  free: boolean;
  /** Whether one of its edges is part of a rounded boundary: those are split only where nothing else helps. */
  round: boolean;
  parts: number;
  /** Whether that number was tried out and is the best one: it is not made even. */
  tried: boolean;
}

/** What becomes of each face: laid out anew, split as the quad that it is, or left as it is. */
export type FaceRole = 'anew' | 'quad' | 'stays';

/** The strips of a mesh, and the strip of each edge. */
export function stripsOf(
  m: PolyMesh,
  t: Topology,
  role: (f: number) => FaceRole,
  isRound: (edge: number) => boolean,
): { strips: Strip[]; of: Int32Array } {
  const root = Int32Array.from({ length: t.edgeCount }, (_, e) => e);
  const find = (e: number): number => {
    while (root[e] !== e) e = root[e] = root[root[e]!]!;
    return e;
  };
  for (let f = 0; f + 1 < m.faceLoops.length; f++) {
    if (role(f) !== 'quad') continue;
    const c = m.loopStart[m.faceLoops[f]!]!;
    for (const k of [0, 1]) root[find(t.edge[c + k]!)] = find(t.edge[c + k + 2]!);
  }
  const strips: Strip[] = [];
  const of = new Int32Array(t.edgeCount).fill(-1);
  for (let e = 0; e < t.edgeCount; e++) {
    const r = find(e);
    if (of[r]! < 0)
      of[r] = strips.push({ edges: [], ends: [], open: false, free: true, round: false, parts: 1, tried: false }) - 1;
    const strip = strips[(of[e] = of[r]!)]!;
    strip.edges.push(e);
    strip.round ||= isRound(e);
    const first = t.edgeCorner[e]!;
    let count = 0;
    for (let c = first; ; c = t.sameEdge[c]!) {
      count++;
      const f = t.face[c]!;
      if (role(f) === 'anew') strip.ends.push(f);
      else if (role(f) === 'stays') strip.free = false;
      if (t.sameEdge[c] === first) break;
    }
    if (count === 1) strip.open = true;
    if (count > 2) strip.free = false;
  }
  return { strips, of };
}

/** Places along an edge at which it is looked how much room there is. */
const ROOM_SAMPLES = 10;
/** A place with little room makes no more parts than so many times those that fit on the whole. */
const CROWDED = 1.5;

/**
 * In how many parts each edge of a flat face is best split, by its length and how far off the other edges are; rounded
 * runs stay whole. Edges loop by loop.
 */
export function wantedParts(rings: readonly (readonly Flat[])[]): number[] {
  const edges = rings.flatMap((ring, l) =>
    ring.map((a, i) => ({ a, b: ring[(i + 1) % ring.length]!, l, i, n: ring.length })),
  );
  const side = Math.sqrt(Math.abs(rings.reduce((s, r) => s + ringArea(r), 0)));
  return edges.map((e) => {
    if (isRounded(rings[e.l]!, e.i)) return 1;
    const long = apart(e.a, e.b);
    // As many quads as fit along it where each is as large as there is room: everywhere, and where there is the least.
    let fit = 0;
    let most = 0;
    for (let s = 0; s < ROOM_SAMPLES; s++) {
      const p = towards(e.a, e.b, (s + 0.5) / ROOM_SAMPLES);
      let room = Infinity;
      for (const o of edges) {
        if (o.l === e.l && [0, 1, e.n - 1].includes((o.i - e.i + e.n) % e.n)) continue;
        const d = offSegment(p, o.a, o.b);
        if (d > 1e-9 * long) room = Math.min(room, 1.5 * apart(o.a, o.b) + 0.8 * d);
      }
      fit += long / (1.2 * room) / ROOM_SAMPLES;
      most = Math.max(most, long / (1.2 * room));
    }
    const parts = Math.max(1, Math.round(Math.min(most, CROWDED * fit)));
    return Math.round(most) > MOST_NARROW && long > NARROW * side ? 1 : Math.min(parts, MOST_PARTS);
  });
}

/** Turns between these are those of a rounded run, degrees. */
const [LEAST_TURN, MOST_TURN] = [0.5, 46];

/** Whether an edge of a ring is part of a rounded run: the boundary turns a little at both its ends. */
export function isRounded(ring: readonly Flat[], i: number): boolean {
  const n = ring.length;
  const turn = (k: number) => Math.abs(180 - cornerAngle(ring[(k + n - 1) % n]!, ring[k % n]!, ring[(k + 1) % n]!));
  return [i, i + 1].every((k) => turn(k) > LEAST_TURN && turn(k) < MOST_TURN);
}

/**
 * Splits strips so that every face has an even number of edges, where that can be reached: odd faces are joined in
 * pairs by the least costly way from face to face, or to an open edge, and each strip on the way gets one part more.
 * How many faces stay odd.
 */
export function joinOddFaces(strips: readonly Strip[], count: (f: number) => number, faces: readonly number[]): number {
  /** Stands for the outside, where a strip that ends at a border leads. */
  const OPEN = -1;
  const ways = new Map<number, { to: number; strip: Strip; cost: number }[]>();
  const way = (from: number, to: number, strip: Strip) => {
    const cost = strip.edges.length * (strip.round ? 8 : 1);
    ways.set(from, [...(ways.get(from) ?? []), { to, strip, cost }]);
  };
  for (const strip of strips) {
    const [a, b, ...more] = strip.ends;
    if (!strip.free || a === undefined || more.length) continue;
    if (b === undefined && strip.open) way(a, OPEN, strip);
    else if (b !== undefined && a !== b) {
      way(a, b, strip);
      way(b, a, strip);
    }
  }
  const odd = new Set(faces.filter((f) => count(f) % 2));
  while (odd.size) {
    let best: { cost: number; from: number; to: number; path: Strip[] } | null = null;
    for (const from of odd) {
      const found = nearestOdd(from, odd, ways, OPEN);
      if (found && (!best || found.cost < best.cost)) best = { ...found, from };
    }
    if (!best) break;
    for (const strip of best.path) strip.parts++;
    odd.delete(best.from);
    odd.delete(best.to);
  }
  return odd.size;
}

/** The nearest odd face from one, or an open edge, with the strips on the way. Dijkstra. */
function nearestOdd(
  from: number,
  odd: ReadonlySet<number>,
  ways: ReadonlyMap<number, readonly { to: number; strip: Strip; cost: number }[]>,
  open: number,
): { cost: number; to: number; path: Strip[] } | null {
  const least = new Map([[from, 0]]);
  const came = new Map<number, { from: number; strip: Strip }>();
  const done = new Set<number>();
  for (;;) {
    let at: number | null = null;
    for (const [f, d] of least) if (!done.has(f) && (at === null || d < least.get(at)!)) at = f;
    if (at === null) return null;
    done.add(at);
    if (at !== from && (at === open || odd.has(at))) {
      const path: Strip[] = [];
      for (let f = at; f !== from; f = came.get(f)!.from) path.push(came.get(f)!.strip);
      return { cost: least.get(at)!, to: at, path };
    }
    for (const { to, strip, cost } of ways.get(at) ?? []) {
      const d = least.get(at)! + cost;
      if (d >= (least.get(to) ?? Infinity)) continue;
      least.set(to, d);
      came.set(to, { from: at, strip });
    }
  }
}
