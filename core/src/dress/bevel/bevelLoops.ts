import { topologyOf, type PolyMesh, type Surface } from '../../mesh/index.ts';

/** What a bevel makes of an edge: it goes over it, rounds it, or slides along it. */
export const SOFT = 0;
export const ROUNDED = 1;
export const RAIL = 2;

/**
 * One boundary of a group of faces that soft edges join: the corners that leave along it, the group on the left. At the
 * vertex where each of these begins lies a sector of the group: its corners, counter-clockwise from the one along the
 * boundary to the one that the boundary comes in by, and the angle that they make.
 */
export interface GroupLoop {
  sides: number[];
  fans: number[][];
  angles: number[];
}

/**
 * The boundaries of all groups that have a vertex of a rounded edge in them. `role` says of every edge what becomes of
 * it; edges that do not have just two faces count as rails.
 */
export function groupLoops(m: PolyMesh, role: Uint8Array, surface: Surface): GroupLoop[] {
  const t = topologyOf(m);
  const ends = new Uint8Array(m.positions.length / 3);
  for (const c of t.edgeCorner)
    if (role[t.edge[c]!] === ROUNDED) for (const v of [m.corners[c]!, m.corners[t.next[c]!]!]) ends[v] = 1;
  const bounds = (c: number) => role[t.edge[c]!] !== SOFT || t.opposite[c]! < 0;
  const seen = new Uint8Array(m.corners.length);
  const loops: GroupLoop[] = [];
  for (let first = 0; first < m.corners.length; first++) {
    if (seen[first] || !ends[m.corners[first]!] || !bounds(first)) continue;
    const loop: GroupLoop = { sides: [], fans: [], angles: [] };
    for (let c = first; !seen[c];) {
      seen[c] = 1;
      loop.sides.push(c);
      const fan = [t.next[c]!];
      while (!bounds(fan.at(-1)!)) fan.push(t.next[t.opposite[fan.at(-1)!]!]!);
      c = fan.at(-1)!;
      fan.reverse();
      loop.fans.push(fan);
      loop.angles.push(ends[m.corners[c]!] ? surface.fan(fan).reduce((sum, w) => sum + w.angle, 0) : 0);
    }
    // Sectors were found at the far end of each side: they belong to the next one.
    loop.fans.unshift(loop.fans.pop()!);
    loop.angles.unshift(loop.angles.pop()!);
    loops.push(loop);
  }
  return loops;
}
