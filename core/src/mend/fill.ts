import {
  faceCount,
  meshFromFaces,
  MasonError,
  topologyOf,
  triangulateFace,
  type PolyMesh,
  type Vec3,
  type OpResult,
} from '../mesh/index.ts';
import { edgeAt } from './elements.ts';
import { openings } from './fillOpenings.ts';
import { corner, MeshEdit } from './meshEdit.ts';
import { middleOf } from './merge.ts';
import type { EdgesOptions } from './operands.ts';

/** How an opening is filled: by one face, triangles round a middle, triangles without one, or an even grid of quads. */
export const FILLS = ['face', 'fan', 'ears', 'grid'] as const;
export type FillWay = (typeof FILLS)[number];

export interface FillOptions extends EdgesOptions {
  way?: FillWay;
  /**
   * Of a grid: how many quads along its first side, 0 for what suits the corners; and by how many vertices its first
   * corner is moved on.
   */
  across?: number;
  shift?: number;
  /** The course that new faces are marked with; 0 for none. */
  course?: number;
}

/** The openings that some edges belong to, each a run of corners beside it. */
function openingsAt(m: PolyMesh, edges: Iterable<number>): number[][] {
  const wanted = new Set(edges);
  return openings(m).filter((run) => run.length > 2 && run.some((c) => wanted.has(edgeAt(m, c))));
}

export interface FillReport {
  /** Openings that were filled, and the faces that fill them. */
  filled: number;
  faces: number;
}

/** Defaults of the options. */
export const FILL_DEFAULTS: Required<Pick<FillOptions, 'way' | 'across' | 'shift' | 'course'>> = {
  way: 'face',
  across: 0,
  shift: 0,
  course: 0,
};

/**
 * Fills every opening that one of some edges belongs to. New faces take after a face beside them. How many openings
 * were filled.
 *
 * @example
 * const { mesh: open } = deleteFaces(box(10, 10, 10), { faces: [0] });
 * const { mesh } = fill(open, { edges: elementsOf(open, 'edge'), way: 'face' });
 */
export function fill(m: PolyMesh, options: FillOptions): OpResult<FillReport> {
  const { edges, course, ...how } = { ...FILL_DEFAULTS, ...options };
  const t = topologyOf(m);
  const runs = openingsAt(m, edges);
  const e = new MeshEdit(m);
  let faces = 0;
  for (const run of runs) {
    const like = t.face[run[0]!]!;
    // Against the faces beside it.
    const ring = run.map((c) => m.corners[c]!).reverse();
    for (const loop of filling(e, ring, how)) {
      e.add(like, [loop.map((v) => corner(v))]);
      faces++;
    }
  }
  return { mesh: e.done(course), report: { filled: runs.length, faces } };
}

/** The faces that fill a ring of vertices. */
function filling(
  e: MeshEdit,
  ring: readonly number[],
  { way, across, shift }: Omit<typeof FILL_DEFAULTS, 'course'>,
): number[][] {
  const n = ring.length;
  if (way === 'face' || n === 3) return [[...ring]];
  if (way === 'fan') {
    const top = e.vertex(middleOf(ring.map((v) => e.at(v))));
    return ring.map((v, i) => [v, ring[(i + 1) % n]!, top]);
  }
  if (way === 'ears') {
    const flat = meshFromFaces(
      ring.flatMap((v) => [...e.at(v)]),
      [ring.map((_, i) => i)],
    );
    const t = triangulateFace(flat, 0);
    return Array.from({ length: t.length / 3 }, (_, i) => [0, 1, 2].map((k) => ring[flat.corners[t[3 * i + k]!]!]!));
  }
  return gridOver(e, ring, across, shift);
}

/**
 * An even grid of quads over a ring of an even number of vertices: between opposite sides, by Coons's patch (1967).
 * Throws `bad-input` for an odd number.
 */
