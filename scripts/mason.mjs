// npm run mason -- …: the command, built where it is stale.
import { buildServer, checkNode, install, ROOT, run } from './run.mjs';
import path from 'node:path';

checkNode();
install();
buildServer();
// Files are named from where the command is called.
process.exitCode = run('node', [path.join(ROOT, 'server/dist/mason.js'), ...process.argv.slice(2)], {
  cwd: process.env.INIT_CWD ?? process.cwd(),
});
