import path from 'node:path';
import { carve, kerf, KERF_BOTTOMS, type CutOperation, type Direction, type KerfBottom } from '@dusky-mason/core/carve';
import { Evaluator, tidied, withEdgesAsked, type PartResult } from '@dusky-mason/core/courses';
import { SAMPLES, salvagedCasting, skerryLight } from '@dusky-mason/core/demo';
import { writeProjectFile } from '@dusky-mason/core/formats';
import { MasonError, sentenceOf, type PolyMesh } from '@dusky-mason/core/mesh';
import { surveyCounts } from '@dusky-mason/core/survey';
import { bevelled, HELP_DRESS, roomOf, subdivided, type DressFlags } from './dressCommands.ts';
import { lengthOf, oneOf, parseTyped, UsageError, wholeOf, type Options } from './flags.ts';
import { healed, HELP_MENDS, quadded, type StrokeFlags } from './mendCommands.ts';
import { checkEnding, load, loadProject, save, written } from './meshFiles.ts';
import { HELP_SURVEY, rulesAsked, surveyMesh } from './surveyCommand.ts';

/** What `sample` writes: parts of the sample scene, all of it, or the damaged casting. */
const SAMPLE_NAMES = [...Object.keys(SAMPLES), 'salvaged-casting', 'skerry-light'];

const HELP = `mason: carve and survey meshes without the screen

  mason survey FILE [--rules all|NAME,NAME…] [--strict] [--json]
  mason cut TARGET CUTTER… --op subtract|union|intersect|split|scribe|kerf [options] [--out FILE] [--json]
  mason heal IN [--out OUT] [--tolerance MM] [--widest MM] [--as seen|sheet|body] [--json]
  mason quads IN [--out OUT] [--goal shape|fewest|subdivision] [--keep-edges] [--pairs DEGREES] [--json]
  mason bevel IN --width LENGTH [--angle ANGLE] [--segments N] [--out OUT] [--json]
  mason headroom IN [--angle ANGLE] [--segments N] [--json]
  mason subdivide IN --levels N [--limit] [--out OUT] [--json]
  mason convert IN OUT
  mason sample NAME --out FILE        (${SAMPLE_NAMES.join(', ')})
  mason run PROJECT [--part NAME] [--out FILE] [--json]
  mason help [cut|survey|heal|quads|bevel|headroom|subdivide]

FILE is .obj or .stl to read, .obj, .stl or .glb to write. PROJECT is a project file or a bare project document.
Numbers are millimetres. Exit: 0 done, 2 bad input or usage, 3 could not be done correctly, 4 errors found (--strict),
1 anything else.
`;

const HELP_CUT = `mason cut TARGET CUTTER… --op OPERATION [options] [--out FILE] [--json]

  subtract    takes the cutters out of the target
  union       adds them to it
  intersect   keeps only what target and cutters share
  split       parts the target along the cutters        --keep both|rest|offcut (both)
  scribe      puts their outline on the surface         --along X,Y,Z: only on the surface met first that way
  kerf        cuts a slit along their skin              --width MM --depth MM (needed)
              on the surface                            --bottom square|v|round (square), --lines N (1),
                                                        --spacing MM (twice the width), --along X,Y,Z

  Holes that the cut leaves in faces                    --ties none|short|corners|ring (none), --ring MM (4)
  What it leaves beside its outline                     --tidy takes it out
  Texture coordinates of new walls                      --uvs box|strip (box)

An open target is a sheet and stays one. Cutters must be closed.
--json adds strategy, ms, drift, seamEdges and enclosed to the survey of the result, and of a kerf slits: how many were cut, and asked for.
`;

/** Exit status of the command: the words and numbers of this file stay stable. */
const EXIT = { done: 0, other: 1, usage: 2, notDone: 3, found: 4 } as const;

/** Ends with a status of its own, without a word: what there is to say was written. */
class Ended extends Error {
  constructor(readonly status: number) {
    super();
  }
}

const OPERATIONS: readonly [CutOperation | 'kerf', ...(CutOperation | 'kerf')[]] = [
  'subtract',
  'union',
  'intersect',
  'split',
  'scribe',
  'kerf',
];
const KEEPS = ['both', 'rest', 'offcut'] as const;
const TIES = ['none', 'short', 'corners', 'ring'] as const;

