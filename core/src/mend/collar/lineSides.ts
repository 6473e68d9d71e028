import type { Topology } from '../../mesh/index.ts';

/** One side of a line of edges: a closed walk of corners that leave along them, with the side's faces on the left. */
export interface Side {
  /** Corners along the line. */
  along: number[];
  /**
   * At the vertex that each corner leaves: the corners on this side, counter-clockwise from the one along the line to
   * the one that the line comes in by.
   */
  fans: number[][];
}

/**
 * The sides of some edges (by one corner each): at each vertex a side turns into the next of the edges on its own side,
 * so that lines which meet have their sides as well. A run that ends, at an open border or anywhere else, has none; how
 * many edges that are is reported.
 */
export function sidesOf(t: Topology, edges: Iterable<number>): { sides: Side[]; ends: number } {
  const line = new Set<number>();
  for (const c of edges) {
    line.add(c);
    if (t.opposite[c]! >= 0) line.add(t.opposite[c]!);
  }
  const seen = new Set<number>();
  const sides: Side[] = [];
  let ends = 0;
  for (const first of line) {
    if (seen.has(first)) continue;
    const along: number[] = [];
    const fans: number[][] = [];
    let closed = true;
    let c = first;
    while (!seen.has(c)) {
      seen.add(c);
      along.push(c);
      const fan: number[] = [];
      let at = t.next[c]!;
      for (;;) {
        fan.push(at);
        if (line.has(at)) break;
        const o = t.opposite[at]!;
        if (o < 0) {
          closed = false;
          break;
        }
        at = t.next[o]!;
      }
      fans.push(fan.reverse());
      // Back along the edge that it came by: the line ends here.
      if (at === t.opposite[c]) closed = false;
      if (!closed) break;
      c = at;
    }
    // A walk that comes to one of before has begun in the midst of a line that ends.
    if (!closed || c !== first) ends += along.length;
    // Fans were found at the far end of each corner: they belong to the next one.
    else sides.push({ along, fans: [fans.at(-1)!, ...fans.slice(0, -1)] });
  }
  return { sides, ends };
}
