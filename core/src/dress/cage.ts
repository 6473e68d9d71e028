import { keepFlats } from './keepFlats.ts';
import { dropFalsePlanes, MasonError, type PolyMesh, type Vec3, type OpResult } from '../mesh/index.ts';

/** A box of points round a part or some of its vertices, which are moved to bend what is within. */
/** How far a point of a cage goes, mm: the point by its places along the sides, from 0 on. */
export interface CageMove {
  point: readonly [number, number, number];
  by: Vec3;
}

export interface CageOptions {
  vertices: readonly number[];
  /** Into how many parts each side of the box is divided, 1 to 8. */
  divisions?: readonly [number, number, number];
  /** Which points go where: by their places along the sides, from 0 on, and how far, mm. */
  moves?: readonly CageMove[];
  /** The far end along an axis becomes so many times as wide, evenly from the near end. */
  taper?: { axis: 0 | 1 | 2; ratio: number };
  /** Smooth from point to point, or straight. */
  smooth?: boolean;
  /** Flats that sharp edges bound are flat afterwards, too. */
  flats?: boolean;
}

/**
 * What a cage does: the mesh, how many vertices moved, the furthest way (mm), the lines of the moved cage, pairs of
 * points, and where its points are without their moves, x by x, then y by y, then z by z.
 */
export interface CageReport {
  moved: number;
  furthest: number;
  lines: number[];
  rest: Vec3[];
}

/** A box that is flatter than this share of its longest side is given this much on the flat side. */
const THIN_BOX = 1e-6;

/** Defaults of the options. */
export const CAGE_DEFAULTS: Required<Pick<CageOptions, 'divisions' | 'moves' | 'taper' | 'smooth' | 'flats'>> = {
  divisions: [1, 1, 2],
  moves: [],
  taper: { axis: 2, ratio: 1 },
  smooth: true,
  flats: false,
};

/**
 * Bends vertices by a box cage: each goes by the weighted sum of the ways of the cage's points, Bernstein weights where
 * it is smooth, those of the cell round it where it is straight. The box is that of the vertices. Source: Sederberg and
 * Parry, "Free-form deformation of solid geometric models", 1986.
 * Throws `bad-input` where a point is not in the cage, or the ratio is not above 0.
 *
 * @example
 * const m = cylinder(10, 40, 24);
 * const { mesh } = bendByCage(m, { vertices: elementsOf(m, 'vertex'), taper: { axis: 2, ratio: 0.5 } });
 */
export function bendByCage(m: PolyMesh, options: CageOptions): OpResult<CageReport> {
  const { vertices, ...wish } = { ...CAGE_DEFAULTS, ...options };
  const { divisions, taper, smooth } = wish;
  if (!(taper.ratio > 0)) throw new MasonError('bad-input', 'The ratio of a taper must be above 0.');
  const P = m.positions;
  const low = [0, 1, 2].map((k) => vertices.reduce((x, v) => Math.min(x, P[3 * v + k]!), Infinity));
  const high = [0, 1, 2].map((k) => vertices.reduce((x, v) => Math.max(x, P[3 * v + k]!), -Infinity));
  const longest = Math.max(...high.map((x, k) => x - low[k]!)) || 1;
  const size = high.map((x, k) => Math.max(x - low[k]!, THIN_BOX * longest));
  const count = divisions.map((n) => n + 1) as [number, number, number];
  const index = (i: number, j: number, k: number) => (i * count[1] + j) * count[2] + k;
  const ways = new Float64Array(3 * count[0] * count[1] * count[2]);
  const place = (p: readonly number[]): number[] => p.map((x, k) => low[k]! + (x / divisions[k]!) * size[k]!);
  const each = (run: (p: [number, number, number], at: number) => void) => {
    for (let i = 0; i < count[0]; i++)
      for (let j = 0; j < count[1]; j++) for (let k = 0; k < count[2]; k++) run([i, j, k], 3 * index(i, j, k));
  };
  if (taper.ratio !== 1)
    each((p, at) => {
      const share = p[taper.axis] / divisions[taper.axis];
      const here = place(p);
      for (let k = 0; k < 3; k++)
        if (k !== taper.axis) ways[at + k] = (here[k]! - (low[k]! + size[k]! / 2)) * share * (taper.ratio - 1);
    });
  const rest: Vec3[] = [];
  each((p, at) => rest.push(place(p).map((x, k) => x + ways[at + k]!) as unknown as Vec3));
  for (const { point, by } of wish.moves) {
    if (point.some((x, k) => !(x >= 0 && x < count[k]!)))
      throw new MasonError(
        'bad-input',
        `The cage has no point ${point.join(', ')}: it has ${count.join(' × ')}, counted from 0.`,
      );
    const at = 3 * index(...point);
    for (let k = 0; k < 3; k++) ways[at + k]! += by[k]!;
  }
  const positions = P.slice();
  for (const v of vertices) {
    const w = [0, 1, 2].map((k) => weights((P[3 * v + k]! - low[k]!) / size[k]!, divisions[k]!, smooth));
    const by = [0, 0, 0];
    each(([i, j, k], at) => {
      const x = w[0]![i]! * w[1]![j]! * w[2]![k]!;
      if (x) for (let q = 0; q < 3; q++) by[q]! += x * ways[at + q]!;
    });
    for (let q = 0; q < 3; q++) positions[3 * v + q]! += by[q]!;
  }
  if (wish.flats) keepFlats(m, new Set(vertices), positions);
  let [moved, furthest] = [0, 0];
  for (const v of vertices) {
    const far = Math.hypot(...[0, 1, 2].map((k) => positions[3 * v + k]! - P[3 * v + k]!));
    if (!(far > 0)) continue;
    moved++;
    furthest = Math.max(furthest, far);
  }
  const lines: number[] = [];
  each((p, at) => {
    for (let k = 0; k < 3; k++) {
      if (p[k]! >= divisions[k]!) continue;
      const q: [number, number, number] = [...p];
      q[k]!++;
      const to = 3 * index(...q);
      lines.push(...place(p).map((x, i) => x + ways[at + i]!), ...place(q).map((x, i) => x + ways[to + i]!));
    }
  });
  const mesh = { ...m, positions, layers: { ...m.layers, normal: undefined, plane: m.layers.plane?.slice() } };
  dropFalsePlanes(mesh);
  return { mesh, report: { moved, furthest, lines, rest } };
}

/** Weights of n + 1 points along a side at a share of it. */
function weights(t: number, n: number, smooth: boolean): number[] {
  const out = new Array<number>(n + 1).fill(0);
  if (!smooth) {
    const i = Math.max(0, Math.min(n - 1, Math.floor(t * n)));
    out[i] = i + 1 - t * n;
    out[i + 1] = t * n - i;
    return out;
  }
  let binomial = 1;
  for (let i = 0; i <= n; i++) {
    out[i] = binomial * t ** i * (1 - t) ** (n - i);
    binomial = (binomial * (n - i)) / (i + 1);
  }
  return out;
}
