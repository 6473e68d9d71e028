/**
 * Layers: optional data carried by faces, corners (one value for each corner of a face) and edges (one value for
 * each directed edge, stored at the corner that it leaves). Each layer is declared here once, with how an operation
 * hands it on, so that no operation has to know the list.
 */
export interface LayerKind {
  on: 'face' | 'corner' | 'edge';
  /** Numbers per element. */
  size: number;
  array: Float64ArrayConstructor | Float32ArrayConstructor | Int32ArrayConstructor | Uint8ArrayConstructor;
  /** The value of an element that has none: also what a new element starts with. */
  empty: number;
  /** `copy`: an element takes the value of the one it came from. `blend`: new corners weigh the corners around them. */
  rule: 'copy' | 'blend';
  /** Which of the numbers change sign when a face is turned over. */
  negates?: readonly number[];
  /** Whether the numbers make a direction, which has length 1 after it was blended. */
  unit?: boolean;
}

export type LayerArray = Float64Array | Float32Array | Int32Array | Uint8Array;

export const LAYERS = {
  /** Material slot: an index into `mesh.slots`. */
  slot: { on: 'face', size: 1, array: Int32Array, empty: 0, rule: 'copy' },
  /** Plane that a cut gave the face: unit normal, then a point on it. NaN when the face has none of its own. */
  plane: { on: 'face', size: 6, array: Float64Array, empty: NaN, rule: 'copy', negates: [0, 1, 2] },
  /** Where a face comes from: body, face of that body, and the course that made it (all ids of the part). */
  source: { on: 'face', size: 3, array: Int32Array, empty: 0, rule: 'copy' },
  /** Which body of the part the face belongs to, where a split has made several that touch. */
  body: { on: 'face', size: 1, array: Int32Array, empty: 0, rule: 'copy' },
  /** The course whose scribed outline encloses the face; 0 for none. */
  mark: { on: 'face', size: 1, array: Int32Array, empty: 0, rule: 'copy' },
  /** Texture coordinates. */
  uv: { on: 'corner', size: 2, array: Float64Array, empty: 0, rule: 'blend' },
  /** Shading normal. */
  normal: { on: 'corner', size: 3, array: Float32Array, empty: 0, rule: 'blend', negates: [0, 1, 2], unit: true },
  /** 1 where the edge shades as a sharp one. */
  hard: { on: 'edge', size: 1, array: Uint8Array, empty: 0, rule: 'copy' },
  /** Subdivision crease weight. */
  crease: { on: 'edge', size: 1, array: Float32Array, empty: 0, rule: 'copy' },
  /** Bevel width in mm. */
  bevelWidth: { on: 'edge', size: 1, array: Float32Array, empty: 0, rule: 'copy' },
  /** The course whose cut made the edge; 0 for none. */
  seam: { on: 'edge', size: 1, array: Int32Array, empty: 0, rule: 'copy' },
  /** 1 where a cut left a bent face as flat pieces: the edge between two of them, which is smooth. */
  fold: { on: 'edge', size: 1, array: Uint8Array, empty: 0, rule: 'copy' },
} as const satisfies Record<string, LayerKind>;

export type LayerName = keyof typeof LAYERS;
type Stored<A> = A extends Float64ArrayConstructor
  ? Float64Array
  : A extends Float32ArrayConstructor
    ? Float32Array
    : A extends Int32ArrayConstructor
      ? Int32Array
      : Uint8Array;
export type Layers = { [K in LayerName]?: Stored<(typeof LAYERS)[K]['array']> };

export const LAYER_NAMES = Object.keys(LAYERS) as LayerName[];

/** A layer's kind, typed widely enough to loop over all of them. */
export const layerKind = (name: LayerName): LayerKind => LAYERS[name];

/** A new array for a layer over `count` elements, filled with its empty value. */
export function emptyLayer(name: LayerName, count: number): LayerArray {
  const kind = layerKind(name);
  const data = new kind.array(count * kind.size);
  if (kind.empty !== 0) data.fill(kind.empty);
  return data;
}

/** Puts a layer's array under its name; the one place where the link of name and array type is taken on trust. */
export function setLayer(layers: Layers, name: LayerName, data: LayerArray): void {
  (layers as Record<string, LayerArray>)[name] = data;
}

/** Layers that at least one of the meshes carries. */
export function layersInUse(meshes: readonly { layers: Layers }[]): LayerName[] {
  return LAYER_NAMES.filter((name) => meshes.some((m) => m.layers[name]));
}
