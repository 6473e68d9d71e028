import * as mends from '../../mend/index.ts';
import { faceCount } from '../../mesh/index.ts';
import { strokeKind } from './strokeKinds.ts';

/** Strokes on ties. */
export const TIE_KINDS = {
  tie: strokeKind('tie', {
    trial: {
      settings: ({ one }) => ({ way: one('short', 'corners', 'bevel', 'light') }),
      keeps: 'surface',
    },
    op(m, ids, p) {
      const {
        mesh,
        report: { tied },
      } = mends.tie(m, { faces: ids, way: p.way });
      return { mesh, counts: { tied } };
    },
  }),
  moveTie: strokeKind('moveTie', {
    trial: {
      picks: (m, { random }) => {
        const grab = mends.grabAt(m, 'tie', Math.floor(random() * faceCount(m)), [100 * random(), 0, 0]);
        if (!grab?.ways.length) return null;
        return [grab.fixed!.vertex, grab.vertex, grab.ways[Math.floor(random() * grab.ways.length)]!.vertex];
      },
      given: (m) => mends.tie(m, { faces: mends.elementsOf(m, 'face'), way: 'short' }).mesh,
      keeps: 'surface',
    },
    op: (m, [fixed, from, to]) => ({
      mesh: mends.moveTie(m, { fixed: fixed!, from: from!, to: to! }).mesh,
      counts: { moved: 1 },
    }),
  }),
} as const;
