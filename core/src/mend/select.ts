import { ringOf } from './loops.ts';
import { elementsWithin, type ScreenArea } from './screen.ts';
import {
  asKind,
  borderEdges,
  loopAlong,
  madeBy,
  seamEdges,
  sharperEdges,
  similarTo,
  stepped,
  type Likeness,
} from './selectBy.ts';
import { edgeAt, verticesOfElement, type ElementKind } from './elements.ts';
import {
  add,
  dot,
  faceAreas,
  faceBegin,
  faceCount,
  faceEnd,
  lengthOf,
  nearestOn,
  scaled,
  sub,
  topologyOf,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../mesh/index.ts';

/** A change of the pick. */
export type PickAct =
  /**
   * The edge or vertex of some faces that looks nearest to the line of sight from a place (mm) along a unit direction,
   * or the first of these faces, is put in, taken out, or becomes the only one.
   */
  | { do: 'aim'; faces: readonly number[]; from: Vec3; along: Vec3; how: Joins }
  /** What lies within an outline on the screen; see `elementsWithin`. */
  | { do: 'area'; area: ScreenArea; how: Joins }
  /** `keep` leaves it as it is. */
  | { do: 'keep' | 'all' | 'none' | 'invert' | 'grow' | 'shrink' | 'connected' | 'loop' | 'ring' | 'border' }
  /**
   * The same places as elements of another kind: of faces their edges, of edges their vertices, and the other way round
   * what is wholly within.
   */
  | { do: 'as'; kind: ElementKind }
  | { do: 'similar'; by: Likeness }
  | { do: 'sharper'; angle: number }
  /** What a course made: its cut lines, or its faces. */
  | { do: 'made'; course: number }
  /** The seams of all cuts. */
  | { do: 'seams' }
  /** The next one: round the boundary of its face, or along the run that it is part of. */
  | { do: 'step'; by: 1 | -1; along: 'face' | 'loop'; face: number | null };
export type Joins = 'only' | 'add' | 'drop';

/** What is picked: of which kind, and which elements; an edge by its first corner. */
export interface Picked {
  on: ElementKind;
  ids: Int32Array;
  /** The face whose boundary a step has gone round. */
  face?: number | null;
}

/**
 * What is picked after a change, each element once, by clicks in their order. Those that are in the mesh no longer are
 * left out.
 */
export function pickAct(m: PolyMesh, on: ElementKind, ids: Iterable<number>, act: PickAct): Picked {
  const now = present(m, on, ids);
  const pickedNow = (list: Iterable<number>, kind = on): Picked => ({ on: kind, ids: Int32Array.from(list) });
  switch (act.do) {
    case 'aim':
      return pickedNow(joinedBy(now, aimedAt(m, on, act), act.how));
    case 'area':
      return pickedNow(joinedBy(now, elementsWithin(m, on, act.area), act.how));
    case 'keep':
      return pickedNow(now);
    case 'none':
      return pickedNow([]);
    case 'all':
      return pickedNow(elementsOf(m, on));
    case 'invert':
      return pickedNow(elementsOf(m, on).filter((x) => !now.has(x)));
    case 'grow':
      return pickedNow(sorted(grown(m, on, now)));
    case 'shrink': {
      const outside = grown(m, on, new Set(elementsOf(m, on).filter((x) => !now.has(x))));
      return pickedNow(sorted([...now].filter((x) => !outside.has(x))));
    }
    case 'connected': {
      let [before, after] = [new Set<number>(), now];
      while (after.size > before.size) [before, after] = [after, grown(m, on, after)];
      return pickedNow(sorted(after));
    }
    case 'loop':
    case 'ring':
      return pickedNow(
        new Set(
          [...asKind(m, on, now, 'edge')].flatMap((c) =>
            act.do === 'loop' ? loopAlong(m, c) : ringOf(m, c).corners.map((x) => edgeAt(m, x)),
          ),
        ),
        'edge',
      );
    case 'border':
      return pickedNow(borderEdges(m, on, now), 'edge');
    case 'as':
      return pickedNow(sorted(asKind(m, on, now, act.kind)), act.kind);
    case 'similar':
      return pickedNow(sorted(similarTo(m, on, now, act.by)));
    case 'sharper':
      return pickedNow(sharperEdges(m, act.angle), 'edge');
    case 'made':
      return pickedNow(madeBy(m, on, act.course));
    case 'seams':
      return pickedNow(seamEdges(m), 'edge');
    case 'step': {
      const { ids: next, face } = stepped(m, on, now, act.by, act.along, act.face);
      return { ...pickedNow(next), face };
    }
  }
}

/** Those of some elements that are in the mesh; an edge may be given by any corner along it. */
function present(m: PolyMesh, on: ElementKind, ids: Iterable<number>): Set<number> {
  const { edge, edgeCorner } = topologyOf(m);
  const most = on === 'face' ? faceCount(m) : m.positions.length / 3;
  const out = new Set<number>();
  for (const x of ids) {
    if (on !== 'edge') {
      if (x >= 0 && x < most) out.add(x);
    } else if (edge[x] !== undefined) out.add(edgeCorner[edge[x]]!);
  }
  return out;
}

function joinedBy(now: Set<number>, list: readonly number[], how: Joins): Set<number> {
  if (how === 'only') now.clear();
  for (const x of list) {
    if (how === 'drop') now.delete(x);
    else now.add(x);
  }
  return now;
}

const sorted = (ids: Iterable<number>): Int32Array => Int32Array.from(ids).sort();

/** All elements of a kind; vertices that no face uses are left out. */
export function elementsOf(m: PolyMesh, on: ElementKind): number[] {
  if (on === 'face') return Array.from({ length: faceCount(m) }, (_, f) => f);
  return on === 'edge' ? [...topologyOf(m).edgeCorner] : [...new Set(m.corners)].sort((a, b) => a - b);
}

/** The element of a face nearest to a place on it, mm. */
export function elementAt(m: PolyMesh, on: ElementKind, f: number, p: Vec3): number {
  if (on === 'face') return f;
  const t = topologyOf(m);
  const at = (v: number): Vec3 => vertexPlace(m, v);
  let [best, least] = [-1, Infinity];
  for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
    const a = at(m.corners[c]!);
    const d = on === 'vertex' ? lengthOf(sub(p, a)) : nearestOn(p, a, at(m.corners[t.next[c]!]!)).distance;
    if (d < least) [best, least] = [c, d];
  }
  return on === 'vertex' ? m.corners[best]! : t.edgeCorner[t.edge[best]!]!;
}

