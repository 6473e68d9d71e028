import { carve } from '../../carve/index.ts';
import {
  areaAndVolume,
  bounds,
  cornerCount,
  faceCount,
  isClosed,
  layerFaults,
  loopCount,
  MasonError,
  pinchedVertices,
  shadingNormals,
  sizeOf,
  SpatialIndex,
  topologyOf,
  transformMesh,
  triangulateMesh,
  vertexCount,
  withSlot,
  withSource,
  placementAffine,
  type PolyMesh,
  type Vec3,
  vertexPlace,
  type OpResult,
} from '../../mesh/index.ts';
import { elementsOf, type ElementKind } from '../../mend/index.ts';
import type { GuideSurface } from '../../dress/index.ts';
import { box, cylinder, seededRandom, sheet } from '../../shapes/index.ts';
import { type FieldMeta, fieldsOf } from '../base/fields.ts';
import { pickOf } from '../base/picks.ts';
import type { StrokeReport } from './courseKind.ts';
import { type StrokeName, STROKES } from '../settings/strokes.ts';
import { STROKE_KINDS } from './strokeList.ts';
import type { StrokeKind } from './strokeKinds.ts';
import { type Dice, diceOf } from './trial.ts';

/** Summary of many random runs of one stroke. */
export interface StrokeTrials {
  kind: StrokeName;
  runs: number;
  /** How many were done; the others were refused with a sentence. */
  done: number;
  /** Sentences that say what went wrong, with the run's number; empty when all is well. */
  wrong: string[];
}

/** Places of each surface that the drift is held against. */
const SAMPLES = 120;

/** A small body or sheet (`open`: a sheet), turned and moved at random, with slots, sources and sometimes a hole. */
function randomMesh(random: () => number, open: boolean): PolyMesh {
  const whole = (low: number, high: number) => low + Math.floor(random() * (high - low + 1));
  const bodies: (() => PolyMesh)[] = [
    () => box(whole(5, 30), whole(5, 30), whole(5, 30), [whole(1, 3), whole(1, 3), whole(1, 3)]),
    () => cylinder(whole(4, 15), whole(5, 30), whole(3, 14), whole(1, 3)),
    () => sheet(whole(5, 30), whole(5, 30), [whole(1, 5), whole(1, 5)]),
    () =>
      carve(withSource(box(40, 30, 8), 1, 1), {
        cutters: [
          withSource(
            transformMesh(cylinder(whole(2, 9), 30, whole(5, 14)), [
              1,
              0,
              0,
              whole(-5, 5),
              0,
              1,
              0,
              whole(-3, 3),
              0,
              0,
              1,
              0,
            ]),
            2,
            2,
          ),
        ],
        operation: 'subtract',
        course: 2,
      }).mesh,
  ];
  const m = open ? bodies[2]!() : bodies[whole(0, bodies.length - 1)]!();
  const turn: Vec3 = [360 * random(), 360 * random(), 360 * random()];
  const placed = transformMesh(m, placementAffine({ position: [100 * random(), 0, -50 * random()], turn: [...turn] }));
  const sourced = placed.layers.source ? placed : withSource(placed, 1, 1);
  const slot = new Int32Array(faceCount(sourced));
  const dressed = { ...withSlot(sourced, 'Steel'), layers: { ...sourced.layers, slot } };
  // Some have light and texture coordinates of their own.
  const [light, map] = [whole(0, 2) === 0, whole(0, 2) === 0];
  return {
    ...dressed,
    layers: {
      ...dressed.layers,
      ...(light && { normal: shadingNormals(dressed) }),
      ...(map && { uv: Float64Array.from({ length: 2 * cornerCount(dressed) }, () => random()) }),
    },
  };
}

/** A ball about the middle of a mesh, through its first vertex, as what all of it is meant to be. */
function ballAround(m: PolyMesh): GuideSurface {
  const { min, max } = bounds(m);
  const from = (p: Vec3): Vec3 => [
    p[0] - (min[0] + max[0]) / 2,
    p[1] - (min[1] + max[1]) / 2,
    p[2] - (min[2] + max[2]) / 2,
  ];
  const radius = Math.hypot(...from([m.positions[0]!, m.positions[1]!, m.positions[2]!]));
  return { knows: () => true, normal: (_, p) => from(p), off: (_, p) => Math.abs(Math.hypot(...from(p)) - radius) };
}

/**
 * Random settings of a stroke by its declaration alone: each choice, flag and number; lengths are about as long as
 * given.
 */
function randomSettings(kind: StrokeName, { some: long, one, random }: Dice): Record<string, unknown> {
  const value = ({ as, options, min = 0, max = 10 }: FieldMeta): unknown => {
    if (as === 'choice') return one(...Object.keys(options!));
    if (as === 'flag') return one(true, false);
    if (as === 'count') return Math.min(max, min + Math.floor(4 * random()));
    if (as === 'share') return random();
    if (as === 'angle') return min + (max - min) * random();
    return as === 'length' ? Math.max(min, long) : undefined;
  };
  const fields = fieldsOf(STROKES[kind].settings).map(({ key, meta }) => [key, value(meta)] as const);
  return Object.fromEntries(fields.filter(([, x]) => x !== undefined));
}

