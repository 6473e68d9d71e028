import {
  boundaryBend,
  faceBegin,
  faceBend,
  faceCount,
  faceEnd,
  faceNormals,
  facePlane,
  sizeOf,
  topologyOf,
  vertexCorners,
  vertexCount,
  type PolyMesh,
  type Vec3,
  vertexPlace,
  type OpResult,
  pairsThatMeet,
} from '../mesh/index.ts';
import { findings } from '../survey/index.ts';
import { dissolveEdges, dissolveVertices } from './dissolve.ts';
import { closeFlatFaces } from './flatFaces.ts';
import { mergeVertices, seamVertices } from './merge.ts';

/** Places off a plane by less than this share of the size are on it. */
const ON_PLANE = 1e-9;
/** Faces whose normals lean by less than this (1 − cosine) are one flat. */
const ONE_FLAT = 1e-10;
/** Edges shorter than this share of the size are tiny, where no tolerance is typed. */
const TINY = 1e-4;
/** Rounds of collapsing: each takes edges that have no face in common. */
const MOST_ROUNDS = 16;

export interface TidyReport {
  /** The tolerance that it went by, mm. */
  tolerance: number;
  /**
   * Vertices in straight runs that were taken out; tiny edges that were collapsed; narrow faces that became part of the
   * flat beside them.
   */
  straight: number;
  collapsed: number;
  narrow: number;
  /** Tiny edges that stay: both ends are of a seam, or a face would not stay flat. */
  left: number;
}

export interface TidyOptions {
  wanted: (vertex: number) => boolean;
  /** mm; 0 for what suits the size of the part. */
  tolerance: number;
}

/**
 * Removes what cuts leave behind: vertices in the middle of straight runs, edges shorter than a tolerance (mm; 0 for
 * 1e-4 of the size), and faces narrower than it that lie in the flat of a neighbour. Vertices go towards seams, and
 * those stay where they are; a vertex only moves where all its faces stay flat as they were. Only vertices, and faces
 * with all vertices, that are wanted are touched.
 *
 * @example
 * const { mesh, report } = tidy(box(10, 10, 10), { wanted: () => true, tolerance: 0 });
 */
export function tidy(m: PolyMesh, { wanted, tolerance: typed }: TidyOptions): OpResult<TidyReport> {
  const size = sizeOf(m);
  const tolerance = typed > 0 ? typed : TINY * size;
  const report: TidyReport = { tolerance, straight: 0, collapsed: 0, narrow: 0, left: 0 };
  // Found again by place: numbers change on the way, and new elements lie where wanted ones were.
  const all = new Set(
    Array.from({ length: vertexCount(m) }, (_, v) => v)
      .filter(wanted)
      .map((v) => nameOf(m, v)),
  );
  const is = (x: PolyMesh) => (v: number) => all.has(nameOf(x, v));
  let mesh = m;
  /** Places at which a collapse made faces meet: their edges stay. */
  const kept = new Set<string>();
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const on = is(mesh);
    const before = mesh;
    const step = collapseTiny(mesh, (v) => on(v) && !kept.has(nameOf(before, v)), tolerance, size);
    const met = step.collapsed ? meetingAt(step.mesh, step.into) : [];
    if (met.length) {
      for (const place of met) kept.add(place);
      continue;
    }
    mesh = step.mesh;
    report.collapsed += step.collapsed;
    report.left = step.left;
    if (!step.collapsed) break;
  }
  const flat = closeFlatFaces(mesh, { within: ON_PLANE * size, wanted: (p) => all.has(p.join()) });
  mesh = flat.mesh;
  report.narrow += flat.report.closed;
  const thin = joinNarrow(mesh, is(mesh), tolerance, size);
  mesh = thin.mesh;
  report.narrow += thin.joined;
  const on = is(mesh);
  const fixed = seamVertices(mesh);
  const straight = [...(findings(mesh, { rules: ['straightVertices'] })[0]?.ids ?? [])].filter(
    (v) => on(v) && !fixed[v],
  );
  if (straight.length) mesh = dissolveVertices(mesh, { vertices: straight }).mesh;
  report.straight = straight.length;
  return { mesh, report };
}

