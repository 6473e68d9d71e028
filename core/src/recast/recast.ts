import {
  bounds,
  checkCancelled,
  faceAreas,
  faceCount,
  hasNoArea,
  LAYERS,
  MasonError,
  meshFromFaces,
  sizeOf,
  type OpContext,
  type PolyMesh,
  type OpResult,
  pairsThatMeet,
} from '../mesh/index.ts';
import { LEAST_CELLS, MOST_CELLS } from './cellLimits.ts';
import { EMPTY_CELLS, Grid } from './grid.ts';
import { skin, type Skin } from './skin.ts';

/**
 * Share of a cell by which the longest side falls short of a whole number of cells, so that its ends are not on grid
 * points.
 */
const OFF_GRID = 0.382;

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
 * `cells` along the longest side. Returns the mesh, closed; where two sheets of it touch along an edge, each has its
 * own vertex there. Throws
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
  const made = sound(skin(grid), ctx);
  if (partTouching(made)) sound(made, ctx);
  const { positions, faces, from } = made;
  if (!faces.length)
    throw new MasonError(
      'bad-input',
      `Nothing is inside: the part has no volume, faces inward, or is thinner than a cell of ${cell.toPrecision(2)} mm.`,
    );
  const mesh = { ...meshFromFaces(positions, faces), slots: m.slots };
  // A face takes its slot and source from the face that was there.
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

/**
 * The skin without faces that cut through each other or have no area, as it gets where sharp features are thinner than
 * a few cells: vertices of such faces fall back on the middle of their crossings, and then of their grid edges, where
 * all faces are level with the grid.
 */
function sound(made: Skin, ctx: OpContext | undefined): Skin {
  const { positions, faces, plainer } = made;
  const fallen = new Uint8Array(positions.length / 3);
  let near: (face: number) => boolean = () => true;
  for (let round = 0; round < MOST_FALLBACKS; round++) {
    checkCancelled(ctx);
    const mesh = meshFromFaces(positions, faces);
    const size = sizeOf(mesh);
    const areas = faceAreas(mesh);
    const bad = [
      ...[...areas.keys()].filter((f) => near(f) && hasNoArea(mesh, f, areas[f]!, size)),
      ...pairsThatMeet(mesh, { wanted: near, ctx: { signal: ctx?.signal } }).flat(),
    ];
    const moved = new Set<number>();
    for (const v of bad.flatMap((f) => faces[f]!)) {
      // Those that part two sheets have no other place.
      if (fallen[v] === 2 || moved.has(v) || 2 * v >= plainer.length) continue;
      moved.add(v);
      const place = plainer[2 * v + fallen[v]!]!;
      fallen[v]!++;
      for (let k = 0; k < 3; k++) positions[3 * v + k] = place[k]!;
    }
    if (!moved.size) break;
    const touched = Uint8Array.from(faces, (ring) => (ring.some((v) => moved.has(v)) ? 1 : 0));
    near = (f) => touched[f] === 1;
  }
  return made;
}

/** Rounds of falling back: each vertex falls back twice at most, and seldom draws others along. */
const MOST_FALLBACKS = 12;

/** How far a vertex at which two sheets would touch moves inward, as a share of the way. */
const APART = 0.02;

/**
 * Where two sheets of the skin touch along an edge, each gets a vertex of its own near the middle of it. Faces of one
 * sheet there are beside the same grid point inside. Whether there were any.
 */
function partTouching({ positions, faces, inner }: Skin): boolean {
  const n = positions.length / 3;
  const sides = new Map<number, number[]>();
  faces.forEach((ring, f) =>
    ring.forEach((a, i) => {
      const b = ring[(i + 1) % ring.length]!;
      const key = Math.min(a, b) * n + Math.max(a, b);
      const list = sides.get(key);
      if (list) list.push(f);
      else sides.set(key, [f]);
    }),
  );
  const touching = [...sides].filter(([, list]) => list.length > 2);
  for (const [key, list] of touching) {
    const [a, b] = [Math.floor(key / n), key % n];
    const own = new Map<string, number>();
    for (const f of list) {
      const ring = faces[f]!;
      const beside = inner[f]!.join();
      let v = own.get(beside);
      if (v === undefined) {
        v = positions.length / 3;
        own.set(beside, v);
        for (let k = 0; k < 3; k++) {
          const middle = (positions[3 * a + k]! + positions[3 * b + k]!) / 2;
          positions.push(middle + APART * (inner[f]![k]! - middle));
        }
      }
      const at = ring.findIndex((x, i) => {
        const y = ring[(i + 1) % ring.length];
        return (x === a && y === b) || (x === b && y === a);
      });
      ring.splice(at + 1, 0, v);
    }
  }
  return touching.length > 0;
}
