import { components, joinMeshes, sizeOf, takeFaces, type PolyMesh } from '../../mesh/index.ts';
import { carve, uncross } from '../../carve/index.ts';
import * as mends from '../../mend/index.ts';
import { recast } from '../../recast/index.ts';
import { countWords } from '../base/picks.ts';
import { besideEdges } from './grips.ts';
import { strokeKind, verticesOf } from './strokeKinds.ts';
import { seamOrFace, hurt } from './trial.ts';

/** A band narrower than this share of the wanted width is useless. */
const THIN_BAND = 0.25;

/** Strokes that go by themselves. */
export const BY_THEMSELVES_KINDS = {
  tidy: strokeKind('tidy', {
    trial: {
      settings: ({ one, some }) => ({ tolerance: one(some, 3 * some) }),
      picks: (m, { random }, on) => (random() < 0.7 ? mends.elementsOf(m, on) : null),
    },
    op(m, ids, p, on) {
      const picked = new Set(verticesOf(m, on, ids));
      const { mesh, report: r } = mends.tidy(m, { wanted: (v) => picked.has(v), tolerance: p.tolerance });
      const warnings = r.left
        ? [
            `${countWords('edge', r.left)} below ${r.tolerance.toPrecision(2)} mm ${r.left === 1 ? 'stays' : 'stay'}: of seams, or where a face would not stay flat.`,
          ]
        : [];
      return {
        mesh,
        counts: { straight: r.straight, collapsed: r.collapsed, narrow: r.narrow, left: r.left },
        warnings,
      };
    },
  }),
  quads: strokeKind('quads', {
    trial: {
      settings: ({ one }) => ({
        goal: one('shape', 'fewest', 'subdivision'),
        split: one(true, false),
        gather: one(true, false),
        all: one(true, false),
        pairs: one(0, 20),
        density: one(0, 4),
      }),
      picks: (m, { random }, on) => (random() < 0.7 ? mends.elementsOf(m, on) : null),
      keeps: 'surface',
    },
    op(m, ids, p, _on, env, ctx) {
      const picked = new Set(ids);
      const memory = env.memory?.layouts;
      const { mesh, report: r } = mends.toQuads(m, { wanted: (f) => picked.has(f), memory, ...p }, ctx);
      const warnings = [
        ...(r.triangles
          ? [
              `${r.triangles} triangle${r.triangles === 1 ? ' is' : 's are'} left: where a face has an odd number of edges that no strip joins, or where no quad would be convex.`,
            ]
          : []),
        ...(r.left ? [`${countWords('face', r.left)} found no sound layout and stayed.`] : []),
        ...(r.rounded
          ? [
              `${countWords('edge', r.rounded)} of rounded rims had to be split: an odd number of edges leaves a triangle else.`,
            ]
          : []),
      ];
      return {
        mesh,
        counts: {
          faces: r.faces - r.left,
          quads: r.quads,
          triangles: r.triangles,
          left: r.left,
          paired: r.paired,
          split: r.split,
          divided: r.divided,
          gathered: r.gathered,
          ...(r.inner && { aligned: r.along / r.inner }),
          mirrored: r.mirrored,
          poles: r.poles,
          sharpest: r.sharpest,
        },
        warnings,
        places: r.places,
      };
    },
  }),
  collar: strokeKind('collar', {
    trial: {
      settings: ({ one, some }) => ({
        width: some / 4,
        rows: one(1, 3),
        aim: one('square', 'own', 'across'),
        shift: one(0, some / 8, -some / 8),
        gather: one(true, false),
      }),
      picks: (m, { random }) => (random() < 0.8 ? seamOrFace(m, random) : null),
      keeps: 'form',
    },
    op(m, ids, p, _on, _env, ctx) {
      const { mesh, report: r } = mends.collar(m, { edges: ids, ...p }, ctx);
      const warnings = [
        ...(r.narrowed
          ? [
              `The band is narrower at ${r.narrowed} of its spokes, where there is no room for more: ${((100 * r.narrowest) / p.width).toPrecision(2)} % of the width at the place that is marked.${r.narrowest < THIN_BAND * p.width ? ' That is thin: type a smaller width, or leave those edges out.' : ''}`,
            ]
          : []),
        ...(r.none.length
          ? [`${r.none.length} side${r.none.length === 1 ? ' has' : 's have'} no room for a band, and none; marked.`]
          : []),
        ...(r.others
          ? [
              `${countWords('face', r.others)} of the band ${r.others === 1 ? 'is no quad' : 'are no quads'}: spokes run together there, or an edge beyond could not be moved.`,
            ]
          : []),
        ...(r.moved > 0
          ? [
              `Short edges were joined, which moved the line by up to ${((100 * r.moved) / p.width).toPrecision(2)} % of the width.`,
            ]
          : []),
        ...(r.swallowed + r.under
          ? [`${countWords('face', r.swallowed)} and ${countWords('edge', r.under)} beneath went.`]
          : []),
      ];
      const marks = [...(r.narrowed && r.at ? [r.at] : []), ...r.none].flat();
      return {
        mesh,
        counts: {
          bands: r.bands,
          quads: r.quads,
          edges: ids.length,
          narrowest: r.narrowest,
          narrowed: r.narrowed,
          none: r.none.length,
          gathered: r.gathered,
          swallowed: r.swallowed,
          under: r.under,
        },
        warnings,
        lines: crossesAt(marks, sizeOf(m) / 60),
      };
    },
    grips: (m, ids) => besideEdges(m, ids, 'width'),
  }),
  heal: strokeKind('heal', {
    trial: {
      settings: ({ one, some }) => ({ as: one('seen', 'sheet', 'body'), tolerance: one(0, some / 20) }),
      given: hurt,
      opens: true,
    },
    op(m, ids, p, _on, env, ctx) {
      const { part, rest } = piecesOf(m, ids);
      const without = mends.HEAL_STEPS.filter((step) => !p[step]);
      const unite = (a: PolyMesh, b: PolyMesh) =>
        carve(a, { cutters: [b], operation: 'union', course: env.course }, ctx).mesh;
      const { mesh: healed, report: r } = mends.heal(
        part,
        {
          without,
          tolerance: p.tolerance,
          widest: p.widest,
          as: p.as,
          unite,
          uncross: (x, pairs) => uncross(x, pairs, env.course, ctx),
        },
        ctx,
      );
      const mesh = healed === part ? m : rest ? joinMeshes([healed, rest]) : healed;
      const warnings = [
        ...(r.stay ? [`${r.stay} opening${r.stay === 1 ? ' stays' : 's stay'} open: too large, or meant.`] : []),
        ...(r.plain
          ? [
              `${r.plain} bent opening${r.plain === 1 ? '' : 's'} of very many edges ${r.plain === 1 ? 'is' : 'are'} closed by one face each. To quads lays them out.`,
            ]
          : []),
        ...(r.open && !r.stay ? [`${countWords('edge', r.open)} ${r.open === 1 ? 'is' : 'are'} open still.`] : []),
        ...(r.odd ? [`${countWords('edge', r.odd)} still ${r.odd === 1 ? 'has' : 'have'} three faces or more.`] : []),
        ...(r.many
          ? [
              'There are too many pieces, or too large ones, to look through all of them for overlaps. Separate them into parts, and heal each.',
            ]
          : []),
        ...(r.crossing
          ? [
              `${r.crossing} pair${r.crossing === 1 ? '' : 's'} of faces still cut through each other, or lie over each other. The survey leads there: take such faces out and heal again, or recast it.`,
            ]
          : []),
        ...(r.crossing === null
          ? ['It has too many faces to look for those that cut through each other: the survey does so on wish.']
          : []),
      ];
      return {
        mesh,
        counts: {
          ...Object.fromEntries(r.steps.map(({ step, done }) => [step, done])),
          tolerance: r.tolerance,
          open: r.open,
          odd: r.odd,
          stay: r.stay,
          crossing: r.crossing ?? 0,
        },
        warnings,
        gaps:
          r.gaps.length > MOST_GAPS ? r.gaps.filter((_, i) => i % Math.ceil(r.gaps.length / MOST_GAPS) === 0) : r.gaps,
      };
    },
  }),
  recast: strokeKind('recast', {
    trial: {
      settings: ({ one }) => ({ cells: one(8, 14, 20) }),
      relit: true,
      dropsUvs: true,
    },
    op(m, ids, p, _on, _env, ctx) {
      const { part, rest } = piecesOf(m, ids);
      const { mesh, report } = recast(part, p, ctx);
      const { mesh: made, done } = mends.partFans(mesh);
      const warnings = [
        'The UVs and seams of the old mesh are lost.',
        ...(done
          ? [
              `It touches itself at ${countWords('vertex', done)}, where it was parted: more cells may tell its walls apart.`,
            ]
          : []),
      ];
      return {
        mesh: rest ? joinMeshes([made, rest]) : made,
        counts: { quads: report.quads, cell: report.cell },
        warnings,
      };
    },
  }),
} as const;

/**
 * The pieces that a pick touches, whole, as a part of a piece would seem open where it is cut off; and the other
 * pieces.
 */
function piecesOf(m: PolyMesh, ids: readonly number[]): { part: PolyMesh; rest: PolyMesh | null } {
  const { of, count } = components(m);
  const touched = new Set(ids.map((f) => of[f]!));
  if (touched.size === count) return { part: m, rest: null };
  return { part: takeFaces(m, (f) => touched.has(of[f]!)), rest: takeFaces(m, (f) => !touched.has(of[f]!)) };
}

/** More gaps than this are not sent to the page. */
const MOST_GAPS = 2000;

/** Three strokes through each of some places, so that they are seen. */
export const crossesAt = (places: readonly number[], reach: number): number[] =>
  places.flatMap((_, i) =>
    i % 3
      ? []
      : [0, 1, 2].flatMap((k) =>
          [-reach, reach].flatMap((d) => [0, 1, 2].map((j) => places[i + j]! + (j === k ? d : 0))),
        ),
  );
