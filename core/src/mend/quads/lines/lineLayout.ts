import type { Flat } from '../../../mesh/index.ts';
import { ringArea } from '../flatMesh.ts';
import type { Judge, QuadGoal } from '../quadFace.ts';
import { coreWays } from './core.ts';
import type { Draft } from './draft.ts';
import { drawn, type Ways } from './drawnLayout.ts';
import { evenOut, mirrorsKept, mirrorsOfFace } from './evenOut.ts';
import { hasRows, type LinedFace, linedFace } from './face.ts';
import { cornersOf, loosen, relax } from './move.ts';
import type { RoundFrame } from './roundFrame.ts';
import type { Want } from './spans.ts';
import type { LayoutMemory } from '../layoutMemory.ts';
import type { Mirrors } from '../symmetry.ts';

/** A face laid out in quads by lines across it. */
export interface LineLayout {
  /** The first points are those of the boundaries, ring by ring. */
  points: Flat[];
  quads: number[][];
  /** Points that were put into edges of the boundaries: ring by ring and edge by edge, in the edge's order. */
  splits: number[][][];
  /** Points within the face at which other than four quads meet. */
  poles: number[];
  score: number;
  /** Mirror lines that it keeps, and how many the face has. */
  mirrors: number;
  possible: number;
  /** How many points were given, and the ways that they were laid out in. */
  given: number;
  ways: Ways;
}

/** What a face is laid out by, besides its boundaries. */
export interface LineOptions {
  goal: QuadGoal;
  /** The quads that a split of an edge makes elsewhere; Infinity where it may not be split. */
  price: (ring: number, edge: number) => number;
  /** Asked now and then; may throw to stop it. */
  check?: () => void;
  /** What counts against a quad besides its shape. */
  judge?: Judge;
  /** Where layouts are found again, and what stands for the judge there. */
  memory?: LayoutMemory;
  judgedBy?: string;
  /** Ways that are tried first; the first that give something sound are taken. */
  like?: readonly Ways[];
}

/** Costs of a layout: for each quad, each pole and the error of corners; and for a ring along a rim, each edge. */
const COST: Record<QuadGoal, { quad: number; pole: number; corner: number; ring: number }> = {
  shape: { quad: 0.6, pole: 3, corner: 1, ring: 0 },
  fewest: { quad: 1, pole: 0.5, corner: 0.7, ring: 0 },
  subdivision: { quad: 0.3, pole: 4, corner: 1, ring: 0.5 },
};
/** A pole of 6 and more quads counts so many times as much for each of them beyond 4. */
const LARGE_POLE = 1.6;
/** Neighbours of unlike size count so much, for the logarithm of their ratio. */
const UNLIKE = 0.08;
/** A quad with a corner of this angle (degrees) or more is not sound. */
const STRAIGHT = 179.9;

/** What a corner (degrees) counts: a little off a right angle, more where it is sharp or blunt, much where it is very sharp. */
function cornerCost(a: number): number {
  const [sharp, verySharp, blunt] = [Math.max(0, 38 - a), Math.max(0, 26 - a), Math.max(0, a - 142)];
  return 0.2 * ((a - 90) / 45) ** 2 + (sharp / 5) ** 2 + (verySharp / 2) ** 2 + (blunt / 5) ** 2;
}

/** Cost of a layout that keeps none of the mirror lines of its face, and how many of these matter. */
const MOST_EVEN = 2;
const UNEVEN: Record<QuadGoal, number> = { shape: 10, fewest: 2, subdivision: 10 };

/** Rounds of moving while searching, and in the end. */
const [TRIED, DONE] = [5, 40];
/** Sharpest corner of a layout that is taken, degrees, and the most that it may score for each quad. */
const [LEAST_CORNER, MOST_EACH] = [12, 4];
/** A search that begins with a worse score per quad than this ends at once. */
const HOPELESS = 4;

