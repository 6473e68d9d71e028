import {
  add,
  cornerNormals,
  dot,
  faceNormals,
  lengthOf,
  nearestOn,
  scaled,
  sharpCorners,
  sub,
  topologyOf,
  unit,
  type PolyMesh,
  type Vec3,
  vertexPlace,
  type OpResult,
} from '../mesh/index.ts';
import { seated, type GuideSurface } from './guideSurface.ts';

/** A face whose guide turns by less (radians) from it at all its corners is a flat that is meant to be one. */
const FLAT_IN_GUIDE = 1e-6;

/** Whether a face is one of those that stand for a bent surface. */
function bent(m: PolyMesh, guide: GuideSurface, normals: Float64Array, f: number): boolean {
  if (!guide.knows(f)) return false;
  for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) {
    const n = unit(guide.normal(f, vertexPlace(m, m.corners[c]!)));
    if (lengthOf(sub(n, [normals[3 * f]!, normals[3 * f + 1]!, normals[3 * f + 2]!])) > FLAT_IN_GUIDE) return true;
  }
  return false;
}

/** Normals that differ by less (1 − cosine) are the same light: single digits hold no more. */
const SAME_LIGHT = 1e-6;

export interface RelightOptions {
  guide: GuideSurface;
  wanted: (face: number) => boolean;
  /** Over which distance from cut edges the guide gains its full weight, mm. */
  fade: number;
}

export interface RelightReport {
  /** Corners whose normals were taken from the guide, and by how much the most, degrees. */
  corners: number;
  most: number;
}

/**
 * Gives faces the normals of the surface that they stand for, so that a cut leaves no dent in the light: bent ones
 * those of the round, flats their own. Strips and what else comes from no body keep theirs. With a `fade` (mm) the
 * light passes to what it was over that distance from cut edges. Returns how many corners have other normals than
 * before, and the greatest turn, degrees.
 *
 * @example
 * const m = cylinder(10, 20, 24);
 * const { mesh, report } = relight(m, { guide: fittedGuide(m, () => true), wanted: () => true, fade: 0 });
 */
export function relight(m: PolyMesh, { guide, wanted, fade }: RelightOptions): OpResult<RelightReport> {
  const flat = faceNormals(m);
  const normal = m.layers.normal?.slice() ?? cornerNormals(m, flat, sharpCorners(m, flat));
  const near = fade > 0 ? seamDistance(m, fade) : null;
  let [corners, least] = [0, 1];
  for (let f = 0; f + 1 < m.faceLoops.length; f++) {
    if (!wanted(f) || !guide.knows(f)) continue;
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) {
      const p = vertexPlace(m, m.corners[c]!);
      const was: Vec3 = [normal[3 * c]!, normal[3 * c + 1]!, normal[3 * c + 2]!];
      const share = near ? Math.min(1, near(p) / fade) : 1;
      const meant = unit(guide.normal(f, p));
      // The centre of a ball and the tip of a cone have no normal.
      if (!(lengthOf(meant) > LEAST_MEAN)) continue;
      const mixed = add(scaled(unit(was), 1 - share), meant, share);
      // Two ways that cancel out have no mean.
      const n = lengthOf(mixed) > LEAST_MEAN ? unit(mixed) : meant;
      const cos = dot(n, unit(was));
      if (1 - cos > SAME_LIGHT) corners++;
      least = Math.min(least, cos);
      normal.set(n, 3 * c);
    }
  }
  return {
    mesh: { ...m, layers: { ...m.layers, normal } },
    report: { corners, most: (Math.acos(Math.max(-1, least)) * 180) / Math.PI },
  };
}

/** How far a place is from the nearest cut edge, up to a distance, mm. */
function seamDistance(m: PolyMesh, most: number): (p: Vec3) => number {
  const t = topologyOf(m);
  const { seam } = m.layers;
  const seams = [...t.edgeCorner].filter((c) => seam?.[c] || (t.opposite[c]! >= 0 && seam?.[t.opposite[c]!]));
  return (p) =>
    seams.reduce(
      (d, c) =>
        Math.min(d, nearestOn(p, vertexPlace(m, m.corners[c]!), vertexPlace(m, m.corners[t.next[c]!]!)).distance),
      most,
    );
}