/** A vertex by its place: its number changes when others go. */
const nameOf = (m: PolyMesh, v: number): string =>
  `${m.positions[3 * v]!},${m.positions[3 * v + 1]!},${m.positions[3 * v + 2]!}`;

/** Those of some places with a face that meets another one. */
function meetingAt(m: PolyMesh, places: ReadonlySet<string>): string[] {
  const at = (f: number) =>
    Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) =>
      nameOf(m, m.corners[faceBegin(m, f) + i]!),
    ).filter((place) => places.has(place));
  const changed = Uint8Array.from({ length: faceCount(m) }, (_, f) => (at(f).length ? 1 : 0));
  return pairsThatMeet(m, { wanted: (f) => changed[f] === 1 })
    .flat()
    .flatMap(at);
}

/**
 * Collapses tiny edges, each towards a seam where one end is on it; edges that share a face wait for the next
 * round.
 */
function collapseTiny(
  m: PolyMesh,
  wanted: (v: number) => boolean,
  tolerance: number,
  size: number,
): { mesh: PolyMesh; collapsed: number; left: number; into: ReadonlySet<string> } {
  const t = topologyOf(m);
  const at = (v: number): Vec3 => vertexPlace(m, v);
  const tiny = [...t.edgeCorner]
    .map((c) => ({ a: m.corners[c]!, b: m.corners[t.next[c]!]! }))
    .map((e) => ({ ...e, long: Math.hypot(...at(e.a).map((x, k) => x - at(e.b)[k]!)) }))
    .filter((e) => e.long < tolerance && wanted(e.a) && wanted(e.b))
    .sort((x, y) => x.long - y.long);
  const places = new Set<string>();
  if (!tiny.length) return { mesh: m, collapsed: 0, left: 0, into: places };
  const fixed = seamVertices(m);
  const around = vertexCorners(m);
  const into = Int32Array.from({ length: vertexCount(m) }, (_, v) => v);
  const touched = new Set<number>();
  let [collapsed, left] = [0, 0];
  for (const { a, b } of tiny) {
    const ways = (
      [
        [a, b],
        [b, a],
      ] as const
    ).filter(([from]) => !fixed[from]);
    const faces = [...new Set([a, b].flatMap((v) => around(v).map((c) => t.face[c]!)))];
    if (faces.some((f) => touched.has(f))) continue;
    const way = ways.find(
      ([from, to]) =>
        staysFlat(
          m,
          around(from).map((c) => t.face[c]!),
          from,
          at(to),
          size,
        ) && linked(m, from, to, around),
    );
    if (!way) {
      left++;
      continue;
    }
    into[way[0]] = way[1];
    places.add(nameOf(m, way[1]));
    for (const f of faces) touched.add(f);
    collapsed++;
  }
  return { mesh: collapsed ? mergeVertices(m, { into }).mesh : m, collapsed, left, into: places };
}

/**
 * Whether faces stay in their planes, and keep their way round, when a vertex of theirs goes to a place. Triangles may
 * turn a little.
 */
function staysFlat(m: PolyMesh, faces: readonly number[], v: number, to: Vec3, size: number): boolean {
  return faces.every((f) => {
    const plane = facePlane(m, f);
    const off = [0, 1, 2].reduce((s, k) => s + plane[k]! * (to[k]! - plane[3 + k]!), 0);
    if (Math.abs(off) > ON_PLANE * size) return false;
    // No corner beside it may turn over.
    const ring = Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) => m.corners[faceBegin(m, f) + i]!);
    const area = (moved: boolean) => {
      let s = 0;
      for (let i = 0; i < ring.length; i++) {
        const [p, q] = [ring[i]!, ring[(i + 1) % ring.length]!].map((w) =>
          (moved && w === v ? to : vertexPlace(m, w)).map((x, k) => x - plane[3 + k]!),
        ) as [number[], number[]];
        s +=
          plane[0]! * (p[1]! * q[2]! - p[2]! * q[1]!) +
          plane[1]! * (p[2]! * q[0]! - p[0]! * q[2]!) +
          plane[2]! * (p[0]! * q[1]! - p[1]! * q[0]!);
      }
      return s;
    };
    return (
      m.faceLoops[f + 1]! - m.faceLoops[f]! > 1 || area(true) > -ON_PLANE * size * size * Math.sign(area(false) || 1)
    );
  });
}

