import {
  add,
  dot,
  faceBegin,
  faceCount,
  faceEnd,
  lengthOf,
  sub,
  unit,
  vertexCount,
  type PolyMesh,
  type Vec3,
  type OpResult,
} from '../mesh/index.ts';
import { mergeVertices } from './merge.ts';
import { MeshEdit } from './meshEdit.ts';
import { putIntoEdges } from './split.ts';

/** Report of closing faces without width. */
export interface CloseFlatFacesReport {
  /** Faces that were closed. */
  closed: number;
  /** Faces without width that could not be: their boundary turns back on its way. */
  left: number[];
}

/** Most rounds; each closes faces that have no neighbour in the same round. */
const MOST_ROUNDS = 64;

export interface CloseFlatFacesOptions {
  /** A face no wider than this has no width, mm. */
  within: number;
  /** Which places are looked at; all when left out. */
  wanted?: (p: Vec3) => boolean;
}

/**
 * Closes faces without width, as a zip: all corners of such a face lie within a distance (mm) of the line between its
 * two ends, so that its boundary runs there and back. The edges of the one side take the vertices of the other, so that
 * the faces beside it meet, and the face goes. Nothing moves but corners that lie opposite each other nearer than the
 * distance: those become one. Only faces all of whose corners are wanted, by their places.
 *
 * @example
 * const { mesh, report } = closeFlatFaces(box(10, 10, 10), { within: 1e-6 });
 */
export function closeFlatFaces(
  m: PolyMesh,
  { within, wanted = () => true }: CloseFlatFacesOptions,
): OpResult<CloseFlatFacesReport> {
  let mesh = m;
  let closed = 0;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const step = oneRound(mesh, within, wanted);
    if (!step.report.closed) return { mesh, report: { closed, left: step.report.left } };
    mesh = step.mesh;
    closed += step.report.closed;
  }
  return { mesh, report: { closed, left: oneRound(mesh, within, wanted).report.left } };
}

function oneRound(m: PolyMesh, within: number, wanted: (p: Vec3) => boolean): OpResult<CloseFlatFacesReport> {
  const e = new MeshEdit(m);
  const t = e.topology;
  const into = new Map<number, number>();
  const places = new Map<number, number[]>();
  const touched = new Set<number>();
  const left: number[] = [];
  const gone: number[] = [];
  for (let f = 0; f < faceCount(m); f++) {
    if (m.faceLoops[f + 1]! - m.faceLoops[f]! > 1) continue;
    let all = true;
    for (let c = faceBegin(m, f); c < faceEnd(m, f) && all; c++) all = wanted(e.at(m.corners[c]!));
    if (!all) continue;
    const flat = laidAlong(e, f, within);
    if (!flat) continue;
    if (!flat.straight) {
      left.push(f);
      continue;
    }
    const beside = new Set<number>([f]);
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++)
      for (let o = t.sameEdge[c]!; o !== c; o = t.sameEdge[o]!) beside.add(t.face[o]!);
    if ([...beside].some((g) => touched.has(g))) continue;
    for (const g of beside) touched.add(g);
    gone.push(f);
    zip(e, flat, within, into, places);
  }
  if (!gone.length) return { mesh: m, report: { closed: 0, left } };
  putIntoEdges(e, places);
  for (const f of gone) e.remove(f);
  const zipped = e.done();
  const number = (v: number) => e.numbers[v]!;
  const all = Int32Array.from({ length: vertexCount(zipped) }, (_, v) => v);
  for (const [v, w] of into) if (number(v) >= 0 && number(w) >= 0) all[number(v)] = number(w);
  return {
    mesh: into.size ? mergeVertices(zipped, { into: all }).mesh : zipped,
    report: { closed: gone.length, left },
  };
}

interface Side {
  /** Corners of this side, in the order of the boundary, with how far along each is, mm. */
  corners: number[];
  along: number[];
}

/** A face whose boundary runs along a line and back: its two sides, each in the order of the boundary. */
function laidAlong(e: MeshEdit, f: number, within: number): { sides: [Side, Side]; straight: boolean } | null {
  const { mesh: m } = e;
  const [begin, end] = [faceBegin(m, f), faceEnd(m, f)];
  const at = (c: number) => e.at(m.corners[c]!);
  const furthest = (from: Vec3) => {
    let [best, far] = [begin, -1];
    for (let c = begin; c < end; c++) {
      const d = lengthOf(sub(at(c), from));
      if (d > far) [best, far] = [c, d];
    }
    return best;
  };
  const first = furthest(at(begin));
  const last = furthest(at(first));
  const way = unit(sub(at(last), at(first)));
  const along = (c: number) => dot(sub(at(c), at(first)), way);
  for (let c = begin; c < end; c++) if (lengthOf(sub(at(c), add(at(first), way, along(c)))) > within) return null;
  const side = (from: number, to: number): Side => {
    const corners: number[] = [];
    for (let c = from; ; c = c + 1 < end ? c + 1 : begin) {
      corners.push(c);
      if (c === to) return { corners, along: corners.map(along) };
    }
  };
  const sides: [Side, Side] = [side(first, last), side(last, first)];
  const rises = (list: readonly number[], way: 1 | -1) =>
    list.every((x, i) => i === 0 || way * (x - list[i - 1]!) >= -within);
  return { sides, straight: rises(sides[0].along, 1) && rises(sides[1].along, -1) };
}

/** Each edge of one side takes the vertices of the other that lie within it; corners at one place become one. */
function zip(
  e: MeshEdit,
  { sides }: { sides: [Side, Side] },
  within: number,
  into: Map<number, number>,
  places: Map<number, number[]>,
): void {
  const { mesh: m, topology: t } = e;
  const vertex = (c: number) => m.corners[c]!;
  // A vertex of the one side, or the one of the other side at the same place.
  const alone = (c: number) => t.sameEdge[c] === c;
  const inner = sides.map((s) =>
    s.corners.slice(1, -1).map((c, i) => ({ v: vertex(c), s: s.along[i + 1]!, met: !alone(c) || !alone(t.prev[c]!) })),
  );
  const ends = [sides[0].corners[0]!, sides[1].corners[0]!].map((c) => ({
    v: vertex(c),
    s: c === sides[0].corners[0] ? 0 : sides[1].along[0]!,
  }));
  const goes = (a: number, b: number) => {
    if (a === b || into.has(a) || into.has(b)) return;
    into.set(a, b);
  };
  for (const x of inner[1]!) {
    const same = [...ends, ...inner[0]!].find((y) => Math.abs(y.s - x.s) <= within);
    if (same) goes(x.v, same.v);
  }
  sides.forEach((side, k) => {
    const others = inner[1 - k]!;
    for (let i = 0; i + 1 < side.corners.length; i++) {
      const c = side.corners[i]!;
      // Nothing lies beside an open edge.
      if (alone(c)) continue;
      const [a, b] = [side.along[i]!, side.along[i + 1]!];
      const among = others.filter(({ s, met }) => met && s > Math.min(a, b) + within && s < Math.max(a, b) - within);
      if (!among.length) continue;
      const edge = t.edge[c]!;
      // Measured from the end that the first corner of the edge leaves.
      const forward = m.corners[t.edgeCorner[edge]!] === vertex(c);
      const sign = (b >= a ? 1 : -1) * (forward ? 1 : -1);
      places.set(
        edge,
        among.sort((x, y) => sign * (x.s - y.s)).map((x) => x.v),
      );
    }
  });
}
