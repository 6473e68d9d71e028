import {
  inheritLayers,
  sameTurnedOver,
  topologyOf,
  triangulateFace,
  type Heritage,
  type PolyMesh,
} from '../../mesh/index.ts';
import { gatherBags, isBent, joinFlush, wholeFace } from './bags.ts';
import { nodeOfFace, nodeOfFacet } from './classify.ts';
import { distanceInside } from './coplanar.ts';
import { BoundaryTracer } from './faceBoundaries.ts';
import { onBorder, pairAndPart } from './pinches.ts';
import { Polygons } from './polygons.ts';
import type { State } from './state.ts';
import { PairTable } from './tables.ts';

export interface AssembleOptions {
  /** Join flush faces of different bodies. */
  joinFlush: boolean;
  /** Where a result touches itself along an edge or at a vertex only: part it into manifold pieces, or keep it so. */
  pinches: 'part' | 'keep';
  /** What new edges and new walls are marked with. */
  course: number;
}

/**
 * A result, with the vertex of the target that each of its vertices is and the face of the target that each face is of;
 * −1 for others.
 */
export interface Assembled {
  mesh: PolyMesh;
  vertices: Int32Array;
  faces: Int32Array;
}

/**
 * Step 8, assemble: the kept nodes as a mesh with layers; with zones, as `scribe` wants it, faces of different ones
 * stay apart.
 */
export function assemble(
  s: State,
  keep: Int8Array,
  options: AssembleOptions,
  zone: Uint8Array | null = null,
): Assembled {
  const { scene } = s;
  const out = new Polygons();
  const slot = slotOf(s);
  for (let f = 0; f < scene.faceBody.length; f++)
    if (s.faceFacet[f]! < 0) untouched(s, out, f, keep, nodeOfFace(s, f), zone);
  for (let f = 0; f < s.facets; f++) {
    if (s.cut[f]) continue;
    const first = s.faceFacet[s.facetFace[f]!] === f;
    if (!isBent(s, f) || (first && wholeFace(s, f, keep, zone)))
      untouched(s, out, s.facetFace[f]!, keep, nodeOfFacet(s, f), zone);
  }
  let bags = gatherBags(s, keep, zone);
  if (options.joinFlush && s.anyShared) bags = joinFlush(s, bags, (f, g) => slot(f) === slot(g));
  const tracer = new BoundaryTracer(s, out);
  for (const bag of bags) tracer.add(bag);
  dropStraight(s, out);
  const seam = pairAndPart(s, out, options.pinches === 'part');
  const made = finish(s, out, seam, options.course);
  if (zone) made.mesh.layers.mark = marks(out, made.mesh, options.course);
  return made;
}

/**
 * A face that nothing cut, corner for corner; only merged vertices may differ. A bent one that would be another surface
 * when it is turned over falls into its triangles.
 */
function untouched(s: State, out: Polygons, f: number, keep: Int8Array, node: number, zone: Uint8Array | null): void {
  const side = keep[node]!;
  if (!side) return;
  const { scene } = s;
  const body = scene.faceBody[f]!;
  const own = f - scene.faceBase[body]!;
  if (side < 0 && !sameTurnedOver(scene.bodies[body]!, own)) {
    const t = triangulateFace(scene.bodies[body]!, own);
    for (let i = 0; i < t.length; i += 3) {
      for (const k of [2, 1, 0]) {
        const [c, before] = [t[i + k]!, t[i + ((k + 2) % 3)]!];
        out.vertex.push(s.rep[scene.corners[c + scene.cornerBase[body]!]!]!);
        out.corner.push(topologyOf(scene.bodies[body]!).next[before] === c ? before + scene.cornerBase[body]! : -1);
      }
      out.endLoop();
      out.endFace(f, true, -1, zone?.[node] ?? 0);
    }
    return;
  }
  for (let l = scene.faceLoops[f]!; l < scene.faceLoops[f + 1]!; l++) {
    const from = scene.loopStart[l]!;
    const to = scene.loopStart[l + 1]!;
    const n = to - from;
    for (let i = 0; i < n; i++) {
      const c = side < 0 ? to - 1 - i : from + i;
      out.vertex.push(s.rep[scene.corners[c]!]!);
      out.corner.push(side > 0 ? c : c > from ? c - 1 : to - 1);
    }
    out.endLoop();
  }
  out.endFace(f, side < 0, -1, zone?.[node] ?? 0);
}

