import type { Server } from 'node:http';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { SaidError, sentenceOf } from '@dusky-mason/core/mesh';
import { createApp } from './app.ts';

const ROOT = path.join(path.dirname(fileURLToPath(import.meta.url)), '../../web/dist');
/** Ports that are tried from the first one on. */
const TRIES = 20;

/** Listens on the first free port from `port` on; with `exact`, on that port or not at all. */
function listen(port: number, exact: boolean, tries = TRIES): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = createApp(ROOT).listen(port, '127.0.0.1');
    server.once('listening', () => resolve(server));
    server.once('error', (e: NodeJS.ErrnoException) => {
      if (e.code === 'EACCES')
        reject(new SaidError(`Port ${port} may not be used here. Choose one above 1023: PORT=8080 npm start`));
      else if (e.code !== 'EADDRINUSE') reject(new SaidError('The server could not listen on this machine.'));
      else if (exact) reject(new SaidError(`Port ${port} is taken. Choose another one: PORT=8080 npm start`));
      else if (tries <= 1)
        reject(new SaidError(`Ports ${port - TRIES + 1} to ${port} are all taken. Choose one: PORT=8080 npm start`));
      else resolve(listen(port + 1, false, tries - 1));
    });
  });
}

// An empty setting counts as missing.
const asked = process.env.PORT?.trim() || undefined;
const port = Number(asked ?? 4600);
try {
  if (!(Number.isInteger(port) && port >= 0 && port < 65536))
    throw new SaidError(`PORT must be a number from 0 to 65535; it is "${asked}".`);
  const server = await listen(port, asked !== undefined);
  const address = server.address();
  console.log(
    `Dusky Mason is open at http://localhost:${typeof address === 'object' && address ? address.port : port}/`,
  );
} catch (e) {
  console.error(sentenceOf(e));
  process.exitCode = 1;
}
