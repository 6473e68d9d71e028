import type { Flat } from '../../../mesh/index.ts';
import { LIKES, placeBoxes } from './boxes.ts';
import { Grid } from './cells.ts';
import type { CoreWays } from './core.ts';
import { coreDrawn } from './coreDrawn.ts';
import { Draft } from './draft.ts';
import type { LinedFace } from './face.ts';
import { fillRim, fillRoundRim, longEdge, type BandWays } from './rims.ts';
import { addSpokes, layLines, Spans, type Want } from './spans.ts';

/** What the search for a layout alters. */
export interface Ways extends BandWays {
  /** Whether boxes stand on rows and columns that are given, and begin none. */
  rows: boolean;
  /** By the kind of a hole: how far its box is from it, as a multiple of what is liked, and the lines that it wants. */
  pads: ReadonlyMap<string, number>;
  wants: ReadonlyMap<string, Want>;
  /** In a round frame: which rim's vertices begin spokes, how many there are at least, and how many nests at a rim. */
  from: 'inner' | 'outer' | 'none';
  spokes: number;
  spots: number;
  /** For a face with a core: how that is laid. */
  core: CoreWays | null;
}

/** Rims with long straight edges take part by number only: on each side so many lines. */
const OF_LONG = 4;
/** A band at a rim of a round frame takes so much of its width, and at least half of that beside holes. */
const BAND = 0.2;

/** A layout as the ways say, not moved yet; null where that cannot be drawn. */
export function drawn(face: LinedFace, ways: Ways): Draft | null {
  if (face.core) return ways.core && coreDrawn(face.rings[0]!, face.core, ways.core, ways);
  if (!face.round) return linesDrawn(face, ways, [], []);
  const begun = ways.from === 'none' ? [] : ([ways.from === 'inner' ? 0 : 1] as const);
  return roundDrawn(face, ways, begun, begun) ?? (begun.length ? roundDrawn(face, ways, begun, []) : null);
}

type Which = 0 | 1;

/**
 * In a round frame. `begun`: the rim whose vertices begin spokes; `bare`: those that have no band, as all lines there
 * end at vertices. Null where one ends between.
 */
function roundDrawn(face: LinedFace, ways: Ways, begun: readonly Which[], bare: readonly Which[]): Draft | null {
  const { round, holes } = face;
  const [low, high] = round!.bounds;
  const like = LIKES * holes.reduce((x, h) => Math.max(x, h.radius * ways.pads.get(h.kind)!), 0);
  const bands = ([0, 1] as const).map((k) => {
    if (bare.includes(k)) return 0;
    const own = BAND * (high - low);
    if (!holes.length) return own;
    const room = k
      ? high - like - Math.max(...holes.map((h) => h.extent[1][1]))
      : Math.min(...holes.map((h) => h.extent[0][1])) - like - low;
    return Math.max(own / 2, room);
  });
  [round!.low, round!.high] = [low + bands[0]!, high - bands[1]!];
  if (round!.low >= round!.high) return null;
  const arc = begun[0] ? round!.high : round!.low;
  const starts = (begun.length ? round!.rims[begun[0]!].x : [0]).map((x): Flat => [x, arc]);
  return linesDrawn(face, ways, starts, bare);
}

function linesDrawn(face: LinedFace, ways: Ways, starts: readonly Flat[], bare: readonly Which[]): Draft | null {
  const { round } = face;
  if (!placeBoxes(face, (kind) => ways.pads.get(kind)!, starts, ways.rows)) return null;
  const spans = new Spans(face, starts);
  const isLong = (rim: readonly Flat[]): boolean => !round && longEdge(rim) < Infinity;
  const laid = layLines(
    spans,
    (h) => {
      const want = ways.wants.get(h.kind)!;
      return typeof want !== 'number' && isLong(h.rim) ? OF_LONG : want;
    },
    (h) => h.rim.length,
    (h) => !isLong(h.rim),
  );
  if (!laid || (round && !addSpokes(spans, ways.spokes, round.rims[0].x.length))) return null;
  const draft = new Draft();
  const firsts: number[] = [];
  for (const ring of face.rings) {
    firsts.push(draft.points.length);
    for (const p of ring) draft.point([...p]);
  }
  const grid = new Grid(face, spans, draft);
  for (const [i, ring] of face.plain) ring.forEach((p, k) => grid.declare(p, firsts[i]! + k));
  for (const which of bare) {
    const { ring, vertices, x } = round!.rims[which];
    if (spans.endsOnArc(which).length !== x.length) return null;
    vertices.forEach((v, k) => grid.declare([x[k]!, round!.bounds[which]], firsts[ring]! + v));
  }
  if (!grid.layQuads()) return null;
  for (const hole of face.holes) {
    const n = hole.rim.length;
    const points = hole.rim.map((_, k) => firsts[hole.ring]! + (hole.turned ? n - 1 - k : k));
    if (!fillRim(face, spans, grid, draft, hole, points, ways)) return null;
  }
  for (const which of round ? ([0, 1] as const) : []) {
    if (bare.includes(which)) continue;
    const { ring, vertices } = round!.rims[which];
    const rim = vertices.map((v) => firsts[ring]! + v);
    if (!fillRoundRim(spans, grid, draft, which, rim, ways.spots)) return null;
  }
  return draft;
}
