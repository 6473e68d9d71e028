export * from './fillOpenings.ts';
