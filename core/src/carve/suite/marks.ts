import {
  areaAndVolume,
  bounds,
  components,
  faceCount,
  faceNormals,
  isClosed,
  sizeOf,
  SpatialIndex,
  topologyOf,
  type PolyMesh,
  vertexPlace,
} from '../../mesh/index.ts';
import { isOpen } from '../gate.ts';
import type { CutCase } from './cutSet.ts';

/** Figures of one cut of the set; each is 0 or true where the cut is right. */
export interface CutMarks {
  /** A closed solid stayed one, or a sheet a sheet, in as many pieces as it must. */
  sound: boolean;
  /** Volume (area of a sheet) against the closed form, relative. */
  off: number;
  /** Vertices that are neither in the input nor on a cut line. */
  strayVertices: number;
  /** Edges that run neither along a cut line nor along an edge of the input. */
  strayEdges: number;
  /** Vertices of cut lines that lie off the skin of target or cutter by more than a rounding. */
  offOutline: number;
  /** Faces of the target clear of all cutters that are not there corner for corner, bit for bit. */
  changedFaces: number;
  /** Edges shorter than 1e-4 of the size. */
  shortEdges: number;
}

/** What a coordinate may be off by the rounding of the sums that made it, as a share of the size. */
const ROUNDING = 4e-15;
/** An edge lies along another within this share of the size. */
const ALONG = 1e-9;

/** Runs a case and measures what it left. */
export function markCut(c: CutCase): CutMarks & { mesh: PolyMesh } {
  let mesh = c.target;
  for (const step of c.steps) mesh = step.run(mesh, step.cutters);
  const bodies = [c.target, ...c.steps.flatMap((s) => s.cutters)];
  const size = Math.max(...bodies.map(sizeOf));
  const t = topologyOf(mesh);
  const seam = mesh.layers.seam ?? new Int32Array(mesh.corners.length);
  const onSeam = new Uint8Array(mesh.positions.length / 3);
  for (let k = 0; k < mesh.corners.length; k++)
    if (seam[k]) onSeam[mesh.corners[k]!] = onSeam[mesh.corners[t.next[k]!]!] = 1;
  const known = new Set(bodies.flatMap((b) => [...keysOf(b)]));
  const key = keysOf(mesh);
  let strayVertices = 0;
  for (let v = 0; v < onSeam.length; v++) if (!onSeam[v] && !known.has(key[v]!)) strayVertices++;

  const sheet = isOpen(c.target);
  const { area, volume } = areaAndVolume(mesh);
  return {
    mesh,
    sound: (sheet ? isOpen(mesh) : isClosed(mesh)) && components(mesh).count === c.pieces,
    off: Math.abs((sheet ? area : volume) / c.measure - 1),
    strayVertices,
    strayEdges: strayEdges(mesh, seam, bodies, ALONG * size),
    offOutline: offOutline(mesh, onSeam, known, key, bodies, ROUNDING * size),
    changedFaces: changedFaces(c, mesh),
    shortEdges: shortEdges(mesh, 1e-4 * size),
  };
}

/** The place of each vertex, to the last bit. */
function keysOf(m: PolyMesh): string[] {
  return Array.from({ length: m.positions.length / 3 }, (_, v) => m.positions.slice(3 * v, 3 * v + 3).join());
}

type Vec = readonly number[];
const point = (m: PolyMesh, v: number): Vec => [...vertexPlace(m, v)];

/** Distance of a point from the line through a and b. */
function offLine(p: Vec, a: Vec, b: Vec): number {
  const d = [0, 1, 2].map((k) => b[k]! - a[k]!);
  const w = [0, 1, 2].map((k) => p[k]! - a[k]!);
  const l = Math.hypot(...d) || 1;
  return Math.hypot(w[1]! * d[2]! - w[2]! * d[1]!, w[2]! * d[0]! - w[0]! * d[2]!, w[0]! * d[1]! - w[1]! * d[0]!) / l;
}

