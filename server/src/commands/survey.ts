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
import type { PolyMesh } from '@dusky-mason/core/mesh';
import { type Command, Ended, EXIT, tell } from '../command.ts';
import { UsageError } from '../flags.ts';
import { load } from '../meshFiles.ts';

export const survey: Command = {
  takes: 'FILE',
  words: [1, 1],
  says: 'Counts what a mesh has. With --rules it looks for what would spoil a bevel, a subdivision, the shading or an export, and writes one line a finding: severity, what, how many, the worst of them and where.',
  options: {
    rules: { takes: 'all|NAME,NAME…', says: 'Which rules; all takes in those that take longer, too.' },
    strict: {
      says: 'Ends with 4 when a finding of severity error stands: of the rules asked for, or else of all quick ones.',
    },
    json: {
      says: 'Writes one line of JSON; with --rules it has "findings": rule, title, severity, count, worst, unit, spoils, and the first 20 places.',
    },
  },
  more: `Rules:\n${RULE_NAMES.map((name) => `  ${name.padEnd(20)} ${ruleOf(name).severity.padEnd(8)} ${ruleOf(name).title}`).join('\n')}`,
  run: async (call) => {
    const { args, values, json, write } = call;
    const rules = rulesAsked(values.rules);
    const mesh = await load(args[0]!, write, json);
    const found = findings(mesh, rules === null ? { deep: true } : rules ? { rules } : {});
    if (rules === undefined) tell(surveyCounts(mesh), call);
    else if (json) tell({ ...surveyCounts(mesh), findings: found.map((f) => findingData(mesh, f)) }, call);
    else write(found.length ? found.map((f) => `${line(mesh, f)}\n`).join('') : 'nothing found\n');
    if (call.on('strict') && found.some((f) => f.severity === 'error')) throw new Ended(EXIT.found);
  },
};

/** The rules that a list of names asks for; undefined for none, null for all. Throws `UsageError`. */
function rulesAsked(text: string | undefined): readonly RuleName[] | null | undefined {
  if (text === undefined) return undefined;
  if (text === 'all') return null;
  return text.split(',').map((word) => {
    const name = RULE_NAMES.find((r) => r === word.trim());
    if (!name) throw new UsageError(`There is no rule "${word.trim()}"; see mason help survey.`);
    return name;
  });
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
