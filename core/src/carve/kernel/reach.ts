import {
  bounds,
  boxesMeet,
  boxOfCorners,
  Bvh,
  faceBend,
  faceBoxes,
  faceCount,
  sizeOf,
  takeBoundaries,
  vertexCount,
  type PolyMesh,
  type Taken,
} from '../../mesh/index.ts';

/** What of a target is out of reach: it takes no part in the arrangement, but is there. */
export interface Beyond {
  readonly whole: PolyMesh;
  /**
   * Per vertex of the faces in reach: 1 where faces or boundaries out of reach use it too. Such a vertex stays as it
   * is.
   */
  readonly border: Uint8Array;
}

/** The part of a target that cutters can reach. */
export interface Reach extends Beyond {
  readonly taken: Taken;
  /** Per face of the target: 1 in reach. */
  readonly within: Uint8Array;
  /** Inner boundaries (loops) of the target that are out of reach, by face in reach. */
  readonly idle: ReadonlyMap<number, readonly number[]>;
}

/** Above this many cutters a tree of their boxes is asked. */
const TREE_ABOVE = 8;
/**
 * An inner boundary is left out of a face only when the face is flat to this share of the size: else it shapes the
 * face.
 */
const FLAT_FACE = 1e-10;

/**
 * Finds the faces of a target whose boxes meet, within a margin, the box of a cutter, and of those faces leaves out
 * the inner boundaries whose boxes meet none. All else lies outside of all cutters, so what becomes of it is known.
 * Null when all is in reach.
 */
export function reachOf(target: PolyMesh, cutters: readonly PolyMesh[], margin: number): Reach | null {
  const near = nearTest(cutters, margin);
  const boxes = faceBoxes(target);
  const n = faceCount(target);
  const within = new Uint8Array(n);
  const faces: number[] = [];
  for (let f = 0; f < n; f++)
    if (near(boxes, 6 * f)) {
      within[f] = 1;
      faces.push(f);
    }
  const idle = new Map<number, number[]>();
  const box = new Float64Array(6);
  const flat = FLAT_FACE * sizeOf(target);
  for (const f of faces) {
    const [first, end] = [target.faceLoops[f]! + 1, target.faceLoops[f + 1]!];
    if (first === end || faceBend(target, f) > flat) continue;
    for (let l = first; l < end; l++) {
      boxOfCorners(target, target.loopStart[l]!, target.loopStart[l + 1]!, box, 0);
      if (near(box, 0)) continue;
      const list = idle.get(f);
      if (list) list.push(l);
      else idle.set(f, [l]);
    }
  }
  if (faces.length === n && !idle.size) return null;
  const left = new Set([...idle.values()].flat());
  const taken = takeBoundaries(target, faces, (l) => !left.has(l));
  // Numbers of faces are those of the target.
  if (!target.layers.source)
    taken.mesh.layers.source = Int32Array.from({ length: 3 * faces.length }, (_, i) =>
      i % 3 === 1 ? faces[(i - 1) / 3]! : 0,
    );
  return { whole: target, taken, within, idle, border: borderOf(target, taken, within, left) };
}

function nearTest(cutters: readonly PolyMesh[], margin: number): (box: ArrayLike<number>, at: number) => boolean {
  const n = cutters.length;
  const each = new Float64Array(6 * n);
  const all = new Float64Array([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
  cutters.forEach((m, i) => {
    const { min, max } = bounds(m);
    for (let k = 0; k < 3; k++) {
      all[k] = Math.min(all[k]!, (each[6 * i + k] = min[k]!));
      all[3 + k] = Math.max(all[3 + k]!, (each[6 * i + 3 + k] = max[k]!));
    }
  });
  const tree =
    n > TREE_ABOVE
      ? new Bvh(
          each,
          Int32Array.from({ length: n }, (_, i) => i),
        )
      : null;
  return (box, at) => {
    if (!boxesMeet(all, 0, box, at, margin)) return false;
    if (tree) {
      let met = false;
      tree.overlaps(box, at, margin, () => (met = true));
      return met;
    }
    for (let i = 0; i < n; i++) if (boxesMeet(each, 6 * i, box, at, margin)) return true;
    return false;
  };
}

function borderOf(target: PolyMesh, taken: Taken, within: Uint8Array, left: ReadonlySet<number>): Uint8Array {
  const used = new Uint8Array(vertexCount(target));
  for (let f = 0; f < within.length; f++)
    for (let l = target.faceLoops[f]!; l < target.faceLoops[f + 1]!; l++)
      if (!within[f] || left.has(l))
        for (let c = target.loopStart[l]!; c < target.loopStart[l + 1]!; c++) used[target.corners[c]!] = 1;
  return Uint8Array.from(taken.vertices, (v) => used[v]!);
}
