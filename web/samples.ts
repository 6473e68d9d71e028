import type { Plugin } from 'vite';
import { salvagedCasting } from '../core/src/demo/casting.ts';
import { writeObj } from '../core/src/formats/obj.ts';

const PATH = 'samples/salvaged-casting.obj';
const text = (): string => writeObj([{ name: 'Salvaged casting', mesh: salvagedCasting() }]);

/**
 * The salvaged casting as a file beside the page, made from code: what damages it and what cuts it is not carried by
 * the page.
 */
export const samples = (): Plugin => ({
  name: 'samples',
  generateBundle() {
    this.emitFile({ type: 'asset', fileName: PATH, source: text() });
  },
  configureServer(server) {
    server.middlewares.use(`/${PATH}`, (_req, res) => void res.end(text()));
  },
});
