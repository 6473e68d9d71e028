import { Bvh, planeBasis } from '../../mesh/index.ts';
import type { Crossings } from './points.ts';
import { MINUS, PLUS, SideReader, ZERO } from './planeSides.ts';
import type { State } from './state.ts';

/**
 * Facets of more edges than this get a tree of them, so that a vertex or an edge is held against those near it only.
 */
const TREE_ABOVE = 64;

/** The edges of facets by place. */
export class EdgeFinder {
  private readonly trees = new Map<number, Bvh>();

  constructor(private readonly s: State) {}

  /** Calls `visit` with the corners of a facet whose edges may come near a box (min, max). */
  near(facet: number, box: ArrayLike<number>, visit: (corner: number) => void): void {
    const { s } = this;
    const [begin, end] = [s.facetStart[facet]!, s.facetStart[facet + 1]!];
    if (end - begin <= TREE_ABOVE) for (let c = begin; c < end; c++) visit(c);
    else this.treeOf(facet).overlaps(box, 0, s.tol, (i) => visit(begin + i));
  }

  private treeOf(facet: number): Bvh {
    let tree = this.trees.get(facet);
    if (tree) return tree;
    const { P, fv, fnext, facetStart } = this.s;
    const begin = facetStart[facet]!;
    const n = facetStart[facet + 1]! - begin;
    const boxes = new Float64Array(6 * n);
    for (let i = 0; i < n; i++) boxOfEdge(P, fv[begin + i]!, fv[fnext[begin + i]!]!, boxes, 6 * i);
    tree = new Bvh(
      boxes,
      Int32Array.from({ length: n }, (_, i) => i),
    );
    this.trees.set(facet, tree);
    return tree;
  }
}

function boxOfEdge(P: Float64Array, u: number, v: number, out: Float64Array, at: number): void {
  for (let k = 0; k < 3; k++) {
    const [x, y] = [P[3 * u + k]!, P[3 * v + k]!];
    out[at + k] = Math.min(x, y);
    out[at + 3 + k] = Math.max(x, y);
  }
}

/**
 * The end of step 1, on pairs: vertices of one facet that lie on an edge of the other are declared to split it.
 * Pairs of which one facet lies strictly on one side of the other's plane are dropped.
 */
export function declareVerticesOnEdges(s: State, edges: EdgeFinder): void {
  const ofF = new SideReader(s);
  const ofG = new SideReader(s);
  let live = 0;
  for (let i = 0; i < s.pairA.length; i++) {
    const f = s.pairA[i]!;
    const g = s.pairB[i]!;
    if (s.facetPlane[f] === s.facetPlane[g]) {
      for (const [a, b] of [
        [f, g],
        [g, f],
      ] as const) {
        for (let c = s.facetStart[a]!; c < s.facetStart[a + 1]!; c++) vertexOnEdges(s, edges, s.fv[c]!, b);
      }
    } else {
      const a = ofF.read(f, s.facetPlane[g]!, g);
      if (a === PLUS || a === MINUS) continue;
      const b = ofG.read(g, s.facetPlane[f]!, f);
      if (b === PLUS || b === MINUS) continue;
      if (a & ZERO) zeroVertices(s, edges, f, ofF, g);
      if (b & ZERO) zeroVertices(s, edges, g, ofG, f);
    }
    s.pairA[live] = f;
    s.pairB[live++] = g;
  }
  s.pairA = s.pairA.subarray(0, live);
  s.pairB = s.pairB.subarray(0, live);
}

function zeroVertices(s: State, edges: EdgeFinder, f: number, sides: SideReader, g: number): void {
  const begin = s.facetStart[f]!;
  for (let r = 0; r < sides.ranges.length; r += 2)
    for (let i = sides.ranges[r]!; i < sides.ranges[r + 1]!; i++)
      if (sides.side[i] === 0) vertexOnEdges(s, edges, s.fv[begin + i]!, g);
}

const place = new Float64Array(6);

function vertexOnEdges(s: State, edges: EdgeFinder, v: number, g: number): void {
  const { P, tol, facetBoxes: B } = s;
  for (let k = 0; k < 3; k++) {
    const x = P[3 * v + k]!;
    if (x < B[6 * g + k]! - tol || x > B[6 * g + 3 + k]! + tol) return;
    place[k] = place[3 + k] = x;
  }
  edges.near(g, place, (c) => {
    const a = s.fv[c]!;
    const b = s.fv[s.fnext[c]!]!;
    if (a === v || b === v || distanceInside(P, v, a, b) > tol) return;
    s.onEdge.add(s.fedge[c]!, v);
    s.split(s.fedge[c]!, v);
  });
}

/** Distance of v from the line a–b where its foot is strictly between a and b, else infinity. */
export function distanceInside(P: Float64Array, v: number, a: number, b: number): number {
  const ax = P[3 * a]!;
  const ay = P[3 * a + 1]!;
  const az = P[3 * a + 2]!;
  const dx = P[3 * b]! - ax;
  const dy = P[3 * b + 1]! - ay;
  const dz = P[3 * b + 2]! - az;
  const wx = P[3 * v]! - ax;
  const wy = P[3 * v + 1]! - ay;
  const wz = P[3 * v + 2]! - az;
  const t = (wx * dx + wy * dy + wz * dz) / (dx * dx + dy * dy + dz * dz);
  if (!(t > 0 && t < 1)) return Infinity;
  const ex = wx - t * dx;
  const ey = wy - t * dy;
  const ez = wz - t * dz;
  return Math.sqrt(ex * ex + ey * ey + ez * ez);
}

