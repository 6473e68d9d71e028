import {
  cornerFans,
  cornerNormals,
  faceNormals,
  faceShapes,
  sharpCorners,
  topologyOf,
  type PolyMesh,
  type OpResult,
} from '../mesh/index.ts';

/** How the normals of faces round a vertex weigh in its normal. */
export type NormalWeight = 'angle' | 'area' | 'largest';

/** Faces whose areas differ by less than this share are of one size. */
const ALIKE = 1e-6;

export interface SetHardOptions {
  /** Numbers of edges, see `topologyOf`. */
  edges: readonly number[];
  to: 'hard' | 'soft';
  /** How the faces round a vertex count for its normal. */
  weight: NormalWeight;
}

/** Report of marking edges. */
export interface MarkEdgesReport {
  marked: number;
}

/**
 * Makes edges hard or soft, and gives every corner the normal that follows: the mean of the faces round its vertex
 * between hard edges, by the angles of their corners, by their areas, or of the largest face alone (and those as
 * large), so that the light on it stays exact.
 * `edges`: numbers of edges. Edges that are neither listed here nor marked as hard are so at open borders, along cuts,
 * and above 30°.
 * Source: Thürmer and Wüthrich, "Computing Vertex Normals from Polygonal Facets", 1998 (angles).
 *
 * @example
 * const m = cylinder(10, 20, 24);
 * const { mesh } = setHard(m, { edges: sharpEdges(m, 30), to: 'hard', weight: 'angle' });
 */
export function setHard(m: PolyMesh, { edges, to, weight }: SetHardOptions): OpResult<MarkEdgesReport> {
  const t = topologyOf(m);
  const hard = m.layers.hard?.slice() ?? new Uint8Array(m.corners.length);
  const flat = faceNormals(m);
  const picked = new Uint8Array(t.edgeCount);
  for (const e of edges) picked[e] = 1;
  for (let c = 0; c < hard.length; c++) if (picked[t.edge[c]!]) hard[c] = to === 'hard' ? 1 : 0;
  const sharp = sharpCorners({ ...m, layers: { ...m.layers, hard } }, flat);
  if (to === 'soft') for (let c = 0; c < sharp.length; c++) if (picked[t.edge[c]!] && t.opposite[c]! >= 0) sharp[c] = 0;
  const mesh = { ...m, layers: { ...m.layers, hard, normal: weightedNormals(m, flat, sharp, weight) } };
  return { mesh, report: { marked: edges.length } };
}

/**
 * Normals of all corners, three numbers each: see `setHard`. `flat`: normals of faces; `sharp`: per corner whether its
 * edge parts the light.
 */
function weightedNormals(m: PolyMesh, flat: Float64Array, sharp: Uint8Array, weight: NormalWeight): Float32Array {
  if (weight === 'angle') return cornerNormals(m, flat, sharp);
  const t = topologyOf(m);
  const fan = cornerFans(m, t, (c) => !sharp[c]);
  const { areas } = faceShapes(m);
  const n = m.corners.length;
  const most = new Float64Array(n);
  if (weight === 'largest') for (let c = 0; c < n; c++) most[fan[c]!] = Math.max(most[fan[c]!]!, areas[t.face[c]!]!);
  const sums = new Float64Array(3 * n);
  for (let c = 0; c < n; c++) {
    const f = t.face[c]!;
    const w = weight === 'area' ? areas[f]! : areas[f]! >= most[fan[c]!]! * (1 - ALIKE) ? 1 : 0;
    for (let k = 0; k < 3; k++) sums[3 * fan[c]! + k]! += flat[3 * f + k]! * w;
  }
  const out = new Float32Array(3 * n);
  for (let c = 0; c < n; c++) {
    const i = 3 * fan[c]!;
    const length = Math.hypot(sums[i]!, sums[i + 1]!, sums[i + 2]!);
    for (let k = 0; k < 3; k++) out[3 * c + k] = length > 0 ? sums[i + k]! / length : flat[3 * t.face[c]! + k]!;
  }
  return out;
}

export interface MarkEdgesOptions {
  /** Numbers of edges, see `topologyOf`. */
  edges: readonly number[];
  layer: 'bevelWidth' | 'crease';
  /** mm of a width, 0 … 1 of a crease. */
  value: number;
}

/**
 * Sets what edges carry for what comes above them: the width of a bevel (mm, 0 for none of their own), or for how many
 * rounds of a subdivision they stay sharp.
 *
 * @example
 * const m = box(20, 20, 20);
 * const { mesh } = markEdges(m, { edges: sharpEdges(m, 30), layer: 'crease', value: 1 });
 */
export function markEdges(m: PolyMesh, { edges, layer, value }: MarkEdgesOptions): OpResult<MarkEdgesReport> {
  const t = topologyOf(m);
  const data = m.layers[layer]?.slice() ?? new Float32Array(m.corners.length);
  const picked = new Uint8Array(t.edgeCount);
  for (const e of edges) picked[e] = 1;
  for (let c = 0; c < data.length; c++) if (picked[t.edge[c]!]) data[c] = value;
  return { mesh: { ...m, layers: { ...m.layers, [layer]: data } }, report: { marked: edges.length } };
}
