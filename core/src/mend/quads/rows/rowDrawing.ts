import {
  dot,
  faceBegin,
  faceEnd,
  faceNormals,
  lengthOf,
  planeBasis,
  sizeOf,
  sub,
  topologyOf,
  triangulateFace,
  turned,
  vertexPlace,
  type Flat,
  type PolyMesh,
  type Topology,
  type Vec3,
} from '../../../mesh/index.ts';
import type { RimLot } from './rimLots.ts';

/** Facets that unroll without a gap wider than this share of the mesh's size can be laid flat as they are. */
const UNROLLS = 1e-7;
/** Places are found to this share of the size of the rectangle. */
const FOUND = 1e-10;
const MOST_SWEEPS = 2000;
/** Rows whose coordinates differ by less than this share are one. */
const SAME_ROW = 1e-6;

/**
 * Draws a lot on a rectangle: its outer boundary on the sides, in true length on the mean; its rows and columns as
 * straight lines. What lies between is unrolled, or seen squarely where it cannot be, and bent to fit in: the
 * displacement is as even as can be (a discrete harmonic function of each coordinate). Gives the place of each vertex;
 * null where the drawing would fold.
 */
export function rowDrawing(m: PolyMesh, lot: RimLot): Map<number, Flat> | null {
  const triangles = lot.facets.flatMap((f) => {
    const corners = triangulateFace(m, f);
    return Array.from({ length: corners.length / 3 }, (_, i): [number, number, number] => [
      m.corners[corners[3 * i]!]!,
      m.corners[corners[3 * i + 1]!]!,
      m.corners[corners[3 * i + 2]!]!,
    ]);
  });
  const flat = unrolled(m, triangles) ?? squarely(m, lot, triangles);
  const sides = sidesOf(lot);
  const target = rectangle(m, sides);
  const fixed: [Map<number, number>, Map<number, number>] = [new Map(), new Map()];
  for (const [v, p] of target) for (const k of [0, 1] as const) fixed[k].set(v, p[k]);
  const t = topologyOf(m);
  traceRows(m, t, lot, sides, target, fixed);
  // As it is laid flat, turned and drawn out to fit the rectangle.
  const fit = affineFit(lot.outline.map((v) => [flat.get(v)!, target.get(v)!]));
  const out = new Map<number, Flat>();
  for (const [v, p] of flat) out.set(v, fit(p));
  const beside = neighbours(m, lot.facets);
  const size = Math.max(...[...target.values()].map((p) => Math.hypot(...p)));
  for (const k of [0, 1] as const) {
    const off = new Map([...fixed[k]].map(([v, x]) => [v, x - out.get(v)![k]]));
    const spread = harmonic(beside, off, FOUND * size);
    for (const [v, d] of spread) out.get(v)![k] += d;
    for (const [v, x] of fixed[k]) out.get(v)![k] = x;
  }
  const folds = triangles.some(([a, b, c]) => !(turned(out.get(a)!, out.get(b)!, out.get(c)!) > 0));
  return folds ? null : out;
}

/** The vertices of each side, from corner to corner, the lot on their left. */
function sidesOf({ outline, corners }: RimLot): number[][] {
  return corners.map((from, k) => {
    const to = corners[k + 1] ?? outline.length;
    return Array.from({ length: to - from + 1 }, (_, i) => outline[(from + i) % outline.length]!);
  });
}

/** Where the vertices of the sides stand on a rectangle: rows and columns that have an end on both sides run straight. */
function rectangle(m: PolyMesh, sides: readonly (readonly number[])[]): Map<number, Flat> {
  const shares = sides.map((side) => {
    const at = side.map((v) => vertexPlace(m, v));
    const along = [0];
    at.slice(1).forEach((p, i) => along.push(along[i]! + lengthOf(sub(p, at[i]!))));
    return { length: along.at(-1)!, list: along.map((x) => x / along.at(-1)!) };
  });
  const way = (k: 0 | 1): { length: number; near: number[]; far: number[] } => {
    const [a, b] = [shares[k]!, shares[k + 2]!];
    const back = b.list.map((x) => 1 - x).reverse();
    const same = a.list.length === b.list.length;
    const mean = a.list.map((x, i) => (x + back[i]!) / 2);
    return { length: (a.length + b.length) / 2, near: same ? mean : a.list, far: same ? mean : back };
  };
  const [across, up] = [way(0), way(1)];
  const out = new Map<number, Flat>();
  const [low, right, high, left] = sides as [number[], number[], number[], number[]];
  low.forEach((v, i) => out.set(v, [across.near[i]! * across.length, 0]));
  [...high].reverse().forEach((v, i) => out.set(v, [across.far[i]! * across.length, up.length]));
  right.forEach((v, i) => out.set(v, [across.length, up.near[i]! * up.length]));
  [...left].reverse().forEach((v, i) => out.set(v, [0, up.far[i]! * up.length]));
  return out;
}

