import { boxesMeet, Bvh } from '../../mesh/index.ts';
import type { Scene } from './scene.ts';
import { IntList } from './tables.ts';

/** Faces, by their numbers in the scene, that may meet. */
export interface FacePairs {
  first: Int32Array;
  second: Int32Array;
}

/**
 * Step 0, near and far: pairs of faces of different bodies whose boxes, grown by tol, meet. Faces in no pair pass
 * through untouched.
 */
export function nearPairs(scene: Scene, tol: number): FacePairs {
  const { bodies, bodyBoxes, faceBoxes, faceBase } = scene;
  const n = bodies.length;
  const first = new IntList(1024);
  const second = new IntList(1024);
  const partners: number[][] = bodies.map((_, i) =>
    bodies.flatMap((_, j) => (i !== j && boxesMeet(bodyBoxes, 6 * i, bodyBoxes, 6 * j, tol) ? [j] : [])),
  );
  // Joint box of what a body may meet: most faces of a large body are out of reach of it at once.
  const trees = bodies.map((_, i) => {
    const near = new IntList();
    if (partners[i]!.length) {
      const reach = new Float64Array([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
      for (const j of partners[i]!)
        for (let k = 0; k < 3; k++) {
          reach[k] = Math.min(reach[k]!, bodyBoxes[6 * j + k]!);
          reach[3 + k] = Math.max(reach[3 + k]!, bodyBoxes[6 * j + 3 + k]!);
        }
      for (let f = faceBase[i]!; f < faceBase[i + 1]!; f++)
        if (boxesMeet(faceBoxes, 6 * f, reach, 0, tol)) near.push(f);
    }
    return new Bvh(faceBoxes, near.view());
  });
  for (let i = 0; i < n; i++)
    for (const j of partners[i]!)
      if (j > i)
        trees[i]!.pairs(trees[j]!, tol, (f, g) => {
          first.push(f);
          second.push(g);
        });
  return { first: first.view(), second: second.view() };
}

/** The same for faces of one mesh, of which some are held against each other: neighbours are among the pairs. */
export function pairsAmong(scene: Scene, faces: Int32Array, tol: number): FacePairs {
  const first = new IntList(1024);
  const second = new IntList(1024);
  const tree = new Bvh(scene.faceBoxes, faces);
  for (const f of faces)
    tree.overlaps(scene.faceBoxes, 6 * f, tol, (g) => {
      if (g <= f) return;
      first.push(f);
      second.push(g);
    });
  return { first: first.view(), second: second.view() };
}
