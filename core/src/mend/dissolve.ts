import {
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  MasonError,
  topologyOf,
  type NewCorner,
  type PolyMesh,
  vertexPlace,
  type OpResult,
} from '../mesh/index.ts';
import { MeshEdit } from './meshEdit.ts';
import type { EdgesOptions, FacesOptions, VerticesOptions } from './operands.ts';

/** Two edges that turn by less than this (sine) at a vertex run straight on. */
const STRAIGHT_ON = 1e-6;

/** Report of dissolving. */
export interface DissolveReport {
  /** Faces that became one with others, and vertices that went. */
  joined: number;
  vertices: number;
}

/**
 * Dissolves edges: the faces on both sides of each become one, and all edges between faces that became one go. Ends
 * that are left on a straight run go, too. The last tie of a hole leaves an inner boundary. Throws `not-done` with the
 * place where a face would fall apart.
 *
 * @example
 * const m = sheet(20, 20, [2, 2]);
 * const { mesh } = dissolveEdges(m, { edges: elementsOf(m, 'edge').filter((c) => topologyOf(m).opposite[c]! >= 0) });
 */
export function dissolveEdges(m: PolyMesh, { edges: corners }: EdgesOptions): OpResult<DissolveReport> {
  const t = topologyOf(m);
  const groups = new Groups(faceCount(m));
  const ends = new Set<number>();
  for (const c of corners) {
    const o = t.opposite[c]!;
    if (o < 0) continue;
    groups.join(t.face[c]!, t.face[o]!);
    ends.add(m.corners[c]!).add(m.corners[o]!);
  }
  return joined(m, groups, ends, () => false);
}

/**
 * Makes one face of each connected lot of faces. As `dissolveEdges`.
 *
 * @example
 * const { mesh } = dissolveFaces(sheet(20, 20, [2, 2]), { faces: [0, 1] });
 */
export function dissolveFaces(m: PolyMesh, { faces }: FacesOptions): OpResult<DissolveReport> {
  const t = topologyOf(m);
  const wanted = new Set(faces);
  const groups = new Groups(faceCount(m));
  const ends = new Set<number>();
  for (const f of wanted)
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      const o = t.opposite[c]!;
      if (o < 0 || !wanted.has(t.face[o]!)) continue;
      groups.join(f, t.face[o]!);
      ends.add(m.corners[c]!).add(m.corners[o]!);
    }
  return joined(m, groups, ends, () => false);
}

/**
 * Dissolves vertices: the faces round each become one; a vertex of two edges goes out of its run. As `dissolveEdges`.
 *
 * @example
 * const { mesh } = dissolveVertices(sheet(20, 20, [2, 2]), { vertices: [4] });
 */
export function dissolveVertices(m: PolyMesh, { vertices }: VerticesOptions): OpResult<DissolveReport> {
  const t = topologyOf(m);
  const wanted = new Set(vertices);
  const edges = new Map<number, number>();
  for (const c of t.edgeCorner)
    for (const v of [m.corners[c]!, m.corners[t.next[c]!]!]) if (wanted.has(v)) edges.set(v, (edges.get(v) ?? 0) + 1);
  const groups = new Groups(faceCount(m));
  const ends = new Set<number>();
  for (let c = 0; c < m.corners.length; c++) {
    const o = t.opposite[c]!;
    const [u, v] = [m.corners[c]!, m.corners[t.next[c]!]!];
    // At a vertex of two edges nothing is joined: the faces stay, the vertex goes.
    const dissolves = (x: number) => wanted.has(x) && edges.get(x)! > 2;
    if (o < 0 || (!dissolves(u) && !dissolves(v))) continue;
    groups.join(t.face[c]!, t.face[o]!);
    ends.add(u).add(v);
  }
  return joined(m, groups, ends, (v) => wanted.has(v));
}

/** Lots of faces that become one. */
class Groups {
  private readonly up: Int32Array;

  constructor(n: number) {
    this.up = Int32Array.from({ length: n }, (_, i) => i);
  }

  of(f: number): number {
    while (this.up[f] !== f) f = this.up[f] = this.up[this.up[f]!]!;
    return f;
  }

  join(a: number, b: number): void {
    const [p, q] = [this.of(a), this.of(b)];
    this.up[Math.max(p, q)] = Math.min(p, q);
  }
}

function joined(
  m: PolyMesh,
  groups: Groups,
  ends: ReadonlySet<number>,
  goes: (vertex: number) => boolean,
): OpResult<DissolveReport> {
  const e = new MeshEdit(m);
  const lots = new Map<number, number[]>();
  for (let f = 0; f < faceCount(m); f++) {
    const g = groups.of(f);
    const lot = lots.get(g);
    if (lot) lot.push(f);
    else lots.set(g, [f]);
  }
  const normals = faceNormals(m);
  let count = 0;
  for (const [first, lot] of lots) {
    if (lot.length < 2) continue;
    e.replace(first, [{ from: first, boundaries: border(m, lot, normals) }]);
    for (const f of lot.slice(1)) e.remove(f);
    count += lot.length - 1;
  }
  const whole = e.done();
  const before = m.positions.length / 3;
  const mesh = withoutLeftovers(whole, e.numbers, ends, goes);
  return { mesh, report: { joined: count, vertices: before - mesh.positions.length / 3 } };
}

/**
 * The boundaries round a lot of faces, the outer one first. Throws `not-done` where these are not those of one face.
 */
