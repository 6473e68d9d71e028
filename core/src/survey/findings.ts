import { faceBegin, faceEnd, type OpContext, type PolyMesh } from '../mesh/index.ts';
import { Looked, type Places } from './look.ts';
import { RULE_NAMES, ruleOf, type RuleName, type Severity } from './rules.ts';

/**
 * One thing that the survey reports. The names of its fields are those of `mason survey --rules --json` and stay as
 * they are.
 */
export interface Finding {
  rule: RuleName;
  severity: Severity;
  count: number;
  /** The worst value, in the rule's unit; null where nothing is measured. */
  worst: number | null;
  on: Places['on'];
  /** Vertices, corners that leave along edges, or faces; the worst first where there is one. */
  ids: Int32Array;
  /** The value of each; empty where nothing is measured. */
  values: Float64Array;
}

/**
 * Surveys a mesh by all rules, or by the named ones; rules without findings are left out. Rules that take longer than a
 * pass over the topology run only when named or with `deep`; some search further with it.
 */
export function findings(
  m: PolyMesh,
  { rules, deep = false }: { rules?: readonly RuleName[]; deep?: boolean } = {},
  ctx?: OpContext,
): Finding[] {
  const looked = new Looked(m, ctx, deep);
  const wanted = rules ?? RULE_NAMES.filter((name) => deep || !ruleOf(name).deep);
  return wanted.flatMap((name) => {
    const rule = ruleOf(name);
    const places = rule.find(looked);
    return places.ids.length ? [findingOf(name, places)] : [];
  });
}

function findingOf(name: RuleName, places: Places): Finding {
  const { severity, worst } = ruleOf(name);
  // Only a list that is sorted needs a copy.
  const [ids, values] = worst ? [places.ids.slice(), places.values.slice()] : [places.ids, places.values];
  if (worst) worstFirst(ids, values, worst.is === 'least' ? 1 : -1);
  return { rule: name, severity, count: ids.length, worst: worst ? values[0]! : null, on: places.on, ids, values };
}

/**
 * Sorts places, the worst first; of very many only the worst moves to the front, as nobody steps through all of them.
 */
function worstFirst(ids: Int32Array, values: Float64Array, sign: 1 | -1): void {
  if (ids.length > MOST_SORTED) {
    let at = 0;
    for (let i = 1; i < values.length; i++) if (sign * (values[i]! - values[at]!) < 0) at = i;
    for (const list of [ids, values]) [list[0], list[at]] = [list[at]!, list[0]!];
    return;
  }
  const order = [...ids.keys()].sort((i, j) => sign * (values[i]! - values[j]!));
  const [was, had] = [ids.slice(), values.slice()];
  order.forEach((from, to) => {
    ids[to] = was[from]!;
    values[to] = had[from]!;
  });
}

/** More places than this are not put in order. */
const MOST_SORTED = 20_000;

/** Where a place of a finding is: the middle of its vertex, edge or face, and how far that reaches, mm. */
export function placeOf(
  m: PolyMesh,
  on: Finding['on'],
  id: number,
): { point: [number, number, number]; reach: number } {
  const vertices = verticesOf(m, on, id);
  const P = m.positions;
  const point = [0, 1, 2].map((k) => vertices.reduce((s, v) => s + P[3 * v + k]!, 0) / vertices.length) as [
    number,
    number,
    number,
  ];
  const reach = vertices.reduce(
    (r, v) => Math.max(r, Math.hypot(P[3 * v]! - point[0], P[3 * v + 1]! - point[1], P[3 * v + 2]! - point[2])),
    0,
  );
  return { point, reach };
}

/** The vertices of a place: one, the two of an edge, or those of a face. */
export function verticesOf(m: PolyMesh, on: Finding['on'], id: number): number[] {
  if (on === 'vertex') return [id];
  if (on === 'face') return [...m.corners.subarray(faceBegin(m, id), faceEnd(m, id))];
  // The edge's other end is the next corner of its boundary.
  let low = 0;
  let high = m.loopStart.length - 1;
  while (high - low > 1) {
    const mid = (low + high) >> 1;
    if (m.loopStart[mid]! <= id) low = mid;
    else high = mid;
  }
  const next = id + 1 < m.loopStart[low + 1]! ? id + 1 : m.loopStart[low]!;
  return [m.corners[id]!, m.corners[next]!];
}

/**
 * Findings as a table: one line a finding, with the place of the worst, as CSV (RFC 4180), or parted by tabs, as a
 * spreadsheet takes what is pasted.
 */
export function findingsCsv(m: PolyMesh, list: readonly Finding[], separator: ',' | '\t' = ','): string {
  const head = ['rule', 'title', 'severity', 'count', 'worst', 'unit', 'spoils', 'x mm', 'y mm', 'z mm'];
  const rows = list.map((f) => {
    const rule = ruleOf(f.rule);
    const { point } = placeOf(m, f.on, f.ids[0]!);
    return [
      f.rule,
      rule.title,
      f.severity,
      f.count,
      f.worst ?? '',
      rule.worst?.unit ?? '',
      rule.spoils.join(' '),
      ...point,
    ];
  });
  const special = separator === ',' ? /[",\r\n]/ : /["\t\r\n]/;
  const cell = (x: string | number) => (special.test(String(x)) ? `"${String(x).replace(/"/g, '""')}"` : String(x));
  return [head, ...rows].map((r) => r.map(cell).join(separator)).join('\r\n') + '\r\n';
}

/** A finding as plain data, with the places of its first `most`: what `--json` writes. */
export function findingData(m: PolyMesh, f: Finding, most = 20): Record<string, unknown> {
  const places = [...f.ids.subarray(0, most)].map((id, i) => ({
    [f.on]: id,
    point: placeOf(m, f.on, id).point,
    ...(f.values.length && { value: f.values[i] }),
  }));
  const { title, worst, spoils } = ruleOf(f.rule);
  return {
    rule: f.rule,
    title,
    severity: f.severity,
    count: f.count,
    worst: f.worst,
    unit: worst?.unit ?? null,
    spoils,
    places,
  };
}
