import { faceAreas, faceBegin, faceCount, faceEnd, faceNormals, topologyOf, type PolyMesh } from '../mesh/index.ts';
import { edgeAt, verticesOfElement, type ElementKind } from './elements.ts';

/**
 * Properties by which elements may be alike: edges in length and direction, faces in area, direction, sides, slot and
 * the surface that they were cut from, vertices in how many edges meet.
 */
export const LIKENESSES = ['length', 'area', 'direction', 'sides', 'slot', 'source', 'valence'] as const;
export type Likeness = (typeof LIKENESSES)[number];
/** The properties of each kind. */
export const LIKENESSES_OF: Record<ElementKind, readonly Likeness[]> = {
  vertex: ['valence'],
  edge: ['length', 'direction'],
  face: ['area', 'direction', 'sides', 'slot', 'source'],
};

/** Measures that differ by less than this share are alike, and directions by less than this cosine from 1. */
const ALIKE = 1e-3;
const ALIGNED = 1e-5;

/** All elements that are like one of those that are picked. */
export function similarTo(m: PolyMesh, on: ElementKind, now: ReadonlySet<number>, by: Likeness): number[] {
  const all =
    on === 'face'
      ? Array.from({ length: faceCount(m) }, (_, f) => f)
      : on === 'edge'
        ? [...topologyOf(m).edgeCorner]
        : [...new Set(m.corners)];
  if (by === 'direction') {
    const ways = on === 'face' ? faceNormals(m) : null;
    const way = (x: number): number[] => (ways ? [...ways.subarray(3 * x, 3 * x + 3)] : edgeWay(m, x));
    const wanted = [...now].map(way);
    const along = (a: readonly number[], b: readonly number[]) => a.reduce((s, v, k) => s + v * b[k]!, 0);
    // An edge has no orientation; a face has.
    return all.filter((x) =>
      wanted.some((w) => (on === 'face' ? along(w, way(x)) : Math.abs(along(w, way(x)))) > 1 - ALIGNED),
    );
  }
  const value = measure(m, on, by);
  const exact = by === 'sides' || by === 'slot' || by === 'source' || by === 'valence';
  const wanted = [...new Set([...now].map(value))];
  return all.filter((x) =>
    wanted.some((w) => (exact ? w === value(x) : Math.abs(value(x) - w) <= ALIKE * Math.abs(w))),
  );
}

function measure(m: PolyMesh, on: ElementKind, by: Likeness): (x: number) => number {
  const { source, slot } = m.layers;
  switch (by) {
    case 'length':
      return (x) => Math.hypot(...edgeVector(m, x));
    case 'area': {
      const areas = faceAreas(m);
      return (x) => areas[x]!;
    }
    case 'sides':
      return (x) => (m.faceLoops[x + 1]! - m.faceLoops[x]! > 1 ? -1 : faceEnd(m, x) - faceBegin(m, x));
    case 'slot':
      return (x) => slot?.[x] ?? 0;
    case 'source':
      return (x) => (source ? source[3 * x]! * 2 ** 26 + source[3 * x + 1]! : x);
    default: {
      const valence = new Int32Array(on === 'vertex' ? m.positions.length / 3 : 0);
      const t = topologyOf(m);
      for (const c of t.edgeCorner)
        for (const v of [m.corners[c]!, m.corners[t.next[c]!]!]) if (on === 'vertex') valence[v]!++;
      return (x) => valence[x] ?? 0;
    }
  }
}

function edgeVector(m: PolyMesh, c: number): [number, number, number] {
  const [a, b] = verticesOfElement(m, 'edge', c) as [number, number];
  return [0, 1, 2].map((k) => m.positions[3 * b + k]! - m.positions[3 * a + k]!) as [number, number, number];
}

function edgeWay(m: PolyMesh, c: number): number[] {
  const e = edgeVector(m, c);
  const l = Math.hypot(...e) || 1;
  return e.map((x) => x / l);
}

/** The same places as elements of another kind. */
export function asKind(m: PolyMesh, on: ElementKind, now: ReadonlySet<number>, to: ElementKind): Set<number> {
  if (on === to) return new Set(now);
  const t = topologyOf(m);
  const out = new Set<number>();
  if (to === 'vertex') for (const x of now) for (const v of verticesOfElement(m, on, x)) out.add(v);
  else if (on === 'face')
    for (const f of now) for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) out.add(edgeAt(m, c));
  else {
    // What is wholly within: edges by their two ends, faces by all their edges or vertices.
    const has = (c: number) =>
      on === 'vertex' ? now.has(m.corners[c]!) && now.has(m.corners[t.next[c]!]!) : now.has(edgeAt(m, c));
    if (to === 'edge') for (const c of t.edgeCorner) if (has(c)) out.add(c);
    if (to === 'face')
      for (let f = 0; f < faceCount(m); f++) {
        let all = true;
        for (let c = faceBegin(m, f); c < faceEnd(m, f) && all; c++) all = has(c);
        if (all) out.add(f);
      }
  }
  return out;
}

/**
 * The edges between what is picked and what is not: of faces, and of what is picked otherwise the faces that are wholly
 * within.
 */
export function borderEdges(m: PolyMesh, on: ElementKind, now: ReadonlySet<number>): number[] {
  const t = topologyOf(m);
  const faces = asKind(m, on, now, 'face');
  const out = new Set<number>();
  for (const f of faces)
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      const o = t.opposite[c]!;
      if (o < 0 || !faces.has(t.face[o]!)) out.add(edgeAt(m, c));
    }
  return [...out];
}

