export * from './flushCases.ts';
export * from './frames.ts';
