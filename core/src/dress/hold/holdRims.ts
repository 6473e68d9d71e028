import {
  dropFalsePlanes,
  MasonError,
  partOf,
  sizeOf,
  topologyOf,
  vertexPlace,
  type OpContext,
  type OpResult,
  type PolyMesh,
  type Vec3,
} from '../../mesh/index.ts';
import {
  chainsOf,
  gatherRims,
  keptEdges,
  layBands,
  toQuads,
  type EdgesOptions,
  type LayoutMemory,
  type QuadReport,
} from '../../mend/index.ts';
import type { GuideSurface } from '../guideSurface.ts';
import { sharpEdges } from '../sharpEdges.ts';
import { ringsAlong, type Rings } from './ringsAlong.ts';
import type { SmoothedBy } from './soonSmooth.ts';
import { throughGuide } from './throughGuide.ts';

export interface HoldRimsOptions extends EdgesOptions {
  /** From a rim to the rings beside it, mm. */
  distance?: number;
  /** Whether rims stay sharp, or are rounded over by their rings. */
  sharp?: boolean;
  /** Whether all other sharp edges stay so. */
  others?: boolean;
  /** For which subdivision sizes are right. */
  by?: SmoothedBy;
  /** The surfaces that faces of a mesh stand for; where none is known, the smooth surface passes through the vertices. */
  guide?: (m: PolyMesh) => GuideSurface;
  /** Where layouts of faces that have not changed are found again. */
  memory?: LayoutMemory;
}

export interface HoldRimsReport {
  /** Closed rims among the edges, edges that are part of none, and rings that were laid beside rims. */
  rims: number;
  left: number;
  rings: number;
  /** Where sides of rims have no ring, as the faces there are no even quads. */
  none: Vec3[];
  /** The least distance of a ring, or width of a band in its place, mm. */
  least: number;
  /** Vertices of rims that went, and quads that were laid out. */
  gathered: number;
  quads: number;
  /** The farthest that a vertex was moved, for the smooth surface to pass where the old one was, mm. */
  moved: number;
}

/** Defaults of the options. */
export const HOLD_RIMS_DEFAULTS: Required<Pick<HoldRimsOptions, 'distance' | 'sharp' | 'others' | 'by'>> = {
  distance: 1,
  sharp: true,
  others: true,
  by: 'few',
};

/** A crease that stays sharp for ever; and one by which rims are known while faces are laid out. */
const [FOR_EVER, RIM] = [10, 11];
/** Edges by which a surface turns by more are sharp, degrees. */
const SHARP = 30;
/** Share of the work up to where the cage is moved. */
const RINGED = 0.85;

/**
 * Makes closed rims ready for subdivision, so that they stay round and of their size: they keep the vertices of what cut
 * them, faces are laid out in quads, a ring of edges is laid beside each of their sides, and the cage is moved outward so
 * that the smooth surface passes through the rims, and through the surfaces beside, where they were.
 *
 * @example
 * const { mesh: plate } = carve(box(100, 60, 20), { cutters: [cylinder(12, 40, 32)], operation: 'subtract' });
 * const { mesh } = holdRims(plate, { edges: seamEdges(plate), distance: 1 });
 * const { mesh: smooth } = subdivide(mesh, { levels: 3 });
 */
export function holdRims(m: PolyMesh, options: HoldRimsOptions, ctx?: OpContext): OpResult<HoldRimsReport> {
  const { edges, distance, sharp, others, by, guide, memory } = { ...HOLD_RIMS_DEFAULTS, ...options };
  const runs = chainsOf(m, edges);
  const closed = runs.filter((c) => c.closed);
  if (!closed.length)
    throw new MasonError(
      'bad-input',
      'The picked edges make no closed rim. Pick all edges around a hole, or the seam of a cut.',
    );
  const marked = withMarks(
    m,
    closed.map((c) => c.vertices),
    others,
  );
  const { mesh: gathered, report } = gatherRims(marked, { edges: rimCorners(marked) });
  const { laid, ringed } = withRings(gathered, distance, memory, partOf(ctx, 0, RINGED));
  ctx?.progress?.(RINGED, 'Moving the cage outward');
  // Rims are held as lines while places are found: rounded over they would lie off their walls.
  const held = creased(ringed.mesh, ringed.mesh, FOR_EVER);
  const through = throughGuide(held, guide?.(held), by, sizeOf(m), partOf(ctx, RINGED, 1));
  const plane = held.layers.plane?.slice();
  const mesh = { ...held, positions: through.positions, layers: { ...held.layers, ...(plane && { plane }) } };
  dropFalsePlanes(mesh);
  return {
    mesh: sharp ? mesh : creased(mesh, ringed.mesh, 0),
    report: {
      rims: closed.length,
      left: runs.reduce((s, c) => s + (c.closed ? 0 : c.vertices.length - 1), 0),
      rings: ringed.rings + laid.bands,
      none: ringed.none.map(([c]) => vertexPlace(laid.mesh, laid.mesh.corners[c!]!)),
      least: ringed.least,
      gathered: report.gathered + laid.report.gathered,
      quads: laid.report.quads,
      moved: through.moved,
    },
  };
}

