import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';

export const ROOT = path.join(import.meta.dirname, '..');

/** Runs a command with its output on this terminal; gives its exit code. */
export function run(command, args, options = {}) {
  const r = spawnSync(command, args, { cwd: ROOT, stdio: 'inherit', ...options });
  if (r.error) console.error(`${command} could not be started: ${r.error.message}`);
  return r.status ?? 1;
}

/** Runs a command and passes its output on; gives its exit code and everything that it printed. */
export function listen(command, args, options = {}) {
  return new Promise((resolve) => {
    let text = '';
    const child = spawn(command, args, { cwd: ROOT, stdio: ['ignore', 'pipe', 'pipe'], ...options });
    for (const stream of ['stdout', 'stderr'])
      child[stream].on('data', (data) => {
        text += data;
        process[stream].write(data);
      });
    child.on('error', (e) => resolve({ code: 1, text: `${text}${e.message}` }));
    child.on('close', (code) => resolve({ code: code ?? 1, text }));
  });
}

const STAMP = path.join(ROOT, 'node_modules/.installed-lock');

/** Installs the packages of the lock file if they are not all there. Exits when that fails. */
export function install() {
  const lock = readFileSync(path.join(ROOT, 'package-lock.json'), 'utf8');
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === lock) return;
  console.log('Installing packages …');
  if (run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'])) {
    console.error('The packages could not be installed. Check that the npm registry can be reached, then try again.');
    process.exit(1);
  }
  writeFileSync(STAMP, lock);
}

/** Ends with a sentence if Node is too old. */
export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major > 20 || (major === 20 && minor >= 19)) return;
  console.error(`Node ${process.versions.node} is too old; 20.19 or newer is needed.`);
  process.exit(1);
}

/** The newest change below some places, ms. */
export function newest(places) {
  const r = spawnSync(
    'find',
    [...places, '-type', 'f', '-not', '-path', '*/node_modules/*', '-not', '-path', '*/dist/*', '-printf', '%T@\n'],
    {
      cwd: ROOT,
      encoding: 'utf8',
      maxBuffer: 2 ** 26,
    },
  );
  return Math.max(0, ...r.stdout.split('\n').map((t) => Number(t) * 1000));
}

/**
 * Builds a workspace if what came of it is older than its sources. Exits when that fails. What it says goes to stderr:
 * stdout may be data.
 */
function buildOf(workspace, made) {
  const file = path.join(ROOT, workspace, 'dist', made);
  if (existsSync(file) && statSync(file).mtimeMs > newest(['core/src', workspace, 'package-lock.json'])) return;
  console.error(`Building ${workspace} …`);
  if (run('npx', ['vite', 'build', workspace, '--logLevel', 'warn'], { stdio: ['ignore', 2, 2] })) process.exit(1);
}

/** Builds the server and the command where they are stale. */
export const buildServer = () => buildOf('server', 'main.js');

/** Builds the page and its server where they are stale. */
export function build() {
  buildOf('web', 'index.html');
  buildServer();
}
