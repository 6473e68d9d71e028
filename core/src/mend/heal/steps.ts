import {
  samePlaces,
  Bvh,
  faceBegin,
  faceCount,
  faceEnd,
  lengthOf,
  nearestOn,
  sizeOf,
  SpatialIndex,
  sub,
  takeFaces,
  topologyOf,
  UNPAIRED,
  vertexCount,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../../mesh/index.ts';
import { findings, Looked, shells, sidesOf, type RuleName } from '../../survey/index.ts';
import { deleteFaces } from '../dissolve.ts';
import { mergeVertices, weld } from '../merge.ts';
import { MeshEdit } from '../meshEdit.ts';
import { orient } from '../orient.ts';
import { putIntoEdges } from '../split.ts';

// The steps that bring a damaged mesh to a sound one, each by itself: what it did, in a number.

export interface Step {
  mesh: PolyMesh;
  done: number;
}

/** Places nearer to each other than this share of the size are one. */
export const EXACT = 1e-9;

const at = (m: PolyMesh, v: number): Vec3 => vertexPlace(m, v);

/** What the survey finds by one rule. */
const found = (m: PolyMesh, rule: RuleName): Int32Array => findings(m, { rules: [rule] })[0]?.ids ?? new Int32Array(0);

/** Corners of open edges. */
export function openCorners(m: PolyMesh): number[] {
  const t = topologyOf(m);
  return [...m.corners.keys()].filter((c) => t.sameEdge[c] === c);
}

function welded(m: PolyMesh, vertices: Iterable<number>, distance: number): Step {
  const r = weld(m, { vertices, distance, detail: 0, spare: false, seams: true });
  return { mesh: r.report.merged ? r.mesh : m, done: r.report.merged };
}

/** Makes vertices at one and the same place one. Linear: they are found by a hash of their coordinates. */
export function weldExact(m: PolyMesh): Step {
  const n = vertexCount(m);
  // Added to 0, so that −0 is 0.
  const { of } = samePlaces(m.positions.map((x) => x + 0));
  const first = new Int32Array(n).fill(-1);
  const into = new Int32Array(n);
  let done = 0;
  for (let v = 0; v < n; v++) {
    const place = of[v]!;
    if (first[place]! < 0) first[place] = v;
    else done++;
    into[v] = first[place]!;
  }
  if (!done) return { mesh: m, done };
  const { next } = topologyOf(m);
  const corners = m.corners.map((v) => into[v]!);
  // Only where an edge would have no length faces change.
  const plain = corners.every((v, c) => v !== corners[next[c]!]);
  return { mesh: plain ? takeFaces({ ...m, corners }, () => true) : mergeVertices(m, { into }).mesh, done };
}

/** Makes vertices of open edges one that are within a tolerance, mm: cracks close. */
export function stitch(m: PolyMesh, tolerance: number): Step {
  const t = topologyOf(m);
  const vertices = new Set(openCorners(m).flatMap((c) => [m.corners[c]!, m.corners[t.next[c]!]!]));
  return vertices.size && tolerance > 0 ? welded(m, vertices, tolerance) : { mesh: m, done: 0 };
}

/** Takes out faces over the same vertices as another one. */
export function dropDoubled(m: PolyMesh): Step {
  const ids = found(m, 'duplicateFaces');
  return ids.length ? { mesh: deleteFaces(m, { faces: new Set(ids) }).mesh, done: ids.length } : { mesh: m, done: 0 };
}

/**
 * Puts vertices of open edges into the open edges that they lie on, within a tolerance, mm; so that both sides have the
 * same vertices.
 */
export function joinSides(m: PolyMesh, tolerance: number): Step {
  const t = topologyOf(m);
  const open = openCorners(m);
  const vertices = [...new Set(open.flatMap((c) => [m.corners[c]!, m.corners[t.next[c]!]!]))];
  const boxes = Float64Array.from(
    { length: 6 * vertices.length },
    (_, i) => m.positions[3 * vertices[Math.floor(i / 6)]! + (i % 3)]!,
  );
  const tree = new Bvh(
    boxes,
    Int32Array.from(vertices, (_, i) => i),
  );
  const places = new Map<number, number[]>();
  let done = 0;
  for (const c of open) {
    const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
    const [p, q] = [at(m, a), at(m, b)];
    const way = sub(q, p);
    const long = lengthOf(way);
    if (!(long > 0)) continue;
    const on: { v: number; share: number }[] = [];
    tree.ray(p, way, tolerance, (i) => {
      const v = vertices[i]!;
      if (v === a || v === b) return false;
      const { share, distance } = nearestOn(at(m, v), p, q);
      if (distance <= tolerance && share * long > tolerance && (1 - share) * long > tolerance) on.push({ v, share });
      return false;
    });
    if (!on.length) continue;
    places.set(
      t.edge[c]!,
      on.sort((x, y) => x.share - y.share).map((x) => x.v),
    );
    done += on.length;
  }
  if (!done) return { mesh: m, done };
  const e = new MeshEdit(m);
  putIntoEdges(e, places);
  return { mesh: e.done(), done };
}

/**
 * Takes out walls within a body, and fins: pieces between edges of three faces or more that lie within what the others
 * enclose, and pieces that hang on such edges and end in the open.
 */
export function dropInnerWalls(m: PolyMesh): Step {
  let mesh = m;
  let done = 0;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const l = new Looked(mesh);
    if (!l.edges.odd.length) break;
    const gone = new Set(wallPiece(l) ?? []);
    if (!gone.size) break;
    if (gone.size === faceCount(mesh)) break;
    mesh = deleteFaces(mesh, { faces: gone }).mesh;
    done += gone.size;
  }
  return { mesh, done };
}
/** Pieces are taken out one a round; this bounds the work on a heap of them. */
const MOST_ROUNDS = 200;

