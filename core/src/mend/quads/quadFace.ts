import type { Flat } from '../../mesh/index.ts';
import { badness, cornerAngle, edgesOf, FlatMesh, ringArea, type Sizing } from './flatMesh.ts';
import { improve, partDarts, suitableCounts } from './improve.ts';
import { fillByMatching, leadTogether } from './matchFill.ts';
import { fillByPairs } from './pairs.ts';
import { bandsAlong, ringRound } from './ringRound.ts';
import { SplitFill } from './splitFill.ts';
import type { LayoutMemory } from './layoutMemory.ts';
import { isRounded } from './quadStrips.ts';
import { fillTurned, turnsOf } from './turns.ts';
import { fillMirrored, mirrorPlans, mirrorsOf } from './symmetry.ts';

/** What quads are laid out for: the best shapes, the fewest faces, or a surface to be subdivided, with few poles. */
export const QUAD_GOALS = ['shape', 'fewest', 'subdivision'] as const;
export type QuadGoal = (typeof QUAD_GOALS)[number];

/** A face laid out in quads. */
export interface QuadLayout {
  /** The first points are those of the boundaries, loop by loop. */
  points: readonly Flat[];
  polygons: number[][];
  /** Mirror lines that it keeps; of a face without any, how often it comes onto itself in a turn. */
  mirrors: number;
  /** As many as the face has. */
  possible: number;
  triangles: number;
  poles: number;
  /** The points at which other than four polygons meet, but for those of the boundaries. */
  poleAt: number[];
  score: number;
}

/** What a face is laid out by, besides its boundaries. */
export interface LayOut {
  /** Asked now and then; may throw to stop it. */
  check: () => void;
  /** What counts against a polygon besides its shape. */
  judge: Judge;
  /** No quad is to be larger. */
  most: number;
  /** Only triangles, in pairs where they suit each other: what is always sound. */
  plain?: boolean;
  /** Where layouts are found again, and what stands for the judge there. */
  memory?: LayoutMemory;
  judgedBy?: string;
}
export type Judge = (polygon: readonly Flat[]) => number;

/** How fast quads grow away from the boundaries, for each goal. */
const GROWTHS: Record<QuadGoal, readonly number[]> = {
  shape: [0.45, 0.7],
  fewest: [1.2, 2.5],
  subdivision: [0.45, 0.7],
};
/** Costs of a layout: for each triangle, each pole, and where it is less symmetric than its face. */
const COST: Record<QuadGoal, { triangle: number; pole: number; face: number; uneven: number }> = {
  shape: { triangle: 30, pole: 0.35, face: 0, uneven: 10 },
  fewest: { triangle: 12, pole: 0.1, face: 0.6, uneven: 2 },
  subdivision: { triangle: 40, pole: 1, face: 0, uneven: 10 },
};
/** More mirror lines than this are not kept: wedges would be too narrow for sound quads. */
const MOST_MIRRORS = 6;
/** Nor more turns. */
const MOST_TURNS = 12;
/** A layout that scores less than this, or than so much for each polygon, is good: no other is looked for. */
const GOOD_SCORE = 2;
const GOOD_EACH = 0.05;
/** A layout that scores worse than this, and than so much for each polygon, is poor: more ways are tried. */
const POOR = 15;
const POOR_EACH = 0.12;
/** Faces with more corners than this are laid out in one way only. */
const MANY_CORNERS = 160;
/** Faces with so few corners are laid out in all ways, and in large quads, too. */
const FEW = 16;
/** Faster growth: large quads in the midst of a face. */
const COARSE = [2, 8];
/** A corner sharper than this makes a sliver, which counts as much as three triangles besides, degrees. */
const SLIVER = 1.5;
/** Angles beyond which a corner counts against a layout, degrees. */
const [SHARP, BLUNT] = [25, 155];

/**
 * Lays a flat face out in quads: a ring round each hole, then the rest by cutting it in two again and again, mirrored
 * where the face is; several ways, of which the best one that is sound is taken. Loops run with the face on their left.
 * Null where no way is sound. The method of rings first, then chords, is our own. Every even boundary can be filled
 * with quads alone, an odd one leaves one triangle.
 */
export function quadFace(
  rings: readonly (readonly Flat[])[],
  goal: QuadGoal,
  by: Partial<LayOut> = {},
): QuadLayout | null {
  const { memory, judgedBy = '', most = Infinity, plain = false } = by;
  const made = () => laidOutBest(rings, goal, by);
  return memory ? memory.of(['face', rings, goal, judgedBy, most, plain], made) : made();
}

