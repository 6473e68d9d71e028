export * from './counts.ts';
