export * from './primitives.ts';
export * from './outlines.ts';
export * from './random.ts';
export * from './arcs.ts';
export * from './sketch.ts';
export * from './turned.ts';
export * from './rounded.ts';