/**
 * Of the pieces between edges with three faces one that is a fin or a wall within the others; null where there is none.
 */
function wallPiece(l: Looked): number[] | null {
  const { mesh: m, topology: t } = l;
  const { piece, pieces } = sidesOf(l);
  if (pieces < 2) return null;
  const members = Array.from({ length: pieces }, (): number[] => []);
  const [odd, open] = [new Uint8Array(pieces), new Uint8Array(pieces)];
  for (let f = 0; f < faceCount(m); f++) {
    members[piece[f]!]!.push(f);
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      if (t.sameEdge[c] === c) open[piece[f]!] = 1;
      else if (t.sameEdge[t.sameEdge[c]!] !== c) odd[piece[f]!] = 1;
    }
  }
  // The smallest first: a wall is less than the body round it, which stays.
  const area = members.map((list) => list.reduce((s, f) => s + l.areas[f]!, 0));
  const order = [...members.keys()]
    .sort((a, b) => area[a]! - area[b]!)
    .slice(0, -1)
    .filter((k) => odd[k]);
  const fin = order.find((k) => open[k]);
  if (fin !== undefined) return members[fin]!;
  for (const k of order) {
    const rest = takeFaces(m, (f) => piece[f] !== k);
    if (isWithin(rest, middleOfFace(m, members[k]![0]!))) return members[k]!;
  }
  return null;
}

function middleOfFace(m: PolyMesh, f: number): Vec3 {
  const [begin, end] = [m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f]! + 1]!];
  const sum = [0, 0, 0];
  for (let c = begin; c < end; c++) at(m, m.corners[c]!).forEach((x, k) => (sum[k]! += x / (end - begin)));
  return sum as unknown as Vec3;
}

/** Directions that no part is likely to have an edge along. */
const WAYS: readonly Vec3[] = [
  [0.5773, 0.2113, 0.7887],
  [-0.7071, 0.6124, 0.3536],
  [0.1345, -0.8919, -0.4318],
];

/**
 * Whether a place is within what a mesh encloses, whichever way its faces look: most rays from it meet the surface an
 * odd number of times.
 */
export function isWithin(m: PolyMesh, p: Vec3): boolean {
  if (!m.corners.length) return false;
  const index = new SpatialIndex(m);
  const step = EXACT * sizeOf(m) * 10;
  const odd = WAYS.filter((way) => {
    let from = p;
    let count = 0;
    for (; count < 10_000; count++) {
      const hit = index.raycast(from, way);
      if (!hit) break;
      from = hit.point.map((x, k) => x + step * way[k]!) as unknown as Vec3;
    }
    return count % 2 === 1;
  });
  return odd.length > 1;
}

/**
 * Takes out bodies within a body: shells in another one that look the same way as the outermost does. Hollows look the
 * other way, and stay.
 */
