/** What an operation acts on, where it has no other options. */
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
