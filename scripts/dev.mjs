// npm run dev: the page with hot reload.
import { checkNode, install, run } from './run.mjs';

checkNode();
install();
process.exitCode = run('npx', ['vite', 'web', '--port', process.env.PORT ?? '4600']);