export function dropInnerShells(m: PolyMesh): Step {
  const l = new Looked(orient(m, { way: 'consistent' }).mesh);
  const { of } = l.pieces;
  const list = shells(l);
  const outer = list.find((s) => s.depth === 0);
  if (!outer) return { mesh: m, done: 0 };
  const within = list.filter(({ shell, depth }) => depth % 2 === 1 && shell.volume > 0 === outer.shell.volume > 0);
  const pieces = new Set(within.map(({ shell }) => of[shell.face]!));
  if (!pieces.size) return { mesh: m, done: 0 };
  return {
    mesh: deleteFaces(m, {
      faces: new Set(Array.from({ length: faceCount(m) }, (_, f) => f).filter((f) => pieces.has(of[f]!))),
    }).mesh,
    done: pieces.size,
  };
}

/**
 * Parts vertices so that each has one fan of faces: those that joined pieces at a point alone, and those of edges with
 * four faces or more, whose faces are paired by the angle between them, each with its neighbour across the lesser wedge
 * of material.
 */
export function partFans(m: PolyMesh): Step {
  const t = topologyOf(m);
  const mate = Int32Array.from(t.opposite);
  for (const first of t.edgeCorner) {
    if (t.opposite[first] !== UNPAIRED) continue;
    const other = t.sameEdge[first]!;
    // Two that run the same way are turned later.
    if (t.sameEdge[other] === first) [mate[first], mate[other]] = [other, first];
    else pairRound(m, first, mate);
  }
  // Corners at a vertex that are reached from each other across paired edges stay together.
  const n = m.corners.length;
  const root = Int32Array.from({ length: n }, (_, c) => c);
  const find = (c: number): number => {
    while (root[c] !== c) c = root[c] = root[root[c]!]!;
    return c;
  };
  for (let c = 0; c < n; c++) {
    const o = mate[c]!;
    if (o < 0) continue;
    // Where a mate runs back, its next corner is at the vertex that this corner leaves.
    const back = m.corners[o] !== m.corners[c];
    root[find(c)] = find(back ? t.next[o]! : o);
    root[find(t.next[c]!)] = find(back ? o : t.next[o]!);
  }
  const number = new Map<number, number>();
  const owner = new Int32Array(vertexCount(m)).fill(-1);
  const places: number[] = [];
  let done = 0;
  const corners = m.corners.map((v, c) => {
    const r = find(c);
    const known = number.get(r);
    if (known !== undefined) return known;
    if (owner[v]! < 0) {
      owner[v] = r;
      number.set(r, v);
      return v;
    }
    places.push(...at(m, v));
    done++;
    const made = vertexCount(m) + places.length / 3 - 1;
    number.set(r, made);
    return made;
  });
  if (!done) return { mesh: m, done };
  const positions = new Float64Array(m.positions.length + places.length);
  positions.set(m.positions);
  positions.set(places, m.positions.length);
  return { mesh: { ...m, positions, corners }, done };
}

/**
 * Pairs the faces round an edge with four or more: by their angles about it, each corner that runs one way with the
 * next that runs the other.
 */
function pairRound(m: PolyMesh, first: number, mate: Int32Array): void {
  const t = topologyOf(m);
  const list = [first];
  for (let o = t.sameEdge[first]!; o !== first; o = t.sameEdge[o]!) list.push(o);
  if (list.length % 2) return;
  const [a, b] = [at(m, m.corners[first]!), at(m, m.corners[t.next[first]!]!)];
  const way = [0, 1, 2].map((k) => b[k]! - a[k]!);
  const l = Math.hypot(...way);
  const u = way.map((x) => x / (l || 1));
  // Where the face goes from the edge: to the middle of its boundary, less what is along the edge.
  const off = (c: number) => {
    const p = middleOfFace(m, t.face[c]!).map((x, k) => x - a[k]!);
    const along = p.reduce((s, x, k) => s + x * u[k]!, 0);
    return p.map((x, k) => x - along * u[k]!);
  };
  const x = off(first);
  const y = [u[1]! * x[2]! - u[2]! * x[1]!, u[2]! * x[0]! - u[0]! * x[2]!, u[0]! * x[1]! - u[1]! * x[0]!];
  const dot = (p: readonly number[], q: readonly number[]) => p.reduce((s, v, k) => s + v * q[k]!, 0);
  const sorted = list
    .map((c) => ({ c, angle: Math.atan2(dot(off(c), y), dot(off(c), x)), forward: m.corners[c] === m.corners[first] }))
    .sort((p, q) => p.angle - q.angle);
  // Round the edge, material begins at a face that runs back, and ends at the next one that runs forward.
  const n = sorted.length;
  for (let i = 0; i < n; i++) {
    const [p, q] = [sorted[i]!, sorted[(i + 1) % n]!];
    if (p.forward || !q.forward) continue;
    mate[p.c] = q.c;
    mate[q.c] = p.c;
  }
}
