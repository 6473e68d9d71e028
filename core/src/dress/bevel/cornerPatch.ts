import { add, lengthOf, scaled, sub, type Vec3 } from '../../mesh/index.ts';

/**
 * Quads that fill a boundary of `sides` sides with `segments` stretches each; the boundary's vertices come first, then
 * those inside.
 */
export interface PatchGrid {
  border: number;
  count: number;
  faces: number[][];
  /** Neighbours of each vertex. */
  near: number[][];
  /** For vertices of the border that have an edge inwards: side, place on it, vertex, and the one inside. */
  inwards: { side: number; vertex: number; inside: number }[];
  /** Inverse of the least-squares system of the inside. */
  solve: Float64Array[] | null;
  /** Inverse of the harmonic one. */
  harmonic: Float64Array[] | null;
}

const known = new Map<number, PatchGrid>();

/**
 * The grid of a patch: as many square grids as there are sides, round a middle vertex where the stretches are even in
 * number, round a middle face where they are odd.
 */
export function patchGrid(sides: number, segments: number): PatchGrid {
  const key = 1000 * sides + segments;
  let grid = known.get(key);
  if (!grid) known.set(key, (grid = makeGrid(sides, segments)));
  return grid;
}

function makeGrid(n: number, s: number): PatchGrid {
  const border = n * s;
  let count = border;
  const onBorder = (side: number, k: number) => (k === s ? ((side + 1) % n) * s : (((side % n) + n) % n) * s + k);
  const half = Math.floor(s / 2);
  const even = s % 2 === 0;
  const middle = even ? count++ : -1;
  /** Of an even grid: the line from the middle of each side to the middle vertex. */
  const lines = even
    ? Array.from({ length: n }, (_, j) =>
        Array.from({ length: half + 1 }, (_, k) => (k === 0 ? onBorder(j, half) : k === half ? middle : count++)),
      )
    : [];
  const quarters = Array.from({ length: n }, (_, j) =>
    Array.from({ length: half + 1 }, (_, a) =>
      Array.from({ length: half + 1 }, (_, b) => {
        if (b === 0) return onBorder(j, a);
        if (a === 0) return onBorder(j - 1 + n, s - b);
        if (even && a === half) return lines[j]![b]!;
        if (even && b === half) return lines[(j + n - 1) % n]![a]!;
        return count++;
      }),
    ),
  );
  const faces: number[][] = [];
  for (const q of quarters)
    for (let a = 0; a < half; a++)
      for (let b = 0; b < half; b++) faces.push([q[a]![b]!, q[a + 1]![b]!, q[a + 1]![b + 1]!, q[a]![b + 1]!]);
  if (!even) {
    quarters.forEach((q, j) => {
      const on = quarters[(j + 1) % n]!;
      for (let b = 0; b < half; b++) faces.push([q[half]![b]!, on[b]![half]!, on[b + 1]![half]!, q[half]![b + 1]!]);
    });
    faces.push(quarters.map((q) => q[half]![half]!));
  }
  const near: number[][] = Array.from({ length: count }, () => []);
  for (const f of faces)
    f.forEach((u, i) => {
      const v = f[(i + 1) % f.length]!;
      if (!near[u]!.includes(v)) near[u]!.push(v);
      if (!near[v]!.includes(u)) near[v]!.push(u);
    });
  const inwards: PatchGrid['inwards'] = [];
  for (let side = 0; side < n; side++)
    for (let k = 1; k < s; k++) {
      const vertex = onBorder(side, k);
      for (const inside of near[vertex]!) if (inside >= border) inwards.push({ side, vertex, inside });
    }
  const grid: PatchGrid = { border, count, faces, near, inwards, solve: null, harmonic: null };
  const inner = count - border;
  if (!inner) return grid;
  const H = Array.from({ length: inner }, () => new Float64Array(inner));
  const N = Array.from({ length: inner }, () => new Float64Array(inner));
  for (let i = 0; i < inner; i++) {
    H[i]![i] = 1;
    for (const w of near[border + i]!) if (w >= border) H[i]![w - border]! -= 1 / near[border + i]!.length;
  }
  for (const row of rowsOf(grid))
    for (const [a, x] of row)
      for (const [b, y] of row) if (a >= border && b >= border) N[a - border]![b - border]! += x * y;
  grid.harmonic = inverse(H);
  grid.solve = inverse(N);
  return grid;
}

