import {
  checkCancelled,
  faceBegin,
  faceEnd,
  isClosed,
  MasonError,
  solidAngle,
  topologyOf,
  triangulateMesh,
  vertexCount,
  type OpContext,
  type PolyMesh,
} from '../../mesh/index.ts';
import { assemble } from './assemble.ts';
import { isBent } from './bags.ts';
import { eachSide, nodeCount, nodeOfCell, nodeOfFace, nodeOfFacet } from './classify.ts';
import { arrangePairs, isBalanced, LADDER } from './guard.ts';
import { pairsAmong, type FacePairs } from './near.ts';
import { RayCaster } from './rays.ts';
import { gatherScene, toleranceOf } from './scene.ts';
import { State } from './state.ts';
import { Roots } from './tables.ts';

/** Extra sample places per piece, to catch a piece whose samples disagree. */
const MORE_SEEDS = 2;
/** A winding number further from a whole number than this is not trusted. */
const UNSURE = 0.2;

/**
 * Resolves a closed mesh that crosses itself: its faces are split along the lines in which they cut through each other,
 * and of the pieces those stay that part what is enclosed from what is not. Enclosed is what the surface winds round at
 * least once in the way of a body that looks outward; what is enclosed twice is enclosed, and a lobe that was turned
 * inside out goes. `pairs` are the faces that meet. The steps are those of a cut, with one body held against itself.
 *
 * Returns a mesh without faces where nothing is enclosed. Throws `not-done` when no tolerance gives a closed result.
 * Source of the winding number of a place: A. Jacobson, L. Kavan, O. Sorkine-Hornung, Robust Inside-Outside
 * Segmentation using Generalized Winding Numbers, ACM Transactions on Graphics 32 (2013).
 */
export function uncross(
  m: PolyMesh,
  pairs: readonly (readonly [number, number])[],
  course: number,
  ctx?: OpContext,
): PolyMesh {
  const scene = gatherScene([m]);
  const met: FacePairs = { first: Int32Array.from(pairs, (p) => p[0]), second: Int32Array.from(pairs, (p) => p[1]) };
  const faces = withNeighbours(m, pairs.flat());
  for (const rel of LADDER)
    for (const wide of [false, true])
      for (const contacts of [false, true]) {
        const s = new State(scene, toleranceOf(scene, rel), ctx, true);
        arrangePairs(s, wide ? pairsAmong(scene, faces, s.tol) : met, contacts);
        if (s.troubles.length) continue;
        const keep = enclosing(s, m);
        if (s.troubles.length || !isBalanced(s, keep)) continue;
        const { mesh } = assemble(s, keep, { joinFlush: false, pinches: 'part', course });
        if (!s.troubles.length && isClosed(mesh)) return mesh;
      }
  throw new MasonError(
    'not-done',
    'Faces that cut through each other could not be parted: they lie on each other, or nearly so. Take some of them out, and fill the opening.',
  );
}

/**
 * Faces and those that share a vertex with one of them: where one surface meets the other in an edge, only they tell
 * where it goes on.
 */
function withNeighbours(m: PolyMesh, faces: readonly number[]): Int32Array {
  const { face } = topologyOf(m);
  const on = new Uint8Array(vertexCount(m));
  for (const f of faces) for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) on[m.corners[c]!] = 1;
  const out = new Set(faces);
  m.corners.forEach((v, c) => on[v] && out.add(face[c]!));
  return Int32Array.from(out);
}

/** Per node whether it stays: 1 as it looks, −1 turned over, 0 for "goes"; see `select`. */
function enclosing(s: State, m: PolyMesh): Int8Array {
  const roots = pieces(s);
  const nodes = nodeCount(s);
  const known = new Map<number, number>();
  const keep = new Int8Array(nodes);
  const rays = new RayCaster(s, 0);
  const winding = windingNumbers(s, m);
  const asked = new Map<number, number>();
  eachNode(s, (node, covers) => {
    const turn = covers.reduce((sum, c) => sum + c.facing, 0);
    const root = roots.of(node);
    // Cells that several facets cover are pieces of their own.
    let front = known.get(root);
    const times = asked.get(root) ?? 0;
    if (front === undefined || times <= MORE_SEEDS) {
      const mean = winding(rays.placeIn(node), covers);
      const seen = mean - turn / 2;
      asked.set(root, times + 1);
      if (!(Math.abs(seen - Math.round(seen)) < UNSURE)) s.trouble('ray', rays.vertexOf(node));
      else if (front !== undefined && front !== Math.round(seen)) s.trouble('seed', rays.vertexOf(node));
      front = Math.round(seen);
      known.set(root, front);
    }
    const [outside, inside] = [front > 0, front + turn > 0];
    keep[node] = outside === inside ? 0 : inside ? 1 : -1;
  });
  return keep;
}

