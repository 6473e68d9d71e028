declare module 'cdt2d' {
  /** Triangles of the constrained Delaunay triangulation of points and edges. */
  function cdt2d(
    points: readonly (readonly [number, number])[],
    edges: readonly (readonly [number, number])[],
    options?: { delaunay?: boolean; interior?: boolean; exterior?: boolean; infinity?: boolean },
  ): [number, number, number][];
  export = cdt2d;
}
declare module 'edmonds-blossom-fixed' {
  /** Of each vertex the one that it is matched to, or −1, so that the weights of the matched edges add up to the most. */
  function blossom(edges: readonly (readonly [number, number, number])[], mostPairs?: boolean): number[];
  export = blossom;
}
