import { drawnByCard } from './drawnByCard.ts';

// A browser without contexts in workers leaves the question to the page.
postMessage('OffscreenCanvas' in self ? drawnByCard(new OffscreenCanvas(1, 1)) : undefined);
