import {
  bevel,
  bevelHeadroom,
  BEVEL_MEASURES,
  inWords,
  sharpEdges,
  subdivide,
  type BevelShape,
  type ChainHeadroom,
  type BevelWish,
} from '@dusky-mason/core/dress';
import { faceCount, MasonError, type PolyMesh } from '@dusky-mason/core/mesh';
import { STROKES } from '@dusky-mason/core/courses';
import { angleOf, lengthOf, numberOf, oneOf, wholeOf } from './flags.ts';

/** What a form begins with holds here, too. */
const FINISH = STROKES.finish.settings.parse({});

/** Words of the `bevel`, `headroom` and `subdivide` commands. */
export const HELP_DRESS = `mason bevel IN --width LENGTH [--angle ANGLE] [--segments N] [--measure ${BEVEL_MEASURES.join('|')}]
            [--profile P] [--past narrow|meet|clamp|stop] [--out OUT] [--json]
mason headroom IN [--angle ANGLE] [--segments N] [--measure …] [--json]

Bevels every edge at which the surface turns by more than an angle (${FINISH.angle}°), or says how wide such a bevel can get.
  --width     along the faces, as the radius of the rounding, or as the depth below the edge: see --measure (offset); with --measure share a
              number, as 0.25 of the shortest edge that meets the chain
  --segments  into how many parts each strip is divided (${FINISH.segments})
  --profile   -1 hollow, 0 straight, 1 round (the default), 2 full
  --past      where there is no room: narrower just there (the default), strips that meet in a line, the whole chain narrower, or exit 3
Both tell "headroom", the smallest over all chains in millimetres, a share with --measure share (null where nothing is in the way), and "chains": of each chain of edges
that meet, how many they are ("edges"), its headroom, what is in the way ("what") and where ("at").

mason subdivide IN --levels N [--limit] [--out OUT] [--json]

Catmull–Clark subdivision, 1 to 4 levels; hard edges and creases hold. --limit puts the vertices onto the limit surface.
`;

export interface DressFlags {
  width?: string;
  angle?: string;
  segments?: string;
  measure?: string;
  profile?: string;
  past?: string;
  levels?: string;
  limit?: boolean;
}

type Told = { mesh: PolyMesh; told: Record<string, unknown> };

function wishOf(m: PolyMesh, flags: DressFlags, width: number): { edges: number[]; wish: BevelShape } {
  const profile = numberOf('profile', flags.profile, -1, 2, 1);
  const measure = oneOf('measure', flags.measure, BEVEL_MEASURES);
  const edges = sharpEdges(m, angleOf('angle', flags.angle, 180, FINISH.angle));
  return {
    edges,
    wish: { width, measure, segments: wholeOf('segments', flags.segments, 1, 64, FINISH.segments), profile },
  };
}

/** The headroom of all chains as it is told: the smallest, and each. */
function roomTold(all: readonly ChainHeadroom[]): Record<string, unknown> {
  const finite = (x: number) => (Number.isFinite(x) ? x : null);
  const least = all.reduce((x, c) => Math.min(x, c.headroom), Infinity);
  return {
    headroom: finite(least),
    chains: all.map((c) => ({ edges: c.edges, headroom: finite(c.headroom), what: inWords(c.what), at: c.at })),
  };
}

/** Bevels a mesh; what there is to tell. */
export function bevelled(m: PolyMesh, flags: DressFlags): Told {
  const width =
    flags.measure === 'share' ? numberOf('width', flags.width, 0.001, 10, NaN) : lengthOf('width', flags.width);
  const { edges, wish } = wishOf(m, flags, width);
  const { mesh, report } = bevel(m, {
    edges,
    ...wish,
    past: oneOf<BevelWish['past']>('past', flags.past, ['narrow', 'meet', 'clamp', 'stop']),
  });
  const { narrowed, least, strips, corners } = report;
  return {
    mesh,
    told: { rounded: report.edges, strips, corners, narrowed, least, ...roomTold(bevelHeadroom(m, edges, wish)) },
  };
}

/** The headroom of a mesh's edges; what there is to tell. The mesh is as it was. */
export function roomOf(m: PolyMesh, flags: DressFlags): Told {
  const { edges, wish } = wishOf(m, flags, 1);
  if (!edges.length) throw new MasonError('bad-input', 'There is no edge that sharp. Use a smaller --angle.');
  return { mesh: m, told: roomTold(bevelHeadroom(m, edges, wish)) };
}

/** Subdivides a mesh; what there is to tell. */
export function subdivided(m: PolyMesh, flags: DressFlags): Told {
  const { mesh } = subdivide(m, {
    levels: wholeOf('levels', flags.levels, 1, 4, NaN),
    limit: flags.limit,
    corners: true,
    uvs: 'smooth',
  });
  return { mesh, told: { from: faceCount(m) } };
}
