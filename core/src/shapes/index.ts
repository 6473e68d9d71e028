export * from './bodies.ts';
export * from './outlines.ts';
export * from './random.ts';
