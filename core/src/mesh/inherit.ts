import { emptyLayer, type LayerName, layerKind, layersInUse, setLayer, type Layers } from './layers.ts';
import { planeBasis, facePlane } from './planes.ts';
import { faceBegin, faceEnd, joinSlots, type PolyMesh } from './polymesh.ts';
import { triangulateFace } from './triangulate.ts';
import { wholeLayers } from './wholeLayers.ts';

/** A mean of directions shorter than this has no direction. */
const LEAST_MEAN = 1e-6;

/** Where each face and corner of a new mesh comes from; −1 where it comes from nothing. */
export interface Heritage {
  /** Per face: which of the source meshes, which face of it, and whether it was turned over. */
  body: Int32Array;
  face: Int32Array;
  flipped: Uint8Array;
  /** Per corner: the corner of that source mesh along whose edge the new corner's edge runs. */
  edgeBody: Int32Array;
  edge: Int32Array;
}

/**
 * The layers of a new mesh from those of the meshes it was made of, by each layer's declared rule: faces copy, edges
 * copy along old edges, corners copy at old vertices and are weighed by place inside the source face's triangles
 * elsewhere (barycentric coordinates, so exact for what varies linearly over a flat face). Also the joint list of slot
 * names.
 */
export function inheritLayers(
  made: { positions: Float64Array; corners: Int32Array; begin: (face: number) => number },
  given: readonly PolyMesh[],
  from: Heritage,
): { layers: Layers; slots: string[] } {
  const sources = wholeLayers(given);
  const faces = from.face.length;
  const { slots, maps } = joinSlots(sources);
  const layers: Layers = {};
  const names = layersInUse(sources);
  if (!names.includes('slot') && slots.length > 1) names.push('slot');
  for (const name of names) {
    const kind = layerKind(name);
    const size = kind.size;
    const out = emptyLayer(name, kind.on === 'face' ? faces : made.corners.length);
    const copy = (to: number, data: ArrayLike<number> | undefined, at: number, flipped: boolean) => {
      if (!data) return;
      for (let k = 0; k < size; k++)
        out[to * size + k] = data[at * size + k]! * (flipped && kind.negates?.includes(k) ? -1 : 1);
    };
    if (kind.on === 'face')
      for (let f = 0; f < faces; f++)
        copy(f, sources[from.body[f]!]!.layers[name], from.face[f]!, from.flipped[f] === 1);
    else if (kind.on === 'edge')
      for (let c = 0; c < made.corners.length; c++) {
        if (from.edge[c]! >= 0) copy(c, sources[from.edgeBody[c]!]!.layers[name], from.edge[c]!, false);
      }
    else
      for (let f = 0; f < faces; f++) {
        const source = sources[from.body[f]!]!;
        const data = source.layers[name];
        if (!data) continue;
        const same = sameAllOver(source, from.face[f]!, data, size);
        if (same >= 0) {
          for (let c = made.begin(f); c < made.begin(f + 1); c++) copy(c, data, same, from.flipped[f] === 1);
          continue;
        }
        const blend = faceBlend(source, from.face[f]!);
        for (let c = made.begin(f); c < made.begin(f + 1); c++) {
          const w = blend(made.positions, 3 * made.corners[c]!);
          for (let k = 0; k < size; k++) {
            let x = 0;
            for (let i = 0; i < w.length; i += 2) x += w[i + 1]! * data[w[i]! * size + k]!;
            out[c * size + k] = from.flipped[f] && kind.negates?.includes(k) ? -x : x;
          }
          if (kind.unit) {
            const length = Math.hypot(...out.subarray(c * size, c * size + size));
            // Directions that cancel out have no mean: the nearest one stands.
            if (length > LEAST_MEAN) for (let k = 0; k < size; k++) out[c * size + k]! /= length;
            else copy(c, data, nearestOf(w), from.flipped[f] === 1);
          }
        }
      }
    setLayer(layers, name satisfies LayerName, out);
  }
  if (layers.slot) for (let f = 0; f < faces; f++) layers.slot[f] = maps[from.body[f]!]![layers.slot[f]!] ?? 0;
  return { layers, slots };
}

/** The corner that weighs most. */
function nearestOf(weights: readonly number[]): number {
  let best = 0;
  for (let i = 2; i < weights.length; i += 2) if (weights[i + 1]! > weights[best + 1]!) best = i;
  return weights[best]!;
}

/** A corner of a face where a layer has one value all over it; −1 where it has not. */
function sameAllOver(m: PolyMesh, f: number, data: ArrayLike<number>, size: number): number {
  const begin = faceBegin(m, f);
  for (let i = begin * size; i < faceEnd(m, f) * size; i++) if (data[i] !== data[begin * size + (i % size)]) return -1;
  return begin;
}

/** For a source face: a function from a place to (corner, weight) pairs. */
function faceBlend(m: PolyMesh, f: number): (P: Float64Array, i: number) => number[] {
  const plane = facePlane(m, f);
  const basis = new Float64Array(6);
  planeBasis(plane, 0, basis);
  const begin = faceBegin(m, f);
  const end = faceEnd(m, f);
  let triangles: number[] | null = null;
  /** Corners by their first coordinate. */
  const byX = new Map<number, number[]>();
  for (let c = begin; c < end; c++) {
    const x = m.positions[3 * m.corners[c]!]!;
    const list = byX.get(x);
    if (list) list.push(c);
    else byX.set(x, [c]);
  }
  const flat = (P: Float64Array, i: number): [number, number] => {
    const x = P[i]! - plane[3]!;
    const y = P[i + 1]! - plane[4]!;
    const z = P[i + 2]! - plane[5]!;
    return [basis[0]! * x + basis[1]! * y + basis[2]! * z, basis[3]! * x + basis[4]! * y + basis[5]! * z];
  };
  return (P, i) => {
    for (const c of byX.get(P[i]!) ?? []) {
      const v = 3 * m.corners[c]!;
      if (m.positions[v] === P[i] && m.positions[v + 1] === P[i + 1] && m.positions[v + 2] === P[i + 2]) return [c, 1];
    }
    const [x, y] = flat(P, i);
    triangles ??= triangulateFace(m, f);
    let best: number[] = [begin, 1];
    let most = -Infinity;
    for (let t = 0; t < triangles.length; t += 3) {
      const c = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!] as const;
      const [ax, ay] = flat(m.positions, 3 * m.corners[c[0]]!);
      const [bx, by] = flat(m.positions, 3 * m.corners[c[1]]!);
      const [cx, cy] = flat(m.positions, 3 * m.corners[c[2]]!);
      const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
      if (!(area > 0)) continue;
      const u = ((bx - x) * (cy - y) - (cx - x) * (by - y)) / area;
      const v = ((cx - x) * (ay - y) - (ax - x) * (cy - y)) / area;
      const least = Math.min(u, v, 1 - u - v);
      if (least > most) {
        most = least;
        best = [c[0], u, c[1], v, c[2], 1 - u - v];
      }
    }
    return best;
  };
}