/** A mean of two directions shorter than this has no direction. */
const LEAST_MEAN = 1e-6;
/** A vertex nearer to its surface than this share of the size is on it. */
const ON_SURFACE = 1e-12;

export interface ReseatOptions {
  guide: GuideSurface;
  wanted: (face: number) => boolean;
  /** Vertices further from the guide than this stay, mm. */
  most: number;
}

export interface ReseatReport {
  moved: number;
  /** How far the furthest went, mm. */
  furthest: number;
  /** Vertices that stay, as they are further away than that. */
  spared: number;
}

/**
 * Puts vertices of faces that stand for a bent surface onto it: along its normals; those on cut edges along the walls
 * of the cut, so that the boundary stays in them. No vertex goes further than `most` (mm). Vertices where three
 * surfaces or more meet stay. Returns how many moved, the greatest way, and how many would have gone too far.
 *
 * @example
 * const m = cylinder(10, 20, 24);
 * const { mesh, report } = reseat(m, { guide: fittedGuide(m, () => true), wanted: () => true, most: 1 });
 */
export function reseat(m: PolyMesh, { guide, wanted, most }: ReseatOptions): OpResult<ReseatReport> {
  const t = topologyOf(m);
  const flat = faceNormals(m);
  const onto = new Uint8Array(flat.length / 3);
  for (let f = 0; f < onto.length; f++) onto[f] = wanted(f) && bent(m, guide, flat, f) ? 1 : 0;
  const bodyOf = (f: number) => m.layers.source?.[3 * f] ?? 0;
  const at = new Map<number, number[]>();
  m.corners.forEach((v, c) => {
    const list = at.get(v);
    if (list) list.push(c);
    else at.set(v, [c]);
  });
  const positions = m.positions.slice();
  const size = Math.max(...m.positions.map(Math.abs), 1e-9);
  let [moved, furthest, spared] = [0, 0, 0];
  for (const [v, corners] of at) {
    // Where surfaces of two bodies meet, the vertex belongs to the older one, and the other is the wall of the cut.
    const face = corners
      .map((c) => t.face[c]!)
      .filter((f) => onto[f])
      .sort((a, b) => bodyOf(a) - bodyOf(b))[0];
    if (face === undefined) continue;
    const own = (f: number) => onto[f] === 1 && bodyOf(f) === bodyOf(face);
    const others = corners.filter((c) => !own(t.face[c]!));
    const from = vertexPlace(m, v);
    let along: Vec3 | null = null;
    if (others.length) {
      // Along the edge between the other faces, or where there is none along those of the one face beside it: so the
      // wall of a cut stays one.
      const rising = others.filter((c) => t.opposite[c]! >= 0 && !own(t.face[t.opposite[c]!]!));
      if (rising.length > 1) continue;
      along = rising.length
        ? unit(sub(vertexPlace(m, m.corners[t.next[rising[0]!]!]!), from))
        : wayOf(m, t.face[others[0]!]!, own, unit(guide.normal(face, from)));
      if (!along) continue;
    }
    const to = seated(guide, face, from, along, ON_SURFACE * size);
    const way = lengthOf(sub(to, from));
    if (way <= ON_SURFACE * size) continue;
    if (way > most) {
      spared++;
      continue;
    }
    positions.set(to, 3 * v);
    moved++;
    furthest = Math.max(furthest, way);
  }
  return { mesh: { ...m, positions }, report: { moved, furthest, spared } };
}

/** The direction of the edge of a wall, not on the surface itself, that leads away from it the most. */
function wayOf(m: PolyMesh, wall: number, own: (face: number) => boolean, n: Vec3): Vec3 | null {
  const t = topologyOf(m);
  let [best, most]: [Vec3 | null, number] = [null, 0.1];
  for (let c = m.loopStart[m.faceLoops[wall]!]!; c < m.loopStart[m.faceLoops[wall + 1]!]!; c++) {
    const o = t.opposite[c]!;
    if (o >= 0 && own(t.face[o]!)) continue;
    const d = unit(sub(vertexPlace(m, m.corners[t.next[c]!]!), vertexPlace(m, m.corners[c]!)));
    if (Math.abs(dot(d, n)) > most) [best, most] = [d, Math.abs(dot(d, n))];
  }
  return best;
}
