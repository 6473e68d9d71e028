import {
  faceBegin,
  faceBend,
  faceCount,
  faceEnd,
  faceNormals,
  hashText,
  cross,
  dot,
  lengthOf,
  MasonError,
  sizeOf,
  sub,
  topologyOf,
  triangulateFace,
  unit,
  type Flat,
  type NewCorner,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../../mesh/index.ts';
import { border } from '../dissolve.ts';
import { MeshEdit } from '../meshEdit.ts';
import { meanValueWeights } from './rows/meanValue.ts';

/** Facets of a bent surface that are laid out as one. */
export interface Lots {
  /** The mesh with one bent face in the place of each lot. */
  mesh: PolyMesh;
  /** For each of its faces: the earlier face that it is, or the first of its lot. */
  of: Int32Array;
  /** By a face of it the faces of before that it was made of. */
  lots: Map<number, readonly number[]>;
}

/** Facets that lean from each other by less than this (cosine) are one flat; by more than that (30°), an edge. */
const [ONE_FLAT_COS, SOFT_EDGE_COS] = [Math.cos((0.2 * Math.PI) / 180), Math.cos((30 * Math.PI) / 180)];
/** Facets of a lot lean from its middle by less than this (cosine of 50°): they are laid on one plane. */
const SPREAD_COS = Math.cos((50 * Math.PI) / 180);

/** The cosine of how much two faces lean from each other. */
const leanOf = (N: Float64Array) => (f: number, g: number) =>
  N[3 * f]! * N[3 * g]! + N[3 * f + 1]! * N[3 * g + 1]! + N[3 * f + 2]! * N[3 * g + 2]!;

/** Whether the surface runs on across a corner's edge: it bends little there, and nothing is marked on it. */
export function softBetween(m: PolyMesh, N: Float64Array): (corner: number) => boolean {
  const t = topologyOf(m);
  const lean = leanOf(N);
  const { slot, seam, hard, body, mark } = m.layers;
  return (c) => {
    const o = t.opposite[c]!;
    if (o < 0 || seam?.[c] || seam?.[o] || hard?.[c] || hard?.[o]) return false;
    const [f, g] = [t.face[c]!, t.face[o]!];
    return lean(f, g) > SOFT_EDGE_COS && [slot, body, mark].every((l) => !l || l[f] === l[g]);
  };
}

/**
 * Joins the facets of bent surfaces that want to be laid out, with the plain ones beside them, lot by lot: alone they
 * are too narrow for sound quads where a finer boundary cuts them. A lot bends so little that it can be seen as a whole
 * from one side. Facets that are to stay apart are left alone; uneven ones of three or four sides count as others.
 */
export function joinFacets(
  m: PolyMesh,
  wanted: (f: number) => boolean,
  isApart: (f: number) => boolean,
  isUneven: (f: number) => boolean = () => false,
): Lots {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const lean = leanOf(N);
  const soft = softBetween(m, N);
  const isQuad = (f: number) =>
    m.faceLoops[f + 1]! - m.faceLoops[f]! === 1 && faceEnd(m, f) - faceBegin(m, f) < 5 && !isUneven(f);
  const may = (f: number) => wanted(f) && !isApart(f);
  /** Facets beside one, across edges that are softly bent. */
  const beside = (f: number): number[] => {
    const out: number[] = [];
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      if (!soft(c)) continue;
      const g = t.face[t.opposite[c]!]!;
      if (lean(f, g) < ONE_FLAT_COS && may(g)) out.push(g);
    }
    return out;
  };
  const taken = new Set<number>();
  const lots: number[][] = [];
  for (let seed = 0; seed < faceCount(m); seed++) {
    if (taken.has(seed) || !may(seed) || isQuad(seed)) continue;
    const lot = gathered(
      seed,
      (f) => beside(f).filter((g) => !taken.has(g) && !isQuad(g)),
      (f) => lean(seed, f) > SPREAD_COS,
    );
    // With the plain ones beside it there is room round the boundary.
    const more = lot.flatMap((f) => beside(f).filter((g) => isQuad(g) && !taken.has(g) && lean(seed, g) > SPREAD_COS));
    const whole = [...new Set([...lot, ...more])];
    if (whole.length < 2) continue;
    for (const f of whole) taken.add(f);
    lots.push(whole);
  }
  return joinedTo(m, lots, N);
}

/** The wanted faces connected to a face. */
function gathered(seed: number, beside: (f: number) => number[], wanted: (f: number) => boolean): number[] {
  const out = new Set([seed]);
  for (const f of out) for (const g of beside(f)) if (wanted(g)) out.add(g);
  return [...out];
}

