import { topologyOf, vertexPlace, type OpContext, type OpResult, type PolyMesh, type Vec3 } from '../../mesh/index.ts';
import type { SpokeAim } from '../band/aims.ts';
import { layBands } from '../band/band.ts';
import type { Bands } from '../band/bands.ts';
import { keptEdges } from '../band/keptEdges.ts';
import { gatheredRims } from '../gatherRims.ts';
import type { EdgesOptions } from '../operands.ts';

export interface CollarOptions extends EdgesOptions {
  /** mm. */
  width?: number;
  /** Quads from the edges to the band's outer edge. */
  rows?: number;
  aim?: SpokeAim;
  /** How far the outer edge is moved along the edges, mm. */
  shift?: number;
  /** Whether closed seams first keep the segments of what cut them alone (see `gatherRims`). */
  gather?: boolean;
  /** Which sides of the edges get a band: of a cut the part's own surface, or the walls that the cut made. */
  sides?: 'both' | 'surface' | 'walls';
}

export interface CollarReport extends Omit<Bands, 'mesh' | 'none' | 'numbers' | 'seam'> {
  /** The places (mm) of sides that found no room. */
  none: Vec3[];
  /** Vertices of closed seams that went before. */
  gathered: number;
  /** Edges of the seam as it is now, by its vertices. */
  seam: [number, number][];
}

/** Defaults of the options. */
export const COLLAR_DEFAULTS: Required<Pick<CollarOptions, 'width' | 'rows' | 'aim' | 'shift' | 'gather' | 'sides'>> = {
  width: 5,
  rows: 2,
  aim: 'square',
  shift: 0,
  gather: true,
  sides: 'both',
};

/**
 * Lays a band of quads of one width along each side of some edges (by one corner each), over whatever faces lie there:
 * what lies beneath is taken out and what lies beyond tied to it. Runs may close, end within the surface, or end at the
 * border of a sheet. A band narrows where there is no room; sharp, marked and painted edges are kept.
 *
 * @example
 * const { mesh: plate } = carve(box(100, 60, 20), { cutters: [cylinder(8, 40, 24)], operation: 'subtract' });
 * const { mesh } = collar(plate, { edges: seamEdges(plate), width: 3, sides: 'surface' });
 */
export function collar(whole: PolyMesh, options: CollarOptions, ctx?: OpContext): OpResult<CollarReport> {
  const { edges: picked, sides, gather, ...wish } = { ...COLLAR_DEFAULTS, ...options };
  const rims = gather ? gatheredRims(whole, [...picked], () => true) : null;
  const m = rims?.mesh ?? whole;
  const edges = rims?.edges() ?? picked;
  const made = layBands(
    m,
    {
      ...wish,
      seam: edges,
      isWanted: (corners) => sides === 'both' || isWall(m, corners) === (sides === 'walls'),
      isCrease: keptEdges(m),
    },
    ctx,
  );
  const { mesh, bands, quads, others, narrowest, at, narrowed, swallowed, under, moved } = made;
  const seam = made.seam.map(([a, b]): [number, number] => [a, b]);
  const none = made.none.map((c) => vertexPlace(m, m.corners[c]!));
  return {
    mesh,
    report: {
      bands,
      none,
      quads,
      others,
      narrowest,
      at,
      narrowed,
      swallowed,
      under,
      moved,
      seam,
      gathered: rims?.gathered ?? 0,
    },
  };
}

/** Whether most faces of a side (by its corners) are walls that the cut of its edges made. */
function isWall(m: PolyMesh, corners: readonly number[]): boolean {
  const { face } = topologyOf(m);
  const { seam, source } = m.layers;
  const walls = corners.filter((c) => seam?.[c] && source?.[3 * face[c]! + 2] === seam[c]);
  return 2 * walls.length > corners.length;
}