function strayEdges(m: PolyMesh, seam: ArrayLike<number>, bodies: readonly PolyMesh[], tol: number): number {
  const old = bodies.flatMap((b) => {
    const t = topologyOf(b);
    return [...t.edgeCorner].map((c) => [point(b, b.corners[c]!), point(b, b.corners[t.next[c]!]!)] as const);
  });
  const t = topologyOf(m);
  let n = 0;
  for (const c of t.edgeCorner) {
    const o = t.opposite[c]!;
    if (seam[c] || (o >= 0 && seam[o])) continue;
    const [p, q] = [point(m, m.corners[c]!), point(m, m.corners[t.next[c]!]!)];
    if (!old.some(([a, b]) => offLine(p, a, b) <= tol && offLine(q, a, b) <= tol)) n++;
  }
  return n;
}

function offOutline(
  m: PolyMesh,
  onSeam: Uint8Array,
  known: Set<string>,
  key: string[],
  bodies: readonly PolyMesh[],
  tol: number,
): number {
  const skins = bodies.map((b) => ({ mesh: b, index: new SpatialIndex(b), normals: faceNormals(b) }));
  let n = 0;
  for (let v = 0; v < onSeam.length; v++) {
    if (!onSeam[v] || known.has(key[v]!)) continue;
    const p = point(m, v) as [number, number, number];
    // On two skins at once: that of one body and that of another. Decided by the planes, which long thin triangles do
    // not
    // blur.
    const near = skins.filter(({ mesh, index, normals }) => {
      const { face, distance } = index.closest(p)!;
      const a = point(mesh, mesh.corners[mesh.loopStart[mesh.faceLoops[face]!]!]!);
      const height = [0, 1, 2].reduce((sum, k) => sum + normals[3 * face + k]! * (p[k]! - a[k]!), 0);
      return distance <= 1e6 * tol && Math.abs(height) <= tol;
    }).length;
    if (near < 2) n++;
  }
  return n;
}

/** Faces of a mesh as the places of their corners, from the least one on. */
function faceKeys(m: PolyMesh, key: string[]): Set<string> {
  const out = new Set<string>();
  for (let f = 0; f < faceCount(m); f++) {
    const run = [...m.corners.subarray(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!)].map(
      (v) => key[v]!,
    );
    const at = run.indexOf([...run].sort()[0]!);
    out.add([...run.slice(at), ...run.slice(0, at)].join(';'));
  }
  return out;
}

function changedFaces(c: CutCase, mesh: PolyMesh): number {
  const there = faceKeys(mesh, keysOf(mesh));
  const boxes = c.steps.flatMap((s) => s.cutters).map(bounds);
  const key = keysOf(c.target);
  let n = 0;
  for (let f = 0; f < faceCount(c.target); f++) {
    const m = c.target;
    const run = [...m.corners.subarray(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!)];
    const [low, high] = [Math.min, Math.max].map((pick) =>
      [0, 1, 2].map((k) => pick(...run.map((v) => m.positions[3 * v + k]!))),
    );
    const clear = boxes.every((b) => [0, 1, 2].some((k) => low![k]! > b.max[k]! || high![k]! < b.min[k]!));
    if (!clear) continue;
    const keys = run.map((v) => key[v]!);
    const at = keys.indexOf([...keys].sort()[0]!);
    if (!there.has([...keys.slice(at), ...keys.slice(0, at)].join(';'))) n++;
  }
  return n;
}

function shortEdges(m: PolyMesh, least: number): number {
  const t = topologyOf(m);
  return t.edgeCorner.reduce((n, c) => {
    const [p, q] = [point(m, m.corners[c]!), point(m, m.corners[t.next[c]!]!)];
    return n + (Math.hypot(...[0, 1, 2].map((k) => p[k]! - q[k]!)) < least ? 1 : 0);
  }, 0);
}
