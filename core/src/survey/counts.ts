import {
  areaAndVolume,
  bounds,
  faceCount,
  genus,
  pinchedVertices,
  vertexCount,
  type Bounds,
  type PolyMesh,
} from '../mesh/index.ts';
import * as edgeRules from './edgeRules.ts';
import * as faceRules from './faceRules.ts';
import { Looked, type Places } from './look.ts';

/** The counts of a mesh. The names are those of `mason survey --json` and stay as they are. */
export interface SurveyCounts {
  vertices: number;
  faces: number;
  triangles: number;
  quads: number;
  /** Faces of five corners or more, or with inner boundaries. */
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
  const l = new Looked(m);
  const count = (p: Places) => p.ids.length;
  const triangles = count(faceRules.triangles(l));
  const ngons = count(faceRules.ngons(l));
  const openEdges = count(edgeRules.openEdges(l));
  const nonManifoldEdges = count(edgeRules.nonManifoldEdges(l));
  const flippedEdges = count(edgeRules.flippedEdges(l));
  const pinched = pinchedVertices(m).length;
  const sound = [openEdges, nonManifoldEdges, flippedEdges, pinched].every((n) => n === 0) && faceCount(m) > 0;
  const { area, volume } = areaAndVolume(m);
  return {
    vertices: vertexCount(m),
    faces: faceCount(m),
    triangles,
    quads: faceCount(m) - triangles - ngons,
    ngons,
    edges: l.topology.edgeCount,
    openEdges,
    nonManifoldEdges,
    flippedEdges,
    nonManifoldVertices: pinched,
    degenerateFaces: count(faceRules.zeroAreaFaces(l)),
    duplicateFaces: count(faceRules.doubledFaces(l)),
    slivers: count(faceRules.slivers(l)),
    components: l.pieces.count,
    boundaryLoops: edgeRules.openRunCount(l),
    genus: sound ? genus(m) : null,
    volume: sound ? volume : null,
    area,
    bounds: bounds(m),
  };
}

/** Whether the counts are those of a closed, oriented, manifold solid. */
export const isSound = (c: SurveyCounts): boolean => c.genus !== null;