/** Ways that are tried: how far boxes are and what holes want to begin with, then each by itself. */
const START_PADS = [1, 0.6, 1.6];
const START_WANTS: readonly Want[] = ['all', 2, 4];
const WANTS: readonly Want[] = ['all', 'full', 1, 2, 3, 4, 6];
const PADS = [0.6, 0.8, 1.25, 1.6, 2];
const OWN_PADS = [0.6, 1, 1.6];
/** Where rows are given: how far boxes on them like to be. */
const ROW_PADS = [0.6, 1.25, 2.5];
const ROW_WANTS: readonly Want[] = [1, 2, 'all'];
const REACHES = [1, 2, 3];
/** On bent faces more rings keep quads near to it. */
const [RINGS, BENT_RINGS] = [
  [1, 0],
  [0, 1, 2, 3, 4],
];
const NESTS = ['corners', 'sides'] as const;
/** In a round frame: spokes, up to as many as the rim with more vertices has, and nests at a rim. */
const SPOKES = [0, 16, 40, 64];
const SPOTS = [4, 8];
/** An outline of more edges may have fewer columns and rows in its core. */
const MANY_EDGES = 64;
const spokesOf = ({ rims }: RoundFrame, n: number): number => Math.min(n, Math.max(...rims.map((r) => r.x.length)));

/**
 * Lays a flat face out by straight lines: a box of lines round each hole, as few as serve all boxes, each led straight
 * on to the border or the next box, and one band of quads between box and rim. Poles stand only at corners of boxes and
 * where a dense rim is brought down. A face between two circles is laid out so by spokes and arcs. Several ways are
 * tried, the one that costs least is taken. Null where the outline neither runs in two ways at right angles nor is a
 * circle about a round hole, where there is no room for boxes, and where nothing sound is found. Rings run with the face
 * on their left. The method is our own.
 */
export function lineLayout(rings: readonly (readonly Flat[])[], options: LineOptions): LineLayout | null {
  const { goal, price, judgedBy = '', like = [], memory } = options;
  const made = () => laidByLines(rings, options);
  if (!memory) return made();
  const prices = rings.map((r, k) => r.map((_, e) => price(k, e)));
  return memory.of(['lines', rings, goal, judgedBy, prices, like.map(waysName)], made);
}

function laidByLines(
  rings: readonly (readonly Flat[])[],
  { goal, price, check = () => undefined, judge, like = [] }: LineOptions,
): LineLayout | null {
  const face = linedFace(rings);
  if (!face) return null;
  const search = new Search(face, goal, price, check, judge);
  for (const ways of like) {
    const layout = finished(rings, face, search, search.as(ways));
    if (layout) return layout;
  }
  return finished(rings, face, search, search.best());
}

/** A layout that was found, moved to its end; null where that is not sound. */
function finished(
  rings: readonly (readonly Flat[])[],
  face: LinedFace,
  search: Search,
  ways: Ways | null,
): LineLayout | null {
  if (!ways) return null;
  // Drawn anew: points that were moved while searching are no longer each other's images.
  const draft = drawn(face, ways)!;
  const kept = mirrorsKept(draft, search.mirrors);
  relax(draft, DONE);
  if (!search.besides) loosen(draft, DONE);
  evenOut(draft, kept);
  const judged = search.judge(draft, 0);
  if (!judged || judged.sharpest < LEAST_CORNER || !(judged.score - judged.price <= MOST_EACH * draft.quads.length))
    return null;
  const { splits, poles, score } = judged;
  const given = rings.flat();
  const points = draft.points.map((p, i) => given[i] ?? face.back(p));
  return {
    points,
    quads: draft.quads,
    splits,
    poles,
    score,
    given: given.length,
    ways,
    mirrors: kept.length,
    possible: search.mirrors.angles.length,
  };
}

/** Ways as a text. */
const waysName = (w: Ways): string =>
  JSON.stringify([...w.wants, ...w.pads, w.reach, w.nests, w.rings, w.rows, w.from, w.spokes, w.spots, w.core]);

/** What a draft costs, what of that the splits do, and what it is like. */
interface Judged {
  score: number;
  price: number;
  splits: number[][][];
  poles: number[];
  sharpest: number;
}

