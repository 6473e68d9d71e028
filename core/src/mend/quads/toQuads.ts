import {
  checkCancelled,
  partOf,
  faceCount,
  FlatFace,
  sizeOf,
  type Flat,
  type NewCorner,
  type NewFace,
  type OpContext,
  type PolyMesh,
  type Vec3,
  type OpResult,
} from '../../mesh/index.ts';
import { pairsThatMeet } from '../../survey/index.ts';
import { corner, MeshEdit } from '../meshEdit.ts';
import { middleOf } from '../merge.ts';
import { between } from '../split.ts';
import { cornerAngle } from './flatMesh.ts';
import { joinFacets, spreadOut, type Spread } from './spread.ts';
import { pairTriangles } from './pairTriangles.ts';
import { quadFace, type LayOut, type QuadGoal, type QuadLayout } from './quadFace.ts';
import { isRounded, joinOddFaces, stripsOf, wantedParts, type FaceRole, type Strip } from './quadStrips.ts';
import { mirrorsOf } from './symmetry.ts';

export interface QuadOptions {
  /** Which faces; all when left out. */
  wanted?: (face: number) => boolean;
  goal?: QuadGoal;
  /** Whether edges may be split: straight ones for better shapes, and others where a triangle would be left else. */
  split?: boolean;
  /**
   * Triangles beside each other become quads where the surface bends by less than this between them, degrees; 0 for
   * none.
   */
  pairs?: number;
}

export interface QuadReport {
  /** Faces that were laid out anew; quads and triangles that came of them. */
  faces: number;
  quads: number;
  triangles: number;
  /** Faces for which no sound layout was found: they stay n-gons. */
  left: number;
  /** Triangles that became quads in pairs. */
  paired: number;
  /** Edges that were split; those of them on rounded boundaries. */
  split: number;
  rounded: number;
  /** Faces that are laid out evenly about a mirror line, of those that have any. */
  mirrored: number;
  even: number;
  /** The sharpest corner of a new face, degrees, and vertices within the old faces where other than four faces meet. */
  sharpest: number;
  poles: number;
  /** Where those are, mm: up to a few hundred of each. */
  places: { triangles: Vec3[]; left: Vec3[]; poles: Vec3[]; sharpest: Vec3[] };
}

/** Most places reported of a kind. */
const MOST_PLACES = 300;

/** What is taken where an option is left out. */
export const QUAD_DEFAULTS: Required<Pick<QuadOptions, 'goal' | 'split' | 'pairs'>> = {
  goal: 'shape',
  split: true,
  pairs: 20,
};

/**
 * Lays n-gons and faces with holes out in quads. New vertices lie on the faces, and on edges where these are split; no
 * vertex moves. Splits run along strips of plain quads; odd faces are joined by them in pairs, so that no triangle is
 * needed on a closed part (a mesh of quads has an even number of edges round every region). Faces are laid out one by
 * one by `quadFace`.
 *
 * @example
 * const { mesh: plate } = carve(box(100, 60, 20), { cutters: [cylinder(8, 40, 24)], operation: 'subtract' });
 * const { mesh, report } = toQuads(plate, { goal: 'shape' });
 */
export function toQuads(whole: PolyMesh, options: QuadOptions, ctx?: OpContext): OpResult<QuadReport> {
  const { wanted = () => true, ...how } = { ...QUAD_DEFAULTS, ...options };
  const apart = new Set<number>();
  const unpaired = new Set<number>();
  for (let round = 1; ; round++) {
    const first = pairTriangles(whole, (f) => how.pairs > 0 && wanted(f) && !unpaired.has(f), how.pairs);
    const of = (f: number): number => first.of[f]!;
    const { mesh, report, lots, origins, failed } = laidOut(
      first.mesh,
      (f) => wanted(of(f)),
      (f) => apart.has(of(f)),
      how,
      partOf(ctx, 0, LAYING),
    );
    // Facets that found no layout as one are laid out one by one: a bent face must not stay.
    for (const f of failed) apart.add(of(f));
    if (failed.length) continue;
    const done = { mesh, report: { ...report, paired: 2 * first.pairs.size } };
    if (round > MOST_PARTED || !(lots.size || first.pairs.size)) return done;
    // Nor must what was joined cut through something else: quads leave the surface where it bends.
    const before = apart.size + unpaired.size;
    const isJoined = (f: number) => lots.has(origins[f]!) || first.pairs.has(of(origins[f]!));
    for (const f of pairsThatMeet(mesh, isJoined, partOf(ctx, LAYING, 1)).flat()) {
      const lot = lots.get(origins[f]!) ?? [origins[f]!];
      if (lot.length > 1) for (const g of lot) apart.add(of(g));
      for (const g of lot) {
        const second = first.pairs.get(of(g));
        if (second !== undefined) unpaired.add(of(g)).add(second);
      }
    }
    if (apart.size + unpaired.size === before) return done;
  }
}

