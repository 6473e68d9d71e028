export { carveBodies, LADDER, type KernelReport, type KernelResult } from './guard.ts';
export { type AssembleOptions } from './assemble.ts';
export { OPERATIONS, type CarveOperation, type Selection } from './select.ts';
export { uniteNear } from './unite.ts';
