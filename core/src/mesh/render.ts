import { cornerNormals, faceNormals, sharpCorners } from './normals.ts';
import { cornerCount, faceCount, vertexCount, type PolyMesh } from './polymesh.ts';
import { OPEN, topologyOf, type Topology } from './topology.ts';
import { triangulateMesh } from './triangulate.ts';

/** Line classes of a render buffer, in the order of `lineStart`. */
export const LINE_CLASSES = ['plain', 'fold', 'tie', 'hard', 'cut', 'open', 'nonManifold'] as const;
export type LineClass = (typeof LINE_CLASSES)[number];
const [TIE, CUT] = [LINE_CLASSES.indexOf('tie'), LINE_CLASSES.indexOf('cut')];

/** What a renderer needs of a mesh: plain arrays, transferable. */
export interface RenderBuffers {
  /** Middle of the mesh (mm); positions are relative to it, so that 32 bits are enough. */
  origin: [number, number, number];
  /** 9 numbers per triangle. */
  positions: Float32Array;
  normals: Float32Array;
  /** The face of each triangle, and the slot. */
  faceOfTriangle: Uint32Array;
  slotOfTriangle: Uint16Array;
  /** 6 numbers per line, sorted by class; class k has lines `lineStart[k] … lineStart[k + 1] − 1`. */
  lines: Float32Array;
  lineStart: Uint32Array;
}

/**
 * Triangles with corner normals (from the `normal` layer where there is one, else by hard edges and angle), and the
 * polygon edges as lines told apart by class. No diagonal of a triangulation shows among the lines.
 */
export function renderBuffers(m: PolyMesh, origin: [number, number, number] = [0, 0, 0]): RenderBuffers {
  const t = topologyOf(m);
  const flat = faceNormals(m);
  const sharp = sharpCorners(m, flat);
  const shading = m.layers.normal ?? cornerNormals(m, flat, sharp);
  const { triangles, face } = triangulateMesh(m);
  const n = triangles.length;
  const positions = new Float32Array(3 * n);
  const normals = new Float32Array(3 * n);
  for (let i = 0; i < n; i++) {
    const c = triangles[i]!;
    const v = 3 * m.corners[c]!;
    for (let k = 0; k < 3; k++) {
      positions[3 * i + k] = m.positions[v + k]! - origin[k]!;
      normals[3 * i + k] = shading[3 * c + k]!;
    }
  }
  const faceOfTriangle = new Uint32Array(face);
  const slotOfTriangle = new Uint16Array(face.length);
  const { slot } = m.layers;
  if (slot) for (let i = 0; i < face.length; i++) slotOfTriangle[i] = slot[face[i]!]!;

  const classOf = new Uint8Array(t.edgeCount);
  const classOfCorner = (c: number): LineClass => {
    const o = t.opposite[c]!;
    if (o === OPEN) return 'open';
    if (o < 0) return 'nonManifold';
    if (m.layers.seam?.[c]) return 'cut';
    if (sharp[c]) return 'hard';
    if (m.layers.fold?.[c]) return 'fold';
    return isTie(m, flat, t.face[c]!, t.face[o]!) ? 'tie' : 'plain';
  };
  for (let c = 0; c < cornerCount(m); c++) {
    const k = LINE_CLASSES.indexOf(classOfCorner(c));
    classOf[t.edge[c]!] = Math.max(classOf[t.edge[c]!]!, k);
  }
  onlyFromRim(m, t, classOf);
  const lineStart = new Uint32Array(LINE_CLASSES.length + 1);
  for (const k of classOf) lineStart[k + 1]!++;
  for (let k = 0; k < LINE_CLASSES.length; k++) lineStart[k + 1]! += lineStart[k]!;
  const lines = new Float32Array(6 * t.edgeCount);
  const at = lineStart.slice();
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.edgeCorner[e]!;
    const i = 6 * at[classOf[e]!]!++;
    const a = 3 * m.corners[c]!;
    const b = 3 * m.corners[t.next[c]!]!;
    for (let k = 0; k < 3; k++) {
      lines[i + k] = m.positions[a + k]! - origin[k]!;
      lines[i + 3 + k] = m.positions[b + k]! - origin[k]!;
    }
  }
  return { origin, positions, normals, faceOfTriangle, slotOfTriangle, lines, lineStart };
}

/** Faces whose normals make less than this (1 − cosine) lie in one plane where they meet. */
const ONE_PLANE = 1e-10;

/** Whether an edge only parts a flat: two pieces of one face of a body, level with each other. */
function isTie({ layers: { source } }: PolyMesh, N: Float64Array, f: number, g: number): boolean {
  if (!source || f === g || source[3 * f] !== source[3 * g] || source[3 * f + 1] !== source[3 * g + 1]) return false;
  return N[3 * f]! * N[3 * g]! + N[3 * f + 1]! * N[3 * g + 1]! + N[3 * f + 2]! * N[3 * g + 2]! > 1 - ONE_PLANE;
}

/**
 * A tie leads from boundary to boundary: an edge over a flat with an end in the midst of it, as a grid of quads has, is
 * a plain one. So is one between two quads that comes to no seam: it is of a grid or a band, and nothing is tied by it.
 */
function onlyFromRim(m: PolyMesh, t: Topology, classOf: Uint8Array): void {
  if (!classOf.includes(TIE)) return;
  const rim = new Uint8Array(vertexCount(m));
  const ends = (e: number) => [m.corners[t.edgeCorner[e]!]!, m.corners[t.next[t.edgeCorner[e]!]!]!] as const;
  for (let e = 0; e < classOf.length; e++) if (classOf[e] !== TIE) for (const v of ends(e)) rim[v] = 1;
  const cut = new Uint8Array(vertexCount(m));
  for (let e = 0; e < classOf.length; e++) if (classOf[e] === CUT) for (const v of ends(e)) cut[v] = 1;
  const isQuad = (f: number) =>
    m.faceLoops[f + 1]! - m.faceLoops[f]! === 1 &&
    m.loopStart[m.faceLoops[f + 1]!]! - m.loopStart[m.faceLoops[f]!]! === 4;
  for (let e = 0; e < classOf.length; e++) {
    if (classOf[e] !== TIE) continue;
    const c = t.edgeCorner[e]!;
    const gridded = isQuad(t.face[c]!) && isQuad(t.face[t.opposite[c]!]!) && !ends(e).some((v) => cut[v]);
    if (gridded || !ends(e).every((v) => rim[v])) classOf[e] = 0;
  }
}

/** The arrays of render buffers, for handing them to another thread without a copy. */
export function renderTransfer(r: RenderBuffers): ArrayBuffer[] {
  return [r.positions, r.normals, r.faceOfTriangle, r.slotOfTriangle, r.lines, r.lineStart].map(
    (a) => a.buffer as ArrayBuffer,
  );
}

/** Slots that at least one face uses. */
export function usedSlots(m: PolyMesh): number[] {
  const used = new Set<number>();
  for (let f = 0; f < faceCount(m); f++) used.add(m.layers.slot?.[f] ?? 0);
  return [...used].sort((a, b) => a - b);
}
