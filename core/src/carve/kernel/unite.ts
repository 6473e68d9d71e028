import { Bvh, type OpContext, type PolyMesh } from '../../mesh/index.ts';
import type { AssembleOptions } from './assemble.ts';
import { carveBodies } from './guard.ts';
import { gatherScene, toleranceOf, type Scene } from './scene.ts';
import { Roots } from './tables.ts';

/**
 * Cutters whose surfaces come near each other, united to one; the others as they are. Afterwards cut lines of different
 * cutters never cross on a face of the target, so that one arrangement does for the whole list.
 */
export function uniteNear(cutters: readonly PolyMesh[], options: AssembleOptions, ctx?: OpContext): PolyMesh[] {
  if (cutters.length < 2) return [...cutters];
  const roots = nearGroups(gatherScene(cutters));
  const groups = new Map<number, PolyMesh[]>();
  cutters.forEach((m, i) => {
    const r = roots.of(i);
    groups.set(r, [...(groups.get(r) ?? []), m]);
  });
  if (groups.size === cutters.length) return [...cutters];
  // Touching places are left as they are: the cut itself parts what it leaves.
  const kept: AssembleOptions = { ...options, pinches: 'keep' };
  const quiet: OpContext = { signal: ctx?.signal };
  return [...groups.values()].map((group) => uniteAll(group, kept, quiet));
}

/** Unites by halves, so that no body is carried through more than log n unions. */
function uniteAll(group: readonly PolyMesh[], options: AssembleOptions, ctx: OpContext): PolyMesh {
  if (group.length === 1) return group[0]!;
  const half = group.length >> 1;
  const a = uniteAll(group.slice(0, half), options, ctx);
  const b = uniteAll(group.slice(half), options, ctx);
  return carveBodies([a, b], ['union'], options, ctx).meshes[0]!.mesh;
}

/** Bodies that hang together by faces whose boxes meet. */
function nearGroups(scene: Scene): Roots {
  const n = scene.bodies.length;
  const tol = toleranceOf(scene, 1e-5);
  const roots = new Roots(n);
  const trees: (Bvh | undefined)[] = [];
  const tree = (k: number): Bvh =>
    (trees[k] ??= new Bvh(
      scene.faceBoxes,
      Int32Array.from({ length: scene.faceBase[k + 1]! - scene.faceBase[k]! }, (_, i) => scene.faceBase[k]! + i),
    ));
  const bodies = new Bvh(
    scene.bodyBoxes,
    Int32Array.from({ length: n }, (_, i) => i),
  );
  bodies.pairs(bodies, tol, (i, j) => {
    if (i >= j || roots.of(i) === roots.of(j)) return;
    if (tree(i).meets(tree(j), tol)) roots.join(i, j);
  });
  return roots;
}
