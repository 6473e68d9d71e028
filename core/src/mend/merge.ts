import {
  PlaceGrid,
  faceCount,
  topologyOf,
  vertexCount,
  type NewCorner,
  type NewFace,
  type PolyMesh,
  type Vec3,
  vertexPlace,
  type OpResult,
} from '../mesh/index.ts';
import { MeshEdit } from './meshEdit.ts';
import type { VerticesOptions } from './operands.ts';

/** Report of merging. */
export interface MergeReport {
  /** Vertices that went into others. */
  merged: number;
  /** Longest edge that was swallowed, mm. */
  longest: number;
  /** Boundaries that closed up wholly: faces, and holes in faces. */
  closed: number;
  /** From where to where vertices went, mm: pairs of points. */
  lines: number[];
}

export interface MergeVerticesOptions {
  /** For each vertex the one that it goes into; itself for one that stays. */
  into: ArrayLike<number>;
  /** Where vertices that stay come to stand, mm; those left out stay where they are. */
  places?: ReadonlyMap<number, Vec3>;
}

/**
 * The mesh with vertices put into others: `into` tells for each vertex which one it becomes (itself, where it stays),
 * `places` where those go that move. Edges without length go, and boundaries that run there and back; faces that close
 * up go, and pairs of faces that then lie on each other back to back.
 *
 * @example
 * const m = box(10, 10, 10);
 * const into = Int32Array.from({ length: vertexCount(m) }, (_, v) => (v === 1 ? 0 : v));
 * const { mesh } = mergeVertices(m, { into });
 */
export function mergeVertices(m: PolyMesh, { into, places = new Map() }: MergeVerticesOptions): OpResult<MergeReport> {
  const e = new MeshEdit(m);
  const t = topologyOf(m);
  const target = (v: number): number => {
    while (into[v] !== v) v = into[v]!;
    return v;
  };
  const lines: number[] = [];
  let merged = 0;
  let longest = 0;
  for (let v = 0; v < vertexCount(m); v++) {
    const w = target(v);
    const to = places.get(w);
    if (w !== v) merged++;
    if (w !== v || to) lines.push(...e.at(v), ...(to ?? e.at(w)));
  }
  for (const c of t.edgeCorner) {
    const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
    if (target(a) === target(b)) longest = Math.max(longest, Math.hypot(...e.at(a).map((x, k) => x - e.at(b)[k]!)));
  }
  for (const [v, p] of places) e.move(v, p);
  let closed = 0;
  const touched: number[] = [];
  for (let f = 0; f < faceCount(m); f++) {
    let changes = false;
    const [begin, end] = [m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!];
    for (let c = begin; c < end && !changes; c++) changes = into[m.corners[c]!] !== m.corners[c];
    if (!changes) continue;
    const loops = e.boundaries(f).map((loop) => tidied(loop.map((c) => ({ vertex: target(c.vertex), edge: c.edge }))));
    closed += loops.filter((l) => l.length < 3).length;
    if (loops[0]!.length < 3) e.remove(f);
    else {
      e.replace(
        f,
        partedLoops(
          e,
          f,
          loops.filter((l) => l.length > 2),
        ),
      );
      touched.push(f);
    }
  }
  closed += 2 * dropPairs(e, touched.length ? facesAmong(m, into, touched, e) : []);
  return { mesh: e.done(), report: { merged, longest, closed, lines } };
}

/** A boundary without edges of no length, and without runs out and back. */
function tidied(loop: NewCorner[]): NewCorner[] {
  const out = [...loop];
  for (let again = true; again && out.length > 2;) {
    again = false;
    for (let i = 0; i < out.length && out.length > 2; i++) {
      const [next, after] = [(i + 1) % out.length, (i + 2) % out.length];
      if (out[i]!.vertex === out[next]!.vertex) out.splice(i, 1);
      else if (out[i]!.vertex === out[after]!.vertex) for (const k of [i, next].sort((a, b) => b - a)) out.splice(k, 1);
      else continue;
      again = true;
    }
  }
  return out.length > 2 ? out : [];
}

/** Faces whose vertices are all among those of some faces. */
function facesAmong(m: PolyMesh, into: ArrayLike<number>, faces: readonly number[], e: MeshEdit): number[] {
  const vertices = new Set(
    faces.flatMap((f) => e.now(f).flatMap((x) => x.boundaries.flatMap((l) => l.map((c) => c.vertex)))),
  );
  const out: number[] = [];
  for (let f = 0; f < faceCount(m); f++) {
    let all = true;
    const end = m.loopStart[m.faceLoops[f + 1]!]!;
    // What was merged is there by the vertex that it went into.
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < end && all; c++)
      all = vertices.has(m.corners[c]!) || into[m.corners[c]!] !== m.corners[c];
    if (all && e.now(f).length) out.push(f);
  }
  return out;
}

