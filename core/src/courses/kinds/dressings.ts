import { MasonError, topologyOf, type OpContext, type PolyMesh } from '../../mesh/index.ts';
import * as dress from '../../dress/index.ts';
import { type BodySizes, resolvePick } from '../base/picks.ts';
import type { CourseEnv } from './env.ts';
import type { StrokeParams } from '../settings/strokes.ts';
import { type StrokeResult, strokeKind, verticesOf } from './strokeKinds.ts';

type BevelParams = Omit<StrokeParams<'bevel'>, 'pick' | 'taper'>;

const PROFILES = { hollow: -1, straight: 0, round: 1, full: 2 } as const;

/** The shape of a bevel as its settings say; edges may carry widths of their own. */
function shapeOf(m: PolyMesh, p: BevelParams): dress.BevelShape {
  const own = p.own ? m.layers.bevelWidth : undefined;
  const t = topologyOf(m);
  const widths = new Map<number, number>();
  own?.forEach((w, c) => w > 0 && widths.set(t.edge[c]!, w));
  const drawn = p.drawn.map(([along, out]) => [along / 100, out / 100] as const);
  const profile = p.profile === 'drawn' ? drawn : p.profile === 'own' ? p.bulge / 100 : PROFILES[p.profile];
  return {
    width: p.measure === 'share' ? p.share / 100 : p.width,
    measure: p.measure,
    widths,
    segments: p.segments,
    profile,
    mitre: p.inner === 'mitre',
  };
}

function bevelled(
  m: PolyMesh,
  edges: readonly number[],
  p: BevelParams,
  taper: number,
  env: CourseEnv,
  ctx: OpContext | undefined,
): StrokeResult {
  const guide = p.measure === 'radius' && p.rolls ? env.guide?.(m) : undefined;
  const wish = { ...shapeOf(m, p), guide, past: p.past, taper, course: env.course, ...(p.strips && { slot: p.slot }) };
  const make = (width: number) => dress.bevel(m, { edges, ...wish, width }, ctx);
  const { memory } = env;
  // A ball on bent surfaces does not go straight as it grows.
  if (env.moving === undefined || !memory || guide) return madeOf(make(wish.width), 'narrower');
  memory.plan ??= new dress.BevelPlan();
  const { width, widths, ...others } = wish;
  return madeOf(memory.plan.at(width, m, JSON.stringify([edges, [...widths!], others]), make), 'narrower');
}

function madeOf({ mesh, report }: { mesh: PolyMesh; report: dress.BevelReport }, word: string): StrokeResult {
  const { edges, strips, corners, narrowed, least, met, places } = report;
  return {
    mesh,
    counts: { edges, strips, corners, narrowed, least, ...(met && { met }) },
    ...(narrowed && {
      warnings: [
        `There is no room for all of it: ${word} at ${narrowed} ${narrowed === 1 ? 'vertex' : 'vertices'}, down to ${(100 * least).toFixed(0)} %.`,
      ],
      places: { narrowed: places },
    }),
  };
}

/** Numbers of edges, of corners that leave along them or of whole faces. */
function edgesOf(m: PolyMesh, ids: readonly number[], on: 'vertex' | 'edge' | 'face'): number[] {
  const t = topologyOf(m);
  if (on === 'edge') return ids.map((c) => t.edge[c]!);
  const out = new Set<number>();
  for (const f of ids)
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) out.add(t.edge[c]!);
  return [...out];
}

/** Edges that a finish works on: of those picked the sharper ones. */
function finishEdges(m: PolyMesh, ids: readonly number[], angle: number): number[] {
  const picked = new Set(edgesOf(m, ids, 'edge'));
  return dress.sharpEdges(m, angle).filter((e) => picked.has(e));
}

/** Of subdivisions into more faces it is not measured how round and how far off they are. */
const MOST_MEASURED = 200_000;

