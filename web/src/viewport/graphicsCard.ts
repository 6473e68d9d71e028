import { drawnByCard } from './drawnByCard.ts';

let card: boolean | undefined;

/** Whether a graphics card draws. Asked here and now if `askForCard` has no answer yet. */
export const hasCard = (): boolean => (card ??= drawnByCard(document.createElement('canvas')) ?? true);

/**
 * Asks in a worker, ahead of the first view: the browser's first context takes long, and the page would wait for it.
 */
export function askForCard(): void {
  const worker = new Worker(new URL('./drawnByCard.worker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = ({ data }: MessageEvent<boolean | undefined>) => {
    card ??= data;
    worker.terminate();
  };
  worker.onerror = () => worker.terminate();
}