/**
 * Follows rows and columns inwards from the sides, as long as they run through vertices of four facets, and fixes the
 * coordinate that they keep; one that arrives at another side elsewhere is dropped.
 */
function traceRows(
  m: PolyMesh,
  t: Topology,
  lot: RimLot,
  sides: readonly (readonly number[])[],
  target: ReadonlyMap<number, Flat>,
  fixed: readonly [Map<number, number>, Map<number, number>],
): void {
  const facets = new Set(lot.facets);
  const edgesAt = new Map<number, number[]>();
  for (const f of lot.facets)
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++)
      edgesAt.set(m.corners[c]!, [...(edgesAt.get(m.corners[c]!) ?? []), c]);
  const inside = (c: number): boolean => t.opposite[c]! >= 0 && facets.has(t.face[t.opposite[c]!]!);
  for (const [s, side] of sides.entries()) {
    const k = s % 2 ? 1 : 0;
    for (const v of side.slice(1, -1)) {
      const ways = edgesAt.get(v)!.filter(inside);
      if (ways.length !== 1) continue;
      const value = target.get(v)![k];
      const run: number[] = [];
      let c = ways[0]!;
      for (;;) {
        const w = m.corners[t.next[c]!]!;
        const known = fixed[k].get(w);
        if (known !== undefined) {
          if (Math.abs(known - value) > SAME_ROW * (Math.abs(value) + Math.abs(known))) run.length = 0;
          break;
        }
        run.push(w);
        const at = edgesAt.get(w)!;
        if (at.length !== 4 || !at.every(inside)) break;
        // Straight on: the second edge on from the one back.
        c = t.next[t.opposite[t.next[c]!]!]!;
      }
      for (const w of run) fixed[k].set(w, value);
    }
  }
}

/** The triangles laid beside each other in a plane; null where they leave a gap or overlap. */
function unrolled(m: PolyMesh, triangles: readonly (readonly [number, number, number])[]): Map<number, Flat> | null {
  const tolerance = UNROLLS * sizeOf(m);
  const at = (v: number): Vec3 => vertexPlace(m, v);
  const across = new Map<string, { triangle: number; third: number }>();
  triangles.forEach(([a, b, c], i) => {
    across.set(`${a},${b}`, { triangle: i, third: c });
    across.set(`${b},${c}`, { triangle: i, third: a });
    across.set(`${c},${a}`, { triangle: i, third: b });
  });
  const out = new Map<number, Flat>();
  const [a, b] = triangles[0]!;
  out.set(a, [0, 0]);
  out.set(b, [lengthOf(sub(at(b), at(a))), 0]);
  const done = new Set<number>();
  const queue: [number, number][] = [[a, b]];
  for (const [u, v] of queue) {
    const here = across.get(`${u},${v}`);
    if (!here || done.has(here.triangle)) continue;
    done.add(here.triangle);
    const w = here.third;
    const [along, to] = [sub(at(v), at(u)), sub(at(w), at(u))];
    const long = lengthOf(along);
    const x = dot(along, to) / long;
    const y = Math.sqrt(Math.max(0, dot(to, to) - x * x));
    const [p, q] = [out.get(u)!, out.get(v)!];
    const [dx, dy] = [(q[0] - p[0]) / long, (q[1] - p[1]) / long];
    const place: Flat = [p[0] + x * dx - y * dy, p[1] + x * dy + y * dx];
    const known = out.get(w);
    if (!known) out.set(w, place);
    else if (Math.hypot(known[0] - place[0], known[1] - place[1]) > tolerance) return null;
    queue.push([w, v], [u, w]);
  }
  return done.size === triangles.length ? out : null;
}

