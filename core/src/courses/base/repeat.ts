import { z } from 'zod';
import { MasonError, placementAffine, turnOf, type Affine } from '../../mesh/index.ts';
import { seededRandom } from '../../shapes/index.ts';
import { alongPath } from './alongPath.ts';
import { angle, choice, count, flag, length, lengthOrZero, offset, onlyWhen, vector3 } from './fields.ts';

/** Most instances of one cutter. */
export const MOST_INSTANCES = 1000;

const AXIS_WORDS = { x: 'x', y: 'y', z: 'z' } as const;
const REPEATED = ['row', 'grid', 'round', 'along', 'mirror'];

/** How a cutter is repeated. The first instance is the cutter where it stands; the others follow it. */
export const RepeatSchema = z.object({
  kind: choice('Repeat', 'none', {
    none: 'not',
    row: 'in a row',
    grid: 'in a grid',
    round: 'round an axis',
    along: 'along a boundary',
    mirror: 'mirrored',
  }),
  count: onlyWhen(count('How many', 5, 1, MOST_INSTANCES), 'kind', ['row', 'round', 'along']),
  spaced: onlyWhen(choice('Spaced', 'even', { even: 'evenly over all of it', step: 'by a step' }), 'kind', ['along']),
  pathStep: onlyWhen(length('Step along it', 40), 'spaced', ['step']),
  follow: onlyWhen(flag('Turns with it', true), 'kind', ['along']),
  by: onlyWhen(choice('Spaced', 'step', { step: 'by a step', over: 'over a length' }), 'kind', ['row']),
  step: onlyWhen(offset('Step', 40, 'From middle to middle.'), 'by', ['step']),
  over: onlyWhen(offset('Length in all', 200, 'From the first middle to the last.'), 'by', ['over']),
  along: onlyWhen(choice('Along', 'x', AXIS_WORDS, 'The cutter’s own axis.'), 'kind', ['row']),
  columns: onlyWhen(count('Columns', 3, 1, MOST_INSTANCES), 'kind', ['grid']),
  rows: onlyWhen(count('Rows', 3, 1, MOST_INSTANCES), 'kind', ['grid']),
  columnStep: onlyWhen(offset('Step of columns', 40, 'Along the cutter’s own x.'), 'kind', ['grid']),
  rowStep: onlyWhen(offset('Step of rows', 40, 'Along the cutter’s own y.'), 'kind', ['grid']),
  sweep: onlyWhen(angle('Sweep', 360, -360, 360, 'A full turn spaces them evenly all round.'), 'kind', ['round']),
  axis: onlyWhen(choice('Round the part’s', 'z', AXIS_WORDS), 'kind', ['round']),
  across: onlyWhen(choice('Across the part’s', 'x', AXIS_WORDS), 'kind', ['mirror']),
  at: onlyWhen(offset('Mirror at', 0, 'Along that axis.'), 'kind', ['mirror']),
  /** A point of the axis that they go round, in the part's frame, mm. */
  centre: vector3.default([0, 0, 0]),
  /**
   * The outline that they stand along, point by point in the part's frame, mm; and whether its end is its beginning.
   */
  path: z.array(vector3).max(10_000).default([]),
  loop: z.boolean().default(true),
  seed: onlyWhen(count('Seed', 1, 0, 1e6, 'Another seed, another chance.'), 'kind', REPEATED),
  move: onlyWhen(lengthOrZero('Shift by chance up to', 0, 'In the cutter’s own x and y.'), 'kind', REPEATED),
  turn: onlyWhen(angle('Turn by chance up to', 0, 0, 180, 'About the cutter’s own z.'), 'kind', REPEATED),
  size: onlyWhen(count('Size by chance up to ± %', 0, 0, 90), 'kind', REPEATED),
  /** Instances that are switched off, by number from 0. */
  off: z.array(z.number().int().min(0).max(MOST_INSTANCES)).max(MOST_INSTANCES).default([]),
  /** Instances that were moved by hand, mm in the part's frame. */
  moves: z
    .array(z.object({ instance: z.number().int().min(0).max(MOST_INSTANCES), by: vector3 }))
    .max(MOST_INSTANCES)
    .default([]),
});
export type Repeat = z.infer<typeof RepeatSchema>;

export const notRepeated = (): Repeat => RepeatSchema.parse({});

interface Placement {
  position: [number, number, number];
  turn: [number, number, number];
  scale?: [number, number, number];
}

/** One place where a repeated cutter stands: its number from 0, and whether it is switched off. */
export interface Instance {
  number: number;
  placement: Placement;
  off: boolean;
}

/** How many instances a repeat asks for, those switched off among them; not held to the limit. */
const askedFor = (r: Repeat): number =>
  ({ none: 1, row: r.count, grid: r.columns * r.rows, round: r.count, along: r.count, mirror: 2 })[r.kind];

/** How many instances a repeat asks for that are switched on. */
export function instancesOn(r: Repeat): number {
  const n = askedFor(r);
  return r.kind === 'none' ? n : n - new Set(r.off.filter((i) => i < n)).size;
}