/** The joint slot name of a face, for telling whether two faces may become one. */
function slotOf(s: State): (face: number) => string {
  const { scene } = s;
  return (f) => {
    const body = scene.faceBody[f]!;
    const m = scene.bodies[body]!;
    return m.slots[m.layers.slot?.[f - scene.faceBase[body]!] ?? 0] ?? '';
  };
}

/**
 * Takes out vertices that are left with two neighbours in a straight run, as joined faces leave them: unless the vertex
 * was in a source and stood in a straight run there already.
 */
function dropStraight(s: State, out: Polygons): void {
  const originals = s.rep.length;
  // What faces out of reach use stays.
  const candidate = (v: number) => v >= originals || (s.near[v] === 1 && !onBorder(s, v));
  const n = neighbours(s.vertices);
  for (let l = 0; l + 1 < out.loopStart.length; l++) {
    const end = out.loopStart.get(l + 1);
    let u = out.vertex.get(end - 1);
    for (let i = out.loopStart.get(l); i < end; i++) {
      const v = out.vertex.get(i);
      if (candidate(u)) n.note(u, v);
      if (candidate(v)) n.note(v, u);
      u = v;
    }
  }
  let source: ReturnType<typeof neighbours> | null = null;
  const straightBefore = (v: number): boolean => {
    if (!source) {
      source = neighbours(originals);
      for (let c = 0; c < s.fv.length; c++) {
        if (s.fcorner[c]! < 0) continue;
        const [a, b] = [s.fv[c]!, s.fv[s.fnext[c]!]!];
        source.note(a, b);
        source.note(b, a);
      }
    }
    return source.count[v] === 2;
  };
  const drop = new Set<number>();
  for (let v = 0; v < s.vertices; v++) {
    if (n.count[v] !== 2 || (v < originals && straightBefore(v))) continue;
    const off = distanceInside(s.P, v, n.first[v]!, n.second[v]!);
    if (off > 10 * s.tol) continue;
    drop.add(v);
    s.moved(off);
  }
  if (!drop.size) return;
  let to = 0;
  let from = 0;
  for (let l = 0; l + 1 < out.loopStart.length; l++) {
    const end = out.loopStart.get(l + 1);
    const begin = to;
    for (; from < end; from++) {
      const v = out.vertex.get(from);
      if (drop.has(v)) continue;
      out.vertex.data[to] = v;
      out.corner.data[to++] = out.corner.get(from);
    }
    out.loopStart.data[l + 1] = to;
    if (to - begin < 3) s.trouble('boundary', out.vertex.get(end - 1));
  }
  out.vertex.length = out.corner.length = to;
}

/** Up to three distinct neighbours of each vertex: enough to tell two from more. */
function neighbours(vertices: number) {
  const count = new Uint8Array(vertices);
  const first = new Int32Array(vertices);
  const second = new Int32Array(vertices);
  const note = (v: number, w: number) => {
    if (count[v] === 0) {
      first[v] = w;
      count[v] = 1;
    } else if (count[v] === 1) {
      if (first[v] === w) return;
      second[v] = w;
      count[v] = 2;
    } else if (first[v] !== w && second[v] !== w) count[v] = 3;
  };
  return { count, first, second, note };
}

