import { MasonError, topologyOf, type OpContext, type PolyMesh } from '../mesh/index.ts';
import * as dress from '../dress/index.ts';
import type { CourseEnv } from './cut.ts';
import { resolvePick, type BodySizes } from './picks.ts';
import { mend, verticesOf, type Mended } from './mendKinds.ts';
import type { MendParams } from './mendWords.ts';

type BevelParams = Omit<MendParams<'bevel'>, 'pick' | 'taper'>;

const PROFILES = { hollow: -1, straight: 0, round: 1, full: 2 } as const;

/** The shape of a bevel as its settings say; edges may carry widths of their own. */
function shapeOf(m: PolyMesh, p: BevelParams): dress.BevelShape {
  const own = p.own ? m.layers.bevelWidth : undefined;
  const t = topologyOf(m);
  const widths = new Map<number, number>();
  own?.forEach((w, c) => w > 0 && widths.set(t.edge[c]!, w));
  return { width: p.width, measure: p.measure, widths, segments: p.segments, profile: p.profile === 'own' ? p.bulge / 100 : PROFILES[p.profile] }; // prettier-ignore
}

function bevelled(
  m: PolyMesh,
  edges: readonly number[],
  p: BevelParams,
  taper: number,
  env: CourseEnv,
  ctx: OpContext | undefined,
): Mended {
  const wish = { ...shapeOf(m, p), past: p.past, taper, course: env.course, ...(p.strips && { slot: p.slot }) };
  return madeOf(dress.bevel(m, edges, wish, ctx), 'narrower');
}

function madeOf({ mesh, report }: { mesh: PolyMesh; report: dress.BevelReport }, word: string): Mended {
  const { edges, strips, corners, narrowed, least, places } = report;
  return {
    mesh,
    did: { edges, strips, corners, narrowed, least },
    ...(narrowed && {
      heed: [`There is no room for all of it: ${word} at ${narrowed} ${narrowed === 1 ? 'vertex' : 'vertices'}, down to ${(100 * least).toFixed(0)} %.`],
      places: { narrowed: places },
    }),
  };
} // prettier-ignore

/** Numbers of edges, of corners that leave along them or of whole faces. */
function edgesOf(m: PolyMesh, ids: readonly number[], on: 'vertex' | 'edge' | 'face'): number[] {
  const t = topologyOf(m);
  if (on === 'edge') return ids.map((c) => t.edge[c]!);
  const out = new Set<number>();
  for (const f of ids) for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) out.add(t.edge[c]!); // prettier-ignore
  return [...out];
}

/** Edges that a finish works on: of those picked the sharper ones. */
function finishEdges(m: PolyMesh, ids: readonly number[], angle: number): number[] {
  const picked = new Set(edgesOf(m, ids, 'edge'));
  return dress.sharpEdges(m, angle).filter((e) => picked.has(e));
}

export const DRESS_KINDS = {
  finish: mend('finish', {
    op: (m, ids, p, _on, env, ctx) => bevelled(m, finishEdges(m, ids, p.angle), p, 0, env, ctx),
  }),
  bevel: mend('bevel', {
    op: (m, ids, p, on, env, ctx) => bevelled(m, edgesOf(m, ids, on), p, p.taper, env, ctx),
  }),
  cutOff: mend('cutOff', {
    op(m, ids, p) {
      const { mesh, narrowed } = dress.bevelVertices(m, ids, p.width);
      return { mesh, did: { cut: ids.length, narrowed } };
    },
  }),
  ownWidth: mend('ownWidth', {
    op(m, ids, p, on) {
      const edges = edgesOf(m, ids, on);
      return { mesh: dress.markEdges(m, edges, 'bevelWidth', p.width), did: { edges: edges.length } };
    },
  }),
  hold: mend('hold', {
    op: (m, ids, p, on, _env, ctx) => madeOf(dress.holdEdges(m, edgesOf(m, ids, on), p.distance, ctx), 'nearer'),
  }),
  hard: mend('hard', {
    op(m, ids, p, on) {
      const edges = edgesOf(m, ids, on);
      return { mesh: dress.setHard(m, edges, p.to, p.weight), did: { edges: edges.length } };
    },
  }),
  crease: mend('crease', {
    op(m, ids, p, on) {
      const edges = edgesOf(m, ids, on);
      return { mesh: dress.markEdges(m, edges, 'crease', p.sharpness), did: { edges: edges.length } };
    },
  }),
  subdivide: mend('subdivide', {
    op(m, ids, p) {
      if (ids.length !== m.faceLoops.length - 1) throw new MasonError('bad-input', 'It subdivides the whole part. Let it work on all faces.'); // prettier-ignore
      const holed = m.loopStart.length - m.faceLoops.length;
      if (holed) throw new MasonError('bad-input', `Faces have ${holed} hole${holed === 1 ? '' : 's'} in them, and the surface would fold over there. Lay them out in quads first (To quads).`); // prettier-ignore
      const { mesh } = dress.subdivide(m, p.levels, { limit: p.limit, corners: p.corners, uvs: p.uvs });
      return { mesh, did: { faces: mesh.faceLoops.length - 1 } };
    },
  }),
  relight: mend('relight', {
    op(m, ids, p, _on, env) {
      const wanted = new Set(ids);
      const { mesh, corners, most } = dress.relight(m, guideIn(m, env), (f) => wanted.has(f), p.fade);
      if (!corners) throw new MasonError('bad-input', 'All these faces are lit as their surface already, or come from no body that is known. Pick faces round a cut in a bent surface.');
      return { mesh, did: { faces: wanted.size, corners, most } };
    },
  }),
  reseat: mend('reseat', {
    op(m, ids, p, _on, env) {
      const wanted = new Set(ids);
      const { mesh, moved, furthest, spared } = dress.reseat(m, guideIn(m, env), (f) => wanted.has(f), p.most);
      return { mesh, did: { moved, furthest }, heed: spared ? [`${spared} ${spared === 1 ? 'vertex is' : 'vertices are'} further from the surface than that and stayed.`] : [] };
    },
  }),
  cage: mend('cage', {
    op(m, ids, p, on) {
      const wish = { divisions: [p.x, p.y, p.z], moves: p.moves, smooth: p.smooth, taper: { axis: 'xyz'.indexOf(p.axis) as 0 | 1 | 2, ratio: p.ratio } } as const;
      const { mesh, moved, furthest, lines } = dress.bendByCage(m, verticesOf(m, on, ids), wish);
      return { mesh, did: { moved, furthest }, lines };
    },
  }),
  thicken: mend('thicken', {
    op(m, ids, p) {
      if (ids.length !== m.faceLoops.length - 1) throw new MasonError('bad-input', 'It thickens the whole part. Let it work on all faces.');
      const { mesh, rim } = dress.thicken(m, p);
      return { mesh, did: { rim } };
    },
  }),
} as const; // prettier-ignore

/** The guide surface of the part that a mesh is a state of. */
function guideIn(m: PolyMesh, env: CourseEnv): dress.GuideSurface {
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
  const p = course.params as MendParams<'finish'> | MendParams<'bevel'>;
  const { ids } = resolvePick(below, p.pick, bodies);
  const edges = 'angle' in p ? finishEdges(below, [...ids], p.angle) : edgesOf(below, [...ids], p.pick.on);
  return edges.length ? dress.bevelHeadroom(below, edges, shapeOf(below, p), ctx, only) : null;
}