/** The boundaries of facets as one face; null where they are not those of one. */
export function oneBorder(m: PolyMesh, facets: readonly number[], N: Float64Array): NewCorner[][] | null {
  try {
    return border(m, facets, N);
  } catch (e) {
    if (e instanceof MasonError) return null;
    throw e;
  }
}

function joinedTo(m: PolyMesh, lots: readonly (readonly number[])[], N: Float64Array): Lots {
  const e = new MeshEdit(m);
  const gone = new Set<number>();
  const first = new Map<number, readonly number[]>();
  for (const lot of lots) {
    // Not a face with one outer boundary: its facets stay apart.
    const boundaries = oneBorder(m, lot, N);
    if (!boundaries) continue;
    e.replace(lot[0]!, [{ from: lot[0]!, boundaries }]);
    for (const f of lot.slice(1)) {
      e.remove(f);
      gone.add(f);
    }
    first.set(lot[0]!, lot);
  }
  if (!first.size) return { mesh: m, of: Int32Array.from({ length: faceCount(m) }, (_, f) => f), lots: new Map() };
  const mesh = e.done();
  const of = Int32Array.from({ length: faceCount(m) }, (_, f) => f).filter((f) => !gone.has(f));
  const made = new Map<number, readonly number[]>();
  of.forEach((f, i) => {
    if (!first.has(f)) return;
    made.set(i, first.get(f)!);
    mesh.layers.plane?.fill(NaN, 6 * i, 6 * i + 6);
  });
  return { mesh, of, lots: made };
}

/** Facets that are laid on a plane, and how places of it are put back. */
export interface Spread {
  /** Where a place is over the facet that it falls on, over the nearest where it falls beside all. */
  lift: (p: Flat) => Vec3;
  /**
   * Places of the plane as they are laid out, and back: drawn together along the facets where these are long, so that
   * quads become long as well.
   */
  drawn: (p: Flat) => Flat;
  back: (p: Flat) => Flat;
  /** How far the facets are from the bend that they stand for, mm. */
  sagitta: number;
  /** How wide a quad may be. */
  most: number;
  /**
   * How many times further than the facets are from the bend that they stand for a polygon with these corners would be
   * from them, in its middle or that of a side.
   */
  departs: (polygon: readonly Flat[]) => number;
  /** A text that is the same for the same facets laid out the same way. */
  name: () => string;
}

/**
 * Lays facets of a lot on a plane, of which none may come over another there: `flat` says where a corner of them is on
 * it. `squeezed`: whether long facets are drawn together.
 */
export function spreadOut(
  m: PolyMesh,
  facets: readonly number[],
  flat: (corner: number) => Flat,
  squeezed = true,
): Spread {
  const at = (c: number): Vec3 => vertexPlace(m, m.corners[c]!);
  const size = sizeOf(m);
  const triangles = facets.flatMap((f) => {
    const own = Array.from({ length: faceEnd(m, f) - faceBegin(m, f) }, (_, i) => faceBegin(m, f) + i);
    // Within a flat facet places move evenly with its corners, whatever its triangles.
    const whole =
      !squeezed && m.faceLoops[f + 1]! - m.faceLoops[f]! === 1 && faceBend(m, f) < FLAT_FACET * size
        ? { flat: own.map(flat), solid: own.map(at) }
        : null;
    const corners = triangulateFace(m, f);
    return Array.from({ length: corners.length / 3 }, (_, i) => {
      const own = [0, 1, 2].map((k) => corners[3 * i + k]!);
      const solid = own.map(at) as [Vec3, Vec3, Vec3];
      const normal = unit(cross(sub(solid[1], solid[0]), sub(solid[2], solid[0])));
      return { whole, solid, normal, flat: own.map(flat) as [Flat, Flat, Flat] };
    });
  });
  const turned = (a: Flat, b: Flat, c: Flat) => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
  /** Where a place is in space, and the triangle that it is over. */
  const over = (p: Flat): { at: Vec3; on: (typeof triangles)[number] } => {
    let best = triangles[0]!;
    let weights = [1, 0, 0];
    let most = -Infinity;
    for (const x of triangles) {
      const [a, b, c] = x.flat;
      const whole = turned(a, b, c);
      if (!(whole > 0)) continue;
      const w = [turned(p, b, c) / whole, turned(a, p, c) / whole, turned(a, b, p) / whole];
      const least = Math.min(...w);
      if (least > most) [most, best, weights] = [least, x, w];
      if (least >= 0) break;
    }
    let { solid }: { solid: readonly Vec3[] } = best;
    if (best.whole && most >= 0) {
      solid = best.whole.solid;
      weights = meanValueWeights(best.whole.flat, p);
    }
    const at = ([0, 1, 2] as const).map((k) => solid.reduce((s, q, i) => s + weights[i]! * q[k], 0));
    return { at: at as unknown as Vec3, on: best };
  };
  const lift = (p: Flat): Vec3 => over(p).at;
  const bend = bendOf(m, facets, flat);
  const { sagitta: near, width, way } = bend;
  const squeeze = squeezed ? bend.squeeze : 1;
  const along =
    (k: number) =>
    ([x, y]: Flat): Flat => {
      const s = (k - 1) * (x * way[0] + y * way[1]);
      return [x + s * way[0], y + s * way[1]];
    };
  const [drawn, back] = [along(1 / squeeze), along(squeeze)];
  const departs = (drawnPolygon: readonly Flat[]) => {
    const polygon = drawnPolygon.map(back);
    const corners = polygon.map(lift);
    const off = (list: readonly number[]) => {
      const mean = (k: number, of: readonly (readonly number[])[]) =>
        list.reduce((s, i) => s + of[i % of.length]![k]!, 0) / list.length;
      const { at, on } = over([mean(0, polygon), mean(1, polygon)]);
      return Math.abs(dot(on.normal, sub([mean(0, corners), mean(1, corners), mean(2, corners)], at)));
    };
    const all = [polygon.map((_, i) => i), ...polygon.map((_, i) => [i, i + 1])];
    return all.reduce((most, list) => Math.max(most, off(list)), 0) / (near || Infinity);
  };
  const name = () =>
    hashText(JSON.stringify([squeeze, triangles.map(({ whole, solid, flat }) => [whole !== null, solid, flat])]));
  return { lift, departs, drawn, back, most: MOST_WIDE * width, sagitta: near, name };
}

