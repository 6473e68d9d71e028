import { AXES, facePlane, MasonError, sizeOf, vertexPlace, type PolyMesh, type Vec3 } from '../../mesh/index.ts';
import * as mends from '../../mend/index.ts';
import { countWords } from '../base/picks.ts';
import { crossesAt } from './byThemselves.ts';
import { alongAxis } from './grips.ts';
import { strokeKind } from './strokeKinds.ts';

const vertices = (x: number) => countWords('vertex', x);

const plane = (axis: 'x' | 'y' | 'z', at: number): mends.Plane => ({ normal: AXES[axis], at });

/** Strokes on the part as a whole. */
export const WHOLE_PART_KINDS = {
  plane: strokeKind('plane', {
    trial: {
      settings: ({ one, random }) => ({
        axis: one('x', 'y', 'z'),
        by: 'share',
        share: 0.05 + 0.9 * random(),
        keep: one('both', 'above', 'below'),
        cap: one(true, false),
      }),
      opens: true,
    },
    op(m, ids, p, on, env) {
      const {
        mesh,
        report: { cut, capped },
      } = mends.cutWithPlane(m, { plane: planeOf(m, ids, p, on), size: sizeOf(m), ...p, course: env.course });
      return { mesh, counts: { cut, capped } };
    },
    grips: (m, _ids, p) =>
      p.through === 'axis' ? [alongAxis(m, p.axis, p.by === 'share' ? 'share' : 'at', p.by === 'share')] : [],
  }),
  mirror: strokeKind('mirror', {
    trial: {
      settings: ({ one, random }) => ({
        axis: one('x', 'y', 'z'),
        at: 20 * random(),
        keep: one('above', 'below'),
        second: one('none', 'x'),
      }),
    },
    op(m, ids, p, on) {
      const size = sizeOf(m);
      const first = p.through === 'picked' ? pickedPlane(m, ids, on) : plane(p.axis, p.at);
      const one = mends.mirrorHalf(m, { plane: first, size, keep: p.keep, threshold: p.threshold });
      const two =
        p.through === 'picked' || p.second === 'none' || p.second === p.axis
          ? null
          : mends.mirrorHalf(one.mesh, { plane: plane(p.second, p.at), size, keep: p.keep, threshold: p.threshold });
      const doubtful = one.report.doubtful + (two?.report.doubtful ?? 0);
      const warnings = doubtful
        ? [
            `${vertices(doubtful)} face${doubtful === 1 ? 's' : ''} others across the plane within the threshold; they keep apart.`,
          ]
        : [];
      return {
        mesh: (two ?? one).mesh,
        counts: {
          snapped: one.report.snapped + (two?.report.snapped ?? 0),
          furthest: Math.max(one.report.furthest, two?.report.furthest ?? 0),
        },
        warnings,
        lines: [...one.report.lines, ...(two?.report.lines ?? [])],
      };
    },
    grips: (m, _ids, p) => (p.through === 'axis' ? [alongAxis(m, p.axis, 'at', false)] : []),
  }),
  symmetric: strokeKind('symmetric', {
    trial: {
      settings: ({ one, some }) => ({ axis: one('x', 'y', 'z'), within: some }),
    },
    op(m, _ids, p) {
      const r = mends.symmetrize(m, { plane: plane(p.axis, p.at), within: p.within });
      const warnings = r.report.unpaired ? [`${vertices(r.report.unpaired)} found no partner and stayed.`] : [];
      return {
        mesh: r.mesh,
        counts: { paired: r.report.paired, unpaired: r.report.unpaired, furthest: r.report.furthest },
        warnings,
        lines: crossesAt(r.report.places, sizeOf(m) / 60),
      };
    },
    grips: (m, _ids, p) => [alongAxis(m, p.axis, 'at', false)],
  }),
  orient: strokeKind('orient', {
    trial: {
      settings: ({ one }) => ({ way: one('flip', 'consistent', 'outward') }),
      opens: true,
    },
    op(m, ids, { way }) {
      const picked = new Set(ids);
      const {
        mesh,
        report: { turned, torn },
      } = mends.orient(m, { way, wanted: (f) => picked.has(f) });
      return {
        mesh,
        counts: { turned, torn },
        warnings: torn ? [`Across ${countWords('edge', torn)} no way round agrees: the surface is one-sided.`] : [],
      };
    },
  }),
} as const;

interface PlaneSettings {
  through: 'axis' | 'points';
  axis: 'x' | 'y' | 'z';
  by: 'distance' | 'share';
  at: number;
  share: number;
}

/** The plane of a picked face, or through three picked vertices. */
function pickedPlane(m: PolyMesh, ids: readonly number[], on: mends.ElementKind): mends.Plane {
  if (on === 'vertex' && ids.length > 2)
    return mends.planeThroughPoints(ids.slice(0, 3).map((v) => vertexPlace(m, v)) as [Vec3, Vec3, Vec3]);
  if (on !== 'face' || ids.length !== 1)
    throw new MasonError('bad-input', 'Pick one face, or three vertices, for the plane to go through.');
  const p = facePlane(m, ids[0]!);
  return { normal: [p[0]!, p[1]!, p[2]!], at: p[0]! * p[3]! + p[1]! * p[4]! + p[2]! * p[5]! };
}

/** The plane that a course says: square to an axis, or through three picked vertices. */
function planeOf(m: PolyMesh, ids: readonly number[], p: PlaneSettings, on: mends.ElementKind): mends.Plane {
  if (p.through === 'points' && on === 'vertex' && ids.length > 2)
    return mends.planeThroughPoints(ids.slice(0, 3).map((v) => vertexPlace(m, v)) as [Vec3, Vec3, Vec3]);
  const k = 'xyz'.indexOf(p.axis);
  if (p.by === 'distance') return plane(p.axis, p.at);
  const xs = [...m.positions].filter((_, i) => i % 3 === k);
  const low = xs.reduce((a, b) => Math.min(a, b));
  const high = xs.reduce((a, b) => Math.max(a, b));
  return plane(p.axis, low + p.share * (high - low));
}