function gridOver(e: MeshEdit, ring: readonly number[], across: number, shift: number): number[][] {
  const n = ring.length;
  if (n % 2)
    throw new MasonError(
      'bad-input',
      `A grid needs an even number of edges round it; there are ${n}. Split one of them, or fill it otherwise.`,
    );
  const corners = sharpest(e, ring, Math.min(across, n / 2 - 1));
  const a = corners.along;
  const b = n / 2 - a;
  const at = (i: number) => ring[(((corners.first + shift + i) % n) + n) % n]!;
  const bottom = (i: number) => at(i);
  const right = (j: number) => at(a + j);
  const top = (i: number) => at(2 * a + b - i);
  const left = (j: number) => at(-j);
  const inner = new Map<string, number>();
  const vertex = (i: number, j: number): number => {
    if (j === 0) return bottom(i);
    if (j === b) return top(i);
    if (i === 0) return left(j);
    if (i === a) return right(j);
    const name = `${i},${j}`;
    const known = inner.get(name);
    if (known !== undefined) return known;
    const [u, v] = [i / a, j / b];
    const p = ([0, 1, 2] as const).map((k) => {
      const x = (w: number) => e.at(w)[k];
      const sides = (1 - v) * x(bottom(i)) + v * x(top(i)) + (1 - u) * x(left(j)) + u * x(right(j));
      const ends =
        (1 - u) * (1 - v) * x(bottom(0)) + u * (1 - v) * x(bottom(a)) + (1 - u) * v * x(top(0)) + u * v * x(top(a));
      return sides - ends;
    }) as unknown as Vec3;
    const made = e.vertex(p);
    inner.set(name, made);
    return made;
  };
  const out: number[][] = [];
  for (let j = 0; j < b; j++)
    for (let i = 0; i < a; i++) out.push([vertex(i, j), vertex(i + 1, j), vertex(i + 1, j + 1), vertex(i, j + 1)]);
  return out;
}

/**
 * Where a ring turns most, and how many edges its first side has, if not as many as asked for, so that opposite sides
 * have as many and the corners lie where it turns.
 */
function sharpest(e: MeshEdit, ring: readonly number[], across: number): { first: number; along: number } {
  const n = ring.length;
  const turn = ring.map((v, i) => {
    const [p, q, r] = [e.at(ring[(i + n - 1) % n]!), e.at(v), e.at(ring[(i + 1) % n]!)];
    const [u, w] = [
      [q[0] - p[0], q[1] - p[1], q[2] - p[2]],
      [r[0] - q[0], r[1] - q[1], r[2] - q[2]],
    ] as const;
    const cos = (u[0] * w[0] + u[1] * w[1] + u[2] * w[2]) / (Math.hypot(...u) * Math.hypot(...w) || 1);
    return Math.acos(Math.max(-1, Math.min(1, cos)));
  });
  const [least, most] = across > 0 ? [across, across] : [1, n / 2 - 1];
  let best = { first: 0, along: least, sum: -Infinity };
  for (let first = 0; first < n / 2; first++)
    for (let along = least; along <= most; along++) {
      const sum =
        [0, along, n / 2, n / 2 + along].reduce((s, k) => s + turn[(first + k) % n]!, 0) -
        1e-3 * Math.abs(along - n / 4);
      if (sum > best.sum + 1e-9) best = { first, along, sum };
    }
  return best;
}

/** Vertices of a closed run, in the order in which the faces beside it pass them. */
type Run = readonly number[];

export interface BridgeOptions extends EdgesOptions {
  /** Quads from one loop to the other. */
  segments?: number;
  /** By how many vertices the second loop is turned against the nearest fit. */
  twist?: number;
  /** How far its middle stands out of the straight way, away from the middle of both loops, mm. */
  bulge?: number;
  /** The course that new faces are marked with; 0 for none. */
  course?: number;
}

export interface BridgeReport {
  faces: number;
}

/** Defaults of the options. */
export const BRIDGE_DEFAULTS: Required<Pick<BridgeOptions, 'segments' | 'twist' | 'bulge' | 'course'>> = {
  segments: 1,
  twist: 0,
  bulge: 0,
  course: 0,
};

/**
 * Bridges two openings that some edges belong to. Loops of as many edges are joined by quads; else by triangles where
 * one has more, evenly along their lengths. Throws `bad-input` unless there are two.
 *
 * @example
 * const { mesh: open } = deleteFaces(box(10, 10, 10), { faces: [0, 1] });
 * const rims = elementsOf(open, 'edge').filter((c) => topologyOf(open).opposite[c]! < 0);
 * const { mesh } = bridge(open, { edges: rims, segments: 2 });
 */
export function bridge(m: PolyMesh, options: BridgeOptions): OpResult<BridgeReport> {
  const { edges, course, ...how } = { ...BRIDGE_DEFAULTS, ...options };
  const t = topologyOf(m);
  const runs = openingsAt(m, edges);
  if (runs.length !== 2)
    throw new MasonError(
      'bad-input',
      `A bridge joins two open loops (${runs.length} picked). Pick an open edge of each.`,
    );
  const e = new MeshEdit(m);
  const [first, second] = runs as [number[], number[]];
  const like = t.face[first[0]!]!;
  const a = first.map((c) => m.corners[c]!);
  const b = aligned(e, a, second.map((c) => m.corners[c]!).reverse(), how.twist);
  const faces = between(e, a, b, how);
  for (const loop of faces) e.add(like, [loop.map((v) => corner(v))]);
  return { mesh: e.done(course), report: { faces: faces.length } };
}