/**
 * The function to minimise: at each inner vertex its distance from the mean of its neighbours, at the border the bend
 * against the strip beyond.
 */
function rowsOf(g: PatchGrid): [number, number][][] {
  const out: [number, number][][] = [];
  for (let v = g.border; v < g.count; v++)
    out.push([[v, -1], ...g.near[v]!.map((w): [number, number] => [w, 1 / g.near[v]!.length])]);
  for (const { vertex, inside } of g.inwards)
    out.push([
      [inside, 0.5],
      [vertex, -1],
    ]);
  return out;
}

/**
 * Places of all vertices of a patch, from those of its border: the smoothest inside, going on from the strips beyond
 * the sides in the direction that
 * `outwards` gives for a side (a unit vector; none: free).
 */
export function fairPatch(g: PatchGrid, border: readonly Vec3[], outwards: (side: number) => Vec3 | null): Vec3[] {
  const inner = g.count - g.border;
  if (!inner) return [...border];
  const rhs = Array.from({ length: inner }, (_, i) =>
    g.near[g.border + i]!.reduce<Vec3>(
      (s, w) => (w < g.border ? add(s, border[w]!, 1 / g.near[g.border + i]!.length) : s),
      [0, 0, 0],
    ),
  );
  const first = times(g.harmonic!, rhs);
  const pull: Vec3[] = Array.from({ length: inner }, () => [0, 0, 0]);
  const rows = rowsOf(g);
  rows.forEach((row, r) => {
    let fixed: Vec3 = [0, 0, 0];
    for (const [v, x] of row) if (v < g.border) fixed = add(fixed, border[v]!, x);
    if (r >= inner) {
      const { side, vertex, inside } = g.inwards[r - inner]!;
      const from = border[vertex]!;
      const way = outwards(side);
      const here = first[inside - g.border]!;
      const beyond = way ? add(from, way, lengthOf(sub(here, from))) : sub(scaled(from, 2), here);
      fixed = add(fixed, beyond, 0.5);
    }
    for (const [v, x] of row) if (v >= g.border) pull[v - g.border] = add(pull[v - g.border]!, fixed, -x);
  });
  return [...border, ...times(g.solve!, pull)];
}

const times = (M: readonly Float64Array[], x: readonly Vec3[]): Vec3[] =>
  M.map((row) => x.reduce<Vec3>((s, p, i) => add(s, p, row[i]!), [0, 0, 0]));

/** The inverse of a small matrix by Gauss and Jordan, with pivots. */
function inverse(A: readonly Float64Array[]): Float64Array[] {
  const n = A.length;
  const M = A.map((row, i) => Float64Array.from({ length: 2 * n }, (_, j) => (j < n ? row[j]! : j - n === i ? 1 : 0)));
  for (let i = 0; i < n; i++) {
    let p = i;
    for (let r = i + 1; r < n; r++) if (Math.abs(M[r]![i]!) > Math.abs(M[p]![i]!)) p = r;
    [M[i], M[p]] = [M[p]!, M[i]!];
    const d = M[i]![i]!;
    for (let c = 0; c < 2 * n; c++) M[i]![c]! /= d;
    for (let r = 0; r < n; r++) {
      const q = M[r]![i]!;
      if (r !== i && q) for (let c = 0; c < 2 * n; c++) M[r]![c]! -= q * M[i]![c]!;
    }
  }
  return M.map((row) => row.slice(n));
}
