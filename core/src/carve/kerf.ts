import {
  add,
  areaAndVolume,
  cross,
  dot,
  faceNormals,
  flipMesh,
  lengthOf,
  MasonError,
  meshFromFaces,
  scaled,
  sub,
  topologyOf,
  unit,
  withSlot,
  withSource,
  type OpContext,
  type PolyMesh,
  vertexPlace,
  type OpResult,
} from '../mesh/index.ts';
import { carve, type CarveSettings, type CarveReport } from './carve.ts';
import { checkSolid, trust } from './gate.ts';

export const KERF_BOTTOMS = ['square', 'v', 'round'] as const;
export type KerfBottom = (typeof KERF_BOTTOMS)[number];

/** Options of a kerf, besides its cutters. */
export interface KerfSettings extends Pick<CarveSettings, 'course' | 'nearest' | 'wallUvs'> {
  /** Width of the slit at the surface, mm. */
  width: number;
  /** Depth below the surface, along its normal, mm. */
  depth: number;
  bottom: KerfBottom;
  /** How many slits run side by side, outward from the cutter, and how far apart their middles are, mm. Default one. */
  lines?: number;
  spacing?: number;
  /** Material slot of the new walls; that of the part's first when left out. */
  slot?: string;
}

export interface KerfOptions extends KerfSettings {
  cutters: readonly PolyMesh[];
}

export interface KerfReport extends CarveReport {
  /**
   * How many slits were cut, and how many were asked for. Slits that leave the surface or turn too sharply are skipped.
   */
  slits: { cut: number; asked: number };
}

/**
 * How far a slit's body stands out of the surface, as a share of its width: enough to clear surface that rises within
 * the width.
 */
const PROUD = 0.25;
/** Flats of a round bottom. */
const ROUND_FLATS = 8;
/** How far a point may lie off the line that leaves it out, as a share of the width. */
const BOW = 0.06;
/** A side of which the mitres leave this share or less counts as used up: the rest is rounding. */
const EATEN = 1e-9;
/** Sharper turns than this have no mitre: cosine of the angle between the two sides. */
const SHARPEST = -0.9;

type Vec = [number, number, number];
interface Run {
  closed: boolean;
  points: Vec[];
  /**
   * For each stretch from a point to the next: the surface normal and the outward direction of the outline, both unit.
   */
  normals: Vec[];
  outs: Vec[];
}

/**
 * Cuts slits along the cutters' skin: their outline is scribed on the target, a profile is swept along it, square to
 * the surface and mitred at its corners, and taken away. Widths and depths are exact on flat faces and over creases
 * between them; on a faceted curve they are those of its facets. A sheet is slit through.
 *
 * Throws as `carve` does, and `bad-input` when the cutters meet no surface or the slit is too wide for its outline.
 *
 * @example
 * const { mesh } = kerf(box(100, 60, 20), { cutters: [box(40, 30, 60)], width: 2, depth: 3, bottom: 'square', nearest: [[0, 0, -1]] });
 */
export function kerf(target: PolyMesh, o: KerfOptions, ctx?: OpContext): OpResult<KerfReport> {
  const { cutters } = o;
  const course = o.course ?? 1;
  if (!(o.width > 0 && o.depth > 0)) throw new MasonError('bad-input', 'A kerf needs a width and a depth above 0.');
  const quiet: OpContext = { signal: ctx?.signal };
  const { mesh } = carve(target, { cutters, operation: 'scribe', course: PROBE, nearest: o.nearest }, quiet);
  const runs = outlinesOf(mesh, PROBE);
  if (!runs.length)
    throw new MasonError(
      'bad-input',
      'The cutter meets no surface of the part, so there is no line to slit along. Move it.',
    );
  const lines = o.lines ?? 1;
  const section = profile(o);
  // Line by line, from the cutter outward. A line ends where the surface turns away round a corner; one that turns too
  // sharply for the slit has no body.
  const slits = runs.flatMap((run, of) =>
    spaced(target, run, lines, o.spacing ?? 2 * o.width, quiet).map((slit) => ({ ...slit, of })),
  );
  const bodies = slits.flatMap(({ line, shift, number, of }) => {
    try {
      const body = slitBody(line, section, shift);
      return [
        { number, of, body: trust(withSource(withSlot(body, o.slot ?? target.slots[0] ?? 'Body'), number, course)) },
      ];
    } catch (e) {
      if (!(e instanceof MasonError) || e.code !== 'bad-input' || number === 0) throw e;
      return [];
    }
  });
  for (let most = lines; ; most--)
    try {
      const used = bodies.filter(({ number }) => number < most);
      const cutting = used.map(({ body }) => body);
      const made = carve(
        target,
        { cutters: cutting, operation: 'subtract', joinFlush: false, course, wallUvs: o.wallUvs },
        ctx,
      );
      // A line that leaves the part and comes back is one slit in several pieces.
      const cut = new Set(used.map(({ number, of }) => of * lines + number)).size;
      return { ...made, report: { ...made.report, slits: { cut, asked: runs.length * lines } } };
    } catch (e) {
      // The outermost lines may run along the very edge of the part: what can be cut without them is.
      if (!(e instanceof MasonError) || e.code !== 'not-done' || most <= 1) throw e;
    }
}

