import { topologyOf, type NewCorner, type PolyMesh, type Vec3, type OpResult } from '../mesh/index.ts';
import { corner, MeshEdit } from './meshEdit.ts';
import { between, putIntoEdges, type SplitAt } from './split.ts';
import type { EdgesOptions, FacesOptions } from './operands.ts';

/** A run of edges across quads, side by side: where a loop would be put in. */
export interface Ring {
  /**
   * The edges, each by the corner that leaves along it so that all of them point the same way; a closed ring does not
   * repeat its first.
   */
  corners: number[];
  /** The quads between them, in order. */
  faces: number[];
  closed: boolean;
}

/**
 * The ring of edges that an edge belongs to: from quad to quad, across the opposite edge, until a face that is no quad,
 * an open edge, or all round.
 */
export function ringOf(m: PolyMesh, edge: number): Ring {
  const t = topologyOf(m);
  const quad = (f: number) =>
    m.faceLoops[f + 1]! - m.faceLoops[f]! === 1 &&
    m.loopStart[m.faceLoops[f + 1]!]! - m.loopStart[m.faceLoops[f]!]! === 4;
  const go = (from: number): { corners: number[]; faces: number[]; closed: boolean } => {
    const corners: number[] = [];
    const faces: number[] = [];
    let c = from;
    for (;;) {
      const f = t.face[c]!;
      if (!quad(f) || faces.includes(f)) return { corners, faces, closed: false };
      faces.push(f);
      // Across the quad; its edge runs the other way.
      const across = t.next[t.next[c]!]!;
      const o = t.opposite[across]!;
      if (o === from) return { corners, faces, closed: true };
      if (o < 0) {
        corners.push(across);
        return { corners, faces, closed: false };
      }
      corners.push(o);
      c = o;
    }
  };
  const ahead = go(edge);
  if (ahead.closed) return { corners: [edge, ...ahead.corners], faces: ahead.faces, closed: true };
  const o = t.opposite[edge]!;
  const back = o < 0 ? { corners: [], faces: [] } : go(o);
  return {
    corners: [...back.corners.reverse(), edge, ...ahead.corners],
    faces: [...back.faces.reverse(), ...ahead.faces],
    closed: false,
  };
}

export interface InsertLoopsOptions extends EdgesOptions {
  at: SplitAt;
  /** Whether shares are counted from the other end. */
  flipped?: boolean;
  /** Whether they are put in from both ends. */
  both?: boolean;
}

export interface InsertLoopsReport {
  /** Faces that were cut. */
  cut: number;
}

/**
 * Puts loops of edges into the rings of some edges. A ring stops at faces that are no quads, which get the vertex into
 * their boundary. From the other side when `flipped`, from both when it is asked for. How many faces were cut.
 *
 * @example
 * const { mesh } = insertLoops(box(10, 10, 10), { edges: [0], at: { parts: 2 } });
 */
export function insertLoops(
  m: PolyMesh,
  { edges, at, flipped = false, both = false }: InsertLoopsOptions,
): OpResult<InsertLoopsReport> {
  const e = new MeshEdit(m);
  const t = topologyOf(m);
  const places = new Map<number, number[]>();
  const seen = new Set<number>();
  /** Per edge the corner along which its shares are measured. */
  const cut = new Set<number>();
  for (const edge of edges) {
    if (seen.has(t.edge[edge]!)) continue;
    const ring = ringOf(m, edge);
    // Corners of the ring point alike where the surface is one; across an open end the last one points back.
    let way: readonly [number, number] = [m.corners[edge]!, m.corners[t.next[edge]!]!];
    const start = ring.corners.indexOf(edge);
    const lay = (c: number, from: number) => {
      seen.add(t.edge[c]!);
      const first = t.edgeCorner[t.edge[c]!]!;
      const [u, v] = [m.corners[c]!, m.corners[t.next[c]!]!];
      const [p, q] = from === u ? [e.at(u), e.at(v)] : [e.at(v), e.at(u)];
      const list = sharesAlong(at, p, q, flipped, both).map((s) => e.vertex(between(p, q, s)));
      const forward = m.corners[first] === from;
      places.set(t.edge[c]!, forward ? list : list.reverse());
    };
    lay(edge, way[0]);
    const follow = (list: readonly number[], faces: readonly number[]) => {
      let from = way[0];
      list.forEach((c, i) => {
        from = across(m, faces[i]!, from, c);
        lay(c, from);
      });
    };
    if (ring.closed) follow(ring.corners.slice(1), ring.faces);
    else {
      follow(ring.corners.slice(start + 1), ring.faces.slice(start));
      way = [m.corners[edge]!, m.corners[t.next[edge]!]!];
      follow(ring.corners.slice(0, start).reverse(), ring.faces.slice(0, start).reverse());
    }
    for (const f of ring.faces) cut.add(f);
  }
  putIntoEdges(e, places);
  for (const f of cut) cutQuad(e, f, places);
  return { mesh: e.done(), report: { cut: cut.size } };
}

