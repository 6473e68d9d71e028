import type { z } from 'zod';
import { withSlot, withSource, type PolyMesh } from '../../mesh/index.ts';
import { placedMesh, shapeWords } from '../cutters/placed.ts';
import { CutParams, ShapeParams } from '../settings/cutSettings.ts';
import type { CourseKind } from './courseKind.ts';
import { runCut } from './cut.ts';
import { sayCut } from './cutSays.ts';
import { STROKE_KINDS } from './strokeList.ts';

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

export const COURSE_KINDS = { shape: base, cut, ...STROKE_KINDS } as const;
