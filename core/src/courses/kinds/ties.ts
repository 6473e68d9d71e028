import * as mends from '../../mend/index.ts';
import { strokeKind } from './strokeKinds.ts';

/** Strokes on ties. */
export const TIE_KINDS = {
  tie: strokeKind('tie', {
    op(m, ids, p) {
      const { mesh, tied } = mends.tie(m, ids, p.way);
      return { mesh, did: { tied } };
    },
  }),
  moveTie: strokeKind('moveTie', {
    op: (m, [fixed, from, to]) => ({ mesh: mends.moveTie(m, fixed!, from!, to!), did: { moved: 1 } }),
  }),
} as const;