export function border(m: PolyMesh, lot: readonly number[], N: Float64Array = faceNormals(m)): NewCorner[][] {
  const t = topologyOf(m);
  const inside = new Set(lot);
  const within = (c: number) => t.opposite[c]! >= 0 && inside.has(t.face[t.opposite[c]!]!);
  const left = new Set<number>();
  for (const f of lot) for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) if (!within(c)) left.add(c);
  const place = m.corners[faceBegin(m, lot[0]!)]!;
  const apart = () =>
    new MasonError(
      'not-done',
      'The faces round it would not become one face with one outer boundary: they close up, or fall apart. Dissolve fewer of them.',
      { vertex: place, point: vertexPlace(m, place) },
    );
  const out: { loop: NewCorner[]; area: number }[] = [];
  const way = [0, 1, 2].map((k) => lot.reduce((s, f) => s + N[3 * f + k]!, 0));
  while (left.size) {
    const [start] = left as unknown as [number];
    const loop: NewCorner[] = [];
    let c = start;
    do {
      if (!left.delete(c)) throw apart();
      loop.push({ vertex: m.corners[c]!, edge: c });
      c = t.next[c]!;
      while (within(c)) c = t.next[t.opposite[c]!]!;
    } while (c !== start);
    out.push({ loop, area: alongWay(m, loop, way) });
  }
  const outer = out.filter((l) => l.area > 0);
  if (outer.length !== 1 || out.some((l) => l.loop.length < 3)) throw apart();
  return [outer[0]!.loop, ...out.filter((l) => l !== outer[0]).map((l) => l.loop)];
}

/** The area of a loop as it is seen along a way. */
function alongWay(m: PolyMesh, loop: readonly NewCorner[], way: readonly number[]): number {
  const at = (i: number, k: number) => m.positions[3 * loop[i % loop.length]!.vertex + k]!;
  let sum = 0;
  for (let i = 0; i < loop.length; i++)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [(k + 1) % 3, (k + 2) % 3];
      sum += way[k]! * (at(i, a) * at(i + 1, b) - at(i, b) * at(i + 1, a));
    }
  return sum;
}

/**
 * The mesh without vertices of two edges that were the end of what went: those on a straight run, and those that are to
 * go anyway.
 */
function withoutLeftovers(
  m: PolyMesh,
  number: Int32Array,
  ends: ReadonlySet<number>,
  goes: (vertex: number) => boolean,
): PolyMesh {
  const t = topologyOf(m);
  const edges = new Int32Array(m.positions.length / 3);
  for (const c of t.edgeCorner) {
    edges[m.corners[c]!]!++;
    edges[m.corners[t.next[c]!]!]!++;
  }
  const drop = new Set<number>();
  const asked = new Set<number>();
  for (let v = 0; v < number.length; v++) {
    const w = number[v]!;
    if (w < 0 || edges[w] !== 2) continue;
    if (goes(v)) asked.add(w);
    if (ends.has(v) || goes(v)) drop.add(w);
  }
  if (!drop.size) return m;
  for (let c = 0; c < m.corners.length; c++) {
    const v = m.corners[c]!;
    if (drop.has(v) && !asked.has(v) && !straight(m, m.corners[t.prev[c]!]!, v, m.corners[t.next[c]!]!)) drop.delete(v);
  }
  return withoutVertices(m, drop);
}

const straight = ({ positions: P }: PolyMesh, a: number, v: number, b: number): boolean => {
  const d = (x: number, y: number) => [0, 1, 2].map((k) => P[3 * y + k]! - P[3 * x + k]!) as [number, number, number];
  const [u, w] = [d(a, v), d(v, b)];
  const cross = Math.hypot(u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]);
  return cross <= STRAIGHT_ON * Math.hypot(...u) * Math.hypot(...w) && u[0] * w[0] + u[1] * w[1] + u[2] * w[2] > 0;
};

/** The mesh with some vertices taken out of all boundaries; a boundary keeps three corners at least. */
function withoutVertices(m: PolyMesh, drop: ReadonlySet<number>): PolyMesh {
  const e = new MeshEdit(m);
  for (let f = 0; f < faceCount(m); f++) {
    const loops = e.boundaries(f);
    if (!loops.some((l) => l.some((c) => drop.has(c.vertex)))) continue;
    const kept = loops.map((l) => {
      const left = l.filter((c) => !drop.has(c.vertex));
      return left.length > 2 ? left : l;
    });
    e.replace(f, [{ from: f, boundaries: kept }]);
  }
  return e.done();
}

export interface DeleteFacesReport {
  deleted: number;
}

/**
 * The mesh without some of its faces, and without vertices that then have none.
 *
 * @example
 * const { mesh } = deleteFaces(box(10, 10, 10), { faces: [0] });
 */
export function deleteFaces(m: PolyMesh, { faces }: FacesOptions): OpResult<DeleteFacesReport> {
  const e = new MeshEdit(m);
  const gone = new Set(faces);
  for (const f of gone) e.remove(f);
  return { mesh: e.done(), report: { deleted: gone.size } };
}

/** The faces that use some vertices or edges. */
export function facesAt(m: PolyMesh, on: 'vertex' | 'edge', ids: Iterable<number>): Set<number> {
  const t = topologyOf(m);
  const out = new Set<number>();
  const wanted = new Set(ids);
  if (on === 'vertex') m.corners.forEach((v, c) => wanted.has(v) && out.add(t.face[c]!));
  else
    for (const c of wanted)
      for (let o = c; ; o = t.sameEdge[o]!) {
        out.add(t.face[o]!);
        if (t.sameEdge[o] === c) break;
      }
  return out;
}
