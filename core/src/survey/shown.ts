import { faceNormals, topologyOf, type PolyMesh } from '../mesh/index.ts';
import { placeOf, type Finding } from './findings.ts';

/** What a picture needs of a finding: its first places, and lines that show all of them as far as they are drawn. */
export interface ShownFinding {
  rule: Finding['rule'];
  severity: Finding['severity'];
  count: number;
  worst: number | null;
  on: Finding['on'];
  /** Vertices, corners or faces of the first places, and what is measured at each. */
  ids: Int32Array;
  values: Float64Array;
  /** Middle, way out of the surface (unit), and reach of each, mm. */
  points: Float64Array;
  normals: Float32Array;
  reach: Float32Array;
  /** Pairs of points, mm: edges, or the boundaries of faces; of vertices nothing but their points is shown. */
  lines: Float64Array;
}

/** Most places that can be stepped through, and most lines that are drawn. */
export const MOST_PLACES = 2000;
const MOST_LINES = 6000;

/** A finding for the page: the worst places first where something is measured. */
export function shownFinding(m: PolyMesh, f: Finding): ShownFinding {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const ids = f.ids.slice(0, MOST_PLACES);
  const points = new Float64Array(3 * ids.length);
  const normals = new Float32Array(3 * ids.length);
  const reach = new Float32Array(ids.length);
  const faceOfVertex = f.on === 'vertex' ? facesOfVertices(m, t.face, ids) : null;
  const lines: number[] = [];
  const put = (corner: number): void => {
    for (const v of [m.corners[corner]!, m.corners[t.next[corner]!]!])
      lines.push(m.positions[3 * v]!, m.positions[3 * v + 1]!, m.positions[3 * v + 2]!);
  };
  ids.forEach((id, i) => {
    const place = placeOf(m, f.on, id);
    points.set(place.point, 3 * i);
    reach[i] = place.reach;
    const face = f.on === 'face' ? id : f.on === 'edge' ? t.face[id]! : (faceOfVertex!.get(id) ?? -1);
    const other = f.on === 'edge' && t.sameEdge[id] !== id ? t.face[t.sameEdge[id]!]! : -1;
    const n = [0, 1, 2].map((k) => (face < 0 ? +(k === 2) : N[3 * face + k]!) + (other < 0 ? 0 : N[3 * other + k]!));
    const length = Math.hypot(...n);
    // Faces that look against each other have no common way out: that of the first is taken.
    normals.set(length > 1e-6 ? n.map((x) => x / length) : [0, 1, 2].map((k) => N[3 * face + k]!), 3 * i);
    if (lines.length >= 6 * MOST_LINES) return;
    if (f.on === 'edge') put(id);
    else if (f.on === 'face')
      for (let c = m.loopStart[m.faceLoops[id]!]!; c < m.loopStart[m.faceLoops[id + 1]!]!; c++) put(c);
  });
  const { rule, severity, count, worst, on } = f;
  return {
    rule,
    severity,
    count,
    worst,
    on,
    ids,
    values: f.values.slice(0, ids.length),
    points,
    normals,
    reach,
    lines: Float64Array.from(lines),
  };
}

/** A face at each of some vertices. */
function facesOfVertices(m: PolyMesh, face: Int32Array, ids: Int32Array): Map<number, number> {
  const wanted = new Set(ids);
  const out = new Map<number, number>();
  m.corners.forEach((v, c) => wanted.has(v) && !out.has(v) && out.set(v, face[c]!));
  return out;
}
