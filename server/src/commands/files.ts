import path from 'node:path';
import { Evaluator, type PartResult } from '@dusky-mason/core/courses';
import { SAMPLES, salvagedCasting, skerryLight } from '@dusky-mason/core/demo';
import { writeProjectFile } from '@dusky-mason/core/formats';
import { MasonError } from '@dusky-mason/core/mesh';
import { surveyCounts } from '@dusky-mason/core/survey';
import { type Call, type Command, JSON_OPTION, OUT_OPTION, tell } from '../command.ts';
import { UsageError } from '../flags.ts';
import { checkEnding, load, loadProject, save, written } from '../meshFiles.ts';

/** What `sample` writes: parts of the sample scene, all of it, or the damaged casting. */
const SAMPLE_NAMES = [...Object.keys(SAMPLES), 'salvaged-casting', 'skerry-light'];

export const convert: Command = {
  takes: 'IN OUT',
  words: [2, 2],
  says: 'Writes a mesh in the format that the second name ends in.',
  options: JSON_OPTION,
  run: async ({ args: [from, to], json, write }) => {
    checkEnding(to);
    await save(to!, [{ name: path.parse(from!).name, mesh: await load(from!, write, json) }]);
  },
};

export const sample: Command = {
  takes: 'NAME',
  words: [1, 1],
  says: `Writes a part of the sample, or all of it as a project file: ${SAMPLE_NAMES.join(', ')}.`,
  options: { out: { takes: 'FILE', says: 'The file to write.', needed: true } },
  run: async ({ args: [name], values: { out = '' } }) => {
    const project = skerryLight();
    if (name === 'skerry-light') return written(out, writeProjectFile({ document: project, meshes: new Map() }));
    if (!SAMPLE_NAMES.includes(name!))
      throw new UsageError(`There is no sample "${name}"; known are ${SAMPLE_NAMES.join(', ')}.`);
    checkEnding(out);
    if (name === 'salvaged-casting') return save(out, [{ name: 'Salvaged casting', mesh: salvagedCasting() }]);
    const part = project.parts[SAMPLES[name!]!]!;
    await save(out, [{ name: part.name, mesh: new Evaluator().evaluate(part, () => undefined).mesh }]);
  },
};

export const runProject: Command = {
  takes: 'PROJECT',
  words: [1, 1],
  says: 'Lays all courses of the parts of a project file, or of a bare project document, and says what came of each.',
  options: {
    part: { takes: 'NAME', says: 'Only the part of this name.' },
    ...OUT_OPTION,
    ...JSON_OPTION,
  },
  run: async (call) => {
    const { out, part: only } = call.values;
    checkEnding(out);
    const { project, meshes } = await loadProject(call.args[0]!);
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
    const made = results.map(({ name, result }) => ({ name, mesh: result.mesh }));
    if (out) await save(out, made, project.materials);
    tellParts(project.name, results, call);
    failIfFailed(results.map((r) => r.result));
  },
};

type Made = { name: string; courses: readonly { name: string }[]; result: PartResult };

function tellParts(project: string, results: readonly Made[], { json, write }: Call): void {
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
  if (json) return write(`${JSON.stringify({ project, parts: rows })}\n`);
  for (const row of rows) {
    write(`${row.part}\n`);
    for (const c of row.courses) write(`  ${c.state} ${c.name}${c.error ? `: ${c.error}` : ''}\n`);
    tell(row.survey, { json, write });
  }
}

/** A part with a failed course makes the command fail, though the rest was printed and written. */
function failIfFailed(results: PartResult[]): void {
  const failed = results.flatMap((r) => r.courses.filter((c) => c.error));
  if (failed.length)
    throw new MasonError('not-done', `${failed.length} courses failed; the first says: ${failed[0]!.error!.message}`);
}
