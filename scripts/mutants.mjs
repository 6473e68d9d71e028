// npm run mutants -- FOLDER [FILES…] [--told]: how many small wrong changes in a folder of the core its own tests see. FILES are names within it; --told lists
// those that no test saw.
import { checkNode, install, run } from './run.mjs';

checkNode();
install();
const words = process.argv.slice(2);
const told = words.includes('--told');
const [folder = 'core/src/formats', ...files] = words.filter((w) => !w.startsWith('--'));
const mutate = files.length ? ['--mutate', files.map((f) => `${folder}/${f}`).join(',')] : [];
process.exitCode = run('npx', ['stryker', 'run', ...mutate], {
  env: { ...process.env, MUTANTS_FOLDER: folder, MUTANTS_TOLD: told ? 'yes' : 'no' },
});
