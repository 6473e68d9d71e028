import {
  bounds,
  boxesMeet,
  cornerCount,
  faceCount,
  loopCount,
  topologyOf,
  vertexCount,
  type PolyMesh,
} from '../../mesh/index.ts';
import type { Beyond } from './reach.ts';

/**
 * The bodies of one operation side by side, numbered through: body 0 is the target, the others are cutters that act as
 * one. Holds nothing that depends on a tolerance, so that every rung of the ladder starts from the same scene.
 */
export interface Scene {
  readonly bodies: readonly PolyMesh[];
  /**
   * Whether the target is an open sheet: it has no inside, and only what of it is in or out of the cutters is asked.
   */
  readonly open: boolean;
  /**
   * What of the target is out of reach of the cutters: body 0 is then only what is in reach, with open edges where the
   * rest begins.
   */
  readonly beyond: Beyond | null;
  /**
   * Pairs of vertices: the edges along which the target hangs together with what is out of reach, as the face in reach
   * walks them.
   */
  readonly borderEdges: Int32Array;
  /** First vertex, face and corner of each body in the joint numbering, and the totals at the end. */
  readonly vertexBase: Int32Array;
  readonly faceBase: Int32Array;
  readonly cornerBase: Int32Array;
  readonly faceBody: Uint16Array;
  /** Coordinates relative to `centre`, three per vertex. */
  readonly positions: Float64Array;
  readonly centre: readonly [number, number, number];
  readonly faceLoops: Int32Array;
  readonly loopStart: Int32Array;
  /**
   * Vertex of each corner, and the corner that runs the other way along its edge (in the same body; negative for none).
   */
  readonly corners: Int32Array;
  readonly opposite: Int32Array;
  readonly cornerFace: Int32Array;
  /** Box of each face and of each body: min x y z, max x y z. */
  readonly faceBoxes: Float64Array;
  readonly bodyBoxes: Float64Array;
  /** Longest side of the joint box, and the largest coordinate as given: what tolerance is relative to. */
  readonly size: number;
  readonly magnitude: number;
  /** Greatest number of corners that any face has. */
  readonly longest: number;
}

/** Greatest number of bodies in one operation: body numbers are kept in 16 bits. */
export const MOST_BODIES = 65_000;

