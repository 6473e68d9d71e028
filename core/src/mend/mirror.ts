import {
  cross,
  dot,
  faceCount,
  joinMeshes,
  lengthOf,
  MasonError,
  sub,
  topologyOf,
  transformMesh,
  unit,
  vertexCount,
  type NewCorner,
  type PolyMesh,
  type Vec3,
  vertexPlace,
  type OpResult,
} from '../mesh/index.ts';
import { fill } from './fill.ts';
import { mergeVertices } from './merge.ts';
import { MeshEdit } from './meshEdit.ts';
import { between, cutFaces, putIntoEdges } from './split.ts';

/** A plane: unit normal and how far it is from the origin along it, mm. */
export interface Plane {
  normal: Vec3;
  at: number;
}

/** The plane through three places; throws `bad-input` where they lie on one line. */
export function planeThroughPoints([a, b, c]: readonly [Vec3, Vec3, Vec3]): Plane {
  const n = cross(sub(b, a), sub(c, a));
  if (!(lengthOf(n) > 1e-9 * lengthOf(sub(b, a)) * lengthOf(sub(c, a))))
    throw new MasonError('bad-input', 'The three points lie on one line, so they define no plane. Pick another one.');
  const normal = unit(n);
  return { normal, at: dot(normal, a) };
}

/** Vertices nearer to the plane than this share of the part's size are on it. */
const ON_PLANE = 1e-9;

const off = (p: Vec3, { normal: n, at }: Plane): number => p[0] * n[0] + p[1] * n[1] + p[2] * n[2] - at;

/** The mesh with all vertices within a distance of a plane put onto it, but some. */
function snapped(
  m: PolyMesh,
  plane: Plane,
  within: number,
  but: ReadonlySet<number>,
): { mesh: PolyMesh; snapped: number; furthest: number; lines: number[] } {
  const e = new MeshEdit(m);
  const lines: number[] = [];
  let [count, furthest] = [0, 0];
  const used = new Set(m.corners);
  for (let v = 0; v < vertexCount(m); v++) {
    const p = e.at(v);
    const d = off(p, plane);
    if (d === 0 || Math.abs(d) > within || !used.has(v) || but.has(v)) continue;
    const q: Vec3 = [p[0] - d * plane.normal[0], p[1] - d * plane.normal[1], p[2] - d * plane.normal[2]];
    e.move(v, q);
    lines.push(...p, ...q);
    furthest = Math.max(furthest, Math.abs(d));
    count++;
  }
  return { mesh: count ? e.done() : m, snapped: count, furthest, lines };
}

export interface SplitAtPlaneOptions {
  plane: Plane;
  /** Size of the part, mm: tolerances go by it. */
  size: number;
}

export interface SplitAtPlaneReport {
  /** Faces that were cut. */
  cut: number;
}

/**
 * The mesh with every face that a plane goes through cut along it. Vertices that are nearly on it count as on it.
 *
 * @example
 * const { mesh } = splitAtPlane(box(10, 10, 10), { plane: { normal: [0, 0, 1], at: 0 }, size: 10 });
 */
export function splitAtPlane(m: PolyMesh, { plane, size }: SplitAtPlaneOptions): OpResult<SplitAtPlaneReport> {
  const e = new MeshEdit(m);
  const t = topologyOf(m);
  const zero = ON_PLANE * size;
  const side = Int8Array.from({ length: vertexCount(m) }, (_, v) => {
    const d = off(e.at(v), plane);
    return Math.abs(d) <= zero ? 0 : Math.sign(d);
  });
  const places = new Map<number, number[]>();
  const on = new Set<number>();
  side.forEach((s, v) => s === 0 && on.add(v));
  for (const c of t.edgeCorner) {
    const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
    if (side[a]! * side[b]! >= 0) continue;
    const [p, q] = [e.at(a), e.at(b)];
    const [da, db] = [off(p, plane), off(q, plane)];
    const v = e.vertex(between(p, q, da / (da - db)));
    places.set(t.edge[c]!, [v]);
    on.add(v);
  }
  putIntoEdges(e, places);
  const chords: { face: number; from: number; to: number }[] = [];
  for (let f = 0; f < faceCount(m); f++) {
    const corners = e.now(f)[0]!.boundaries;
    const all = corners.flat();
    if (!all.some((c) => side[c.vertex] === 1) || !all.some((c) => side[c.vertex] === -1)) continue;
    chords.push(...chordsOf(e, f, corners, on));
  }
  cutFaces(e, chords);
  return { mesh: e.done(), report: { cut: new Set(chords.map((c) => c.face)).size } };
}

/**
 * Where the plane goes through the inside of a face: between neighbours along it of the places where its boundaries are
 * on the plane.
 */
