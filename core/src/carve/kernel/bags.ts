import { nodeOfCell, nodeOfFacet } from './classify.ts';
import type { State } from './state.ts';
import { PairTable, Roots } from './tables.ts';

/**
 * The kept cells, and the whole facets of a bent face that was cut, that make one face of the result before their inner
 * edges go. What lies in several planes stays apart: a bent face that was cut falls into flat pieces along its folds.
 */
export interface Bag {
  /** The scene's face whose name and data the result takes. */
  face: number;
  flipped: boolean;
  /** 2 × plane + (looks against it). */
  plane: number;
  /** Where it lies, when outlines are scribed: faces of different zones stay apart. */
  zone: number;
  cells: number[];
  facets: number[];
}

/** Gathers what is kept by (source face, side, zone). Faces of which nothing was cut are not among them. */
export function gatherBags(s: State, keep: Int8Array, zone: Uint8Array | null): Bag[] {
  const bags = new Map<number, Bag>();
  const bagOf = (face: number, flipped: boolean, plane: number, node: number): Bag => {
    const z = zone?.[node] ?? 0;
    const key = (2 * s.planes * face + plane) * 6 + 3 * (flipped ? 1 : 0) + z;
    let bag = bags.get(key);
    if (!bag) bags.set(key, (bag = { face, flipped, plane, zone: z, cells: [], facets: [] }));
    return bag;
  };
  for (let k = 0; k < s.cells; k++) {
    const side = keep[nodeOfCell(s, k)]!;
    if (!side) continue;
    const f = s.cellCover.get(s.cellCoverStart.get(k));
    const plane = 2 * s.cellPlane.get(k) + (side < 0 ? 1 : 0);
    bagOf(s.facetFace[f]!, side * s.facing(f) < 0, plane, nodeOfCell(s, k)).cells.push(k);
  }
  for (let f = 0; f < s.facets; f++) {
    if (s.cut[f] || !isBent(s, f)) continue;
    const side = keep[nodeOfFacet(s, f)]!;
    if (!side || wholeFace(s, f, keep, zone)) continue;
    const plane = 2 * s.facetPlane[f]! + (side * s.facing(f) < 0 ? 1 : 0);
    bagOf(s.facetFace[f]!, side < 0, plane, nodeOfFacet(s, f)).facets.push(f);
  }
  return [...bags.values()];
}

/** Whether a facet is one of several triangles of a bent face. */
export function isBent(s: State, f: number): boolean {
  const face = s.facetFace[f]!;
  return (f > 0 && s.facetFace[f - 1] === face) || (f + 1 < s.facets && s.facetFace[f + 1] === face);
}

/** Whether a facet's face is kept as it is: no facet of it is cut, and all go the same way. */
export function wholeFace(s: State, f: number, keep: Int8Array, zone: Uint8Array | null): boolean {
  const face = s.facetFace[f]!;
  const node = nodeOfFacet(s, f);
  for (let i = s.faceFacet[face]!; i < s.facets && s.facetFace[i] === face; i++) {
    const other = nodeOfFacet(s, i);
    if (s.cut[i] || keep[other] !== keep[node] || zone?.[other] !== zone?.[node]) return false;
  }
  return true;
}

/** Calls `edge(u, v, corner)` for each directed edge of a bag as the result walks it. */
export function bagEdges(s: State, bag: Bag, edge: (u: number, v: number, corner: number) => void): void {
  for (const k of bag.cells) {
    const backward = looksAgainst(bag);
    for (let l = s.cellLoopStart.get(k); l < s.cellLoopStart.get(k + 1); l++) {
      const begin = s.loopCornerStart.get(l);
      const end = s.loopCornerStart.get(l + 1);
      for (let i = begin; i < end; i++) {
        const u = s.cellVertex.get(i);
        const v = s.cellVertex.get(i + 1 < end ? i + 1 : begin);
        if (backward) edge(v, u, s.cellCorner.get(i));
        else edge(u, v, s.cellCorner.get(i));
      }
    }
  }
  for (const f of bag.facets)
    for (let c = s.facetStart[f]!; c < s.facetStart[f + 1]!; c++) {
      const u = s.fv[c]!;
      const v = s.fv[s.fnext[c]!]!;
      if (bag.flipped) edge(v, u, s.fcorner[c]!);
      else edge(u, v, s.fcorner[c]!);
    }
}

/** Whether the result walks the boundaries of a bag's cells against the canonical plane. */
export const looksAgainst = (bag: Bag): boolean => (bag.plane & 1) === 1;

/**
 * Joins bags of different bodies that lie in the same plane, look the same way and touch along an edge: a floor that
 * two cutters made level is one floor. An edge between two faces of one body stays, and so do edges that `mayJoin`
 * holds back (material slots that differ); faces that would be joined across such an edge, directly or through others,
 * are left apart altogether, as joining some of them would be a choice that nothing in the part tells.
 */
export function joinFlush(s: State, bags: Bag[], mayJoin: (face: number, other: number) => boolean): Bag[] {
  const byPlane = new Map<number, number[]>();
  bags.forEach((bag, i) => {
    if (!s.planeShared[bag.plane >> 1]) return;
    const list = byPlane.get(bag.plane);
    if (list) list.push(i);
    else byPlane.set(bag.plane, [i]);
  });
  const roots = new Roots(bags.length);
  const apart: [number, number][] = [];
  for (const list of byPlane.values()) {
    if (list.length < 2) continue;
    for (const [i, j] of commonBorders(s, bags, list)) {
      const [f, g] = [bags[i]!.face, bags[j]!.face];
      if (s.scene.faceBody[f] !== s.scene.faceBody[g] && mayJoin(f, g)) roots.join(i, j);
      else apart.push([i, j]);
    }
  }
  const torn = new Set(apart.filter(([i, j]) => roots.of(i) === roots.of(j)).map(([i]) => roots.of(i)));
  const groups = new Map<number, Bag>();
  return bags.filter((bag, i) => {
    const r = roots.of(i);
    if (torn.has(r)) return true;
    const main = groups.get(r);
    if (!main) {
      groups.set(r, bag);
      return true;
    }
    main.cells.push(...bag.cells);
    // The target's face gives its name; among cutters the one laid first.
    main.face = Math.min(main.face, bag.face);
    return false;
  });
}

/** Pairs of bags that share an edge. */
function commonBorders(s: State, bags: Bag[], list: number[]): [number, number][] {
  const edges = new PairTable(256);
  const owner: number[] = [];
  const borders = new PairTable(64);
  for (const i of list)
    bagEdges(s, bags[i]!, (u, v) => {
      const e = edges.indexEdge(u, v);
      const j = owner[e];
      if (j === undefined) owner[e] = i;
      else if (j !== i) borders.indexEdge(i, j);
    });
  return Array.from({ length: borders.count }, (_, k) => [borders.firstOf(k), borders.secondOf(k)]);
}