/** Share of the work that laying out is; the rest looks for faces that meet. */
const LAYING = 0.9;
/** Rounds of taking apart what was joined and then cut through something. */
const MOST_PARTED = 8;

interface Laid {
  mesh: PolyMesh;
  report: QuadReport;
  /** By a number in `origins` the facets that were joined; and of each face which face of before, or lot, it is of. */
  lots: ReadonlyMap<number, readonly number[]>;
  origins: Int32Array;
  /** Facets that were joined and found no layout. */
  failed: readonly number[];
}

/** As `toQuads`, once; reports joined facets that found no layout. */
function laidOut(
  before: PolyMesh,
  was: (f: number) => boolean,
  isApart: (f: number) => boolean,
  options: typeof QUAD_DEFAULTS,
  ctx?: OpContext,
): Laid {
  const joined = joinFacets(before, was, isApart);
  const m = joined.mesh;
  const isWanted = (f: number) => was(joined.of[f]!);
  const report: QuadReport = {
    faces: 0,
    quads: 0,
    triangles: 0,
    left: 0,
    paired: 0,
    split: 0,
    rounded: 0,
    mirrored: 0,
    even: 0,
    sharpest: 180,
    poles: 0,
    places: { triangles: [], left: [], poles: [], sharpest: [] },
  };
  const size = sizeOf(m);
  const sides = (f: number) => m.loopStart[m.faceLoops[f + 1]!]! - m.loopStart[m.faceLoops[f]!]!;
  const single = (f: number) => m.faceLoops[f + 1]! - m.faceLoops[f]! === 1;
  const role = (f: number): FaceRole =>
    !isWanted(f) || (single(f) && sides(f) < 4) ? 'stays' : single(f) && sides(f) === 4 ? 'quad' : 'anew';
  const anew = Array.from({ length: faceCount(m) }, (_, f) => f).filter((f) => role(f) === 'anew');
  const same = () => Int32Array.from({ length: faceCount(m) }, (_, f) => joined.of[f]!);
  if (!anew.length) return { mesh: m, report, lots: new Map(), origins: same(), failed: [] };
  const e = new MeshEdit(m);
  const t = e.topology;
  const spread = new Map(
    [...joined.lots].map(([f, facets]) => [f, spreadOut(before, facets, (points) => e.flatPoints(f, points))]),
  );
  const flats = new Map(anew.map((f) => [f, flatRings(m, f)]));
  const round = new Set<number>();
  for (const { face, rings } of flats.values())
    face.boundaries.forEach((loop, l) =>
      loop.forEach((c, i) => {
        if (isRounded(rings[l]!, i)) round.add(t.edge[c]!);
      }),
    );
  const { strips, of } = stripsOf(m, t, role, (e) => round.has(e));
  const stripOf = (c: number): Strip => strips[of[t.edge[c]!]!]!;
  const check = () => checkCancelled(ctx);
  if (options.split) {
    for (const [f, { face, rings }] of flats)
      askForSplits(
        face,
        drawnOn(spread.get(f), rings),
        stripOf,
        options.goal,
        layOutOf(spread.get(f), options.goal, check),
      );
    for (const s of strips) if (s.parts > 1 && s.parts % 2 && !s.tried) s.parts++;
    const count = (f: number) =>
      flats
        .get(f)!
        .face.boundaries.flat()
        .reduce((s, c) => s + stripOf(c).parts, 0);
    joinOddFaces(strips, count, anew);
  }
  const added = new Map<number, number[]>();
  for (const s of strips) {
    if (s.parts < 2) continue;
    report.split += s.edges.length;
    if (s.round) report.rounded += s.edges.filter((x) => round.has(x)).length;
    for (const edge of s.edges) {
      const c = t.edgeCorner[edge]!;
      const [a, b] = [e.at(m.corners[c]!), e.at(m.corners[t.next[c]!]!)];
      added.set(
        edge,
        Array.from({ length: s.parts - 1 }, (_, i) => e.vertex(between(a, b, (i + 1) / s.parts))),
      );
    }
  }
  /** The corners along an edge of a face, from its own on. */
  const along = (c: number): NewCorner[] => {
    const list = added.get(t.edge[c]!) ?? [];
    const forward = m.corners[t.edgeCorner[t.edge[c]!]!] === m.corners[c];
    return [corner(m.corners[c]!, c), ...(forward ? list : [...list].reverse()).map((v) => corner(v, c))];
  };
  for (let f = 0; f < faceCount(m); f++) {
    if (role(f) === 'quad') {
      const c = m.loopStart[m.faceLoops[f]!]!;
      const runs = [0, 1, 2, 3].map((k) => along(c + k));
      if (runs.some((r) => r.length > 1)) e.replace(f, gridded(e, f, runs));
    }
  }
  const failed: number[] = [];
  anew.forEach((f, i) => {
    ctx?.progress?.(i / anew.length, 'Laying out quads');
    const { face } = flats.get(f)!;
    const boundaries = face.boundaries.map((loop) => loop.flatMap(along));
    const left = report.left;
    e.replace(f, newFaces(e, face, boundaries, options.goal, size, report, check, spread.get(f)));
    if (report.left > left) failed.push(...(joined.lots.get(f) ?? []));
  });
  ctx?.progress?.(1, 'Laying out quads');
  report.faces = anew.length;
  const mesh = e.done();
  const lots = new Map([...joined.lots].map(([f, facets]) => [joined.of[f]!, facets]));
  return { mesh, report, lots, origins: e.origins.map((f) => joined.of[f]!), failed };
}