/**
 * The edge or vertex of some faces that looks nearest to a line of sight, by its angle from there; none where they have
 * none before the eye. Of faces the first.
 */
function aimedAt(
  m: PolyMesh,
  on: ElementKind,
  { faces, from, along }: { faces: readonly number[]; from: Vec3; along: Vec3 },
): number[] {
  if (on === 'face') return faces.slice(0, 1);
  const t = topologyOf(m);
  /** Square to the line of sight per length along it; nothing behind the eye. */
  const off = (p: Vec3): number => {
    const v = sub(p, from);
    const depth = dot(v, along);
    return depth > 0 ? lengthOf(sub(v, scaled(along, depth))) / depth : Infinity;
  };
  let [best, least] = [-1, Infinity];
  for (const f of new Set(faces))
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      const a = vertexPlace(m, m.corners[c]!);
      const d = on === 'vertex' ? off(a) : off(nearestToRay(a, vertexPlace(m, m.corners[t.next[c]!]!), from, along));
      if (d < least) [best, least] = [c, d];
    }
  if (best < 0) return [];
  return [on === 'vertex' ? m.corners[best]! : edgeAt(m, best)];
}

/** The place of the stretch from a to b that is nearest to a line. */
function nearestToRay(a: Vec3, b: Vec3, from: Vec3, along: Vec3): Vec3 {
  const e = sub(b, a);
  const w = sub(a, from);
  const [ee, ed, ew, dw] = [dot(e, e), dot(e, along), dot(e, w), dot(along, w)];
  const slope = ee - ed * ed;
  // An edge along the line of sight is as near at each of its places.
  const share = slope > 0 ? Math.max(0, Math.min(1, (ed * dw - ew) / slope)) : 0;
  return add(a, e, share);
}

/** What is picked, and all that shares a vertex with it (of faces and edges), or an edge (of vertices). */
function grown(m: PolyMesh, on: ElementKind, ids: ReadonlySet<number>): Set<number> {
  const t = topologyOf(m);
  const vertices = new Set<number>();
  for (const x of ids) for (const v of verticesOfElement(m, on, x)) vertices.add(v);
  const out = new Set(ids);
  for (let c = 0; c < m.corners.length; c++) {
    const next = t.next[c]!;
    const [u, v] = [vertices.has(m.corners[c]!), vertices.has(m.corners[next]!)];
    if (!u && !v) continue;
    if (on === 'face') out.add(t.face[c]!);
    else if (on === 'edge') out.add(t.edgeCorner[t.edge[c]!]!);
    else out.add(m.corners[c]!).add(m.corners[next]!);
  }
  return out;
}

/** A pick for the page: lines, points and figures. */
export interface PickShape {
  /** Pairs of points, mm: edges, or the boundaries of faces. */
  lines: Float64Array;
  /** Of vertices, their places, mm. */
  points: Float64Array;
  /** Length of all edges, mm, or area of all faces, mm²; 0 of vertices. */
  amount: number;
}

const sumOf = (values: Float64Array, ids: Int32Array): number => ids.reduce((s, x) => s + values[x]!, 0);

/** Lines and points that show a pick. */
export function pickShape(m: PolyMesh, on: ElementKind, ids: Int32Array): PickShape {
  const t = topologyOf(m);
  const at = (v: number) => m.positions.subarray(3 * v, 3 * v + 3);
  if (on === 'vertex') {
    const points = new Float64Array(3 * ids.length);
    ids.forEach((v, i) => points.set(at(v), 3 * i));
    return { lines: new Float64Array(0), points, amount: 0 };
  }
  const corners =
    on === 'edge'
      ? [...ids]
      : [...ids].flatMap((f) => Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) => faceBegin(m, f) + i));
  const lines = new Float64Array(6 * corners.length);
  let length = 0;
  corners.forEach((c, i) => {
    const [a, b] = [at(m.corners[c]!), at(m.corners[t.next[c]!]!)];
    lines.set(a, 6 * i);
    lines.set(b, 6 * i + 3);
    length += Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!, a[2]! - b[2]!);
  });
  const amount = on === 'edge' ? length : ids.length ? sumOf(faceAreas(m), ids) : 0;
  return { lines, points: new Float64Array(0), amount };
}
