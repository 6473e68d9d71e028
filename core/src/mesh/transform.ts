import { cornerCount, faceCount, type PolyMesh } from './polymesh.ts';
import { LAYER_NAMES, layerKind, setLayer, type Layers } from './layers.ts';

/**
 * Where something stands: moved to `position` (mm), turned about x, then y, then z (degrees), after scaling along its
 * own axes.
 */
export interface Placement {
  position: [number, number, number];
  turn: [number, number, number];
  scale?: [number, number, number];
}

/** A linear map and a shift, row by row: x' = m[0] x + m[1] y + m[2] z + m[3], and so on. */
export type Affine = readonly number[];

export const IDENTITY: Affine = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

/** Sine and cosine of an angle in degrees, exact at multiples of 90°. */
function sinCos(degrees: number): [number, number] {
  const quarter = degrees / 90;
  if (Number.isInteger(quarter)) {
    const q = ((quarter % 4) + 4) % 4;
    return [[0, 1, 0, -1][q]!, [1, 0, -1, 0][q]!];
  }
  const a = (degrees * Math.PI) / 180;
  return [Math.sin(a), Math.cos(a)];
}

/** The map of a placement. Turns by whole quarters are exact. */
export function placementAffine(p: Placement): Affine {
  const [sx, cx] = sinCos(p.turn[0]);
  const [sy, cy] = sinCos(p.turn[1]);
  const [sz, cz] = sinCos(p.turn[2]);
  const [kx, ky, kz] = p.scale ?? [1, 1, 1];
  const [x, y, z] = p.position;
  return [
    kx * cz * cy,
    ky * (cz * sy * sx - sz * cx),
    kz * (cz * sy * cx + sz * sx),
    x,
    kx * sz * cy,
    ky * (sz * sy * sx + cz * cx),
    kz * (sz * sy * cx - cz * sx),
    y,
    kx * -sy,
    ky * cy * sx,
    kz * cy * cx,
    z,
  ];
}

/** The turn (degrees about x, then y, then z) of a rotation given by its rows. */
export function turnOf(r: readonly (readonly number[])[]): [number, number, number] {
  const deg = 180 / Math.PI;
  const s = -r[2]![0]!;
  // Where y is turned square, x and z turn alike, and z is taken as unturned.
  const square = Math.abs(s) > 1 - 1e-12;
  const x = square ? Math.atan2(-r[1]![2]!, r[1]![1]!) : Math.atan2(r[2]![1]!, r[2]![2]!);
  const y = Math.asin(Math.max(-1, Math.min(1, s)));
  const z = square ? 0 : Math.atan2(r[1]![0]!, r[0]![0]!);
  return [x, y, z].map((a) => +(a * deg).toFixed(9) + 0) as [number, number, number];
}

/** The turn whose own axes are these, unit and square to each other. */
export const turnOfAxes = (axes: readonly (readonly number[])[]): [number, number, number] =>
  turnOf([0, 1, 2].map((row) => axes.map((axis) => axis[row]!)));

/** A point through a map. */
export function mapPoint(a: Affine, x: number, y: number, z: number): [number, number, number] {
  return [
    a[0]! * x + a[1]! * y + a[2]! * z + a[3]!,
    a[4]! * x + a[5]! * y + a[6]! * z + a[7]!,
    a[8]! * x + a[9]! * y + a[10]! * z + a[11]!,
  ];
}

const det = (a: Affine): number =>
  a[0]! * (a[5]! * a[10]! - a[6]! * a[9]!) -
  a[1]! * (a[4]! * a[10]! - a[6]! * a[8]!) +
  a[2]! * (a[4]! * a[9]! - a[5]! * a[8]!);

