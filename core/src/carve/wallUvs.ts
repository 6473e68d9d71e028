import { faceAreas, faceBegin, faceCount, faceEnd, faceNormals, type PolyMesh } from '../mesh/index.ts';

/** Per main direction of a face: the coordinates that become u and v, and the sign of u, so that nothing is mirrored from outside. */
const AXES = [
  [1, 2, 1],
  [0, 2, -1],
  [0, 1, 1],
] as const;

/**
 * Gives the new walls of a cut texture coordinates: each is looked at along the main axis nearest to its normal (box projection), at the
 * scale that the target's faces have in the middle. Where the target has no texture coordinates, or the cutters bring their own, the mesh is as it was.
 */
export function withWallUvs(mesh: PolyMesh, target: PolyMesh, cutters: readonly PolyMesh[], course: number): PolyMesh {
  const { uv, source } = mesh.layers;
  if (!uv || !source || !target.layers.uv || cutters.some((c) => c.layers.uv)) return mesh;
  const scale = middleScale(target);
  const N = faceNormals(mesh);
  const out = uv.slice();
  for (let f = 0; f < faceCount(mesh); f++) {
    if (source[3 * f + 2] !== course) continue;
    const n = [0, 1, 2].map((k) => Math.abs(N[3 * f + k]!));
    const axis = n.indexOf(Math.max(...n)) as 0 | 1 | 2;
    const [a, b, sign] = AXES[axis];
    const way = N[3 * f + axis]! < 0 ? -sign : sign;
    for (let c = faceBegin(mesh, f); c < faceEnd(mesh, f); c++) {
      const v = 3 * mesh.corners[c]!;
      out[2 * c] = scale * way * mesh.positions[v + a]!;
      out[2 * c + 1] = scale * mesh.positions[v + b]!;
    }
  }
  return { ...mesh, layers: { ...mesh.layers, uv: out } };
}

/** Texture length per mm that half of the faces are above of and half below. */
function middleScale(m: PolyMesh): number {
  const uv = m.layers.uv!;
  const areas = faceAreas(m);
  const scales: number[] = [];
  for (let f = 0; f < faceCount(m); f++) {
    const [begin, end] = [m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f]! + 1]!];
    // A face with holes is not asked: its texture area needs them too.
    if (end !== faceEnd(m, f)) continue;
    let twice = 0;
    for (let c = begin; c < end; c++) {
      const d = c + 1 < end ? c + 1 : begin;
      twice += uv[2 * c]! * uv[2 * d + 1]! - uv[2 * d]! * uv[2 * c + 1]!;
    }
    if (twice !== 0 && areas[f]! > 0) scales.push(Math.sqrt(Math.abs(twice) / 2 / areas[f]!));
  }
  return scales.sort((a, b) => a - b)[scales.length >> 1] ?? 1;
}
