import { nodeBeyond, nodeCount, nodeOfCell, nodeOfFace, nodeOfFacet } from './classify.ts';
import type { State } from './state.ts';
import { PairTable, Roots } from './tables.ts';

/** What is made of the target and the cutters, which act as one. */
export type CarveOperation = 'subtract' | 'union' | 'intersect';
/** An operation, or all of the target's surface with the cutters' outline on it. */
export type Selection = CarveOperation | 'scribe';

const INSIDE: Record<CarveOperation, (target: boolean, cutter: boolean) => boolean> = {
  subtract: (t, c) => t && !c,
  union: (t, c) => t || c,
  intersect: (t, c) => t && c,
};

export const OPERATIONS = Object.keys(INSIDE) as CarveOperation[];

/**
 * Step 7, select: a node stays when the result is on one side of it only. Per node 0 for "goes", 1 for "stays as it
 * looks", −1 for "stays, turned over"; for a cell, as compared with the canonical plane. Of a sheet, and for scribing,
 * only the target's own surface is chosen from; lying on a cutter counts as inside.
 */
export function select(s: State, selection: Selection): Int8Array {
  if (selection === 'scribe' || s.scene.open) {
    const zone = zones(s);
    return ofTarget(s, (node) => selection === 'scribe' || zone[node]! > 0 === (selection === 'intersect'));
  }
  const inside = INSIDE[selection];
  const { scene } = s;
  const keep = new Int8Array(nodeCount(s));
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
  if (scene.beyond) whole(nodeBeyond(s), 0);
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

/** The facet of the target that covers a cell, −1 for none. */
function targetFacet(s: State, cell: number): number {
  const f = s.cellCover.get(s.cellCoverStart.get(cell));
  return s.facetBody[f] === 0 ? f : -1;
}

/** Keeps nodes of the target's surface, each looking as it does. */
function ofTarget(s: State, wanted: (node: number) => boolean): Int8Array {
  const keep = new Int8Array(nodeCount(s));
  eachOfTarget(s, (node, cell) => {
    if (wanted(node)) keep[node] = cell < 0 || s.facing(targetFacet(s, cell)) > 0 ? 1 : -1;
  });
  return keep;
}

/** Calls `node(node, cell)` for each node of the target's surface; cell is −1 for a whole face or facet. */
function eachOfTarget(s: State, visit: (node: number, cell: number) => void): void {
  for (let f = 0; f < s.scene.faceBase[1]!; f++) if (s.faceFacet[f]! < 0) visit(nodeOfFace(s, f), -1);
  for (let f = 0; f < s.facets; f++) if (!s.cut[f] && s.facetBody[f] === 0) visit(nodeOfFacet(s, f), -1);
  for (let k = 0; k < s.cells; k++) if (targetFacet(s, k) >= 0) visit(nodeOfCell(s, k), k);
}

/** Where a node of the target's surface lies: 0 outside of all cutters, 1 inside of one, 2 on the skin of one. */
export function zones(s: State): Uint8Array {
  const zone = new Uint8Array(nodeCount(s));
  eachOfTarget(s, (node, cell) => {
    const shared = cell >= 0 && s.cellCoverStart.get(cell + 1) - s.cellCoverStart.get(cell) > 1;
    const on = shared && s.facetBody[s.cellCover.get(s.cellCoverStart.get(cell + 1) - 1)] !== 0;
    zone[node] = on ? 2 : s.insideCutter[s.piece[node]!]!;
  });
  return zone;
}

/** Of the regions in or on the cutters, leaves the one that is met first along a direction, and those level with it. */
export function nearestOnly(s: State, zone: Uint8Array, along: readonly number[]): void {
  const roots = new Roots(zone.length);
  const edges = new PairTable(1024);
  const owner: number[] = [];
  const low = new Map<number, number>();
  for (let i = 0; i < s.linkNode.length; i++) {
    const node = s.linkNode.get(i);
    if (!zone[node]) continue;
    const e = s.linkEdge.get(i) >> 1;
    const k = edges.indexEdge(s.carried.firstOf(e), s.carried.secondOf(e));
    if (owner[k] === undefined) owner[k] = node;
    else roots.join(owner[k]!, node);
  }
  const height = (v: number) => along.reduce((sum, d, k) => sum + d * s.P[3 * v + k]!, 0);
  eachVertexOfTarget(s, (node, v) => {
    if (zone[node]) low.set(roots.of(node), Math.min(low.get(roots.of(node)) ?? Infinity, height(v)));
  });
  const first = Math.min(...low.values());
  for (let n = 0; n < zone.length; n++) if (zone[n] && low.get(roots.of(n))! > first + s.tol) zone[n] = 0;
}

function eachVertexOfTarget(s: State, visit: (node: number, vertex: number) => void): void {
  const { scene } = s;
  eachOfTarget(s, (node, cell) => {
    if (cell >= 0) {
      const l = s.cellLoopStart.get(cell);
      for (let i = s.loopCornerStart.get(l); i < s.loopCornerStart.get(l + 1); i++) visit(node, s.cellVertex.get(i));
    } else if (node < scene.faceBody.length) {
      const l = scene.faceLoops[node]!;
      for (let c = scene.loopStart[l]!; c < scene.loopStart[l + 1]!; c++) visit(node, s.rep[scene.corners[c]!]!);
    } else {
      const f = node - scene.faceBody.length;
      for (let c = s.facetStart[f]!; c < s.facetStart[f + 1]!; c++) visit(node, s.fv[c]!);
    }
  });
}
