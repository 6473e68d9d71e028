export { LADDER, type KernelReport } from './guard.ts';
export { carveInReach } from './local.ts';
export { CarveMemory } from './memory.ts';
export { type AssembleOptions } from './assemble.ts';
export { OPERATIONS, type CarveOperation, type Selection } from './selection.ts';
export { uncross } from './uncross.ts';
export { uniteNear } from './unite.ts';
