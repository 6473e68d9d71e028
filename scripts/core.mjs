// npm run core: builds core/ as a package of plain JavaScript with its types, in core/dist, for use in other programs.
import { cpSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { checkNode, install, ROOT, run } from './run.mjs';

checkNode();
install();
const dist = path.join(ROOT, 'core/dist');
rmSync(dist, { recursive: true, force: true });
if (run('npx', ['tsc', '-p', 'core/tsconfig.build.json'])) process.exit(1);
const { name, version, license, type, sideEffects, dependencies } = JSON.parse(
  readFileSync(path.join(ROOT, 'core/package.json'), 'utf8'),
);
const exports = { './*': { types: './*/index.d.ts', default: './*/index.js' } };
const face = { name, version, license, type, sideEffects, exports, dependencies };
writeFileSync(path.join(dist, 'package.json'), `${JSON.stringify(face, null, 2)}\n`);
for (const file of ['core/README.md', 'LICENSE']) cpSync(path.join(ROOT, file), path.join(dist, path.basename(file)));
console.log('core/dist is a package: npm pack ./core/dist');