function flatRings(m: PolyMesh, f: number): { face: FlatFace; rings: Flat[][] } {
  const face = new FlatFace(m, f);
  return { face, rings: face.boundaries.map((loop) => loop.map((c) => face.at(c))) };
}

/** Faces with so few corners are looked at as they are first, and what scores less than this is good. */
const FEW_CORNERS = 16;
const GOOD = 6;

/**
 * Asks for the splits that a face would have: of long straight edges, and of those that a mirror line crosses in their
 * middle.
 */
function askForSplits(
  face: FlatFace,
  rings: readonly Flat[][],
  stripOf: (c: number) => Strip,
  goal: QuadGoal,
  by: LayOut,
): void {
  const corners = face.boundaries.flat();
  const ask = (i: number, parts: number) => {
    const strip = stripOf(corners[i]!);
    if (strip.free && !strip.round) strip.parts = Math.max(strip.parts, parts);
  };
  // What is well laid out as it is needs no splits.
  const layout = corners.length <= FEW_CORNERS ? quadFace(rings, goal, by) : null;
  if (layout && !layout.triangles && layout.score < GOOD) return;
  const parts = goal !== 'fewest' && corners.length > 5 ? wantedParts(rings) : rings.flat().map(() => 1);
  if (layout && goal !== 'fewest' && rings.length === 1)
    return tryParts(
      rings,
      layout.score,
      parts,
      (i) => stripOf(corners[i]!),
      (list) => quadFace(list, goal, by),
    );
  parts.forEach((n, i) => ask(i, n));
  if (goal === 'fewest' || rings.length < 2) return;
  const points = rings.flat();
  let at = 0;
  const loops = rings.map((r) => r.map(() => at++));
  const { centre, angles } = mirrorsOf({ points }, loops);
  const next = new Map(loops.flatMap((l) => l.map((v, i) => [v, l[(i + 1) % l.length]!] as const)));
  for (const angle of angles.length > 4 ? angles.filter((_, i) => i % (angles.length / 2) === 0) : angles)
    for (const [v, w] of next) {
      const off = [v, w].map(
        (x) => Math.cos(angle) * (points[x]![1] - centre[1]) - Math.sin(angle) * (points[x]![0] - centre[0]),
      );
      const long = Math.hypot(points[w]![0] - points[v]![0], points[w]![1] - points[v]![1]);
      if (Math.abs(off[0]! + off[1]!) < 1e-6 * long && Math.abs(off[0]!) > 0.4 * long) ask(v, 2);
    }
}

/**
 * A polygon of a bent face may be so many times further from its facets than these are from their bend; each time more
 * counts so much against it.
 */
const [MAY_DEPART, DEPARTS] = [1.5, 2];
/** Where the fewest faces are wanted, quads of a bent face may be so much wider. */
const WIDER = 2;
const layOutOf = (bent: Spread | undefined, goal: QuadGoal, check: () => void): LayOut =>
  bent
    ? {
        check,
        judge: (p) => DEPARTS * Math.max(0, bent.departs(p) - MAY_DEPART),
        most: (goal === 'fewest' ? WIDER : 1) * bent.most,
      }
    : { check, judge: () => 0, most: Infinity };
const drawnOn = (bent: Spread | undefined, rings: readonly Flat[][]): Flat[][] =>
  rings.map((r) => r.map((p) => bent?.drawn(p) ?? p));

/**
 * Numbers of parts that the long edges of a face of few corners are tried with; what does not bring the score below
 * this share is not worth a split.
 */
const TRIED = [2, 3, 4, 6];
const WORTH = 0.7;
/** Edges longer than this share of the longest are long. */
const LONG_EDGE = 0.5;