/** The end of an edge across a quad that is on the side of a vertex of the first edge. */
function across(m: PolyMesh, f: number, from: number, c: number): number {
  const t = topologyOf(m);
  const ends = [m.corners[c]!, m.corners[t.next[c]!]!];
  const begin = m.loopStart[m.faceLoops[f]!]!;
  const ring = [0, 1, 2, 3].map((i) => m.corners[begin + i]!);
  const i = ring.indexOf(from);
  return [ring[(i + 1) % 4]!, ring[(i + 3) % 4]!].find((v) => ends.includes(v))!;
}

function sharesAlong(at: SplitAt, p: Vec3, q: Vec3, flipped: boolean, both: boolean): number[] {
  if (at.by === 'parts') return Array.from({ length: at.parts - 1 }, (_, i) => (i + 1) / at.parts);
  const length = Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]);
  const s = at.by === 'share' ? at.share : Math.min(0.999, at.distance / (length || 1));
  // Where the two would meet or pass each other there is room for one, in the middle.
  if (both) return s < 0.5 ? [s, 1 - s] : [0.5];
  return [flipped ? 1 - s : s];
}

/** Cuts a quad that has as many new vertices on two opposite edges (or on all four) into strips, or into a grid. */
function cutQuad(e: MeshEdit, f: number, places: ReadonlyMap<number, readonly number[]>): void {
  const { mesh: m, topology: t } = e;
  const begin = m.loopStart[m.faceLoops[f]!]!;
  const sides = [0, 1, 2, 3].map((i) => {
    const c = begin + i;
    const list = places.get(t.edge[c]!) ?? [];
    return m.corners[t.edgeCorner[t.edge[c]!]!] === m.corners[c] ? [...list] : [...list].reverse();
  });
  const v = [0, 1, 2, 3].map((i) => m.corners[begin + i]!);
  const [n, k] = [sides[0]!.length, sides[1]!.length];
  if (sides[2]!.length !== n || sides[3]!.length !== k) return;
  // Rows from the first edge to the third, columns from the fourth to the second.
  const bottom = [v[0]!, ...sides[0]!, v[1]!];
  const top = [v[3]!, ...[...sides[2]!].reverse(), v[2]!];
  const right = [v[1]!, ...sides[1]!, v[2]!];
  const left = [v[0]!, ...[...sides[3]!].reverse(), v[3]!];
  const at = (i: number, j: number): number => {
    if (j === 0) return bottom[i]!;
    if (j === k + 1) return top[i]!;
    if (i === 0) return left[j]!;
    return right[j]!;
  };
  const inner = new Map<string, number>();
  const vertex = (i: number, j: number): number => {
    if (i === 0 || j === 0 || i === n + 1 || j === k + 1) return at(i, j);
    const name = `${i},${j}`;
    const known = inner.get(name);
    if (known !== undefined) return known;
    const share = (a: number, b: number, x: number) => {
      const [p, q, r] = [e.at(a), e.at(b), e.at(x)];
      return (
        Math.hypot(r[0] - p[0], r[1] - p[1], r[2] - p[2]) / (Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]) || 1)
      );
    };
    // Where the lines across meet: between left and right by the share along bottom and top, blended.
    const s = (share(bottom[0]!, bottom[n + 1]!, bottom[i]!) + share(top[0]!, top[n + 1]!, top[i]!)) / 2;
    const made = e.vertex(between(e.at(left[j]!), e.at(right[j]!), s));
    inner.set(name, made);
    return made;
  };
  const edgeOn = (side: number): number => begin + side;
  const faces = [];
  for (let j = 0; j <= k; j++)
    for (let i = 0; i <= n; i++) {
      const boundary: NewCorner[] = [
        corner(vertex(i, j), j === 0 ? edgeOn(0) : -1),
        corner(vertex(i + 1, j), i === n ? edgeOn(1) : -1),
        corner(vertex(i + 1, j + 1), j === k ? edgeOn(2) : -1),
        corner(vertex(i, j + 1), i === 0 ? edgeOn(3) : -1),
      ];
      faces.push({ from: f, boundaries: [boundary] });
    }
  e.replace(f, faces);
}