export const DRESSING_KINDS = {
  finish: strokeKind('finish', {
    op: (m, ids, p, _on, env, ctx) => bevelled(m, finishEdges(m, ids, p.angle), p, 0, env, ctx),
  }),
  bevel: strokeKind('bevel', {
    op: (m, ids, p, on, env, ctx) => bevelled(m, edgesOf(m, ids, on), p, p.taper, env, ctx),
  }),
  cutOff: strokeKind('cutOff', {
    op(m, ids, p) {
      const {
        mesh,
        report: { narrowed },
      } = dress.bevelVertices(m, { vertices: ids, width: p.width });
      return { mesh, counts: { cut: ids.length, narrowed } };
    },
  }),
  ownWidth: strokeKind('ownWidth', {
    op(m, ids, p, on) {
      const edges = edgesOf(m, ids, on);
      return {
        mesh: dress.markEdges(m, { edges, layer: 'bevelWidth', value: p.width }).mesh,
        counts: { edges: edges.length },
      };
    },
  }),
  hold: strokeKind('hold', {
    op: (m, ids, p, on, _env, ctx) =>
      madeOf(dress.holdEdges(m, { edges: edgesOf(m, ids, on), distance: p.distance }, ctx), 'nearer'),
  }),
  hard: strokeKind('hard', {
    op(m, ids, p, on) {
      const edges = edgesOf(m, ids, on);
      return { mesh: dress.setHard(m, { edges, to: p.to, weight: p.weight }).mesh, counts: { edges: edges.length } };
    },
  }),
  crease: strokeKind('crease', {
    op(m, ids, p, on) {
      const edges = edgesOf(m, ids, on);
      return {
        mesh: dress.markEdges(m, { edges, layer: 'crease', value: p.sharpness }).mesh,
        counts: { edges: edges.length },
      };
    },
  }),
  subdivide: strokeKind('subdivide', {
    op(m, ids, p, _on, env) {
      if (ids.length !== m.faceLoops.length - 1)
        throw new MasonError('bad-input', 'It subdivides the whole part. Let it work on all faces.');
      const holed = m.loopStart.length - m.faceLoops.length;
      if (holed)
        throw new MasonError(
          'bad-input',
          `Faces have ${holed} hole${holed === 1 ? '' : 's'} in them, and the surface would fold over there. Lay them out in quads first (To quads).`,
        );
      const { mesh } = dress.subdivide(m, { levels: p.levels, limit: p.limit, corners: p.corners, uvs: p.uvs });
      const faces = mesh.faceLoops.length - 1;
      const figures = faces <= MOST_MEASURED ? dress.subdivisionFigures(m, mesh, env.guide) : null;
      const counts: Record<string, number> = { faces };
      if (figures?.rims)
        Object.assign(counts, {
          rims: figures.rims,
          outBefore: figures.outBefore,
          outAfter: figures.outAfter,
          radius: figures.radius,
        });
      if (figures?.offAfter != null)
        Object.assign(counts, { offBefore: figures.offBefore, offAfter: figures.offAfter });
      return { mesh, counts, ...(figures?.at && { places: { outAfter: [figures.at] } }) };
    },
  }),
  relight: strokeKind('relight', {
    op(m, ids, p, _on, env) {
      const wanted = new Set(ids);
      const {
        mesh,
        report: { corners, most },
      } = dress.relight(m, { guide: guideIn(m, env, p.surface, wanted), wanted: (f) => wanted.has(f), fade: p.fade });
      if (!corners)
        throw new MasonError(
          'bad-input',
          'All these faces are lit as their surface already, or come from no body that is known. Pick faces round a cut in a bent surface.',
        );
      return { mesh, counts: { faces: wanted.size, corners, most } };
    },
  }),
  reseat: strokeKind('reseat', {
    op(m, ids, p, _on, env) {
      const wanted = new Set(ids);
      const {
        mesh,
        report: { moved, furthest, spared },
      } = dress.reseat(m, { guide: guideIn(m, env, p.surface, wanted), wanted: (f) => wanted.has(f), most: p.most });
      return {
        mesh,
        counts: { moved, furthest },
        warnings: spared
          ? [`${spared} ${spared === 1 ? 'vertex is' : 'vertices are'} further from the surface than that and stayed.`]
          : [],
      };
    },
  }),
  cage: strokeKind('cage', {
    op(m, ids, p, on) {
      const wish = {
        divisions: [p.x, p.y, p.z],
        moves: p.moves,
        smooth: p.smooth,
        flats: p.flats,
        taper: { axis: 'xyz'.indexOf(p.axis) as 0 | 1 | 2, ratio: p.ratio },
      } as const;
      const {
        mesh,
        report: { moved, furthest, lines, rest },
      } = dress.bendByCage(m, { vertices: verticesOf(m, on, ids), ...wish });
      return { mesh, counts: { moved, furthest }, lines, places: { cage: rest } };
    },
  }),
  thicken: strokeKind('thicken', {
    op(m, ids, p) {
      if (ids.length !== m.faceLoops.length - 1)
        throw new MasonError('bad-input', 'It thickens the whole part. Let it work on all faces.');
      const {
        mesh,
        report: { rim },
      } = dress.thicken(m, p);
      return { mesh, counts: { rim } };
    },
  }),
} as const;

/** The guide surface of the part that a mesh is a state of, or the one that is fitted to some of its faces. */
function guideIn(
  m: PolyMesh,
  env: CourseEnv,
  surface: 'own' | 'fitted',
  wanted: ReadonlySet<number>,
): dress.GuideSurface {
  if (surface === 'fitted') return dress.fittedGuide(m, (f) => wanted.has(f));
  if (!env.guide) throw new MasonError('bad-input', 'There is no undisturbed surface known here.');
  return env.guide(m);
}

/**
 * How wide the bevel of a course can get on the mesh below it, chain by chain (mm, as the course measures). Null where the course bevels nothing there. `only`: the least alone is quicker.
 * Edges with widths of their own grow in the same proportion.
 */
export function headroomOf(
  course: { kind: string; params: unknown },
  below: PolyMesh,
  bodies: BodySizes,
  only: 'least' | 'all',
  ctx?: OpContext,
): dress.ChainHeadroom[] | null {
  if (course.kind !== 'bevel' && course.kind !== 'finish') return null;
  const p = course.params as StrokeParams<'finish'> | StrokeParams<'bevel'>;
  const { ids } = resolvePick(below, p.pick, bodies);
  const edges = 'angle' in p ? finishEdges(below, [...ids], p.angle) : edgesOf(below, [...ids], p.pick.on);
  return edges.length ? dress.bevelHeadroom(below, edges, shapeOf(below, p), ctx, only) : null;
}
