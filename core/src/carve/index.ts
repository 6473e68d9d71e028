export * from './bodies.ts';
export * from './carve.ts';
export * from './cost.ts';
export * from './dryFit.ts';
export * from './gate.ts';
export * from './kerf.ts';
export { CarveMemory, OPERATIONS, uncross, type CarveOperation } from './kernel/index.ts';
export { hollowsOf } from './shells.ts';
