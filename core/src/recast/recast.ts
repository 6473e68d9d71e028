import {
  bounds,
  checkCancelled,
  cross,
  dot,
  faceCount,
  LAYERS,
  lengthOf,
  MasonError,
  meshFromFaces,
  SpatialIndex,
  sub,
  unit,
  type OpContext,
  type PolyMesh,
  type Vec3,
  type OpResult,
} from '../mesh/index.ts';
import { LEAST_CELLS, MOST_CELLS } from './cellLimits.ts';
import { WindingTree } from './windingTree.ts';

/** Empty cells round what is recast. */
const EMPTY_CELLS = 2;
/**
 * Of a cell: so much less than a whole number of them lies along the longest side, so that its ends are not on grid
 * points.
 */
const OFF_GRID = 0.382;
/** A crossing is looked for by so many halvings of a grid edge. */
const CROSSING_HALVINGS = 12;
/** A crossing nearer to the surface than this share of a cell is on it, and has its face's normal. */
const ON_SURFACE = 0.01;
/** How strongly a vertex is drawn to the middle of its crossings, against their planes: what they do not settle. */
const TO_MIDDLE = 1e-3;

export interface RecastOptions {
  /** Cells along the longest side. */
  cells: number;
}

export interface RecastReport {
  /** Side of a cell, mm, and grid points along x, y and z. */
  cell: number;
  points: [number, number, number];
  quads: number;
}

/**
 * Rebuilds a body through a volume grid: what the surface winds round by more than a half is inside, and the border
 * between inside and outside becomes a new skin, mostly of quads, with its vertices on edges and corners where the
 * faces about them have some. It takes any mesh whose faces look the same way, however broken. Slots are those of the
 * nearest faces; UVs and seams are lost, and details thinner than a cell may be.
 *
 * `cells` along the longest side. Returns the mesh, closed; where it would touch itself within a cell, it does. Throws
 * `bad-input` where nothing is inside.
 * Source: T. Ju, F. Losasso, S. Schaefer, J. Warren, Dual Contouring of Hermite Data (2002), with a vertex for each
 * sheet of the skin in a cell, as in S. Schaefer, T. Ju, J. Warren, Manifold Dual Contouring (2007).
 *
 * @example
 * const { mesh, report } = recast(cylinder(10, 20, 24), { cells: 24 });
 */
export function recast(m: PolyMesh, { cells }: RecastOptions, ctx?: OpContext): OpResult<RecastReport> {
  if (!faceCount(m)) throw new MasonError('bad-input', 'There are no faces to recast.');
  if (!(cells >= LEAST_CELLS && cells <= MOST_CELLS))
    throw new MasonError('bad-input', `Recast takes ${LEAST_CELLS} to ${MOST_CELLS} cells along the longest side.`);
  const { min, max } = bounds(m);
  const cell = Math.max(...max.map((x, k) => x - min[k]!)) / (cells - OFF_GRID);
  if (!(cell > 0)) throw new MasonError('bad-input', 'All vertices lie at one place.');
  const points = [0, 1, 2].map((k) => Math.ceil((max[k]! - min[k]!) / cell) + 2 * EMPTY_CELLS + 1) as [
    number,
    number,
    number,
  ];
  const grid = new Grid(m, cell, points, ctx);
  const { positions, faces, from } = skin(grid);
  if (!faces.length)
    throw new MasonError(
      'bad-input',
      `Nothing is inside: the part has no volume, faces inward, or is thinner than a cell of ${cell.toPrecision(2)} mm.`,
    );
  const mesh = { ...meshFromFaces(positions, faces), slots: m.slots };
  // What a face is of, it takes from the face that was there.
  for (const name of ['slot', 'source', 'body'] as const) {
    const layer = m.layers[name];
    const { size } = LAYERS[name];
    if (layer)
      mesh.layers[name] = Int32Array.from(
        { length: size * from.length },
        (_, i) => layer[size * from[Math.floor(i / size)]! + (i % size)]!,
      );
  }
  return { mesh, report: { cell, points, quads: faces.length } };
}

