// npm test: installs what is missing, Chromium included, then lint, types, unit tests and browser tests. The last line
// counts them all.
import { existsSync } from 'node:fs';
import { build, checkNode, install, listen, run } from './run.mjs';

const counts = { passed: 0, failed: 0 };

async function step(title, command, args, count, env = {}) {
  console.log(`\n== ${title}`);
  const t0 = performance.now();
  const { code, text } = await listen(command, args, {
    env: { ...process.env, NO_COLOR: '1', FORCE_COLOR: '', ...env },
  });
  const { passed, failed } = count(text, code);
  counts.passed += passed;
  // A suite that ends badly without a failed test, such as one that does not start, has failed as one.
  counts.failed += code !== 0 ? Math.max(1, failed) : failed;
  console.log(`-- ${title}: ${code === 0 ? 'passed' : 'FAILED'} in ${((performance.now() - t0) / 1000).toFixed(1)} s`);
}

const whole = (_text, code) => ({ passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 });
const sum = (text, pattern) => [...text.matchAll(pattern)].reduce((n, m) => n + Number(m[1]), 0);

/** Chromium's place: CHROMIUM_PATH, one that is installed, or one that is installed now from Debian's packages. */
function chromium() {
  const asked = process.env.CHROMIUM_PATH;
  if (asked) return existsSync(asked) ? asked : null;
  const places = ['/usr/bin/chromium', '/usr/bin/chromium-browser'];
  const there = () => places.find((p) => existsSync(p)) ?? null;
  if (there()) return there();
  if (!existsSync('/usr/bin/apt-get')) return null;
  console.log('Installing Chromium …');
  const apt = (args) => {
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    return process.getuid?.() === 0
      ? run('apt-get', args, { env, stdio: ['ignore', 'ignore', 'inherit'] })
      : run('sudo', ['-n', 'apt-get', ...args], { env, stdio: ['ignore', 'ignore', 'inherit'] });
  };
  if (apt(['update']) === 0) apt(['install', '-y', '--no-install-recommends', 'chromium']);
  return there();
}

checkNode();
install();
// Each of these keeps one processor busy: two at a time.
await Promise.all([
  step('Lint', 'npx', ['eslint', '.'], whole),
  step('Format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.'], whole),
]);
await Promise.all([
  step('Types', 'npx', ['tsc', '-p', 'tsconfig.json'], whole),
  step('Types of the core alone', 'npx', ['tsc', '-p', 'core/tsconfig.build.json', '--noEmit'], whole),
  step('Types of the page', 'npx', ['vue-tsc', '-p', 'web/tsconfig.json'], whole),
]);
await step('Unit tests', 'npx', ['vitest', 'run'], (text) => {
  const line = /^\s*Tests\s+(.*)$/m.exec(text)?.[1] ?? '';
  return { passed: sum(line, /(\d+) passed/g), failed: sum(line, /(\d+) failed/g) };
});
const browser = chromium();
if (browser) {
  build();
  await step(
    'Browser tests',
    'npx',
    ['playwright', 'test', '-c', 'e2e/playwright.config.ts'],
    (text) => ({
      passed: sum(text, /^\s*(\d+) passed/gm),
      failed: sum(text, /^\s*(\d+) (?:failed|did not run|interrupted)/gm),
    }),
    { CHROMIUM_PATH: browser },
  );
} else {
  console.error(
    '\nChromium is missing and could not be installed. Install it as root (apt-get install chromium), or name one: CHROMIUM_PATH=/path/to/chromium npm test',
  );
  counts.failed++;
}
process.exitCode = counts.failed ? 1 : 0;
console.log(`\n${counts.passed} passed, ${counts.failed} failed`);
