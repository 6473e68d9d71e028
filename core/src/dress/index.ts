export { bevel, bevelHeadroom, inWords, type BevelReport, type BevelWish, type ChainHeadroom } from './bevel/bevel.ts';
export { BEVEL_MEASURES, type BevelMeasure } from './bevel/widths.ts';
export * from './catmullClark.ts';
export * from './sharpEdges.ts';
