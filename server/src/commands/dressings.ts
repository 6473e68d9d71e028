import {
  bevel,
  BEVEL_DEFAULTS,
  BEVEL_MEASURES,
  bevelHeadroom,
  bevelLengthRooms,
  inWords,
  sharpEdges,
  subdivide,
  type BevelShape,
  type BevelWish,
  type ChainHeadroom,
} from '@dusky-mason/core/dress';
import { STROKES } from '@dusky-mason/core/courses';
import { faceCount, MasonError, type PolyMesh } from '@dusky-mason/core/mesh';
import type { Call, OptionSpecs } from '../command.ts';
import { angleOf, lengthOf, numberOf, oneOf, wholeOf } from '../flags.ts';
import { onMesh } from './onMesh.ts';

/** Which edges a finish takes in while none are picked, degrees. */
const { angle: ANGLE } = STROKES.finish.settings.parse({});
const PASTS: readonly [BevelWish['past'], ...BevelWish['past'][]] = ['narrow', 'meet', 'clamp', 'stop'];
const ROOM =
  'It tells "headroom", the smallest over all chains in millimetres, a share with --measure share (null where nothing is in the way), and "chains": of each chain of edges that meet, how many they are ("edges"), its headroom, what is in the way ("what") and where ("at").';

const SHAPE: OptionSpecs = {
  angle: { takes: 'DEGREES', says: 'Edges at which the surface turns by more than this.', first: `${ANGLE}°` },
  segments: {
    takes: 'N',
    says: 'Into how many parts each strip is divided.',
    first: String(BEVEL_DEFAULTS.segments),
  },
  measure: {
    takes: BEVEL_MEASURES.join('|'),
    says: 'What the width is: along the faces, the radius of the rounding, the depth below the edge, or a share of the shortest edge that meets the chain.',
    first: BEVEL_MEASURES[0],
  },
  profile: { takes: 'P', says: '-1 hollow, 0 straight, 1 round, 2 full.', first: '1' },
};

function shapeOf(m: PolyMesh, values: Call['values'], width: number): { edges: number[]; shape: BevelShape } {
  const profile = numberOf('profile', values.profile, -1, 2, 1);
  const measure = oneOf('measure', values.measure, BEVEL_MEASURES);
  const segments = wholeOf('segments', values.segments, 1, 64, BEVEL_DEFAULTS.segments);
  return {
    edges: sharpEdges(m, angleOf('angle', values.angle, 180, ANGLE)),
    shape: { width, measure, segments, profile },
  };
}

const finite = (x: number) => (Number.isFinite(x) ? x : null);

/** The headroom of all chains as printed: the smallest, and each. */
function roomTold(all: readonly ChainHeadroom[]): Record<string, unknown> {
  const least = all.reduce((x, c) => Math.min(x, c.headroom), Infinity);
  return {
    headroom: finite(least),
    chains: all.map((c) => ({ edges: c.edges, headroom: finite(c.headroom), what: inWords(c.what), at: c.at })),
  };
}

export const bevelling = onMesh(
  `Bevels every edge at which the surface turns by more than an angle. ${ROOM}`,
  {
    width: {
      takes: 'LENGTH',
      says: 'How wide: see --measure. With --measure share a number, as 0.25 of the shortest edge that meets the chain.',
      needed: true,
    },
    ...SHAPE,
    over: { says: 'Lays bands of quads where faces beside an edge leave no room, and bevels on these.' },
    past: {
      takes: PASTS.join('|'),
      says: 'Where there is no room: narrower just there, strips that meet in a line, the whole chain narrower, or exit 3.',
      first: BEVEL_DEFAULTS.past,
    },
  },
  (m, values, on) => {
    const width =
      values.measure === 'share' ? numberOf('width', values.width, 0.001, 10, NaN) : lengthOf('width', values.width);
    const { edges, shape } = shapeOf(m, values, width);
    const { mesh, report } = bevel(m, {
      edges,
      ...shape,
      past: oneOf('past', values.past, PASTS),
      over: on('over'),
    });
    const { narrowed, least, strips, corners, bands, full } = report;
    const room = roomTold(bevelHeadroom(m, edges, shape));
    return { mesh, told: { rounded: report.edges, strips, corners, narrowed, least, full, bands, ...room } };
  },
);

export const headroom = onMesh(
  `Says how wide a bevel of every edge at which the surface turns by more than an angle can get. The mesh is as it was. ${ROOM} "lengths" tells of each chain the widths at which all, 99 and 95 % of its length ("share") have room.`,
  SHAPE,
  (m, values) => {
    const { edges, shape } = shapeOf(m, values, 1);
    if (!edges.length) throw new MasonError('bad-input', 'There is no edge that sharp. Use a smaller --angle.');
    const chains = bevelLengthRooms(m, edges, shape);
    const rooms = chains.map((c) => c.rooms.map((r) => ({ share: r.share, width: finite(r.width), at: r.at })));
    return { mesh: m, told: { ...roomTold(chains), lengths: rooms } };
  },
);

export const subdividing = onMesh(
  'Catmull–Clark subdivision; hard edges and creases hold. "eased" tells how many vertices stay nearer to the cage, where the smooth surface would cut through itself.',
  {
    levels: { takes: 'N', says: 'How often, 1 to 4.', needed: true },
    limit: { says: 'Puts the vertices onto the limit surface.' },
  },
  (m, values, on) => {
    const { mesh, report } = subdivide(m, { levels: wholeOf('levels', values.levels, 1, 4, NaN), limit: on('limit') });
    return { mesh, told: { from: faceCount(m), eased: report.eased.length } };
  },
);
