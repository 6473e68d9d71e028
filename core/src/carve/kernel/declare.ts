import { boxesMeet, newellPlane, boundaryBend, triangulateFace } from '../../mesh/index.ts';
import type { FacePairs } from './near.ts';
import { VertexGrid } from './points.ts';
import { emptyBox, growBox } from './scene.ts';
import type { State } from './state.ts';
import { IntList, Roots } from './tables.ts';

/** Planes at less than this angle (radians) may be declared the same, if the vertices agree. */
const SAME_PLANE_ANGLE = 1e-3;

/**
 * Step 1, declare: which vertices are the same, which faces are flat, which planes are the same. This is the one place
 * where tolerance enters; every later decision is on the signs and numbers declared here.
 */
export function declare(s: State, pairs: FacePairs): VertexGrid {
  const grid = mergeVertices(s, pairs);
  makeFacets(s);
  pairFacets(s, pairs);
  clusterPlanes(s);
  numberEdges(s);
  return grid;
}

/** Vertices of near faces within tol of each other become one; the first comer stays. */
function mergeVertices(s: State, pairs: FacePairs): VertexGrid {
  const { scene, P, rep } = s;
  for (const list of [pairs.first, pairs.second]) for (const f of list) s.faceFacet[f] = 0;
  let corners = 0;
  for (let f = 0; f < scene.faceBody.length; f++)
    if (s.faceFacet[f] === 0)
      corners += scene.loopStart[scene.faceLoops[f + 1]!]! - scene.loopStart[scene.faceLoops[f]!]!;
  const grid = new VertexGrid(s, corners);
  for (let f = 0; f < scene.faceBody.length; f++) {
    if (s.faceFacet[f] !== 0) continue;
    const e = scene.loopStart[scene.faceLoops[f + 1]!]!;
    for (let c = scene.loopStart[scene.faceLoops[f]!]!; c < e; c++) {
      const v = scene.corners[c]!;
      if (s.near[v]) continue;
      s.near[v] = 1;
      const same = grid.find(P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!);
      if (same >= 0) {
        rep[v] = same;
        s.touched[same] = 1;
        s.moved(
          Math.hypot(P[3 * v]! - P[3 * same]!, P[3 * v + 1]! - P[3 * same + 1]!, P[3 * v + 2]! - P[3 * same + 2]!),
        );
      } else grid.insert(v);
    }
  }
  return grid;
}