/** A search for the best layout of a face. */
class Search {
  private least = Infinity;
  private found: Ways | null = null;
  /** What the best one costs for each quad, but for its splits. */
  private each = Infinity;
  private readonly seen = new Map<string, number>();
  private readonly area: number;
  readonly mirrors: Mirrors;

  constructor(
    private readonly face: LinedFace,
    private readonly goal: QuadGoal,
    private readonly price: (ring: number, edge: number) => number,
    private readonly check: () => void,
    readonly besides?: Judge,
  ) {
    this.area = face.rings.reduce((s, r) => s + ringArea(r), 0);
    this.mirrors = mirrorsOfFace(face.rings);
  }

  /** Starts from a few ways, all holes alike, and changes one thing at a time, kept where it is better; two passes. */
  best(): Ways | null {
    const kinds = [...new Set(this.face.holes.map((h) => h.kind))];
    const alike = <T>(x: T) => new Map(kinds.map((k) => [k, x]));
    let now: Ways | null = null;
    let least = Infinity;
    const attempt = (w: Ways): void => {
      const score = this.attempt(w);
      if (score < least - 1e-9) [least, now] = [score, w];
    };
    const { round } = this.face;
    const start = {
      rows: false,
      reach: 1,
      nests: 'corners',
      rings: this.goal === 'subdivision' ? 1 : 0,
      from: round ? 'inner' : 'none',
      spokes: 0,
      spots: SPOTS[0]!,
      core: null,
    } as const;
    if (this.face.core) {
      const edges = this.face.rings[0]!.length;
      for (const core of coreWays(this.face.core, edges, this.goal === 'fewest' || edges > MANY_EDGES))
        attempt({ ...start, core, pads: new Map(), wants: new Map() });
      for (const rings of [0, 1]) for (const reach of REACHES) if (now) attempt({ ...(now as Ways), rings, reach });
      return this.found;
    }
    const pads = kinds.length ? START_PADS : [1];
    const wants = kinds.length ? START_WANTS : [2 as const];
    for (const pad of pads) for (const want of wants) attempt({ ...start, pads: alike(pad), wants: alike(want) });
    if (kinds.length && hasRows(this.face))
      for (const pad of ROW_PADS)
        for (const want of ROW_WANTS) attempt({ ...start, rows: true, pads: alike(pad), wants: alike(want) });
    if (!this.besides && this.each > HOPELESS) return null;
    for (let turn = 0; turn < 2 && now && (kinds.length || round); turn++) {
      const before: number = least;
      const alter = (change: (w: Ways) => Partial<Ways>) => attempt({ ...now!, ...change(now!) });
      for (const k of kinds) for (const want of WANTS) alter((w) => ({ wants: new Map([...w.wants, [k, want]]) }));
      for (const pad of PADS) alter(() => ({ pads: alike(pad) }));
      if (kinds.length > 1)
        for (const k of kinds) for (const pad of OWN_PADS) alter((w) => ({ pads: new Map([...w.pads, [k, pad]]) }));
      for (const reach of REACHES) for (const nests of NESTS) alter(() => ({ reach, nests }));
      for (const rings of this.besides ? BENT_RINGS : RINGS) alter(() => ({ rings }));
      if (round)
        for (const from of ['inner', 'outer', 'none'] as const)
          for (const spokes of from === 'none' ? SPOKES : [0])
            for (const spots of SPOTS) alter(() => ({ from, spokes: spokesOf(round, spokes), spots }));
      if (least === before) break;
    }
    return this.found;
  }

  /** The layout that some ways give; null where they do not suit the face or give nothing sound. */
  as(ways: Ways): Ways | null {
    if (!this.face.holes.every((h) => ways.wants.has(h.kind)) || (ways.from !== 'none') !== !!this.face.round)
      return null;
    if (ways.core?.kind !== this.face.core?.kind) return null;
    const draft = drawn(this.face, ways);
    return draft && this.judge(draft, ways.rings, false) ? ways : null;
  }