/** The vertices as they are seen along the mean way that the facets look. */
function squarely(
  m: PolyMesh,
  lot: RimLot,
  triangles: readonly (readonly [number, number, number])[],
): Map<number, Flat> {
  const N = faceNormals(m);
  const way: Vec3 = [0, 1, 2].map((k) => lot.facets.reduce((s, f) => s + N[3 * f + k]!, 0)) as unknown as Vec3;
  const l = lengthOf(way);
  const b = new Float64Array(6);
  planeBasis(
    way.map((x) => x / l),
    0,
    b,
  );
  const out = new Map<number, Flat>();
  for (const v of new Set(triangles.flat())) {
    const p = vertexPlace(m, v);
    out.set(v, [b[0]! * p[0] + b[1]! * p[1] + b[2]! * p[2], b[3]! * p[0] + b[4]! * p[1] + b[5]! * p[2]]);
  }
  return out;
}

/** The affine map that takes places to others best, in the sense of least squares. */
function affineFit(pairs: readonly (readonly [Flat, Flat])[]): (p: Flat) => Flat {
  const n = pairs.length;
  const mean = (side: 0 | 1, k: 0 | 1) => pairs.reduce((s, pair) => s + pair[side][k], 0) / n;
  const [mx, my, tx, ty] = [mean(0, 0), mean(0, 1), mean(1, 0), mean(1, 1)];
  let [xx, xy, yy] = [0, 0, 0];
  const right: [Flat, Flat] = [
    [0, 0],
    [0, 0],
  ];
  for (const [p, q] of pairs) {
    const [x, y] = [p[0] - mx, p[1] - my];
    [xx, xy, yy] = [xx + x * x, xy + x * y, yy + y * y];
    for (const k of [0, 1] as const) {
      const d = q[k] - (k ? ty : tx);
      right[k][0] += d * x;
      right[k][1] += d * y;
    }
  }
  const det = xx * yy - xy * xy;
  const rows = right.map(([a, b]): Flat => [(a * yy - b * xy) / det, (b * xx - a * xy) / det]) as [Flat, Flat];
  return ([x, y]) => [
    tx + rows[0][0] * (x - mx) + rows[0][1] * (y - my),
    ty + rows[1][0] * (x - mx) + rows[1][1] * (y - my),
  ];
}

/** Facets of more corners tie only those beside each other. */
const MANY_CORNERS = 64;

/** What each vertex is tied to: all that it shares a facet with, nearer ones more. */
function neighbours(m: PolyMesh, facets: readonly number[]): Map<number, Map<number, number>> {
  const out = new Map<number, Map<number, number>>();
  const tie = (u: number, v: number): void => {
    if (u === v) return;
    if (!out.has(u)) out.set(u, new Map());
    out.get(u)!.set(v, 1 / (lengthOf(sub(vertexPlace(m, u), vertexPlace(m, v))) || Number.MIN_VALUE));
  };
  const { next } = topologyOf(m);
  for (const f of facets) {
    const [begin, end] = [faceBegin(m, f), faceEnd(m, f)];
    const many = end - begin > MANY_CORNERS;
    for (let c = begin; c < end; c++)
      for (let d = many ? next[c]! : begin; d < (many ? next[c]! + 1 : end); d++) {
        tie(m.corners[c]!, m.corners[d]!);
        tie(m.corners[d]!, m.corners[c]!);
      }
  }
  return out;
}

/**
 * The values at all vertices that are given at some of them and elsewhere the weighed mean of those beside: by sweeps
 * (Gauss and Seidel), until none changes by more than `tolerance`.
 */
function harmonic(
  beside: ReadonlyMap<number, ReadonlyMap<number, number>>,
  given: ReadonlyMap<number, number>,
  tolerance: number,
): Map<number, number> {
  const out = new Map(given);
  const rest = [...beside.keys()].filter((v) => !given.has(v));
  for (const v of rest) out.set(v, 0);
  if ([...given.values()].every((d) => Math.abs(d) < tolerance)) return out;
  for (let sweep = 0; sweep < MOST_SWEEPS; sweep++) {
    let most = 0;
    for (const v of rest) {
      let [sum, weights] = [0, 0];
      for (const [w, weight] of beside.get(v)!) {
        sum += weight * out.get(w)!;
        weights += weight;
      }
      most = Math.max(most, Math.abs(sum / weights - out.get(v)!));
      out.set(v, sum / weights);
    }
    if (most < tolerance) break;
  }
  return out;
}
