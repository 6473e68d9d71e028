/** What an operation acts on, where that is all it has to be told. */
export interface EdgesOptions {
  /** Edges, each named by one of its corners. */
  edges: Iterable<number>;
}

export interface FacesOptions {
  faces: Iterable<number>;
}

export interface VerticesOptions {
  vertices: Iterable<number>;
}
