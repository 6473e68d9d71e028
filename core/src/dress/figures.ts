import {
  faceBegin,
  faceCount,
  faceEnd,
  sizeOf,
  topologyOf,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../mesh/index.ts';
import { gauge, type Gauged } from '../survey/index.ts';
import { onto, type GuideSurface } from './guideSurface.ts';

/** What a subdivision made of round seams and of the surfaces that faces stand for, mm. */
export interface SubdivisionFigures {
  /**
   * Round boundaries, the worst out-of-round before and after, how far a radius is at most from that of the surfaces
   * beside, or from what it was where none is known, and where the worst is.
   */
  rims: number;
  outBefore: number;
  outAfter: number;
  radius: number;
  at: Vec3 | null;
  /**
   * How far vertices and middles of faces are from their surface, the furthest of all, before and after; null where
   * none is known.
   */
  offBefore: number | null;
  offAfter: number | null;
}

/** A boundary is round when it departs by less than this share of its radius, and has so many vertices at least. */
const ROUND = 0.02;
/** A square and a hexagon lie on a circle, too, and are not meant to be round. */
const LEAST_VERTICES = 8;
/** Rims whose middles are nearer than this share of the radius are one and the same before and after. */
const SAME_RIM = 0.2;
/** A place is on a surface within this share of the size. */
const ON_SURFACE = 1e-9;

/**
 * Compares a subdivided mesh with its cage: how round its seams are by the plug gauge, and how far it is from the
 * surfaces that it stands for.
 */
export function subdivisionFigures(
  before: PolyMesh,
  after: PolyMesh,
  guide: ((m: PolyMesh) => GuideSurface) | undefined,
): SubdivisionFigures {
  // The mesh that stands for a surface may be its cage, and wider.
  const meant = guide ? ontoSurfaces(before, guide(before)) : before;
  const was = rimsOf(before).filter((g) => g.outOfRound < ROUND * g.radius);
  const wanted = rimsOf(meant);
  const now = rimsOf(after);
  const out: SubdivisionFigures = {
    rims: 0,
    outBefore: 0,
    outAfter: 0,
    radius: 0,
    at: null,
    offBefore: null,
    offAfter: null,
  };
  for (const a of was) {
    const near = (g: Gauged) => Math.hypot(...g.centre.map((x, k) => x - a.centre[k]!)) < SAME_RIM * a.radius;
    const b = now.find(near);
    if (!b) continue;
    out.rims++;
    out.outBefore = Math.max(out.outBefore, a.outOfRound);
    if (!out.at || b.outOfRound > out.outAfter) [out.outAfter, out.at] = [b.outOfRound, b.centre];
    const aim = wanted.find(near) ?? a;
    out.radius = Math.max(out.radius, Math.abs(b.radius - aim.radius));
  }
  if (guide) [out.offBefore, out.offAfter] = [furthest(before, guide(before)), furthest(after, guide(after))];
  return out;
}

/** The mesh with the vertices of its cut edges on the surfaces that the faces beside stand for, where these are known. */
function ontoSurfaces(m: PolyMesh, guide: GuideSurface): PolyMesh {
  const t = topologyOf(m);
  const { seam } = m.layers;
  const faces = new Map<number, Set<number>>();
  for (let c = 0; c < m.corners.length; c++) {
    if (!seam?.[c]) continue;
    for (const v of [m.corners[c]!, m.corners[t.next[c]!]!]) faces.set(v, (faces.get(v) ?? new Set()).add(t.face[c]!));
  }
  const positions = m.positions.slice();
  const near = ON_SURFACE * sizeOf(m);
  for (const [v, list] of faces)
    if ([...list].every((f) => guide.knows(f))) positions.set(onto(guide, [...list], vertexPlace(m, v), near), 3 * v);
  return { ...m, positions };
}

/** Closed runs of cut edges, as the plug gauge measures them; those that are not round at all are left out. */
function rimsOf(m: PolyMesh): Gauged[] {
  const t = topologyOf(m);
  const { seam } = m.layers;
  if (!seam) return [];
  const next = new Map<number, number[]>();
  for (const c of t.edgeCorner) {
    const o = t.opposite[c]!;
    if (!seam[c] && !(o >= 0 && seam[o])) continue;
    const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
    next.set(a, [...(next.get(a) ?? []), b]);
    next.set(b, [...(next.get(b) ?? []), a]);
  }
  const seen = new Set<number>();
  const out: Gauged[] = [];
  for (const first of next.keys()) {
    if (seen.has(first)) continue;
    const run: number[] = [];
    let closed = true;
    for (let v: number | undefined = first; v !== undefined;) {
      seen.add(v);
      run.push(v);
      const beside: readonly number[] = next.get(v)!;
      closed &&= beside.length === 2;
      v = beside.find((w) => !seen.has(w));
    }
    if (!closed || run.length < LEAST_VERTICES) continue;
    try {
      out.push(gauge(run.map((v) => vertexPlace(m, v))));
    } catch {
      // A boundary of another form.
    }
  }
  return out;
}

/**
 * The furthest that corners and middles of faces are from the surfaces that these stand for; null where none stands for
 * any.
 */
function furthest(m: PolyMesh, guide: GuideSurface): number | null {
  let far: number | null = null;
  for (let f = 0; f < faceCount(m); f++) {
    if (!guide.knows(f)) continue;
    const [begin, end] = [faceBegin(m, f), m.loopStart[m.faceLoops[f]! + 1]!];
    const middle: [number, number, number] = [0, 0, 0];
    for (let c = begin; c < end; c++)
      for (let k = 0; k < 3; k++) middle[k]! += m.positions[3 * m.corners[c]! + k]! / (end - begin);
    far = Math.max(far ?? 0, guide.off(f, middle));
    for (let c = begin; c < faceEnd(m, f); c++) {
      const v = 3 * m.corners[c]!;
      far = Math.max(far, guide.off(f, [m.positions[v]!, m.positions[v + 1]!, m.positions[v + 2]!]));
    }
  }
  return far;
}
