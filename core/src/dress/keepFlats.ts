import {
  dot,
  faceBegin,
  faceCount,
  faceEnd,
  faceNormals,
  topologyOf,
  unit,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../mesh/index.ts';

/**
 * Faces that turn from each other by less (radians) are one flat; a flat ends at edges that turn by more than the other
 * (radians), or are hard.
 */
const ONE_FLAT = 1e-6;
/** 30°: a flat ends at an edge that turns by more. */
const ENDS = Math.PI / 6;
/** Planes nearer to parallel than this (squared sine) have no line in common. */
const PARALLEL = 1e-10;

/**
 * The flats of a mesh, by the number of each face; −1 for faces of what is bent: faces in one plane, with sharp or hard
 * edges or the border all round.
 */
export function flatsOf(m: PolyMesh): { of: Int32Array; count: number } {
  const t = topologyOf(m);
  const N = faceNormals(m);
  const { hard } = m.layers;
  const normal = (f: number): Vec3 => [N[3 * f]!, N[3 * f + 1]!, N[3 * f + 2]!];
  const of = new Int32Array(faceCount(m)).fill(-1);
  let count = 0;
  const seen = new Uint8Array(faceCount(m));
  for (let first = 0; first < seen.length; first++) {
    if (seen[first]) continue;
    const group = [first];
    seen[first] = 1;
    let whole = true;
    for (let i = 0; i < group.length; i++) {
      const f = group[i]!;
      for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
        const o = t.opposite[c]!;
        if (o < 0) continue;
        const g = t.face[o]!;
        const angle = Math.acos(Math.max(-1, Math.min(1, dot(normal(f), normal(g)))));
        if (angle <= ONE_FLAT) {
          if (!seen[g]) {
            seen[g] = 1;
            group.push(g);
          }
        } else if (angle < ENDS && !hard?.[c] && !hard?.[o]) whole = false;
      }
    }
    if (!whole) continue;
    for (const f of group) of[f] = count;
    count++;
  }
  return { of, count };
}

/**
 * Makes the flats of a mesh flat again after its vertices have moved: each gets the plane that passes nearest to where
 * they came to, and its vertices go onto it by the shortest way; onto the line or the point that two or three flats
 * have in common where they are of several. Flats with a vertex that does not belong to `picked` are left as they are.
 * `positions` are changed.
 */
export function keepFlats(m: PolyMesh, picked: ReadonlySet<number>, positions: Float64Array): void {
  const { of, count } = flatsOf(m);
  const members = Array.from({ length: count }, () => new Set<number>());
  const normals = Array.from({ length: count }, (): [number, number, number] => [0, 0, 0]);
  const now = { ...m, positions, layers: {} };
  const at = (v: number): Vec3 => vertexPlace(now, v);
  const after = faceNormals(now);
  for (let f = 0; f < of.length; f++) {
    if (of[f]! < 0) continue;
    // A flat of many faces has their mean normal, weighed by area: twice a face's area is the length of its boundary's
    // Newell sum.
    const area = areaOf(m, positions, f);
    for (let k = 0; k < 3; k++) normals[of[f]!]![k]! += area * after[3 * f + k]!;
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) members[of[f]!]!.add(m.corners[c]!);
  }
  const planes = members.map((list, i) => {
    const n = unit(normals[i]!);
    return { n, d: [...list].reduce((s, v) => s + dot(n, at(v)), 0) / list.size };
  });
  const flatsAt = new Map<number, number[]>();
  members.forEach(
    (list, i) =>
      [...list].every((v) => picked.has(v)) && list.forEach((v) => flatsAt.set(v, [...(flatsAt.get(v) ?? []), i])),
  );
  for (const [v, list] of flatsAt)
    positions.set(
      ontoAll(
        at(v),
        list.map((i) => planes[i]!),
      ),
      3 * v,
    );
}

function areaOf(m: PolyMesh, P: Float64Array, f: number): number {
  const sum = [0, 0, 0];
  for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) {
    const [begin, end] = [m.loopStart[l]!, m.loopStart[l + 1]!];
    for (let c = begin; c < end; c++) {
      const [a, b] = [3 * m.corners[c]!, 3 * m.corners[c + 1 < end ? c + 1 : begin]!];
      for (let k = 0; k < 3; k++)
        sum[k]! += P[a + ((k + 1) % 3)]! * P[b + ((k + 2) % 3)]! - P[a + ((k + 2) % 3)]! * P[b + ((k + 1) % 3)]!;
    }
  }
  return Math.hypot(...sum) / 2;
}

/**
 * The place on up to three planes that is nearest to another one: the planes are made square to each other one by one
 * (Gram and Schmidt).
 */
function ontoAll(from: Vec3, planes: readonly { n: Vec3; d: number }[]): Vec3 {
  const base: { n: Vec3; d: number }[] = [];
  for (const plane of planes) {
    let [n, d]: [Vec3, number] = [plane.n, plane.d];
    for (const b of base) {
      const x = dot(n, b.n);
      n = n.map((y, k) => y - x * b.n[k]!) as unknown as Vec3;
      d -= x * b.d;
    }
    const length = Math.hypot(...n);
    if (length ** 2 < PARALLEL || base.length === 3) continue;
    base.push({ n: n.map((y) => y / length) as unknown as Vec3, d: d / length });
  }
  let p = from;
  for (const { n, d } of base) {
    const off = dot(n, p) - d;
    p = p.map((x, k) => x - off * n[k]!) as unknown as Vec3;
  }
  return p;
}
