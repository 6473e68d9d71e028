export { bevel, holdEdges, type BevelReport } from './bevel/bevel.ts';
export type { BevelShape, BevelWish } from './bevel/bevelling.ts';
export { bevelHeadroom, inWords, type ChainHeadroom } from './bevel/headroom.ts';
export { BEVEL_MEASURES, type BevelMeasure } from './bevel/widths.ts';
export * from './catmullClark.ts';
export * from './hardEdges.ts';
export * from './relight.ts';
export * from './sharpEdges.ts';
export * from './thicken.ts';
