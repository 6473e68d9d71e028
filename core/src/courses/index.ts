export * from './cut.ts';
export * from './document.ts';
export * from './edit.ts';
export * from './evaluate.ts';
export * from './fields.ts';
export * from './kinds.ts';
export * from './placed.ts';
export * from './shapeSpec.ts';
