import { faceBend, newellPlane } from './planes.ts';
import { faceBegin, faceCount, faceEnd, loopCount, vertexCount, type PolyMesh } from './polymesh.ts';
import { topologyOf } from './topology.ts';
import { triangulateFace } from './triangulate.ts';

export interface Bounds {
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];
}

const boxes = new WeakMap<PolyMesh, Bounds>();

/** The box round all vertices, mm; all zero for a mesh without vertices. Found once and kept as long as the mesh. */
export function bounds(m: PolyMesh): Bounds {
  if (m.positions.length === 0) return { min: [0, 0, 0], max: [0, 0, 0] };
  let box = boxes.get(m);
  if (box) return box;
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let k = 0; k < 3; k++)
    for (let i = k; i < m.positions.length; i += 3) {
      const x = m.positions[i]!;
      if (x < min[k]!) min[k] = x;
      if (x > max[k]!) max[k] = x;
    }
  boxes.set(m, (box = { min, max }));
  return box;
}

/** Longest side of the box round a mesh, mm: what tolerances are relative to. */
export function sizeOf(m: PolyMesh): number {
  const { min, max } = bounds(m);
  return Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
}

/**
 * Area (mm²) and signed volume (mm³): the volume is a solid's when the mesh is closed and its faces look outward.
 * A flat face is summed over its boundaries (divergence theorem), a bent one over the triangles that it is drawn and
 * exported as. All relative to the middle of the box and with compensated addition (Neumaier 1974), so that a body far
 * from the origin keeps its digits.
 */
export function areaAndVolume(m: PolyMesh): Measures {
  let known = measured.get(m);
  if (!known) {
    const { min, max } = bounds(m);
    known = measureAbout(m, [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2]);
    measured.set(m, known);
  }
  return known;
}

export interface Measures {
  area: number;
  volume: number;
}

/** A mesh is never changed in place, so it measures the same each time. */
const measured = new WeakMap<PolyMesh, Measures>();

/** As `areaAndVolume`, with the volume of a surface that is not closed taken as the cone over it from a given point. */
export function measureAbout(m: PolyMesh, mid: readonly [number, number, number]): Measures {
  const { min, max } = bounds(m);
  const flatness = 1e-12 * Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
  const { positions: P, corners } = m;
  const N = new Float64Array(3);
  let area = 0;
  let volume = 0;
  let lost = 0;
  const add = (r: number) => {
    area += Math.sqrt(N[0]! * N[0]! + N[1]! * N[1]! + N[2]! * N[2]!) / 2;
    const part = N[0]! * (P[r]! - mid[0]) + N[1]! * (P[r + 1]! - mid[1]) + N[2]! * (P[r + 2]! - mid[2]);
    const sum = volume + part;
    lost += Math.abs(volume) >= Math.abs(part) ? volume - sum + part : part - sum + volume;
    volume = sum;
  };
  for (let f = 0; f < faceCount(m); f++) {
    const begin = faceBegin(m, f);
    const end = faceEnd(m, f);
    if (end - begin > 3 && faceBend(m, f) > flatness) {
      const t = triangulateFace(m, f);
      for (let i = 0; i < t.length; i += 3) {
        N.fill(0);
        const c = [corners[t[i]!]!, corners[t[i + 1]!]!, corners[t[i + 2]!]!];
        addBoundary(P, c, 0, 3, 3 * c[0]!, N);
        add(3 * c[0]!);
      }
      continue;
    }
    N.fill(0);
    const r = 3 * corners[begin]!;
    for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++)
      addBoundary(P, corners, m.loopStart[l]!, m.loopStart[l + 1]!, r, N);
    add(r);
  }
  return { area, volume: (volume + lost) / 6 };
}

/** Adds twice the area vector of a closed run of corners, seen from the point at P[r …], to N. */
function addBoundary(
  P: Float64Array,
  corners: ArrayLike<number>,
  begin: number,
  end: number,
  r: number,
  N: Float64Array,
): void {
  let q = 3 * corners[end - 1]!;
  let ax = P[q]! - P[r]!;
  let ay = P[q + 1]! - P[r + 1]!;
  let az = P[q + 2]! - P[r + 2]!;
  for (let c = begin; c < end; c++) {
    q = 3 * corners[c]!;
    const bx = P[q]! - P[r]!;
    const by = P[q + 1]! - P[r + 1]!;
    const bz = P[q + 2]! - P[r + 2]!;
    N[0]! += ay * bz - az * by;
    N[1]! += az * bx - ax * bz;
    N[2]! += ax * by - ay * bx;
    ax = bx;
    ay = by;
    az = bz;
  }
}

