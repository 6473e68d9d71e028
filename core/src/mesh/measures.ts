import { newellPlane } from './planes.ts';
import { cornerCount, faceCount, loopCount, vertexCount, type PolyMesh } from './polymesh.ts';
import { cornerFans, topologyOf } from './topology.ts';

export interface Bounds {
  min: [number, number, number];
  max: [number, number, number];
}

/** The box round all vertices, mm; all zero for a mesh without vertices. */
export function bounds(m: PolyMesh): Bounds {
  if (m.positions.length === 0) return { min: [0, 0, 0], max: [0, 0, 0] };
  const min: Bounds['min'] = [Infinity, Infinity, Infinity];
  const max: Bounds['max'] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < m.positions.length; i++) {
    const k = i % 3;
    const x = m.positions[i]!;
    if (x < min[k]!) min[k] = x;
    if (x > max[k]!) max[k] = x;
  }
  return { min, max };
}

/** Longest side of the box round a mesh, mm: what tolerances are relative to. */
export function sizeOf(m: PolyMesh): number {
  const { min, max } = bounds(m);
  return Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
}

/**
 * Area (mm²) and signed volume (mm³): the volume is a solid's when the mesh is closed and its faces look outward.
 * Sums N · centre over the outlines of each face (divergence theorem), relative to the middle of the box, with
 * compensated addition (Neumaier 1974), so that a body far from the origin keeps its digits.
 */
export function areaAndVolume(m: PolyMesh): { area: number; volume: number } {
  const { min, max } = bounds(m);
  const mid = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
  const P = m.positions;
  let area = 0;
  let volume = 0;
  let lost = 0;
  for (let f = 0; f < faceCount(m); f++) {
    const o = 3 * m.corners[m.loopStart[m.faceLoops[f]!]!]!;
    const rx = P[o]!;
    const ry = P[o + 1]!;
    const rz = P[o + 2]!;
    let nx = 0;
    let ny = 0;
    let nz = 0;
    let bent = 0;
    for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) {
      const s = m.loopStart[l]!;
      const e = m.loopStart[l + 1]!;
      let a = 3 * m.corners[s]!;
      const fx = P[a]! - rx;
      const fy = P[a + 1]! - ry;
      const fz = P[a + 2]! - rz;
      let ax = 0;
      let ay = 0;
      let az = 0;
      // A fan from the loop's first corner: its tetrahedra to the face's first corner measure what bends off the plane.
      for (let c = s + 1; c < e; c++) {
        a = 3 * m.corners[c]!;
        const bx = P[a]! - rx - fx;
        const by = P[a + 1]! - ry - fy;
        const bz = P[a + 2]! - rz - fz;
        const x = ay * bz - az * by;
        const y = az * bx - ax * bz;
        const z = ax * by - ay * bx;
        nx += x;
        ny += y;
        nz += z;
        bent += x * fx + y * fy + z * fz;
        ax = bx;
        ay = by;
        az = bz;
      }
    }
    area += Math.sqrt(nx * nx + ny * ny + nz * nz) / 2;
    const part = nx * (rx - mid[0]!) + ny * (ry - mid[1]!) + nz * (rz - mid[2]!) + bent;
    const sum = volume + part;
    lost += Math.abs(volume) >= Math.abs(part) ? volume - sum + part : part - sum + volume;
    volume = sum;
  }
  return { area, volume: (volume + lost) / 6 };
}

/** Pieces of the surface that hang together by edges: their number, and the piece of each face. */
export function components(m: PolyMesh): { count: number; of: Int32Array } {
  const t = topologyOf(m);
  const up = Int32Array.from({ length: faceCount(m) }, (_, f) => f);
  const root = (f: number) => {
    while (up[f] !== f) f = up[f] = up[up[f]!]!;
    return f;
  };
  for (let c = 0; c < cornerCount(m); c++) {
    const a = root(t.face[c]!);
    const b = root(t.face[t.sameEdge[c]!]!);
    if (a !== b) up[a] = b;
  }
  const of = new Int32Array(faceCount(m));
  const ids = new Map<number, number>();
  for (let f = 0; f < of.length; f++) {
    const r = root(f);
    let id = ids.get(r);
    if (id === undefined) ids.set(r, (id = ids.size));
    of[f] = id;
  }
  return { count: ids.size, of };
}

/** True when every edge is used exactly twice, once each way. */
export function isClosed(m: PolyMesh): boolean {
  const { opposite } = topologyOf(m);
  return opposite.every((o) => o >= 0);
}

/** Vertices at which separate fans of faces meet at a point only. */
export function pinchedVertices(m: PolyMesh): number[] {
  const fan = cornerFans(m, topologyOf(m), () => true);
  const seen = new Int32Array(vertexCount(m)).fill(-1);
  const pinched = new Set<number>();
  for (let c = 0; c < fan.length; c++) {
    const v = m.corners[c]!;
    if (seen[v]! < 0) seen[v] = fan[c]!;
    else if (seen[v] !== fan[c]) pinched.add(v);
  }
  return [...pinched];
}

/**
 * Handles of a closed, oriented surface summed over its pieces, from V − E + F − inner outlines = 2 (pieces − genus).
 * null when the mesh is not closed, oriented and manifold.
 */
export function genus(m: PolyMesh): number | null {
  if (faceCount(m) === 0 || !isClosed(m) || pinchedVertices(m).length > 0) return null;
  const used = new Set(m.corners).size;
  const inner = loopCount(m) - faceCount(m);
  const chi = used - topologyOf(m).edgeCount + faceCount(m) - inner;
  return components(m).count - chi / 2;
}

/** Areas of all faces, mm²: length of the summed normal, so exact for flat faces, holes taken off. */
export function faceAreas(m: PolyMesh): Float64Array {
  const out = new Float64Array(faceCount(m));
  const q = new Float64Array(6);
  for (let f = 0; f < out.length; f++) {
    let x = 0;
    let y = 0;
    let z = 0;
    for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) {
      const k = newellPlane(m.positions, m.corners, m.loopStart[l]!, m.loopStart[l + 1]!, q, 0);
      x += k * q[0]!;
      y += k * q[1]!;
      z += k * q[2]!;
    }
    out[f] = Math.sqrt(x * x + y * y + z * z) / 2;
  }
  return out;
}