function chordsOf(
  e: MeshEdit,
  f: number,
  boundaries: readonly (readonly NewCorner[])[],
  on: ReadonlySet<number>,
): { face: number; from: number; to: number }[] {
  const places = [...new Set(boundaries.flat().flatMap((c) => (on.has(c.vertex) ? [c.vertex] : [])))];
  if (places.length < 2) return [];
  const [p, q] = furthestPair(places.map((v) => e.at(v)));
  const along = (v: number) => e.at(v).reduce((s, x, k) => s + (x - p[k]!) * (q[k]! - p[k]!), 0);
  const list = places.sort((a, b) => along(a) - along(b));
  return list
    .slice(1)
    .flatMap((to, i) =>
      insideBetween(e, boundaries, e.at(list[i]!), e.at(to), f) ? [{ face: f, from: list[i]!, to }] : [],
    );
}

function furthestPair(list: readonly Vec3[]): [Vec3, Vec3] {
  const far = (a: Vec3, b: Vec3) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  const a = list.reduce((x, y) => (far(y, list[0]!) > far(x, list[0]!) ? y : x));
  return [a, list.reduce((x, y) => (far(y, a) > far(x, a) ? y : x))];
}

/** Whether the middle between two places of a face's boundaries lies within the face. */
function insideBetween(
  e: MeshEdit,
  boundaries: readonly (readonly NewCorner[])[],
  a: Vec3,
  b: Vec3,
  f: number,
): boolean {
  const [place] = e.flatPoints(f, [between(a, b, 0.5)]);
  let inside = false;
  for (const loop of boundaries) {
    const ring = e.flat(f, loop);
    for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
      const [p, q] = [ring[i]!, ring[j]!];
      if (
        p[1] > place![1] !== q[1] > place![1] &&
        place![0] < ((q[0] - p[0]) * (place![1] - p[1])) / (q[1] - p[1]) + p[0]
      )
        inside = !inside;
    }
  }
  return inside;
}

/** The faces on one side of a plane that no face crosses. */
function sideOf(m: PolyMesh, f: number, plane: Plane): number {
  let most = 0;
  for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) {
    const v = 3 * m.corners[c]!;
    const d = off([m.positions[v]!, m.positions[v + 1]!, m.positions[v + 2]!], plane);
    if (Math.abs(d) > Math.abs(most)) most = d;
  }
  return most;
}

export interface CutWithPlaneOptions extends SplitAtPlaneOptions {
  keep: 'both' | 'above' | 'below';
  /** Whether openings left by the removed side are closed. */
  cap: boolean;
  /** The course that lids are marked with; 0 for none. */
  course?: number;
}

export interface CutWithPlaneReport extends SplitAtPlaneReport {
  /** Openings that were closed. */
  capped: number;
}

/**
 * Cuts a part with a plane: both sides stay, parted by edges, or one goes, and is closed or left open. Faces in the
 * plane itself go with the side that is taken away.
 *
 * @example
 * const { mesh } = cutWithPlane(box(10, 10, 10), { plane: { normal: [0, 0, 1], at: 0 }, size: 10, keep: 'above', cap: true });
 */
export function cutWithPlane(
  m: PolyMesh,
  { plane, size, keep, cap, course = 0 }: CutWithPlaneOptions,
): OpResult<CutWithPlaneReport> {
  const split = splitAtPlane(m, { plane, size });
  if (keep === 'both') return { mesh: split.mesh, report: { ...split.report, capped: 0 } };
  const wanted = keep === 'above' ? 1 : -1;
  const zero = ON_PLANE * size;
  const e = new MeshEdit(split.mesh);
  for (let f = 0; f < faceCount(split.mesh); f++) {
    const d = sideOf(split.mesh, f, plane);
    if (Math.abs(d) <= zero || Math.sign(d) !== wanted) e.remove(f);
  }
  const left = e.done();
  if (!left.corners.length)
    throw new MasonError(
      'bad-input',
      'Nothing of the part is on the side that is kept. Keep the other one, or move the plane.',
    );
  if (!cap) return { mesh: left, report: { cut: split.report.cut, capped: 0 } };
  const t = topologyOf(left);
  const open = [...t.edgeCorner].filter((c) => {
    if (t.opposite[c]! >= 0) return false;
    return [left.corners[c]!, left.corners[t.next[c]!]!].every(
      (v) => Math.abs(off(vertexPlace(left, v), plane)) <= zero,
    );
  });
  const { mesh, filled } = capped(left, open, plane, course);
  return { mesh, report: { cut: split.report.cut, capped: filled } };
}

