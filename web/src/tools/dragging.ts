import type { Grab } from '@dusky-mason/core/mend';
import type { Vec3 } from '@dusky-mason/core/mesh';

/** A place on the screen, pixels. */
export interface OnScreen {
  x: number;
  y: number;
}

/** Where what is dragged would go: towards which vertex, how much of the way, and what the tag says. */
export interface Way {
  vertex: number;
  share: number;
  point: Vec3;
  name: string;
}

/** Shares of an edge that a vertex is drawn to. */
const SNAPS = [0, 1 / 3, 1 / 2, 2 / 3, 1];
/** How near the pointer must be to such a place, pixels. */
const NEAR = 9;

/**
 * The way on which what is dragged is nearest to the pointer: of a vertex a place on one of its edges, at its ends,
 * middle and thirds where these are near; of a tie the nearest vertex that its end may go to. `on` tells where a place
 * is on the screen. Null where there is no way.
 */
export function nearestWay(grab: Grab, pointer: OnScreen, on: (p: Vec3) => OnScreen): Way | null {
  const off = (a: OnScreen, b: OnScreen) => Math.hypot(a.x - b.x, a.y - b.y);
  const all = grab.ways.map(({ vertex, at }): Way & { far: number } => {
    if (grab.fixed) return { vertex, share: 1, point: at, name: 'to this vertex', far: off(on(at), pointer) };
    const [a, b] = [on(grab.at), on(at)];
    const [ex, ey] = [b.x - a.x, b.y - a.y];
    const long = Math.hypot(ex, ey) || 1;
    const free = Math.max(0, Math.min(1, ((pointer.x - a.x) * ex + (pointer.y - a.y) * ey) / long ** 2));
    const share = SNAPS.find((s) => Math.abs(s - free) * long <= NEAR) ?? free;
    const point = ([0, 1, 2] as const).map((k) => grab.at[k] + share * (at[k] - grab.at[k])) as unknown as Vec3;
    return {
      vertex,
      share,
      point,
      name: nameOf(share),
      far: off({ x: a.x + share * ex, y: a.y + share * ey }, pointer),
    };
  });
  const [first, ...rest] = all;
  return first ? rest.reduce((x, y) => (y.far < x.far ? y : x), first) : null;
}

const nameOf = (share: number): string =>
  share === 0 ? 'where it was' : share === 1 ? 'into its neighbour' : `${(100 * share).toFixed(1)} % of the edge`;
