import {
  checkIndices,
  emptyLayer,
  hashBytes,
  LAYER_NAMES,
  layerKind,
  setLayer,
  type Layers,
  type PolyMesh,
} from '../mesh/index.ts';
import { badFile, checkCount } from './limits.ts';

/** The first four bytes of a packed mesh, and the version of what follows. */
const MAGIC = 'DMSH';
const VERSION = 1;

interface Header {
  version: number;
  counts: [positions: number, faceLoops: number, loopStart: number, corners: number];
  layers: string[];
  slots: string[];
}

/**
 * A mesh as bytes: a four-letter mark, the length of a JSON head, the head, then the arrays, each from a multiple of 8.
 */
export function packMesh(m: PolyMesh): Uint8Array {
  const layers = LAYER_NAMES.filter((n) => m.layers[n]);
  const head: Header = {
    version: VERSION,
    counts: [m.positions.length, m.faceLoops.length, m.loopStart.length, m.corners.length],
    layers,
    slots: [...m.slots],
  };
  const json = new TextEncoder().encode(JSON.stringify(head));
  const arrays = [m.positions, m.faceLoops, m.loopStart, m.corners, ...layers.map((n) => m.layers[n]!)];
  let size = round8(8 + json.length);
  const at = arrays.map((a) => {
    const o = size;
    size = round8(size + a.byteLength);
    return o;
  });
  const out = new Uint8Array(size);
  out.set(new TextEncoder().encode(MAGIC));
  new DataView(out.buffer).setUint32(4, json.length, true);
  out.set(json, 8);
  arrays.forEach((a, i) => out.set(new Uint8Array(a.buffer, a.byteOffset, a.byteLength), at[i]));
  return out;
}

const round8 = (n: number): number => Math.ceil(n / 8) * 8;

/** The mesh of `packMesh`. Throws `bad-file` for anything else, and for a mesh whose indices do not hold. */
export function unpackMesh(bytes: Uint8Array): PolyMesh {
  if (bytes.length < 8 || new TextDecoder().decode(bytes.subarray(0, 4)) !== MAGIC)
    throw badFile('A mesh in it is damaged', 'its mark is missing');
  const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(4, true);
  const head = readHead(bytes.subarray(8, 8 + length));
  let at = round8(8 + length);
  const take = <T extends { set(a: ArrayLike<number>): void; buffer: ArrayBufferLike; byteLength: number }>(
    out: T,
  ): T => {
    const from = bytes.subarray(at, at + out.byteLength);
    if (from.length < out.byteLength) throw badFile('A mesh in it is cut short', `at byte ${bytes.length}`);
    new Uint8Array(out.buffer).set(from);
    at = round8(at + out.byteLength);
    return out;
  };
  const [p, f, l, c] = head.counts;
  const positions = take(new Float64Array(p));
  const faceLoops = take(new Int32Array(f));
  const loopStart = take(new Int32Array(l));
  const corners = take(new Int32Array(c));
  const layers: Layers = {};
  for (const name of LAYER_NAMES)
    if (head.layers.includes(name))
      setLayer(layers, name, take(emptyLayer(name, layerKind(name).on === 'face' ? f - 1 : c)));
  const rising = (a: Int32Array, last: number) =>
    a[0] === 0 && a.at(-1) === last && a.every((x, i) => i === 0 || x >= a[i - 1]!);
  if (!rising(faceLoops, l - 1) || !rising(loopStart, c))
    throw badFile('A mesh in it is damaged', 'its boundaries do not follow each other');
  const mesh: PolyMesh = { positions, faceLoops, loopStart, corners, layers, slots: head.slots };
  checkIndices(mesh);
  return mesh;
}

function readHead(bytes: Uint8Array): Header {
  let head: Partial<Header>;
  try {
    head = JSON.parse(new TextDecoder().decode(bytes)) as Partial<Header>;
  } catch {
    throw badFile('A mesh in it is damaged', 'its head cannot be read');
  }
  const counts = head.counts;
  const good =
    head.version === VERSION &&
    Array.isArray(counts) &&
    counts.length === 4 &&
    counts.every((n) => Number.isInteger(n) && n >= 0) &&
    counts[1]! > 0 &&
    counts[2]! > 0 &&
    counts[0]! % 3 === 0 &&
    Array.isArray(head.layers) &&
    Array.isArray(head.slots) &&
    head.slots.every((s) => typeof s === 'string');
  if (!good) throw badFile('A mesh in it is damaged, or from a newer version', 'its head is not as expected');
  counts!.forEach((n) => checkCount(n / 3, 'elements'));
  return head as Header;
}

/** Name of a mesh by its content, from its packed bytes. */
export const hashPacked = (bytes: Uint8Array): string => hashBytes(bytes);

/** Name of a mesh by its content. */
export const meshHash = (m: PolyMesh): string => hashPacked(packMesh(m));