/** Near faces as facets: flat ones as they are, bent ones as triangles. */
function makeFacets(s: State): void {
  const { scene } = s;
  const fv = new IntList(4096);
  const fnext = new IntList(4096);
  const fcorner = new IntList(4096);
  const face = new IntList(1024);
  const start = new IntList(1024);
  start.push(0);
  let planes = new Float64Array(7 * 1024);
  const reserve = () => {
    if (7 * (face.length + 1) <= planes.length) return;
    const more = new Float64Array(2 * planes.length);
    more.set(planes);
    planes = more;
  };
  // One boundary: vertices merged into their neighbour are left out, their place taken by the later corner.
  const boundary = (list: ArrayLike<number>, sources: ArrayLike<number>, from: number, to: number) => {
    const begin = fv.length;
    for (let i = from; i < to; i++) {
      const v = s.rep[list[i]!]!;
      if (fv.length > begin && fv.get(fv.length - 1) === v) fcorner.data[fcorner.length - 1] = sources[i]!;
      else {
        fv.push(v);
        fcorner.push(sources[i]!);
      }
    }
    while (fv.length > begin + 1 && fv.get(fv.length - 1) === fv.get(begin)) {
      fv.length--;
      fcorner.length--;
    }
    if (fv.length - begin < 3) fv.length = fcorner.length = begin;
    for (let i = begin; i < fv.length; i++) fnext.push(i + 1 < fv.length ? i + 1 : begin);
  };
  const identity = Int32Array.from({ length: scene.corners.length }, (_, c) => c);
  for (let f = 0; f < scene.faceBody.length; f++) {
    if (s.faceFacet[f] !== 0) continue;
    s.faceFacet[f] = face.length;
    const c0 = scene.loopStart[scene.faceLoops[f]!]!;
    const c1 = scene.loopStart[scene.faceLoops[f + 1]!]!;
    reserve();
    if (flatPlane(s, f, planes, 7 * face.length)) {
      for (let l = scene.faceLoops[f]!; l < scene.faceLoops[f + 1]!; l++)
        boundary(scene.corners, identity, scene.loopStart[l]!, scene.loopStart[l + 1]!);
      face.push(f);
      start.push(fv.length);
      continue;
    }
    const body = scene.faceBody[f]!;
    const base = scene.cornerBase[body]!;
    const tris = triangulateFace(scene.bodies[body]!, f - scene.faceBase[body]!);
    const nextCorner = boundaryNext(s, f, c0, c1);
    for (let i = 0; i < tris.length; i += 3) {
      reserve();
      const c = [tris[i]! + base, tris[i + 1]! + base, tris[i + 2]! + base];
      const v = c.map((x) => scene.corners[x]!);
      const sources = c.map((x, k) => (nextCorner[x - c0] === c[(k + 1) % 3] ? x : -1));
      newellPlane(s.P, v, 0, 3, planes, 7 * face.length);
      boundary(v, sources, 0, 3);
      face.push(f);
      start.push(fv.length);
    }
  }
  s.facets = face.length;
  s.facetFace = face.view().slice();
  s.facetBody = Uint16Array.from(s.facetFace, (f) => scene.faceBody[f]!);
  s.facetStart = start.view().slice();
  s.fv = fv.view().slice();
  s.fnext = fnext.view().slice();
  s.fcorner = fcorner.view().slice();
  s.plane = planes;
  s.facetBoxes = new Float64Array(6 * s.facets);
  for (let i = 0; i < s.facets; i++) {
    emptyBox(s.facetBoxes, 6 * i);
    for (let c = s.facetStart[i]!; c < s.facetStart[i + 1]!; c++) growBox(s.facetBoxes, 6 * i, s.P, 3 * s.fv[c]!);
    const b = s.facetBoxes.subarray(6 * i, 6 * i + 6);
    planes[7 * i + 6] = Math.hypot(b[3]! - b[0]!, b[4]! - b[1]!, b[5]! - b[2]!);
  }
  s.cut = new Uint8Array(s.facets);
}

function boundaryNext(s: State, f: number, c0: number, c1: number): Int32Array {
  const next = new Int32Array(c1 - c0);
  for (let l = s.scene.faceLoops[f]!; l < s.scene.faceLoops[f + 1]!; l++) {
    const b = s.scene.loopStart[l]!;
    const e = s.scene.loopStart[l + 1]!;
    for (let c = b; c < e; c++) next[c - c0] = c + 1 < e ? c + 1 : b;
  }
  return next;
}

/**
 * Writes a face's plane and says whether the face is flat on it: the plane that an earlier cut gave it (kept, never
 * fitted again, as long as the vertices are still near it), else Newell's.
 */
function flatPlane(s: State, f: number, out: Float64Array, at: number): boolean {
  const { scene, P, tol } = s;
  const begin = scene.loopStart[scene.faceLoops[f]!]!;
  const end = scene.loopStart[scene.faceLoops[f + 1]!]!;
  const body = scene.faceBody[f]!;
  const carried = scene.bodies[body]!.layers.plane;
  const i = 6 * (f - scene.faceBase[body]!);
  if (carried && !Number.isNaN(carried[i]!)) {
    for (let k = 0; k < 3; k++) {
      out[at + k] = carried[i + k]!;
      out[at + 3 + k] = carried[i + 3 + k]! - scene.centre[k]!;
    }
    if (boundaryBend(P, scene.corners, begin, end, out, at) <= 1e3 * tol) return true;
  }
  newellPlane(P, scene.corners, begin, scene.loopStart[scene.faceLoops[f]! + 1]!, out, at);
  return end - begin === 3 || boundaryBend(P, scene.corners, begin, end, out, at) <= tol;
}

