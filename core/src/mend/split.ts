import {
  faceCount,
  insideRing,
  MasonError,
  offSegment,
  partFace,
  segmentsMeet,
  topologyOf,
  type Flat,
  type NewCorner,
  type NewFace,
  type PolyMesh,
  type Vec3,
  type OpResult,
} from '../mesh/index.ts';
import { corner, MeshEdit } from './meshEdit.ts';
import type { EdgesOptions } from './operands.ts';

/**
 * How an edge is split: at a share of its length, at a distance from its lower-numbered end (mm), or in equal parts.
 */
export type SplitAt =
  { by: 'share'; share: number } | { by: 'distance'; distance: number } | { by: 'parts'; parts: number };

/** Shares of an edge's length at which it is split, from its first end on; none where there is no room. */
export function sharesOf(at: SplitAt, length: number): number[] {
  if (at.by === 'parts') return Array.from({ length: Math.max(0, at.parts - 1) }, (_, i) => (i + 1) / at.parts);
  const s = at.by === 'share' ? at.share : at.distance / (length || 1);
  return s > 0 && s < 1 ? [s] : [];
}

/**
 * New vertices put into edges: `places` tells for each edge (by number) the vertices from the lower end of its first
 * corner on. Faces stay as they are otherwise.
 */
export function putIntoEdges(e: MeshEdit, places: ReadonlyMap<number, readonly number[]>): void {
  const { mesh: m, topology: t } = e;
  const touched = new Set<number>();
  for (const edge of places.keys()) {
    const first = t.edgeCorner[edge]!;
    for (let o = first; ; o = t.sameEdge[o]!) {
      touched.add(t.face[o]!);
      if (t.sameEdge[o] === first) break;
    }
  }
  for (const f of touched) {
    const boundaries = e.boundaries(f).map((loop) =>
      loop.flatMap((c): NewCorner[] => {
        const list = places.get(t.edge[c.edge]!);
        if (!list) return [c];
        const forward = m.corners[t.edgeCorner[t.edge[c.edge]!]!] === c.vertex;
        return [c, ...(forward ? list : [...list].reverse()).map((v) => corner(v, c.edge))];
      }),
    );
    e.replace(f, [{ from: f, boundaries }]);
  }
}

export interface SplitEdgesOptions extends EdgesOptions {
  /** Where along each edge. */
  at: SplitAt;
}

export interface SplitEdgesReport {
  /** Vertices that were put in. */
  added: number;
}

/**
 * Splits edges, each from the end that its first corner leaves; how many vertices were added.
 *
 * @example
 * const { mesh } = splitEdges(box(10, 10, 10), { edges: [0], at: { parts: 2 } });
 */
export function splitEdges(m: PolyMesh, { edges: corners, at }: SplitEdgesOptions): OpResult<SplitEdgesReport> {
  const e = new MeshEdit(m);
  const t = topologyOf(m);
  const places = new Map<number, number[]>();
  let added = 0;
  for (const c of corners) {
    const [p, q] = [e.at(m.corners[c]!), e.at(m.corners[t.next[c]!]!)];
    const length = Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);
    const list = sharesOf(at, length).map((s) => e.vertex(between(p, q, s)));
    if (list.length) places.set(t.edge[c]!, list);
    added += list.length;
  }
  putIntoEdges(e, places);
  return { mesh: e.done(), report: { added } };
}

/** A place on the way from p to q. */
export const between = (p: Vec3, q: Vec3, s: number): Vec3 => [
  p[0] + s * (q[0] - p[0]),
  p[1] + s * (q[1] - p[1]),
  p[2] + s * (q[2] - p[2]),
];

/**
 * The corners of a face between which a chord from vertex to vertex runs: of a vertex that the boundaries pass twice
 * the corner whose inside the chord leaves into. Null where the face has no such corners.
 */
export function chordCorners(face: NewFace, places: readonly Flat[], a: number, b: number): [number, number] | null {
  const at: { vertex: number; next: number; prev: number }[] = [];
  for (const loop of face.boundaries) {
    const begin = at.length;
    loop.forEach((c, i) =>
      at.push({
        vertex: c.vertex,
        next: begin + ((i + 1) % loop.length),
        prev: begin + ((i + loop.length - 1) % loop.length),
      }),
    );
  }
  const angle = (i: number, j: number) => Math.atan2(places[j]![1] - places[i]![1], places[j]![0] - places[i]![0]);
  const round = (x: number) => (x + 4 * Math.PI) % (2 * Math.PI);
  const leaves = (i: number, j: number) =>
    round(angle(i, j) - angle(i, at[i]!.next)) < (round(angle(i, at[i]!.prev) - angle(i, at[i]!.next)) || 2 * Math.PI);
  const of = (v: number) => at.flatMap((c, i) => (c.vertex === v ? [i] : []));
  const pairs = of(a).flatMap((i) => of(b).map((j): [number, number] => [i, j]));
  return pairs.find(([i, j]) => leaves(i, j) && leaves(j, i)) ?? (pairs.length === 1 ? pairs[0]! : null);
}

