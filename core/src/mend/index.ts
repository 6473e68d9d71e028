export * from './fillOpenings.ts';
export * from './orient.ts';
export * from './select.ts';
export * from './meshEdit.ts';
