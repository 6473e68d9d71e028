export * from './limits.ts';
export { recast, type RecastOptions, type RecastReport } from './recast.ts';