/** Closes the openings that lie in a plane: boundaries within others become holes of the face round them. */
function capped(
  m: PolyMesh,
  open: readonly number[],
  plane: Plane,
  course: number,
): { mesh: PolyMesh; filled: number } {
  const filled = fill(m, { edges: open, way: 'face', across: 0, shift: 0, course });
  const n = faceCount(m);
  const made = filled.mesh;
  const lids = Array.from({ length: filled.report.faces }, (_, i) => n + i);
  if (lids.length < 2) return { mesh: made, filled: lids.length };
  // Lids that look the other way than the largest are holes of it, or of another one that they lie in.
  const e = new MeshEdit(made);
  const area = (f: number): number => {
    const ring = e.boundaries(f)[0]!.map((c) => e.at(c.vertex));
    const n3 = ring.reduce<Vec3>(
      (s, p, i) => {
        const q = ring[(i + 1) % ring.length]!;
        return [s[0] + p[1] * q[2] - p[2] * q[1], s[1] + p[2] * q[0] - p[0] * q[2], s[2] + p[0] * q[1] - p[1] * q[0]];
      },
      [0, 0, 0],
    );
    return n3[0] * plane.normal[0] + n3[1] * plane.normal[1] + n3[2] * plane.normal[2];
  };
  const areas = new Map(lids.map((f) => [f, area(f)]));
  const largest = lids.reduce((a, b) => (Math.abs(areas.get(b)!) > Math.abs(areas.get(a)!) ? b : a));
  const outer = lids
    .filter((f) => Math.sign(areas.get(f)!) === Math.sign(areas.get(largest)!))
    .sort((a, b) => Math.abs(areas.get(a)!) - Math.abs(areas.get(b)!));
  const holes = lids.filter((f) => !outer.includes(f));
  const loops = new Map(outer.map((f) => [f, [e.boundaries(f)[0]!]]));
  for (const h of holes) {
    const loop = e.boundaries(h)[0]!;
    const p = e.at(loop[0]!.vertex);
    const around = outer.find((f) => insideBetween(e, [e.boundaries(f)[0]!], p, p, f)) ?? largest;
    loops.get(around)!.push(loop);
    e.remove(h);
  }
  for (const [f, boundaries] of loops) e.replace(f, [{ from: f, boundaries }]);
  return { mesh: e.done(), filled: outer.length };
}

export interface MirrorHalfReport {
  /** Vertices that were put onto the plane, and the furthest of them, mm. */
  snapped: number;
  furthest: number;
  /** Vertices within the threshold that face others across the plane: they would wrongly merge, so they keep apart. */
  doubtful: number;
  /** From where to where vertices went, mm. */
  lines: number[];
}

export interface MirrorHalfOptions extends SplitAtPlaneOptions {
  /** Which side stays, and is mirrored onto the other. */
  keep: 'above' | 'below';
  /** Vertices nearer to the plane than this are put onto it, mm. */
  threshold: number;
}

/**
 * One half over the other: the part is cut along a plane, the side that is not kept goes, and what is kept is repeated
 * in the mirror. Vertices of the half within the threshold of the plane are put onto it first and shared by both
 * halves; others never merge.
 *
 * @example
 * const { mesh } = mirrorHalf(box(10, 10, 10), { plane: { normal: [1, 0, 0], at: 0 }, size: 10, keep: 'above', threshold: 0.01 });
 */
export function mirrorHalf(
  m: PolyMesh,
  { plane, size, keep, threshold }: MirrorHalfOptions,
): OpResult<MirrorHalfReport> {
  const doubtful = acrossPlane(m, plane, threshold);
  const { mesh: near, snapped: count, furthest, lines } = snapped(m, plane, threshold, doubtful);
  const zero = ON_PLANE * size;
  // What is shared by both halves is on the plane to the last digit.
  const half = snapped(cutWithPlane(near, { plane, size, keep, cap: false }).mesh, plane, zero, new Set()).mesh;
  const [x, y, z] = plane.normal;
  // x' = x − 2 (n·x − at) n
  const turn = [
    1 - 2 * x * x,
    -2 * x * y,
    -2 * x * z,
    2 * plane.at * x,
    -2 * y * x,
    1 - 2 * y * y,
    -2 * y * z,
    2 * plane.at * y,
    -2 * z * x,
    -2 * z * y,
    1 - 2 * z * z,
    2 * plane.at * z,
  ];
  const other = transformMesh(half, turn);
  const n = vertexCount(half);
  const both = joinMeshes([half, other]);
  const into = Int32Array.from({ length: 2 * n }, (_, v) => v);
  for (let v = 0; v < n; v++) if (Math.abs(off(vertexPlace(half, v), plane)) <= zero) into[n + v] = v;
  return {
    mesh: mergeVertices(both, { into }).mesh,
    report: { snapped: count, furthest, doubtful: doubtful.size, lines },
  };
}

