export * from './limits.ts';
export { recast, type RecastReport } from './recast.ts';