/** Step 3, coplanar pairs: edge × edge with strictly opposite signs both ways; both edges get the point. */
export function crossCoplanarEdges(s: State, crossings: Crossings, edges: EdgeFinder): void {
  const basis = new Float64Array(6);
  const flat = new Map<number, Float64Array>();
  let of = -1;
  for (let i = 0; i < s.pairA.length; i++) {
    let f = s.pairA[i]!;
    let g = s.pairB[i]!;
    const plane = s.facetPlane[f]!;
    if (plane !== s.facetPlane[g]) continue;
    if (s.facetStart[f + 1]! - s.facetStart[f]! > s.facetStart[g + 1]! - s.facetStart[g]!) [f, g] = [g, f];
    if (of !== plane) {
      planeBasis(s.plane, 7 * s.planeFacet[plane]!, basis);
      flat.clear();
      of = plane;
    }
    for (const facet of [f, g]) if (!flat.has(facet)) flat.set(facet, flatCorners(s, facet, basis));
    const [F, G] = [flat.get(f)!, flat.get(g)!];
    const f0 = s.facetStart[f]!;
    const g0 = s.facetStart[g]!;
    for (let a = f0; a < s.facetStart[f + 1]!; a++) {
      const a2 = s.fnext[a]!;
      boxOfEdge(s.P, s.fv[a]!, s.fv[a2]!, place, 0);
      edges.near(g, place, (b) =>
        crossEdges(s, crossings, plane, F, a, a - f0, a2 - f0, G, b, b - g0, s.fnext[b]! - g0),
      );
    }
  }
}

function flatCorners(s: State, f: number, basis: Float64Array): Float64Array {
  const begin = s.facetStart[f]!;
  const n = s.facetStart[f + 1]! - begin;
  const out = new Float64Array(2 * n);
  for (let i = 0; i < n; i++) {
    const v = 3 * s.fv[begin + i]!;
    const x = s.P[v]!;
    const y = s.P[v + 1]!;
    const z = s.P[v + 2]!;
    out[2 * i] = basis[0]! * x + basis[1]! * y + basis[2]! * z;
    out[2 * i + 1] = basis[3]! * x + basis[4]! * y + basis[5]! * z;
  }
  return out;
}

function crossEdges(
  s: State,
  crossings: Crossings,
  plane: number,
  F: Float64Array,
  fc: number,
  a: number,
  a2: number,
  G: Float64Array,
  gc: number,
  b: number,
  b2: number,
): void {
  const u = s.fv[fc]!;
  const v = s.fv[s.fnext[fc]!]!;
  const w = s.fv[gc]!;
  const x = s.fv[s.fnext[gc]!]!;
  if (w === u || w === v || x === u || x === v) return;
  const { tol } = s;
  const x0 = F[2 * a]!;
  const y0 = F[2 * a + 1]!;
  const x1 = F[2 * a2]!;
  const y1 = F[2 * a2 + 1]!;
  const X0 = G[2 * b]!;
  const Y0 = G[2 * b + 1]!;
  const X1 = G[2 * b2]!;
  const Y1 = G[2 * b2 + 1]!;
  if (
    Math.max(X0, X1) < Math.min(x0, x1) - tol ||
    Math.min(X0, X1) > Math.max(x0, x1) + tol ||
    Math.max(Y0, Y1) < Math.min(y0, y1) - tol ||
    Math.min(Y0, Y1) > Math.max(y0, y1) + tol
  )
    return;
  const e = s.fedge[fc]!;
  const h = s.fedge[gc]!;
  const el = Math.hypot(x1 - x0, y1 - y0);
  const hl = Math.hypot(X1 - X0, Y1 - Y0);
  const s1 = ((x1 - x0) * (Y0 - y0) - (X0 - x0) * (y1 - y0)) / el;
  const s2 = ((x1 - x0) * (Y1 - y0) - (X1 - x0) * (y1 - y0)) / el;
  if (!opposite(s1, s2, tol)) return;
  const r1 = ((X1 - X0) * (y0 - Y0) - (x0 - X0) * (Y1 - Y0)) / hl;
  const r2 = ((X1 - X0) * (y1 - Y0) - (x1 - X0) * (Y1 - Y0)) / hl;
  if (!opposite(r1, r2, tol)) return;
  const triple = crossings.tripleOfEdges(e, h, plane);
  let id = crossings.tripleVertexOf(triple);
  if (id < 0) {
    id = crossings.place(u, v, r1 / (r1 - r2));
    crossings.remember(triple, id);
  }
  s.split(e, id);
  s.split(h, id);
  s.onEdge.add(e, id);
  s.onEdge.add(h, id);
}

/** Strictly on different sides; an end within tol of the line has been declared on it, or is beyond the other's end. */
const opposite = (a: number, b: number, tol: number): boolean => (a > tol && b < -tol) || (a < -tol && b > tol);