/**
 * Splits boundaries that touch themselves now into faces: loops that run the same way become faces, the others holes of
 * the first.
 */
function partedLoops(e: MeshEdit, f: number, loops: readonly NewCorner[][]): NewFace[] {
  const [outer, ...holes] = loops as [NewCorner[], ...NewCorner[][]];
  const before = e.boundaries(f)[0]!.map((c) => c.vertex);
  // A boundary that passed a vertex twice before, as one tie makes it, may do so again.
  if (new Set(before).size < before.length || new Set(outer.map((c) => c.vertex)).size === outer.length)
    return [{ from: f, boundaries: loops }];
  const parts: NewCorner[][] = [];
  const walk: NewCorner[] = [];
  for (const c of outer) {
    const at = walk.findIndex((x) => x.vertex === c.vertex);
    if (at >= 0) parts.push(walk.splice(at));
    walk.push(c);
  }
  parts.push(walk);
  const area = (loop: readonly NewCorner[]) =>
    e
      .flat(f, loop)
      .reduce((s, [x, y], i, list) => s + x * list[(i + 1) % list.length]![1] - y * list[(i + 1) % list.length]![0], 0);
  const whole = parts.map(tidied).filter((l) => l.length > 2);
  const round = whole.filter((l) => area(l) > 0);
  if (!round.length) return whole.length ? [{ from: f, boundaries: [whole[0]!, ...holes] }] : [];
  const back = whole.filter((l) => !round.includes(l));
  return round.map((l, i) => ({ from: f, boundaries: i ? [l] : [l, ...back, ...holes] }));
}

/** Takes out pairs of single-boundary faces on the same vertices that look against each other; how many. */
function dropPairs(e: MeshEdit, faces: readonly number[]): number {
  const seen = new Map<string, number[]>();
  const ring = (loop: readonly NewCorner[], back: boolean): string => {
    const v = loop.map((c) => c.vertex);
    if (back) v.reverse();
    const least = v.indexOf(Math.min(...v));
    return [...v.slice(least), ...v.slice(0, least)].join();
  };
  let pairs = 0;
  for (const f of faces) {
    const [face] = e.now(f);
    if (!face || face.boundaries.length > 1) continue;
    const others = seen.get(ring(face.boundaries[0]!, true));
    const g = others?.pop();
    if (g !== undefined) {
      e.remove(f);
      e.remove(g);
      pairs++;
      continue;
    }
    const own = ring(face.boundaries[0]!, false);
    seen.set(own, [...(seen.get(own) ?? []), f]);
  }
  return pairs;
}

/** Vertices of edges that a cut made: where a boundary runs. */
export function seamVertices(m: PolyMesh): Uint8Array {
  const t = topologyOf(m);
  const out = new Uint8Array(vertexCount(m));
  m.layers.seam?.forEach((s, c) => {
    if (s) out[m.corners[c]!] = out[m.corners[t.next[c]!]!] = 1;
  });
  return out;
}

export interface WeldOptions extends VerticesOptions {
  /** Vertices nearer to each other than this become one, mm. */
  distance?: number;
  /**
   * What is longer than this is a detail: clusters wider than it are reported, and left as they are when they are
   * spared; 0 for none.
   */
  detail?: number;
  spare?: boolean;
  /** Whether vertices of a seam may move, too. */
  seams?: boolean;
}

export interface WeldReport extends MergeReport {
  /** Clusters that reach further than a detail: merged all the same, or spared. */
  details: number;
  spared: number;
}

/** Defaults of the options. */
export const WELD_DEFAULTS: Required<Pick<WeldOptions, 'distance' | 'detail' | 'spare' | 'seams'>> = {
  distance: 0.01,
  detail: 0,
  spare: true,
  seams: false,
};

/**
 * Welds vertices by distance: those that are near to one another, from one to the next, become one. Where a seam
 * has a vertex among them the others go there, each to the nearest, and vertices of the seam stay apart; without any
 * they meet in their middle.
 *
 * @example
 * const m = box(10, 10, 10);
 * const { mesh, report } = weld(m, { vertices: elementsOf(m, 'vertex'), distance: 0.1 });
 */
