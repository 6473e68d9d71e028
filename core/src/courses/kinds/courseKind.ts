import type { z } from 'zod';
import type { KerfReport } from '../../carve/index.ts';
import type { OpContext, PolyMesh, RingReport, OpResult } from '../../mesh/index.ts';
import type { ElementKind, TidyReport } from '../../mend/index.ts';
import type { Drift } from '../../survey/index.ts';
import type { LengthUnit } from '../../units/index.ts';
import type { CourseEnv } from './env.ts';
import type { Grip } from './grips.ts';

/** Report of a cut: of carving, and of the rings of quads and ties round its holes. */
export type CutReport = Partial<KerfReport> & { rings?: RingReport; tidied?: TidyReport; warnings?: string[] };

/** Report of a stroke: what became of its picks, what it did, in numbers, and the drift. */
export interface StrokeReport {
  /** How many elements were found, and how many were picked. */
  found?: number;
  of?: number;
  /** Where those are that were not found, mm. */
  lost?: [number, number, number][];
  /** What it did, in numbers, by name. */
  counts?: Record<string, number>;
  /** Warnings, in sentences: what got worse or was left undone. */
  warnings?: string[];
  /** From where to where vertices went, mm: pairs of points. */
  lines?: number[];
  /** Of what can be dragged: where its middle was and how large it is, mm. */
  box?: { middle: [number, number, number]; size: [number, number, number] };
  /** Where its settings can be taken hold of in the view. */
  grips?: Grip[];
  /** What of the result one goes on with: of an inset the inner faces. Edges by their first corners. */
  made?: { on: ElementKind; ids: number[] };
  /** Where each warning is, mm, by the name of its count. */
  places?: Record<string, [number, number, number][]>;
  /** Gaps between open edges, mm, from the least on: of a healing. */
  gaps?: number[];
  /** The greatest distance between the surface before and after; null where it was not measured. */
  surfaceDrift?: Drift | null;
}

export type CourseReport = CutReport & StrokeReport;

/** A course kind, declared once: form, file, check, undo and headless run follow from this. */
export interface CourseKind<P> {
  kind: string;
  title: string;
  schema: z.ZodType<P>;
  /** Makes the result from the mesh below (null for a base). Throws `MasonError`. */
  run(ctx: OpContext | undefined, input: PolyMesh | null, params: P, env: CourseEnv): OpResult<CourseReport>;
  /** What it does, in words, for the wall. */
  says(params: P, unit: LengthUnit, report?: CourseReport): string;
}
