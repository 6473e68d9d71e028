import { RayCaster } from './rays.ts';
import type { State } from './state.ts';
import { HungLists, IntList, Roots } from './tables.ts';

/** Extra sample places per piece, to catch a piece whose samples disagree. */
const MORE_SEEDS = 3;
/** A node is inside or outside as a whole: a far face, a near facet that nothing cuts, or a cell. */
export const nodeOfFace = (_s: State, face: number): number => face;
export const nodeOfFacet = (s: State, facet: number): number => s.scene.faceBody.length + facet;
export const nodeOfCell = (s: State, cell: number): number => s.scene.faceBody.length + s.facets + cell;
/**
 * One node for all that is out of reach: it lies outside of every cutter. There only when the scene has something
 * beyond.
 */
export const nodeBeyond = (s: State): number => s.scene.faceBody.length + s.facets + s.cells;
export const nodeCount = (s: State): number => nodeBeyond(s) + (s.scene.beyond ? 1 : 0);

/**
 * Step 6, classify: nodes of the same bodies hang together across edges that no other body's surface carries. One ray
 * per piece, from its roomiest place, tells what it is inside of; solid angles are not used, as flush samples break
 * them.
 */
export function classify(s: State): void {
  const roots = linkNodes(s);
  s.piece = new Int32Array(nodeCount(s)).fill(-1);
  const pieceOf = new Map<number, number>();
  // The roomiest nodes of each piece, the best first.
  const seeds: { node: number; room: number }[][] = [];
  const offer = (node: number, room: number, more: boolean) => {
    const r = roots.of(node);
    let p = pieceOf.get(r);
    if (p === undefined) {
      p = seeds.push([]) - 1;
      pieceOf.set(r, p);
    }
    s.piece[node] = p;
    const list = seeds[p]!;
    if (!list.length || room > list[0]!.room) list.unshift({ node, room });
    else if (more && list.length <= MORE_SEEDS) list.push({ node, room });
    if (list.length > MORE_SEEDS + 1) list.length = MORE_SEEDS + 1;
  };
  if (s.scene.beyond) offer(nodeBeyond(s), Infinity, true);
  for (let f = 0; f < s.scene.faceBody.length; f++)
    if (s.faceFacet[f]! < 0) offer(f, boxRoom(s.scene.faceBoxes, f), false);
  for (let f = 0; f < s.facets; f++) if (!s.cut[f]) offer(nodeOfFacet(s, f), boxRoom(s.facetBoxes, f), false);
  for (let c = 0; c < s.cells; c++) offer(nodeOfCell(s, c), s.cellArea[c]!, true);

  s.insideTarget = new Uint8Array(seeds.length);
  s.insideCutter = new Uint8Array(seeds.length);
  const rays = new RayCaster(s, seeds.length * (1 + MORE_SEEDS));
  const parted = s.scene.beyond ? partedByTarget(s, seeds.length) : null;
  seeds.forEach((list, p) => {
    const answer = list[0]!.room === Infinity ? 0 : rays.ask(list[0]!.node);
    if (answer < 0) s.trouble('ray', rays.vertexOf(list[0]!.node));
    if (parted && !parted[p] && rays.askedTarget) s.wholeAsked = true;
    s.insideTarget[p] = answer & 1;
    s.insideCutter[p] = (answer >> 1) & 1;
    for (const { node, room } of list.slice(1)) {
      // Slivers make bad samples: the sample place must be clear of the lines round it.
      if (room < 1e-9 * s.scene.size * s.scene.size) continue;
      const second = rays.ask(node);
      if (second >= 0 && second !== answer) s.trouble('seed', rays.vertexOf(node));
    }
  });
}

/** Per piece 1 where a cut line with the target bounds it: on which side of the target it is shows there already. */
function partedByTarget(s: State, pieces: number): Uint8Array {
  const out = new Uint8Array(pieces);
  for (let i = 0; i < s.linkNode.length; i++) {
    const by = s.carriedBy.get(s.linkEdge.get(i) >> 1);
    if (by >= 0 && s.sets.has(by, 0)) out[s.piece[s.linkNode.get(i)]!] = 1;
  }
  return out;
}

const boxRoom = (b: Float64Array, i: number): number => {
  const x = b[6 * i + 3]! - b[6 * i]!;
  const y = b[6 * i + 4]! - b[6 * i + 1]!;
  const z = b[6 * i + 5]! - b[6 * i + 2]!;
  return x * y + y * z + z * x;
};

function linkNodes(s: State): Roots {
  const { scene } = s;
  const roots = new Roots(nodeCount(s));
  const lists = new HungLists();
  const entrySet = new IntList(1024);
  const entryNode = new IntList(1024);
  const link = (u: number, v: number, set: number, node: number) => {
    const e = s.pieceOfEdge(u, v);
    s.linkNode.push(node);
    s.linkEdge.push(2 * e + (u < v ? 0 : 1));
    for (let i = lists.start(e); i >= 0; i = lists.after(i)) {
      const k = lists.at(i);
      if (entrySet.get(k) !== set) continue;
      const by = s.carriedBy.get(e);
      if (by < 0 || s.sets.within(by, set)) roots.join(entryNode.get(k), node);
      return;
    }
    entrySet.push(set);
    lists.add(e, entryNode.push(node), false);
  };
  eachSide(s, link, (f, g) => roots.join(f, g));
  const border = scene.borderEdges;
  for (let i = 0; i < border.length; i += 2) link(s.rep[border[i + 1]!]!, s.rep[border[i]!]!, 0, nodeBeyond(s));
  return roots;
}

/**
 * Calls `link` for each directed edge of each node, with the bodies that cover it, and `joined` for far faces that are
 * neighbours.
 */
export function eachSide(
  s: State,
  link: (u: number, v: number, set: number, node: number) => void,
  joined: (f: number, g: number) => void,
): void {
  const { scene } = s;
  for (let f = 0; f < scene.faceBody.length; f++) {
    if (s.faceFacet[f]! >= 0) continue;
    for (let l = scene.faceLoops[f]!; l < scene.faceLoops[f + 1]!; l++) {
      const end = scene.loopStart[l + 1]!;
      for (let c = scene.loopStart[l]!; c < end; c++) {
        const o = scene.opposite[c]!;
        if (o >= 0 && s.faceFacet[scene.cornerFace[o]!]! < 0) joined(f, scene.cornerFace[o]!);
        else {
          const d = c + 1 < end ? c + 1 : scene.loopStart[l]!;
          link(s.rep[scene.corners[c]!]!, s.rep[scene.corners[d]!]!, scene.faceBody[f]!, f);
        }
      }
    }
  }
  for (let f = 0; f < s.facets; f++)
    if (!s.cut[f])
      for (let c = s.facetStart[f]!; c < s.facetStart[f + 1]!; c++)
        link(s.fv[c]!, s.fv[s.fnext[c]!]!, s.facetBody[f]!, nodeOfFacet(s, f));
  for (let k = 0; k < s.cells; k++)
    for (let l = s.cellLoopStart.get(k); l < s.cellLoopStart.get(k + 1); l++) {
      const end = s.loopCornerStart.get(l + 1);
      let u = s.cellVertex.get(end - 1);
      for (let i = s.loopCornerStart.get(l); i < end; i++) {
        const v = s.cellVertex.get(i);
        link(u, v, s.cellBodies.get(k), nodeOfCell(s, k));
        u = v;
      }
    }
}