/** A facet that bends by less than this share of the mesh's size is flat. */
const FLAT_FACET = 1e-9;
/** Quads on facets are no wider than so many facets. */
const MOST_WIDE = 1.15;
/** A surface that bends one way less than this share of how it bends the other way is a row of long facets. */
const ONE_WAY = 0.1;
/** Quads on long facets are so many times as long as wide where there is room. */
const [LENGTH, MOST_SQUEEZE] = [5, 6];

/**
 * How facets bend: how far they stand off an arc over them (mm), how wide they are across the bend, and by how much
 * they are drawn together along a way.
 */
function bendOf(
  m: PolyMesh,
  facets: readonly number[],
  flat: (corner: number) => Flat,
): { sagitta: number; width: number; way: Flat; squeeze: number } {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const inside = new Set(facets);
  const at = (c: number): Vec3 => vertexPlace(m, m.corners[c]!);
  let [sagitta, widths, weight, lengths] = [0, 0, 0, 0];
  let [xx, xy, yy] = [0, 0, 0];
  for (const f of facets)
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      const o = t.opposite[c]!;
      const g = o < 0 ? -1 : t.face[o]!;
      if (!inside.has(g)) continue;
      const turn = Math.acos(
        Math.min(1, N[3 * f]! * N[3 * g]! + N[3 * f + 1]! * N[3 * g + 1]! + N[3 * f + 2]! * N[3 * g + 2]!),
      );
      const [p, q] = [at(c), at(t.next[c]!)];
      const long = lengthOf(sub(q, p));
      // How wide the facet is, square to the edge: what it reaches from it.
      let wide = 0;
      for (let x = faceBegin(m, f); x < faceEnd(m, f); x++)
        wide = Math.max(wide, lengthOf(cross(sub(at(x), p), sub(q, p))) / long);
      sagitta = Math.max(sagitta, (wide * turn) / 8);
      const [a, b] = [flat(c), flat(t.next[c]!)];
      const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
      const w = turn / (Math.hypot(dx, dy) || 1);
      [xx, xy, yy] = [xx + w * dx * dx, xy + w * dx * dy, yy + w * dy * dy];
      widths += wide * long;
      lengths += long * long;
      weight += long;
    }
  // Along the edges that it bends at, where these all run one way: the larger eigenvector.
  const angle = Math.atan2(2 * xy, xx - yy) / 2;
  const half = Math.hypot((xx - yy) / 2, xy);
  const oneWay = (xx + yy) / 2 - half < ONE_WAY * ((xx + yy) / 2 + half);
  const width = widths / weight;
  const squeeze = oneWay ? Math.max(1, Math.min(MOST_SQUEEZE, lengths / weight / (LENGTH * width))) : 1;
  return { sagitta, width, way: [Math.cos(angle), Math.sin(angle)], squeeze };
}