/** Edges whose two faces meet at more than an angle, degrees. */
export function sharperEdges(m: PolyMesh, angle: number): number[] {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const limit = Math.cos((angle * Math.PI) / 180);
  return [...t.edgeCorner].filter((c) => {
    const o = t.opposite[c]!;
    if (o < 0) return false;
    const [a, b] = [3 * t.face[c]!, 3 * t.face[o]!];
    return N[a]! * N[b]! + N[a + 1]! * N[b + 1]! + N[a + 2]! * N[b + 2]! < limit;
  });
}

/**
 * Faces that a course made (of a scribe those that its outline encloses), or its cut lines, or the vertices of these.
 */
export function madeBy(m: PolyMesh, on: ElementKind, course: number): Iterable<number> {
  const { source, mark } = m.layers;
  if (on === 'face')
    return Array.from({ length: faceCount(m) }, (_, f) => f).filter(
      (f) => source?.[3 * f + 2] === course || mark?.[f] === course,
    );
  const edges = seamEdges(m, course);
  return on === 'edge' ? edges : asKind(m, 'edge', new Set(edges), 'vertex');
}

/**
 * The edges of the seams of a course, or of all of them where none is named; each by its first corner, in order.
 */
export function seamEdges(m: PolyMesh, course?: number): number[] {
  const { seam } = m.layers;
  const { edgeCorner, opposite } = topologyOf(m);
  const of = (c: number): boolean => c >= 0 && (course === undefined ? !!seam?.[c] : seam?.[c] === course);
  return [...edgeCorner].filter((c) => of(c) || of(opposite[c]!));
}

/**
 * The run of edges that goes straight on through an edge: at a vertex of four edges across it, along a border or a cut
 * line from edge to edge of it; else it ends.
 */
export function loopAlong(m: PolyMesh, edge: number): number[] {
  const out = new Set([edge]);
  for (const from of verticesOfElement(m, 'edge', edge)) {
    let [c, v] = [edge, from];
    for (;;) {
      const next = onwards(m, c, v);
      if (next === null || out.has(next)) break;
      out.add(next);
      const [a, b] = verticesOfElement(m, 'edge', next) as [number, number];
      [c, v] = [next, a === v ? b : a];
    }
  }
  return [...out];
}

/** The edge that goes on from another one at a vertex; null where it ends or forks. */
function onwards(m: PolyMesh, edge: number, v: number): number | null {
  const t = topologyOf(m);
  const around = edgesRound(m, edge, v);
  const special = (c: number) => {
    const o = t.opposite[c]!;
    return o < 0 ? 'open' : m.layers.seam?.[c] || m.layers.seam?.[o] ? 'cut' : '';
  };
  const kind = special(edge);
  if (kind) {
    const same = around.filter((c) => c !== edge && special(c) === kind);
    return same.length === 1 ? same[0]! : null;
  }
  if (around.length !== 4 || around.some((c) => t.opposite[c]! < 0)) return null;
  const faces = (c: number) => [t.face[c]!, t.face[t.opposite[c]!]!];
  // Across the vertex: the one that shares no face with it.
  return around.find((c) => !faces(c).some((f) => faces(edge).includes(f))) ?? null;
}

/** Edges round a vertex that hang together by faces with one of them; all of a vertex of one fan. */
function edgesRound(m: PolyMesh, edge: number, v: number): number[] {
  const t = topologyOf(m);
  const out = new Set<number>([edge]);
  for (const start of [edge, t.opposite[edge]!]) {
    if (start < 0) continue;
    // The corner at the vertex, of the face on this side; then from face to face round it.
    let q = m.corners[start] === v ? start : t.next[start]!;
    for (let i = 0; i < 4096; i++) {
      out.add(edgeAt(m, q)).add(edgeAt(m, t.prev[q]!));
      const o = t.opposite[t.prev[q]!]!;
      if (o < 0 || out.has(-1 - o)) break;
      out.add(-1 - o);
      q = o;
    }
  }
  return [...out].filter((c) => c >= 0);
}

/** The next element, and the face that is being walked round. */
export interface Step {
  ids: number[];
  face: number | null;
}

/**
 * The next element: of the last one that was picked, round the boundary of a face (of the one that is named, where it
 * has it), or along its run.
 */
export function stepped(
  m: PolyMesh,
  on: ElementKind,
  now: ReadonlySet<number>,
  by: 1 | -1,
  along: 'face' | 'loop',
  face: number | null,
): Step {
  const last = [...now].at(-1);
  const t = topologyOf(m);
  if (last === undefined)
    return {
      ids: m.corners.length ? [on === 'face' ? 0 : on === 'edge' ? t.edgeCorner[0]! : m.corners[0]!] : [],
      face: 0,
    };
  const turn = by > 0 ? t.next : t.prev;
  if (on === 'face') {
    // From face to face across its edges in turn: the first that leads on.
    const list = cornersOfFace(m, last)
      .map((c) => t.opposite[c]!)
      .filter((o) => o >= 0);
    const o = by > 0 ? list[0] : list.at(-1);
    return { ids: [o === undefined ? last : t.face[o]!], face: last };
  }
  if (on === 'edge' && along === 'loop') {
    const v = by > 0 ? m.corners[t.next[last]!]! : m.corners[last]!;
    return { ids: [onwards(m, last, v) ?? last], face };
  }
  const own = (c: number) => (on === 'edge' ? edgeAt(m, c) === last : m.corners[c] === last);
  const c =
    (face === null ? undefined : cornersOfFace(m, face).find(own)) ?? (on === 'edge' ? last : m.corners.indexOf(last));
  if (c < 0) return { ids: [], face: null };
  const next = turn[c]!;
  return { ids: [on === 'edge' ? edgeAt(m, next) : m.corners[next]!], face: t.face[c]! };
}

const cornersOfFace = (m: PolyMesh, f: number): number[] =>
  Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) => faceBegin(m, f) + i);
