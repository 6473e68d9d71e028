import { LAYER_NAMES, layerKind } from './layers.ts';
import { sizeOf } from './measures.ts';
import { cornerCount, faceBegin, faceCount, faceEnd, type PolyMesh } from './polymesh.ts';

/** Shading normals are kept in 32 bits: their length is 1 but for that. */
const UNIT_WITHIN = 1e-5;
/** How far corners may be from the plane that a cut gave their face, relative to the size of the mesh. */
const FLAT_WITHIN = 1e-7;

/** What is not as a mesh promises: which layer, in words, and where. */
export interface LayerFault {
  layer: string;
  what: string;
  face?: number;
  corner?: number;
}

/**
 * Where a mesh breaks what each layer promises: places finite, layers as long as what carries them, normals of length
 * 1, texture coordinates finite, slots among the names, planes through their corners. The first fault of each layer;
 * none where all is whole.
 */
export function layerFaults(m: PolyMesh): LayerFault[] {
  const out: LayerFault[] = [];
  const vertex = m.positions.findIndex((x) => !Number.isFinite(x));
  if (vertex >= 0) out.push({ layer: 'positions', what: `vertex ${Math.floor(vertex / 3)} is at no place` });
  for (const name of LAYER_NAMES) {
    const data = m.layers[name];
    if (!data) continue;
    const { on, size } = layerKind(name);
    if (data.length !== size * (on === 'face' ? faceCount(m) : cornerCount(m)))
      out.push({ layer: name, what: 'it has another length than what carries it' });
  }
  const { normal, uv, slot, plane } = m.layers;
  const corner = normal ? brokenNormal(normal) : -1;
  if (corner >= 0) out.push({ layer: 'normal', what: 'a normal is not of length 1', corner });
  const off = uv ? uv.findIndex((x) => !Number.isFinite(x)) : -1;
  if (off >= 0) out.push({ layer: 'uv', what: 'a texture coordinate is no number', corner: off >> 1 });
  const face = slot ? slot.findIndex((s) => !(s >= 0 && s < m.slots.length)) : -1;
  if (face >= 0) out.push({ layer: 'slot', what: 'a face is in a slot that is not there', face });
  const bent = plane ? offPlane(m, plane) : -1;
  if (bent >= 0) out.push({ layer: 'plane', what: 'corners are off the plane of their face', face: bent });
  return out;
}

/** The first corner whose shading normal is not of length 1; −1 for none. */
export function brokenNormal(normal: Float32Array): number {
  for (let c = 0; 3 * c < normal.length; c++)
    if (!(Math.abs(Math.hypot(normal[3 * c]!, normal[3 * c + 1]!, normal[3 * c + 2]!) - 1) < UNIT_WITHIN)) return c;
  return -1;
}

function offPlane(m: PolyMesh, plane: Float64Array): number {
  const within = FLAT_WITHIN * sizeOf(m);
  for (let f = 0; f < faceCount(m); f++) if (!isTrue(m, plane, f, within)) return f;
  return -1;
}

/** Whether a face has no plane of its own, or one that all of its corners lie on, within so many mm. */
function isTrue(m: PolyMesh, plane: Float64Array, f: number, within: number): boolean {
  const q = 6 * f;
  if (Number.isNaN(plane[q]!)) return true;
  if (!(Math.abs(Math.hypot(plane[q]!, plane[q + 1]!, plane[q + 2]!) - 1) < UNIT_WITHIN)) return false;
  const P = m.positions;
  for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
    const v = 3 * m.corners[c]!;
    let d = 0;
    for (let k = 0; k < 3; k++) d += plane[q + k]! * (P[v + k]! - plane[q + 3 + k]!);
    if (!(Math.abs(d) <= within)) return false;
  }
  return true;
}

/**
 * Takes the planes of faces away that their corners are not on any more: all faces, or those that are asked for. The
 * mesh must be new: its layer is written.
 */
export function dropFalsePlanes(m: PolyMesh, asked: (face: number) => boolean = () => true): void {
  const { plane } = m.layers;
  if (!plane) return;
  const within = FLAT_WITHIN * sizeOf(m);
  for (let f = 0; f < faceCount(m); f++)
    if (asked(f) && !isTrue(m, plane, f, within)) plane.fill(NaN, 6 * f, 6 * f + 6);
}