/** Some elements at random, a few of them as a rule. */
function someOf(m: PolyMesh, on: ElementKind, least: number, random: () => number): number[] {
  const all = elementsOf(m, on);
  const count = Math.max(least, 1 + Math.floor(random() ** 2 * Math.min(8, all.length)));
  return [...new Set(Array.from({ length: count }, () => all[Math.floor(random() * all.length)]!))];
}

/** Whether every corner of a mesh points to a vertex, and no boundary is too short to be one. */
const sound = (m: PolyMesh): boolean =>
  m.corners.every((v) => v >= 0 && v < vertexCount(m)) &&
  Array.from({ length: loopCount(m) }, (_, l) => m.loopStart[l + 1]! - m.loopStart[l]!).every((n) => n > 2);

/** Euler's number from vertices, edges, faces and inner boundaries. */
const euler = (m: PolyMesh): number =>
  new Set(m.corners).size - topologyOf(m).edgeCount + faceCount(m) - (loopCount(m) - faceCount(m));

/** The furthest that places of one surface are from the other: less than the drift, and near it where it is large. */
function sampled(from: PolyMesh, to: PolyMesh, random: () => number): number {
  const index = new SpatialIndex(to);
  const { triangles } = triangulateMesh(from);
  let far = 0;
  const at = (c: number, k: number) => from.positions[3 * from.corners[c]! + k]!;
  for (const v of new Set(from.corners)) far = Math.max(far, index.closest(vertexPlace(from, v))!.distance);
  for (let i = 0; i < SAMPLES; i++) {
    const t = 3 * Math.floor((random() * triangles.length) / 3);
    const [r, s] = [Math.sqrt(random()), random()];
    const w = [1 - r, r * (1 - s), r * s];
    const p = [0, 1, 2].map((k) => w.reduce((sum, x, j) => sum + x * at(triangles[t + j]!, k), 0)) as unknown as Vec3;
    far = Math.max(far, index.closest(p)!.distance);
  }
  return far;
}

/**
 * Runs one stroke on so many random meshes with random picks and settings, and looks at what came out. Each run is
 * named by its number and the seed.
 */
export function strokeTrials(kind: StrokeName, runs: number, seed: number): StrokeTrials {
  const wrong: string[] = [];
  let done = 0;
  const k = STROKE_KINDS[kind] as unknown as StrokeKind<StrokeName>;
  const { trial } = k;
  for (let run = 0; run < runs; run++) {
    const random = seededRandom(seed + 7919 * run);
    const bare = randomMesh(random, trial.sheets ?? false);
    const m = trial.given?.(bare, random) ?? bare;
    const dice = diceOf(sizeOf(m), random);
    const on = k.on[Math.floor(random() * k.on.length)]!;
    const ids = trial.picks?.(m, dice, on) ?? someOf(m, on, k.least, random);
    const settings = trial.settings?.(dice) ?? randomSettings(kind, dice);
    const params = STROKES[kind].settings.parse({ ...settings, pick: pickOf(m, on, ids) }) as never;
    const tell = (what: string) => wrong.push(`run ${run}: ${what}`);
    let out: OpResult<StrokeReport>;
    try {
      out = k.run(undefined, m, params, { store: () => undefined, course: 9, guide: ballAround });
    } catch (e) {
      if (!(e instanceof MasonError)) tell(`it stopped on ${String(e)}`);
      else if (e.message.length < 20) tell(`it says only “${e.message}”`);
      continue;
    }
    done++;
    const { mesh, report } = out;
    if (!sound(mesh)) tell('a corner or a place is none');
    for (const { layer, what } of layerFaults(mesh)) tell(`${layer}: ${what}`);
    if (m.layers.normal && !mesh.layers.normal && !trial.relit) tell('normals went');
    if (m.layers.uv && !mesh.layers.uv && !trial.dropsUvs) tell('texture coordinates went');
    if (mesh.slots.join() !== 'Steel' || !mesh.layers.slot || !mesh.layers.source) tell('layers went');
    const [was, is] = [areaAndVolume(m), areaAndVolume(mesh)];
    if (trial.keeps === 'surface') {
      if (
        Math.abs(is.area - was.area) > 1e-9 * was.area ||
        Math.abs(is.volume - was.volume) > 1e-9 * (Math.abs(was.volume) + was.area)
      )
        tell(`area or volume changed: ${was.area} ${is.area}`);
      if (report.surfaceDrift!.distance !== 0) tell(`it drifts by ${report.surfaceDrift!.distance}`);
    }
    const keepsForm = trial.keeps !== undefined;
    if (keepsForm && isClosed(m) && euler(mesh) !== euler(m))
      tell(`Euler’s number was ${euler(m)} and is ${euler(mesh)}`);
    if (isClosed(m) && !isClosed(mesh) && !report.warnings!.length && !trial.opens)
      tell('a closed part came open untold');
    if (isClosed(m) && isClosed(mesh) && keepsForm && pinchedVertices(mesh).length) tell('faces meet at a point');
    // The drift against a measurement of its own.
    const far = Math.max(sampled(m, mesh, random), sampled(mesh, m, random));
    if (!report.surfaceDrift) continue;
    const { distance, atLeast } = report.surfaceDrift;
    if (far > distance * (1 + 2e-4) + 2e-6 * sizeOf(m) && !atLeast)
      tell(`places are ${far} off, and the drift is ${distance}`);
  }
  return { kind, runs, done, wrong };
}
