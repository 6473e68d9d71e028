import { insideRing, MasonError } from '../mesh/index.ts';
import { signedArea2, type Outline, type Point2 } from '../shapes/index.ts';

/** A file of more text than this is refused. */
const MOST_TEXT = 20_000_000;
/** Most outlines and points that are taken from one file. */
const MOST_RUNS = 2000;
const MOST_POINTS = 100_000;
/** Flats of a full turn of an arc, and pieces of a Bézier curve. */
const FLATS = 64;
const CURVE = 16;
/** Groups and the like may be nested so deep. */
const DEEPEST = 200;

/** a c e / b d f, as SVG writes them: x' = a x + c y + e, y' = b x + d y + f. */
type Matrix = readonly [number, number, number, number, number, number];
const IDENTITY: Matrix = [1, 0, 0, 1, 0, 0];

/**
 * The closed outlines of an SVG file, each with the holes that lie in it, in mm at one mm to a unit (y up, the middle of the drawing at the
 * origin). Reads path, rect, circle, ellipse, polygon and polyline with their transforms; all else (text, images, scripts, styles, links,
 * what is only defined) is passed over and never followed. Throws `bad-file` for what is no SVG, is damaged or too large.
 *
 * Source: W3C, "Scalable Vector Graphics (SVG) 2", 2018, chapters 8 to 10; arcs by its implementation notes, B.2.
 */
export function readSvg(text: string): { outlines: Outline[]; warnings: string[] } {
  if (text.length > MOST_TEXT) throw new MasonError('bad-file', 'The drawing is too large: over 20 MB of text.');
  if (!/<svg[\s/>]/i.test(text)) throw new MasonError('bad-file', 'This is not an SVG drawing.');
  const runs: Point2[][] = [];
  const skipped = new Map<string, number>();
  let points = 0;
  const take = (run: Point2[]) => {
    const clean = run.filter((p, i) => i === 0 || p[0] !== run[i - 1]![0] || p[1] !== run[i - 1]![1]);
    const last = clean.at(-1);
    if (clean.length > 1 && last![0] === clean[0]![0] && last![1] === clean[0]![1]) clean.pop();
    if (clean.length < 3 || signedArea2(clean) === 0) return;
    points += clean.length;
    if (runs.push(clean) > MOST_RUNS || points > MOST_POINTS)
      throw new MasonError('bad-file', `The drawing has more than ${MOST_RUNS} outlines or ${MOST_POINTS} points. Simplify it first.`); // prettier-ignore
  };
  eachElement(text, (name, attributes, matrix) => {
    const made = shapeRuns(name, attributes);
    if (!made) skipped.set(name, (skipped.get(name) ?? 0) + 1);
    for (const run of made ?? []) take(run.map((p) => through(matrix, p)));
  });
  if (!runs.length) throw new MasonError('bad-file', 'The drawing has no closed outline. Convert text and strokes to paths first.'); // prettier-ignore
  const warnings = [...skipped].map(([name, n]) => `${n} × ${name} passed over: only outlines are read.`);
  return { outlines: nested(centred(runs)), warnings };
}

const through = ([a, b, c, d, e, f]: Matrix, [x, y]: Point2): Point2 => [a * x + c * y + e, b * x + d * y + f];
const times = (m: Matrix, n: Matrix): Matrix => [
  m[0] * n[0] + m[2] * n[1],
  m[1] * n[0] + m[3] * n[1],
  m[0] * n[2] + m[2] * n[3],
  m[1] * n[2] + m[3] * n[3],
  m[0] * n[4] + m[2] * n[5] + m[4],
  m[1] * n[4] + m[3] * n[5] + m[5],
];

/** Elements whose content is no drawing, or is drawn only where something refers to it. */
const UNSEEN = new Set(['defs', 'symbol', 'clippath', 'mask', 'pattern', 'marker', 'script', 'style', 'metadata', 'title', 'desc', 'foreignobject', 'filter', 'lineargradient', 'radialgradient']); // prettier-ignore
const GROUPS = new Set(['svg', 'g', 'a', 'switch']);

