import { nodeOfCell, nodeOfFace, nodeOfFacet } from './classify.ts';
import type { State } from './state.ts';

/** What is made of the target and the cutters, which act as one. */
export type CarveOperation = 'subtract' | 'union' | 'intersect';

const INSIDE: Record<CarveOperation, (target: boolean, cutter: boolean) => boolean> = {
  subtract: (t, c) => t && !c,
  union: (t, c) => t || c,
  intersect: (t, c) => t && c,
};

export const OPERATIONS = Object.keys(INSIDE) as CarveOperation[];

/**
 * Step 7, select: a node stays when the result is on one side of it only. Per node 0 for "goes", 1 for "stays as it looks",
 * −1 for "stays, turned over"; for a cell, as compared with the canonical plane.
 */
export function select(s: State, operation: CarveOperation): Int8Array {
  const inside = INSIDE[operation];
  const { scene } = s;
  const keep = new Int8Array(scene.faceBody.length + s.facets + s.cells);
  const whole = (node: number, body: number) => {
    const p = s.piece[node]!;
    const target = s.insideTarget[p] === 1;
    const cutter = s.insideCutter[p] === 1;
    const front = body === 0 ? inside(false, cutter) : inside(target, cutter);
    const back = body === 0 ? inside(true, cutter) : inside(target, true);
    keep[node] = front === back ? 0 : back ? 1 : -1;
  };
  for (let f = 0; f < scene.faceBody.length; f++) if (s.faceFacet[f]! < 0) whole(nodeOfFace(s, f), scene.faceBody[f]!);
  for (let f = 0; f < s.facets; f++) if (!s.cut[f]) whole(nodeOfFacet(s, f), s.facetBody[f]!);
  for (let k = 0; k < s.cells; k++) {
    const node = nodeOfCell(s, k);
    const p = s.piece[node]!;
    // What no facet of the cell belongs to is the same on both sides of it.
    let targetFront = s.insideTarget[p] === 1;
    let targetBack = targetFront;
    let cutterFront = s.insideCutter[p] === 1;
    let cutterBack = cutterFront;
    for (let i = s.cellCoverStart.get(k); i < s.cellCoverStart.get(k + 1); i++) {
      const f = s.cellCover.get(i);
      const out = s.facing(f) > 0;
      if (s.facetBody[f] === 0) {
        targetFront = !out;
        targetBack = out;
      } else {
        cutterFront ||= !out;
        cutterBack ||= out;
      }
    }
    const front = inside(targetFront, cutterFront);
    const back = inside(targetBack, cutterBack);
    keep[node] = front === back ? 0 : back ? 1 : -1;
  }
  return keep;
}