export function weld(m: PolyMesh, options: WeldOptions): OpResult<WeldReport> {
  const { vertices: wanted, distance, detail, spare, seams } = { ...WELD_DEFAULTS, ...options };
  const list = [...wanted];
  const P = m.positions;
  const at = (v: number): Vec3 => vertexPlace(m, v);
  const far = (a: number, b: number) =>
    Math.hypot(P[3 * a]! - P[3 * b]!, P[3 * a + 1]! - P[3 * b + 1]!, P[3 * a + 2]! - P[3 * b + 2]!);
  const near = neighboursOf(list, at, distance);
  const fixed = seams ? new Uint8Array(vertexCount(m)) : seamVertices(m);
  const into = Int32Array.from({ length: vertexCount(m) }, (_, v) => v);
  const places = new Map<number, Vec3>();
  let [details, spared] = [0, 0];
  const done = new Set<number>();
  for (const first of list) {
    if (done.has(first) || fixed[first]) continue;
    const cluster = [first];
    // A boundary's vertices do not lead on, and may have others drawn to them from several sides.
    const held = new Set<number>();
    done.add(first);
    for (let i = 0; i < cluster.length; i++)
      for (const w of near(cluster[i]!)) {
        if (fixed[w]) held.add(w);
        else if (!done.has(w)) {
          cluster.push(w);
          done.add(w);
        }
      }
    if (cluster.length + held.size < 2) continue;
    const reach = extent([...cluster, ...held], P);
    if (detail > 0 && reach > detail) {
      details++;
      if (spare) {
        spared++;
        continue;
      }
    }
    if (held.size) {
      for (const v of cluster) into[v] = [...held].reduce((a, b) => (far(v, b) < far(v, a) ? b : a));
      continue;
    }
    const [keep, ...others] = cluster as [number, ...number[]];
    for (const v of others) into[v] = keep;
    places.set(keep, middleOf(cluster.map(at)));
  }
  const { mesh, report } = mergeVertices(m, { into, places });
  return { mesh, report: { ...report, details, spared } };
}

/** The middle of some places. */
export const middleOf = (list: readonly Vec3[]): Vec3 =>
  ([0, 1, 2] as const).map((k) => list.reduce((s, p) => s + p[k], 0) / list.length) as unknown as Vec3;

/** The longest side of the box round some vertices, mm. */
function extent(vertices: readonly number[], P: Float64Array): number {
  return Math.max(
    ...[0, 1, 2].map((k) => {
      const xs = vertices.map((v) => P[3 * v + k]!);
      return xs.reduce((a, b) => Math.max(a, b)) - xs.reduce((a, b) => Math.min(a, b));
    }),
  );
}

/** For a vertex those of a list within a distance, itself left out. */
export function neighboursOf(
  list: readonly number[],
  at: (v: number) => Vec3,
  distance: number,
): (v: number) => number[] {
  const grid = new PlaceGrid(list.length, distance);
  list.forEach((v, i) => grid.add(i, ...at(v)));
  return (v) => {
    const [x, y, z] = at(v);
    const out: number[] = [];
    const count = grid.near(x, y, z);
    for (let i = 0; i < count; i++) {
      const w = list[grid.found[i]!]!;
      if (w === v) continue;
      const q = at(w);
      if (Math.hypot(q[0] - x, q[1] - y, q[2] - z) <= distance && !out.includes(w)) out.push(w);
    }
    return out;
  };
}

export interface MergeToOptions {
  vertices: readonly number[];
  /** Where the one that is left stands. */
  to: 'first' | 'last' | 'middle';
}

/**
 * Puts all of some vertices into one: where the first is, the last, or in their middle, in the order in which they were
 * picked.
 *
 * @example
 * const { mesh } = mergeTo(box(10, 10, 10), { vertices: [0, 1], to: 'middle' });
 */
export function mergeTo(m: PolyMesh, { vertices: ids, to: where }: MergeToOptions): OpResult<MergeReport> {
  const keep = where === 'last' ? ids.at(-1)! : ids[0]!;
  const into = Int32Array.from({ length: vertexCount(m) }, (_, v) => v);
  for (const v of ids) into[v] = keep;
  const at = (v: number): Vec3 => vertexPlace(m, v);
  return mergeVertices(m, { into, places: where === 'middle' ? new Map([[keep, middleOf(ids.map(at))]]) : new Map() });
}

export interface SlideVertexOptions {
  vertex: number;
  /** The vertex at the other end of the edge that it slides along. */
  to: number;
  /** How far, as a share of the edge; 1 merges both. */
  share: number;
}

/**
 * Moves a vertex towards a neighbour along their edge, by a share of its length; at 1 it goes into it.
 *
 * @example
 * const m = sheet(30, 30, [3, 3]);
 * const { mesh } = slideVertex(m, { vertex: 5, to: 6, share: 0.5 });
 */
export function slideVertex(m: PolyMesh, { vertex: v, to, share }: SlideVertexOptions): OpResult<MergeReport> {
  const at = (w: number): Vec3 => vertexPlace(m, w);
  const into = Int32Array.from({ length: vertexCount(m) }, (_, w) => w);
  if (share >= 1) into[v] = to;
  const [p, q] = [at(v), at(to)];
  const place = p.map((x, k) => x + share * (q[k]! - x)) as unknown as Vec3;
  return share >= 1 ? mergeVertices(m, { into }) : mergeVertices(m, { into, places: new Map([[v, place]]) });
}
