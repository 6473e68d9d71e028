import { faceCount, type OpContext, type PolyMesh } from '../mesh/index.ts';
import { findings, type Finding } from './findings.ts';
import { RULE_NAMES, ruleOf, type RuleName } from './rules.ts';

/** Above this many faces slow rules are skipped: they would delay writing a file too long. */
const MOST_DEEP = 300_000;
/** Warnings that trouble a receiver as much as errors. */
const ALSO: readonly RuleName[] = ['slivers', 'doubledVertices'];

/** Rules that run before a part is sent. */
export const VERDICT_RULES: readonly RuleName[] = RULE_NAMES.filter(
  (name) => ruleOf(name).severity === 'error' || ALSO.includes(name),
);

/**
 * What would trouble a receiver of a mesh: all findings of severity error, with crossings and invalid shading normals,
 * and slivers and doubled vertices; errors first. `whole` says whether all rules ran: crossings are skipped for a very
 * large mesh.
 */
export function verdict(m: PolyMesh, ctx?: OpContext): { findings: Finding[]; whole: boolean } {
  const whole = faceCount(m) <= MOST_DEEP;
  const rules = VERDICT_RULES.filter((name) => whole || !ruleOf(name).deep);
  const found = findings(m, { rules }, ctx);
  const rank = (f: Finding) => (f.severity === 'error' ? 0 : 1);
  return { findings: found.sort((a, b) => rank(a) - rank(b)), whole };
}