/** A course number that no part has, for temporary marks. */
const PROBE = -1;

/** A bent surface turns by more than this between two stretches of a line, cosine. */
const NO_BEND_COS = 1 - 1e-9;

/**
 * The lines side by side, outward from a run: on a level surface the run itself, shifted; on a bent one each is scribed
 * anew, at the spacing along the surface's tangent from the one before. Where a line cannot be scribed (the surface
 * ends, or bends too much) those before it are all.
 */
function spaced(
  target: PolyMesh,
  run: Run,
  lines: number,
  spacing: number,
  ctx: OpContext,
): { line: Run; shift: number; number: number }[] {
  const first = run.normals[0]!;
  if (run.normals.every((n) => dot(n, first) > NO_BEND_COS))
    return Array.from({ length: lines }, (_, i) => ({ line: run, shift: i * spacing, number: i }));
  const out = [{ line: run, shift: 0, number: 0 }];
  let last = [run];
  for (let i = 1; i < lines && last.length; i++) {
    last = last.flatMap((line) => beside(target, line, spacing, ctx));
    out.push(...last.map((line) => ({ line, shift: 0, number: i })));
  }
  return out;
}

/**
 * The lines on a surface that lie at a spacing outward from a run: the outer border of a band that is scribed along it.
 */
function beside(target: PolyMesh, run: Run, spacing: number, ctx: OpContext): Run[] {
  const height = spacing / 2;
  let mesh: PolyMesh;
  try {
    const band = slitBody(
      run,
      [
        [0, -height],
        [spacing, -height],
        [spacing, height],
        [0, height],
      ],
      0,
    );
    ({ mesh } = carve(target, { cutters: [trust(band)], operation: 'scribe', course: PROBE }, ctx));
  } catch (e) {
    // The surface ends, or turns away too sharply: there is no line beside this one.
    if (!(e instanceof MasonError) || e.code === 'cancelled' || e.code === 'too-large') throw e;
    return [];
  }
  // What else the band draws is the run itself, its floor where the surface turns away round a corner, and the far side
  // of a thin body.
  return outlinesOf(mesh, PROBE).flatMap((outline) => {
    const besideRun = outline.normals.map((normal, i) => {
      const [a, b] = [outline.points[i]!, outline.points[(i + 1) % outline.points.length]!];
      const nearest = nearestStretch(run, scaled(add(a, b), 0.5));
      return nearest.distance > spacing / 2 && dot(run.normals[nearest.stretch]!, normal) > ROUND_A_CORNER;
    });
    return parted(outline, besideRun);
  });
}

/** A line whose surface is turned further than this from that of the run beside it has gone round a corner: cosine. */
const ROUND_A_CORNER = 0.5;

/** The stretch of a run that a point is nearest to, and how far it is, mm. */
function nearestStretch(run: Run, p: Vec): { stretch: number; distance: number } {
  let best = { stretch: 0, distance: Infinity };
  run.normals.forEach((_, stretch) => {
    const a = run.points[stretch]!;
    const way = sub(run.points[(stretch + 1) % run.points.length]!, a);
    const share = Math.max(0, Math.min(1, dot(sub(p, a), way) / dot(way, way)));
    const distance = lengthOf(sub(p, add(a, way, share)));
    if (distance < best.distance) best = { stretch, distance };
  });
  return best;
}

/** The parts of an outline whose stretches are kept, each as long as it goes; the outline itself where all are. */
function parted(outline: Run, kept: boolean[]): Run[] {
  if (kept.every(Boolean)) return [outline];
  const n = kept.length;
  const starts = kept.flatMap((is, i) => (is && !(outline.closed ? kept[(i + n - 1) % n] : kept[i - 1]) ? [i] : []));
  return starts.map((start) => {
    let count = 1;
    while (kept[(start + count) % n] && (outline.closed || start + count < n)) count++;
    const of = (list: Vec[], more = 0) =>
      Array.from({ length: count + more }, (_, k) => list[(start + k) % list.length]!);
    return { closed: false, points: of(outline.points, 1), normals: of(outline.normals), outs: of(outline.outs) };
  });
}

