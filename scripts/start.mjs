// npm start: installs what is missing, builds what is stale, serves the application and prints its address.
import { build, checkNode, install, run } from './run.mjs';

checkNode();
install();
build();
process.exitCode = run('node', ['server/dist/main.js']);
