import {
  cross,
  dot,
  FlatFace,
  lengthOf,
  sub,
  type Flat,
  type NewCorner,
  type NewFace,
  type Vec3,
} from '../../mesh/index.ts';
import { middleOf } from '../merge.ts';
import { corner, type MeshEdit } from '../meshEdit.ts';
import { alignedEdges } from './aligned.ts';
import { drawnOn } from './faceSplits.ts';
import { quadFace, type LayOut, type QuadGoal, type QuadLayout } from './quadFace.ts';
import type { QuadReport } from './quadReport.ts';
import type { Spread } from './spread.ts';

/** Most places reported of a kind. */
const MOST_PLACES = 300;

/** A face that is laid out. */
export interface Laying {
  face: FlatFace;
  boundaries: readonly NewCorner[][];
  /** Its boundaries as they are drawn; of a bent one how it is spread out. */
  drawn: readonly (readonly Flat[])[];
  bent: Spread | undefined;
  /** How it was laid out already, or what it is laid out by. */
  lined: QuadLayout | null;
  goal: QuadGoal;
  by: LayOut;
}

/**
 * The faces that a face becomes; itself where no layout is sound. What they are like is added to the report; `size`: that
 * of the mesh, mm.
 */
export function newFaces(
  e: MeshEdit,
  { face, boundaries, drawn, bent, lined, goal, by }: Laying,
  report: QuadReport,
  size: number,
): NewFace[] {
  const f = face.face;
  const rings = boundaries.map((o) => e.flat(f, o));
  const layout = lined ?? quadFace(drawnOn(bent, rings), goal, by);
  const all = boundaries.flat();
  if (!layout) {
    report.left++;
    tell(report.places.left, middleOf(boundaries[0]!.map((c) => e.at(c.vertex))));
    return [{ from: f, boundaries }];
  }
  const points = bent ? layout.points.map(bent.back) : layout.points;
  const lift = bent?.lift ?? liftOnto(e, face, all, rings.flat(), size);
  const vertices = points.map(
    (p, i) => all[i]?.vertex ?? (layout.polygons.some((q) => q.includes(i)) ? e.vertex(lift(p)) : -1),
  );
  const edges = new Map<string, number>();
  let at = 0;
  for (const o of boundaries) {
    o.forEach((c, i) => edges.set(`${at + i},${at + ((i + 1) % o.length)}`, c.edge));
    at += o.length;
  }
  report.triangles += layout.triangles;
  report.quads += layout.polygons.length - layout.triangles;
  report.poles += layout.poles;
  const { places } = report;
  for (const p of layout.polygons)
    if (p.length === 3) tell(places.triangles, middleOf(p.map((v) => e.at(vertices[v]!))));
  for (const v of layout.poleAt) tell(places.poles, e.at(vertices[v]!));
  if (layout.possible) report.even++;
  if (layout.mirrors) report.mirrored++;
  const { along, all: inner } = alignedEdges(drawn, layout.points, layout.polygons);
  report.along += along;
  report.inner += inner;
  for (const p of layout.polygons)
    p.forEach((v, i) => {
      const at = (k: number) => e.at(vertices[p[k % p.length]!]!);
      const angle = angleAt(at(i + p.length - 1), at(i), at(i + 1));
      if (angle >= report.sharpest) return;
      report.sharpest = angle;
      places.sharpest = [e.at(vertices[v]!)];
    });
  return layout.polygons.map((p) => ({
    from: f,
    boundaries: [p.map((v, i) => corner(vertices[v]!, edges.get(`${v},${p[(i + 1) % p.length]!}`) ?? -1))],
  }));
}

/** The angle at a place between the ways to two others, degrees. */
function angleAt(one: Vec3, at: Vec3, two: Vec3): number {
  const [p, q] = [sub(one, at), sub(two, at)];
  return (Math.atan2(lengthOf(cross(p, q)), dot(p, q)) * 180) / Math.PI;
}

/** Adds a place to those that are reported, up to a few hundred. */
export const tell = (list: Vec3[], place: Vec3): void => {
  if (list.length < MOST_PLACES) list.push(place);
};

/** Faces that bend by less than this share of the part's size are flat. */
const FLAT_FACE = 1e-9;

/**
 * Where a place of a face is in space: on its plane, and on a bent one as far off it as its boundary is nearby, weighed
 * by the square of the distance.
 */
function liftOnto(
  e: MeshEdit,
  face: FlatFace,
  corners: readonly NewCorner[],
  places: readonly Flat[],
  size: number,
): (p: Flat) => Vec3 {
  const offs = corners.map((c, i) => {
    const [p, q] = [e.at(c.vertex), face.lift(places[i]!)];
    return p.map((x, k) => x - q[k]!) as unknown as Vec3;
  });
  if (offs.every((d) => Math.hypot(...d) <= FLAT_FACE * size)) return (p) => face.lift(p);
  return (p) => {
    const weights = places.map((q) => 1 / ((q[0] - p[0]) ** 2 + (q[1] - p[1]) ** 2 + Number.MIN_VALUE));
    const sum = weights.reduce((s, w) => s + w, 0);
    return face
      .lift(p)
      .map((x, k) => x + offs.reduce((s, d, i) => s + d[k]! * weights[i]!, 0) / sum) as unknown as Vec3;
  };
}
