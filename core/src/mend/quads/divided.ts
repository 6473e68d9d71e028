import {
  dot,
  faceAreas,
  faceBegin,
  faceBend,
  faceCount,
  faceEnd,
  faceNormals,
  lengthOf,
  sub,
  topologyOf,
  unit,
  vertexPlace,
  type NewCorner,
  type PolyMesh,
  type Vec3,
} from '../../mesh/index.ts';
import { corner, MeshEdit } from '../meshEdit.ts';
import { between } from '../split.ts';
import { flatRings } from './faceSplits.ts';
import { evenly, gridded } from './gridded.ts';
import { isConvex } from './pairs.ts';
import { stripsOf, type FaceRole } from './quadStrips.ts';
import { softBetween } from './spread.ts';

/** A quad that is divided bends by no more than this share of the side of a square as large. */
const MAY_BEND = 0.1;
/** No edge is divided into more parts than this. */
const MOST_PARTS = 64;

export interface Divided {
  mesh: PolyMesh;
  /** Quads more than there were, and edges that were split. */
  added: number;
  split: number;
}

/**
 * Divides the strips of a mesh of quads whose edges are longer than wanted, each evenly, so that its edges come to about
 * that length (mm). Strips stay whole that end at other faces, or at an edge of a rounded rim.
 */
export function divided(m: PolyMesh, wanted: (f: number) => boolean, length: number): Divided {
  const t = topologyOf(m);
  const areas = faceAreas(m);
  const roles = Array.from({ length: faceCount(m) }, (_, f): FaceRole => {
    const isQuad = m.faceLoops[f + 1]! - m.faceLoops[f]! === 1 && faceEnd(m, f) - faceBegin(m, f) === 4;
    if (!isQuad || !wanted(f) || faceBend(m, f) > MAY_BEND * Math.sqrt(areas[f]!)) return 'stays';
    return isConvex(flatRings(m, f).rings[0]!) ? 'quad' : 'stays';
  });
  const round = roundRims(m);
  const { strips } = stripsOf(
    m,
    t,
    (f) => roles[f]!,
    (e) => round.has(e),
  );
  const e = new MeshEdit(m);
  const ends = (edge: number): [Vec3, Vec3] => {
    const c = t.edgeCorner[edge]!;
    return [vertexPlace(m, m.corners[c]!), vertexPlace(m, m.corners[t.next[c]!]!)];
  };
  const added = new Map<number, number[]>();
  for (const s of strips) {
    if (!s.free || s.round) continue;
    const mean = s.edges.reduce((sum, edge) => sum + lengthOf(sub(...ends(edge))), 0) / s.edges.length;
    const parts = Math.min(MOST_PARTS, Math.round(mean / length));
    if (parts < 2) continue;
    for (const edge of s.edges) {
      const [a, b] = ends(edge);
      added.set(
        edge,
        evenly(parts).map((share) => e.vertex(between(a, b, share))),
      );
    }
  }
  if (!added.size) return { mesh: m, added: 0, split: 0 };
  const along = (c: number): NewCorner[] => {
    const list = added.get(t.edge[c]!) ?? [];
    const forward = m.corners[t.edgeCorner[t.edge[c]!]!] === m.corners[c];
    return [corner(m.corners[c]!, c), ...(forward ? list : [...list].reverse()).map((v) => corner(v, c))];
  };
  for (let f = 0; f < faceCount(m); f++) {
    if (roles[f] !== 'quad') continue;
    const c = faceBegin(m, f);
    const runs = [0, 1, 2, 3].map((k) => along(c + k));
    if (runs.some((r) => r.length > 1)) e.replace(f, gridded(e, f, runs));
  }
  const mesh = e.done();
  return { mesh, added: faceCount(mesh) - faceCount(m), split: added.size };
}

/** At the vertices of a rounded rim it turns by angles between these, degrees. */
const [LEAST_TURN, MOST_TURN] = [0.5, 46];

/** Edges of round rims: where a surface ends in a run that turns a little at both ends of the edge. */
function roundRims(m: PolyMesh): Set<number> {
  const t = topologyOf(m);
  const soft = softBetween(m, faceNormals(m));
  const rims = [...t.edgeCorner].filter((c) => !soft(c));
  const beside = new Map<number, number[]>();
  const ends = (c: number): [number, number] => [m.corners[c]!, m.corners[t.next[c]!]!];
  for (const c of rims) {
    const [a, b] = ends(c);
    beside.set(a, [...(beside.get(a) ?? []), b]);
    beside.set(b, [...(beside.get(b) ?? []), a]);
  }
  const goesOn = (from: number, at: number): boolean =>
    beside.get(at)!.some((to) => {
      if (to === from) return false;
      const [p, q, r] = [from, at, to].map((v) => vertexPlace(m, v)) as [Vec3, Vec3, Vec3];
      const turn = (Math.acos(Math.max(-1, Math.min(1, dot(unit(sub(q, p)), unit(sub(r, q)))))) * 180) / Math.PI;
      return turn > LEAST_TURN && turn < MOST_TURN;
    });
  return new Set(
    rims
      .filter((c) => {
        const [a, b] = ends(c);
        return goesOn(a, b) && goesOn(b, a);
      })
      .map((c) => t.edge[c]!),
  );
}
