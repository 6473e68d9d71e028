// npm run build: the page and its server, where they are stale.
import { build, checkNode, install } from './run.mjs';

checkNode();
install();
build();
