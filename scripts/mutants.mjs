// npm run mutants -- FOLDER [FILES…] [--sample N] [--told]: how many small wrong changes in a folder of the core its
// own tests see, folders within it apart. FILES are names in it; --sample takes every Nth stretch of lines; --told
// lists those that no test saw.
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { checkNode, install, ROOT, run } from './run.mjs';

/**
 * Lines in a stretch: very few, so that a sample comes from many places. Changes that take more lines, as whole blocks
 * left out, are seldom those that no test sees.
 */
const STRETCH = 2;

checkNode();
install();
const { values, positionals } = parseArgs({
  options: { sample: { type: 'string', default: '1' }, told: { type: 'boolean', default: false } },
  allowPositionals: true,
});
const [folder = 'core/src/formats', ...named] = positionals;
const isCode = (name) => name.endsWith('.ts') && !/(\.test|Trials)\.ts$|^(index\.ts$|test)/.test(name);
const files = named.length ? named : readdirSync(path.join(ROOT, folder)).filter(isCode).sort();
const every = Number(values.sample);

// Stretches are counted over all files, so that small ones take their part.
let stretch = 0;
const ranges = files.flatMap((file) => {
  const lines = readFileSync(path.join(ROOT, folder, file), 'utf8').split('\n').length;
  const starts = Array.from({ length: Math.ceil(lines / STRETCH) }, (_, i) => 1 + i * STRETCH);
  return starts
    .filter(() => stretch++ % every === 0)
    .map((from) => `${folder}/${file}:${from}-${Math.min(lines, from + STRETCH - 1)}`);
});
const mutate = every > 1 ? ranges : files.map((file) => `${folder}/${file}`);
process.exitCode = run('npx', ['stryker', 'run', '--mutate', mutate.join(',')], {
  env: { ...process.env, MUTANTS_FOLDER: folder, MUTANTS_TOLD: values.told ? 'yes' : 'no' },
});
