import { carve, uncross } from '@dusky-mason/core/carve';
import { heal, QUAD_GOALS, toQuads, type HealOptions, type QuadGoal, type Unite } from '@dusky-mason/core/mend';
import type { PolyMesh } from '@dusky-mason/core/mesh';
import { surfaceDrift } from '@dusky-mason/core/survey';
import { STROKES } from '@dusky-mason/core/courses';
import { angleOf, lengthFrom0, oneOf } from './flags.ts';

/** What a form begins with holds here, too. */
const [HEAL, QUADS] = [STROKES.heal.settings.parse({}), STROKES.quads.settings.parse({})];

/** Words of the `heal` and `quads` commands. */
export const HELP_MENDS = `mason heal IN [--out OUT] [--tolerance MM] [--widest MM] [--as seen|sheet|body] [--json]

Brings a damaged mesh to a closed solid that looks outward, or to a clean sheet: welds, drops doubled faces, inner walls and bodies
within a body, closes cracks, fills openings, turns faces outward, resolves pieces that cross themselves, unites pieces that overlap.
  --tolerance   cracks up to this are closed; without it as the gaps suggest
  --widest      openings up to this are filled; without it all but those of a sheet
  --as          seen: what it looks like (the default); sheet: stays open; body: every opening is filled
It tells the tolerance, what each step did ("steps"), area and volume before and after, and what is left: open edges ("open"), edges
with three faces or more ("odd"), openings that stay for their size ("stay"), pairs of faces that cut through each other ("crossing").

mason quads IN [--out OUT] [--goal ${QUAD_GOALS.join('|')}] [--keep-edges] [--pairs DEGREES] [--json]

Lays n-gons and faces with holes out in quads.
  --goal        the best shapes (the default), the fewest faces, or a surface to be subdivided
  --keep-edges  no edge is split; faces with an odd number of edges keep a triangle then
  --pairs       triangles become quads in pairs where the surface bends by less (${QUADS.pairs}); 0: none
It tells faces laid out, quads and triangles that came of them, edges split, the sharpest corner, poles, and the drift in mm.
`;

export interface StrokeFlags {
  tolerance?: string;
  widest?: string;
  as?: string;
  goal?: string;
  'keep-edges'?: boolean;
  pairs?: string;
}

/** Heals a mesh; what there is to tell. */
export function healed(m: PolyMesh, flags: StrokeFlags): { mesh: PolyMesh; told: Record<string, unknown> } {
  const as = oneOf('as', flags.as, ['seen', 'sheet', 'body']);
  const unite: Unite = (a, b) => carve(a, { cutters: [b], operation: 'union' }).mesh;
  const options: HealOptions = {
    unite,
    uncross: (x, pairs) => uncross(x, pairs, 1),
    without: [],
    tolerance: lengthFrom0('tolerance', flags.tolerance, HEAL.tolerance),
    widest: lengthFrom0('widest', flags.widest, HEAL.widest),
    as,
  };
  const { mesh, report } = heal(m, options);
  const { tolerance, steps, before, after, open, odd, stay, plain, many, crossing } = report;
  const healing = {
    tolerance,
    steps: Object.fromEntries(steps.map(({ step, done }) => [step, done])),
    before,
    after,
    open,
    odd,
    stay,
    plain,
    many,
    crossing,
  };
  return { mesh, told: healing };
}

/** Lays a mesh out in quads; what there is to tell. */
export function quadded(m: PolyMesh, flags: StrokeFlags): { mesh: PolyMesh; told: Record<string, unknown> } {
  const goal: QuadGoal = oneOf('goal', flags.goal, QUAD_GOALS);
  const { mesh, report } = toQuads(m, {
    wanted: () => true,
    goal,
    split: !flags['keep-edges'],
    pairs: angleOf('pairs', flags.pairs, 90, QUADS.pairs),
  });
  return { mesh, told: { ...report, places: undefined, drift: surfaceDrift(m, mesh)?.distance ?? null } };
}
