declare module 'edmonds-blossom-fixed' {
  /**
   * Of each vertex the one that it is matched to, or −1, so that the weights of the matched edges add up to the most.
   */
  function blossom(edges: readonly (readonly [number, number, number])[], mostPairs?: boolean): number[];
  export = blossom;
}
