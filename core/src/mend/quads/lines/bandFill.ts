import { towards } from '../flatMesh.ts';
import { type Draft, squared } from './draft.ts';

// The band of quads between two loops, or two runs of points, of which one has more edges. Lanes lead straight across;
// nests turn those that are too many back: a nest leads `w` lanes on and turns `k` on either side of them.

interface Nest {
  /** The coarse point that it begins at. */
  from: number;
  w: number;
  k: number;
}

/** Where nests may stand on a loop of `count` points: at the corners of it, or in the middle of each side. */
export const nestSpots = (corners: readonly number[], count: number, at: 'corners' | 'sides'): readonly number[] =>
  at === 'corners' ? corners : corners.map((s, i) => (s + (corners[i + 1] ?? count)) >> 1);

/** Ways to share out more lanes than this over the nests are not all tried, but those that are nearly even. */
const MOST_WAYS = 200;
/** The dense loop is begun so many points to either side of where equal nests do best. */
const NEARBY = 2;

/** All ways to give `sum` to `n` nests, none more than `most`; evenly where there are more than four. */
function shares(sum: number, n: number, most: number): number[][] {
  if (n === 1) return sum <= most ? [[sum]] : [];
  if (n > 4) return [evenly(sum, n)];
  const out: number[][] = [];
  for (let k = 0; k <= Math.min(sum, most); k++)
    for (const rest of shares(sum - k, n - 1, most)) out.push([k, ...rest]);
  return out;
}

const evenly = (sum: number, n: number): number[] =>
  Array.from({ length: n }, (_, i) => Math.floor(((i + 1) * sum) / n) - Math.floor((i * sum) / n));

/** A way to fill a band: its nests, and which dense point goes with the coarse one that the first nest begins at. */
interface Match {
  cost: number;
  nests: Nest[];
  offset: number;
  shift: number;
}

/**
 * Fills the band between two loops that run the same way round. `spots`: points of the coarse loop at which nests may
 * stand; `reach`: coarse edges that a nest takes on either side of its spot, where the next ones leave room. What goes
 * with what is decided by the sum of squared distances. False where the counts do not suit each other: they must both be
 * even or both odd.
 */
export function fillBand(
  m: Draft,
  dense: readonly number[],
  coarse: readonly number[],
  spots: readonly number[],
  reach: number,
): boolean {
  const [N, M] = [dense.length, coarse.length];
  if (N < M)
    return fillBand(
      m,
      coarse,
      dense,
      spots.map((s) => Math.round((s * N) / M) % N),
      reach,
    );
  if ((N - M) % 2) return false;
  const turned = (N - M) / 2;
  const gaps = spots.map((s, i) => Math.floor(((spots[(i + 1) % spots.length]! - s + M) % M || M) / 2));
  const nestsAt = spots
    .map((spot, i) => ({ spot, reach: Math.min(reach, gaps[i]!, gaps[(i + spots.length - 1) % spots.length]!) }))
    .filter((s) => s.reach > 0);
  if (turned && !nestsAt.length) return false;
  const match = matched(m, dense, coarse, nestsAt, turned);
  fillAlong(match, M, {
    lane: (r, j) => lane(m, dense, coarse, r, j),
    nest: (r, n) => nest(m, dense, coarse, r, n),
  });
  return true;
}

interface Steps {
  lane(dense: number, coarse: number): void;
  nest(dense: number, nest: Nest): void;
}

/** Goes once round the coarse loop of `M` points, from the first nest on. */
function fillAlong({ nests, offset }: { nests: readonly Nest[]; offset: number }, M: number, steps: Steps): void {
  let r = offset;
  const start = nests[0]?.from ?? 0;
  for (let s = 0; s < M;) {
    const j = (start + s) % M;
    const here = nests.find((n) => n.from === j);
    if (here) steps.nest(r, here);
    else steps.lane(r, j);
    r += here ? 2 * here.k + here.w : 1;
    s += here ? here.w : 1;
  }
}