/** Walks the tags of a drawing, in time that is linear in its length; nothing is looked up, fetched or run. */
function eachElement(
  text: string,
  visit: (name: string, attributes: Map<string, string>, matrix: Matrix) => void,
): void {
  const stack: { name: string; matrix: Matrix; unseen: boolean }[] = [];
  eachTag(text, (inner) => {
    const m = /^(\/?)([A-Za-z][\w:.-]*)/.exec(inner);
    if (!m) return;
    const name = m[2]!.replace(/^svg:/, '').toLowerCase();
    if (m[1]) {
      const at = stack.findLastIndex((s) => s.name === name);
      if (at >= 0) stack.length = at;
      return;
    }
    const attributes = attributesOf(inner.slice(m[0].length));
    const above = stack.at(-1);
    const matrix = times(above?.matrix ?? IDENTITY, transformOf(attributes.get('transform') ?? ''));
    const hidden = attributes.get('display') === 'none' || /display\s*:\s*none/.test(attributes.get('style') ?? '');
    const unseen = (above?.unseen ?? false) || UNSEEN.has(name) || hidden;
    if (!unseen && !GROUPS.has(name)) visit(name, attributes, matrix);
    if (inner.endsWith('/')) return;
    if (stack.push({ name, matrix, unseen }) > DEEPEST)
      throw new MasonError('bad-file', `The drawing is nested more than ${DEEPEST} deep. Flatten its groups first.`);
  });
}

/** Calls `visit` with what stands between < and > of each tag; comments and the like are left out. An unfinished one ends the drawing. */
function eachTag(text: string, visit: (inner: string) => void): void {
  const skips = [['!--', '-->'], ['![CDATA[', ']]>'], ['?', '?>']] as const; // prettier-ignore
  for (let at = text.indexOf('<'); at >= 0; at = text.indexOf('<', at)) {
    const skip = skips.find(([begin]) => text.startsWith(begin, at + 1));
    if (skip) {
      const end = text.indexOf(skip[1], at);
      if (end < 0) return;
      at = end + skip[1].length;
      continue;
    }
    let quote = '';
    // A document type may hold declarations in brackets.
    let brackets = 0;
    let end = at + 1;
    for (; end < text.length; end++) {
      const c = text[end]!;
      if (quote) quote = c === quote ? '' : quote;
      else if (c === '"' || c === "'") quote = c;
      else if (c === '[') brackets++;
      else if (c === ']') brackets--;
      else if (c === '>' && brackets <= 0) break;
    }
    if (end >= text.length) return;
    if (text[at + 1] !== '!') visit(text.slice(at + 1, end));
    at = end + 1;
  }
}