/**
 * Whether the ends of an edge have no more neighbours in common than faces of three corners beside it: else faces would
 * fall onto each other.
 */
function linked(m: PolyMesh, a: number, b: number, around: (v: number) => number[]): boolean {
  const t = topologyOf(m);
  const beside = (v: number) => new Set(around(v).flatMap((c) => [m.corners[t.next[c]!]!, m.corners[t.prev[c]!]!]));
  const common = [...beside(a)].filter((v) => beside(b).has(v));
  const triangles = around(a).filter((c) => {
    const f = t.face[c]!;
    return faceEnd(m, f) - faceBegin(m, f) === 3 && [m.corners[t.next[c]!], m.corners[t.prev[c]!]].includes(b);
  });
  return common.length <= new Set(triangles.map((c) => t.face[c]!)).size;
}

/** Makes narrow faces part of a neighbour in whose flat they lie, across their longest common edge. */
function joinNarrow(
  m: PolyMesh,
  wanted: (v: number) => boolean,
  tolerance: number,
  size: number,
): { mesh: PolyMesh; joined: number } {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const { hard, seam, slot } = m.layers;
  const length = (c: number) =>
    Math.hypot(
      ...[0, 1, 2].map((k) => m.positions[3 * m.corners[c]! + k]! - m.positions[3 * m.corners[t.next[c]!]! + k]!),
    );
  const edges: number[] = [];
  const touched = new Set<number>();
  for (let f = 0; f < faceCount(m); f++) {
    if (m.faceLoops[f + 1]! - m.faceLoops[f]! > 1 || touched.has(f)) continue;
    const corners = Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) => faceBegin(m, f) + i);
    if (!corners.every((c) => wanted(m.corners[c]!)) || widthOf(m, f) >= tolerance) continue;
    const level = corners.filter((c) => {
      const o = t.opposite[c]!;
      if (o < 0 || hard?.[c] || hard?.[o] || seam?.[c] || seam?.[o]) return false;
      const g = t.face[o]!;
      return (
        g !== f &&
        !touched.has(g) &&
        slot?.[f] === slot?.[g] &&
        N[3 * f]! * N[3 * g]! + N[3 * f + 1]! * N[3 * g + 1]! + N[3 * f + 2]! * N[3 * g + 2]! > 1 - ONE_FLAT &&
        liesIn(m, f, g, ON_PLANE * size)
      );
    });
    if (!level.length) continue;
    const best = level.reduce((a, b) => (length(b) > length(a) ? b : a));
    touched.add(f).add(t.face[t.opposite[best]!]!);
    edges.push(t.edgeCorner[t.edge[best]!]!);
  }
  return edges.length ? { mesh: dissolveEdges(m, { edges }).mesh, joined: edges.length } : { mesh: m, joined: 0 };
}

/** Whether a face lies in the plane of another one, which is flat, to a tolerance (mm): joined they stay flat. */
function liesIn(m: PolyMesh, f: number, g: number, tol: number): boolean {
  return (
    faceBend(m, g) <= tol &&
    boundaryBend(m.positions, m.corners, faceBegin(m, f), faceEnd(m, f), facePlane(m, g), 0) <= tol
  );
}

/** How wide a face is, mm: its area against its furthest reach. */
function widthOf(m: PolyMesh, f: number): number {
  const ring = Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i): Vec3 => {
    const v = m.corners[faceBegin(m, f) + i]!;
    return vertexPlace(m, v);
  });
  const plane = facePlane(m, f);
  let reach = 0;
  let area = 0;
  ring.forEach((p, i) => {
    const q = ring[(i + 1) % ring.length]!;
    for (const x of ring) reach = Math.max(reach, Math.hypot(x[0] - p[0], x[1] - p[1], x[2] - p[2]));
    const [u, w] = [p, q].map((x) => x.map((y, k) => y - plane[3 + k]!)) as [number[], number[]];
    area +=
      (plane[0]! * (u[1]! * w[2]! - u[2]! * w[1]!) +
        plane[1]! * (u[2]! * w[0]! - u[0]! * w[2]!) +
        plane[2]! * (u[0]! * w[1]! - u[1]! * w[0]!)) /
      2;
  });
  return reach > 0 ? Math.abs(area) / reach : 0;
}