/** Numbers the used vertices through and hands the layers on. */
function finish(s: State, out: Polygons, seam: Uint8Array, course: number): Assembled {
  const { scene } = s;
  const originals = s.rep.length;
  const number = new Int32Array(s.vertices).fill(-1);
  const order: number[] = [];
  const corners = new Int32Array(out.vertex.length);
  for (let i = 0; i < corners.length; i++) {
    const v = out.vertex.get(i);
    if (number[v]! < 0) number[v] = order.push(v) - 1;
    corners[i] = number[v]!;
  }
  const positions = new Float64Array(3 * order.length);
  const vertices = Int32Array.from(order, (v) => (s.copyOf(v) < scene.vertexBase[1]! ? s.copyOf(v) : -1));
  order.forEach((v, i) => {
    const twin = s.copyOf(v);
    if (twin < originals) {
      // Vertices that were there keep their very bits.
      let body = 0;
      while (twin >= scene.vertexBase[body + 1]!) body++;
      const from = 3 * (twin - scene.vertexBase[body]!);
      for (let k = 0; k < 3; k++) positions[3 * i + k] = scene.bodies[body]!.positions[from + k]!;
    } else for (let k = 0; k < 3; k++) positions[3 * i + k] = s.P[3 * twin + k]! + scene.centre[k]!;
  });

  const faces = out.faces;
  const from: Heritage = {
    body: new Int32Array(faces),
    face: new Int32Array(faces),
    flipped: Uint8Array.from(out.flipped.view()),
    edgeBody: new Int32Array(corners.length),
    edge: new Int32Array(corners.length).fill(-1),
  };
  for (let f = 0; f < faces; f++) {
    const body = scene.faceBody[out.source.get(f)]!;
    from.body[f] = body;
    from.face[f] = out.source.get(f) - scene.faceBase[body]!;
  }
  for (let c = 0; c < corners.length; c++) {
    const source = out.corner.get(c);
    if (source < 0) continue;
    const body = scene.faceBody[scene.cornerFace[source]!]!;
    from.edgeBody[c] = body;
    from.edge[c] = source - scene.cornerBase[body]!;
  }
  const loopStart = out.loopStart.view().slice();
  const faceLoops = out.faceLoops.view().slice();
  const made = { positions, corners, begin: (f: number) => loopStart[faceLoops[f]!]! };
  const { layers, slots } = inheritLayers(made, scene.bodies, from);
  layers.plane = planes(s, out, layers.plane);
  layers.seam ??= new Int32Array(corners.length);
  for (let c = 0; c < corners.length; c++) if (seam[c]) layers.seam[c] = course;
  for (const c of newFolds(out)) (layers.fold ??= new Uint8Array(corners.length))[c] = 1;
  layers.source = sources(from, scene.bodies, course);
  const mesh = { positions, faceLoops, loopStart, corners, layers, slots };
  return { mesh, vertices, faces: from.face.map((f, i) => (from.body[i] === 0 ? f : -1)) };
}

/** Corners whose edge parts two pieces of one face and lies in one zone: the folds of a bent face that was cut. */
function newFolds(out: Polygons): number[] {
  const edges = new PairTable(64);
  const first: number[] = [];
  const face: number[] = [];
  const folds: number[] = [];
  for (let f = 0; f < out.faces; f++)
    for (let l = out.faceLoops.get(f); l < out.faceLoops.get(f + 1); l++) {
      const [begin, end] = [out.loopStart.get(l), out.loopStart.get(l + 1)];
      for (let c = begin; c < end; c++) {
        if (out.corner.get(c) >= 0) continue;
        const e = edges.indexEdge(out.vertex.get(c), out.vertex.get(c + 1 < end ? c + 1 : begin));
        if (e === first.length) {
          first.push(c);
          face.push(f);
        } else {
          const g = face[e]!;
          if (out.source.get(g) === out.source.get(f) && out.zone.get(g) === out.zone.get(f)) folds.push(first[e]!, c);
        }
      }
    }
  return folds;
}

/** Cut faces carry the canonical plane from now on; it is never fitted again. */
function planes(s: State, out: Polygons, inherited: Float64Array | undefined): Float64Array {
  const c = s.scene.centre;
  const P = inherited ?? new Float64Array(6 * out.faces).fill(NaN);
  for (let f = 0; f < out.faces; f++) {
    const p = out.plane.get(f);
    if (p < 0) continue;
    const q = 7 * s.planeFacet[p >> 1]!;
    const sign = p & 1 ? -1 : 1;
    for (let k = 0; k < 3; k++) {
      P[6 * f + k] = sign * s.plane[q + k]!;
      P[6 * f + 3 + k] = s.plane[q + 3 + k]! + c[k]!;
    }
  }
  return P;
}

/** Faces that the scribed outline encloses are marked with the course; others keep the mark that they had. */
const marks = (out: Polygons, mesh: PolyMesh, course: number): Int32Array =>
  Int32Array.from({ length: out.faces }, (_, f) => (out.zone.get(f) ? course : (mesh.layers.mark?.[f] ?? 0)));

/** Faces keep their source; what came from a cutter was made by this course. */
function sources(from: Heritage, bodies: readonly PolyMesh[], course: number): Int32Array {
  const out = new Int32Array(3 * from.face.length);
  for (let f = 0; f < from.face.length; f++) {
    const body = from.body[f]!;
    const known = bodies[body]!.layers.source;
    const i = 3 * from.face[f]!;
    if (known) for (let k = 0; k < 3; k++) out[3 * f + k] = known[i + k]!;
    else out.set([body, from.face[f]!, 0], 3 * f);
    if (body > 0) out[3 * f + 2] = course;
  }
  return out;
}