export interface DivideFacesOptions extends FacesOptions {
  /** Into how many parts each side is divided. */
  parts: number;
}

export interface DivideFacesReport {
  divided: number;
}

/**
 * Divides quads into n × n; other faces of one boundary into a quad at each corner, round their middle, when n is 2.
 * Faces beside get the vertices.
 *
 * @example
 * const { mesh } = divideFaces(box(10, 10, 10), { faces: [0], parts: 3 });
 */
export function divideFaces(m: PolyMesh, { faces, parts: n }: DivideFacesOptions): OpResult<DivideFacesReport> {
  const e = new MeshEdit(m);
  const t = topologyOf(m);
  const single = (f: number) => m.faceLoops[f + 1]! - m.faceLoops[f]! === 1;
  const sides = (f: number) => m.loopStart[m.faceLoops[f + 1]!]! - m.loopStart[m.faceLoops[f]!]!;
  const list = [...faces].filter((f) => single(f) && (sides(f) === 4 || n === 2));
  const places = new Map<number, number[]>();
  for (const f of list)
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) {
      const first = t.edgeCorner[t.edge[c]!]!;
      if (places.has(t.edge[c]!)) continue;
      const [p, q] = [e.at(m.corners[first]!), e.at(m.corners[t.next[first]!]!)];
      places.set(
        t.edge[c]!,
        Array.from({ length: n - 1 }, (_, i) => e.vertex(between(p, q, (i + 1) / n))),
      );
    }
  putIntoEdges(e, places);
  for (const f of list) {
    if (sides(f) === 4) cutQuad(e, f, places);
    else roundMiddle(e, f, places);
  }
  return { mesh: e.done(), report: { divided: list.length } };
}

/** A quad at each corner of a face whose edges have a vertex each in their middle. */
function roundMiddle(e: MeshEdit, f: number, places: ReadonlyMap<number, readonly number[]>): void {
  const { mesh: m, topology: t } = e;
  const begin = m.loopStart[m.faceLoops[f]!]!;
  const n = m.loopStart[m.faceLoops[f + 1]!]! - begin;
  const middle = e.vertex(
    ([0, 1, 2] as const).map(
      (k) => Array.from({ length: n }, (_, i) => e.at(m.corners[begin + i]!)[k]).reduce((a, b) => a + b, 0) / n,
    ) as unknown as Vec3,
  );
  const mid = (c: number) => places.get(t.edge[c]!)![0]!;
  e.replace(
    f,
    Array.from({ length: n }, (_, i) => {
      const [c, prev] = [begin + i, begin + ((i + n - 1) % n)];
      return {
        from: f,
        boundaries: [[corner(m.corners[c]!, c), corner(mid(c)), corner(middle), corner(mid(prev), prev)]],
      };
    }),
  );
}