function laidOutBest(
  rings: readonly (readonly Flat[])[],
  goal: QuadGoal,
  { check = () => undefined, judge = () => 0, most = Infinity, plain = false }: Partial<LayOut>,
): QuadLayout | null {
  if (plain) return byPairs(rings, goal, judge);
  const corners = rings.reduce((s, r) => s + r.length, 0);
  const [many, few] = [corners > MANY_CORNERS, corners <= FEW];
  const growths = many ? GROWTHS[goal].slice(0, 1) : few ? [...GROWTHS[goal], ...COARSE] : GROWTHS[goal];
  const modes = modesOf(rings, goal);
  const plans = plansOf(rings);
  let best: QuadLayout | null = null;
  const now = (): QuadLayout | null => best;
  // Skips repeats: a mode that finds no place for a band equals none.
  const bare = new Set(modes.filter((mode) => begun(rings, mode).m.points.length === corners));
  const before = new Map<string, boolean>();
  const odd = corners % 2;
  const isGood = (): boolean =>
    !!best &&
    best.triangles === odd &&
    best.score - COST[goal].triangle * odd < Math.max(GOOD_SCORE, GOOD_EACH * best.polygons.length);
  const isFair = (): boolean =>
    !!best && best.triangles <= odd && best.score < Math.max(POOR, POOR_EACH * best.polygons.length);
  const tried = (growth: number, asked: Ringed, by: FillBy, plan: Plan): boolean => {
    const mode = bare.has(asked) ? 'none' : asked;
    const key = JSON.stringify([growth, mode, by, plan]);
    const known = before.get(key);
    if (known !== undefined) return known;
    const layout = laidOut(rings, goal, { growth, most }, mode, by, plan, check, judge);
    if (layout && (!best || layout.score < best.score)) best = layout;
    const sound = !!layout && layout.triangles <= odd;
    before.set(key, sound);
    return sound;
  };
  for (const mode of modes)
    for (const plan of plans) {
      // The plan with the most mirror lines that needs no triangle is kept.
      let sound = false;
      for (const growth of growths) {
        for (const by of many ? FILLS.slice(0, 1) : FILLS) {
          sound = tried(growth, mode, by, plan) || sound;
          if (isGood()) return now();
        }
        // A fair layout is good enough where every try takes long.
        if (!few && isFair()) break;
      }
      if (!few && sound) break;
    }
  for (const [growth, mode, by] of MORE_WAYS) {
    if (now() && (many || isFair() || (now()!.mirrors && now()!.triangles <= odd))) break;
    tried(growth, mode ?? modes[0]!, by, null);
  }
  return best ?? byPairs(rings, goal, judge);
}

/** How the rest is filled. */
type FillBy = 'split' | 'match';
const FILLS: readonly FillBy[] = ['split', 'match'];
/** Further ways, tried when all others are poor. */
const MORE_WAYS: readonly (readonly [growth: number, mode: Ringed | null, by: FillBy])[] = [
  [0.3, null, 'split'],
  [1, null, 'split'],
  [0.45, 'none', 'match'],
  [1, 'none', 'split'],
];

/** Which boundaries get bands of quads first: inward bends, and holes all round; an outer boundary all round, too. */
type Ringed = 'none' | 'bends' | 'all';

/**
 * Holes want a ring, so that each of their vertices has a spoke, and so do inward bends and an outer boundary that is
 * rounded all round.
 */
function modesOf(rings: readonly (readonly Flat[])[], goal: QuadGoal): Ringed[] {
  const holes = rings.length > 1;
  const disc = rings[0]!.length > 7 && rings[0]!.every((_, i) => isRounded(rings[0]!, i));
  const list: Ringed[] = [
    ...(disc ? (['all'] as const) : []),
    'bends',
    ...(holes && goal !== 'fewest' ? [] : (['none'] as const)),
  ];
  return goal === 'fewest' ? list.reverse() : list;
}

/** The fallback where no layout is sound: triangles, paired to quads where they suit each other. */
function byPairs(rings: readonly (readonly Flat[])[], goal: QuadGoal, judge: Judge): QuadLayout | null {
  const { m, boundaries } = begun(rings, 'none');
  fillByPairs(m, boundaries);
  return scored(m, rings, boundaries, goal, 0, judge);
}

type Plan = { lines: number; from: number } | { turns: number } | null;

/** The ways to keep the symmetry of a face: its mirror lines, the most first, or its turns; and in the end none. */
function plansOf(rings: readonly (readonly Flat[])[]): Plan[] {
  const { m, boundaries } = begun(rings, 'none');
  const mirrors = mirrorsOf(m, boundaries);
  if (mirrors.angles.length) return [...mirrorPlans(mirrors, MOST_MIRRORS), null];
  const turns = turnsOf(m, boundaries);
  return [...turnPlans(turns), null];
}

function* turnPlans(all: number): Generator<{ turns: number }> {
  for (let turns = Math.min(all, MOST_TURNS); turns > 1; turns--) if (all % turns === 0) yield { turns };
}

/** The points of a face, and a ring round each hole where there is to be one and room for it. */
function begun(
  rings: readonly (readonly Flat[])[],
  ring: Ringed,
): { m: FlatMesh; boundaries: number[][]; loops: number[][] } {
  const m = new FlatMesh();
  const boundaries = rings.map((r) => r.map((p) => m.point(p)));
  const loops = [...boundaries];
  for (let i = 0; ring !== 'none' && i < loops.length; i++) {
    const whole = i > 0 || ring === 'all' ? ringRound(m, loops, i) : null;
    loops[i] = whole ?? bandsAlong(m, loops, i);
  }
  return { m, boundaries, loops };
}

