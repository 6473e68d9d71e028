import { inheritBoxes } from './faceTree.ts';
import { emptyLayer, layerKind, LAYER_NAMES, layersInUse, setLayer, type LayerArray, type Layers } from './layers.ts';
import { cornerCount, faceCount, loopCount, vertexCount, type PolyMesh } from './polymesh.ts';
import { wholeLayers } from './wholeLayers.ts';

/** Some of the faces of a mesh, as a mesh, with the number that each vertex and face had. */
export interface Taken {
  mesh: PolyMesh;
  vertices: Int32Array;
  faces: Int32Array;
}

/** The mesh of some of the faces, in order, with their layers and only the vertices that they use. */
export function takeFaces(m: PolyMesh, wanted: (face: number) => boolean): PolyMesh {
  const faces: number[] = [];
  for (let f = 0; f < faceCount(m); f++) if (wanted(f)) faces.push(f);
  return takeBoundaries(m, faces, () => true).mesh;
}

/** As `takeFaces`, for a list of faces and only those of their inner boundaries (by loop) that are wanted. */
export function takeBoundaries(m: PolyMesh, faces: readonly number[], wanted: (loop: number) => boolean): Taken {
  const number = new Int32Array(vertexCount(m)).fill(-1);
  const vertices: number[] = [];
  const corners: number[] = [];
  const from: number[] = [];
  const loopStart = [0];
  const faceLoops = [0];
  for (const f of faces) {
    for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) {
      if (l > m.faceLoops[f]! && !wanted(l)) continue;
      for (let c = m.loopStart[l]!; c < m.loopStart[l + 1]!; c++) {
        const v = m.corners[c]!;
        if (number[v]! < 0) number[v] = vertices.push(v) - 1;
        corners.push(number[v]!);
        from.push(c);
      }
      loopStart.push(corners.length);
    }
    faceLoops.push(loopStart.length - 1);
  }
  const positions = new Float64Array(3 * vertices.length);
  vertices.forEach((v, i) => {
    for (let k = 0; k < 3; k++) positions[3 * i + k] = m.positions[3 * v + k]!;
  });
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
  const mesh = {
    positions,
    faceLoops: Int32Array.from(faceLoops),
    loopStart: Int32Array.from(loopStart),
    corners: Int32Array.from(corners),
    layers,
    slots: m.slots,
  };
  return { mesh, vertices: Int32Array.from(vertices), faces: Int32Array.from(faces) };
}

/** What stands in for some of the faces of a mesh. */
export interface Patch {
  mesh: PolyMesh;
  /** Per vertex of the patch, the vertex of the mesh that it is; −1 for one of its own. */
  vertices: Int32Array;
  /** Boundaries (loops) of the mesh that become inner boundaries of a face of the patch. */
  boundaries: ReadonlyMap<number, readonly number[]>;
}

/**
 * The mesh with some of its faces (1 in `replaced`) taken out and a patch put in, after the others. Vertices of the
 * mesh that nothing uses any more are left out. The slots of the mesh must come first among those of the patch.
 */
