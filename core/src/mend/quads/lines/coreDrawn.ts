import type { Flat } from '../../../mesh/index.ts';
import { towards } from '../flatMesh.ts';
import { fillBand, nestSpots } from './bandFill.ts';
import type { Core, CoreWays } from './core.ts';
import { Draft } from './draft.ts';
import { ringOn, type BandWays } from './rims.ts';

/** The sides of the core of a circle are bent outwards: 0 not at all, 1 to a circle. */
const BULGE = 0.6;

/** The layout of a face with a core, not moved yet; null where counts do not suit each other. */
export function coreDrawn(
  ring: readonly Flat[],
  { extent, isRound, own }: Core,
  { count, inset }: CoreWays,
  { nests, reach, rings }: BandWays,
): Draft | null {
  const draft = new Draft();
  const rim = ring.map((p) => draft.point([...p]));
  const middle = towards(extent[0], extent[1], 0.5);
  const [w, h] = [0, 1].map((k) => (extent[1][k]! - extent[0][k]!) / 2) as [number, number];
  const off = inset * Math.min(w, h);
  const bulge = isRound ? BULGE : 0;
  // Of a square to a disc: the elliptical grid mapping (C. Fong, "Analytical methods for squaring the disc", 2014).
  const place = (u: number, v: number): Flat => [
    middle[0] + (w - off) * u * Math.sqrt(1 - (bulge * v * v) / 2),
    middle[1] + (h - off) * v * Math.sqrt(1 - (bulge * u * u) / 2),
  ];
  const evenly = (n: number) => Array.from({ length: n + 1 }, (_, i) => (2 * i) / n - 1);
  const [us, vs] = count === 'own' ? [own!.columns, own!.rows] : [evenly(count.columns), evenly(count.rows)];
  const [columns, rows] = [us.length - 1, vs.length - 1];
  const grid = vs.map((v) => us.map((u) => draft.point(place(u, v))));
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++)
      draft.quad(grid[j]![i]!, grid[j]![i + 1]!, grid[j + 1]![i + 1]!, grid[j + 1]![i]!);
  const loop = [
    ...grid[0]!.slice(0, -1),
    ...grid.slice(0, -1).map((row) => row[columns]!),
    ...grid[rows]!.slice(1).reverse(),
    ...grid
      .slice(1)
      .reverse()
      .map((row) => row[0]!),
  ];
  let outer = rim;
  for (let r = 1; r <= rings; r++)
    outer = ringOn(
      draft,
      outer,
      ring.map((p) => towards(p, middle, (inset * r) / (rings + 1))),
    );
  const corners = [0, columns, columns + rows, 2 * columns + rows];
  return fillBand(draft, outer, loop, nestSpots(corners, loop.length, nests), reach) ? draft : null;
}