/** The best match of two loops: first for equal nests over all offsets, then for all nests at offsets near that. */
function matched(
  m: Draft,
  dense: readonly number[],
  coarse: readonly number[],
  nestsAt: readonly { spot: number; reach: number }[],
  turned: number,
): Match {
  const [N, M] = [dense.length, coarse.length];
  const tie = (r: number, j: number) => squared(m.points[dense[r % N]!]!, m.points[coarse[j % M]!]!);
  const near = dense.reduce((b, _, i) => (tie(i, 0) < tie(b, 0) ? i : b), 0);
  let best: Match = { cost: Infinity, nests: [], offset: 0, shift: 0 };
  const attempt = (list: readonly number[], middle: number, about: number): void => {
    const nests = list
      .map((k, i): Nest => {
        const { spot, reach } = nestsAt[i]!;
        return { k, w: 2 * reach, from: (spot - reach + M) % M };
      })
      .filter((n) => n.k);
    const begin = nests[0] ? Math.round((nests[0].from * N) / M) : 0;
    for (let shift = middle - about; shift <= middle + about; shift++) {
      const offset = (((near + begin + shift) % N) + N) % N;
      let cost = 0;
      fillAlong({ nests, offset }, M, {
        lane: (r, j) => (cost += tie(r, j) + tie(r + 1, j + 1)),
        nest: (r, { from, w, k }) =>
          (cost += tie(r, from) + tie(r + 2 * k + w, from + w) + tie(r + k + w / 2, from + w / 2)),
      });
      if (cost < best.cost * (1 - 1e-9)) best = { cost, nests, offset, shift };
    }
  };
  attempt(turned ? evenly(turned, nestsAt.length) : [], 0, Math.min(N >> 1, 4 + Math.ceil(turned / 2)));
  if (!turned) return best;
  const all = shares(turned, nestsAt.length, Math.ceil((2 * turned) / nestsAt.length) + 1);
  const tries = all.length > MOST_WAYS ? all.filter((o) => Math.max(...o) - Math.min(...o) < 3) : all;
  const { shift } = best;
  for (const list of tries) attempt(list, shift, NEARBY);
  return best;
}

/**
 * Fills what lies between two runs of points whose ends belong together, with one nest where it lies best if the counts
 * differ. False where they do not suit each other.
 */
export function fillStrip(m: Draft, one: readonly number[], two: readonly number[], reach: number): boolean {
  const [dense, coarse] = one.length >= two.length ? [one, two] : [two, one];
  const [N, M] = [dense.length - 1, coarse.length - 1];
  if ((N - M) % 2 || M < 1) return false;
  const k = (N - M) / 2;
  let best: Nest & { cost: number } = { cost: Infinity, from: 0, w: 0, k };
  const tie = (r: number, j: number) => squared(m.points[dense[r]!]!, m.points[coarse[j]!]!);
  const widest = k ? Math.min(M, 2 * reach) : 0;
  for (let w = widest; w >= Math.max(k ? 1 : 0, widest - 1); w--)
    for (let from = 0; from + w <= (k ? M : 0); from++) {
      let cost = 0;
      for (let j = 0; j <= M; j++) cost += tie(j <= from ? j : j >= from + w ? j + 2 * k : j + k, j);
      if (cost < best.cost) best = { cost, from, w, k };
    }
  for (let j = 0; j < M; j++) {
    if (k && j === best.from) {
      nest(m, dense, coarse, j, best);
      j += best.w - 1;
    } else lane(m, dense, coarse, k && j >= best.from ? j + 2 * k : j, j);
  }
  return true;
}

const at = (list: readonly number[], i: number): number => list[i % list.length]!;

const lane = (m: Draft, dense: readonly number[], coarse: readonly number[], r: number, j: number): void =>
  m.quad(at(dense, r), at(dense, r + 1), at(coarse, j + 1), at(coarse, j));

/** Row 0 lies next to the dense loop, row k is the coarse one; the ends of row 0 are the two poles of the nest. */
function nest(m: Draft, dense: readonly number[], coarse: readonly number[], r: number, { from, w, k }: Nest): void {
  const D = (i: number) => at(dense, r + i);
  const rows = Array.from({ length: k + 1 }, (_, y) =>
    Array.from({ length: w + 1 }, (_, x) => {
      const top = at(coarse, from + x);
      if (y === k) return top;
      const low = towards(m.points[D(k + x)]!, m.points[top]!, 1 / (k + 2));
      return m.point(towards(low, m.points[top]!, y / k), true);
    }),
  );
  for (let i = 0; i < k; i++) m.quad(D(i), D(i + 1), rows[k - i - 1]![0]!, rows[k - i]![0]!);
  for (let x = 0; x < w; x++) m.quad(D(k + x), D(k + x + 1), rows[0]![x + 1]!, rows[0]![x]!);
  for (let y = 0; y < k; y++)
    for (let x = 0; x < w; x++) m.quad(rows[y]![x]!, rows[y]![x + 1]!, rows[y + 1]![x + 1]!, rows[y + 1]![x]!);
  for (let i = 0; i < k; i++) m.quad(D(k + w + i), D(k + w + i + 1), rows[i + 1]![w]!, rows[i]![w]!);
}
