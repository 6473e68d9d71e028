import { emptyLayer, layerKind, layersInUse, setLayer, type LayerArray, type Layers } from './layers.ts';
import { cornerCount, faceCount, joinSlots, loopCount, vertexCount, type PolyMesh } from './polymesh.ts';
import { wholeLayers } from './wholeLayers.ts';

/**
 * Several meshes as one, in order; slots of the same name are one slot, and layers that some of them lack are computed
 * for these.
 */
export function joinMeshes(given: readonly PolyMesh[]): PolyMesh {
  const only = given[0];
  if (given.length === 1 && only) return only;
  const meshes = wholeLayers(given);
  const sum = (count: (m: PolyMesh) => number) => meshes.reduce((n, m) => n + count(m), 0);
  const positions = new Float64Array(3 * sum(vertexCount));
  const faceLoops = new Int32Array(sum(faceCount) + 1);
  const loopStart = new Int32Array(sum(loopCount) + 1);
  const corners = new Int32Array(sum(cornerCount));
  const { slots, maps } = joinSlots(meshes);
  const layers: Layers = {};
  const arrays = layersInUse(meshes).map((name): [typeof name, LayerArray] => {
    const data = emptyLayer(name, layerKind(name).on === 'face' ? sum(faceCount) : sum(cornerCount));
    setLayer(layers, name, data);
    return [name, data];
  });
  let v = 0;
  let f = 0;
  let l = 0;
  let c = 0;
  meshes.forEach((m, k) => {
    positions.set(m.positions, 3 * v);
    for (let i = 0; i < faceCount(m); i++) faceLoops[f + i + 1] = l + m.faceLoops[i + 1]!;
    for (let i = 0; i < loopCount(m); i++) loopStart[l + i + 1] = c + m.loopStart[i + 1]!;
    for (let i = 0; i < cornerCount(m); i++) corners[c + i] = v + m.corners[i]!;
    for (const [name, data] of arrays) {
      const kind = layerKind(name);
      const from = m.layers[name];
      if (from) data.set(from, kind.size * (kind.on === 'face' ? f : c));
    }
    if (layers.slot) for (let i = 0; i < faceCount(m); i++) layers.slot[f + i] = maps[k]![m.layers.slot?.[i] ?? 0] ?? 0;
    v += vertexCount(m);
    f += faceCount(m);
    l += loopCount(m);
    c += cornerCount(m);
  });
  return { positions, faceLoops, loopStart, corners, layers, slots };
}