/** Face pairs as facet pairs. */
function pairFacets(s: State, pairs: FacePairs): void {
  const a = new IntList(pairs.first.length + 1);
  const b = new IntList(pairs.first.length + 1);
  const lastOf = (f: number): number => {
    let i = s.faceFacet[f]! + 1;
    while (i < s.facets && s.facetFace[i] === f) i++;
    return i;
  };
  for (let i = 0; i < pairs.first.length; i++) {
    const f0 = s.faceFacet[pairs.first[i]!]!;
    const g0 = s.faceFacet[pairs.second[i]!]!;
    const f1 = lastOf(pairs.first[i]!);
    const g1 = lastOf(pairs.second[i]!);
    const one = f1 - f0 === 1 && g1 - g0 === 1;
    for (let f = f0; f < f1; f++)
      for (let g = g0; g < g1; g++)
        if (
          s.facetStart[f + 1]! > s.facetStart[f]! &&
          s.facetStart[g + 1]! > s.facetStart[g]! &&
          (one || boxesMeet(s.facetBoxes, 6 * f, s.facetBoxes, 6 * g, s.tol))
        ) {
          a.push(f);
          b.push(g);
        }
  }
  s.pairA = a.view();
  s.pairB = b.view();
}

/** Pairs whose planes agree within tol make one plane; its canonical plane is that of its largest facet. */
function clusterPlanes(s: State): void {
  const { plane: L, facets } = s;
  const roots = new Roots(facets);
  const limit = 1 - (SAME_PLANE_ANGLE * SAME_PLANE_ANGLE) / 2;
  const within = (f: number, g: number): boolean => {
    for (let c = s.facetStart[f]!; c < s.facetStart[f + 1]!; c++)
      if (Math.abs(s.distance(s.fv[c]!, g)) > s.tol) return false;
    return true;
  };
  for (let i = 0; i < s.pairA.length; i++) {
    const f = s.pairA[i]!;
    const g = s.pairB[i]!;
    const a = 7 * f;
    const b = 7 * g;
    const d = L[a]! * L[b]! + L[a + 1]! * L[b + 1]! + L[a + 2]! * L[b + 2]!;
    if (!(d > limit || d < -limit)) continue;
    const larger = L[a + 6]! > L[b + 6]!;
    if (larger ? within(g, f) || within(f, g) : within(f, g) || within(g, f)) {
      roots.join(f, g);
      s.anyShared = true;
    }
  }
  s.facetPlane = new Int32Array(facets);
  const of = new Int32Array(facets).fill(-1);
  const canonical = new IntList(facets + 1);
  const shared = new Uint8Array(facets);
  for (let f = 0; f < facets; f++) {
    const r = roots.of(f);
    let p = of[r]!;
    if (p < 0) {
      p = of[r] = canonical.length;
      canonical.push(f);
    } else {
      shared[p] = 1;
      if (L[7 * f + 6]! > L[7 * canonical.get(p) + 6]!) canonical.data[p] = f;
    }
    s.facetPlane[f] = p;
  }
  s.planes = canonical.length;
  s.planeFacet = canonical.view().slice();
  s.planeShared = shared;
  if (s.anyShared)
    for (let f = 0; f < facets; f++)
      if (shared[s.facetPlane[f]!])
        for (let c = s.facetStart[f]!; c < s.facetStart[f + 1]!; c++) s.member.index(s.fv[c]!, s.facetPlane[f]!);
}

function numberEdges(s: State): void {
  s.fedge = new Int32Array(s.fv.length);
  for (let f = 0; f < s.facets; f++)
    for (let c = s.facetStart[f]!; c < s.facetStart[f + 1]!; c++) {
      const e = s.edges.indexEdge(s.fv[c]!, s.fv[s.fnext[c]!]!);
      s.fedge[c] = e;
      if (s.anyShared) s.edgePlanes.add(e, s.facetPlane[f]!);
    }
}
