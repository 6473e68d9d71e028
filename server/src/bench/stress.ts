import { carve, OPERATIONS, type CarveOperation, type CarveReport } from '@dusky-mason/core/carve';
import { FLUSH_CASES, benchIn, compareWithTwin, randomFrame } from '@dusky-mason/core/carve/suite';
import {
  areaAndVolume,
  components,
  faceAreas,
  faceBend,
  faceCount,
  genus,
  IDENTITY,
  isClosed,
  MasonError,
  sizeOf,
  transformMesh,
  type Affine,
  type PolyMesh,
} from '@dusky-mason/core/mesh';
import {
  ballFromPatches,
  ballFromRings,
  box,
  cylinder,
  prism,
  randomTurn,
  seededRandom,
} from '@dusky-mason/core/shapes';
import type { Witness } from './witness.ts';

type Random = () => number;
export type Rungs = Record<number, number>;

const between = (r: Random, low: number, high: number): number => low + (high - low) * r();
const pick = <T>(r: Random, list: readonly T[]): T => list[Math.floor(r() * list.length)]!;

/** A turn about a random axis by an angle (radians), as a matrix row by row (Rodrigues). */
function tilt(r: Random, angle: number): number[] {
  const t = randomTurn(r);
  const [x, y, z] = [t[0]!, t[3]!, t[6]!];
  const [s, c] = [Math.sin(angle), Math.cos(angle)];
  const k = 1 - c;
  return [
    c + x * x * k,
    x * y * k - z * s,
    x * z * k + y * s,
    y * x * k + z * s,
    c + y * y * k,
    y * z * k - x * s,
    z * x * k - y * s,
    z * y * k + x * s,
    c + z * z * k,
  ];
}

const affineOf = (m: number[], t: number[]): Affine =>
  [0, 1, 2].flatMap((i) => [m[3 * i]!, m[3 * i + 1]!, m[3 * i + 2]!, t[i]!]);

export interface FlushRow {
  name: string;
  same: number;
  of: number;
  wrong: string[];
}

/** Each flush case in so many random frames, against its plain twin. */
export function runFlush(frames: number, seed: number): { rows: FlushRow[]; rungs: Rungs } {
  const random = seededRandom(seed);
  const rungs: Rungs = {};
  const rows = Object.entries(FLUSH_CASES).map(([name, run]) => {
    const twin = run(benchIn(IDENTITY));
    const row: FlushRow = { name, same: 0, of: frames, wrong: [] };
    for (let i = 0; i < frames; i++) {
      const r = compareWithTwin(run, twin, randomFrame(random), (x) => (rungs[x.rung] = (rungs[x.rung] ?? 0) + 1));
      if (r.same) row.same++;
      else row.wrong.push(r.detail);
    }
    return row;
  });
  return { rows, rungs };
}

export interface PairsResult {
  pairs: number;
  results: number;
  open: number;
  wrongVolume: number;
  refused: number;
  otherThanWitness: number;
  worst: number;
  rungs: Rungs;
  examples: string[];
}

const emptyResult = (): PairsResult => ({
  pairs: 0,
  results: 0,
  open: 0,
  wrongVolume: 0,
  refused: 0,
  otherThanWitness: 0,
  worst: 0,
  rungs: {},
  examples: [],
});

type Outcome = { mesh: PolyMesh | null; report?: CarveReport };

/** One operation; a result with nothing in it is no mesh. */
function run(a: PolyMesh, b: PolyMesh, operation: CarveOperation): Outcome {
  try {
    return carve(a, { cutters: [b], operation });
  } catch (e) {
    if (e instanceof MasonError && e.code === 'bad-input') return { mesh: null };
    throw e;
  }
}

/** All three operations on a pair: closed, and both volume identities within `limit` of the volumes. */
function checkPair(
  a: PolyMesh,
  b: PolyMesh,
  limit: number,
  out: PairsResult,
  label: string,
): Map<CarveOperation, PolyMesh | null> | null {
  out.pairs++;
  const got = new Map<CarveOperation, PolyMesh | null>();
  try {
    for (const operation of OPERATIONS) {
      const { mesh, report } = run(a, b, operation);
      got.set(operation, mesh);
      out.results++;
      if (report) out.rungs[report.rung] = (out.rungs[report.rung] ?? 0) + 1;
      if (mesh && !isClosed(mesh)) {
        out.open++;
        out.examples.push(`${label}: ${operation} is open`);
      }
    }
  } catch (e) {
    out.refused++;
    out.examples.push(`${label}: ${e instanceof Error ? e.message : String(e)}`);
    return null;
  }
  const v = (m: PolyMesh | null | undefined) => (m && faceCount(m) ? areaAndVolume(m).volume : 0);
  const [va, vb] = [v(a), v(b)];
  const [s, u, i] = OPERATIONS.map((o) => v(got.get(o)));
  // Pieces of a bent face are one bent face again, and what surface spans a bent face is open within its bend.
  const allowed = limit + (bendVolume(a) + bendVolume(b)) / (va + vb);
  const off = Math.max(Math.abs(s! + i! - va), Math.abs(u! + i! - va - vb)) / (va + vb);
  if (allowed === limit) out.worst = Math.max(out.worst, off);
  if (!(off <= allowed)) {
    out.wrongVolume++;
    out.examples.push(`${label}: volume identity off by ${off.toExponential(1)}`);
  }
  return got;
}

