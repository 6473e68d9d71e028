import { faceAreas } from './measures.ts';
import { faceNormals } from './normals.ts';
import { faceBegin, faceCount, faceEnd, type PolyMesh } from './polymesh.ts';

/**
 * Per main direction of a face: the coordinates that become u and v, and the sign of u, so that nothing is mirrored
 * from outside.
 */
const UV_AXES = [
  [1, 2, 1],
  [0, 2, -1],
  [0, 1, 1],
] as const;

/**
 * Writes the texture coordinates of faces looked at along the main axis nearest to their normals, `scale` to a mm, two
 * per corner.
 */
export function boxUvs(m: PolyMesh, faces: Iterable<number>, scale: number, out: Float64Array): void {
  const N = faceNormals(m);
  for (const f of faces) {
    const n = [0, 1, 2].map((k) => Math.abs(N[3 * f + k]!));
    const axis = n.indexOf(Math.max(...n)) as 0 | 1 | 2;
    const [a, b, sign] = UV_AXES[axis];
    const way = N[3 * f + axis]! < 0 ? -sign : sign;
    for (let c = faceBegin(m, f); c < faceEnd(m, f); c++) {
      const v = 3 * m.corners[c]!;
      out[2 * c] = scale * way * m.positions[v + a]!;
      out[2 * c + 1] = scale * m.positions[v + b]!;
    }
  }
}

/**
 * Texture length per mm that half of the faces of a mesh with texture coordinates are above of and half below; 1 where
 * none has an area.
 */
export function textureScale(m: PolyMesh): number {
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