function laidOut(
  rings: readonly (readonly Flat[])[],
  goal: QuadGoal,
  sizing: Sizing,
  ring: Ringed,
  by: FillBy,
  plan: Plan,
  check: () => void,
  judge: Judge,
): QuadLayout | null {
  const { m, boundaries, loops } = begun(rings, ring);
  const fill = (domain: FlatMesh, list: readonly (readonly number[])[]): boolean => {
    if (
      !(by === 'match'
        ? fillByMatching(domain, list, sizing, check)
        : new SplitFill(domain, list, sizing, check).fill())
    )
      return false;
    const suits = suitableCounts(domain, anglesOf(domain, list));
    improve(domain, suits, check);
    // Triangles that come of quads that cannot be convex are led together, and what that makes is improved in turn.
    if (partDarts(domain) > 0) {
      leadTogether(domain);
      improve(domain, suits, check);
      partDarts(domain);
    }
    return true;
  };
  const filled = !plan
    ? fill(m, loops)
    : 'turns' in plan
      ? fillTurned(m, boundaries, loops, plan.turns, sizing, fill)
      : fillMirrored(m, boundaries, loops, plan, sizing, fill);
  return filled
    ? scored(m, rings, boundaries, goal, !plan ? 0 : 'turns' in plan ? plan.turns : plan.lines, judge)
    : null;
}

/** The angle at each vertex of some loops within what they enclose, degrees. */
function anglesOf(m: FlatMesh, loops: readonly (readonly number[])[]): Map<number, number> {
  return new Map(
    loops.flatMap((l) =>
      l.map(
        (v, i) =>
          [
            v,
            cornerAngle(
              m.points[l[(i + l.length - 1) % l.length]!]!,
              m.points[v]!,
              m.points[l[(i + 1) % l.length]!]!,
            ) || 360,
          ] as const,
      ),
    ),
  );
}

/**
 * A layout with its score; null where it is not sound: each polygon runs to the left, boundary edges are used once, all
 * others twice, and the areas add up.
 */
function scored(
  m: FlatMesh,
  rings: readonly (readonly Flat[])[],
  boundaries: number[][],
  goal: QuadGoal,
  mirrors: number,
  judge: Judge,
): QuadLayout | null {
  const polygons = m.live().map((i) => [...m.polygons[i]!]);
  const whole = rings.reduce((s, r) => s + ringArea(r), 0);
  let sum = 0;
  const used = new Map<string, number>();
  for (const p of polygons) {
    const places = m.places(p);
    const area = ringArea(places);
    if (
      !(area > 0) ||
      p.length > 4 ||
      places.some(
        (_, i) => cornerAngle(places[(i + p.length - 1) % p.length]!, places[i]!, places[(i + 1) % p.length]!) >= 180,
      )
    )
      return null;
    sum += area;
    p.forEach((v, i) =>
      used.set(`${v},${p[(i + 1) % p.length]!}`, (used.get(`${v},${p[(i + 1) % p.length]!}`) ?? 0) + 1),
    );
  }
  if (Math.abs(sum / whole - 1) > 1e-9) return null;
  const own = new Set(edgesOf(boundaries).map(([u, v]) => `${u},${v}`));
  for (const e of own) if (used.get(e) !== 1) return null;
  for (const [e, n] of used) if (n > 1 || (!own.has(e) && !used.has(e.split(',').reverse().join()))) return null;
  const angles = anglesOf(m, boundaries);
  const cost = COST[goal];
  const triangles = polygons.filter((p) => p.length === 3).length;
  const poleAt = Array.from({ length: m.points.length }, (_, v) => v).filter(
    (v) => m.at(v).size && !angles.has(v) && m.at(v).size !== 4,
  );
  const poles = poleAt.reduce((s, v) => s + (goal === 'subdivision' ? Math.abs(m.at(v).size - 4) : 1), 0);
  let score = cost.triangle * triangles + cost.pole * poles + cost.face * polygons.length;
  for (const p of polygons) {
    const places = m.places(p);
    places.forEach((q, i) => {
      const angle = cornerAngle(places[(i + p.length - 1) % p.length]!, q, places[(i + 1) % p.length]!);
      if (angle < SLIVER) score += 3 * cost.triangle;
      if (angle < SHARP) score += ((SHARP - angle) / 8) ** 2;
      if (angle > BLUNT) score += ((angle - BLUNT) / 8) ** 2;
    });
    score += 0.05 * badness(places) + judge(places);
  }
  const lines = mirrorsOf(m, boundaries).angles.length;
  const turns = lines ? 1 : turnsOf(m, boundaries);
  const possible = lines || (turns > 1 ? turns : 0);
  if (possible) score += cost.uneven * (1 - Math.min(1, mirrors / Math.min(2, possible)));
  return { points: m.points, polygons, mirrors, possible, triangles, poles, poleAt, score };
}
