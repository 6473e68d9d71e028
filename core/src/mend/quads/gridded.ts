import { lengthOf, sub, type NewCorner, type NewFace, type Vec3 } from '../../mesh/index.ts';
import { corner, type MeshEdit } from '../meshEdit.ts';
import { between } from '../split.ts';

/** Shares of an edge that part it evenly. */
export const evenly = (parts: number): number[] => Array.from({ length: parts - 1 }, (_, i) => (i + 1) / parts);

/** A plain quad whose edges are split alike on opposite sides, as a grid. */
export function gridded(e: MeshEdit, f: number, runs: readonly NewCorner[][]): NewFace[] {
  const [low, right, high, left] = runs as [NewCorner[], NewCorner[], NewCorner[], NewCorner[]];
  const [n, k] = [low.length, right.length];
  const ends = runs.map((r) => e.at(r[0]!.vertex)) as [Vec3, Vec3, Vec3, Vec3];
  const vertex = (i: number, j: number): number => {
    if (j === 0) return i < n ? low[i]!.vertex : right[0]!.vertex;
    if (j === k) return i > 0 ? high[n - i]!.vertex : left[0]!.vertex;
    if (i === 0) return left[k - j]!.vertex;
    if (i === n) return right[j]!.vertex;
    return inner[(j - 1) * (n - 1) + i - 1]!;
  };
  /** How far along its edge each corner of a run is. */
  const sharesOf = (run: readonly NewCorner[], end: Vec3): number[] => {
    const from = e.at(run[0]!.vertex);
    const length = lengthOf(sub(end, from));
    return run.map((c) => lengthOf(sub(e.at(c.vertex), from)) / length);
  };
  const [along, up] = [sharesOf(low, ends[1]), sharesOf(right, ends[2])];
  const inner: number[] = [];
  for (let j = 1; j < k; j++)
    for (let i = 1; i < n; i++)
      inner.push(e.vertex(between(between(ends[0], ends[1], along[i]!), between(ends[3], ends[2], along[i]!), up[j]!)));
  const faces: NewFace[] = [];
  for (let j = 0; j < k; j++)
    for (let i = 0; i < n; i++) {
      const at = [
        [i, j],
        [i + 1, j],
        [i + 1, j + 1],
        [i, j + 1],
      ] as const;
      const edge = [
        j === 0 ? low[0]!.edge : -1,
        i === n - 1 ? right[0]!.edge : -1,
        j === k - 1 ? high[0]!.edge : -1,
        i === 0 ? left[0]!.edge : -1,
      ];
      faces.push({ from: f, boundaries: [at.map(([x, y], s) => corner(vertex(x, y), edge[s]!))] });
    }
  return faces;
}