export function gatherScene(bodies: readonly PolyMesh[], open = false, beyond: Beyond | null = null): Scene {
  const base = (count: (m: PolyMesh) => number): Int32Array => {
    const out = new Int32Array(bodies.length + 1);
    bodies.forEach((m, k) => (out[k + 1] = out[k]! + count(m)));
    return out;
  };
  const vertexBase = base(vertexCount);
  const faceBase = base(faceCount);
  const loopBase = base(loopCount);
  const cornerBase = base(cornerCount);
  const n = bodies.length;

  const boxes = bodies.map((m, k) => bounds(k === 0 && beyond ? beyond.whole : m));
  const low = [0, 1, 2].map((k) => Math.min(...boxes.map((b) => b.min[k]!)));
  const high = [0, 1, 2].map((k) => Math.max(...boxes.map((b) => b.max[k]!)));
  const centre = [0, 1, 2].map((k) => (low[k]! + high[k]!) / 2) as [number, number, number];
  const size = Math.max(...[0, 1, 2].map((k) => high[k]! - low[k]!));
  const magnitude = Math.max(...low.map(Math.abs), ...high.map(Math.abs));

  const positions = new Float64Array(3 * vertexBase[n]!);
  const faceLoops = new Int32Array(faceBase[n]! + 1);
  const loopStart = new Int32Array(loopBase[n]! + 1);
  const corners = new Int32Array(cornerBase[n]!);
  const opposite = new Int32Array(cornerBase[n]!);
  const cornerFace = new Int32Array(cornerBase[n]!);
  const faceBody = new Uint16Array(faceBase[n]!);
  bodies.forEach((m, k) => {
    const v = vertexBase[k]!;
    const f = faceBase[k]!;
    const l = loopBase[k]!;
    const c = cornerBase[k]!;
    const t = topologyOf(m);
    for (let i = 0; i < m.positions.length; i += 3) {
      positions[3 * v + i] = m.positions[i]! - centre[0];
      positions[3 * v + i + 1] = m.positions[i + 1]! - centre[1];
      positions[3 * v + i + 2] = m.positions[i + 2]! - centre[2];
    }
    for (let i = 1; i < m.faceLoops.length; i++) faceLoops[f + i] = l + m.faceLoops[i]!;
    for (let i = 1; i < m.loopStart.length; i++) loopStart[l + i] = c + m.loopStart[i]!;
    for (let i = 0; i < m.corners.length; i++) {
      corners[c + i] = v + m.corners[i]!;
      opposite[c + i] = t.opposite[i]! < 0 ? -1 : c + t.opposite[i]!;
      cornerFace[c + i] = f + t.face[i]!;
    }
    faceBody.fill(k, f, faceBase[k + 1]!);
  });

  const faceBoxes = new Float64Array(6 * faceBase[n]!);
  const bodyBoxes = new Float64Array(6 * n);
  for (let k = 0; k < n; k++) emptyBox(bodyBoxes, 6 * k);
  let longest = 0;
  for (let f = 0; f < faceBase[n]!; f++) {
    const s = loopStart[faceLoops[f]!]!;
    const e = loopStart[faceLoops[f + 1]!]!;
    longest = Math.max(longest, e - s);
    emptyBox(faceBoxes, 6 * f);
    for (let c = s; c < e; c++) growBox(faceBoxes, 6 * f, positions, 3 * corners[c]!);
    growBox(bodyBoxes, 6 * faceBody[f]!, faceBoxes, 6 * f);
    growBox(bodyBoxes, 6 * faceBody[f]!, faceBoxes, 6 * f + 3);
  }
  if (beyond)
    for (const corner of [boxes[0]!.min, boxes[0]!.max])
      growBox(
        bodyBoxes,
        0,
        Float64Array.from(corner, (x, k) => x - centre[k]!),
        0,
      );
  return {
    bodies,
    open,
    beyond,
    borderEdges: beyond ? bordersOf(beyond, positions, corners, opposite, loopStart, bodyBoxes) : new Int32Array(0),
    vertexBase,
    faceBase,
    cornerBase,
    faceBody,
    positions,
    centre,
    faceLoops,
    loopStart,
    corners,
    opposite,
    cornerFace,
    faceBoxes,
    bodyBoxes,
    size,
    magnitude,
    longest,
  };
}

/** Open edges of the target with no cutter near: a sheet's own border may run through a cutter. */
function bordersOf(
  { border }: Beyond,
  positions: Float64Array,
  corners: Int32Array,
  opposite: Int32Array,
  loopStart: Int32Array,
  bodyBoxes: Float64Array,
): Int32Array {
  const out: number[] = [];
  const box = new Float64Array(6);
  for (let l = 0; l + 1 < loopStart.length; l++)
    for (let c = loopStart[l]!; c < loopStart[l + 1]!; c++) {
      const [u, v] = [corners[c]!, corners[c + 1 < loopStart[l + 1]! ? c + 1 : loopStart[l]!]!];
      if (opposite[c]! >= 0 || !border[u] || !border[v]) continue;
      emptyBox(box, 0);
      for (const q of [u, v]) growBox(box, 0, positions, 3 * q);
      let near = false;
      for (let k = 6; k < bodyBoxes.length && !near; k += 6) near = boxesMeet(box, 0, bodyBoxes, k, 0);
      if (!near) out.push(u, v);
    }
  return Int32Array.from(out);
}

export function emptyBox(b: Float64Array, at: number): void {
  for (let k = 0; k < 3; k++) {
    b[at + k] = Infinity;
    b[at + 3 + k] = -Infinity;
  }
}

export function growBox(b: Float64Array, at: number, p: Float64Array, i: number): void {
  for (let k = 0; k < 3; k++) {
    const x = p[i + k]!;
    if (x < b[at + k]!) b[at + k] = x;
    if (x > b[at + 3 + k]!) b[at + 3 + k] = x;
  }
}

/**
 * tol = max(rel · size, 64 eps · largest coordinate): never below what rounding has done to the coordinates already.
 */
export const toleranceOf = (scene: Scene, rel: number): number =>
  Math.max(rel * scene.size, 64 * Number.EPSILON * scene.magnitude);
