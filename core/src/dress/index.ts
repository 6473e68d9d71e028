export {
  bevel,
  bevelHeadroom,
  holdEdges,
  inWords,
  type BevelReport,
  type BevelShape,
  type BevelWish,
  type ChainHeadroom,
} from './bevel/bevel.ts';
export { BEVEL_MEASURES, type BevelMeasure } from './bevel/widths.ts';
export * from './catmullClark.ts';
export * from './hardEdges.ts';
export * from './relight.ts';
export * from './sharpEdges.ts';
export * from './thicken.ts';
