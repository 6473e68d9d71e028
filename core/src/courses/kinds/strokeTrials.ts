import { carve } from '../../carve/index.ts';
import {
  areaAndVolume,
  bounds,
  cornerCount,
  faceBegin,
  faceCount,
  faceEnd,
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
import { damaged, DAMAGES, elementsOf, grabAt, tie, type ElementKind } from '../../mend/index.ts';
import type { GuideSurface } from '../../dress/index.ts';
import { box, cylinder, seededRandom, sheet } from '../../shapes/index.ts';
import { type FieldMeta, fieldsOf } from '../base/fields.ts';
import { pickOf } from '../base/picks.ts';
import type { CourseKind, StrokeReport } from './courseKind.ts';
import { type StrokeName, STROKES } from '../settings/strokes.ts';
import { STROKE_KINDS } from './strokeList.ts';

/** What many random runs of one mend came to. */
export interface StrokeTrials {
  kind: StrokeName;
  runs: number;
  /** How many were done; the others were refused with a sentence. */
  done: number;
  /** Sentences that say what went wrong, with the run's number; none where all is well. */
  wrong: string[];
}

/** Mends that only part the surface: no area and no volume may change. */
const PARTS_ONLY: readonly StrokeName[] = [
  'connect',
  'split',
  'loop',
  'divide',
  'tie',
  'moveTie',
  'line',
  'quads',
  'hold',
];
/** Mends that shape the whole surface anew: its light is that of its faces again. */
const SHAPES_ANEW: readonly StrokeName[] = ['hard', 'cutOff', 'subdivide', 'cage', 'thicken', 'recast'];
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

/** Settings that a mend may be given, at random. */
function randomParams(kind: StrokeName, size: number, random: () => number): Record<string, unknown> {
  const one = <T>(...list: T[]): T => list[Math.floor(random() * list.length)]!;
  const some = size * 0.3 * random() + 1e-3;
  const all: Partial<Record<StrokeName, Record<string, unknown>>> = {
    weld: { distance: some, outline: one(true, false), detail: one(0, some / 2), spare: one(true, false) },
    merge: { where: one('first', 'last', 'middle') },
    toOutline: { distance: 3 * some },
    slide: { share: one(0, 0.25, 1) },
    fill: { way: one('face', 'fan', 'ears', 'grid') },
    bridge: { segments: one(1, 3), twist: one(-1, 0, 2), bulge: one(0, 1) },
    line: {
      through: one(true, false),
      stops: [
        [0, one(0, 0.3, 0.5)],
        [1, one(0.5, 1)],
      ],
    },
    split: { by: one('share', 'distance', 'parts'), share: random(), distance: some, parts: one(2, 5) },
    loop: {
      by: one('share', 'distance', 'parts'),
      share: 0.1 + 0.8 * random(),
      distance: some,
      parts: one(2, 4),
      flipped: one(true, false),
      both: one(true, false),
    },
    divide: { n: one(2, 3) },
    inset: { most: one(true, false), distance: some / 4, group: one(true, false), depth: one(0, some / 8) },
    extrude: {
      distance: one(-1, 1) * some,
      along: one('normal', 'x', 'z'),
      group: one(true, false),
      back: one(true, false),
    },
    move: {
      by: [some / 8, -some / 8, some / 9],
      normal: one(0, some / 9),
      edge: one(0, some / 9),
      turn: [one(0, 5), 0, 0],
      soft: one(0, some),
    },
    shapeRun: { into: one('round', 'even', 'flat', 'straight'), along: one('own', 'x'), even: one(true, false) },
    align: { to: one('axis', 'plane', 'line'), axis: one('x', 'y', 'z') },
    tie: { way: one('short', 'corners', 'bevel', 'light') },
    plane: {
      axis: one('x', 'y', 'z'),
      by: 'share',
      share: 0.05 + 0.9 * random(),
      keep: one('both', 'above', 'below'),
      cap: one(true, false),
    },
    mirror: { axis: one('x', 'y', 'z'), at: 20 * random(), keep: one('above', 'below'), second: one('none', 'x') },
    symmetric: { axis: one('x', 'y', 'z'), within: some },
    quads: { goal: one('shape', 'fewest', 'subdivision'), split: one(true, false), pairs: one(0, 20) },
    collar: {
      width: some / 4,
      rows: one(1, 3),
      aim: one('square', 'own', 'across'),
      shift: one(0, some / 8, -some / 8),
    },
    tidy: { tolerance: one(some, 3 * some) },
    heal: { as: one('seen', 'sheet', 'body'), tolerance: one(0, some / 20) },
    recast: { cells: one(8, 14, 20) },
    orient: { way: one('flip', 'consistent', 'outward') },
    finish: {
      angle: one(20, 30, 60),
      width: some / 4,
      share: one(5, 20, 60),
      segments: one(1, 2, 3),
      measure: one('offset', 'radius', 'depth', 'share'),
      past: one('narrow', 'meet'),
      profile: one('round', 'drawn', 'full'),
      inner: one('round', 'mitre'),
    },
    bevel: {
      width: some / 4,
      segments: one(1, 2, 3),
      past: one('narrow', 'meet', 'clamp'),
      taper: one(0, some),
      inner: one('round', 'mitre'),
    },
    hold: { distance: some / 4 },
    hard: { to: one('hard', 'soft'), weight: one('angle', 'area', 'largest') },
    crease: { sharpness: one(0, 1, 2.5, 10) },
    subdivide: {
      levels: one(1, 2),
      limit: one(true, false),
      corners: one(true, false),
      uvs: one('smooth', 'straight'),
    },
    cutOff: { width: some },
    relight: { fade: one(0, some) },
    reseat: { most: 10 * some },
    thicken: { thickness: some / 8, side: one('inside', 'outside', 'both') },
    gathered: { edits: [{ kind: 'split', name: 'Split', params: { by: 'parts', pick: { by: 'all', on: 'edge' } } }] },
  };
  return all[kind] ?? randomSettings(kind, some, one, random);
}

/** Settings of a stroke by its declaration alone: each choice, flag and number at random, lengths about so long. */
function randomSettings(
  kind: StrokeName,
  long: number,
  one: <T>(...list: T[]) => T,
  random: () => number,
): Record<string, unknown> {
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

/** A mesh with damage of some kinds, its layers with it. */
function hurt(m: PolyMesh, random: () => number): PolyMesh {
  const whole = Array.from({ length: faceCount(m) }, (_, f) => m.faceLoops[f + 1]! - m.faceLoops[f]! === 1).every(
    Boolean,
  );
  if (!whole) return m;
  const made = damaged(
    m,
    DAMAGES.filter(() => random() < 0.2),
    random,
    sizeOf(m),
  );
  if (!faceCount(made)) return m;
  const sourced = withSource(made, 1, 1);
  return { ...withSlot(sourced, 'Steel'), layers: { ...sourced.layers, slot: new Int32Array(faceCount(sourced)) } };
}

/** What a mend is given to work on, at random; of mends whose picks hang together by chance seldom, such ones. */
function randomPick(kind: StrokeName, m: PolyMesh, on: ElementKind, least: number, random: () => number): number[] {
  const t = topologyOf(m);
  const edge = t.edgeCorner[Math.floor(random() * t.edgeCount)]!;
  const ends = [m.corners[edge]!, m.corners[t.next[edge]!]!];
  if (kind === 'slide') return ends;
  if (kind === 'moveTie') {
    const grab = grabAt(m, 'tie', Math.floor(random() * faceCount(m)), [100 * random(), 0, 0]);
    if (grab?.ways.length)
      return [grab.fixed!.vertex, grab.vertex, grab.ways[Math.floor(random() * grab.ways.length)]!.vertex];
  }
  const all = elementsOf(m, on);
  // A cut's own outline, where there is one, or the edges of a face.
  if (kind === 'collar' && random() < 0.8) {
    const seam = all.filter((c) => m.layers.seam?.[c]);
    const f = Math.floor(random() * faceCount(m));
    return seam.length
      ? seam
      : [
          ...new Set(
            Array.from(
              { length: faceEnd(m, f) - faceBegin(m, f) },
              (_, i) => t.edgeCorner[t.edge[faceBegin(m, f) + i]!]!,
            ),
          ),
        ];
  }
  if (kind === 'subdivide' || kind === 'thicken' || kind === 'finish') return all;
  if ((kind === 'quads' || kind === 'tidy') && random() < 0.7) return all;
  const count = Math.max(least, 1 + Math.floor(random() ** 2 * Math.min(8, all.length)));
  return [...new Set(Array.from({ length: count }, () => all[Math.floor(random() * all.length)]!))];
}

/** Whether every corner of a mesh points to a vertex, and no outline is too short to be one. */
const sound = (m: PolyMesh): boolean =>
  m.corners.every((v) => v >= 0 && v < vertexCount(m)) &&
  Array.from({ length: loopCount(m) }, (_, l) => m.loopStart[l + 1]! - m.loopStart[l]!).every((n) => n > 2);

/** Euler's number told from vertices, edges, faces and inner outlines. */
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

/** Runs one mend on so many random meshes with random picks and settings, and looks at what came out. Each run is told by its number and the seed. */
export function strokeTrials(kind: StrokeName, runs: number, seed: number): StrokeTrials {
  const wrong: string[] = [];
  let done = 0;
  const k = STROKE_KINDS[kind] as unknown as CourseKind<unknown> & { on: readonly ElementKind[]; least: number };
  for (let run = 0; run < runs; run++) {
    const random = seededRandom(seed + 7919 * run);
    const bare = randomMesh(random, kind === 'thicken');
    const m =
      kind === 'moveTie'
        ? tie(bare, { faces: elementsOf(bare, 'face'), way: 'short' }).mesh
        : kind === 'heal'
          ? hurt(bare, random)
          : bare;
    const on = k.on[Math.floor(random() * k.on.length)]!;
    const ids = randomPick(kind, m, on, k.least, random);
    const params = STROKES[kind].settings.parse({ ...randomParams(kind, sizeOf(m), random), pick: pickOf(m, on, ids) });
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
    if (m.layers.normal && !mesh.layers.normal && !SHAPES_ANEW.includes(kind)) tell('normals went');
    if (m.layers.uv && !mesh.layers.uv && kind !== 'recast') tell('texture coordinates went');
    if (mesh.slots.join() !== 'Steel' || !mesh.layers.slot || !mesh.layers.source) tell('layers went');
    const [was, is] = [areaAndVolume(m), areaAndVolume(mesh)];
    if (PARTS_ONLY.includes(kind)) {
      if (
        Math.abs(is.area - was.area) > 1e-9 * was.area ||
        Math.abs(is.volume - was.volume) > 1e-9 * (Math.abs(was.volume) + was.area)
      )
        tell(`area or volume changed: ${was.area} ${is.area}`);
      if (report.surfaceDrift!.distance !== 0) tell(`it drifts by ${report.surfaceDrift!.distance}`);
    }
    const keepsForm = PARTS_ONLY.includes(kind) || ['collar', 'bevel', 'finish', 'subdivide', 'cutOff'].includes(kind);
    if (keepsForm && isClosed(m) && euler(mesh) !== euler(m))
      tell(`Euler’s number was ${euler(m)} and is ${euler(mesh)}`);
    if (
      isClosed(m) &&
      !isClosed(mesh) &&
      !report.warnings!.length &&
      !['remove', 'detach', 'plane', 'orient', 'gathered', 'heal'].includes(kind)
    )
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