/** The mesh under a map. A mirroring map turns the boundaries round, so that faces keep looking outward. */
export function transformMesh(m: PolyMesh, a: Affine): PolyMesh {
  const n = m.positions.length;
  const positions = new Float64Array(n);
  for (let i = 0; i < n; i += 3) {
    const [x, y, z] = mapPoint(a, m.positions[i]!, m.positions[i + 1]!, m.positions[i + 2]!);
    positions[i] = x;
    positions[i + 1] = y;
    positions[i + 2] = z;
  }
  const turned = det(a) < 0 ? flipMesh(m) : m;
  const layers: Layers = { ...turned.layers };
  const { plane, normal } = turned.layers;
  // Cofactors carry normals under any map; under a mirror flipMesh has turned them over already.
  if (plane) {
    const out = plane.slice();
    for (let f = 0; f < out.length; f += 6) {
      mapNormal(a, out, f);
      out.set(mapPoint(a, plane[f + 3]!, plane[f + 4]!, plane[f + 5]!), f + 3);
    }
    layers.plane = out;
  }
  if (normal) {
    const out = normal.slice();
    for (let c = 0; c < out.length; c += 3) mapNormal(a, out, c);
    layers.normal = out;
  }
  return { ...turned, positions, layers };
}

/** Carries a normal by the cofactors of the map, unit length again. */
function mapNormal(a: Affine, v: Float64Array | Float32Array, i: number): void {
  const [x, y, z] = [v[i]!, v[i + 1]!, v[i + 2]!];
  const c = (p: number, q: number, r: number, s: number) => a[p]! * a[q]! - a[r]! * a[s]!;
  const nx = c(5, 10, 6, 9) * x + c(6, 8, 4, 10) * y + c(4, 9, 5, 8) * z;
  const ny = c(2, 9, 1, 10) * x + c(0, 10, 2, 8) * y + c(1, 8, 0, 9) * z;
  const nz = c(1, 6, 2, 5) * x + c(2, 4, 0, 6) * y + c(0, 5, 1, 4) * z;
  const k = 1 / (Math.hypot(nx, ny, nz) || 1);
  v[i] = nx * k;
  v[i + 1] = ny * k;
  v[i + 2] = nz * k;
}

/**
 * The mesh with every face turned over, or those that are wanted. Boundaries run backward, per-edge data stays with its
 * edge.
 */
export function flipMesh(m: PolyMesh, wanted: (face: number) => boolean = () => true): PolyMesh {
  const n = cornerCount(m);
  const turned = Uint8Array.from({ length: faceCount(m) }, (_, f) => Number(wanted(f)));
  const turns = new Uint8Array(n); // per corner, whether its face is turned
  const corner = new Int32Array(n); // where the new corner's vertex comes from
  const edge = new Int32Array(n); // where the new corner's edge comes from
  for (let f = 0; f < turned.length; f++)
    for (let l = m.faceLoops[f]!; l < m.faceLoops[f + 1]!; l++) {
      const s = m.loopStart[l]!;
      const e = m.loopStart[l + 1]!;
      for (let c = s; c < e; c++) {
        const from = turned[f] ? e - 1 - (c - s) : c;
        turns[c] = turned[f]!;
        corner[c] = from;
        edge[c] = !turned[f] ? c : from > s ? from - 1 : e - 1;
      }
    }
  const layers: Layers = {};
  for (const name of LAYER_NAMES) {
    const data = m.layers[name];
    if (!data) continue;
    const kind = layerKind(name);
    const out = data.slice();
    const [count, over] = kind.on === 'face' ? [turned.length, turned] : [n, turns];
    for (let i = 0; i < count; i++) {
      if (!over[i]) continue;
      const from = kind.on === 'corner' ? corner[i]! : kind.on === 'edge' ? edge[i]! : i;
      for (let k = 0; k < kind.size; k++)
        out[i * kind.size + k] = (kind.negates?.includes(k) ? -1 : 1) * data[from * kind.size + k]!;
    }
    setLayer(layers, name, out);
  }
  return { ...m, corners: corner.map((c) => m.corners[c]!), layers };
}
