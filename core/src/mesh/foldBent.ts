import { faceBend } from './planes.ts';
import { faceBegin, faceEnd, type PolyMesh } from './polymesh.ts';
import { facesAsTheyAre, reface, type NewFace } from './reface.ts';
import { topologyOf } from './topology.ts';
import { triangulateFace } from './triangulate.ts';

/** A mesh whose bent faces are flat pieces, and where each corner went. */
export interface Folded {
  mesh: PolyMesh;
  /** For each old corner the new one that leaves along the same edge. */
  corner: Int32Array;
}

/**
 * The mesh with the faces that bend by more than a tolerance (mm), of those wanted, in the triangles that they are
 * drawn and cut as (see `triangulateFace`), so that its surface is the same. The edges between these are marked as
 * folds. Null where there is no such face.
 */
export function foldBent(m: PolyMesh, tolerance: number, wanted: (face: number) => boolean): Folded | null {
  const { next } = topologyOf(m);
  const corner = new Int32Array(m.corners.length);
  const folds: number[] = [];
  const faces: (NewFace | number)[] = [];
  let at = 0;
  let any = false;
  for (const face of facesAsTheyAre(m)) {
    const f = face.from;
    const [begin, end] = [faceBegin(m, f), faceEnd(m, f)];
    if (end - begin < 4 || !wanted(f) || faceBend(m, f) <= tolerance) {
      faces.push(f);
      for (let c = begin; c < end; c++) corner[c] = at++;
      continue;
    }
    any = true;
    const t = triangulateFace(m, f);
    for (let i = 0; i < t.length; i += 3)
      faces.push({
        from: f,
        boundaries: [
          [0, 1, 2].map((k) => {
            const [c, d] = [t[i + k]!, t[i + ((k + 1) % 3)]!];
            const own = next[c] === d;
            if (own) corner[c] = at;
            else folds.push(at);
            at++;
            return { vertex: m.corners[c]!, edge: own ? c : -1 };
          }),
        ],
      });
  }
  if (!any) return null;
  const mesh = reface(m, faces);
  const fold = mesh.layers.fold?.slice() ?? new Uint8Array(mesh.corners.length);
  for (const c of folds) fold[c] = 1;
  return { mesh: { ...mesh, layers: { ...mesh.layers, fold } }, corner };
}
