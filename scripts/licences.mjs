// npm run licences: lists the licences of every package that is installed, shipped ones and tools apart, in
// docs/third-party-licences.md.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from './run.mjs';

const lock = JSON.parse(readFileSync(path.join(ROOT, 'package-lock.json'), 'utf8'));
const rows = { shipped: [], tools: [] };
for (const [place, entry] of Object.entries(lock.packages)) {
  if (!place.includes('node_modules/') || entry.link) continue;
  const file = path.join(ROOT, place, 'package.json');
  // Packages for other systems are in the lock file and not on this machine.
  if (!existsSync(file)) continue;
  const { name, version, license, licenses } = JSON.parse(readFileSync(file, 'utf8'));
  const words = license?.type ?? license ?? licenses?.map((l) => l.type).join(' or ') ?? 'not stated';
  rows[entry.dev ? 'tools' : 'shipped'].push(`| ${name} | ${version} | ${words} |`);
}
const table = (list) => ['| package | version | licence |', '|---|---|---|', ...[...new Set(list)].sort()].join('\n');
const text = `# Licences of third parties

Made by \`npm run licences\` from the packages of the lock file.

## Used by the application

${table(rows.shipped)}

## Used to build and to test it

${table(rows.tools)}
`;
writeFileSync(path.join(ROOT, 'docs/third-party-licences.md'), text);
console.log(`${rows.shipped.length} packages used by the application, ${rows.tools.length} tools.`);
