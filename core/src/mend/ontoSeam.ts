import {
  nearestOn,
  vertexCount,
  vertexCorners,
  type PolyMesh,
  type Vec3,
  vertexPlace,
  type OpResult,
} from '../mesh/index.ts';
import { mergeVertices, neighboursOf, seamVertices, type MergeReport } from './merge.ts';
import { closeFlatFaces } from './flatFaces.ts';
import { MeshEdit } from './meshEdit.ts';
import { between, putIntoEdges } from './split.ts';
import type { VerticesOptions } from './operands.ts';

/** Shares of an edge nearer to an end than this are the end: its vertex would have been within reach. */
const AT_END = 1e-9;

export interface WeldToSeamOptions extends VerticesOptions {
  /** Vertices nearer to a seam than this go onto it, mm. */
  distance: number;
}

/**
 * Puts each of some vertices that are within a distance (mm) of a seam onto it: into its nearest vertex, and
 * where none is that near, onto the nearest edge of the boundary that a face of the vertex has, which then gets a
 * vertex there. The boundary itself stays as it is.
 *
 * @example
 * const { mesh: plate } = carve(box(100, 60, 20), { cutters: [cylinder(8, 40, 24)], operation: 'subtract' });
 * const { mesh } = weldToSeam(plate, { vertices: elementsOf(plate, 'vertex'), distance: 0.01 });
 */
export function weldToSeam(m: PolyMesh, { vertices: wanted, distance }: WeldToSeamOptions): OpResult<MergeReport> {
  const fixed = seamVertices(m);
  const held = [...fixed.keys()].filter((v) => fixed[v]);
  const into = Int32Array.from({ length: vertexCount(m) }, (_, v) => v);
  const e = new MeshEdit(m);
  const reach = neighboursOf(held, (v) => e.at(v), distance);
  const others: number[] = [];
  for (const v of wanted) {
    if (fixed[v]) continue;
    const p = e.at(v);
    const far = (w: number) => Math.hypot(...e.at(w).map((x, k) => x - p[k]!));
    const near = reach(v);
    if (near.length) into[v] = near.reduce((a, b) => (far(b) < far(a) ? b : a));
    else others.push(v);
  }
  const first = mergeVertices(m, { into });
  const name = (p: readonly number[]) => p.join();
  const wantedAt = new Set(others.map((v) => name(e.at(v))));
  const second = ontoEdges(first.mesh, (p) => wantedAt.has(name(p)), distance);
  if (!second) return first;
  return {
    mesh: second.mesh,
    report: {
      merged: first.report.merged + second.report.merged,
      longest: Math.max(first.report.longest, second.report.longest),
      closed: first.report.closed + second.report.closed,
      lines: [...first.report.lines, ...second.report.lines],
    },
  };
}

/** Faces thinner than this share of the distance have closed up. */
const CLOSED_UP = 1e-9;

/** Puts vertices onto the edges of boundaries that their faces have; null where none is near. */
function ontoEdges(m: PolyMesh, wanted: (p: Vec3) => boolean, distance: number): OpResult<MergeReport> | null {
  const fixed = seamVertices(m);
  const e = new MeshEdit(m);
  const onEdges = new Map<number, { share: number; vertex: number }[]>();
  const into = new Map<number, number>();
  const near = seamEdgesNear(e);
  for (let v = 0; v < vertexCount(m); v++) {
    const found = !fixed[v] && wanted(e.at(v)) ? near(v, distance) : null;
    if (!found) continue;
    const list = onEdges.get(found.edge) ?? [];
    let spot = list.find((x) => Math.abs(x.share - found.share) < AT_END);
    if (!spot) {
      spot = { share: found.share, vertex: e.vertex(found.point) };
      onEdges.set(found.edge, [...list, spot]);
    }
    into.set(v, spot.vertex);
  }
  if (!into.size) return null;
  putIntoEdges(
    e,
    new Map([...onEdges].map(([k, list]) => [k, list.sort((a, b) => a.share - b.share).map((x) => x.vertex)])),
  );
  const split = e.done();
  const all = Int32Array.from({ length: vertexCount(split) }, (_, v) => v);
  for (const [v, w] of into) all[e.numbers[v]!] = e.numbers[w]!;
  const merged = mergeVertices(split, { into: all });
  const flat = closeFlatFaces(merged.mesh, { within: CLOSED_UP * distance });
  return { mesh: flat.mesh, report: { ...merged.report, closed: merged.report.closed + flat.report.closed } };
}

/**
 * For a vertex the nearest edge of a seam that is within a distance and belongs to a face of it, and the place
 * on it.
 */
function seamEdgesNear({ mesh: m, topology: t }: MeshEdit) {
  const around = vertexCorners(m);
  const { seam } = m.layers;
  const cut = (c: number) => !!seam?.[c] || (t.opposite[c]! >= 0 && !!seam?.[t.opposite[c]!]);
  const at = (v: number): Vec3 => vertexPlace(m, v);
  return (v: number, distance: number): { edge: number; share: number; point: Vec3 } | null => {
    if (!seam) return null;
    const p = at(v);
    let best: { edge: number; share: number; point: Vec3 } | null = null;
    let least = distance;
    for (const f of new Set(around(v).map((c) => t.face[c]!)))
      for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) {
        if (!cut(c)) continue;
        // Measured from the end that its first corner leaves.
        const first = t.edgeCorner[t.edge[c]!]!;
        const [a, b] = [at(m.corners[first]!), at(m.corners[t.next[first]!]!)];
        const { share, distance: off } = nearestOn(p, a, b);
        if (off > least || share < AT_END || share > 1 - AT_END) continue;
        least = off;
        best = { edge: t.edge[c]!, share, point: between(a, b, share) };
      }
    return best;
  };
}
