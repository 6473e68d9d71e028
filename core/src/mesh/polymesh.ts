import { MasonError } from './errors.ts';
import { LAYER_NAMES, type Layers } from './layers.ts';
import type { Vec3 } from './vec.ts';

/**
 * The one mesh that travels through everything: polygons with any number of inner boundaries, as a structure of arrays,
 * never changed once made. A corner is also the directed edge that leaves it.
 */
export interface PolyMesh {
  /** Three coordinates per vertex, mm. */
  readonly positions: Float64Array;
  /**
   * Face f owns loops `faceLoops[f] … faceLoops[f + 1] − 1`: the outer boundary, counter-clockwise from outside, then
   * the inner ones.
   */
  readonly faceLoops: Int32Array;
  /** Loop l owns corners `loopStart[l] … loopStart[l + 1] − 1`. */
  readonly loopStart: Int32Array;
  /** The vertex of each corner. */
  readonly corners: Int32Array;
  readonly layers: Layers;
  /** Names of the material slots; the `slot` layer points into it. */
  readonly slots: readonly string[];
}

export const vertexCount = (m: PolyMesh): number => m.positions.length / 3;
export const faceCount = (m: PolyMesh): number => m.faceLoops.length - 1;
export const loopCount = (m: PolyMesh): number => m.loopStart.length - 1;
/** Where a vertex is, mm. */
export const vertexPlace = (m: PolyMesh, v: number): Vec3 => [
  m.positions[3 * v]!,
  m.positions[3 * v + 1]!,
  m.positions[3 * v + 2]!,
];

export const cornerCount = (m: PolyMesh): number => m.corners.length;

/** First corner of a face; its corners are contiguous up to `faceEnd`. */
export const faceBegin = (m: PolyMesh, f: number): number => m.loopStart[m.faceLoops[f]!]!;
export const faceEnd = (m: PolyMesh, f: number): number => m.loopStart[m.faceLoops[f + 1]!]!;

/** A face for `meshFromFaces`: one boundary, or an outer boundary followed by inner ones. */
export type FaceBoundaries = readonly number[] | readonly (readonly number[])[];

const isSingle = (f: FaceBoundaries): f is readonly number[] => typeof f[0] === 'number';

/**
 * Builds a mesh from coordinates (3 per vertex, mm) and faces.
 * Throws `bad-input` for a corner that points to no vertex, a coordinate that is not a finite number, or a boundary of
 * under 3 corners.
 */
export function meshFromFaces(
  positions: ArrayLike<number>,
  faces: readonly FaceBoundaries[],
  extras: { layers?: Layers; slots?: readonly string[] } = {},
): PolyMesh {
  const faceLoops = new Int32Array(faces.length + 1);
  const loopStart: number[] = [0];
  const corners: number[] = [];
  faces.forEach((face, f) => {
    for (const loop of isSingle(face) ? [face] : face) {
      if (loop.length < 3)
        throw new MasonError('bad-input', `Face ${f} has a boundary of under 3 corners.`, { face: f });
      for (const v of loop) corners.push(v);
      loopStart.push(corners.length);
    }
    faceLoops[f + 1] = loopStart.length - 1;
  });
  const mesh: PolyMesh = {
    positions: Float64Array.from(positions),
    faceLoops,
    loopStart: Int32Array.from(loopStart),
    corners: Int32Array.from(corners),
    layers: extras.layers ?? {},
    slots: extras.slots ?? ['Body'],
  };
  checkIndices(mesh);
  return mesh;
}

/** Throws `bad-input`, naming the first place, when a coordinate is not finite or a corner points to no vertex. */
export function checkIndices(m: PolyMesh): void {
  const n = vertexCount(m);
  for (let i = 0; i < m.positions.length; i++)
    if (!Number.isFinite(m.positions[i]!)) {
      const vertex = Math.floor(i / 3);
      throw new MasonError('bad-input', `Vertex ${vertex} has a coordinate that is not a number.`, { vertex });
    }
  for (let c = 0; c < m.corners.length; c++)
    if (!(m.corners[c]! >= 0 && m.corners[c]! < n))
      throw new MasonError('bad-input', `A face refers to vertex ${m.corners[c]}, and there are ${n}.`);
}

export const emptyMesh = (): PolyMesh => meshFromFaces([], []);

/** The boundaries of face f, as vertex numbers. */
export function faceBoundaries(m: PolyMesh, f: number): number[][] {
  const out: number[][] = [];
  for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++)
    out.push(Array.from(m.corners.subarray(m.loopStart[l]!, m.loopStart[l + 1]!)));
  return out;
}

/** The slot names of several meshes as one list, and for each mesh where its slots stand in it. */
export function joinSlots(meshes: readonly PolyMesh[]): { slots: string[]; maps: number[][] } {
  const slots: string[] = [];
  const maps = meshes.map((m) =>
    m.slots.map((name) => {
      const at = slots.indexOf(name);
      return at >= 0 ? at : slots.push(name) - 1;
    }),
  );
  return { slots, maps };
}

/** The mesh with all its faces in one slot of the given name. */
export function withSlot(m: PolyMesh, name: string): PolyMesh {
  return { ...m, slots: [name], layers: { ...m.layers, slot: new Int32Array(faceCount(m)) } };
}

/** The mesh with every face's source set to (body, its own number, course). */
export function withSource(m: PolyMesh, body: number, course: number): PolyMesh {
  const source = new Int32Array(3 * faceCount(m));
  for (let f = 0; f < faceCount(m); f++) {
    source[3 * f] = body;
    source[3 * f + 1] = f;
    source[3 * f + 2] = course;
  }
  return { ...m, layers: { ...m.layers, source } };
}

/** Whether two meshes are the same, number by number: faces, places, layers and slots. */
export function sameMesh(a: PolyMesh, b: PolyMesh): boolean {
  if (a === b) return true;
  return (
    alike(a.corners, b.corners) &&
    alike(a.positions, b.positions) &&
    alike(a.loopStart, b.loopStart) &&
    alike(a.faceLoops, b.faceLoops) &&
    a.slots.join() === b.slots.join() &&
    LAYER_NAMES.every((name) => {
      const [x, y] = [a.layers[name], b.layers[name]];
      return x && y ? alike(x, y) : x === y;
    })
  );
}

function alike(a: ArrayLike<number>, b: ArrayLike<number>): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i] && !(a[i] !== a[i] && b[i] !== b[i])) return false;
  return true;
}
