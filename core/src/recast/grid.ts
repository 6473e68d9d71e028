import {
  bounds,
  checkCancelled,
  cross,
  dot,
  lengthOf,
  SpatialIndex,
  sub,
  unit,
  type OpContext,
  type PolyMesh,
  type Vec3,
} from '../mesh/index.ts';
import { WindingTree } from './windingTree.ts';

/** Empty cells round what is recast. */
export const EMPTY_CELLS = 2;
/** A crossing is looked for by so many halvings of a grid edge. */
const CROSSING_HALVINGS = 12;
/** A crossing nearer to the surface than this share of a cell is on it, and has its face's normal. */
const ON_SURFACE = 0.01;

/** The middle of some places. */
export const meanOf = (list: readonly Vec3[]): Vec3 =>
  [0, 1, 2].map((k) => list.reduce((s, p) => s + p[k]!, 0) / list.length) as unknown as Vec3;

/** Where a grid edge crosses the skin, how the skin looks there, and the face that is there or nearest. */
export interface Crossing {
  point: Vec3;
  /** The middle of the grid edge. */
  half: Vec3;
  normal: Vec3;
  face: number;
}

/** Inside and outside at the points of a grid, and where edges between them cross the skin. */
export class Grid {
  private readonly low: Vec3;
  private readonly inside: Uint8Array;
  private readonly tree: WindingTree;
  private readonly surface: SpatialIndex;

  constructor(
    m: PolyMesh,
    readonly cell: number,
    readonly points: readonly [number, number, number],
    readonly ctx?: OpContext,
  ) {
    const { min, max } = bounds(m);
    this.low = [0, 1, 2].map((k) => (min[k]! + max[k]!) / 2 - (cell * (points[k]! - 1)) / 2) as unknown as Vec3;
    this.tree = new WindingTree(m);
    this.surface = new SpatialIndex(m);
    const [nx, ny, nz] = points;
    this.inside = new Uint8Array(nx * ny * nz);
    let i = 0;
    for (let z = 0; z < nz; z++) {
      for (let y = 0; y < ny; y++) {
        checkCancelled(ctx);
        for (let x = 0; x < nx; x++, i++) {
          // Beyond the box is outside, whatever a mesh with holes winds round: so the skin is closed.
          const inner = [x, y, z].every((k, axis) => k >= EMPTY_CELLS && k < points[axis]! - EMPTY_CELLS);
          this.inside[i] = inner && this.isInside(this.place(x, y, z)) ? 1 : 0;
        }
      }
      ctx?.progress?.((0.7 * z) / nz, 'Telling inside from outside');
    }
  }

  place = (x: number, y: number, z: number): Vec3 => [
    this.low[0] + this.cell * x,
    this.low[1] + this.cell * y,
    this.low[2] + this.cell * z,
  ];
  private isInside = (p: Vec3): boolean => this.tree.at(p) > 0.5;
  index = (x: number, y: number, z: number): number => x + this.points[0] * (y + this.points[1] * z);
  at = (i: number): number => this.inside[i]!;

  private normalOf(triangle: number): Vec3 {
    const [p, q, r] = this.surface.corners(triangle);
    return unit(cross(sub(q, p), sub(r, p)));
  }

  /** Where the way from a place inside to one outside crosses the skin, and how the skin looks there. */
  crossing(a: Vec3, b: Vec3): Crossing {
    const half = meanOf([a, b]);
    const hit = this.surface.raycast(a, sub(b, a));
    if (hit && hit.distance < 1) {
      const normal = this.normalOf(hit.triangle);
      if (dot(normal, sub(b, a)) > 0) return { point: hit.point, half, normal, face: hit.face };
    }
    let [inside, outside] = [a, b];
    for (let k = 0; k < CROSSING_HALVINGS; k++) {
      const middle = meanOf([inside, outside]);
      if (this.isInside(middle)) inside = middle;
      else outside = middle;
    }
    const point = meanOf([inside, outside]);
    const near = this.surface.closest(point)!;
    if (near.distance < ON_SURFACE * this.cell) {
      const normal = this.normalOf(near.triangle);
      if (dot(normal, sub(b, a)) > 0) return { point: near.point, half, normal, face: near.face };
    }
    // In a gap: the way in which there is less and less inside.
    const step = this.cell / 8;
    const slope = [0, 1, 2].map(
      (k) =>
        this.tree.at(point.map((x, j) => x - (j === k ? step : 0))) -
        this.tree.at(point.map((x, j) => x + (j === k ? step : 0))),
    ) as unknown as Vec3;
    return { point, half, normal: lengthOf(slope) > 0 ? unit(slope) : unit(sub(b, a)), face: near.face };
  }
}
