import { faceCount, type OpContext, type PolyMesh } from '../mesh/index.ts';
import { findings, type Finding } from './findings.ts';
import { RULE_NAMES, ruleOf, type RuleName } from './rules.ts';

/** Of meshes with more faces the rules that take long are left out: nobody waits that long before a file is written. */
const MOST_DEEP = 300_000;
/** Warnings that a receiver stumbles over as it does over errors. */
const ALSO: readonly RuleName[] = ['slivers', 'doubledVertices'];

/** What is looked for before a part is sent. */
export const VERDICT_RULES: readonly RuleName[] = RULE_NAMES.filter(
  (name) => ruleOf(name).severity === 'error' || ALSO.includes(name),
);

/**
 * What a receiver of a mesh would stumble over: everything of severity error, crossings and shading normals that are
 * none among them, and slivers and doubled vertices; errors first. `whole` says whether all was looked at: of a very
 * large mesh crossings are not.
 */
export function verdict(m: PolyMesh, ctx?: OpContext): { findings: Finding[]; whole: boolean } {
  const whole = faceCount(m) <= MOST_DEEP;
  const rules = VERDICT_RULES.filter((name) => whole || !ruleOf(name).deep);
  const found = findings(m, { rules }, ctx);
  const rank = (f: Finding) => (f.severity === 'error' ? 0 : 1);
  return { findings: found.sort((a, b) => rank(a) - rank(b)), whole };
}
