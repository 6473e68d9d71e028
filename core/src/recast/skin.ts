import { checkCancelled, cross, dot, type Vec3 } from '../mesh/index.ts';
import { meanOf, type Crossing, type Grid } from './grid.ts';

/** How strongly a vertex is drawn to the middle of its crossings, against their planes: what they do not settle. */
const TO_MIDDLE = 1e-3;

/** The new skin: its faces, the face that each comes from, and places that its vertices can fall back on. */
export interface Skin {
  positions: number[];
  faces: number[][];
  from: number[];
  /** The grid point inside that each face is beside, mm. */
  inner: Vec3[];
  plainer: Vec3[];
}

/** The cell's corners as bits: x, y, z. Its edges by the corner that each begins at, and its axis. */
const CELL_EDGES = [0, 1, 2].flatMap((axis) =>
  [0, 1, 2, 3, 4, 5, 6, 7].filter((c) => !(c & (1 << axis))).map((from) => ({ from, to: from | (1 << axis), axis })),
);

/** The faces of a cell: four corners each, round it. */
const CELL_FACES = [0, 1, 2].flatMap((axis) => {
  const [u, v] = [1 << ((axis + 1) % 3), 1 << ((axis + 2) % 3)];
  return [0, 1 << axis].map((low) => [low, low | u, low | u | v, low | v]);
});

/**
 * Of a cell, by which of its corners are inside, the sheet of the skin that each of its crossed edges is of; −1 where
 * it is not crossed. On each face of the cell the skin runs between two crossed edges, and on one whose corners are
 * inside by turns round each corner that is: both cells at a face see it alike, so that their sheets meet.
 */
const SHEETS = Array.from({ length: 256 }, (_, corners) => {
  const is = (c: number) => (corners >> c) & 1;
  const edgeBetween = (a: number, b: number) =>
    CELL_EDGES.findIndex(({ from, to }) => from === Math.min(a, b) && to === Math.max(a, b));
  const root = CELL_EDGES.map((_, e) => e);
  const find = (e: number): number => (root[e] === e ? e : find(root[e]!));
  for (const face of CELL_FACES) {
    const crossed = face
      .map((c, i) => [c, face[(i + 1) % 4]!] as const)
      .filter(([a, b]) => is(a) !== is(b))
      .map(([a, b]) => edgeBetween(a, b));
    if (crossed.length === 2) root[find(crossed[0]!)] = find(crossed[1]!);
    else if (crossed.length === 4)
      face.forEach((c, i) => {
        if (is(c)) root[find(edgeBetween(c, face[(i + 1) % 4]!))] = find(edgeBetween(c, face[(i + 3) % 4]!));
      });
  }
  const names = new Map<number, number>();
  return CELL_EDGES.map(({ from, to }, e) => {
    if (is(from) === is(to)) return -1;
    const key = find(e);
    if (!names.has(key)) names.set(key, names.size);
    return names.get(key)!;
  });
});
/** More sheets than this no cell has. */
const MOST_SHEETS = 12;

/** The skin between inside and outside of a grid: a vertex for each sheet in a cell, a quad for each crossed edge. */
export function skin(grid: Grid): Skin {
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
  /** Two plainer places for each vertex: the middle of its crossings, and of the grid edges that they are on. */
  const plainer: Vec3[] = [];
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
          plainer.push(meanOf(part.map((c) => c.point)), meanOf(part.map((c) => c.half)));
        });
      }
  }
  const faces: number[][] = [];
  const from: number[] = [];
  const inner: Vec3[] = [];
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
          const at: [number, number, number] = [x, y, z];
          if (!here) at[axis]!++;
          inner.push(grid.place(...at));
        }
      }
  return { positions, faces, from, inner, plainer };
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
