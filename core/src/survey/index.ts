export * from './counts.ts';
export * from './findings.ts';
export { SLIVER_ANGLE } from './faceRules.ts';
export * from './rules.ts';
export * from './shown.ts';
export * from './looks.ts';
export * from './drift.ts';
export * from './gauge.ts';
export * from './departure.ts';
