import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { carve, kerf, KERF_BOTTOMS, type CutOperation, type Direction, type KerfBottom } from '@dusky-mason/core/carve';
import {
  Evaluator,
  readProject,
  tidied,
  withEdgesAsked,
  type PartResult,
  type Project,
} from '@dusky-mason/core/courses';
import { SAMPLES, salvagedCasting, skerryLight } from '@dusky-mason/core/demo';
import {
  exportDefaults,
  exportParts,
  type SlotLook,
  isZip,
  readMesh,
  readProjectFile,
  writeProjectFile,
  type ExportFormat,
} from '@dusky-mason/core/formats';
import { MasonError, type PolyMesh } from '@dusky-mason/core/mesh';
import { surveyCounts } from '@dusky-mason/core/survey';
import { bevelled, HELP_DRESS, roomOf, subdivided, type DressFlags } from './dressCommands.ts';
import { oneOf } from './flags.ts';
import { healed, HELP_MENDS, quadded, type MendFlags } from './mendCommands.ts';
import { HELP_SURVEY, rulesAsked, surveyMesh, UnknownRule } from './surveyCommand.ts';

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
--json adds strategy, ms, drift, seamEdges and enclosed to the survey of the result.
`;

/** Exit status of the command: the words and numbers of this file stay stable. */
const EXIT = { done: 0, other: 1, usage: 2, notDone: 3, found: 4 } as const;

class UsageError extends Error {}
/** Ends with a status of its own, without a word: what there is to say was written. */
class Ended extends Error {
  constructor(readonly status: number) {
    super();
  }
}

const OPERATIONS: readonly (CutOperation | 'kerf')[] = ['subtract', 'union', 'intersect', 'split', 'scribe', 'kerf'];
const KEEPS = ['both', 'rest', 'offcut'] as const;
const TIES = ['none', 'short', 'corners', 'ring'] as const;

interface Flags extends MendFlags, DressFlags {
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

/** Runs the command and returns its exit status; everything goes through `write` and `warn`, so that tests can listen. */
export async function mason(
  argv: string[],
  write: (text: string) => void,
  warn: (text: string) => void,
): Promise<number> {
  try {
    const { values, positionals } = parse(argv);
    const [command = 'help', ...args] = positionals;
    const run = COMMANDS[command];
    if (!run) throw new UsageError(`There is no command "${command}"; see mason help.`);
    await run(args, values, write);
    return EXIT.done;
  } catch (e) {
    if (e instanceof Ended) return e.status;
    warn(e instanceof Error ? e.message : String(e));
    if (e instanceof UsageError || e instanceof UnknownRule) return EXIT.usage;
    if (e instanceof MasonError) return e.code === 'not-done' ? EXIT.notDone : EXIT.usage;
    if (e instanceof Error && 'code' in e && typeof e.code === 'string' && /^E[A-Z]+$/.test(e.code)) return EXIT.usage;
    return EXIT.other;
  }
}

function parse(argv: string[]): { values: Flags; positionals: string[] } {
  try {
    const { values, positionals } = parseArgs({
      args: argv,
      allowPositionals: true,
      options: {
        json: { type: 'boolean' },
        out: { type: 'string' },
        op: { type: 'string' },
        part: { type: 'string' },
        keep: { type: 'string' },
        along: { type: 'string' },
        width: { type: 'string' },
        depth: { type: 'string' },
        bottom: { type: 'string' },
        lines: { type: 'string' },
        spacing: { type: 'string' },
        ties: { type: 'string' },
        ring: { type: 'string' },
        tidy: { type: 'boolean' },
        uvs: { type: 'string' },
        rules: { type: 'string' },
        strict: { type: 'boolean' },
        tolerance: { type: 'string' },
        widest: { type: 'string' },
        as: { type: 'string' },
        goal: { type: 'string' },
        'keep-edges': { type: 'boolean' },
        pairs: { type: 'string' },
        angle: { type: 'string' },
        segments: { type: 'string' },
        measure: { type: 'string' },
        profile: { type: 'string' },
        past: { type: 'string' },
        levels: { type: 'string' },
        limit: { type: 'boolean' },
        help: { type: 'boolean' },
      },
    });
    return { values: { ...values, json: values.json ?? false }, positionals: values.help ? ['help'] : positionals };
  } catch (e) {
    throw new UsageError(e instanceof Error ? e.message : String(e));
  }
}

/** Help by topic. */
const HELPS: Record<string, string> = { cut: HELP_CUT, survey: HELP_SURVEY, heal: HELP_MENDS, quads: HELP_MENDS, bevel: HELP_DRESS, headroom: HELP_DRESS, subdivide: HELP_DRESS }; // prettier-ignore

const COMMANDS: Record<string, (args: string[], flags: Flags, write: (text: string) => void) => Promise<void>> = {
  help: async ([topic], _flags, write) => write(HELPS[topic ?? ''] ?? HELP),

  survey: async ([file, ...rest], { json, rules, strict }, write) => {
    if (!file || rest.length)
      throw new UsageError('Usage: mason survey FILE [--rules all|NAME,NAME…] [--strict] [--json]');
    const asked = rulesAsked(rules);
    const mesh = await load(file, write, json);
    const errors = surveyMesh(mesh, asked, json, (o) => tell(o, json, write), write);
    if (strict && errors) throw new Ended(EXIT.found);
  },

  cut: async ([target, ...cutters], flags, write) => {
    const { op, out, json } = flags;
    const operation = OPERATIONS.find((o) => o === op);
    if (!target || !cutters.length || !operation)
      throw new UsageError(
        `Usage: mason cut TARGET CUTTER… --op ${OPERATIONS.join('|')} [--out FILE] [--json]; see mason help cut.`,
      );
    const a = await load(target, write, json);
    const list = await Promise.all(cutters.map((c) => load(c, write, json)));
    const t0 = performance.now();
    const { mesh, report } = cutAs(operation, a, list, flags);
    const ms = performance.now() - t0;
    if (out) await save(out, [{ name: path.parse(target).name, mesh }]);
    const { strategy, drift, seamEdges, enclosed } = report;
    tell({ strategy, ms, drift, seamEdges, enclosed, ...surveyCounts(mesh) }, json, write);
  },

  heal: async (args, flags, write) => mended(args, flags, write, healed, 'heal'),
  quads: async (args, flags, write) => mended(args, flags, write, quadded, 'quads'),
  bevel: async (args, flags, write) => mended(args, flags, write, bevelled, 'bevel'),
  headroom: async (args, flags, write) => mended(args, flags, write, roomOf, 'headroom'),
  subdivide: async (args, flags, write) => mended(args, flags, write, subdivided, 'subdivide'),

  convert: async ([from, to, ...rest], { json }, write) => {
    if (!from || !to || rest.length) throw new UsageError('Usage: mason convert IN OUT');
    await save(to, [{ name: path.parse(from).name, mesh: await load(from, write, json) }]);
  },

  sample: async ([name, ...rest], { out }) => {
    if (!name || !out || rest.length) throw new UsageError('Usage: mason sample NAME --out FILE');
    const project = skerryLight();
    if (name === 'skerry-light') {
      await writeFile(out, writeProjectFile({ document: project, meshes: new Map() }));
      return;
    }
    if (name === 'salvaged-casting') return save(out, [{ name: 'Salvaged casting', mesh: salvagedCasting() }]);
    const part = project.parts[SAMPLES[name] ?? -1];
    if (!part) throw new UsageError(`There is no sample "${name}"; known are ${SAMPLE_NAMES.join(', ')}.`);
    await save(out, [{ name: part.name, mesh: new Evaluator().evaluate(part, () => undefined).mesh }]);
  },

  run: async ([file, ...rest], { part: only, out, json }, write) => {
    if (!file || rest.length) throw new UsageError('Usage: mason run PROJECT [--part NAME] [--out FILE] [--json]');
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
  },
};

/** A mend of one mesh: read, mended, written where that is asked for, and told. */
async function mended(
  [file, ...rest]: string[],
  flags: Flags,
  write: (text: string) => void,
  mend: (m: PolyMesh, flags: Flags) => { mesh: PolyMesh; told: Record<string, unknown> },
  word: string,
): Promise<void> {
  if (!file || rest.length)
    throw new UsageError(`Usage: mason ${word} IN [--out OUT] [--json]; see mason help ${word}.`);
  const m = await load(file, write, flags.json);
  const t0 = performance.now();
  const { mesh, told } = mend(m, flags);
  const ms = performance.now() - t0;
  if (flags.out) await save(flags.out, [{ name: path.parse(file).name, mesh }]);
  tell({ ms, ...told, ...surveyCounts(mesh) }, flags.json, write);
}

function cutAs(operation: CutOperation | 'kerf', target: PolyMesh, cutters: PolyMesh[], flags: Flags) {
  const nearest = flags.along === undefined ? undefined : cutters.map(() => direction(flags.along!));
  const wallUvs = oneOf('uvs', flags.uvs, ['box', 'strip']);
  if (operation !== 'kerf') {
    const keeps = oneOf('keep', flags.keep, KEEPS);
    const ties = oneOf('ties', flags.ties, TIES);
    const ring = flags.ring === undefined ? 4 : millimetres('ring', flags.ring);
    const cut = carve(target, cutters, { operation, keeps, nearest, wallUvs });
    const { mesh } = flags.tidy ? tidied(cut, 1) : cut;
    return { report: cut.report, mesh: ties === 'none' ? mesh : withEdgesAsked(mesh, { ties, ring }, 1).mesh };
  }
  const bottom: KerfBottom = oneOf('bottom', flags.bottom, KERF_BOTTOMS);
  const [width, depth] = [millimetres('width', flags.width), millimetres('depth', flags.depth)];
  const lines = Number(flags.lines ?? 1);
  if (!Number.isInteger(lines) || lines < 1 || lines > 1000)
    throw new UsageError('--lines takes a whole number from 1 to 1000.');
  const spacing = flags.spacing === undefined ? undefined : millimetres('spacing', flags.spacing);
  return kerf(target, cutters, { width, depth, bottom, lines, spacing, nearest, wallUvs });
}

function millimetres(flag: string, value: string | undefined): number {
  const x = Number(value);
  if (value === undefined || !(x > 0 && x < 1e7))
    throw new UsageError(`--${flag} takes a number of millimetres above 0.`);
  return x;
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

async function load(file: string, write: (text: string) => void, json: boolean): Promise<PolyMesh> {
  const { mesh, warnings } = readMesh(file, await bytesOf(file));
  if (!json) for (const w of warnings) write(`  ${path.basename(file)}: ${w}\n`);
  return mesh;
}

async function bytesOf(file: string): Promise<Uint8Array> {
  try {
    return new Uint8Array(await readFile(file));
  } catch {
    throw new UsageError(`The file "${file}" cannot be read.`);
  }
}

async function loadProject(file: string): Promise<{ project: Project; meshes: Map<string, PolyMesh> }> {
  const bytes = await bytesOf(file);
  if (isZip(bytes)) {
    const { document, meshes } = readProjectFile(bytes);
    return { project: readProject(document), meshes };
  }
  let document: unknown;
  try {
    document = JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    throw new UsageError(`"${file}" is neither a project file nor a project document.`);
  }
  return { project: readProject(document), meshes: new Map() };
}

/** Writes by the name's ending: OBJ and STL in mm with z up, GLB in metres with y up. */
async function save(
  file: string,
  parts: { name: string; mesh: PolyMesh }[],
  looks: readonly SlotLook[] = [],
): Promise<void> {
  const ending = path.extname(file).slice(1).toLowerCase();
  if (ending !== 'obj' && ending !== 'stl' && ending !== 'glb')
    throw new UsageError(`"${file}" must end in .obj, .stl or .glb.`);
  await writeFile(file, await exportParts(parts, exportDefaults(ending satisfies ExportFormat), looks));
}

if (process.argv[1] && import.meta.url.endsWith(path.basename(process.argv[1]))) {
  process.exitCode = await mason(
    process.argv.slice(2),
    (t) => void process.stdout.write(t),
    (t) => void process.stderr.write(`mason: ${t}\n`),
  );
}