/** The runs of edges round what a scribe marked, the marked side on the left. */
function outlinesOf(m: PolyMesh, course: number): Run[] {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const mark = m.layers.mark!;
  const isLine = (c: number): boolean => {
    const other = t.opposite[c]!;
    return mark[t.face[c]!] === course && other >= 0 && mark[t.face[other]!] !== course;
  };
  /** The line that goes on where one ends: round its end vertex, through marked faces. */
  const after = (c: number): number => {
    let q = t.next[c]!;
    while (!isLine(q)) {
      if (t.opposite[q]! < 0) return -1;
      q = t.next[t.opposite[q]!]!;
    }
    return q;
  };
  const lines: number[] = [];
  for (let c = 0; c < m.corners.length; c++) if (isLine(c)) lines.push(c);
  const next = new Map(lines.map((c) => [c, after(c)]));
  const inner = new Set(next.values());
  const starts = [...lines.filter((c) => !inner.has(c)), ...lines];
  const seen = new Set<number>();
  const runs: Run[] = [];
  for (const start of starts) {
    if (seen.has(start)) continue;
    const chain: number[] = [];
    let c = start;
    while (c >= 0 && !seen.has(c)) {
      seen.add(c);
      chain.push(c);
      c = next.get(c)!;
    }
    const point = (v: number): Vec => [...vertexPlace(m, v)];
    const normal = (f: number): Vec => [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!];
    const points = chain.map((q) => point(m.corners[q]!));
    const closed = c === start;
    if (!closed) points.push(point(m.corners[t.next[chain.at(-1)!]!]!));
    const normals = chain.map((q) => unit(add(normal(t.face[q]!), normal(t.face[t.opposite[q]!]!))));
    const outs = chain.map((_, i) => unit(cross(sub(points[(i + 1) % points.length]!, points[i]!), normals[i]!)));
    runs.push({ closed, points, normals, outs });
  }
  return runs;
}

/** The section of a slit: places across (outward) and along the normal, mm, counter-clockwise. */
function profile({ width, depth, bottom }: KerfOptions): [number, number][] {
  const w = width / 2;
  const top = PROUD * width;
  if (bottom === 'v')
    return [
      [0, -depth],
      [w * (1 + top / depth), top],
      [-w * (1 + top / depth), top],
    ];
  if (bottom === 'square')
    return [
      [-w, -depth],
      [w, -depth],
      [w, top],
      [-w, top],
    ];
  // A half round, flattened where the depth leaves no room for it.
  const rise = Math.min(w, depth);
  const arc = Array.from({ length: ROUND_FLATS + 1 }, (_, i): [number, number] => {
    const a = Math.PI * (1 + i / ROUND_FLATS);
    return [w * Math.cos(a), rise - depth + rise * Math.sin(a)];
  });
  return [...arc, [w, top], [-w, top]];
}

/** Where a profile stands at point i of a run: the mitre across, the way up, and how far up is up along the normals. */
function frameAt(run: Run, i: number): { across: Vec; up: Vec; stretch: number; here: number } {
  const stretches = run.normals.length;
  const before = run.closed ? (i + stretches - 1) % stretches : Math.max(0, i - 1);
  const here = run.closed ? i : Math.min(stretches - 1, i);
  const [ra, rb] = [run.outs[before]!, run.outs[here]!];
  const turn = dot(ra, rb);
  if (turn < SHARPEST)
    throw new MasonError(
      'bad-input',
      'The outline turns too sharply for a kerf to follow. Round it, or use a narrower one.',
      { point: run.points[i]! },
    );
  const up = unit(add(run.normals[before]!, run.normals[here]!));
  return { across: scaled(add(ra, rb), 1 / (1 + turn)), up, stretch: 1 / dot(up, run.normals[here]!), here };
}

/** The places of a profile at every point of a run, `section.length` each. */
function sweep(run: Run, section: readonly (readonly [number, number])[], shift: number): Vec[] {
  const n = run.points.length;
  return run.points.flatMap((point, i) => {
    const { across, up, stretch, here } = frameAt(run, i);
    // An end runs on past the border of a sheet.
    const end = run.closed || (i > 0 && i < n - 1) ? 0 : i === 0 ? -1 : 1;
    const along = unit(cross(run.normals[here]!, run.outs[here]!));
    const p = add(point, along, end * Math.abs(section[0]![1]));
    return section.map(([x, y]) => add(add(p, across, x + shift), up, y * stretch));
  });
}

