import { planeBasis } from '../../mesh/index.ts';
import type { Crossings } from './points.ts';
import { MINUS, PLUS, SideReader, ZERO } from './sides.ts';
import type { State } from './state.ts';

/**
 * The end of step 1, on pairs: vertices of one facet that lie on an edge of the other are declared to split it.
 * Pairs of which one facet lies strictly on one side of the other's plane are dropped.
 */
export function declareVerticesOnEdges(s: State): void {
  const ofF = new SideReader(s);
  const ofG = new SideReader(s);
  let live = 0;
  for (let i = 0; i < s.pairA.length; i++) {
    const f = s.pairA[i]!;
    const g = s.pairB[i]!;
    if (s.facetPlane[f] === s.facetPlane[g]) {
      for (let c = s.facetStart[f]!; c < s.facetStart[f + 1]!; c++) vertexOnEdges(s, s.fv[c]!, g);
      for (let c = s.facetStart[g]!; c < s.facetStart[g + 1]!; c++) vertexOnEdges(s, s.fv[c]!, f);
    } else {
      const a = ofF.read(f, s.facetPlane[g]!, g);
      if (a === PLUS || a === MINUS) continue;
      const b = ofG.read(g, s.facetPlane[f]!, f);
      if (b === PLUS || b === MINUS) continue;
      if (a & ZERO) zeroVertices(s, f, ofF, g);
      if (b & ZERO) zeroVertices(s, g, ofG, f);
    }
    s.pairA[live] = f;
    s.pairB[live++] = g;
  }
  s.pairA = s.pairA.subarray(0, live);
  s.pairB = s.pairB.subarray(0, live);
}

function zeroVertices(s: State, f: number, sides: SideReader, g: number): void {
  const begin = s.facetStart[f]!;
  for (let r = 0; r < sides.ranges.length; r += 2)
    for (let i = sides.ranges[r]!; i < sides.ranges[r + 1]!; i++)
      if (sides.side[i] === 0) vertexOnEdges(s, s.fv[begin + i]!, g);
}

function vertexOnEdges(s: State, v: number, g: number): void {
  const { P, tol, facetBoxes: B } = s;
  for (let k = 0; k < 3; k++) {
    const x = P[3 * v + k]!;
    if (x < B[6 * g + k]! - tol || x > B[6 * g + 3 + k]! + tol) return;
  }
  for (let c = s.facetStart[g]!; c < s.facetStart[g + 1]!; c++) {
    const a = s.fv[c]!;
    const b = s.fv[s.fnext[c]!]!;
    if (a === v || b === v || distanceInside(P, v, a, b) > tol) continue;
    s.onEdge.add(s.fedge[c]!, v);
    s.split(s.fedge[c]!, v);
  }
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

/** Above this many edge × edge tests the edges of the larger facet are sorted, so that each edge meets only those beside it. */
const SORT_ABOVE = 2048;

/** Step 3, coplanar pairs: edge × edge with strictly opposite signs both ways; both edges get the point. */
export function crossCoplanarEdges(s: State, crossings: Crossings): void {
  const basis = new Float64Array(6);
  for (let i = 0; i < s.pairA.length; i++) {
    let f = s.pairA[i]!;
    let g = s.pairB[i]!;
    const plane = s.facetPlane[f]!;
    if (plane !== s.facetPlane[g]) continue;
    if (s.facetStart[f + 1]! - s.facetStart[f]! > s.facetStart[g + 1]! - s.facetStart[g]!) [f, g] = [g, f];
    planeBasis(s.plane, 7 * s.planeFacet[plane]!, basis);
    const F = flatCorners(s, f, basis);
    const G = flatCorners(s, g, basis);
    const f0 = s.facetStart[f]!;
    const g0 = s.facetStart[g]!;
    const nf = s.facetStart[f + 1]! - f0;
    const ng = s.facetStart[g + 1]! - g0;
    const lowX = (Q: Float64Array, next: number, k: number) => Math.min(Q[2 * k]!, Q[2 * next]!);
    const gNext = (k: number) => s.fnext[g0 + k]! - g0;
    let order: Int32Array | null = null;
    let widest = 0;
    if (nf * ng > SORT_ABOVE) {
      order = Int32Array.from({ length: ng }, (_, k) => k);
      const key = Float64Array.from(order, (k) => lowX(G, gNext(k), k));
      order.sort((a, b) => key[a]! - key[b]!);
      for (let k = 0; k < ng; k++) widest = Math.max(widest, Math.abs(G[2 * k]! - G[2 * gNext(k)]!));
    }
    for (let a = 0; a < nf; a++) {
      const a2 = s.fnext[f0 + a]! - f0;
      const left = Math.min(F[2 * a]!, F[2 * a2]!) - s.tol;
      const right = Math.max(F[2 * a]!, F[2 * a2]!) + s.tol;
      let from = 0;
      if (order) {
        let high = ng;
        while (from < high) {
          const mid = (from + high) >> 1;
          const k = order[mid]!;
          if (lowX(G, gNext(k), k) < left - widest) from = mid + 1;
          else high = mid;
        }
      }
      for (let m = from; m < ng; m++) {
        const b = order ? order[m]! : m;
        if (order && lowX(G, gNext(b), b) > right) break;
        crossEdges(s, crossings, plane, F, f0 + a, a, a2, G, g0 + b, b, gNext(b));
      }
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
