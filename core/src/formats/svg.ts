import { booleanOpD, ClipType, FillRule } from 'clipper2-ts';
import { SaxesParser } from 'saxes';
import svgpath from 'svgpath';
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
/** Crossings of outlines are found to so many decimals of a unit. */
const DECIMALS = 6;

/** a c e / b d f, as SVG writes them: x' = a x + c y + e, y' = b x + d y + f. */
type Matrix = readonly [number, number, number, number, number, number];
const IDENTITY: Matrix = [1, 0, 0, 1, 0, 0];
type FillRuleName = 'nonzero' | 'evenodd';

/**
 * The closed outlines of an SVG file, each with the holes that lie in it, in mm at one mm to a unit (y up, the middle
 * of the drawing at the origin). Reads path, rect, circle, ellipse, polygon and polyline with their transforms: of each
 * the area that its fill rule fills, so that outlines which cross themselves are resolved; what is hidden, or painted
 * neither within nor along its edge, is left out. Outlines of different elements that lie in each other are holes and
 * islands by turns. All else (text, images, scripts, style sheets, links, what is only defined) is passed over and
 * never followed. Throws `bad-file` for what is no SVG, is damaged or too large.
 *
 * Source: W3C, "Scalable Vector Graphics (SVG) 2", 2018, chapters 8 to 13; arcs by its implementation notes, B.2.
 */
export function readSvg(text: string): { outlines: Outline[]; warnings: string[] } {
  if (text.length > MOST_TEXT) throw new MasonError('bad-file', 'The drawing is too large: over 20 MB of text.');
  const runs: Point2[][] = [];
  const skipped = new Map<string, number>();
  let points = 0;
  const take = (run: Point2[]) => {
    points += run.length;
    if (runs.push(run) > MOST_RUNS || points > MOST_POINTS)
      throw new MasonError(
        'bad-file',
        `The drawing has more than ${MOST_RUNS} outlines or ${MOST_POINTS} points. Simplify it first.`,
      );
  };
  const isDrawing = eachElement(text, ({ name, attributes, matrix, rule }) => {
    const made = shapeRuns(name, attributes);
    if (!made) skipped.set(name, (skipped.get(name) ?? 0) + 1);
    const placed = (made ?? []).map((run) => clean(run.map((p) => through(matrix, p)))).filter((run) => run.length > 2);
    if (placed.reduce((n, run) => n + run.length, points) > MOST_POINTS) placed.forEach(take);
    filled(placed, rule).forEach(take);
  });
  if (!isDrawing) throw new MasonError('bad-file', 'This is not an SVG drawing.');
  if (!runs.length)
    throw new MasonError('bad-file', 'The drawing has no closed outline. Convert text and strokes to paths first.');
  const warnings = [...skipped].map(([name, n]) => `${n} × ${name.slice(0, 40)} passed over: only outlines are read.`);
  return { outlines: nested(centred(runs)), warnings };
}

/** A run without points that follow themselves, its last one before its first. */
function clean(run: Point2[]): Point2[] {
  const out = run.filter((p, i) => i === 0 || p[0] !== run[i - 1]![0] || p[1] !== run[i - 1]![1]);
  while (out.length > 1 && out.at(-1)![0] === out[0]![0] && out.at(-1)![1] === out[0]![1]) out.pop();
  return out;
}

