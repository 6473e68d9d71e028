export * from './bodies.ts';
export * from './outlines.ts';
