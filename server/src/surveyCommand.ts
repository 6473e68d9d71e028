import type { PolyMesh } from '@dusky-mason/core/mesh';
import { UsageError } from './flags.ts';
import {
  findingData,
  findings,
  placeOf,
  RULE_NAMES,
  ruleOf,
  surveyCounts,
  type Finding,
  type RuleName,
} from '@dusky-mason/core/survey';

/** Words of the `survey` command. */
export const HELP_SURVEY = `mason survey FILE [--rules all|NAME,NAME…] [--strict] [--json]

Without --rules it counts. With --rules it looks for what would spoil a bevel, a subdivision, the shading or an export, and tells
one line a finding: severity, what, how many, the worst of them and where. --rules all asks for every rule, those that take longer too.
--strict ends with 4 when a finding of severity error stands (of the rules asked for, or else of all that are quick).
--json with --rules adds "findings" to the counts: rule, title, severity, count, worst, unit, spoils, and the first 20 places.

${RULE_NAMES.map((name) => `  ${name.padEnd(20)} ${ruleOf(name).severity.padEnd(8)} ${ruleOf(name).title}`).join('\n')}
`;

/** The rules that a list of names asks for; undefined for none, null for all. Throws `UsageError`. */
export function rulesAsked(text: string | undefined): readonly RuleName[] | null | undefined {
  if (text === undefined) return undefined;
  if (text === 'all') return null;
  return text.split(',').map((word) => {
    const name = RULE_NAMES.find((r) => r === word.trim());
    if (!name) throw new UsageError(`There is no rule "${word.trim()}"; see mason help survey.`);
    return name;
  });
}

/** Surveys a mesh and writes what was asked for. Whether a finding of severity error stands. */
export function surveyMesh(
  mesh: PolyMesh,
  rules: readonly RuleName[] | null | undefined,
  json: boolean,
  tellCounts: (more: Record<string, unknown>) => void,
  write: (text: string) => void,
): boolean {
  const found = findings(mesh, rules === null ? { deep: true } : rules ? { rules } : {});
  if (json || rules === undefined)
    tellCounts(
      json && rules !== undefined
        ? { ...surveyCounts(mesh), findings: found.map((f) => findingData(mesh, f)) }
        : { ...surveyCounts(mesh) },
    );
  else for (const f of found) write(`${line(mesh, f)}\n`);
  if (!json && rules !== undefined && !found.length) write('nothing found\n');
  return found.some((f) => f.severity === 'error');
}

/** One finding in one line. */
function line(mesh: PolyMesh, f: Finding): string {
  const { title, worst } = ruleOf(f.rule);
  const at = placeOf(mesh, f.on, f.ids[0]!)
    .point.map((x) => +x.toFixed(4) + 0)
    .join(', ');
  const unit = worst && worst.unit !== 'count' ? ` ${worst.unit}` : '';
  const value = worst ? `, ${worst.title} ${+f.worst!.toPrecision(6)}${unit}` : '';
  return `${f.severity.padEnd(8)}${f.rule}: ${title.toLowerCase()}, ${f.count}${value}, at ${at}`;
}