export function withPatch(body: PolyMesh, replaced: Uint8Array, patch: Patch): PolyMesh {
  const [m, p] = wholeLayers([body, patch.mesh]) as [PolyMesh, PolyMesh];
  const moved = [...patch.boundaries.values()].flat();
  const movedCorners = moved.reduce((n, l) => n + m.loopStart[l + 1]! - m.loopStart[l]!, 0);
  const kept = runsOf(m, replaced);
  const sum = (of: (r: Run) => number) => kept.reduce((n, r) => n + of(r), 0);
  const faces = sum((r) => r.faceEnd - r.face) + faceCount(p);
  const loops = sum((r) => r.loopEnd - r.loop) + loopCount(p) + moved.length;
  const cornersAll = sum((r) => r.cornerEnd - r.corner) + cornerCount(p) + movedCorners;

  const faceLoops = new Int32Array(faces + 1);
  const loopStart = new Int32Array(loops + 1);
  const corners = new Int32Array(cornersAll);
  const number = new Int32Array(vertexCount(m)).fill(-1);
  const positions = new Float64Array(m.positions.length + p.positions.length);
  let vertices = 0;
  const place = (from: Float64Array, v: number) => {
    for (let k = 0; k < 3; k++) positions[3 * vertices + k] = from[3 * v + k]!;
    vertices++;
  };
  const numberOf = (v: number): number => {
    if (number[v]! < 0) {
      place(m.positions, v);
      number[v] = vertices - 1;
    }
    return number[v]!;
  };
  const layers: Layers = {};
  const arrays = layersInUse([m, p]).map((name): LayerCopy => {
    const { on, size } = layerKind(name);
    const data = emptyLayer(name, on === 'face' ? faces : cornersAll);
    setLayer(layers, name, data);
    return { onFaces: on === 'face', size, data, old: m.layers[name], own: p.layers[name] };
  });
  let [f, l, c] = [0, 0, 0];
  for (const r of kept) {
    for (let i = r.face; i < r.faceEnd; i++) faceLoops[++f] = m.faceLoops[i + 1]! - r.loop + l;
    for (let i = r.loop; i < r.loopEnd; i++) loopStart[l + 1 + i - r.loop] = m.loopStart[i + 1]! - r.corner + c;
    // Written out: this is what a small cut of a large mesh costs.
    const { corners: from, positions: P } = m;
    const shift = c - r.corner;
    for (let i = r.corner; i < r.cornerEnd; i++) {
      const v = from[i]!;
      let n = number[v]!;
      if (n < 0) {
        n = number[v] = vertices++;
        positions[3 * n] = P[3 * v]!;
        positions[3 * n + 1] = P[3 * v + 1]!;
        positions[3 * n + 2] = P[3 * v + 2]!;
      }
      corners[i + shift] = n;
    }
    for (const a of arrays)
      copyRun(
        a,
        a.old,
        a.onFaces ? r.face : r.corner,
        a.onFaces ? r.faceEnd : r.cornerEnd,
        a.onFaces ? f - (r.faceEnd - r.face) : c,
      );
    l += r.loopEnd - r.loop;
    c += r.cornerEnd - r.corner;
  }
  for (const loop of moved) for (let i = m.loopStart[loop]!; i < m.loopStart[loop + 1]!; i++) numberOf(m.corners[i]!);

  const ofPatch = new Int32Array(patch.vertices.length);
  for (let v = 0; v < ofPatch.length; v++) {
    const known = patch.vertices[v]! < 0 ? -1 : number[patch.vertices[v]!]!;
    ofPatch[v] = known < 0 ? vertices : known;
    if (known < 0) place(p.positions, v);
  }
  const addLoop = (from: PolyMesh, loop: number, name: (v: number) => number, own: boolean) => {
    const [begin, end] = [from.loopStart[loop]!, from.loopStart[loop + 1]!];
    for (let i = begin; i < end; i++) corners[c + i - begin] = name(from.corners[i]!);
    for (const a of arrays) if (!a.onFaces) copyRun(a, own ? a.own : a.old, begin, end, c);
    c += end - begin;
    loopStart[++l] = c;
  };
  for (const a of arrays) if (a.onFaces) copyRun(a, a.own, 0, faceCount(p), f);
  for (let i = 0; i < faceCount(p); i++) {
    for (let loop = p.faceLoops[i]!; loop < p.faceLoops[i + 1]!; loop++) addLoop(p, loop, (v) => ofPatch[v]!, true);
    for (const loop of patch.boundaries.get(i) ?? []) addLoop(m, loop, (v) => number[v]!, false);
    faceLoops[++f] = l;
  }
  const out = { positions: positions.slice(0, 3 * vertices), faceLoops, loopStart, corners, layers, slots: p.slots };
  inheritBoxes(out, body, kept);
  return out;
}

interface LayerCopy {
  onFaces: boolean;
  size: number;
  data: LayerArray;
  old: LayerArray | undefined;
  own: LayerArray | undefined;
}

function copyRun(a: LayerCopy, from: LayerArray | undefined, begin: number, end: number, to: number): void {
  if (from) a.data.set(from.subarray(a.size * begin, a.size * end), a.size * to);
}

/** Faces one after the other, with their loops and corners. */
interface Run {
  face: number;
  faceEnd: number;
  loop: number;
  loopEnd: number;
  corner: number;
  cornerEnd: number;
}

/** Faces that stay, in runs that are copied whole. */
function runsOf(m: PolyMesh, replaced: Uint8Array): Run[] {
  const runs: Run[] = [];
  const n = faceCount(m);
  for (let f = 0; f < n; f++) {
    if (replaced[f]) continue;
    let end = f + 1;
    while (end < n && !replaced[end]) end++;
    const [loop, loopEnd] = [m.faceLoops[f]!, m.faceLoops[end]!];
    runs.push({ face: f, faceEnd: end, loop, loopEnd, corner: m.loopStart[loop]!, cornerEnd: m.loopStart[loopEnd]! });
    f = end;
  }
  return runs;
}