/** Cuts faces in place by chords between their vertices; chords that lie in none of them are reported. */
export function cutFaces(e: MeshEdit, chords: readonly { face: number; from: number; to: number }[]): number {
  const byFace = new Map<number, [number, number][]>();
  for (const { face, from, to } of chords) byFace.set(face, [...(byFace.get(face) ?? []), [from, to]]);
  let cut = 0;
  for (const [f, list] of byFace) {
    const [face, ...more] = e.now(f);
    if (!face || more.length) continue;
    const flat = e.flat(f, face.boundaries.flat());
    const pairs = list.flatMap(([a, b]): [number, number][] => {
      // Along an edge that is there already nothing is to be cut.
      const ends = neighbours(face.boundaries, a, b) ? null : chordCorners(face, flat, a, b);
      return ends ? [ends] : [];
    });
    cut += pairs.length;
    e.replace(f, partFace(face, flat, pairs));
  }
  return cut;
}

/** Two directions that lean by less than this (sine) are one. */
const SAME_WAY = 1e-9;

export interface ConnectOptions {
  /** The vertices that are joined. */
  from: number;
  to: number;
  /** Vertex normals, 3 a vertex: the way between the two is cut along the plane that holds them. */
  normals: Float64Array;
}

export interface ConnectReport {
  /** Vertices that were put in where edges are crossed. */
  added: number;
}

/**
 * Joins two vertices by an edge: across the face that both belong to, else straight across all faces between them, seen
 * along the mean of their normals; edges on the way are split where the line crosses them. Throws `not-done` where
 * there is no such way.
 *
 * @example
 * const m = sheet(20, 20, [2, 2]);
 * const { mesh } = connect(m, { from: 0, to: 4, normals: faceNormals(m) });
 */
export function connect(m: PolyMesh, { from: a, to: b, normals }: ConnectOptions): OpResult<ConnectReport> {
  const e = new MeshEdit(m);
  const t = topologyOf(m);
  const facesOf = (v: number) =>
    new Set([...m.corners.keys()].filter((c) => m.corners[c] === v).map((c) => t.face[c]!));
  const [ours, theirs] = [facesOf(a), facesOf(b)];
  const shared = [...ours].filter((f) => theirs.has(f));
  if (shared.some((f) => neighbours(e.boundaries(f), a, b)))
    throw new MasonError('bad-input', 'These two vertices have an edge between them already.', { vertex: a });
  const face = shared.find((f) => isClear(e, f, a, b));
  if (face !== undefined) {
    cutFaces(e, [{ face, from: a, to: b }]);
    return { mesh: e.done(), report: { added: 0 } };
  }
  const mean = (set: ReadonlySet<number>): Vec3 =>
    [...set].reduce<Vec3>(
      (s, f) => [s[0] + normals[3 * f]!, s[1] + normals[3 * f + 1]!, s[2] + normals[3 * f + 2]!],
      [0, 0, 0],
    );
  const [n, k] = [mean(ours), mean(theirs)];
  const up: Vec3 = [n[0] + k[0], n[1] + k[1], n[2] + k[2]];
  const [p, q] = [e.at(a), e.at(b)];
  const way = walk(e, a, b, planeThrough(p, q, up));
  if (!way)
    throw new MasonError(
      'not-done',
      'No straight line over the surface joins these vertices. Pick vertices that face the same side, or a nearer one.',
      { vertex: b, point: q },
    );
  const places = new Map<number, number[]>();
  const stops = way.map((s) => {
    if (s.edge === null) return s.vertex!;
    const v = e.vertex(s.point!);
    places.set(s.edge, [v]);
    return v;
  });
  putIntoEdges(e, places);
  cutFaces(
    e,
    way.slice(1).map((s, i) => ({ face: s.face, from: stops[i]!, to: stops[i + 1]! })),
  );
  return { mesh: e.done(), report: { added: places.size } };
}

/** Whether the straight way between two vertices of a face lies in it, and meets its boundaries nowhere else. */
function isClear(e: MeshEdit, f: number, a: number, b: number): boolean {
  const boundaries = e.boundaries(f);
  return isClearIn(
    boundaries,
    boundaries.map((loop) => e.flat(f, loop)),
    a,
    b,
  );
}

/** As `isClear`, of boundaries that are laid on a plane. */
export function isClearIn(
  boundaries: readonly (readonly NewCorner[])[],
  rings: readonly (readonly Flat[])[],
  a: number,
  b: number,
): boolean {
  const places = new Map(boundaries.flatMap((loop, l) => loop.map((c, i) => [c.vertex, rings[l]![i]!] as const)));
  const [p, q] = [places.get(a)!, places.get(b)!];
  const near = 1e-9 * Math.hypot(q[0] - p[0], q[1] - p[1]);
  for (const [l, loop] of boundaries.entries())
    for (let i = 0; i < loop.length; i++) {
      const j = (i + 1) % loop.length;
      const [u, v] = [loop[i]!.vertex, loop[j]!.vertex];
      const [s, t] = [rings[l]![i]!, rings[l]![j]!];
      const ends = [a, b];
      if (ends.includes(u) || ends.includes(v)) {
        // An edge at one of its ends: its other end must not lie on the way.
        if (
          ![
            [u, s],
            [v, t],
          ].every(([w, r]) => ends.includes(w as number) || offSegment(r as Flat, p, q) > near)
        )
          return false;
      } else if (segmentsMeet(p, q, s, t, near)) return false;
    }
  const mid: Flat = [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2];
  return rings.filter((ring) => insideRing(ring, mid)).length % 2 === 1;
}

