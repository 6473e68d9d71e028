import { sizeOf, topologyOf, type PolyMesh, type Vec3, vertexPlace } from '../../mesh/index.ts';
import { neighboursOf } from '../merge.ts';
import { openCorners } from './steps.ts';

/** Gaps up to this share of the size are looked at. */
const WIDEST = 0.02;
/** A tolerance is at most this share of the middle length of open edges: what is welded must not swallow edges. */
const OF_EDGES = 0.3;
/** Of more vertices than this only an even sample is measured. */
const MOST_ASKED = 40_000;
/** Gaps that follow each other by more than this factor are of two kinds: cracks, and what is apart on purpose. */
const APART = 3;

/**
 * Gaps between the open edges of a mesh, mm, from the least on: from each vertex of one to the nearest that it has no
 * edge with.
 */
export function gapsOf(m: PolyMesh): number[] {
  const t = topologyOf(m);
  const open = openCorners(m);
  const beside = new Map<number, Set<number>>();
  for (const c of open) {
    const [a, b] = [m.corners[c]!, m.corners[t.next[c]!]!];
    for (const [v, w] of [
      [a, b],
      [b, a],
    ] as const)
      beside.set(v, (beside.get(v) ?? new Set()).add(w));
  }
  const list = [...beside.keys()];
  if (list.length < 2) return [];
  const at = (v: number): Vec3 => vertexPlace(m, v);
  const near = neighboursOf(list, at, WIDEST * sizeOf(m));
  const out: number[] = [];
  const every = Math.ceil(list.length / MOST_ASKED);
  for (let i = 0; i < list.length; i += every) {
    const v = list[i]!;
    const p = at(v);
    let least = Infinity;
    for (const w of near(v))
      if (!beside.get(v)!.has(w)) least = Math.min(least, Math.hypot(...at(w).map((x, k) => x - p[k]!)));
    if (least < Infinity) out.push(least);
  }
  return out.sort((a, b) => a - b);
}

/**
 * The tolerance that suits the gaps of a mesh, mm: above its cracks, and below what is apart on purpose; 0 where it has
 * no cracks that stand out.
 */
export function suitableTolerance(m: PolyMesh, gaps: readonly number[] = gapsOf(m)): number {
  if (!gaps.length) return 0;
  const t = topologyOf(m);
  const lengths = openCorners(m)
    .map((c) => {
      const [a, b] = [3 * m.corners[c]!, 3 * m.corners[t.next[c]!]!];
      return Math.hypot(...[0, 1, 2].map((k) => m.positions[a + k]! - m.positions[b + k]!));
    })
    .sort((a, b) => a - b);
  const most = Math.min(OF_EDGES * lengths[lengths.length >> 1]!, WIDEST * sizeOf(m));
  const cracks = gaps.filter((g) => g <= most);
  if (!cracks.length) return 0;
  // The first wide step from one gap to the next is where cracks end.
  const floor = 1e-9 * sizeOf(m);
  let [step, after] = [1, 0];
  [...cracks, most].forEach((g, i, all) => {
    const next = all[i + 1];
    if (next === undefined) return;
    const ratio = next / Math.max(g, floor);
    if (ratio > APART && ratio > step) [step, after] = [ratio, g];
  });
  // Gaps of all widths, as between loose triangles, are no cracks.
  return step > 1 ? Math.min(most, Math.max(floor, 1.5 * after)) : 0;
}
