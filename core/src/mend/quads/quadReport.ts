import type { Vec3 } from '../../mesh/index.ts';
import type { LayoutMemory } from './layoutMemory.ts';
import type { QuadGoal } from './quadFace.ts';

export interface QuadOptions {
  /** Which faces; all when left out. */
  wanted?: (face: number) => boolean;
  goal?: QuadGoal;
  /** Whether edges may be split: straight ones for better shapes, and others where a triangle would be left else. */
  split?: boolean;
  /**
   * Whether vertices of rims go at which only rows of a surface ended, so that a rim keeps the segments of what cut it. It
   * moves by little more than facets are from their bend; on flats not at all.
   */
  gather?: boolean;
  /**
   * Triangles beside each other become quads where the surface bends by less than this between them, degrees; 0 for
   * none.
   */
  pairs?: number;
  /**
   * Whether all triangles do so; else those that touch faces that are laid out, and all where there are none such and
   * most faces are triangles.
   */
  all?: boolean;
  /**
   * About how long edges are to be, mm: rows of quads with longer ones are divided. 0 leaves them as the layout makes
   * them.
   */
  density?: number;
  /** Where layouts of faces that have not changed are found again. */
  memory?: LayoutMemory;
}

/** All of what is wanted, but for which faces. */
export type QuadWish = Required<Omit<QuadOptions, 'wanted' | 'memory'>> & Pick<QuadOptions, 'memory'>;

export interface QuadReport {
  /** Faces that were laid out anew; quads and triangles that came of them, and quads that rows were divided into. */
  faces: number;
  quads: number;
  triangles: number;
  divided: number;
  /** Faces for which no sound layout was found: they stay n-gons. */
  left: number;
  /** Triangles that became quads in pairs. */
  paired: number;
  /** Edges that were split; those of them on rounded boundaries. */
  split: number;
  rounded: number;
  /** Vertices of rims that went. */
  gathered: number;
  /** Faces that are laid out evenly about a mirror line, of those that have any. */
  mirrored: number;
  even: number;
  /** New edges within the old faces; those of them that run along or across the boundaries, to 15°. */
  inner: number;
  along: number;
  /**
   * The sharpest corner of a new face, degrees, and vertices where other than four faces meet: within the old faces, and
   * where facets of a surface were laid out as one along their border.
   */
  sharpest: number;
  poles: number;
  /** Where those are, mm: up to a few hundred of each. */
  places: { triangles: Vec3[]; left: Vec3[]; poles: Vec3[]; sharpest: Vec3[] };
}

/** Defaults of the options. */
export const QUAD_DEFAULTS: Required<Pick<QuadOptions, 'goal' | 'split' | 'gather' | 'pairs' | 'all' | 'density'>> = {
  goal: 'shape',
  split: true,
  gather: true,
  pairs: 20,
  all: false,
  density: 0,
};
