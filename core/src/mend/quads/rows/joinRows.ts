import {
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  nearestOn,
  sizeOf,
  topologyOf,
  vertexCorners,
  vertexPlace,
  type Flat,
  type NewCorner,
  type PolyMesh,
  type Vec3,
} from '../../../mesh/index.ts';
import { MeshEdit } from '../../meshEdit.ts';
import { flatRings } from '../faceSplits.ts';
import { linedFace } from '../lines/face.ts';
import { oneBorder, spreadOut, type Spread } from '../spread.ts';
import { rimLots } from './rimLots.ts';
import { rowDrawing } from './rowDrawing.ts';

/** A lot of rows and columns that is laid out as one face. */
export interface RowLot {
  /** The faces of before that it was made of. */
  facets: readonly number[];
  spread: Spread;
  /** Where a place of its boundaries is drawn. */
  drawnAt(place: Vec3): Flat;
}

export interface JoinedRows {
  mesh: PolyMesh;
  /** For each of its faces: the earlier face that it is, or the first of its lot. */
  of: Int32Array;
  lots: ReadonlyMap<number, RowLot>;
  /** Vertices of rims that went: where only rows met them. */
  gathered: number;
  /** Facets of lots that cannot be drawn. */
  undrawn: readonly number[];
}

/** A rim moves by no more than so many times what the facets are from their bend. */
const MAY_MOVE = 2;
/** Vertices on a line to this share of the size of a mesh are on it. */
const ON_LINE = 1e-9;

/**
 * Joins the facets round each rim that cuts through rows and columns to one face, drawn on a rectangle. `gathers`: with
 * it vertices of rims go at which only rows and columns of the lot ended, where the rim moves by little more than the
 * facets are from the bend that they stand for: the rim keeps the segments of what cut it.
 */
export function joinRows(m: PolyMesh, may: (f: number) => boolean, gathers: boolean): JoinedRows {
  const same = () => Int32Array.from({ length: faceCount(m) }, (_, f) => f);
  const found = rimLots(m, may);
  const undrawn: number[] = [];
  if (!found.length) return { mesh: m, of: same(), lots: new Map(), gathered: 0, undrawn };
  const N = faceNormals(m);
  const e = new MeshEdit(m);
  const made: { first: number; lot: RowLot }[] = [];
  const gone = new Set<number>();
  const dropped = new Set<number>();
  const rims: { first: number; boundaries: NewCorner[][] }[] = [];
  const cornersAt = vertexCorners(m);
  for (const lot of found) {
    const [only, second] = lot.facets as [number, number?];
    // A flat face that is straight by itself needs no drawing.
    if (second === undefined && linedFace(flatRings(m, only).rings)) continue;
    const places = rowDrawing(m, lot);
    const boundaries = places && oneBorder(m, lot.facets, N);
    if (!boundaries) {
      undrawn.push(...lot.facets);
      continue;
    }
    const spread = spreadOut(m, lot.facets, (c) => places.get(m.corners[c]!)!, false);
    const byPlace = new Map([...places].map(([v, p]) => [vertexPlace(m, v).join(), p]));
    made.push({ first: only, lot: { facets: lot.facets, spread, drawnAt: (p) => byPlace.get(p.join())! } });
    for (const f of lot.facets) if (f !== only) gone.add(f);
    rims.push({ first: only, boundaries });
    if (!gathers) continue;
    const tolerance = Math.max(MAY_MOVE * spread.sagitta, ON_LINE * sizeOf(m));
    for (const rim of boundaries.slice(1))
      for (const v of idle(m, rim, lot.facets, may, cornersAt, tolerance)) dropped.add(v);
  }
  if (!made.length) return { mesh: m, of: same(), lots: new Map(), gathered: 0, undrawn };
  const left = (loop: readonly NewCorner[]) => loop.filter((c) => !dropped.has(c.vertex));
  for (const { first, boundaries } of rims) e.replace(first, [{ from: first, boundaries: boundaries.map(left) }]);
  for (const f of gone) e.remove(f);
  const firsts = new Set(made.map((x) => x.first));
  const beside = new Set([...dropped].flatMap(cornersAt).map((c) => e.topology.face[c]!));
  for (const f of beside)
    if (!gone.has(f) && !firsts.has(f)) e.replace(f, [{ from: f, boundaries: e.boundaries(f).map(left) }]);
  const mesh = e.done();
  const of = same().filter((f) => !gone.has(f));
  const lots = new Map<number, RowLot>();
  for (const { first, lot } of made) {
    const f = of.indexOf(first);
    lots.set(f, lot);
    mesh.layers.plane?.fill(NaN, 6 * f, 6 * f + 6);
  }
  return { mesh, of, lots, gathered: dropped.size, undrawn };
}

/**
 * Vertices of a rim at which only edges of the lot end, and which are no further than `tolerance` from the line between
 * those that stay.
 */
function idle(
  m: PolyMesh,
  rim: readonly NewCorner[],
  facets: readonly number[],
  may: (f: number) => boolean,
  cornersAt: (v: number) => number[],
  tolerance: number,
): number[] {
  const t = topologyOf(m);
  const own = new Set(facets);
  const isIdle = (v: number): boolean => {
    const others = cornersAt(v).filter((c) => !own.has(t.face[c]!));
    // One that the lot alone has is a corner of what cut it.
    if (cornersAt(v).length - others.length < 2 || others.length > 1) return false;
    const [c] = others;
    if (c === undefined) return true;
    const across = (k: number) => t.opposite[k]! >= 0 && own.has(t.face[t.opposite[k]!]!);
    return may(t.face[c]!) && faceEnd(m, t.face[c]!) - faceBegin(m, t.face[c]!) > 4 && across(c) && across(t.prev[c]!);
  };
  const n = rim.length;
  const at = rim.map((c) => vertexPlace(m, c.vertex));
  const mayGo = rim.map((c) => isIdle(c.vertex));
  const begin = mayGo.indexOf(false);
  const out: number[] = [];
  let from = 0;
  for (let i = 1; begin >= 0 && i <= n; i++) {
    const [a, here] = [at[(begin + from) % n]!, (begin + i) % n];
    const next = at[(here + 1) % n]!;
    const between = Array.from({ length: i - from }, (_, j) => at[(begin + from + 1 + j) % n]!);
    if (mayGo[here] && between.every((p) => nearestOn(p, a, next).distance <= tolerance)) out.push(rim[here]!.vertex);
    else from = i;
  }
  return n - out.length > 3 ? out : [];
}
