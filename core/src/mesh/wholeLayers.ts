import { cornerNormals, faceNormals, sharpCorners } from './normals.ts';
import { cornerCount, faceCount, type PolyMesh } from './polymesh.ts';
import { boxUvs, textureScale } from './uvs.ts';

/**
 * Meshes that are to become one, each with every layer whose values cannot be left out that another one has: shading
 * normals as the faces make them, texture coordinates along the axes at the scale of those that are there. A mesh that
 * lacks none is the same object.
 */
export function wholeLayers(meshes: readonly PolyMesh[]): readonly PolyMesh[] {
  const lit = meshes.some((m) => m.layers.normal);
  const mapped = meshes.find((m) => m.layers.uv);
  if (!lit && !mapped) return meshes;
  const scale = mapped ? textureScale(mapped) : 0;
  return meshes.map((m) => {
    const [light, map] = [lit && !m.layers.normal, mapped && !m.layers.uv];
    if (!faceCount(m) || !(light || map)) return m;
    const key = `${light} ${map && scale}`;
    const known = completed.get(m) ?? new Map<string, PolyMesh>();
    completed.set(m, known);
    const whole = known.get(key) ?? {
      ...m,
      layers: { ...m.layers, ...(light && { normal: shadingNormals(m) }), ...(map && { uv: axisUvs(m, scale) }) },
    };
    known.set(key, whole);
    return whole;
  });
}

/** What was completed before, so that what is known of it is found again while a cutter is dragged. */
const completed = new WeakMap<PolyMesh, Map<string, PolyMesh>>();

/** The shading normals of a mesh: its own, or those that its faces and sharp edges make; three per corner. */
export function shadingNormals(m: PolyMesh): Float32Array {
  if (m.layers.normal) return m.layers.normal;
  const flat = faceNormals(m);
  return cornerNormals(m, flat, sharpCorners(m, flat));
}

function axisUvs(m: PolyMesh, scale: number): Float64Array {
  const out = new Float64Array(2 * cornerCount(m));
  boxUvs(m, Array(faceCount(m)).keys(), scale, out);
  return out;
}