/** Whether two vertices follow each other on some boundaries. */
export const neighbours = (boundaries: readonly (readonly NewCorner[])[], a: number, b: number): boolean =>
  boundaries.some((loop) =>
    loop.some((c, i) => [a, b].includes(c.vertex) && [a, b].includes(loop[(i + 1) % loop.length]!.vertex) && a !== b),
  );

/** A signed distance from the plane through two places and along a direction, in lengths of no matter what. */
export function planeThrough(p: Vec3, q: Vec3, up: Vec3): (x: Vec3) => number {
  const d = [q[0] - p[0], q[1] - p[1], q[2] - p[2]] as const;
  const n = [d[1] * up[2] - d[2] * up[1], d[2] * up[0] - d[0] * up[2], d[0] * up[1] - d[1] * up[0]] as const;
  const length = Math.hypot(...n) || 1;
  return (x) => ((x[0] - p[0]) * n[0] + (x[1] - p[1]) * n[1] + (x[2] - p[2]) * n[2]) / length;
}

interface Stop {
  /** The face that was crossed to get here. */
  face: number;
  /** A vertex, or a place on an edge (by number). */
  vertex: number | null;
  edge: number | null;
  point: Vec3 | null;
}

/**
 * From a vertex over faces along a plane to another vertex; null where it leads elsewhere. The shorter of the ways that
 * lead there.
 */
function walk(e: MeshEdit, a: number, b: number, side: (x: Vec3) => number): Stop[] | null {
  const { mesh: m, topology: t } = e;
  const size = Math.hypot(...e.at(b).map((x, k) => x - e.at(a)[k]!));
  const zero = SAME_WAY * size;
  const towards = (x: Vec3) => e.at(b).reduce((s, v, k) => s + (v - e.at(a)[k]!) * (x[k]! - e.at(a)[k]!), 0);
  let here: Stop = { face: -1, vertex: a, edge: null, point: null };
  const out: Stop[] = [here];
  const most = faceCount(m) + 2;
  for (let step = 0; step < most; step++) {
    const at = here.vertex !== null ? e.at(here.vertex) : here.point!;
    const around = here.vertex !== null ? facesAround(e, here.vertex) : facesOfEdge(e, here.edge!);
    let best: { stop: Stop; reach: number } | null = null;
    for (const f of around) {
      if (f === here.face) continue;
      for (const loop of e.boundaries(f))
        for (const c of loop) {
          const edge = t.edge[c.edge]!;
          const [u, v] = [c.vertex, m.corners[t.next[c.edge]!]!];
          const [du, dv] = [side(e.at(u)), side(e.at(v))];
          let stop: Stop | null = null;
          if (Math.abs(du) <= zero) stop = u === here.vertex ? null : { face: f, vertex: u, edge: null, point: null };
          else if (Math.abs(dv) > zero && du < 0 !== dv < 0 && edge !== here.edge)
            stop = { face: f, vertex: null, edge, point: between(e.at(u), e.at(v), du / (du - dv)) };
          if (!stop) continue;
          const reach = towards(stop.point ?? e.at(stop.vertex!)) - towards(at);
          if (!(reach > zero * size) || (best && reach >= best.reach)) continue;
          if (leadsOver(e, f, here, stop)) best = { stop, reach };
        }
    }
    if (!best) return null;
    here = best.stop;
    out.push(here);
    if (here.vertex === b) return out;
  }
  return null;
}

/** Whether the way from one stop to the next lies on a face: along one of its edges, or with its middle within. */
function leadsOver(e: MeshEdit, f: number, from: Stop, to: Stop): boolean {
  const boundaries = e.boundaries(f);
  if (from.vertex !== null && to.vertex !== null && neighbours(boundaries, from.vertex, to.vertex)) return true;
  const place = (s: Stop) => s.point ?? e.at(s.vertex!);
  const [mid] = e.flatPoints(f, [between(place(from), place(to), 0.5)]);
  return boundaries.filter((loop) => insideRing(e.flat(f, loop), mid!)).length % 2 === 1;
}

function facesAround(e: MeshEdit, v: number): number[] {
  const out = new Set<number>();
  e.mesh.corners.forEach((w, c) => w === v && out.add(e.topology.face[c]!));
  return [...out];
}

function facesOfEdge(e: MeshEdit, edge: number): number[] {
  const { edgeCorner, sameEdge, face } = e.topology;
  const first = edgeCorner[edge]!;
  const out: number[] = [];
  for (let o = first; ; o = sameEdge[o]!) {
    out.push(face[o]!);
    if (sameEdge[o] === first) return out;
  }
}
