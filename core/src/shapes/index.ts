export * from './bodies.ts';
export * from './outlines.ts';
export * from './random.ts';
export * from './arcs.ts';
export * from './sketch.ts';