/** What the bends of all faces can make of a volume: bend × area, mm³; 0 for bodies of flat faces. */
function bendVolume(m: PolyMesh): number {
  const areas = faceAreas(m);
  const flat = 1e-10 * sizeOf(m);
  return areas.reduce((sum, area, f) => sum + (faceBend(m, f) > flat ? faceBend(m, f) * area : 0), 0);
}

/** Bodies that lie flush on each other in the plain frame: a target, a cutter, and the volume they have in common. */
function flushPair(r: Random): { a: PolyMesh; b: PolyMesh; kind: string } {
  const kind = pick(r, ['box', 'cross', 'ball', 'tee', 'layer', 'hexagon', 'pocket', 'patches']);
  const base = box(100, 60, 20);
  const up = (m: PolyMesh, x: number, y: number, z: number) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
  const along: Affine = [0, 0, 1, 0, 1, 0, 0, 0, 0, 1, 0, 0];
  const [x, y] = [between(r, -30, 30), between(r, -15, 15)];
  switch (kind) {
    case 'cross':
      return { a: box(100, 10, 10), b: box(10, 100, 10), kind };
    case 'ball':
      return { a: ballFromRings(20, 24, 12), b: up(ballFromRings(20, 24, 12), 0, 0, pick(r, [0, 5])), kind };
    case 'patches':
      return { a: ballFromPatches(20, 6), b: up(box(50, 50, 25), 0, 0, 12.5), kind };
    case 'tee':
      return { a: cylinder(10, 60, 32), b: transformMesh(cylinder(10, 60, 32), along), kind };
    case 'layer':
      return { a: base, b: up(box(100, 60, 3), 0, 0, 11.5), kind };
    case 'hexagon':
      return { a: cylinder(20, 20, 6), b: up(cylinder(20, 20, 6), 30, 10 * Math.sqrt(3), 0), kind };
    case 'pocket':
      return { a: base, b: up(box(20, 20, 10), x, y, 5), kind };
    default:
      return { a: base, b: up(box(50, 30, 20), 50, pick(r, [15, 0]), 0), kind };
  }
}

/** Nearly flush pairs: offsets and tilts from a tenth to a thousand tolerances, in random frames. */
export function runNearlyFlush(pairs: number, seed: number): PairsResult {
  const r = seededRandom(seed);
  const out = emptyResult();
  for (let n = 0; n < pairs; n++) {
    const { a, b, kind } = flushPair(r);
    const size = Math.max(sizeOf(a), sizeOf(b));
    const stray = () => 10 ** between(r, -10, -6) * (r() < 0.5 ? -1 : 1);
    const shift = [0, 1, 2].map(() => (r() < 0.6 ? stray() * size : 0));
    const angle = r() < 0.6 ? stray() : 0;
    const scale = 10 ** between(r, -2, 3);
    const frame = randomTurn(r).map((x) => x * scale);
    const far = [0, 1, 2].map(() => between(r, -100, 100) * scale);
    const moved = transformMesh(b, affineOf(tilt(r, angle), shift));
    const label = `${n} ${kind} ${shift.map((x) => (x / size).toExponential(1)).join(' ')} ${angle.toExponential(1)}`;
    checkPair(transformMesh(a, affineOf(frame, far)), transformMesh(moved, affineOf(frame, far)), 1e-5, out, label);
  }
  return out;
}

function generalBody(r: Random): PolyMesh {
  const m = pick(r, [
    () => box(between(r, 5, 20), between(r, 5, 20), between(r, 5, 20)),
    () => cylinder(between(r, 3, 9), between(r, 5, 25), Math.floor(between(r, 5, 33))),
    () => ballFromRings(between(r, 4, 10), Math.floor(between(r, 6, 20)), Math.floor(between(r, 4, 12))),
    () => ballFromPatches(between(r, 4, 10), Math.floor(between(r, 1, 6))),
    () =>
      prism(
        {
          points: [
            [-8, -6],
            [8, -7],
            [3, 0],
            [9, 6],
            [-7, 8],
            [-2, 1],
          ],
        },
        between(r, 4, 15),
      ),
  ])();
  return transformMesh(
    m,
    affineOf(
      randomTurn(r),
      [0, 1, 2].map(() => between(r, -6, 6)),
    ),
  );
}

/** Pairs in general position, against the witness. */
export function runGeneral(pairs: number, seed: number, witness: Witness): PairsResult {
  const r = seededRandom(seed);
  const out = emptyResult();
  for (let n = 0; n < pairs; n++) {
    const a = generalBody(r);
    const b = generalBody(r);
    const got = checkPair(a, b, 1e-9, out, `${n}`);
    if (!got) continue;
    for (const operation of OPERATIONS) {
      const want = witness.counts(a, b, operation);
      const m = got.get(operation) ?? null;
      const have = { pieces: m ? components(m).count : 0, genus: m ? genus(m) : 0 };
      if (have.pieces !== want.pieces || have.genus !== want.genus) {
        out.otherThanWitness++;
        out.examples.push(
          `${n} ${operation}: ${have.pieces} pieces, genus ${have.genus}; witness ${want.pieces}, ${want.genus}`,
        );
      }
    }
  }
  return out;
}
