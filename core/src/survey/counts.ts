import {
  areaAndVolume,
  bounds,
  components,
  cornerCount,
  faceAreas,
  faceBegin,
  faceCount,
  faceEnd,
  genus,
  NO_AREA,
  pinchedVertices,
  sizeOf,
  topologyOf,
  vertexCount,
  type Bounds,
  type PolyMesh,
} from '../mesh/index.ts';

/** Corners sharper than this (degrees) make a face a sliver. */
export const SLIVER_ANGLE = 1;

/** The counts of a mesh. The names are those of `mason survey --json` and stay as they are. */
export interface SurveyCounts {
  vertices: number;
  faces: number;
  triangles: number;
  quads: number;
  /** Faces of five corners or more, or with inner outlines. */
  ngons: number;
  edges: number;
  openEdges: number;
  /** Edges with three faces or more. */
  nonManifoldEdges: number;
  /** Edges whose two faces run the same way along them: one of the two is turned over. */
  flippedEdges: number;
  /** Vertices at which faces meet at a point only. */
  nonManifoldVertices: number;
  /** Faces without area: below 1e-14 of the size squared. */
  degenerateFaces: number;
  /** Faces over the same vertices as an earlier face. */
  duplicateFaces: number;
  /** Faces with a corner under 1° (or over 359°). */
  slivers: number;
  components: number;
  boundaryLoops: number;
  /** null when not closed, manifold and oriented. */
  genus: number | null;
  /** mm³; null when not closed, manifold and oriented. */
  volume: number | null;
  /** mm². */
  area: number;
  /** mm. */
  bounds: Bounds;
}

/** Counts everything in one go; about the cost of the topology. */
export function surveyCounts(m: PolyMesh): SurveyCounts {
  const t = topologyOf(m);
  const sides = { triangles: 0, quads: 0, ngons: 0 };
  for (let f = 0; f < faceCount(m); f++) {
    const n = faceEnd(m, f) - faceBegin(m, f);
    const single = m.faceLoops[f + 1]! - m.faceLoops[f]! === 1;
    if (single && n === 3) sides.triangles++;
    else if (single && n === 4) sides.quads++;
    else sides.ngons++;
  }
  let openEdges = 0;
  let nonManifoldEdges = 0;
  let flippedEdges = 0;
  for (const c of t.edgeCorner) {
    if (t.opposite[c]! >= 0) continue;
    const other = t.sameEdge[c]!;
    if (other === c) openEdges++;
    else if (t.sameEdge[other] === c) flippedEdges++;
    else nonManifoldEdges++;
  }
  const size = sizeOf(m);
  const pinched = pinchedVertices(m).length;
  const sound = openEdges + nonManifoldEdges + flippedEdges + pinched === 0 && faceCount(m) > 0;
  const { area, volume } = areaAndVolume(m);
  return {
    vertices: vertexCount(m),
    faces: faceCount(m),
    ...sides,
    edges: t.edgeCount,
    openEdges,
    nonManifoldEdges,
    flippedEdges,
    nonManifoldVertices: pinched,
    degenerateFaces: faceAreas(m).reduce((n, a) => n + (a > NO_AREA * size * size ? 0 : 1), 0),
    duplicateFaces: countDuplicates(m),
    slivers: countSlivers(m),
    components: components(m).count,
    boundaryLoops: countBoundaryLoops(m),
    genus: sound ? genus(m) : null,
    volume: sound ? volume : null,
    area,
    bounds: bounds(m),
  };
}

function countDuplicates(m: PolyMesh): number {
  // Faces that are equal as sets of vertices have equal sums, so only those are compared.
  const bySum = new Map<number, number[]>();
  let n = 0;
  const vertices = (f: number) => m.corners.slice(faceBegin(m, f), faceEnd(m, f)).sort();
  for (let f = 0; f < faceCount(m); f++) {
    let sum = 0;
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) sum += m.corners[c]! * (m.corners[c]! + 7919);
    const like = bySum.get(sum);
    if (!like) {
      bySum.set(sum, [f]);
      continue;
    }
    const own = vertices(f).join();
    if (like.some((g) => vertices(g).join() === own)) n++;
    like.push(f);
  }
  return n;
}

function countSlivers(m: PolyMesh): number {
  const t = topologyOf(m);
  const limit = Math.cos((SLIVER_ANGLE * Math.PI) / 180);
  const P = m.positions;
  let n = 0;
  let last = -1;
  for (let c = 0; c < cornerCount(m); c++) {
    const f = t.face[c]!;
    if (f === last) continue;
    const v = 3 * m.corners[c]!;
    const a = 3 * m.corners[t.prev[c]!]!;
    const b = 3 * m.corners[t.next[c]!]!;
    let dot = 0;
    let aa = 0;
    let bb = 0;
    for (let k = 0; k < 3; k++) {
      const x = P[a + k]! - P[v + k]!;
      const y = P[b + k]! - P[v + k]!;
      dot += x * y;
      aa += x * x;
      bb += y * y;
    }
    if (dot > limit * Math.sqrt(aa * bb)) {
      n++;
      last = f;
    }
  }
  return n;
}

function countBoundaryLoops(m: PolyMesh): number {
  const t = topologyOf(m);
  const up = new Map<number, number>();
  const root = (v: number): number => {
    let r = v;
    while (up.get(r) !== r) r = up.get(r)!;
    up.set(v, r);
    return r;
  };
  for (let c = 0; c < cornerCount(m); c++) {
    if (t.opposite[c] !== -1) continue;
    const [u, v] = [m.corners[c]!, m.corners[t.next[c]!]!];
    if (!up.has(u)) up.set(u, u);
    if (!up.has(v)) up.set(v, v);
    up.set(root(u), root(v));
  }
  return [...up.keys()].filter((v) => root(v) === v).length;
}

/** Whether the counts are those of a closed, oriented, manifold solid. */
export const isSound = (c: SurveyCounts): boolean => c.genus !== null;