/** A ring turned so that it lies nearest to another one, and then by some vertices. */
function aligned(e: MeshEdit, a: Run, b: Run, twist: number): number[] {
  let [best, least] = [0, Infinity];
  for (let shift = 0; shift < b.length; shift++) {
    let sum = 0;
    a.forEach((v, i) => {
      const [p, q] = [e.at(v), e.at(b[(shift + Math.round((i * b.length) / a.length)) % b.length]!)];
      sum += (p[0] - q[0]) ** 2 + (p[1] - q[1]) ** 2 + (p[2] - q[2]) ** 2;
    });
    if (sum < least * (1 - 1e-12)) [best, least] = [shift, sum];
  }
  const from = (((best + twist) % b.length) + b.length) % b.length;
  return [...b.slice(from), ...b.slice(0, from)];
}

/** Shares of the length of a closed run at its vertices, and 1 at its end. */
function shares(e: MeshEdit, run: Run): number[] {
  const out = [0];
  run.forEach((v, i) => {
    const [p, q] = [e.at(v), e.at(run[(i + 1) % run.length]!)];
    out.push(out[i]! + Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]));
  });
  return out.map((x) => x / (out.at(-1)! || 1));
}

function between(e: MeshEdit, a: Run, b: Run, { segments, bulge }: { segments: number; bulge: number }): number[][] {
  const equal = a.length === b.length;
  const [s, t] = [shares(e, a), shares(e, b)];
  // Rails from one loop to the other: pairs of places in them, each one step on in the first, the second, or both.
  const pairs: [number, number][] = [[0, 0]];
  for (let [i, j] = [0, 0]; i < a.length || j < b.length;) {
    if (equal) [i, j] = [i + 1, j + 1];
    else if (j === b.length || (i < a.length && s[i + 1]! < t[j + 1]! - 1e-9)) i++;
    else if (i === a.length || t[j + 1]! < s[i + 1]! - 1e-9) j++;
    else [i, j] = [i + 1, j + 1];
    pairs.push([i, j]);
  }
  const middle = middleOf([...a, ...b].map((v) => e.at(v)));
  const rail = ([i, j]: [number, number]): number[] => {
    const [v, w] = [a[i % a.length]!, b[j % b.length]!];
    const [p, q] = [e.at(v), e.at(w)];
    const mid = [0, 1, 2].map((k) => (p[k]! + q[k]!) / 2 - middle[k]!);
    const long = Math.hypot(...mid) || 1;
    const inner = Array.from({ length: segments - 1 }, (_, k) => {
      const x = (k + 1) / segments;
      const out = (bulge * 4 * x * (1 - x)) / long;
      return e.vertex([0, 1, 2].map((c) => p[c]! + x * (q[c]! - p[c]!) + out * mid[c]!) as unknown as Vec3);
    });
    return [v, ...inner, w];
  };
  const rails = pairs.slice(0, -1).map(rail);
  const faces: number[][] = [];
  rails.forEach((now, r) => {
    const next = rails[(r + 1) % rails.length]!;
    for (let k = 0; k < segments; k++) {
      const loop = [next[k]!, now[k]!, now[k + 1]!, next[k + 1]!];
      const clean = loop.filter((v, i) => v !== loop[(i + 1) % 4]);
      if (clean.length > 2) faces.push(clean);
    }
  });
  return faces;
}

export interface OpenAtOptions {
  faces: ReadonlySet<number>;
}

export interface OpenAtReport {
  /** The edges that were opened, each named by one of its corners. */
  edges: number[];
}

/**
 * The border of some faces as picked edges of the mesh without them: what is bridged when faces are picked.
 *
 * @example
 * const { mesh, report } = openedAt(box(10, 10, 10), { faces: new Set([0]) });
 */
export function openedAt(m: PolyMesh, { faces }: OpenAtOptions): OpResult<OpenAtReport> {
  const t = topologyOf(m);
  const e = new MeshEdit(m);
  const kept: number[] = [];
  let at = 0;
  for (let f = 0; f < faceCount(m); f++) {
    const [begin, end] = [m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!];
    if (faces.has(f)) {
      e.remove(f);
      continue;
    }
    for (let c = begin; c < end; c++, at++)
      if (t.opposite[c]! >= 0 && faces.has(t.face[t.opposite[c]!]!)) kept.push(at);
  }
  const mesh = e.done();
  const after = topologyOf(mesh);
  return { mesh, report: { edges: kept.map((c) => after.edgeCorner[after.edge[c]!]!) } };
}