function attributesOf(text: string): Map<string, string> {
  const out = new Map<string, string>();
  for (const m of text.matchAll(/([A-Za-z_][\w:.-]*)\s*=\s*(?:"([^"]*)"|'([^']*)')/g)) out.set(m[1]!.toLowerCase(), m[2] ?? m[3] ?? ''); // prettier-ignore
  return out;
}

const NUMBER = /[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?/gi;
const numbersOf = (text: string): number[] => (text.match(NUMBER) ?? []).map(Number).filter(Number.isFinite);

function transformOf(text: string): Matrix {
  let out = IDENTITY;
  for (const m of text.matchAll(/(matrix|translate|scale|rotate|skewX|skewY)\s*\(([^)]*)\)/g)) {
    const n = numbersOf(m[2]!);
    const [x = 0, y = 0, z = 0] = n;
    const rad = (x * Math.PI) / 180;
    const [c, s] = [Math.cos(rad), Math.sin(rad)];
    if (m[1] === 'matrix') out = n.length === 6 ? times(out, n as unknown as Matrix) : out;
    else if (m[1] === 'translate') out = times(out, [1, 0, 0, 1, x, y]);
    else if (m[1] === 'scale') out = times(out, [x, 0, 0, n.length > 1 ? y : x, 0, 0]);
    else if (m[1] === 'rotate')
      out = times(times(times(out, [1, 0, 0, 1, y, z]), [c, s, -s, c, 0, 0]), [1, 0, 0, 1, -y, -z]);
    else if (m[1] === 'skewX') out = times(out, [1, 0, Math.tan(rad), 1, 0, 0]);
    else out = times(out, [1, Math.tan(rad), 0, 1, 0, 0]);
  }
  return out;
}

/** The runs of points of a basic shape or a path; null for an element that is none. */
function shapeRuns(name: string, at: Map<string, string>): Point2[][] | null {
  const n = (key: string) => numbersOf(at.get(key) ?? '')[0] ?? 0;
  switch (name) {
    case 'path':
      return pathRuns(at.get('d') ?? '');
    case 'rect': {
      const [x, y, w, h] = [n('x'), n('y'), n('width'), n('height')];
      if (!(w > 0 && h > 0)) return [];
      const rx = Math.min(at.has('rx') ? n('rx') : n('ry'), w / 2);
      const ry = Math.min(at.has('ry') ? n('ry') : n('rx'), h / 2);
      if (!(rx > 0 && ry > 0)) return [[[x, y], [x + w, y], [x + w, y + h], [x, y + h]]]; // prettier-ignore
      const corner = (cx: number, cy: number, from: number) => quarter(cx, cy, rx, ry, from);
      return [[...corner(x + w - rx, y + ry, -90), ...corner(x + w - rx, y + h - ry, 0), ...corner(x + rx, y + h - ry, 90), ...corner(x + rx, y + ry, 180)]]; // prettier-ignore
    }
    case 'circle':
    case 'ellipse': {
      const [rx, ry] = name === 'circle' ? [n('r'), n('r')] : [n('rx'), n('ry')];
      if (!(rx > 0 && ry > 0)) return [];
      return [Array.from({ length: FLATS }, (_, i): Point2 => {
        const a = (2 * Math.PI * i) / FLATS;
        return [n('cx') + rx * Math.cos(a), n('cy') + ry * Math.sin(a)];
      })]; // prettier-ignore
    }
    case 'polygon':
    case 'polyline': {
      const list = numbersOf(at.get('points') ?? '');
      return [Array.from({ length: list.length >> 1 }, (_, i): Point2 => [list[2 * i]!, list[2 * i + 1]!])];
    }
    default:
      return null;
  }
}

const quarter = (cx: number, cy: number, rx: number, ry: number, from: number): Point2[] =>
  Array.from({ length: FLATS / 4 + 1 }, (_, i): Point2 => {
    const a = ((from + (90 * 4 * i) / FLATS) * Math.PI) / 180;
    return [cx + rx * Math.cos(a), cy + ry * Math.sin(a)];
  });

const ARGUMENTS: Record<string, number> = { m: 2, l: 2, h: 1, v: 1, c: 6, s: 4, q: 4, t: 2, a: 7, z: 0 };

/** The subpaths of path data as runs of points; an error in it ends the path there, as the standard asks. */
function pathRuns(d: string): Point2[][] {
  const runs: Point2[][] = [];
  let run: Point2[] = [];
  let at: Point2 = [0, 0];
  let start: Point2 = [0, 0];
  let control: Point2 | null = null;
  let before = '';
  const to = (p: Point2) => {
    at = p;
    run.push(p);
  };
  for (const m of d.matchAll(/([MLHVCSQTAZ])([^MLHVCSQTAZ]*)/gi)) {
    const kind = m[1]!.toLowerCase();
    const relative = m[1] === kind;
    const list = kind === 'a' ? arcNumbers(m[2]!) : numbersOf(m[2]!);
    const size = ARGUMENTS[kind]!;
    if (size && list.length < size) break;
    for (let i = 0; i === 0 || i + size <= list.length; i += size || 1) {
      const n = list.slice(i, i + size);
      const point = (k: number): Point2 => [n[k]! + (relative ? at[0] : 0), n[k + 1]! + (relative ? at[1] : 0)];
      const op = kind === 'm' && i > 0 ? 'l' : kind;
      const mirrored = (of: string): Point2 => (control && of.includes(before) ? [2 * at[0] - control[0], 2 * at[1] - control[1]] : at); // prettier-ignore
      let next: Point2 | null = null;
      if (op === 'm') {
        if (run.length) runs.push(run);
        start = at = point(0);
        run = [at];
      } else if (op === 'l') to(point(0));
      else if (op === 'h') to([n[0]! + (relative ? at[0] : 0), at[1]]);
      else if (op === 'v') to([at[0], n[0]! + (relative ? at[1] : 0)]);
      else if (op === 'c' || op === 's') {
        const first = op === 'c' ? point(0) : mirrored('cs');
        const k = op === 'c' ? 2 : 0;
        next = point(k);
        curve(at, first, next, point(k + 2)).forEach(to);
      } else if (op === 'q' || op === 't') {
        const q: Point2 = op === 'q' ? point(0) : mirrored('qt');
        next = q;
        const end = point(op === 'q' ? 2 : 0);
        const third = (p: Point2): Point2 => [p[0] + (2 / 3) * (q[0] - p[0]), p[1] + (2 / 3) * (q[1] - p[1])];
        curve(at, third(at), third(end), end).forEach(to);
      } else if (op === 'a') arc(at, n, point(5)).forEach(to);
      else {
        at = start;
        if (run.length) runs.push(run);
        run = [at];
      }
      control = next;
      before = op;
      if (!size) break;
    }
  }
  if (run.length) runs.push(run);
  return runs;
}

/** The flags of arcs may stand without a space between them. */
function arcNumbers(text: string): number[] {
  const out: number[] = [];
  let rest = text;
  while (rest) {
    const flag = out.length % 7 === 3 || out.length % 7 === 4;
    const m = flag ? /^[\s,]*([01])/.exec(rest) : /^[\s,]*([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)/i.exec(rest);
    if (!m) break;
    out.push(Number(m[1]));
    rest = rest.slice(m[0].length);
  }
  return out;
}

function curve(a: Point2, b: Point2, c: Point2, d: Point2): Point2[] {
  return Array.from({ length: CURVE }, (_, i): Point2 => {
    const t = (i + 1) / CURVE;
    const u = 1 - t;
    const at = (k: 0 | 1) => u * u * u * a[k] + 3 * u * u * t * b[k] + 3 * u * t * t * c[k] + t * t * t * d[k];
    return i === CURVE - 1 ? d : [at(0), at(1)];
  });
}

/** An elliptical arc from its end points to its centre, and along it. */
function arc(from: Point2, [rx0, ry0, turn, large, sweep]: number[], to: Point2): Point2[] {
  let [rx, ry] = [Math.abs(rx0!), Math.abs(ry0!)];
  if (!rx || !ry || (from[0] === to[0] && from[1] === to[1])) return [to];
  const phi = (turn! * Math.PI) / 180;
  const [c, s] = [Math.cos(phi), Math.sin(phi)];
  const [hx, hy] = [(from[0] - to[0]) / 2, (from[1] - to[1]) / 2];
  const [x1, y1] = [c * hx + s * hy, -s * hx + c * hy];
  const grow = Math.sqrt((x1 / rx) ** 2 + (y1 / ry) ** 2);
  if (grow > 1) [rx, ry] = [rx * grow, ry * grow];
  const k = (large === sweep ? -1 : 1) * Math.sqrt(Math.max(0, (rx * rx * ry * ry) / ((rx * y1) ** 2 + (ry * x1) ** 2) - 1)); // prettier-ignore
  const [cx1, cy1] = [(k * rx * y1) / ry, (-k * ry * x1) / rx];
  const centre: Point2 = [c * cx1 - s * cy1 + (from[0] + to[0]) / 2, s * cx1 + c * cy1 + (from[1] + to[1]) / 2];
  const first = Math.atan2((y1 - cy1) / ry, (x1 - cx1) / rx);
  let span = Math.atan2((-y1 - cy1) / ry, (-x1 - cx1) / rx) - first;
  if (sweep && span < 0) span += 2 * Math.PI;
  if (!sweep && span > 0) span -= 2 * Math.PI;
  const n = Math.max(2, Math.ceil((FLATS * Math.abs(span)) / (2 * Math.PI)));
  return Array.from({ length: n }, (_, i): Point2 => {
    if (i === n - 1) return to;
    const a = first + (span * (i + 1)) / n;
    const [x, y] = [rx * Math.cos(a), ry * Math.sin(a)];
    return [c * x - s * y + centre[0], s * x + c * y + centre[1]];
  });
}

/** The runs with y upward and their common box round the origin. */
function centred(runs: Point2[][]): Point2[][] {
  const all = runs.flat();
  const [low, high] = [[0, 1].map((k) => all.reduce((m, p) => Math.min(m, p[k]!), Infinity)), [0, 1].map((k) => all.reduce((m, p) => Math.max(m, p[k]!), -Infinity))] as [number[], number[]]; // prettier-ignore
  const reach = Math.max(...low.map(Math.abs), ...high.map(Math.abs));
  if (!(reach < 1e6)) throw new MasonError('bad-file', 'The drawing reaches beyond 1 km. Look at its units.');
  const [x, y] = [0, 1].map((k) => (low[k]! + high[k]!) / 2) as [number, number];
  return runs.map((run) => run.map((p): Point2 => [p[0] - x, y - p[1]]));
}

/** Outlines with their holes: a run that lies in an odd number of others is a hole of the smallest of them. */
function nested(runs: Point2[][]): Outline[] {
  const area = runs.map((r) => Math.abs(signedArea2(r)));
  const around = runs.map((r, i) => runs.flatMap((o, j) => (i !== j && area[j]! > area[i]! && insideRing(o, r[0]!) ? [j] : []))); // prettier-ignore
  const outlines = new Map<number, Outline>();
  runs.forEach((r, i) => {
    if (around[i]!.length % 2 === 0) outlines.set(i, { points: signedArea2(r) < 0 ? [...r].reverse() : r, holes: [] });
  });
  runs.forEach((r, i) => {
    if (around[i]!.length % 2 === 0) return;
    const owner = around[i]!.reduce((a, b) => (area[b]! < area[a]! ? b : a));
    outlines.get(owner)?.holes!.push(signedArea2(r) > 0 ? [...r].reverse() : r);
  });
  return [...outlines.values()];
}
