import * as mends from '../../mend/index.ts';
import { strokeKind } from './strokeKinds.ts';

/** Strokes on ties. */
export const TIE_KINDS = {
  tie: strokeKind('tie', {
    op(m, ids, p) {
      const {
        mesh,
        report: { tied },
      } = mends.tie(m, { faces: ids, way: p.way });
      return { mesh, counts: { tied } };
    },
  }),
  moveTie: strokeKind('moveTie', {
    op: (m, [fixed, from, to]) => ({
      mesh: mends.moveTie(m, { fixed: fixed!, from: from!, to: to! }).mesh,
      counts: { moved: 1 },
    }),
  }),
} as const;
