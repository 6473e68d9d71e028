import { faceCount, faceNormals, MasonError, sizeOf, vertexPlace, type PolyMesh, type Vec3 } from '../../mesh/index.ts';
import * as mends from '../../mend/index.ts';
import { alongEdges, type Grip } from './grips.ts';
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

/** Of a loop or a split: where on the longest picked edge it lies. */
const splitGrips = (
  m: PolyMesh,
  corners: readonly number[],
  { by }: { by: 'share' | 'distance' | 'parts' },
  back = false,
): Grip[] => (by === 'parts' ? [] : alongEdges(m, corners, by, by === 'share', back));

/** Strokes that close, bridge and split. */
export const SPLITTING_KINDS = {
  fill: strokeKind('fill', {
    trial: {
      settings: ({ one }) => ({ way: one('face', 'fan', 'ears', 'grid') }),
    },
    op(m, ids, p, _on, env) {
      const {
        mesh,
        report: { filled, faces: made },
      } = mends.fill(m, { edges: ids, ...p, course: env.course });
      return { mesh, counts: { filled, faces: made }, made: lastFaces(mesh, made) };
    },
  }),
  bridge: strokeKind('bridge', {
    trial: {
      settings: ({ one }) => ({ segments: one(1, 3), twist: one(-1, 0, 2), bulge: one(0, 1) }),
    },
    op(m, ids, p, on, env) {
      const opened =
        on === 'face' ? mends.openedAt(m, { faces: new Set(ids) }) : { mesh: m, report: { edges: [...ids] } };
      const {
        mesh,
        report: { faces: made },
      } = mends.bridge(opened.mesh, { edges: opened.report.edges, ...p, course: env.course });
      return { mesh, counts: { faces: made }, made: lastFaces(mesh, made) };
    },
  }),
  connect: strokeKind('connect', {
    trial: {
      keeps: 'surface',
    },
    op(m, ids) {
      // From each to the next: numbers change on the way, so places lead.
      const at = ids.map((v) => vertexPlace(m, v));
      let mesh = m;
      let added = 0;
      for (let i = 0; i + 1 < at.length; i++) {
        const r = mends.connect(mesh, {
          from: vertexAt(mesh, at[i]!),
          to: vertexAt(mesh, at[i + 1]!),
          normals: faceNormals(mesh),
        });
        mesh = r.mesh;
        added += r.report.added;
      }
      return { mesh, counts: { edges: at.length - 1, added } };
    },
  }),
  line: strokeKind('line', {
    trial: {
      settings: ({ one }) => ({
        through: one(true, false),
        stops: [
          [0, one(0, 0.3, 0.5)],
          [1, one(0.5, 1)],
        ],
      }),
      keeps: 'surface',
    },
    op(m, _ids, p, _on, _env, _ctx, each) {
      const stops = p.stops.flatMap(([i, share]) => {
        const edge = each[i];
        return edge === null || edge === undefined ? [] : [{ edge, share }];
      });
      if (stops.length < 2)
        throw new MasonError('bad-input', 'Fewer than two stops of the line were found. Draw it again.');
      const warnings =
        stops.length < p.stops.length
          ? [`${p.stops.length - stops.length} stops were not found: the line skips them.`]
          : [];
      const { mesh, report } = p.through
        ? mends.lineThrough(m, { stops, size: sizeOf(m) })
        : mends.cutLine(m, { stops });
      return { mesh, counts: { added: 0, ...report }, warnings };
    },
  }),
  split: strokeKind('split', {
    trial: {
      settings: ({ one, some, random }) => ({
        by: one('share', 'distance', 'parts'),
        share: random(),
        distance: some,
        parts: one(2, 5),
      }),
      keeps: 'surface',
    },
    op(m, ids, p, on) {
      const edges = on === 'edge' ? ids : edgesOfFaces(m, ids);
      const {
        mesh,
        report: { added },
      } = mends.splitEdges(m, { edges, at: splitAt(p) });
      return { mesh, counts: { added } };
    },
    grips: (m, ids, p, on) => splitGrips(m, on === 'edge' ? ids : edgesOfFaces(m, ids), p),
  }),
  loop: strokeKind('loop', {
    trial: {
      settings: ({ one, some, random }) => ({
        by: one('share', 'distance', 'parts'),
        share: 0.1 + 0.8 * random(),
        distance: some,
        parts: one(2, 4),
        flipped: one(true, false),
        both: one(true, false),
      }),
      keeps: 'surface',
    },
    op(m, ids, p) {
      const {
        mesh,
        report: { cut },
      } = mends.insertLoops(m, { edges: ids, at: splitAt(p), ...p });
      return { mesh, counts: { cut } };
    },
    grips: (m, ids, p) => splitGrips(m, ids, p, p.flipped && !p.both),
  }),
  divide: strokeKind('divide', {
    trial: {
      settings: ({ one }) => ({ n: one(2, 3) }),
      keeps: 'surface',
    },
    op(m, ids, p) {
      const {
        mesh,
        report: { divided },
      } = mends.divideFaces(m, { faces: ids, parts: p.n });
      return { mesh, counts: { divided } };
    },
  }),
} as const;

/** The faces that were added last. */
const lastFaces = (m: PolyMesh, n: number): { on: 'face'; ids: number[] } => ({
  on: 'face',
  ids: Array.from({ length: n }, (_, i) => faceCount(m) - n + i),
});

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
