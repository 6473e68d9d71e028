import {
  add,
  checkCancelled,
  dot,
  lengthOf,
  scaled,
  sub,
  topologyOf,
  unit,
  vertexCorners,
  type OpContext,
  type PolyMesh,
  type Topology,
  type Vec3,
  vertexPlace,
} from '../../mesh/index.ts';
import { vertexNormals } from '../../mend/index.ts';
import { sharpnessOf } from '../catmullClark.ts';
import { onto, type GuideSurface } from '../guideSurface.ts';
import { sharpEdges } from '../sharpEdges.ts';
import { SoonSmooth, type SmoothedBy } from './soonSmooth.ts';

/** Rounds of bringing the smooth surface nearer to its guide; each takes most of what is left. */
const ROUNDS = 24;
/** Edges by which a surface turns by more are sharp, degrees. */
const SHARP = 30;
/** The smooth surface is on its guide within this share of the size. */
const ON_GUIDE = 1e-9;

/** A cage whose smooth surface is where it is meant to be. */
export interface ThroughGuide {
  positions: Float64Array;
  /** The farthest that a vertex was moved, mm. */
  moved: number;
}

/**
 * Moves the vertices of a cage so that the surface which a subdivision makes of it passes through the guide near each of
 * them, where Catmull–Clark alone would stay within: on a line at which two surfaces meet sharply through both. Where no
 * guide is known, it passes over or under no vertex.
 * Source: progressive iterative approximation (Lin, Wang and Dong, "Constructing iterative non-uniform B-spline curve
 * and surface to fit data points", 2004).
 */
export function throughGuide(
  m: PolyMesh,
  guide: GuideSurface | undefined,
  by: SmoothedBy,
  size: number,
  ctx?: OpContext,
): ThroughGuide {
  const smooth = new SoonSmooth(m, by);
  const t = topologyOf(m);
  const { sharp } = sharpnessOf(m, {});
  const cornersAt = vertexCorners(m);
  const isSharp = (c: number) => sharp[t.edge[c]!]! > 0;
  // Sharp edges that are rounded over stay as they are.
  const rounded = new Set<number>();
  for (const e of sharpEdges(m, SHARP)) {
    const c = t.edgeCorner[e]!;
    if (!isSharp(c)) rounded.add(m.corners[c]!).add(m.corners[t.next[c]!]!);
  }
  /** For each vertex: one face of each surface that it is on; none where it stays. */
  const faces = new Map<number, number[]>();
  for (let v = 0; v < m.positions.length / 3; v++) {
    if (!smooth.moves(v) || rounded.has(v)) continue;
    const list = surfacesAt(t, cornersAt(v), isSharp);
    const isKnown = list.length === (smooth.onLine(v) ? 2 : 1) && list.every((f) => guide?.knows(f));
    faces.set(v, isKnown ? list : []);
  }
  const back = wayBack(m, smooth, cornersAt, isSharp);
  const P = m.positions.slice();
  const near = ON_GUIDE * size;
  for (let round = 0; round < ROUNDS; round++) {
    checkCancelled(ctx);
    ctx?.progress?.(round / ROUNDS, 'Moving the cage outward');
    const now = smooth.at(P);
    let left = 0;
    for (const [v, list] of faces) {
      const from: Vec3 = [now[3 * v]!, now[3 * v + 1]!, now[3 * v + 2]!];
      const way = list.length ? sub(onto(guide!, list, from, near), from) : back(v, from);
      left = Math.max(left, lengthOf(way));
      P.set(add([P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!], way), 3 * v);
    }
    if (left <= near) break;
  }
  const moved = [...faces.keys()].reduce(
    (most, v) => Math.max(most, Math.hypot(...[0, 1, 2].map((k) => P[3 * v + k]! - m.positions[3 * v + k]!))),
    0,
  );
  return { positions: P, moved };
}

/**
 * The way from a place to a vertex of a mesh, across the surface or across the line that it lies on: moves along these
 * need no correction.
 */
function wayBack(
  m: PolyMesh,
  smooth: SoonSmooth,
  cornersAt: (v: number) => readonly number[],
  isSharp: (c: number) => boolean,
): (v: number, from: Vec3) => Vec3 {
  const t = topologyOf(m);
  const N = vertexNormals(m);
  const at = (v: number): Vec3 => vertexPlace(m, v);
  return (v, from) => {
    const way = sub(at(v), from);
    if (!smooth.onLine(v)) {
      const n: Vec3 = [N[3 * v]!, N[3 * v + 1]!, N[3 * v + 2]!];
      return scaled(n, dot(way, n));
    }
    const ends = new Set<number>();
    for (const c of cornersAt(v)) {
      if (isSharp(c)) ends.add(m.corners[t.next[c]!]!);
      if (isSharp(t.prev[c]!)) ends.add(m.corners[t.prev[c]!]!);
    }
    const [a, b] = [...ends] as [number, number];
    const along = unit(sub(at(b), at(a)));
    return add(way, along, -dot(way, along));
  };
}

/** One face of each run of faces round a vertex that go over into each other. */
function surfacesAt(t: Topology, corners: readonly number[], isSharp: (c: number) => boolean): number[] {
  const seen = new Set<number>();
  const out: number[] = [];
  for (const first of corners) {
    if (seen.has(first)) continue;
    out.push(t.face[first]!);
    const run = new Set([first]);
    for (const c of run) {
      seen.add(c);
      const [left, arrived] = [t.opposite[c]!, t.opposite[t.prev[c]!]!];
      if (left >= 0 && !isSharp(c)) run.add(t.next[left]!);
      if (arrived >= 0 && !isSharp(arrived)) run.add(arrived);
    }
  }
  return out;
}