/**
 * Pieces of the surface that hang together by edges: their number, and the piece of each face, in the order of their
 * first faces.
 */
export function components(m: PolyMesh): { count: number; of: Int32Array } {
  const { face, sameEdge } = topologyOf(m);
  const of = new Int32Array(faceCount(m)).fill(-1);
  const waiting = new Int32Array(of.length);
  let count = 0;
  for (let first = 0; first < of.length; first++) {
    if (of[first]! >= 0) continue;
    of[first] = count;
    waiting[0] = first;
    for (let left = 1; left > 0;) {
      const f = waiting[--left]!;
      const end = faceEnd(m, f);
      for (let c = faceBegin(m, f); c < end; c++)
        for (let o = sameEdge[c]!; o !== c; o = sameEdge[o]!) {
          const g = face[o]!;
          if (of[g]! >= 0) continue;
          of[g] = count;
          waiting[left++] = g;
        }
    }
    count++;
  }
  return { count, of };
}

/** True when every edge is used exactly twice, once each way. */
export function isClosed(m: PolyMesh): boolean {
  const { opposite } = topologyOf(m);
  return opposite.every((o) => o >= 0);
}

/**
 * Vertices at which faces meet at a point only: not all of them hang together by edges at it, whichever way round they
 * are and however many share one.
 */
export function pinchedVertices(m: PolyMesh): number[] {
  const suspects = manyFans(m);
  return suspects.length ? partedAt(m, suspects) : suspects;
}

/** Those of some vertices whose faces are not all connected by edges at them. */
function partedAt(m: PolyMesh, suspects: readonly number[]): number[] {
  const { sameEdge, prev } = topologyOf(m);
  const at = new Map<number, number[]>(suspects.map((v) => [v, []]));
  m.corners.forEach((v, c) => at.get(v)?.push(c));
  return suspects.filter((v) => {
    const corners = at.get(v)!;
    // Each corner has two edges at the vertex: the one that leaves it, and the one that arrives.
    const byEdge = new Map<number, number[]>();
    for (const c of corners)
      for (const e of [c, prev[c]!]) {
        let first = e;
        for (let o = sameEdge[e]!; o !== e; o = sameEdge[o]!) first = Math.min(first, o);
        byEdge.set(first, [...(byEdge.get(first) ?? []), c]);
      }
    const group = new Map(corners.map((c) => [c, c]));
    const root = (c: number): number => (group.get(c) === c ? c : root(group.get(c)!));
    for (const [first, ...others] of byEdge.values()) for (const c of others) group.set(root(c), root(first!));
    return new Set(corners.map(root)).size > 1;
  });
}

/** Vertices with more than one fan of faces, each going on across paired edges alone. */
function manyFans(m: PolyMesh): number[] {
  const { opposite, next, prev } = topologyOf(m);
  const { corners } = m;
  const seen = new Uint8Array(corners.length);
  const met = new Uint8Array(vertexCount(m));
  const pinched: number[] = [];
  for (let c = 0; c < corners.length; c++) {
    if (seen[c]) continue;
    const v = corners[c]!;
    if (met[v] === 1) {
      pinched.push(v);
      met[v] = 2;
    } else if (!met[v]) met[v] = 1;
    // All corners of this fan: forward, and where it is not closed backward, too.
    let q = c;
    do {
      seen[q] = 1;
      q = opposite[prev[q]!]!;
    } while (q >= 0 && !seen[q]);
    for (q = opposite[c]!; q >= 0; q = opposite[q]!) {
      q = next[q]!;
      if (seen[q]) break;
      seen[q] = 1;
    }
  }
  return pinched;
}

/**
 * Handles of a closed, oriented surface summed over its pieces, from V − E + F − inner boundaries = 2 (pieces − genus).
 * null when the mesh is not closed, oriented and manifold.
 */
export function genus(m: PolyMesh): number | null {
  if (faceCount(m) === 0 || !isClosed(m) || pinchedVertices(m).length > 0) return null;
  const marks = new Uint8Array(vertexCount(m));
  for (const v of m.corners) marks[v] = 1;
  let used = 0;
  for (const x of marks) used += x;
  const inner = loopCount(m) - faceCount(m);
  const chi = used - topologyOf(m).edgeCount + faceCount(m) - inner;
  return components(m).count - chi / 2;
}

