import {
  areaAndVolume,
  checkCancelled,
  components,
  faceAreas,
  faceCount,
  isClosed,
  MasonError,
  partOf,
  sizeOf,
  topologyOf,
  UNPAIRED,
  type OpContext,
  type OpResult,
  type PolyMesh,
  pairsThatMeet,
} from '../../mesh/index.ts';
import { closeFlatFaces } from '../flatFaces.ts';
import { orient } from '../orient.ts';
import { fillSmooth } from './fillSmooth.ts';
import {
  dropDoubled,
  dropInnerShells,
  dropInnerWalls,
  EXACT,
  joinSides,
  openCorners,
  partFans,
  stitch,
  weldExact,
  type Step,
} from './steps.ts';
import { gapsOf, suitableTolerance } from './tolerance.ts';
import { uncrossPieces, type Uncross } from './uncrossPieces.ts';
import { uniteOverlapping, type Unite } from './unitePieces.ts';

/** The steps of a healing, in their order. */
export const HEAL_STEPS = [
  'weld',
  'doubled',
  'stitch',
  'sides',
  'flat',
  'walls',
  'parted',
  'filled',
  'shells',
  'outward',
  'crossed',
  'united',
] as const;
export type HealStep = (typeof HEAL_STEPS)[number];

export interface HealOptions {
  /** Steps that are left out. */
  without?: readonly HealStep[];
  /** Cracks up to this are closed, mm; 0 for what the gaps of the mesh suggest. */
  tolerance?: number;
  /** Openings wider than this stay, mm; 0 for all but those of a sheet. */
  widest?: number;
  /** How to take a mesh with large openings: as a sheet that stays open, as a body that is closed, or as it looks. */
  as?: 'seen' | 'sheet' | 'body';
  /** How two bodies become one, and how one that crosses itself is resolved; without them such pieces stay. */
  unite?: Unite;
  uncross?: Uncross;
}

export interface HealReport {
  /** The tolerance that cracks were closed with, mm, and the gaps that it was chosen from. */
  tolerance: number;
  gaps: number[];
  /** What each step did: vertices, faces, shells or openings. */
  steps: { step: HealStep; done: number }[];
  before: { area: number; volume: number | null };
  after: { area: number; volume: number | null };
  /** What is left: open edges, edges with three faces or more, openings that stayed for their size. */
  open: number;
  odd: number;
  stay: number;
  /** Bent openings of so many edges that one face closes each. */
  plain: number;
  /** Whether there were so many pieces, or so large ones, that not all of them were looked through for overlaps. */
  many: boolean;
  /**
   * Pairs of faces that still cut through each other or lie over each other; null where there are too many faces to
   * look.
   */
  crossing: number | null;
}

/**
 * In a mesh that is healed as it looks, an opening whose patch would be more than this share of its piece's area is
 * taken as intended.
 */
const SHEET_SHARE = 0.12;
/** Greatest number of rounds. */
const MOST_ROUNDS = 4;
/** More faces than this are refused: a healing holds several copies of a mesh. */
const MOST_FACES = 4_000_000;
/** Most pairs of crossing faces that are listed: more are beyond mending one by one. */
const MOST_PAIRS = 100_000;
/** Share of the work done before the mended mesh is searched again. */
const ALL_BUT_SEARCHED = 0.97;
/** A mesh with more faces is not searched for faces that cut through each other. */
const MOST_SEARCHED = 200_000;

/** Defaults of the options. */
export const HEAL_DEFAULTS: Required<Pick<HealOptions, 'without' | 'tolerance' | 'widest' | 'as'>> = {
  without: [],
  tolerance: 0,
  widest: 0,
  as: 'seen',
};

/**
 * Brings a damaged mesh to a closed solid whose faces look outward, or to a clean sheet: vertices at one place and
 * across cracks become one, doubled faces, faces without area, inner walls and bodies within bodies go, sides that were
 * split differently meet, vertices of several fans are parted, openings are filled, faces turned outward, pieces that
 * cross themselves resolved, and pieces that overlap united. No face that is sound moves. Steps are repeated until none
 * has anything left to do, as each may make work for others.
 *
 * @example
 * const { mesh, report } = heal(flipMesh(box(10, 10, 10)), {});
 */
