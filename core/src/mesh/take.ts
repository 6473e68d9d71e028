import { emptyLayer, layerKind, LAYER_NAMES, setLayer, type Layers } from './layers.ts';
import { faceCount, type PolyMesh } from './polymesh.ts';

/** The mesh of some of the faces, in order, with their layers and only the vertices that they use. */
export function takeFaces(m: PolyMesh, wanted: (face: number) => boolean): PolyMesh {
  const faces: number[] = [];
  for (let f = 0; f < faceCount(m); f++) if (wanted(f)) faces.push(f);
  const number = new Int32Array(m.positions.length / 3).fill(-1);
  const positions: number[] = [];
  const corners: number[] = [];
  const from: number[] = [];
  const loopStart = [0];
  const faceLoops = [0];
  for (const f of faces) {
    for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) {
      for (let c = m.loopStart[l]!; c < m.loopStart[l + 1]!; c++) {
        const v = m.corners[c]!;
        if (number[v]! < 0) {
          number[v] = positions.length / 3;
          positions.push(m.positions[3 * v]!, m.positions[3 * v + 1]!, m.positions[3 * v + 2]!);
        }
        corners.push(number[v]!);
        from.push(c);
      }
      loopStart.push(corners.length);
    }
    faceLoops.push(loopStart.length - 1);
  }
  const layers: Layers = {};
  for (const name of LAYER_NAMES) {
    const data = m.layers[name];
    if (!data) continue;
    const { on, size } = layerKind(name);
    const source = on === 'face' ? faces : from;
    const out = emptyLayer(name, source.length);
    source.forEach((s, i) => {
      for (let k = 0; k < size; k++) out[size * i + k] = data[size * s + k]!;
    });
    setLayer(layers, name, out);
  }
  return {
    positions: Float64Array.from(positions),
    faceLoops: Int32Array.from(faceLoops),
    loopStart: Int32Array.from(loopStart),
    corners: Int32Array.from(corners),
    layers,
    slots: m.slots,
  };
}