/** A mesh laid out in quads, with bands that were laid along rims before. */
interface Laid {
  mesh: PolyMesh;
  report: QuadReport;
  bands: number;
}

/**
 * Lays the faces of a mesh with marked rims out in quads, and rings beside the rims. Sides where quads leave no room
 * for one get a band first, whatever faces lie there, and the rest is laid out round it.
 */
function withRings(
  m: PolyMesh,
  distance: number,
  memory: LayoutMemory | undefined,
  ctx: OpContext | undefined,
): { laid: Laid; ringed: Rings } {
  const plain: Laid = { ...laidOut(m, memory, partOf(ctx, 0, 0.5)), bands: 0 };
  const sides = sidesOf(plain.mesh);
  const ringed = ringsAlong(plain.mesh, sides, distance);
  if (!ringed.none.length) return { laid: plain, ringed };
  // A side is known again by the way its edges run.
  const named = new Set(ringed.none.flatMap((side) => side.map((c) => edgeName(plain.mesh, c))));
  let banded;
  try {
    banded = layBands(
      m,
      {
        seam: rimCorners(m),
        width: distance,
        rows: 1,
        shift: 0,
        aim: 'square',
        isWanted: (corners) => corners.some((c) => named.has(edgeName(m, c))),
        isCrease: keptEdges(m),
      },
      partOf(ctx, 0.5, 0.6),
    );
  } catch (e) {
    if (e instanceof MasonError && e.code !== 'cancelled') return { laid: plain, ringed };
    throw e;
  }
  const second: Laid = { ...laidOut(banded.mesh, undefined, partOf(ctx, 0.6, 1)), bands: banded.bands };
  const isAmong = (names: ReadonlySet<string>) => (side: readonly number[]) =>
    side.some((c) => names.has(edgeName(second.mesh, c)));
  const laidOutSides = sidesOf(second.mesh);
  const all = ringsAlong(
    second.mesh,
    laidOutSides.filter((side) => !isAmong(named)(side)),
    distance,
  );
  if (all.rings + banded.bands <= ringed.rings) return { laid: plain, ringed };
  // Sides without room for a band have none of the two.
  const bare = new Set(banded.none.map((c) => edgeName(m, c)));
  const none = [...all.none, ...laidOutSides.filter(isAmong(bare))];
  return { laid: second, ringed: { ...all, none, least: Math.min(all.least, banded.narrowest) } };
}

const laidOut = (m: PolyMesh, memory: LayoutMemory | undefined, ctx: OpContext | undefined) =>
  toQuads(m, { goal: 'subdivision', memory }, ctx);

/** An edge by the places that it runs from and to. */
const edgeName = (m: PolyMesh, c: number): string =>
  [m.corners[c]!, m.corners[topologyOf(m).next[c]!]!].map((v) => vertexPlace(m, v).join()).join(';');

/** The mesh with its rims (runs of vertices) marked, and perhaps its other sharp edges creased. */
function withMarks(m: PolyMesh, rims: readonly (readonly number[])[], others: boolean): PolyMesh {
  const t = topologyOf(m);
  const crease = m.layers.crease?.slice() ?? new Float32Array(m.corners.length);
  const sharp = new Set(others ? sharpEdges(m, SHARP) : []);
  const name = (a: number, b: number) => (a < b ? `${a},${b}` : `${b},${a}`);
  const own = new Set(rims.flatMap((r) => r.map((v, i) => name(v, r[(i + 1) % r.length]!))));
  for (let c = 0; c < crease.length; c++) {
    if (own.has(name(m.corners[c]!, m.corners[t.next[c]!]!))) crease[c] = RIM;
    else crease[c] = sharp.has(t.edge[c]!) ? FOR_EVER : Math.min(crease[c]!, FOR_EVER);
  }
  return { ...m, layers: { ...m.layers, crease } };
}

const isRim = (m: PolyMesh, c: number): boolean => {
  const o = topologyOf(m).opposite[c]!;
  return m.layers.crease![c] === RIM || (o >= 0 && m.layers.crease![o] === RIM);
};
const rimCorners = (m: PolyMesh): number[] => [...topologyOf(m).edgeCorner].filter((c) => isRim(m, c));

/** The mesh with another crease on what is a rim in a mesh of as many corners. */
const creased = (m: PolyMesh, marked: PolyMesh, to: number): PolyMesh => ({
  ...m,
  layers: { ...m.layers, crease: marked.layers.crease!.map((x) => (x === RIM ? to : x)) },
});

/** The sides of all rims: their corners in order, with the side on the left. */
function sidesOf(m: PolyMesh): number[][] {
  const t = topologyOf(m);
  const seen = new Set<number>();
  const out: number[][] = [];
  for (let first = 0; first < m.corners.length; first++) {
    if (seen.has(first) || !isRim(m, first)) continue;
    const side: number[] = [];
    for (let c = first; !seen.has(c);) {
      seen.add(c);
      side.push(c);
      // Round the end of the edge, over the faces on this side, to where the rim goes on.
      let onward = t.next[c]!;
      while (!isRim(m, onward) && t.opposite[onward]! >= 0) onward = t.next[t.opposite[onward]!]!;
      c = onward;
    }
    if (side.every((c) => isRim(m, c))) out.push(side);
  }
  return out;
}