  /** The score of a way; Infinity where it gives nothing sound or costs too much already. */
  private attempt(ways: Ways): number {
    const name = waysName(ways);
    const known = this.seen.get(name);
    if (known !== undefined) return known;
    this.check();
    let score = Infinity;
    const draft = drawn(this.face, ways);
    // A draft with too many quads and poles already needs no moving.
    const plain = draft && this.judge(draft, ways.rings, false);
    if (plain && plain.score < this.least) {
      const most = Math.min(MOST_EVEN, this.mirrors.angles.length);
      const uneven = most ? UNEVEN[this.goal] * (1 - mirrorsKept(draft, this.mirrors, most).length / most) : 0;
      relax(draft, TRIED);
      if (!this.besides) loosen(draft, TRIED);
      const judged = this.judge(draft, ways.rings);
      score = judged ? judged.score + uneven : Infinity;
      if (score < this.least) {
        [this.least, this.found] = [score, ways];
        this.each = (score - judged!.price) / draft.quads.length;
      }
    }
    this.seen.set(name, score);
    return score;
  }

  /**
   * What a draft costs, and what of its boundaries was split; null where it is not sound: quads run to the left, edges
   * of the boundaries are used once, all others twice, areas add up.
   */
  judge(m: Draft, rings: number, shapes = true): Judged | null {
    const cost = COST[this.goal];
    const n = m.points.length;
    const rims = this.face.holes.reduce((s, h) => s + h.rim.length, 0);
    let score = cost.quad * m.quads.length - (rings ? cost.ring * rims : 0);
    let sharpest = 180;
    let sum = 0;
    const valence = new Int32Array(n);
    const edges = new Map<number, number>();
    const areas = m.quads.map((q) => ringArea(m.places(q)));
    for (const [f, q] of m.quads.entries()) {
      if (!(areas[f]! > 0)) return null;
      sum += areas[f]!;
      for (let i = 0; i < 4; i++) {
        valence[q[i]!]!++;
        const name = q[i]! * n + q[(i + 1) % 4]!;
        if (edges.has(name)) return null;
        edges.set(name, f);
      }
      if (!shapes) continue;
      for (const a of cornersOf(m, q)) {
        if (a >= STRAIGHT) return null;
        sharpest = Math.min(sharpest, a);
        score += cost.corner * cornerCost(a);
      }
      if (this.besides) score += this.besides(m.places(q).map((p) => this.face.back(p)));
    }
    if (Math.abs(sum / this.area - 1) > 1e-9) return null;
    const onward = new Map<number, number>();
    for (const [name, f] of edges) {
      const [v, w] = [Math.floor(name / n), name % n];
      const g = edges.get(w * n + v);
      if (g === undefined) {
        if (onward.has(v)) return null;
        onward.set(v, w);
      } else if (shapes && f < g) score += UNLIKE * Math.abs(Math.log(areas[g]! / areas[f]!));
    }
    const splits = this.splitsOf(onward);
    if (!splits) return null;
    let price = 0;
    splits.forEach((r, k) =>
      r.forEach((list, e) => {
        if (list.length) price += cost.quad * list.length * this.price(k, e);
      }),
    );
    score += price;
    const poles: number[] = [];
    for (let v = 0; v < n; v++) {
      if (!valence[v] || valence[v] === 4 || onward.has(v)) continue;
      poles.push(v);
      score += cost.pole * (valence[v]! > 5 ? LARGE_POLE * (valence[v]! - 4) : 1);
    }
    return { score, price, splits, poles, sharpest };
  }

  /** The points that lie on each edge of the boundaries, by following these; null where they lead elsewhere. */
  private splitsOf(onward: ReadonlyMap<number, number>): number[][][] | null {
    const splits: number[][][] = [];
    let first = 0;
    let steps = 0;
    for (const ring of this.face.rings) {
      const own: number[][] = [];
      for (let i = 0; i < ring.length; i++) {
        const [v, w] = [first + i, first + ((i + 1) % ring.length)];
        const list: number[] = [];
        let at = onward.get(v);
        for (steps++; at !== undefined && at !== w; at = onward.get(at)) {
          list.push(at);
          if (++steps > onward.size) return null;
        }
        if (at === undefined) return null;
        own.push(list);
      }
      splits.push(own);
      first += ring.length;
    }
    return steps === onward.size ? splits : null;
  }
}
