export * from './parse.ts';
export * from './units.ts';
