import { MasonError } from './errors.ts';
import type { PolyMesh } from './polymesh.ts';

/**
 * What an operation gives. All of them have one shape, `op(mesh, options, ctx?)`: pure, the mesh that goes in is never
 * changed, and what it acts on (edges, faces, vertices) is among its options.
 */
export interface OpResult<Report> {
  mesh: PolyMesh;
  /** What was done, and what was left. */
  report: Report;
}

/** What a long operation may tell and ask while it runs. */
export interface OpContext {
  /** Told now and then: how far (0 … 1) and in which stage. */
  progress?: (fraction: number, stage: string) => void;
  /** Looked at now and then: an `AbortSignal`, or anything with the same flag. */
  signal?: { readonly aborted: boolean };
}

/** A part of a long job, which tells its own shares from 0 to 1: of the whole these lie between two others. */
export function partOf(ctx: OpContext | undefined, from: number, to: number): OpContext {
  return { signal: ctx?.signal, progress: (share, stage) => ctx?.progress?.(from + (to - from) * share, stage) };
}

/** As a context whose progress never falls, for work that may be begun again. */
export function risingOnly(ctx: OpContext | undefined): OpContext {
  let reached = 0;
  return {
    signal: ctx?.signal,
    progress: (share, stage) => ctx?.progress?.((reached = Math.max(reached, share)), stage),
  };
}

/** Throws the error of a cancelled operation when its signal says so. */
export function checkCancelled(ctx: OpContext | undefined): void {
  if (ctx?.signal?.aborted) throw new MasonError('cancelled', 'Cancelled; the part is as it was before.');
}
