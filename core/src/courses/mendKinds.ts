import type { z } from 'zod';
import { MasonError, type OpContext, type PolyMesh } from '../mesh/index.ts';
import { orient } from '../mend/index.ts';
import type { CourseEnv } from './cut.ts';
import type { CourseKind } from './kinds.ts';
import { MEND_PARAMS, type MendKindName } from './mends.ts';
import { countWords, pickWords, resolvePick, type Pick } from './picks.ts';

/** What a mend reports: what became of its picks, and what it did, in numbers. */
export interface MendReport {
  /** Elements that were found, of how many. */
  found?: number;
  of?: number;
  /** Where those are that were not found, mm. */
  lost?: [number, number, number][];
  /** What it did, in numbers, by name. */
  did?: Record<string, number>;
}

type ParamsOf<K extends MendKindName> = z.infer<(typeof MEND_PARAMS)[K]>;

interface Mend<K extends MendKindName> {
  title: string;
  op(
    m: PolyMesh,
    ids: Int32Array,
    params: ParamsOf<K>,
    env: CourseEnv,
    ctx: OpContext | undefined,
  ): { mesh: PolyMesh; did: Record<string, number> };
  says(params: ParamsOf<K>, did: Record<string, number> | undefined): string;
}

function mend<K extends MendKindName>(kind: K, m: Mend<K>): CourseKind<ParamsOf<K>> {
  return {
    kind,
    title: m.title,
    schema: MEND_PARAMS[kind] as unknown as z.ZodType<ParamsOf<K>>,
    run(ctx, input, params, env) {
      const { pick } = params as { pick: Pick };
      const { ids, lost, of } = resolvePick(input!, pick, env.bodies);
      if (!ids.length) throw new MasonError('bad-input', nothing(pick));
      const { mesh, did } = m.op(input!, ids, params, env, ctx);
      const at = pick.by === 'elements' ? lost.map((i) => pick.elements[i]!.at) : [];
      return { mesh, report: { found: ids.length, of, lost: at, did } };
    },
    says: (params, _unit, report) => `${m.says(params, report?.did)}${told(report)}`,
  };
}

const nothing = (pick: Pick): string =>
  pick.by === 'elements'
    ? `None of the picked ${countWords(pick.on, pick.elements.length)} is there any more: what lies below has changed. Pick anew on its card.`
    : `There is nothing to work on: ${pickWords(pick)} come to nothing here.`;

/** What was lost of a pick, in words. */
const told = (r: MendReport | undefined): string => (r?.lost?.length ? `; ${r.found} of ${r.of} picks found` : '');

/** Mends, each declared once. */
export const MEND_KINDS = {
  orient: mend('orient', {
    title: 'Turn faces',
    op(m, ids, { way }) {
      const picked = new Set(ids);
      const { mesh, turned, torn } = orient(m, way, (f) => picked.has(f));
      return { mesh, did: { turned, torn } };
    },
    says: (_, did) => (did ? `turns ${countWords('face', did.turned!)} over` : 'turns faces over'),
  }),
} as const;
