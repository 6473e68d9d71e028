import { Bvh } from './bvh.ts';
import { faceBegin, faceCount, faceEnd, type PolyMesh } from './polymesh.ts';

const boxes = new WeakMap<PolyMesh, Float64Array>();
const trees = new WeakMap<PolyMesh, Bvh>();

/** The box of each face (min x y z, max x y z), found once and kept as long as the mesh. */
export function faceBoxes(m: PolyMesh): Float64Array {
  let out = boxes.get(m);
  if (out) return out;
  out = new Float64Array(6 * faceCount(m));
  for (let f = 0; f < faceCount(m); f++) boxOfCorners(m, faceBegin(m, f), faceEnd(m, f), out, 6 * f);
  boxes.set(m, out);
  return out;
}

/** Takes boxes over from another mesh for a mesh whose first faces are the `kept` runs of faces of that one. */
export function inheritBoxes(m: PolyMesh, from: PolyMesh, kept: readonly { face: number; faceEnd: number }[]): void {
  const known = boxes.get(from);
  if (!known) return;
  const out = new Float64Array(6 * faceCount(m));
  let f = 0;
  for (const { face, faceEnd } of kept) {
    out.set(known.subarray(6 * face, 6 * faceEnd), 6 * f);
    f += faceEnd - face;
  }
  for (; f < faceCount(m); f++) boxOfCorners(m, faceBegin(m, f), faceEnd(m, f), out, 6 * f);
  boxes.set(m, out);
}

/** Writes the box of a run of corners into `out` at `at`. */
export function boxOfCorners(m: PolyMesh, begin: number, end: number, out: Float64Array, at: number): void {
  for (let k = 0; k < 3; k++) {
    let low = Infinity;
    let high = -Infinity;
    for (let c = begin; c < end; c++) {
      const x = m.positions[3 * m.corners[c]! + k]!;
      if (x < low) low = x;
      if (x > high) high = x;
    }
    out[at + k] = low;
    out[at + 3 + k] = high;
  }
}

/** A tree of the boxes of all faces, built when first asked for with `build`; null when it is not there. */
export function faceTree(m: PolyMesh, build: boolean): Bvh | null {
  let tree = trees.get(m) ?? null;
  if (tree || !build) return tree;
  tree = new Bvh(
    faceBoxes(m),
    Int32Array.from({ length: faceCount(m) }, (_, f) => f),
  );
  trees.set(m, tree);
  return tree;
}
