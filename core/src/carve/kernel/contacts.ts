import { Bvh } from '../../mesh/index.ts';
import { distanceInside } from './coplanar.ts';
import type { State } from './state.ts';

/**
 * Between steps 4 and 5, only when the plain way has failed: a body that touches itself, an edge of it on a face of it,
 * has cut lines that end on the middle of other cut lines, where no pair of bodies has put a point. Every vertex that
 * lies within tol on the inside of an edge or a cut line splits it.
 */
export function splitAtContacts(s: State): void {
  const edges = new Set<number>();
  const vertices = new Set<number>();
  const note = (e: number) => {
    edges.add(e);
    vertices.add(s.edges.firstOf(e)).add(s.edges.secondOf(e));
    for (let i = s.splits.start(e); i >= 0; i = s.splits.after(i)) vertices.add(s.splits.at(i));
  };
  for (let f = 0; f < s.facets; f++) {
    for (let c = s.facetStart[f]!; c < s.facetStart[f + 1]!; c++) note(s.fedge[c]!);
    for (let i = s.segments.start(f); i >= 0; i = s.segments.after(i)) {
      const k = s.segments.at(i);
      note(s.edges.indexEdge(s.segA.get(k), s.segB.get(k)));
    }
  }
  const list = [...edges];
  const boxes = new Float64Array(6 * list.length);
  list.forEach((e, i) => {
    const [u, v] = [3 * s.edges.firstOf(e), 3 * s.edges.secondOf(e)];
    for (let k = 0; k < 3; k++) {
      boxes[6 * i + k] = Math.min(s.P[u + k]!, s.P[v + k]!);
      boxes[6 * i + 3 + k] = Math.max(s.P[u + k]!, s.P[v + k]!);
    }
  });
  const tree = new Bvh(
    boxes,
    Int32Array.from(list, (_, i) => i),
  );
  const place = new Float64Array(6);
  for (const w of vertices) {
    for (let k = 0; k < 6; k++) place[k] = s.P[3 * w + (k % 3)]!;
    tree.overlaps(place, 0, s.tol, (i) => {
      const e = list[i]!;
      const [u, v] = [s.edges.firstOf(e), s.edges.secondOf(e)];
      if (w !== u && w !== v && distanceInside(s.P, w, u, v) <= s.tol) s.split(e, w);
    });
  }
}