export function heal(m: PolyMesh, given: HealOptions, ctx?: OpContext): OpResult<HealReport> {
  const options = { ...HEAL_DEFAULTS, ...given };
  if (faceCount(m) > MOST_FACES)
    throw new MasonError(
      'too-large',
      `It has ${faceCount(m).toLocaleString('en')} faces; up to ${MOST_FACES.toLocaleString('en')} are healed at a time. Take it apart first.`,
    );
  const done = new Map<HealStep, number>();
  let mesh = m;
  let [stay, plain] = [0, 0];
  let many = false;
  // Steps are repeated; the progress shown only rises.
  let reached = 0;
  const share = (step: HealStep) => HEAL_STEPS.indexOf(step) / HEAL_STEPS.length;
  const run = (step: HealStep, act: (m: PolyMesh) => Step): number => {
    if (options.without.includes(step) || !mesh.corners.length) return 0;
    checkCancelled(ctx);
    reached = Math.max(reached, share(step));
    ctx?.progress?.(reached, 'Healing');
    const r = act(mesh);
    mesh = r.mesh;
    done.set(step, (done.get(step) ?? 0) + r.done);
    return r.done;
  };
  run('weld', weldExact);
  run('doubled', dropDoubled);
  const gaps = gapsOf(mesh);
  const tolerance = options.tolerance || suitableTolerance(mesh, gaps);
  const exact = EXACT * sizeOf(m);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const changed =
      run('stitch', (x) => stitch(x, tolerance)) +
      run('sides', (x) => joinSides(x, Math.max(tolerance, exact))) +
      run('flat', (x) => flatClosed(x, Math.max(tolerance / 10, exact))) +
      run('doubled', dropDoubled) +
      run('walls', dropInnerWalls);
    if (!changed) break;
  }
  run('parted', partFans);
  const limits = {
    widest: options.widest,
    share: options.as === 'body' ? Infinity : options.as === 'sheet' ? 0 : SHEET_SHARE,
  };
  run('filled', (x) => {
    const r = fillSmooth(x, pieceAreas(x), limits, () => checkCancelled(ctx));
    [stay, plain] = [r.stay, r.plain];
    return { mesh: r.mesh, done: r.filled };
  });
  run('shells', dropInnerShells);
  run('outward', (x) => {
    const r = orient(x, { way: 'outward' });
    return { mesh: r.report.turned ? r.mesh : x, done: r.report.turned };
  });
  const { unite, uncross } = options;
  // Searched once for a mesh that did not change.
  const searched = faceCount(mesh) <= MOST_SEARCHED;
  let met = {
    mesh,
    pairs: searched
      ? pairsThatMeet(mesh, { ctx: partOf(ctx, share('outward'), share('crossed')), most: MOST_PAIRS })
      : [],
  };
  if (uncross && met.pairs.length)
    run('crossed', (x) => uncrossPieces(x, met.pairs, uncross, partOf(ctx, share('crossed'), share('united'))));
  if (unite)
    run('united', (x) => {
      const r = uniteOverlapping(x, unite, partOf(ctx, share('united'), ALL_BUT_SEARCHED));
      many = !r.all;
      return r;
    });
  if (searched && mesh !== met.mesh)
    met = { mesh, pairs: pairsThatMeet(mesh, { ctx: partOf(ctx, ALL_BUT_SEARCHED, 1), most: MOST_PAIRS }) };
  const t = topologyOf(mesh);
  const odd = [...t.edgeCorner].filter((c) => t.opposite[c] === UNPAIRED).length;
  return {
    mesh,
    report: {
      tolerance,
      gaps,
      steps: HEAL_STEPS.filter((s) => !options.without.includes(s)).map((step) => ({
        step,
        done: done.get(step) ?? 0,
      })),
      before: measured(m),
      after: measured(mesh),
      open: openCorners(mesh).length,
      odd,
      stay,
      plain,
      many,
      crossing: searched ? met.pairs.length : null,
    },
  };
}

/** The area of the piece that a face is of, mm². */
function pieceAreas(m: PolyMesh): (face: number) => number {
  const { of, count } = components(m);
  const areas = new Float64Array(count);
  faceAreas(m).forEach((a, f) => (areas[of[f]!]! += a));
  return (face) => areas[of[face]!]!;
}

function flatClosed(m: PolyMesh, within: number): Step {
  const r = closeFlatFaces(m, { within });
  return { mesh: r.mesh, done: r.report.closed };
}

function measured(m: PolyMesh): { area: number; volume: number | null } {
  const { area, volume } = areaAndVolume(m);
  return { area, volume: isClosed(m) ? volume : null };
}