/**
 * Vertices within the threshold that stand across the plane from others within it: put onto the plane they would become
 * one.
 */
function acrossPlane(m: PolyMesh, plane: Plane, threshold: number): Set<number> {
  const at = (v: number): Vec3 => vertexPlace(m, v);
  const near = [...new Set(m.corners)].filter(
    (v) => off(at(v), plane) !== 0 && Math.abs(off(at(v), plane)) <= threshold,
  );
  const out = new Set<number>();
  const reach = 2 * threshold;
  const cell = (p: Vec3) => p.map((x) => Math.floor(x / reach)) as [number, number, number];
  const cells = new Map<string, number[]>();
  for (const v of near) {
    const name = cell(at(v)).join();
    cells.set(name, [...(cells.get(name) ?? []), v]);
  }
  for (const v of near) {
    const [i, j, k] = cell(at(v));
    for (let a = -1; a < 2; a++)
      for (let b = -1; b < 2; b++)
        for (let c = -1; c < 2; c++)
          for (const w of cells.get(`${i + a},${j + b},${k + c}`) ?? [])
            if (off(at(v), plane) * off(at(w), plane) < 0 && Math.hypot(...at(v).map((x, n) => x - at(w)[n]!)) <= reach)
              out.add(v);
  }
  return out;
}

export interface SymmetrizeReport {
  /** Vertices that found their partner, or lie on the plane; and those that did not, with their places, mm. */
  paired: number;
  unpaired: number;
  places: number[];
  /** How far the furthest went, mm. */
  furthest: number;
}

export interface SymmetrizeOptions {
  plane: Plane;
  /** Partners are looked for within this, mm. */
  within: number;
}

/**
 * Makes a nearly symmetric part symmetric: each vertex and the one nearest to its mirror image, where they are each
 * other's, go half of the way; those on the plane go onto it. What has no partner stays, and is counted.
 *
 * @example
 * const { mesh, report } = symmetrize(box(10, 10, 10), { plane: { normal: [1, 0, 0], at: 0 }, within: 0.1 });
 */
export function symmetrize(m: PolyMesh, { plane, within }: SymmetrizeOptions): OpResult<SymmetrizeReport> {
  const e = new MeshEdit(m);
  const used = [...new Set(m.corners)];
  const image = (p: Vec3): Vec3 => {
    const d = 2 * off(p, plane);
    return [p[0] - d * plane.normal[0], p[1] - d * plane.normal[1], p[2] - d * plane.normal[2]];
  };
  const cell = (p: Vec3) => p.map((x) => Math.floor(x / within));
  const cells = new Map<string, number[]>();
  for (const v of used) {
    const name = cell(e.at(v)).join();
    cells.set(name, [...(cells.get(name) ?? []), v]);
  }
  const partner = new Map<number, number>();
  for (const v of used) {
    const q = image(e.at(v));
    const [i, j, k] = cell(q) as [number, number, number];
    let [best, least] = [-1, within];
    for (let a = -1; a < 2; a++)
      for (let b = -1; b < 2; b++)
        for (let c = -1; c < 2; c++)
          for (const w of cells.get(`${i + a},${j + b},${k + c}`) ?? []) {
            const p = e.at(w);
            const d = Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
            if (d <= least) [best, least] = [w, d];
          }
    if (best >= 0) partner.set(v, best);
  }
  let [paired, furthest] = [0, 0];
  const places: number[] = [];
  const to = new Map<number, Vec3>();
  for (const v of used) {
    const w = partner.get(v);
    if (w === undefined || partner.get(w) !== v) {
      places.push(...e.at(v));
      continue;
    }
    paired++;
    const q = image(e.at(w));
    to.set(v, between(e.at(v), q, 0.5));
  }
  for (const [v, p] of to) {
    // Both of a pair are images of each other to the last digit: the later one is derived from the earlier.
    const w = partner.get(v)!;
    const exact = w < v ? image(to.get(w)!) : v === w ? onto(p, plane) : p;
    furthest = Math.max(furthest, Math.hypot(...exact.map((x, k) => x - e.at(v)[k]!)));
    to.set(v, exact);
  }
  for (const [v, p] of to) e.move(v, p);
  return { mesh: e.done(), report: { paired, unpaired: used.length - paired, places, furthest } };
}

function onto(p: Vec3, plane: Plane): Vec3 {
  const d = off(p, plane);
  return [p[0] - d * plane.normal[0], p[1] - d * plane.normal[1], p[2] - d * plane.normal[2]];
}