/** The borders of what the runs of one element fill. A run that crosses nothing stays point for point. */
function filled(runs: Point2[][], rule: FillRuleName): Point2[][] {
  const reach = runs.flat().reduce((m, [x, y]) => Math.max(m, Math.abs(x), Math.abs(y)), 0);
  // Beyond this its points are not told apart any more; it is refused for its size later.
  if (!(reach < 1e8)) return runs;
  const key = (x: number, y: number) => `${Math.round(x * 10 ** DECIMALS)} ${Math.round(y * 10 ** DECIMALS)}`;
  const exact = new Map(runs.flat().map((p) => [key(p[0], p[1]), p]));
  const paths = runs.map((run) => run.map(([x, y]) => ({ x, y })));
  const made = booleanOpD(
    ClipType.Union,
    paths,
    null,
    rule === 'evenodd' ? FillRule.EvenOdd : FillRule.NonZero,
    DECIMALS,
  );
  const out = made
    .map((path) => path.map(({ x, y }): Point2 => exact.get(key(x, y)) ?? [x, y]))
    .filter((r) => r.length > 2 && signedArea2(r) !== 0);
  // One plain run keeps its points on straight stretches and where it begins.
  const [only, one] = [runs[0], out[0]];
  const same =
    runs.length === 1 &&
    out.length === 1 &&
    Math.abs(Math.abs(signedArea2(only!)) - Math.abs(signedArea2(one!))) <= 1e-9 * Math.abs(signedArea2(one!));
  return same ? runs : out;
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
const UNSEEN = new Set([
  'defs',
  'symbol',
  'clippath',
  'mask',
  'pattern',
  'marker',
  'script',
  'style',
  'metadata',
  'title',
  'desc',
  'foreignobject',
  'filter',
  'lineargradient',
  'radialgradient',
]);
const GROUPS = new Set(['svg', 'g', 'a', 'switch']);

/** What an element has from those around it. */
interface Inherited {
  matrix: Matrix;
  unseen: boolean;
  visible: boolean;
  rule: FillRuleName;
  fill: string;
  stroke: string;
}

interface Element extends Inherited {
  name: string;
  attributes: Map<string, string>;
}

/** A fault in the text: the drawing ends there, and what came before is read. */
class Ended extends Error {}

/**
 * Walks the elements of a drawing, as far as it is well formed; nothing is looked up, fetched or run. Whether there was
 * a drawing.
 */
function eachElement(text: string, visit: (element: Element) => void): boolean {
  const stack: Inherited[] = [];
  let drawing = false;
  const parser = new SaxesParser();
  parser.on('error', (e) => {
    // What an entity stands for is never looked up: it is passed over.
    if (!e.message.includes('entity')) throw new Ended();
  });
  parser.on('opentag', (tag) => {
    const name = tag.name.replace(/^svg:/, '').toLowerCase();
    drawing ||= name === 'svg';
    const attributes = new Map(Object.entries(tag.attributes).map(([k, v]) => [k.toLowerCase(), v]));
    const element = { ...inheritedBy(stack.at(-1), name, attributes), name, attributes };
    const painted = element.fill !== 'none' || element.stroke !== 'none';
    if (drawing && !element.unseen && element.visible && painted && !GROUPS.has(name)) visit(element);
    if (stack.push(element) > DEEPEST)
      throw new MasonError('bad-file', `The drawing is nested more than ${DEEPEST} deep. Flatten its groups first.`);
  });
  parser.on('closetag', () => void stack.pop());
  try {
    parser.write(text).close();
  } catch (e) {
    if (!(e instanceof Ended)) throw e;
  }
  return drawing;
}

/** What an element has from those around it and from its own properties, which a style goes before. */
function inheritedBy(above: Inherited | undefined, name: string, attributes: Map<string, string>): Inherited {
  const style = new Map(
    (attributes.get('style') ?? '').split(';').map((d): [string, string] => {
      const at = d.indexOf(':');
      return [d.slice(0, Math.max(0, at)).trim().toLowerCase(), d.slice(at + 1).trim()];
    }),
  );
  const own = (key: string) => {
    const value = (style.get(key) || attributes.get(key) || '')
      .replace(/!important$/, '')
      .trim()
      .toLowerCase();
    return value === 'inherit' ? '' : value;
  };
  const rule = own('fill-rule');
  const visibility = own('visibility');
  return {
    matrix: times(above?.matrix ?? IDENTITY, transformOf(attributes.get('transform') ?? '')),
    unseen: (above?.unseen ?? false) || UNSEEN.has(name) || own('display') === 'none',
    visible: visibility ? visibility === 'visible' : (above?.visible ?? true),
    rule: rule === 'evenodd' || rule === 'nonzero' ? rule : (above?.rule ?? 'nonzero'),
    fill: own('fill') || (above?.fill ?? 'black'),
    stroke: own('stroke') || (above?.stroke ?? 'none'),
  };
}

const NUMBER = /[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?/gi;
const numbersOf = (text: string): number[] => (text.match(NUMBER) ?? []).map(Number).filter(Number.isFinite);

/** A list of transforms, up to the first invalid one. */
function transformOf(text: string): Matrix {
  let out = IDENTITY;
  for (let at = 0; at < text.length;) {
    const open = text.indexOf('(', at);
    const close = open < 0 ? -1 : text.indexOf(')', open);
    if (close < 0) break;
    const word = text.slice(at, open).replace(/,/g, ' ').trim();
    const n = numbersOf(text.slice(open + 1, close));
    const [x = 0, y = 0, z = 0] = n;
    const rad = (x * Math.PI) / 180;
    const [c, s] = [Math.cos(rad), Math.sin(rad)];
    if (word === 'matrix' && n.length === 6) out = times(out, n as unknown as Matrix);
    else if (word === 'translate') out = times(out, [1, 0, 0, 1, x, y]);
    else if (word === 'scale') out = times(out, [x, 0, 0, n.length > 1 ? y : x, 0, 0]);
    else if (word === 'rotate')
      out = times(times(times(out, [1, 0, 0, 1, y, z]), [c, s, -s, c, 0, 0]), [1, 0, 0, 1, -y, -z]);
    else if (word === 'skewX') out = times(out, [1, 0, Math.tan(rad), 1, 0, 0]);
    else if (word === 'skewY') out = times(out, [1, Math.tan(rad), 0, 1, 0, 0]);
    else break;
    at = close + 1;
  }
  return out;
}

/** The runs of points of a basic shape or a path; null for any other element. */
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
      if (!(rx > 0 && ry > 0))
        return [
          [
            [x, y],
            [x + w, y],
            [x + w, y + h],
            [x, y + h],
          ],
        ];
      const corner = (cx: number, cy: number, from: number) => quarter(cx, cy, rx, ry, from);
      return [
        [
          ...corner(x + w - rx, y + ry, -90),
          ...corner(x + w - rx, y + h - ry, 0),
          ...corner(x + rx, y + h - ry, 90),
          ...corner(x + rx, y + ry, 180),
        ],
      ];
    }
    case 'circle':
    case 'ellipse': {
      const [rx, ry] = name === 'circle' ? [n('r'), n('r')] : [n('rx'), n('ry')];
      if (!(rx > 0 && ry > 0)) return [];
      return [
        Array.from({ length: FLATS }, (_, i): Point2 => {
          const a = (2 * Math.PI * i) / FLATS;
          return [n('cx') + rx * Math.cos(a), n('cy') + ry * Math.sin(a)];
        }),
      ];
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

/** The subpaths of path data as runs of points; an error in it ends the path there, as the standard asks. */
function pathRuns(d: string): Point2[][] {
  const runs: Point2[][] = [];
  let run: Point2[] = [];
  svgpath(d)
    .abs()
    .unshort()
    .iterate(([op, ...n], _, x, y) => {
      const at: Point2 = [x, y];
      const point = (k: number): Point2 => [n[k] as number, n[k + 1] as number];
      const third = (p: Point2, q: Point2): Point2 => [p[0] + (2 / 3) * (q[0] - p[0]), p[1] + (2 / 3) * (q[1] - p[1])];
      if (op === 'M') {
        if (run.length) runs.push(run);
        run = [point(0)];
        return;
      }
      // After a closed subpath one goes on from where it began.
      if (!run.length) run = [at];
      if (op === 'L') run.push(point(0));
      else if (op === 'H') run.push([n[0] as number, y]);
      else if (op === 'V') run.push([x, n[0] as number]);
      else if (op === 'C') run.push(...curve(at, point(0), point(2), point(4)));
      else if (op === 'Q') run.push(...curve(at, third(at, point(0)), third(point(2), point(0)), point(2)));
      else if (op === 'A') run.push(...arc(at, n as number[], point(5)));
      else {
        runs.push(run);
        run = [];
      }
    });
  if (run.length) runs.push(run);
  return runs;
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
  const k =
    (large === sweep ? -1 : 1) * Math.sqrt(Math.max(0, (rx * rx * ry * ry) / ((rx * y1) ** 2 + (ry * x1) ** 2) - 1));
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
  const [low, high] = [
    [0, 1].map((k) => all.reduce((m, p) => Math.min(m, p[k]!), Infinity)),
    [0, 1].map((k) => all.reduce((m, p) => Math.max(m, p[k]!), -Infinity)),
  ] as [number[], number[]];
  const reach = Math.max(...low.map(Math.abs), ...high.map(Math.abs));
  if (!(reach < 1e6)) throw new MasonError('bad-file', 'The drawing reaches beyond 1 km. Check its units.');
  const [x, y] = [0, 1].map((k) => (low[k]! + high[k]!) / 2) as [number, number];
  return runs.map((run) => run.map((p): Point2 => [p[0] - x, y - p[1]]));
}

/** Outlines with their holes: a run that lies in an odd number of others is a hole of the smallest of them. */
function nested(runs: Point2[][]): Outline[] {
  const area = runs.map((r) => Math.abs(signedArea2(r)));
  const within = runs.map(pointWithin);
  // Outlines of different elements may cross: one that is mostly outside of another lies beside it. Vertices on a
  // border count for either side.
  const liesIn = (r: Point2[], o: Point2[], p: Point2) =>
    insideRing(o, p) && 2 * r.filter((q) => insideRing(o, q)).length >= r.length - touching(r, o);
  const around = runs.map((r, i) =>
    runs.flatMap((o, j) => (i !== j && area[j]! > area[i]! && liesIn(r, o, within[i]!) ? [j] : [])),
  );
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

/** How many vertices of a run are vertices of another one, too. */
function touching(r: readonly Point2[], o: readonly Point2[]): number {
  const known = new Set(o.map(String));
  return r.filter((p) => known.has(String(p))).length;
}

/**
 * A point in the inside of a run, on none of its edges: halfway between the first two edges on a level without a
 * vertex.
 */
function pointWithin(run: Point2[]): Point2 {
  const levels = [...new Set(run.map((p) => p[1]))].sort((p, q) => p - q);
  const y = (levels[0]! + levels[1]!) / 2;
  const crossed = run.flatMap((p, i): number[] => {
    const q = run[(i + 1) % run.length]!;
    return p[1] > y === q[1] > y ? [] : [p[0] + ((y - p[1]) * (q[0] - p[0])) / (q[1] - p[1])];
  });
  const [left, right] = crossed.sort((p, q) => p - q) as [number, number];
  return [(left + right) / 2, y];
}
