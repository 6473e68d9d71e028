import { faceNormals, MasonError, sizeOf, vertexPlace, type PolyMesh, type Vec3 } from '../../mesh/index.ts';
import * as mends from '../../mend/index.ts';
import { strokeKind } from './strokeKinds.ts';

/** Where a loop or a split lies, as its settings say. */
const splitAt = (p: {
  by: 'share' | 'distance' | 'parts';
  share: number;
  distance: number;
  parts: number;
}): mends.SplitAt =>
  p.by === 'share'
    ? { by: 'share', share: p.share }
    : p.by === 'distance'
      ? { by: 'distance', distance: p.distance }
      : { by: 'parts', parts: p.parts };

/** Strokes that close, bridge and split. */
export const SPLITTING_KINDS = {
  fill: strokeKind('fill', {
    op(m, ids, p, _on, env) {
      const { mesh, filled, faces: made } = mends.fill(m, ids, p, env.course);
      return { mesh, did: { filled, faces: made } };
    },
  }),
  bridge: strokeKind('bridge', {
    op(m, ids, p, on, env) {
      const opened = on === 'face' ? mends.openedAt(m, new Set(ids)) : { mesh: m, edges: [...ids] };
      const { mesh, faces: made } = mends.bridge(opened.mesh, opened.edges, p, env.course);
      return { mesh, did: { faces: made } };
    },
  }),
  connect: strokeKind('connect', {
    op(m, ids) {
      // From each to the next: numbers change on the way, so places lead.
      const at = ids.map((v) => vertexPlace(m, v));
      let mesh = m;
      let added = 0;
      for (let i = 0; i + 1 < at.length; i++) {
        const r = mends.connect(mesh, vertexAt(mesh, at[i]!), vertexAt(mesh, at[i + 1]!), faceNormals(mesh));
        mesh = r.mesh;
        added += r.added;
      }
      return { mesh, did: { edges: at.length - 1, added } };
    },
  }),
  line: strokeKind('line', {
    op(m, _ids, p, _on, _env, _ctx, each) {
      const stops = p.stops.flatMap(([i, share]) => {
        const edge = each[i];
        return edge === null || edge === undefined ? [] : [{ edge, share }];
      });
      if (stops.length < 2)
        throw new MasonError('bad-input', 'Fewer than two stops of the line were found. Draw it again.');
      const heed =
        stops.length < p.stops.length
          ? [`${p.stops.length - stops.length} stops were not found: the line skips them.`]
          : [];
      const { mesh, added, cut } = p.through
        ? { ...mends.lineThrough(m, stops, sizeOf(m)), added: 0 }
        : mends.cutLine(m, stops);
      return { mesh, did: { added, cut }, heed };
    },
  }),
  split: strokeKind('split', {
    op(m, ids, p, on) {
      const edges = on === 'edge' ? ids : edgesOfFaces(m, ids);
      const { mesh, added } = mends.splitEdges(m, edges, splitAt(p));
      return { mesh, did: { added } };
    },
  }),
  loop: strokeKind('loop', {
    op(m, ids, p) {
      const { mesh, cut } = mends.insertLoops(m, ids, splitAt(p), p);
      return { mesh, did: { cut } };
    },
  }),
  divide: strokeKind('divide', {
    op(m, ids, p) {
      const { mesh, divided } = mends.divideFaces(m, ids, p.n);
      return { mesh, did: { divided } };
    },
  }),
} as const;

/** The vertex at a place that one was at before. */
function vertexAt(m: PolyMesh, p: Vec3): number {
  let [best, least] = [0, Infinity];
  for (let v = 0; v < m.positions.length / 3; v++) {
    const d = Math.hypot(...vertexPlace(m, v).map((x, k) => x - p[k]!));
    if (d < least) [best, least] = [v, d];
  }
  return best;
}

function edgesOfFaces(m: PolyMesh, list: readonly number[]): number[] {
  const out = new Set<number>();
  for (const f of list)
    for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++) out.add(mends.edgeAt(m, c));
  return [...out];
}
