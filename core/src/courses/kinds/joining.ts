import * as mends from '../../mend/index.ts';
import { type Mended, strokeKind, verticesOf } from './strokeKinds.ts';

const merged = ({ mesh, merged: n, longest, closed, lines }: mends.Merged): Mended => ({
  mesh,
  did: { merged: n, longest, closed },
  lines,
  heed: closed ? [`${closed} outline${closed === 1 ? '' : 's'} closed up: faces, or holes in faces.`] : [],
});

/** Strokes that bring vertices together, or take them out. */
export const JOINING_KINDS = {
  weld: strokeKind('weld', {
    op(m, ids, p, on) {
      const r = mends.weld(m, verticesOf(m, on, ids), p);
      const out = merged(r);
      if (r.details)
        out.heed!.push(
          `${r.details} lot${r.details === 1 ? '' : 's'} reached further than the detail size${r.spared ? ' and stayed as they were' : ' and were swallowed'}.`,
        );
      return { ...out, did: { ...out.did, details: r.details, spared: r.spared } };
    },
  }),
  merge: strokeKind('merge', {
    op: (m, ids, p) => merged(mends.mergeTo(m, ids, p.where)),
  }),
  toOutline: strokeKind('toOutline', {
    op: (m, ids, p, on) => merged(mends.weldToOutline(m, verticesOf(m, on, ids), p.distance)),
  }),
  slide: strokeKind('slide', {
    op: (m, [a, b], p) => merged(mends.slideVertex(m, a!, b!, p.share)),
  }),
  dissolve: strokeKind('dissolve', {
    op(m, ids, _, on) {
      const {
        mesh,
        joined,
        vertices: gone,
      } = on === 'vertex'
        ? mends.dissolveVertices(m, ids)
        : on === 'edge'
          ? mends.dissolveEdges(m, ids)
          : mends.dissolveFaces(m, ids);
      return { mesh, did: { joined, vertices: gone } };
    },
  }),
  remove: strokeKind('remove', {
    op(m, ids, _, on) {
      const gone = on === 'face' ? new Set(ids) : mends.facesAt(m, on, ids);
      return { mesh: mends.deleteFaces(m, gone), did: { faces: gone.size } };
    },
  }),
} as const;
