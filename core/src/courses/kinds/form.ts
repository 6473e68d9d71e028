import { MasonError, scaled, vertexPlace, type PolyMesh } from '../../mesh/index.ts';
import { countWords } from '../base/picks.ts';
import * as dress from '../../dress/index.ts';
import type { CourseEnv } from './env.ts';
import { onFace } from './grips.ts';
import { strokeKind, verticesOf } from './strokeKinds.ts';
import { everything } from './trial.ts';

/** Roundness and distance are not measured for subdivisions into more faces than this. */
const MOST_MEASURED = 200_000;

/** Strokes that dress the form. */
export const FORM_KINDS = {
  subdivide: strokeKind('subdivide', {
    trial: {
      settings: ({ one }) => ({
        levels: one(1, 2),
        limit: one(true, false),
        corners: one(true, false),
        uvs: one('smooth', 'straight'),
      }),
      picks: everything,
      keeps: 'form',
      relit: true,
    },
    op(m, ids, p, _on, env, ctx) {
      if (ids.length !== m.faceLoops.length - 1)
        throw new MasonError('bad-input', 'It subdivides the whole part. Let it work on all faces.');
      const holed = m.loopStart.length - m.faceLoops.length;
      if (holed)
        throw new MasonError(
          'bad-input',
          `Faces have ${holed} hole${holed === 1 ? '' : 's'} in them, and the surface would fold over there. Lay them out in quads first (To quads).`,
        );
      const { mesh, report } = dress.subdivide(
        m,
        { levels: p.levels, limit: p.limit, corners: p.corners, uvs: p.uvs },
        ctx,
      );
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
      const { eased } = report;
      return {
        mesh,
        counts,
        ...(eased.length && {
          warnings: [
            `At ${countWords('vertex', eased.length)} it stays nearer to the cage: the smooth surface would cut through itself there. Lay loops across coarse faces there, or thin faces out in quads (To quads).`,
          ],
        }),
        places: {
          ...(figures?.at && { outAfter: [figures.at] }),
          ...(eased.length && { eased: eased.map((v) => vertexPlace(mesh, v)) }),
        },
      };
    },
  }),
  relight: strokeKind('relight', {
    trial: {
      settings: ({ one, some }) => ({ fade: one(0, some) }),
    },
    op(m, ids, p, _on, env) {
      const wanted = new Set(ids);
      const {
        mesh,
        report: { corners, most },
      } = dress.relight(m, { guide: guideIn(m, env, p.surface, wanted), wanted: (f) => wanted.has(f), fade: p.fade });
      if (!corners)
        throw new MasonError(
          'bad-input',
          'These faces already have the light of their surface, or come from no known body. Pick faces around a cut in a round surface.',
        );
      return { mesh, counts: { faces: wanted.size, corners, most } };
    },
  }),
  reseat: strokeKind('reseat', {
    trial: {
      settings: ({ some }) => ({ most: 10 * some }),
    },
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
    trial: {
      relit: true,
    },
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
    trial: {
      settings: ({ one, some }) => ({ thickness: some / 8, side: one('inside', 'outside', 'both') }),
      picks: everything,
      sheets: true,
      relit: true,
    },
    op(m, ids, p) {
      const {
        mesh,
        report: { rim },
      } = dress.thicken(m, { ...p, faces: ids });
      return { mesh, counts: { rim } };
    },
    // Half on each side it grows by half.
    grips(m, ids, { side }) {
      const out = onFace(m, ids[0]!, 'thickness');
      const rate = { inside: -1, outside: 1, both: 0.5 }[side];
      return [{ ...out, along: scaled(out.along, rate) }];
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
  if (!env.guide)
    throw new MasonError(
      'bad-input',
      'No guide surface is known here. Pick faces that come from a shape, or from a cut in a mesh.',
    );
  return env.guide(m);
}