interface Cover {
  /** A face of the mesh, and the triangle of it that is meant; −1 for all of it. */
  face: number;
  triangle: number;
  /** 1 where it looks the way of the node, −1 where against it. */
  facing: number;
}

function eachNode(s: State, visit: (node: number, covers: Cover[]) => void): void {
  const { scene } = s;
  const coverOf = (facet: number, facing: number): Cover => {
    const face = s.facetFace[facet]!;
    return { face, triangle: isBent(s, facet) ? facet - s.faceFacet[face]! : -1, facing };
  };
  for (let f = 0; f < scene.faceBody.length; f++)
    if (s.faceFacet[f]! < 0) visit(nodeOfFace(s, f), [{ face: f, triangle: -1, facing: 1 }]);
  for (let f = 0; f < s.facets; f++)
    if (!s.cut[f] && s.facetStart[f + 1]! > s.facetStart[f]!) visit(nodeOfFacet(s, f), [coverOf(f, 1)]);
  for (let k = 0; k < s.cells; k++) {
    const facets = Array.from(s.cellCover.data.subarray(s.cellCoverStart.get(k), s.cellCoverStart.get(k + 1)));
    visit(
      nodeOfCell(s, k),
      facets.map((f) => coverOf(f, s.facing(f))),
    );
  }
}

/** Joins nodes across edges that they alone share: not across lines where the surface crosses itself. */
function pieces(s: State): Roots {
  const roots = new Roots(nodeCount(s));
  const firstCell = s.scene.faceBody.length + s.facets;
  const single = (node: number) =>
    node < firstCell || s.cellCoverStart.get(node - firstCell + 1) - s.cellCoverStart.get(node - firstCell) === 1;
  // On a cell's canonical plane a facet may look the other way than its neighbour on another plane does.
  const looks = (node: number) =>
    node < firstCell ? 1 : s.facing(s.cellCover.get(s.cellCoverStart.get(node - firstCell)));
  eachSide(
    s,
    (u, v, _set, node) => {
      s.linkNode.push(node);
      s.linkEdge.push(2 * s.pieceOfEdge(u, v) + (u < v ? 0 : 1));
    },
    (f, g) => roots.join(f, g),
  );
  const count = new Uint8Array(s.carried.count);
  const first = new Int32Array(s.carried.count);
  for (let i = 0; i < s.linkNode.length; i++) if (count[s.linkEdge.get(i) >> 1]! < 3) count[s.linkEdge.get(i) >> 1]!++;
  const seen = new Uint8Array(s.carried.count);
  for (let i = 0; i < s.linkNode.length; i++) {
    const [e, node] = [s.linkEdge.get(i) >> 1, s.linkNode.get(i)];
    if (count[e] !== 2) continue;
    if (!seen[e]) {
      seen[e] = 1;
      first[e] = node;
    } else if (single(node) && single(first[e]!) && looks(node) === looks(first[e]!)) roots.join(node, first[e]!);
  }
  return roots;
}

/**
 * How often the surface winds round a place on it: half way between its two sides. What covers the place is left out.
 */
function windingNumbers(s: State, m: PolyMesh): (place: Float64Array, covers: readonly Cover[]) => number {
  const { triangles, face } = triangulateMesh(m);
  const n = face.length;
  const P = new Float64Array(9 * n);
  const ofFace = new Int32Array(n);
  for (let t = 0; t < n; t++) {
    ofFace[t] = t && face[t] === face[t - 1] ? ofFace[t - 1]! + 1 : 0;
    for (let j = 0; j < 3; j++)
      P.set(
        s.scene.positions.subarray(3 * m.corners[triangles[3 * t + j]!]!, 3 * m.corners[triangles[3 * t + j]!]! + 3),
        9 * t + 3 * j,
      );
  }
  return (p, covers) => {
    checkCancelled(s.ctx);
    const left = covers.map((c) => [c.face, c.triangle] as const);
    let sum = 0;
    for (let t = 0; t < n; t++) {
      if (left.some(([f, i]) => face[t] === f && (i < 0 || i === ofFace[t]))) continue;
      sum += solidAngle(P, 9 * t, p);
    }
    return sum / (4 * Math.PI);
  };
}