/**
 * The first stretch of a run at which some side of the swept profile has been shrunk past nothing and runs backward; −1
 * for none.
 */
function backward(run: Run, places: Vec[], k: number): number {
  const n = run.points.length;
  return run.normals.findIndex((_, i) => {
    const j = (i + 1) % n;
    const way = sub(run.points[j]!, run.points[i]!);
    for (let a = 0; a < k; a++)
      if (dot(sub(places[j * k + a]!, places[i * k + a]!), way) <= EATEN * dot(way, way)) return true;
    return false;
  });
}

/** The run without point i: the stretches beside it become one. */
function without(run: Run, i: number): Run {
  const n = run.points.length;
  const before = (i + n - 1) % n;
  const length = (a: number) => lengthOf(sub(run.points[(a + 1) % n]!, run.points[a]!));
  const [la, lb] = [length(before), length(i)];
  const normal = unit(add(scaled(run.normals[before]!, la), run.normals[i]!, lb));
  const out = unit(cross(sub(run.points[(i + 1) % n]!, run.points[before]!), normal));
  const put = (list: Vec[], v: Vec) => list.map((x, j) => (j === before ? v : x)).filter((_, j) => j !== i);
  return {
    closed: run.closed,
    points: run.points.filter((_, j) => j !== i),
    normals: put(run.normals, normal),
    outs: put(run.outs, out),
  };
}

/**
 * How far point i of a run, and the points that were left out beside it, lie from the stretch that would do without
 * them.
 */
function bow(run: Run, i: number, left: readonly Vec[][]): number {
  const n = run.points.length;
  if (!run.closed && (i === 0 || i === n - 1)) return Infinity;
  const before = (i + n - 1) % n;
  const a = run.points[before]!;
  const way = unit(sub(run.points[(i + 1) % n]!, a));
  const off = (p: Vec) => lengthOf(cross(sub(p, a), way));
  return Math.max(...[run.points[i]!, ...left[before]!, ...left[i]!].map(off));
}

/**
 * A profile swept along a run, `shift` further out, mitred where it turns; capped where the run has ends. Where the
 * outline crosses an edge of the surface close by a corner of its own, the stretch between is shorter than the mitre:
 * one of the two points is left out, if it lies on the line without it.
 */
function slitBody(outline: Run, section: readonly (readonly [number, number])[], shift: number): PolyMesh {
  const k = section.length;
  const width = Math.max(...section.map(([x]) => x)) - Math.min(...section.map(([x]) => x));
  let run = outline;
  let places = sweep(run, section, shift);
  /** Of each stretch, the points that were left out of it. */
  const left: Vec[][] = run.normals.map(() => []);
  for (let i = backward(run, places, k); i >= 0; i = backward(run, places, k)) {
    const j = (i + 1) % run.points.length;
    const [here, there] = [bow(run, i, left), bow(run, j, left)];
    const drop = here <= there ? i : j;
    if (run.points.length <= 3 || Math.min(here, there) > BOW * width) throw tooWide(run.points[i]!);
    const before = (drop + run.points.length - 1) % run.points.length;
    left[before] = [...left[before]!, run.points[drop]!, ...left[drop]!];
    left.splice(drop, 1);
    run = without(run, drop);
    places = sweep(run, section, shift);
  }
  const n = run.points.length;
  const faces: number[][] = [];
  for (let i = 0; i < (run.closed ? n : n - 1); i++) {
    const j = (i + 1) % n;
    for (let a = 0; a < k; a++) {
      const b = (a + 1) % k;
      faces.push([i * k + a, j * k + a, j * k + b, i * k + b]);
    }
  }
  if (!run.closed) {
    faces.push(Array.from({ length: k }, (_, a) => a));
    faces.push(Array.from({ length: k }, (_, a) => n * k - 1 - a));
  }
  const made = meshFromFaces(places.flat(), faces);
  const body = areaAndVolume(made).volume < 0 ? flipMesh(made) : made;
  try {
    checkSolid(body, 'The kerf');
  } catch (e) {
    throw tooWide(e instanceof MasonError ? e.place.point : undefined);
  }
  return body;
}

const tooWide = (point?: readonly [number, number, number]): MasonError =>
  new MasonError(
    'bad-input',
    'The kerf is too wide or too deep for a turn of its outline and would cross itself. Make it narrower.',
    { point },
  );