/** How many instances there are, those switched off among them. Throws `bad-input` above the limit. */
export function instanceCount(r: Repeat): number {
  const n = askedFor(r);
  if (n > MOST_INSTANCES)
    throw new MasonError(
      'bad-input',
      `That would be ${n} instances of a cutter; up to ${MOST_INSTANCES} are made. Use fewer.`,
    );
  return n;
}

/** All places of a repeated cutter, the first one where it stands itself. Throws `bad-input` above the limit. */
export function instancesOf(p: Placement, r: Repeat | undefined): Instance[] {
  if (!r || r.kind === 'none') return [{ number: 0, placement: p, off: false }];
  const n = instanceCount(r);
  const random = seededRandom(r.seed);
  return Array.from({ length: n }, (_, i): Instance => {
    // The same numbers are drawn for each, so that one that is added changes none before it.
    const [u, v, w, k] = [random(), random(), random(), random()].map((x) => 2 * x - 1) as [
      number,
      number,
      number,
      number,
    ];
    let placement = placed(p, r, i);
    if (i > 0 && (r.move || r.turn || r.size))
      placement = varied(placement, r.move * u, r.move * v, r.turn * w, 1 + (r.size / 100) * k);
    const by = r.moves.find((m) => m.instance === i)?.by;
    if (by) placement = { ...placement, position: tidy(placement.position.map((x, j) => x + by[j]!)) };
    return { number: i, placement, off: r.off.includes(i) };
  });
}

/** Rounding has left its mark on zeros. */
const tidy = (v: readonly number[]): [number, number, number] =>
  v.map((x) => +x.toFixed(9) + 0) as [number, number, number];

function placed(p: Placement, r: Repeat, i: number): Placement {
  if (i === 0) return p;
  switch (r.kind) {
    case 'row': {
      const step = r.by === 'over' ? (r.count > 1 ? r.over / (r.count - 1) : 0) : r.step;
      const way: [number, number, number] = [0, 0, 0];
      way['xyz'.indexOf(r.along)] = i * step;
      return shifted(p, way);
    }
    case 'grid':
      return shifted(p, [(i % r.columns) * r.columnStep, Math.floor(i / r.columns) * r.rowStep, 0]);
    case 'round': {
      const full = Math.abs(r.sweep) >= 360;
      const each = full ? r.sweep / r.count : r.count > 1 ? r.sweep / (r.count - 1) : 0;
      return turnedRound(p, 'xyz'.indexOf(r.axis) as 0 | 1 | 2, r.centre, i * each);
    }
    case 'along':
      return alongPath(p, r, i);
    default:
      return mirrored(p, 'xyz'.indexOf(r.across) as 0 | 1 | 2, r.at);
  }
}

/** Moved along its own axes, mm. */
function shifted(p: Placement, [x, y, z]: readonly [number, number, number]): Placement {
  const a = placementAffine({ ...p, scale: [1, 1, 1] });
  return {
    ...p,
    position: tidy([0, 1, 2].map((k) => p.position[k]! + a[4 * k]! * x + a[4 * k + 1]! * y + a[4 * k + 2]! * z)),
  };
}

const rowsOf = (a: Affine): number[][] => [0, 1, 2].map((k) => [a[4 * k]!, a[4 * k + 1]!, a[4 * k + 2]!]);
const turnedRows = (p: Placement): number[][] => rowsOf(placementAffine({ ...p, scale: [1, 1, 1] }));

function turnedRound(p: Placement, axis: 0 | 1 | 2, centre: readonly number[], degrees: number): Placement {
  const a = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  const [i, j] = [(axis + 1) % 3, (axis + 2) % 3] as [number, number];
  const turn = (v: readonly number[]): number[] => {
    const out = [...v];
    out[i] = c * v[i]! - s * v[j]!;
    out[j] = s * v[i]! + c * v[j]!;
    return out;
  };
  const columns = [0, 1, 2].map((k) => turn(turnedRows(p).map((row) => row[k]!)));
  const away = turn(p.position.map((x, k) => x - centre[k]!));
  return {
    ...p,
    position: tidy(away.map((x, k) => x + centre[k]!)),
    turn: turnOf([0, 1, 2].map((row) => columns.map((column) => column[row]!))),
  };
}

/**
 * Seen in a mirror square to an axis of the part: its own x is turned over by a negative scale, so that the rest is a
 * plain turn.
 */
function mirrored(p: Placement, axis: 0 | 1 | 2, at: number): Placement {
  const rows = turnedRows(p).map((row, k) => (k === axis ? row.map((x) => -x) : row));
  const [sx, sy, sz] = p.scale ?? [1, 1, 1];
  return {
    position: tidy(p.position.map((x, k) => (k === axis ? 2 * at - x : x))),
    turn: turnOf(rows.map(([x, y, z]) => [-x!, y!, z!])),
    scale: [-sx, sy, sz],
  };
}

function varied(p: Placement, x: number, y: number, degrees: number, size: number): Placement {
  const a = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  const rows = turnedRows(p).map(([u, v, w]) => [c * u! + s * v!, c * v! - s * u!, w!]);
  const scale = (p.scale ?? [1, 1, 1]).map((k) => k * size) as [number, number, number];
  return { ...shifted(p, [x, y, 0]), turn: turnOf(rows), scale };
}