/** Where a grid edge crosses the skin, how the skin looks there, and the face that is there or nearest. */
interface Crossing {
  point: Vec3;
  normal: Vec3;
  face: number;
}

/** Inside and outside at the points of a grid, and where edges between them cross the skin. */
class Grid {
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
    for (let z = 0, i = 0; z < nz; z++) {
      for (let y = 0; y < ny; y++) {
        checkCancelled(ctx);
        for (let x = 0; x < nx; x++) this.inside[i++] = this.isInside(this.place(x, y, z)) ? 1 : 0;
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
    const hit = this.surface.raycast(a, sub(b, a));
    if (hit && hit.distance < 1) {
      const normal = this.normalOf(hit.triangle);
      if (dot(normal, sub(b, a)) > 0) return { point: hit.point, normal, face: hit.face };
    }
    let [inside, outside] = [a, b];
    for (let k = 0; k < CROSSING_HALVINGS; k++) {
      const half = inside.map((x, i) => (x + outside[i]!) / 2) as unknown as Vec3;
      if (this.isInside(half)) inside = half;
      else outside = half;
    }
    const point = inside.map((x, i) => (x + outside[i]!) / 2) as unknown as Vec3;
    const near = this.surface.closest(point)!;
    if (near.distance < ON_SURFACE * this.cell) {
      const normal = this.normalOf(near.triangle);
      if (dot(normal, sub(b, a)) > 0) return { point: near.point, normal, face: near.face };
    }
    // In a gap: the way in which there is less and less inside.
    const step = this.cell / 8;
    const slope = [0, 1, 2].map(
      (k) =>
        this.tree.at(point.map((x, j) => x - (j === k ? step : 0))) -
        this.tree.at(point.map((x, j) => x + (j === k ? step : 0))),
    ) as unknown as Vec3;
    return { point, normal: lengthOf(slope) > 0 ? unit(slope) : unit(sub(b, a)), face: near.face };
  }
}

/** The cell's corners as bits: x, y, z. Its edges by the corner that each begins at, and its axis. */
const CELL_EDGES = [0, 1, 2].flatMap((axis) =>
  [0, 1, 2, 3, 4, 5, 6, 7].filter((c) => !(c & (1 << axis))).map((from) => ({ from, to: from | (1 << axis), axis })),
);

/**
 * Of a cell, by which of its corners are inside, the sheet of the skin that each of its crossed edges is of; −1 where
 * it is not crossed.
 */
const SHEETS = Array.from({ length: 256 }, (_, corners) => {
  const root = [0, 1, 2, 3, 4, 5, 6, 7];
  const find = (c: number): number => (root[c] === c ? c : find(root[c]!));
  const is = (c: number) => (corners >> c) & 1;
  for (const { from, to } of CELL_EDGES) if (is(from) === is(to)) root[find(from)] = find(to);
  const names = new Map<number, number>();
  return CELL_EDGES.map(({ from, to }) => {
    if (is(from) === is(to)) return -1;
    const key = is(from) ? 8 * find(from) + find(to) : 8 * find(to) + find(from);
    if (!names.has(key)) names.set(key, names.size);
    return names.get(key)!;
  });
});
/** More sheets than this no cell has. */
const MOST_SHEETS = 12;

function skin(grid: Grid): { positions: number[]; faces: number[][]; from: number[] } {
  const [nx, ny, nz] = grid.points;
  const crossings = new Map<number, Crossing>();
  const crossingOf = (x: number, y: number, z: number, axis: number) => {
    const i = grid.index(x, y, z);
    const key = 3 * i + axis;
    let known = crossings.get(key);
    if (!known) {
      const [a, b] = [
        grid.place(x, y, z),
        grid.place(x + (axis === 0 ? 1 : 0), y + (axis === 1 ? 1 : 0), z + (axis === 2 ? 1 : 0)),
      ];
      crossings.set(key, (known = grid.at(i) ? grid.crossing(a, b) : grid.crossing(b, a)));
    }
    return known;
  };
  const positions: number[] = [];
  const vertexOf = new Map<number, number>();
  const bitsOf = (x: number, y: number, z: number): number => {
    let bits = 0;
    for (let c = 0; c < 8; c++) bits |= grid.at(grid.index(x + (c & 1), y + ((c >> 1) & 1), z + (c >> 2))) << c;
    return bits;
  };
  for (let z = 0; z + 1 < nz; z++) {
    checkCancelled(grid.ctx);
    grid.ctx?.progress?.(0.7 + (0.3 * z) / nz, 'Laying the skin');
    for (let y = 0; y + 1 < ny; y++)
      for (let x = 0; x + 1 < nx; x++) {
        const bits = bitsOf(x, y, z);
        if (bits === 0 || bits === 255) continue;
        const sheets = SHEETS[bits]!;
        const parts: Crossing[][] = [];
        CELL_EDGES.forEach(({ from, axis }, e) => {
          if (sheets[e]! >= 0)
            (parts[sheets[e]!] ??= []).push(crossingOf(x + (from & 1), y + ((from >> 1) & 1), z + (from >> 2), axis));
        });
        parts.forEach((part, k) => {
          vertexOf.set(MOST_SHEETS * grid.index(x, y, z) + k, positions.length / 3);
          positions.push(...nearestToAll(part, grid.place(x, y, z), grid.cell));
        });
      }
  }
  const faces: number[][] = [];
  const from: number[] = [];
  for (let z = 1; z + 1 < nz; z++)
    for (let y = 1; y + 1 < ny; y++)
      for (let x = 1; x + 1 < nx; x++) {
        const here = grid.at(grid.index(x, y, z));
        for (let axis = 0; axis < 3; axis++) {
          if (
            here === grid.at(grid.index(x + (axis === 0 ? 1 : 0), y + (axis === 1 ? 1 : 0), z + (axis === 2 ? 1 : 0)))
          )
            continue;
          const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
          // The four cells round the edge, counter-clockwise seen along its axis.
          const ring = [
            [0, 0],
            [-1, 0],
            [-1, -1],
            [0, -1],
          ].map(([a, b]) => {
            const off = [0, 0, 0];
            [off[u], off[v]] = [a!, b!];
            const at = [x + off[0]!, y + off[1]!, z + off[2]!] as const;
            const from = (a ? 1 << u : 0) | (b ? 1 << v : 0);
            const e = CELL_EDGES.findIndex((edge) => edge.from === from && edge.axis === axis);
            return vertexOf.get(MOST_SHEETS * grid.index(...at) + SHEETS[bitsOf(...at)]![e]!)!;
          });
          faces.push(here ? ring : ring.reverse());
          from.push(crossingOf(x, y, z, axis).face);
        }
      }
  return { positions, faces, from };
}

/**
 * The place in a cell that is nearest to the planes of its crossings, and, as far as they leave it open, to their
 * middle.
 */
function nearestToAll(list: readonly Crossing[], low: Vec3, cell: number): number[] {
  const middle = [0, 1, 2].map((k) => list.reduce((s, c) => s + c.point[k]!, 0) / list.length);
  const A = [0, 1, 2].map((i) =>
    [0, 1, 2].map((j) => list.reduce((s, c) => s + c.normal[i]! * c.normal[j]!, i === j ? TO_MIDDLE : 0)),
  );
  const r = [0, 1, 2].map((i) =>
    list.reduce((s, c) => s + c.normal[i]! * c.normal.reduce((d, n, k) => d + n * (c.point[k]! - middle[k]!), 0), 0),
  );
  const det = (a: number[][]) => dot(a[0] as unknown as Vec3, cross(a[1] as unknown as Vec3, a[2] as unknown as Vec3));
  const whole = det(A);
  // By Cramer's rule; A is symmetric, so its rows are its columns.
  return [0, 1, 2].map((k) => {
    const x = middle[k]! + det(A.map((row, i) => (i === k ? r : row))) / whole;
    return Math.min(low[k]! + cell, Math.max(low[k]!, x));
  });
}
