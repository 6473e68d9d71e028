import { newellPlane } from './planes.ts';
import { cornerCount, faceBegin, faceCount, type PolyMesh } from './polymesh.ts';
import { cornerFans, topologyOf, type Topology } from './topology.ts';

/** Faces meeting at more than this angle (degrees) shade as a sharp edge unless a layer says otherwise. */
export const SHARP_ANGLE = 30;

/** Unit normals of all faces, three numbers each (Newell, outer boundary). */
export function faceNormals(m: PolyMesh): Float64Array {
  const out = new Float64Array(3 * faceCount(m));
  const q = new Float64Array(6);
  for (let f = 0; f < faceCount(m); f++) {
    newellPlane(m.positions, m.corners, faceBegin(m, f), m.loopStart[m.faceLoops[f]! + 1]!, q, 0);
    out[3 * f] = q[0]!;
    out[3 * f + 1] = q[1]!;
    out[3 * f + 2] = q[2]!;
  }
  return out;
}

/** Normals on both sides of an edge that differ by less (1 − cosine) are one: it is lit as a smooth edge. */
const ONE_LIGHT = 1e-4;

/**
 * For each corner whether its edge shades as a sharp one: open, hard, a cut edge, or sharper than `angle` degrees.
 * Where the mesh has normals of its own, an edge that is lit alike from both sides is smooth, however sharp it is.
 */
export function sharpCorners(m: PolyMesh, normals: Float64Array, angle = SHARP_ANGLE): Uint8Array {
  const t = topologyOf(m);
  const limit = Math.cos((angle * Math.PI) / 180);
  const { hard, seam, fold, normal } = m.layers;
  const out = new Uint8Array(cornerCount(m));
  for (let c = 0; c < out.length; c++) {
    const o = t.opposite[c]!;
    if (o < 0 || hard?.[c] || hard?.[o] || seam?.[c] || seam?.[o]) out[c] = 1;
    else if (!fold?.[c]) {
      const a = 3 * t.face[c]!;
      const b = 3 * t.face[o]!;
      const d = normals[a]! * normals[b]! + normals[a + 1]! * normals[b + 1]! + normals[a + 2]! * normals[b + 2]!;
      if (d < limit && !(normal && litAlike(normal, t, c))) out[c] = 1;
    }
  }
  return out;
}

/** Whether both sides of the edge of a corner have the same normals at its ends. */
function litAlike(normal: Float32Array, t: Topology, c: number): boolean {
  const o = t.opposite[c]!;
  const same = (a: number, b: number) =>
    1 -
      (normal[3 * a]! * normal[3 * b]! +
        normal[3 * a + 1]! * normal[3 * b + 1]! +
        normal[3 * a + 2]! * normal[3 * b + 2]!) <
    ONE_LIGHT;
  return same(c, t.next[o]!) && same(t.next[c]!, o);
}

/**
 * Shading normals, three per corner: the mean of the face normals round the vertex between sharp edges, weighted by the
 * angle of each corner (Thürmer and Wüthrich, "Computing Vertex Normals from Polygonal Facets", 1998).
 */
export function cornerNormals(m: PolyMesh, normals: Float64Array, sharp: Uint8Array): Float32Array {
  const t = topologyOf(m);
  const fan = cornerFans(m, t, (c) => !sharp[c]);
  const n = cornerCount(m);
  const sums = new Float64Array(3 * n);
  const P = m.positions;
  for (let c = 0; c < n; c++) {
    const v = 3 * m.corners[c]!;
    const a = 3 * m.corners[t.prev[c]!]!;
    const b = 3 * m.corners[t.next[c]!]!;
    const ux = P[a]! - P[v]!;
    const uy = P[a + 1]! - P[v + 1]!;
    const uz = P[a + 2]! - P[v + 2]!;
    const wx = P[b]! - P[v]!;
    const wy = P[b + 1]! - P[v + 1]!;
    const wz = P[b + 2]! - P[v + 2]!;
    const cx = uy * wz - uz * wy;
    const cy = uz * wx - ux * wz;
    const cz = ux * wy - uy * wx;
    // `Math.hypot` takes ten times as long, and the sizes of parts are far from its limits.
    const angle = Math.atan2(Math.sqrt(cx * cx + cy * cy + cz * cz), ux * wx + uy * wy + uz * wz);
    const f = 3 * t.face[c]!;
    const i = 3 * fan[c]!;
    for (let k = 0; k < 3; k++) sums[i + k]! += normals[f + k]! * angle;
  }
  const out = new Float32Array(3 * n);
  for (let c = 0; c < n; c++) {
    const i = 3 * fan[c]!;
    const length = Math.sqrt(sums[i]! ** 2 + sums[i + 1]! ** 2 + sums[i + 2]! ** 2);
    if (length > 0) for (let k = 0; k < 3; k++) out[3 * c + k] = sums[i + k]! / length;
    else out.set(wayOf(t, normals, c), 3 * c);
  }
  return out;
}

/**
 * The way that a corner looks whose fan has no area: that of its face, or of a face beside it, or up where there is
 * none.
 */
function wayOf(t: Topology, normals: Float64Array, corner: number): ArrayLike<number> {
  let c = corner;
  do {
    for (const f of [t.face[c]!, t.opposite[c]! < 0 ? t.face[c]! : t.face[t.opposite[c]!]!]) {
      const n = normals.subarray(3 * f, 3 * f + 3);
      if (Math.hypot(n[0]!, n[1]!, n[2]!) > 0.5) return n;
    }
    c = t.next[c]!;
  } while (c !== corner);
  return [0, 0, 1];
}
