import { scaled, sub, unit, type Vec3 } from '../../mesh/index.ts';
import type { FineTriangles } from './fineTriangles.ts';
import type { SeamSides } from './seamSides.ts';

/**
 * Where spokes go: square to the seam, along edges of their own side that come near to that, or on from edges of the
 * other side.
 */
export type SpokeAim = 'square' | 'own' | 'across';

/** What spokes are aimed at: edges of the mesh (by a corner) that hold them, and directions, by side and vertex. */
export interface Aims {
  held: Map<number, number>;
  ways: Map<string, Vec3>;
}

/** Edges that leave the seam within these shares of the angle there may carry a spoke. */
const MIDDLE = [0.2, 0.8] as const;

/** The name of a spoke: its side and its vertex of the seam. */
export const spokeName = (side: number, vertex: number): string => `${side},${vertex}`;

/** What the spokes of all sides are aimed at. */
export function aimsOf(fine: FineTriangles, s: SeamSides, aim: SpokeAim): Aims {
  const held = new Map<number, number>();
  const ways = new Map<string, Vec3>();
  if (aim === 'square') return { held, ways };
  /** The edge of each sector at a vertex that lies nearest to its middle. */
  const middles = new Map<number, { side: number; half: number }[]>();
  for (let i = 0; i < s.count; i++) {
    const { out, angles } = s.fan(i);
    const whole = angles.at(-1)!;
    let [best, off] = [-1, Infinity];
    out.forEach((h, k) => {
      const share = angles[k]! / whole;
      if (fine.corner[h]! < 0 || fine.kind[h] || share < MIDDLE[0] || share > MIDDLE[1]) return;
      if (Math.abs(share - 0.5) < off) [best, off] = [h, Math.abs(share - 0.5)];
    });
    if (best < 0) continue;
    const list = middles.get(s.B[i]!);
    const x = { side: s.sideOf[i]!, half: best };
    if (list) list.push(x);
    else middles.set(s.B[i]!, [x]);
  }
  if (aim === 'own') for (const [v, list] of middles) for (const { half } of list) held.set(fine.corner[half]!, v);
  else
    for (let i = 0; i < s.count; i++) {
      const v = s.B[i]!;
      const beyond = middles.get(v)?.find((x) => x.side !== s.sideOf[i]);
      if (!beyond) continue;
      const way = scaled(unit(sub(fine.at(fine.end(beyond.half)), fine.at(v))), -1);
      ways.set(spokeName(s.sideOf[i]!, v), way);
    }
  return { held, ways };
}
