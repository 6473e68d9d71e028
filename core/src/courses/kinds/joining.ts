import type { OpResult } from '../../mesh/index.ts';
import * as mends from '../../mend/index.ts';
import { type StrokeResult, strokeKind, verticesOf } from './strokeKinds.ts';
import { edgeEnds, everything, hurt } from './trial.ts';

const merged = ({
  mesh,
  report: { merged: n, longest, closed, lines },
}: OpResult<mends.MergeReport>): StrokeResult => ({
  mesh,
  counts: { merged: n, longest, closed },
  lines,
  warnings: closed ? [`${closed} boundar${closed === 1 ? 'y' : 'ies'} closed up: faces, or holes in faces.`] : [],
});

/** Strokes that bring vertices together, or take them out. */
export const JOINING_KINDS = {
  weld: strokeKind('weld', {
    trial: {
      given: (m, random) => hurt(m, random, ['crack']),
      picks: (m, { random }, on) => (random() < 0.5 ? mends.elementsOf(m, on) : null),
      settings: ({ one, some }) => ({
        distance: some,
        outline: one(true, false),
        detail: one(0, some / 2),
        spare: one(true, false),
      }),
    },
    op(m, ids, p, on) {
      const r = mends.weld(m, { vertices: verticesOf(m, on, ids), ...p });
      const out = merged(r);
      if (r.report.details)
        out.warnings!.push(
          `${r.report.details} lot${r.report.details === 1 ? '' : 's'} reached further than the detail size${r.report.spared ? ' and stayed as they were' : ' and were swallowed'}.`,
        );
      return { ...out, counts: { ...out.counts, details: r.report.details, spared: r.report.spared } };
    },
  }),
  merge: strokeKind('merge', {
    trial: {
      settings: ({ one }) => ({ where: one('first', 'last', 'middle') }),
    },
    op: (m, ids, p) => merged(mends.mergeTo(m, { vertices: ids, to: p.where })),
  }),
  toOutline: strokeKind('toOutline', {
    trial: {
      picks: everything,
      settings: ({ some }) => ({ distance: 3 * some }),
    },
    op: (m, ids, p, on) => merged(mends.weldToSeam(m, { vertices: verticesOf(m, on, ids), distance: p.distance })),
  }),
  slide: strokeKind('slide', {
    trial: {
      settings: ({ one }) => ({ share: one(0, 0.25, 1) }),
      picks: (m, { random }) => edgeEnds(m, random),
    },
    op: (m, [a, b], p) => merged(mends.slideVertex(m, { vertex: a!, to: b!, share: p.share })),
  }),
  dissolve: strokeKind('dissolve', {
    op(m, ids, _, on) {
      const {
        mesh,
        report: { joined, vertices: gone },
      } =
        on === 'vertex'
          ? mends.dissolveVertices(m, { vertices: ids })
          : on === 'edge'
            ? mends.dissolveEdges(m, { edges: ids })
            : mends.dissolveFaces(m, { faces: ids });
      return { mesh, counts: { joined, vertices: gone } };
    },
  }),
  remove: strokeKind('remove', {
    trial: {
      opens: true,
    },
    op(m, ids, _, on) {
      const gone = on === 'face' ? new Set(ids) : mends.facesAt(m, on, ids);
      return { mesh: mends.deleteFaces(m, { faces: gone }).mesh, counts: { faces: gone.size } };
    },
  }),
} as const;
