import { topologyOf, type OpContext, type PolyMesh } from '../../mesh/index.ts';
import * as dress from '../../dress/index.ts';
import { type BodySizes, countWords, resolvePick } from '../base/picks.ts';
import type { CourseEnv } from './env.ts';
import { atVertex, besideEdges, type Grip } from './grips.ts';
import type { StrokeParams } from '../settings/strokes.ts';
import { type StrokeResult, strokeKind } from './strokeKinds.ts';
import { everything, seamOrFace } from './trial.ts';

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
  // While a width is dragged the plain bevel is shown: bands are laid when it is let go.
  const over = p.over && env.moving === undefined;
  const make = (width: number) => dress.bevel(m, { edges, ...wish, width, over }, ctx);
  const { memory } = env;
  // A ball on bent surfaces does not go straight as it grows.
  if (env.moving === undefined || !memory || guide) return madeOf(make(wish.width), 'narrower');
  memory.plan ??= new dress.BevelPlan();
  const { width, widths, ...others } = wish;
  return madeOf(memory.plan.at(width, m, JSON.stringify([edges, [...widths!], others]), make), 'narrower');
}

function madeOf({ mesh, report }: { mesh: PolyMesh; report: dress.BevelReport }, word: string): StrokeResult {
  const { edges, strips, corners, narrowed, least, met, places, bands } = report;
  return {
    mesh,
    counts: { edges, strips, corners, narrowed, least, ...(met && { met }), ...(bands && { bands }) },
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

/** Of a bevel: its width, over the face beside the longest of its edges. */
function widthGrips(m: PolyMesh, edges: readonly number[], { measure }: BevelParams): Grip[] {
  if (measure === 'share') return [];
  const { edgeCorner } = topologyOf(m);
  return besideEdges(
    m,
    edges.map((e) => edgeCorner[e]!),
    'width',
    (turn) => dress.alongFaces(1, turn, measure, 1),
  );
}

/** Of lines and marks beside picked edges: how far they lie from the longest. */
const besidePicked = (m: PolyMesh, ids: readonly number[], on: 'vertex' | 'edge' | 'face', key: string): Grip[] => {
  const { edgeCorner } = topologyOf(m);
  return besideEdges(
    m,
    edgesOf(m, ids, on).map((e) => edgeCorner[e]!),
    key,
  );
};

/** Strokes that dress edges. */
export const EDGE_KINDS = {
  finish: strokeKind('finish', {
    trial: {
      settings: ({ one, some }) => ({
        angle: one(20, 30, 60),
        width: some / 4,
        share: one(5, 20, 60),
        segments: one(1, 2, 3),
        measure: one('offset', 'radius', 'depth', 'share'),
        past: one('narrow', 'meet'),
        profile: one('round', 'drawn', 'full'),
        inner: one('round', 'mitre'),
      }),
      picks: everything,
      keeps: 'form',
    },
    op: (m, ids, p, _on, env, ctx) => bevelled(m, finishEdges(m, ids, p.angle), p, 0, env, ctx),
    grips: (m, ids, p) => widthGrips(m, finishEdges(m, ids, p.angle), p),
  }),
  bevel: strokeKind('bevel', {
    trial: {
      settings: ({ one, some }) => ({
        width: some / 4,
        segments: one(1, 2, 3),
        past: one('narrow', 'meet', 'clamp'),
        taper: one(0, some),
        inner: one('round', 'mitre'),
      }),
      keeps: 'form',
    },
    op: (m, ids, p, on, env, ctx) => bevelled(m, edgesOf(m, ids, on), p, p.taper, env, ctx),
    grips: (m, ids, p, on) => widthGrips(m, edgesOf(m, ids, on), p),
  }),
  cutOff: strokeKind('cutOff', {
    trial: {
      settings: ({ some }) => ({ width: some }),
      keeps: 'form',
      relit: true,
    },
    op(m, ids, p) {
      const {
        mesh,
        report: { narrowed },
      } = dress.bevelVertices(m, { vertices: ids, width: p.width });
      return { mesh, counts: { cut: ids.length, narrowed } };
    },
    grips: (m, ids) => atVertex(m, ids[0]!, 'width'),
  }),
  ownWidth: strokeKind('ownWidth', {
    op(m, ids, p, on) {
      const edges = edgesOf(m, ids, on);
      return {
        mesh: dress.markEdges(m, { edges, layer: 'bevelWidth', value: p.width }).mesh,
        counts: { edges: edges.length },
      };
    },
    grips: (m, ids, _p, on) => besidePicked(m, ids, on, 'width'),
  }),
  hold: strokeKind('hold', {
    trial: {
      settings: ({ some }) => ({ distance: some / 4 }),
      keeps: 'surface',
    },
    op: (m, ids, p, on, _env, ctx) =>
      madeOf(dress.holdEdges(m, { edges: edgesOf(m, ids, on), distance: p.distance }, ctx), 'nearer'),
    grips: (m, ids, _p, on) => besidePicked(m, ids, on, 'distance'),
  }),
  holdRims: strokeKind('holdRims', {
    trial: {
      settings: ({ one, some }) => ({
        distance: some / 4,
        sharp: one(true, false),
        others: one(true, false),
        by: one('few', 'limit'),
      }),
      picks: (m, { random }) => (random() < 0.5 ? seamOrFace(m, random) : null),
      keeps: 'form',
    },
    op(m, ids, { distance, sharp, others, by }, _on, env, ctx) {
      const wish = { edges: ids, distance, sharp, others, by, guide: env.guide, memory: env.memory?.layouts };
      const { mesh, report: r } = dress.holdRims(m, wish, ctx);
      const warnings = [
        ...(r.none.length
          ? [
              `${r.none.length} side${r.none.length === 1 ? ' of a rim has' : 's of rims have'} no ring: there is no room for one at this distance. Type a smaller distance.`,
            ]
          : []),
        ...(r.left
          ? [
              `${countWords('edge', r.left)} of the pick ${r.left === 1 ? 'is' : 'are'} part of no closed rim, and left out.`,
            ]
          : []),
      ];
      return {
        mesh,
        counts: {
          rims: r.rims,
          rings: r.rings,
          none: r.none.length,
          least: r.least,
          gathered: r.gathered,
          quads: r.quads,
          moved: r.moved,
        },
        warnings,
        places: { none: r.none },
      };
    },
    grips: (m, ids, _p, on) => besidePicked(m, ids, on, 'distance'),
  }),
  hard: strokeKind('hard', {
    trial: {
      settings: ({ one }) => ({ to: one('hard', 'soft'), weight: one('angle', 'area', 'largest') }),
      relit: true,
    },
    op(m, ids, p, on) {
      const edges = edgesOf(m, ids, on);
      return { mesh: dress.setHard(m, { edges, to: p.to, weight: p.weight }).mesh, counts: { edges: edges.length } };
    },
  }),
  crease: strokeKind('crease', {
    trial: {
      settings: ({ one }) => ({ sharpness: one(0, 1, 2.5, 10) }),
    },
    op(m, ids, p, on) {
      const edges = edgesOf(m, ids, on);
      return {
        mesh: dress.markEdges(m, { edges, layer: 'crease', value: p.sharpness }).mesh,
        counts: { edges: edges.length },
      };
    },
  }),
} as const;

/** The edges and the shape of a bevel that a course makes on the mesh below it; null where it bevels nothing there. */
function bevelOf(course: { kind: string; params: unknown }, below: PolyMesh, bodies: BodySizes) {
  if (course.kind !== 'bevel' && course.kind !== 'finish') return null;
  const p = course.params as StrokeParams<'finish'> | StrokeParams<'bevel'>;
  const { ids } = resolvePick(below, p.pick, bodies);
  const edges = 'angle' in p ? finishEdges(below, [...ids], p.angle) : edgesOf(below, [...ids], p.pick.on);
  return edges.length ? { edges, shape: shapeOf(below, p) } : null;
}

/**
 * How wide the bevel of a course can get on the mesh below it, chain by chain (mm, as the course measures). Null where
 * the course bevels nothing there. `only`: the least alone is quicker. Edges with widths of their own grow in the same
 * proportion.
 */
export function headroomOf(
  course: { kind: string; params: unknown },
  below: PolyMesh,
  bodies: BodySizes,
  only: 'least' | 'all',
  ctx?: OpContext,
): dress.ChainHeadroom[] | null {
  const b = bevelOf(course, below, bodies);
  return b && dress.bevelHeadroom(below, b.edges, b.shape, ctx, only);
}

/** The same, with the widths at which 99 and 95 % of each chain's length have room. */
export function lengthRoomsOf(
  course: { kind: string; params: unknown },
  below: PolyMesh,
  bodies: BodySizes,
  ctx?: OpContext,
): dress.ChainRoom[] | null {
  const b = bevelOf(course, below, bodies);
  return b && dress.bevelLengthRooms(below, b.edges, b.shape, ctx);
}
