import { inheritLayers, type Heritage } from './inherit.ts';
import { dropFalsePlanes } from './layerFaults.ts';
import { faceCount, type PolyMesh } from './polymesh.ts';

/**
 * A corner of a new face: its vertex, and the corner of the old mesh along whose edge the edge that leaves it runs (−1
 * for a new edge).
 */
export interface NewCorner {
  vertex: number;
  edge: number;
}

/** A face made from another one; the outer boundary first. */
export interface NewFace {
  from: number;
  boundaries: readonly (readonly NewCorner[])[];
}

/** The corners of a boundary (loop) of a mesh as they are. */
export function cornersOf(m: PolyMesh, loop: number): NewCorner[] {
  const out: NewCorner[] = [];
  for (let c = m.loopStart[loop]!; c < m.loopStart[loop + 1]!; c++) out.push({ vertex: m.corners[c]!, edge: c });
  return out;
}

/** All faces of a mesh as they are. */
export function facesAsTheyAre(m: PolyMesh): NewFace[] {
  return Array.from({ length: faceCount(m) }, (_, f) => ({
    from: f,
    boundaries: Array.from({ length: m.faceLoops[f + 1]! - m.faceLoops[f]! }, (_, i) =>
      cornersOf(m, m.faceLoops[f]! + i),
    ),
  }));
}

/**
 * The mesh with new faces in place of its own, and perhaps more vertices; a face that stays as it is may be named by
 * its number alone. Layers are handed on by their rules.
 */
export function reface(
  m: PolyMesh,
  faces: readonly (NewFace | number)[],
  positions: Float64Array = m.positions,
): PolyMesh {
  const faceLoops = new Int32Array(faces.length + 1);
  const loopStart: number[] = [0];
  const corners: number[] = [];
  const edge: number[] = [];
  const from = new Int32Array(faces.length);
  faces.forEach((face, i) => {
    if (typeof face === 'number') {
      from[i] = face;
      for (let l = m.faceLoops[face]!; l < m.faceLoops[face + 1]!; l++) {
        for (let c = m.loopStart[l]!; c < m.loopStart[l + 1]!; c++) {
          corners.push(m.corners[c]!);
          edge.push(c);
        }
        loopStart.push(corners.length);
      }
    } else {
      from[i] = face.from;
      for (const boundary of face.boundaries) {
        for (const c of boundary) {
          corners.push(c.vertex);
          edge.push(c.edge);
        }
        loopStart.push(corners.length);
      }
    }
    faceLoops[i + 1] = loopStart.length - 1;
  });
  const heritage: Heritage = {
    body: new Int32Array(faces.length),
    face: from,
    flipped: new Uint8Array(faces.length),
    edgeBody: new Int32Array(corners.length),
    edge: Int32Array.from(edge),
  };
  const made = { positions, corners: Int32Array.from(corners), begin: (f: number) => loopStart[faceLoops[f]!]! };
  const { layers, slots } = inheritLayers(made, [m], heritage);
  const mesh = { positions, faceLoops, loopStart: Int32Array.from(loopStart), corners: made.corners, layers, slots };
  // A new face may have corners off the plane of the one that it was made from.
  dropFalsePlanes(mesh, (i) => typeof faces[i] !== 'number');
  return mesh;
}