interface Flags extends StrokeFlags, DressFlags {
  json: boolean;
  out?: string;
  op?: string;
  part?: string;
  keep?: string;
  along?: string;
  depth?: string;
  bottom?: string;
  lines?: string;
  spacing?: string;
  ties?: string;
  ring?: string;
  tidy?: boolean;
  uvs?: string;
  rules?: string;
  strict?: boolean;
}

/** A command: how it is called, how many words it takes, its options, which of them it cannot do without, and what it does. */
interface Command {
  usage: string;
  words: readonly [least: number, most: number];
  options: Options;
  needs?: readonly string[];
  run: (args: string[], flags: Flags, write: (text: string) => void) => Promise<void>;
}

/** Runs the command and returns its exit status; everything goes through `write` and `warn`, so that tests can listen. */
export async function mason(
  argv: string[],
  write: (text: string) => void,
  warn: (text: string) => void,
): Promise<number> {
  try {
    const [named = 'help', ...rest] = argv;
    const word = argv.includes('--help') || named === '-h' ? 'help' : named;
    if (!Object.hasOwn(COMMANDS, word)) throw new UsageError(`There is no command "${word}"; see mason help.`);
    const command = COMMANDS[word]!;
    const { args, values, switches } = parseTyped(word === named ? rest : [], command.options, word);
    const [least, most] = command.words;
    const missing = command.needs?.find((k) => !Object.hasOwn(values, k));
    if (args.length < least || args.length > most || missing)
      throw new UsageError(`${missing ? `--${missing} is missing. ` : ''}Usage: ${command.usage}`);
    const flags = { ...values, ...Object.fromEntries([...switches].map((k) => [k, true])), json: switches.has('json') };
    await command.run(args, flags, write);
    return EXIT.done;
  } catch (e) {
    if (e instanceof Ended) return e.status;
    warn(sentenceOf(e));
    if (e instanceof UsageError) return EXIT.usage;
    if (e instanceof MasonError) return e.code === 'not-done' ? EXIT.notDone : EXIT.usage;
    return EXIT.other;
  }
}

/** Help by topic. */
const HELPS = new Map([
  ['cut', HELP_CUT],
  ['survey', HELP_SURVEY],
  ['heal', HELP_MENDS],
  ['quads', HELP_MENDS],
  ['bevel', HELP_DRESS],
  ['headroom', HELP_DRESS],
  ['subdivide', HELP_DRESS],
]);

const ONE_MESH = { words: [1, 1], options: { out: 'value', json: 'switch' } } as const;
const EDGES = { angle: 'value', segments: 'value', measure: 'value', profile: 'value' } as const;
/** A command that works on one mesh as a whole. */
const onMesh = (word: string, options: Options, act: OnMesh, needs: readonly string[] = []): Command => ({
  usage: `mason ${word} IN ${needs.map((k) => `--${k} … `).join('')}[--out OUT] [--json]; see mason help ${word}.`,
  words: ONE_MESH.words,
  options: { ...ONE_MESH.options, ...options },
  needs,
  run: (args, flags, write) => runOnMesh(args, flags, write, act),
});

