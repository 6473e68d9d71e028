import type { z } from 'zod';
import type { CarveReport } from '../../carve/index.ts';
import { MasonError, type RingReport } from '../../mesh/index.ts';
import type { TidyReport } from '../../mend/index.ts';
import { formatLength, type LengthUnit } from '../../units/index.ts';
import { shapeWords } from '../cutters/placed.ts';
import { standing } from '../cutters/standing.ts';
import { CutParams, type Cutter } from '../settings/cutSettings.ts';

type Params = z.infer<typeof CutParams>;

const DOES = {
  subtract: 'removes',
  union: 'adds',
  intersect: 'keeps what is in',
  split: 'splits along',
  scribe: 'scribes',
  kerf: 'slits along',
} as const;

/** How many cutters stand in all; a repeat that is too large counts as one, as its course says why it fails. */
function countStanding(params: Params): number {
  try {
    return standing(params).length;
  } catch (e) {
    if (e instanceof MasonError) return params.cutters.length;
    throw e;
  }
}

/** What a cut does, in words, for the wall. */
export function sayCut(params: Params, unit: LengthUnit, report?: Partial<CarveReport>): string {
  const { operation, cutters } = params;
  const [first] = cutters as [Cutter];
  const one = shapeWords(first.shape, unit);
  const alike = cutters.every((c) => JSON.stringify(c.shape) === JSON.stringify(first.shape));
  const n = countStanding(params);
  const what = n === 1 ? one : alike ? `${n} cutters, each ${one}` : `${n} cutters`;
  const through = n === 1 && first.through ? ' through' : '';
  const size =
    operation === 'kerf' ? `, ${formatLength(params.width, unit)} wide, ${formatLength(params.depth, unit)} deep` : '';
  return `${DOES[operation]} ${what}${through}${size}${result(operation, report)}`;
}

/** What became of the rings of quads that were asked for, in words. */
export function sayRings({ rings, narrowed, left }: RingReport): string {
  const words = [`${rings}`];
  if (narrowed) words.push(`${narrowed} narrower`);
  if (left) words.push(`${left} without room`);
  return words.join(', ');
}

/** The result of tidying after a cut, in words. */
export function sayTidied({ straight, collapsed, narrow, left }: Omit<TidyReport, 'tolerance'>): string {
  const words: [number, string, string][] = [
    [straight, 'vertex out of straight runs', 'vertices out of straight runs'],
    [collapsed, 'tiny edge collapsed', 'tiny edges collapsed'],
    [narrow, 'narrow face joined', 'narrow faces joined'],
    [left, 'tiny edge left', 'tiny edges left'],
  ];
  const some = words.filter(([n]) => n).map(([n, one, many]) => `${n} ${n === 1 ? one : many}`);
  return some.join(', ') || 'nothing was left over';
}

function result(operation: Params['operation'], report?: Partial<CarveReport>): string {
  const many = (n: number, word: string) => `, ${n === 0 ? 'no' : n} ${word}${n === 1 ? '' : 's'}`;
  if (operation === 'scribe') return report?.enclosed === undefined ? '' : many(report.enclosed, 'enclosed face');
  return report?.newWalls === undefined ? '' : many(report.newWalls, 'new wall');
}
