import { faceCount, OPEN, reface, topologyOf, type NewFace, type PolyMesh } from '../mesh/index.ts';

/**
 * The openings of a mesh: each a run of corners along its border, every corner's edge without a face on its other side.
 * Where openings touch at a vertex, each is a run by itself: none passes a vertex twice.
 */
export function openings(m: PolyMesh): number[][] {
  const t = topologyOf(m);
  /** Border corners by the vertex that their edge starts from. */
  const from = new Map<number, number[]>();
  for (let c = 0; c < m.corners.length; c++) {
    if (t.opposite[c] !== OPEN) continue;
    const list = from.get(m.corners[c]!);
    if (list) list.push(c);
    else from.set(m.corners[c]!, [c]);
  }
  const out: number[][] = [];
  for (const list of from.values())
    while (list.length) {
      const walk: number[] = [];
      /** Where on the walk each of its vertices is left. */
      const at = new Map<number, number>();
      for (let c = list.pop(); c !== undefined;) {
        at.set(m.corners[c]!, walk.push(c) - 1);
        const v = m.corners[t.next[c]!]!;
        const back = at.get(v);
        if (back !== undefined) {
          const run = walk.splice(back);
          for (const d of run) at.delete(m.corners[d]!);
          out.push(run);
          if (!walk.length) break;
        }
        c = from.get(v)?.pop();
      }
    }
  return out;
}

/**
 * The mesh with every opening closed by one face, which takes the slot and source of a face beside it. Openings of
 * fewer than three edges stay. No vertex moves, and none is added.
 */
export function fillOpenings(m: PolyMesh): PolyMesh {
  const { face } = topologyOf(m);
  const lids = openings(m)
    .filter((run) => run.length > 2)
    .map((run): NewFace => {
      const ends = run.map((c) => m.corners[c]!).reverse();
      return { from: face[run[0]!]!, boundaries: [ends.map((vertex) => ({ vertex, edge: -1 }))] };
    });
  if (!lids.length) return m;
  const closed = reface(m, [...Array(faceCount(m)).keys(), ...lids]);
  // A lid lies in a plane of its own, not in that of the face beside it.
  closed.layers.plane?.fill(NaN, 6 * faceCount(m));
  return closed;
}