const COMMANDS: Record<string, Command> = {
  help: {
    usage: 'mason help [TOPIC]',
    words: [0, 1],
    options: {},
    run: async ([topic], _flags, write) => {
      if (topic !== undefined && !HELPS.has(topic))
        throw new UsageError(`There is no help on "${topic}"; topics are ${[...HELPS.keys()].join(', ')}.`);
      write(HELPS.get(topic ?? '') ?? HELP);
    },
  },

  survey: {
    usage: 'mason survey FILE [--rules all|NAME,NAME…] [--strict] [--json]',
    words: [1, 1],
    options: { rules: 'value', strict: 'switch', json: 'switch' },
    run: async ([file], { json, rules, strict }, write) => {
      const asked = rulesAsked(rules);
      const mesh = await load(file!, write, json);
      const errors = surveyMesh(mesh, asked, json, (o) => tell(o, json, write), write);
      if (strict && errors) throw new Ended(EXIT.found);
    },
  },

  cut: {
    usage: `mason cut TARGET CUTTER… --op ${OPERATIONS.join('|')} [--out FILE] [--json]; see mason help cut.`,
    words: [2, Infinity],
    options: {
      op: 'value',
      keep: 'value',
      along: 'value',
      width: 'value',
      depth: 'value',
      bottom: 'value',
      lines: 'value',
      spacing: 'value',
      ties: 'value',
      ring: 'value',
      tidy: 'switch',
      uvs: 'value',
      out: 'value',
      json: 'switch',
    },
    needs: ['op'],
    run: async ([target, ...cutters], flags, write) => {
      const { out, json } = flags;
      checkEnding(out);
      const cut = cutAs(oneOf('op', flags.op, OPERATIONS), flags);
      const a = await load(target!, write, json);
      const list = await Promise.all(cutters.map((c) => load(c, write, json)));
      const t0 = performance.now();
      const { mesh, report } = cut(a, list);
      const ms = performance.now() - t0;
      if (out) await save(out, [{ name: path.parse(target!).name, mesh }]);
      const { strategy, drift, seamEdges, enclosed } = report;
      // Of a kerf, how many of the slits that were asked for could be cut.
      const slits = 'slits' in report ? { slits: report.slits } : {};
      tell({ strategy, ms, drift, seamEdges, enclosed, ...slits, ...surveyCounts(mesh) }, json, write);
    },
  },

  heal: onMesh('heal', { tolerance: 'value', widest: 'value', as: 'value' }, healed),
  quads: onMesh('quads', { goal: 'value', 'keep-edges': 'switch', pairs: 'value' }, quadded),
  bevel: onMesh('bevel', { ...EDGES, width: 'value', past: 'value' }, bevelled, ['width']),
  headroom: onMesh('headroom', EDGES, roomOf),
  subdivide: onMesh('subdivide', { levels: 'value', limit: 'switch' }, subdivided, ['levels']),

  convert: {
    usage: 'mason convert IN OUT',
    words: [2, 2],
    options: { json: 'switch' },
    run: async ([from, to], { json }, write) => {
      checkEnding(to);
      await save(to!, [{ name: path.parse(from!).name, mesh: await load(from!, write, json) }]);
    },
  },

  sample: {
    usage: 'mason sample NAME --out FILE',
    words: [1, 1],
    options: { out: 'value' },
    needs: ['out'],
    run: async ([name], { out = '' }) => {
      const project = skerryLight();
      if (name === 'skerry-light') return written(out, writeProjectFile({ document: project, meshes: new Map() }));
      if (!SAMPLE_NAMES.includes(name!))
        throw new UsageError(`There is no sample "${name}"; known are ${SAMPLE_NAMES.join(', ')}.`);
      checkEnding(out);
      if (name === 'salvaged-casting') return save(out, [{ name: 'Salvaged casting', mesh: salvagedCasting() }]);
      const part = project.parts[SAMPLES[name!]!]!;
      await save(out, [{ name: part.name, mesh: new Evaluator().evaluate(part, () => undefined).mesh }]);
    },
  },

  run: {
    usage: 'mason run PROJECT [--part NAME] [--out FILE] [--json]',
    words: [1, 1],
    options: { part: 'value', out: 'value', json: 'switch' },
    run: ([file], flags, write) => runProject(file!, flags, write),
  },
};

/** Lays all courses of a project's parts, and tells what came of each. */
async function runProject(
  file: string,
  { part: only, out, json }: Flags,
  write: (text: string) => void,
): Promise<void> {
  checkEnding(out);
  const { project, meshes } = await loadProject(file);
  const parts = project.parts.filter((p) => only === undefined || p.name === only);
  if (!parts.length)
    throw new UsageError(only === undefined ? 'The project has no parts.' : `The project has no part "${only}".`);
  const evaluator = new Evaluator();
  evaluator.parts = project.parts;
  const results = parts.map((p) => ({
    name: p.name,
    courses: p.courses,
    result: evaluator.evaluate(p, (hash) => meshes.get(hash)),
  }));
  if (out)
    await save(
      out,
      results.map(({ name, result }) => ({ name, mesh: result.mesh })),
      project.materials,
    );
  const rows = results.map(({ name, courses, result }) => ({
    part: name,
    ms: result.ms,
    courses: result.courses.map((c, i) => ({
      name: courses[i]!.name,
      state: c.state,
      ms: c.ms,
      error: c.error?.message,
    })),
    survey: surveyCounts(result.mesh),
  }));
  if (json) write(`${JSON.stringify({ project: project.name, parts: rows })}\n`);
  else
    for (const row of rows) {
      write(`${row.part}\n`);
      for (const c of row.courses) write(`  ${c.state} ${c.name}${c.error ? `: ${c.error}` : ''}\n`);
      tell(row.survey, false, write);
    }
  failIfFailed(results.map((r) => r.result));
}