/**
 * Lays a face out with its edges split as its sizes suggest, and with its long edges in several numbers of parts, and
 * asks for what does best.
 */
function tryParts(
  rings: readonly Flat[][],
  now: number,
  suggested: readonly number[],
  stripOf: (i: number) => Strip,
  layOut: (list: readonly Flat[][]) => QuadLayout | null,
): void {
  const edges = rings.flatMap((r) => r.map((p, i) => ({ p, q: r[(i + 1) % r.length]! })));
  const length = edges.map(({ p, q }) => Math.hypot(q[0] - p[0], q[1] - p[1]));
  const longest = length.reduce((a, b) => Math.max(a, b));
  const free = edges.map((_, i) => stripOf(i).free && !stripOf(i).round);
  const ways = [suggested, ...TRIED.map((n) => length.map((l) => (l > LONG_EDGE * longest ? n : 1)))].map((parts) =>
    parts.map((n, i) => (free[i] ? n : 1)),
  );
  let best: { parts: readonly number[]; score: number } = { parts: [], score: WORTH * now };
  for (const parts of ways) {
    if (parts.every((n) => n === 1)) continue;
    let at = 0;
    const split = rings.map((r) =>
      r.flatMap((p, i): Flat[] => {
        const q = r[(i + 1) % r.length]!;
        const n = parts[at++]!;
        return Array.from({ length: n }, (_, k) => [p[0] + ((q[0] - p[0]) * k) / n, p[1] + ((q[1] - p[1]) * k) / n]);
      }),
    );
    const layout = layOut(split);
    if (layout && layout.score < best.score) best = { parts, score: layout.score };
  }
  best.parts.forEach((parts, i) => {
    if (parts > stripOf(i).parts) Object.assign(stripOf(i), { parts, tried: true });
  });
}

/** A plain quad whose edges are split alike on opposite sides, as a grid. */
function gridded(e: MeshEdit, f: number, runs: readonly NewCorner[][]): NewFace[] {
  const [low, right, high, left] = runs as [NewCorner[], NewCorner[], NewCorner[], NewCorner[]];
  const [n, k] = [low.length, right.length];
  const ends = runs.map((r) => e.at(r[0]!.vertex)) as [Vec3, Vec3, Vec3, Vec3];
  const vertex = (i: number, j: number): number => {
    if (j === 0) return i < n ? low[i]!.vertex : right[0]!.vertex;
    if (j === k) return i > 0 ? high[n - i]!.vertex : left[0]!.vertex;
    if (i === 0) return left[k - j]!.vertex;
    if (i === n) return right[j]!.vertex;
    return inner[(j - 1) * (n - 1) + i - 1]!;
  };
  const inner: number[] = [];
  for (let j = 1; j < k; j++)
    for (let i = 1; i < n; i++)
      inner.push(e.vertex(between(between(ends[0], ends[1], i / n), between(ends[3], ends[2], i / n), j / k)));
  const faces: NewFace[] = [];
  for (let j = 0; j < k; j++)
    for (let i = 0; i < n; i++) {
      const at = [
        [i, j],
        [i + 1, j],
        [i + 1, j + 1],
        [i, j + 1],
      ] as const;
      const edge = [
        j === 0 ? low[0]!.edge : -1,
        i === n - 1 ? right[0]!.edge : -1,
        j === k - 1 ? high[0]!.edge : -1,
        i === 0 ? left[0]!.edge : -1,
      ];
      faces.push({ from: f, boundaries: [at.map(([x, y], s) => corner(vertex(x, y), edge[s]!))] });
    }
  return faces;
}

/** A face laid out in quads; as it is where that cannot be done. */
function newFaces(
  e: MeshEdit,
  face: FlatFace,
  boundaries: readonly NewCorner[][],
  goal: QuadGoal,
  size: number,
  report: QuadReport,
  check: () => void,
  bent?: Spread,
): NewFace[] {
  const f = face.face;
  const rings = boundaries.map((o) => e.flat(f, o));
  const layout = quadFace(drawnOn(bent, rings), goal, layOutOf(bent, goal, check));
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
  for (const p of layout.polygons)
    p.forEach((v, i) => {
      const angle = cornerAngle(
        points[p[(i + p.length - 1) % p.length]!]!,
        points[v]!,
        points[p[(i + 1) % p.length]!]!,
      );
      if (angle >= report.sharpest) return;
      report.sharpest = angle;
      places.sharpest = [e.at(vertices[v]!)];
    });
  return layout.polygons.map((p) => ({
    from: f,
    boundaries: [p.map((v, i) => corner(vertices[v]!, edges.get(`${v},${p[(i + 1) % p.length]!}`) ?? -1))],
  }));
}

const tell = (list: Vec3[], place: Vec3): void => {
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
