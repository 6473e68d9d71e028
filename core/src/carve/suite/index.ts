export * from './flushCases.ts';
export * from './frames.ts';
export * from './cutSet.ts';
export * from './marks.ts';
export { twistedBar } from './twistedBar.ts';