type OnMesh = (m: PolyMesh, flags: Flags) => { mesh: PolyMesh; told: Record<string, unknown> };

/** One mesh: read, worked on, written where that is asked for, and told. */
async function runOnMesh([file]: string[], flags: Flags, write: (text: string) => void, act: OnMesh): Promise<void> {
  checkEnding(flags.out);
  const m = await load(file!, write, flags.json);
  const t0 = performance.now();
  const { mesh, told } = act(m, flags);
  const ms = performance.now() - t0;
  if (flags.out) await save(flags.out, [{ name: path.parse(file!).name, mesh }]);
  tell({ ms, ...told, ...surveyCounts(mesh) }, flags.json, write);
}

/** The options that each operation takes, beside those of all. */
const ASKED: Record<string, readonly string[]> = {
  split: ['keep'],
  scribe: ['along'],
  kerf: ['width', 'depth', 'bottom', 'lines', 'spacing', 'along'],
};

/** What a cut does to meshes; what is asked of it is checked at once. */
function cutAs(operation: CutOperation | 'kerf', flags: Flags) {
  const foreign = Object.values(ASKED)
    .flat()
    .find((k) => Object.hasOwn(flags, k) && !ASKED[operation]?.includes(k));
  if (foreign) throw new UsageError(`--op ${operation} takes no --${foreign}; see mason help cut.`);
  const along = flags.along === undefined ? undefined : direction(flags.along);
  const nearest = (cutters: PolyMesh[]) => along && cutters.map(() => along);
  const wallUvs = oneOf('uvs', flags.uvs, ['box', 'strip']);
  if (operation !== 'kerf') {
    const keeps = oneOf('keep', flags.keep, KEEPS);
    const ties = oneOf('ties', flags.ties, TIES);
    const ring = flags.ring === undefined ? 4 : lengthOf('ring', flags.ring);
    return (target: PolyMesh, cutters: PolyMesh[]) => {
      const cut = carve(target, { cutters, operation, keeps, nearest: nearest(cutters), wallUvs });
      const { mesh } = flags.tidy ? tidied(cut, 1) : cut;
      return { report: cut.report, mesh: ties === 'none' ? mesh : withEdgesAsked(mesh, { ties, ring }, 1).mesh };
    };
  }
  const bottom: KerfBottom = oneOf('bottom', flags.bottom, KERF_BOTTOMS);
  const [width, depth] = [lengthOf('width', flags.width), lengthOf('depth', flags.depth)];
  const lines = wholeOf('lines', flags.lines, 1, 1000, 1);
  const spacing = flags.spacing === undefined ? undefined : lengthOf('spacing', flags.spacing);
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

/** A part that is not what its courses say is not done, though the rest was told and written. */
function failIfFailed(results: PartResult[]): void {
  const failed = results.flatMap((r) => r.courses.filter((c) => c.error));
  if (failed.length)
    throw new MasonError('not-done', `${failed.length} courses failed; the first says: ${failed[0]!.error!.message}`);
}

function tell(o: object, json: boolean, write: (text: string) => void): void {
  if (json) return write(`${JSON.stringify(o)}\n`);
  for (const [key, value] of Object.entries(o))
    write(`  ${key}: ${typeof value === 'object' ? JSON.stringify(value) : String(value)}\n`);
}

// What reads the output may have closed it, as `head` does: then there is nobody to tell.
const onClosed = (e: NodeJS.ErrnoException): void => {
  if (e.code !== 'EPIPE') throw e;
  process.exit(EXIT.done);
};
if (process.argv[1] && import.meta.url.endsWith(path.basename(process.argv[1]))) {
  process.stdout.on('error', onClosed);
  process.stderr.on('error', onClosed);
  process.exitCode = await mason(
    process.argv.slice(2),
    (t) => void process.stdout.write(t),
    (t) => void process.stderr.write(`mason: ${t}\n`),
  );
}