/** Areas of all faces, mm²: length of the summed normal, so exact for flat faces, holes taken off. */
export const faceAreas = (m: PolyMesh): Float64Array => faceShapes(m).areas;

/** What faces are like. */
export interface FaceShapes {
  /** As `faceAreas`, and as `faceNormals`. */
  areas: Float64Array;
  normals: Float64Array;
  /**
   * Squares of the longest and the shortest edge of each triangle, mm²; infinite and 0 for other faces, which decide
   * nothing.
   */
  longest: Float64Array;
  shortest: Float64Array;
}

/** Properties of all faces that several questions need, in one pass. */
export function faceShapes(m: PolyMesh): FaceShapes {
  const areas = new Float64Array(faceCount(m));
  const longest = new Float64Array(areas.length);
  const shortest = new Float64Array(areas.length);
  const normals = new Float64Array(3 * areas.length);
  const q = new Float64Array(6);
  const { faceLoops, loopStart, positions, corners } = m;
  for (let f = 0; f < areas.length; f++) {
    const outer = faceLoops[f]!;
    const end = faceLoops[f + 1]!;
    const first = loopStart[outer]!;
    if (end === outer + 1 && loopStart[end]! - first === 3) {
      // A triangle: one product, relative to its first corner as for others.
      const a = 3 * corners[first]!;
      const b = 3 * corners[first + 1]!;
      const c = 3 * corners[first + 2]!;
      const ox = positions[a]!;
      const oy = positions[a + 1]!;
      const oz = positions[a + 2]!;
      const ux = positions[b]! - ox;
      const uy = positions[b + 1]! - oy;
      const uz = positions[b + 2]! - oz;
      const vx = positions[c]! - ox;
      const vy = positions[c + 1]! - oy;
      const vz = positions[c + 2]! - oz;
      const nx = uy * vz - uz * vy;
      const ny = uz * vx - ux * vz;
      const nz = ux * vy - uy * vx;
      const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
      const s = length > 0 ? 1 / length : 0;
      normals[3 * f] = nx * s;
      normals[3 * f + 1] = ny * s;
      normals[3 * f + 2] = nz * s;
      areas[f] = length / 2;
      const uu = ux * ux + uy * uy + uz * uz;
      const vv = vx * vx + vy * vy + vz * vz;
      const ww = (vx - ux) * (vx - ux) + (vy - uy) * (vy - uy) + (vz - uz) * (vz - uz);
      longest[f] = uu > vv ? (uu > ww ? uu : ww) : vv > ww ? vv : ww;
      shortest[f] = uu < vv ? (uu < ww ? uu : ww) : vv < ww ? vv : ww;
      continue;
    }
    longest[f] = Infinity;
    const twice = newellPlane(positions, corners, first, loopStart[outer + 1]!, q, 0);
    normals[3 * f] = q[0]!;
    normals[3 * f + 1] = q[1]!;
    normals[3 * f + 2] = q[2]!;
    areas[f] = twice / 2;
    if (end === outer + 1) continue;
    let x = twice * q[0]!;
    let y = twice * q[1]!;
    let z = twice * q[2]!;
    for (let l = outer + 1; l < end; l++) {
      const k = newellPlane(positions, corners, loopStart[l]!, loopStart[l + 1]!, q, 0);
      x += k * q[0]!;
      y += k * q[1]!;
      z += k * q[2]!;
    }
    areas[f] = Math.sqrt(x * x + y * y + z * z) / 2;
  }
  return { areas, normals, longest, shortest };
}

/** A face of less area than this share of the size squared may be none. */
const NO_AREA = 1e-14;
/** A face narrower than this share of the size, over its whole length, has no plane to speak of. */
const NO_WIDTH = 1e-10;

/**
 * Whether a face has no area to speak of: little of it, and narrow over its length, so that a tiny face that is well
 * shaped, as a cut leaves it where surfaces just meet, is one.
 * `area` in mm², `size` of the part in mm.
 */
export function hasNoArea(m: PolyMesh, f: number, area: number, size: number): boolean {
  if (area > NO_AREA * size * size) return false;
  let longest = 0;
  const [begin, end] = [faceBegin(m, f), faceEnd(m, f)];
  const p = 3 * m.corners[begin]!;
  for (let c = begin + 1; c < end; c++) {
    const q = 3 * m.corners[c]!;
    const P = m.positions;
    longest = Math.max(longest, Math.hypot(P[q]! - P[p]!, P[q + 1]! - P[p + 1]!, P[q + 2]! - P[p + 2]!));
  }
  return !(area > NO_WIDTH * size * longest);
}
