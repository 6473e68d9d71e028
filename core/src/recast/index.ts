export * from './cellLimits.ts';
export { recast, type RecastOptions, type RecastReport } from './recast.ts';
