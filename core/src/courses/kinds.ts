import type { z } from 'zod';
import { withSlot, withSource, type OpContext, type PolyMesh } from '../mesh/index.ts';
import type { LengthUnit } from '../units/index.ts';
import { runCut, sayCut, type CourseEnv, type CutReport } from './cut.ts';
import { CutParams, ShapeParams } from './document.ts';
import type { MendReport } from './mendKinds.ts';
import { MEND_KINDS } from './mendList.ts';
import { placedMesh, shapeWords } from './placed.ts';

export type CourseReport = CutReport & MendReport;

/** A course kind, declared once: form, file, check, undo and headless run follow from this. */
export interface CourseKind<P> {
  kind: string;
  title: string;
  schema: z.ZodType<P>;
  /** Makes the result from the mesh below (null for a base). Throws `MasonError`. */
  run(
    ctx: OpContext | undefined,
    input: PolyMesh | null,
    params: P,
    env: CourseEnv,
  ): { mesh: PolyMesh; report: CourseReport };
  /** What it does, in words, for the wall. */
  says(params: P, unit: LengthUnit, report?: CourseReport): string;
}

const base: CourseKind<z.infer<typeof ShapeParams>> = {
  kind: 'shape',
  title: 'Base shape',
  schema: ShapeParams,
  run(_ctx, _input, { shape, placement, slot }, env) {
    const tag = (m: PolyMesh) =>
      withSource(shape.kind === 'mesh' && m.layers.slot ? m : withSlot(m, slot || 'Body'), env.course, env.course);
    return { mesh: placedMesh(shape, placement, env.store, tag), report: {} };
  },
  says: ({ shape }, unit) => shapeWords(shape, unit, ', '),
};

const cut: CourseKind<z.infer<typeof CutParams>> = {
  kind: 'cut',
  title: 'Cut',
  schema: CutParams,
  run: (ctx, input, params, env) => runCut(input!, params, env, ctx),
  says: sayCut,
};

export const COURSE_KINDS = { shape: base, cut, ...MEND_KINDS } as const;
