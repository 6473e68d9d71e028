import type { PolyMesh, Vec3 } from '../../mesh/index.ts';
import type { SpokeAim } from './aims.ts';

/** Settings of a band. */
export interface BandWish {
  /** Corners of the mesh along the seam, one for each edge. */
  seam: Iterable<number>;
  /** mm. */
  width: number;
  /** Quads from the seam to the outer edge. */
  rows: number;
  /** How far the outer edge is moved along the seam, mm. */
  shift: number;
  /** Whether the side that corners of the seam lie on gets a band. */
  isWanted: (corners: readonly number[]) => boolean;
  /** Whether an edge (by a corner) is to be kept: bands keep away from it, or run their spokes along it. */
  isCrease: (corner: number) => boolean;
  aim: SpokeAim;
}

/** What was laid, with places in mm. */
export interface Bands {
  mesh: PolyMesh;
  /** Corners of the mesh given, one for each edge of a side that has none. */
  none: number[];
  bands: number;
  quads: number;
  /** Cells with three or with more than four corners. */
  others: number;
  /** The narrowest width and where; how many spokes are narrower than asked for. */
  narrowest: number;
  at: Vec3 | null;
  narrowed: number;
  /** Faces that went altogether, and edges that lie under bands. */
  swallowed: number;
  under: number;
  /** The farthest that the seam was moved, mm. */
  moved: number;
  /** Edges of the seam as it is now: vertices of the mesh made, and a corner of the mesh given along the edge. */
  seam: SeamEdge[];
  /** Where each vertex of the mesh given went; −1 for one that went. */
  numbers: Int32Array;
}

/** An edge by its vertices, and a corner. */
export type SeamEdge = readonly [number, number, number];
