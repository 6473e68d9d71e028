import { carve, uncross } from '@dusky-mason/core/carve';
import { heal, HEAL_DEFAULTS, QUAD_DEFAULTS, QUAD_GOALS, toQuads, type Unite } from '@dusky-mason/core/mend';
import { surfaceDrift } from '@dusky-mason/core/survey';
import { angleOf, lengthFrom0, oneOf } from '../flags.ts';
import { onMesh } from './onMesh.ts';

const AS = ['seen', 'sheet', 'body'] as const;

export const healing = onMesh(
  'Brings a damaged mesh to a closed solid that looks outward, or to a clean sheet: welds, drops doubled faces, inner walls and bodies within a body, closes cracks, fills openings, turns faces outward, resolves pieces that cross themselves, unites pieces that overlap. It tells the tolerance, what each step did ("steps"), area and volume before and after, and what is left: open edges ("open"), edges with three faces or more ("odd"), openings that stay for their size ("stay"), pairs of faces that cut through each other ("crossing").',
  {
    tolerance: { takes: 'MM', says: 'Closes cracks up to this.', first: 'as the gaps suggest' },
    widest: { takes: 'MM', says: 'Fills openings up to this.', first: 'all but those of a sheet' },
    as: {
      takes: AS.join('|'),
      says: 'seen: what it looks like; sheet: stays open; body: every opening is filled.',
      first: AS[0],
    },
  },
  (m, values) => {
    const unite: Unite = (a, b) => carve(a, { cutters: [b], operation: 'union' }).mesh;
    const { mesh, report } = heal(m, {
      unite,
      uncross: (x, pairs) => uncross(x, pairs, 1),
      tolerance: lengthFrom0('tolerance', values.tolerance, HEAL_DEFAULTS.tolerance),
      widest: lengthFrom0('widest', values.widest, HEAL_DEFAULTS.widest),
      as: oneOf('as', values.as, AS),
    });
    const { tolerance, before, after, open, odd, stay, plain, many, crossing } = report;
    const steps = Object.fromEntries(report.steps.map(({ step, done }) => [step, done]));
    return { mesh, told: { tolerance, steps, before, after, open, odd, stay, plain, many, crossing } };
  },
);

export const quads = onMesh(
  'Lays n-gons and faces with holes out in quads. It tells faces laid out, quads and triangles that came of them, edges split, vertices of rims that went ("gathered"), quads that rows were divided into ("divided"), the sharpest corner, poles, the share of new inner edges that run along or across the boundaries ("aligned"), the drift in mm, and how long it took ("ms").',
  {
    goal: {
      takes: QUAD_GOALS.join('|'),
      says: 'The best shapes, the fewest faces, or a surface to be subdivided.',
      first: QUAD_DEFAULTS.goal,
    },
    'keep-edges': { says: 'Splits no edge; faces with an odd number of edges keep a triangle then.' },
    'keep-rims': { says: 'Keeps the vertices of cut edges at which only rows of the surface end.' },
    pairs: {
      takes: 'DEGREES',
      says: 'Makes quads of triangles in pairs where the surface bends by less; 0: none.',
      first: String(QUAD_DEFAULTS.pairs),
    },
    all: { says: 'Makes pairs of all triangles, not only of those that touch a face that is laid out.' },
    density: {
      takes: 'MM',
      says: 'Divides rows of longer edges, so that they come to about this; round rims stay. 0: as they come.',
      first: String(QUAD_DEFAULTS.density),
    },
  },
  (m, values, on) => {
    const begun = performance.now();
    const { mesh, report } = toQuads(m, {
      goal: oneOf('goal', values.goal, QUAD_GOALS),
      split: !on('keep-edges'),
      gather: !on('keep-rims'),
      pairs: angleOf('pairs', values.pairs, 90, QUAD_DEFAULTS.pairs),
      all: on('all'),
      density: lengthFrom0('density', values.density, QUAD_DEFAULTS.density),
    });
    const ms = Math.round(performance.now() - begun);
    const { inner, along, ...counts } = report;
    const aligned = inner ? along / inner : null;
    const drift = surfaceDrift(m, mesh)?.distance ?? null;
    return { mesh, told: { ...counts, places: undefined, aligned, drift, ms } };
  },
);
