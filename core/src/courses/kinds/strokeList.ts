import { MasonError } from '../../mesh/index.ts';
import { WHOLE_PART_KINDS } from './wholePart.ts';
import { TIE_KINDS } from './ties.ts';
import { strokeKind, type StrokeKind } from './strokeKinds.ts';
import { SPLITTING_KINDS } from './splitting.ts';
import { RAISING_KINDS } from './raising.ts';
import { JOINING_KINDS } from './joining.ts';
import { EDGE_KINDS } from './edges.ts';
import { FORM_KINDS } from './form.ts';
import { BY_THEMSELVES_KINDS } from './byThemselves.ts';
import type { StrokeName } from '../settings/strokes.ts';

const SINGLE = {
  ...EDGE_KINDS,
  ...FORM_KINDS,
  ...BY_THEMSELVES_KINDS,
  ...JOINING_KINDS,
  ...SPLITTING_KINDS,
  ...TIE_KINDS,
  ...RAISING_KINDS,
  ...WHOLE_PART_KINDS,
} as const;

/**
 * Strokes gathered to one course: each works on the result of the one before. One that cannot be done is reported, and
 * the others go on.
 */
const gathered = strokeKind('gathered', {
  trial: {
    settings: () => ({
      edits: [{ kind: 'split', name: 'Split', params: { by: 'parts', pick: { by: 'all', on: 'edge' } } }],
    }),
    opens: true,
  },
  op(m, _ids, { edits }, _on, env, ctx) {
    let mesh = m;
    const warnings: string[] = [];
    const lines: number[] = [];
    let done = 0;
    edits.forEach((edit, i) => {
      const own = Object.hasOwn(SINGLE, edit.kind) ? SINGLE[edit.kind as keyof typeof SINGLE] : undefined;
      const kind = own as unknown as StrokeKind<StrokeName> | undefined;
      const params = kind?.schema.safeParse(edit.params);
      const called = `${edit.name} (${i + 1} of ${edits.length})`;
      if (!kind || !params?.success) return void warnings.push(`${called} has settings that are not known here.`);
      try {
        const r = kind.run(ctx, mesh, params.data, env);
        mesh = r.mesh;
        done++;
        lines.push(...(r.report.lines ?? []));
        if (r.report.lost?.length) warnings.push(`${called}: ${r.report.found} of ${r.report.of} picks found.`);
        warnings.push(...(r.report.warnings ?? []).map((h) => `${called}: ${h}`));
      } catch (e) {
        if (!(e instanceof MasonError) || e.code === 'cancelled') throw e;
        warnings.push(`${called} was not done: ${e.message}`);
      }
    });
    return { mesh, counts: { done, edits: edits.length }, warnings, lines };
  },
});

/** What runs each stroke. */
export const STROKE_KINDS = { ...SINGLE, gathered } as const;
