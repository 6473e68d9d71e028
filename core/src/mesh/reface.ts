import { inheritLayers, type Heritage } from './inherit.ts';
import { faceCount, type PolyMesh } from './polymesh.ts';

/** A corner of a new face: its vertex, and the corner of the old mesh along whose edge the edge that leaves it runs (−1 for a new edge). */
export interface NewCorner {
  vertex: number;
  edge: number;
}

/** A face made from another one; the outer outline first. */
export interface NewFace {
  from: number;
  outlines: readonly (readonly NewCorner[])[];
}

/** The corners of an outline (loop) of a mesh as they are. */
export function cornersOf(m: PolyMesh, loop: number): NewCorner[] {
  const out: NewCorner[] = [];
  for (let c = m.loopStart[loop]!; c < m.loopStart[loop + 1]!; c++) out.push({ vertex: m.corners[c]!, edge: c });
  return out;
}

/** All faces of a mesh as they are. */
export function facesAsTheyAre(m: PolyMesh): NewFace[] {
  return Array.from({ length: faceCount(m) }, (_, f) => ({
    from: f,
    outlines: Array.from({ length: m.faceLoops[f + 1]! - m.faceLoops[f]! }, (_, i) =>
      cornersOf(m, m.faceLoops[f]! + i),
    ),
  }));
}

/** The mesh with new faces in place of its own, and perhaps more vertices; layers are handed on by their rules. */
export function reface(m: PolyMesh, faces: readonly NewFace[], positions: Float64Array = m.positions): PolyMesh {
  const faceLoops = [0];
  const loopStart = [0];
  const corners: number[] = [];
  const edge: number[] = [];
  for (const { outlines } of faces) {
    for (const outline of outlines) {
      for (const c of outline) {
        corners.push(c.vertex);
        edge.push(c.edge);
      }
      loopStart.push(corners.length);
    }
    faceLoops.push(loopStart.length - 1);
  }
  const from: Heritage = {
    body: new Int32Array(faces.length),
    face: Int32Array.from(faces, (f) => f.from),
    flipped: new Uint8Array(faces.length),
    edgeBody: new Int32Array(corners.length),
    edge: Int32Array.from(edge),
  };
  const made = { positions, corners: Int32Array.from(corners), begin: (f: number) => loopStart[faceLoops[f]!]! };
  const { layers, slots } = inheritLayers(made, [m], from);
  return {
    positions,
    faceLoops: Int32Array.from(faceLoops),
    loopStart: Int32Array.from(loopStart),
    corners: made.corners,
    layers,
    slots,
  };
}
