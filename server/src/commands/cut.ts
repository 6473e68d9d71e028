import path from 'node:path';
import { carve, kerf, KERF_BOTTOMS, type CutOperation, type Direction } from '@dusky-mason/core/carve';
import { tidied, withEdgesAsked } from '@dusky-mason/core/courses';
import type { PolyMesh } from '@dusky-mason/core/mesh';
import { surveyCounts } from '@dusky-mason/core/survey';
import { type Call, type Command, OUT_OPTION, tell } from '../command.ts';
import { lengthOf, oneOf, UsageError, wholeOf } from '../flags.ts';
import { checkEnding, load, save } from '../meshFiles.ts';

type Operation = CutOperation | 'kerf';
const OPERATIONS: readonly [Operation, ...Operation[]] = ['subtract', 'union', 'intersect', 'split', 'scribe', 'kerf'];
const KEEPS = ['both', 'rest', 'offcut'] as const;
const TIES = ['none', 'short', 'corners', 'ring'] as const;
const UVS = ['box', 'strip'] as const;
/** The width of a ring of quads round a hole where none is typed, mm. */
const RING = 4;

/** The options that each operation takes, beside those of all. */
const ASKED: Record<string, readonly string[]> = {
  split: ['keep'],
  scribe: ['along'],
  kerf: ['width', 'depth', 'bottom', 'lines', 'spacing', 'along'],
};

export const cut: Command = {
  takes: 'TARGET CUTTER…',
  words: [2, Infinity],
  says: 'Cuts a mesh with others. An open target is a sheet and stays one. Cutters must be closed.',
  options: {
    op: {
      takes: OPERATIONS.join('|'),
      says: 'subtract takes the cutters out, union adds them, intersect keeps what both share, split parts the target along them, scribe puts their outline on the surface, kerf cuts a slit along their skin.',
      needed: true,
    },
    keep: { takes: KEEPS.join('|'), says: 'Of a split, which pieces.', first: KEEPS[0] },
    along: {
      takes: 'X,Y,Z',
      says: 'Of a scribe or a kerf: only on the surface that each cutter meets first that way.',
    },
    width: { takes: 'MM', says: 'Of a kerf, its width at the surface.' },
    depth: { takes: 'MM', says: 'Of a kerf, its depth below the surface.' },
    bottom: { takes: KERF_BOTTOMS.join('|'), says: 'Of a kerf, its bottom.', first: KERF_BOTTOMS[0] },
    lines: { takes: 'N', says: 'Of a kerf, how many slits run side by side.', first: '1' },
    spacing: { takes: 'MM', says: 'Of a kerf, how far apart the middles of its slits are.', first: 'twice the width' },
    ties: { takes: TIES.join('|'), says: 'What joins a hole in a face to its surround.', first: TIES[0] },
    ring: { takes: 'MM', says: 'Width of a ring of quads, with --ties ring.', first: String(RING) },
    tidy: { says: 'Takes out what the cut leaves beside its seams.' },
    uvs: { takes: UVS.join('|'), says: 'Texture coordinates of new walls.', first: UVS[0] },
    ...OUT_OPTION,
    json: {
      says: 'Writes one line of JSON: the survey of the result with strategy, ms, drift, seamEdges, enclosed, and of a kerf how many slits were cut and asked for.',
    },
  },
  run: async (call) => {
    const { args, values, json, write } = call;
    const [target, ...cutters] = args;
    checkEnding(values.out);
    const act = cutAs(oneOf('op', values.op, OPERATIONS), call);
    const a = await load(target!, write, json);
    const list = await Promise.all(cutters.map((c) => load(c, write, json)));
    const t0 = performance.now();
    const { mesh, report } = act(a, list);
    const ms = performance.now() - t0;
    if (values.out) await save(values.out, [{ name: path.parse(target!).name, mesh }]);
    const { strategy, drift, seamEdges, enclosed } = report;
    // For a kerf: how many of the wanted slits could be cut.
    const slits = 'slits' in report ? { slits: report.slits } : {};
    tell({ strategy, ms, drift, seamEdges, enclosed, ...slits, ...surveyCounts(mesh) }, call);
  },
};

/** What a cut does to meshes; what is asked of it is checked at once. */
function cutAs(operation: Operation, { values, on }: Call) {
  const foreign = Object.values(ASKED)
    .flat()
    .find((k) => Object.hasOwn(values, k) && !ASKED[operation]?.includes(k));
  if (foreign) throw new UsageError(`--op ${operation} takes no --${foreign}; see mason help cut.`);
  const along = values.along === undefined ? undefined : direction(values.along);
  const nearest = (cutters: PolyMesh[]) => along && cutters.map(() => along);
  const wallUvs = oneOf('uvs', values.uvs, UVS);
  if (operation !== 'kerf') {
    const keeps = oneOf('keep', values.keep, KEEPS);
    const ties = oneOf('ties', values.ties, TIES);
    const ring = values.ring === undefined ? RING : lengthOf('ring', values.ring);
    return (target: PolyMesh, cutters: PolyMesh[]) => {
      const made = carve(target, { cutters, operation, keeps, nearest: nearest(cutters), wallUvs });
      const { mesh } = on('tidy') ? tidied(made, 1) : made;
      return { report: made.report, mesh: ties === 'none' ? mesh : withEdgesAsked(mesh, { ties, ring }, 1).mesh };
    };
  }
  const bottom = oneOf('bottom', values.bottom, KERF_BOTTOMS);
  const [width, depth] = [lengthOf('width', values.width), lengthOf('depth', values.depth)];
  const lines = wholeOf('lines', values.lines, 1, 1000, 1);
  const spacing = values.spacing === undefined ? undefined : lengthOf('spacing', values.spacing);
  return (target: PolyMesh, cutters: PolyMesh[]) =>
    kerf(target, { cutters, width, depth, bottom, lines, spacing, nearest: nearest(cutters), wallUvs });
}

function direction(value: string): Direction {
  const v = value.split(',').map(Number);
  const length = Math.hypot(...v);
  if (v.length !== 3 || !(length > 0 && length < Infinity))
    throw new UsageError('--along takes three numbers, such as 0,0,-1.');
  return [v[0]! / length, v[1]! / length, v[2]! / length];
}
