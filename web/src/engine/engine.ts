import { EngineClient } from './client.ts';

const start = () => new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module', name: 'dusky-mason' });

let limit = 60_000;
/** Sets how long a worker may take over one request, ms. */
export const setTimeLimit = (ms: number): void => {
  limit = ms;
};

let main: EngineClient | null = null;
let side: EngineClient | null = null;

/** The worker that evaluates the part at hand. */
export const engine = (): EngineClient => (main ??= new EngineClient(start, () => limit));
/** The worker for exports, imports and other long side work. */
export const sideEngine = (): EngineClient => (side ??= new EngineClient(start, () => Math.max(limit, 300_000)));
