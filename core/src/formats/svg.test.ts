import { describe, expect, it } from 'vitest';
import { areaAndVolume, MasonError } from '../mesh/index.ts';
import { prism, seededRandom, signedArea2, type Outline } from '../shapes/index.ts';
import { readSvg } from './index.ts';

const svg = (inner: string) =>
  `<?xml version="1.0"?>\n<!DOCTYPE svg [<!ENTITY x "y">]>\n<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100">${inner}</svg>`;
const area = (o: Outline) => (signedArea2(o.points) + o.holes!.reduce((s, h) => s + signedArea2(h), 0)) / 2;
const read = (inner: string) => readSvg(svg(inner)).outlines;
const only = (inner: string) => {
  const outlines = read(inner);
  expect(outlines.length).toBe(1);
  return outlines[0]!;
};
const size = ({ points }: Outline) =>
  [0, 1].map((k) => Math.max(...points.map((p) => p[k]!)) - Math.min(...points.map((p) => p[k]!)));

describe('outlines of a drawing', () => {
  it('a rectangle: its middle at the origin, y upward, counter-clockwise', () => {
    const o = only('<rect x="10" y="20" width="30" height="8"/>');
    expect(area(o)).toBe(240);
    expect(o.points.map((p) => p.map(Math.abs))).toEqual(Array(4).fill([15, 4]));
  });

  it('a rounded rectangle, a circle, an ellipse, a polygon', () => {
    expect(area(only('<rect width="30" height="20" rx="5"/>'))).toBeCloseTo(600 - (4 - Math.PI) * 25, 0);
    expect(area(only('<circle cx="3" cy="4" r="10"/>'))).toBeCloseTo(32 * 100 * Math.sin(Math.PI / 32), 9);
    expect(area(only('<ellipse rx="10" ry="5"/>'))).toBeCloseTo(32 * 50 * Math.sin(Math.PI / 32), 9);
    expect(area(only('<polygon points="0,0 10,0 10,10"/>'))).toBe(50);
    expect(area(only("<polyline points='0 0 10 0 10 10 0 10'/>"))).toBe(100);
  });

  it('paths, absolute and relative, with the short forms', () => {
    for (const d of [
      'M0 0 L10 0 L10 5 L0 5 Z',
      'm0,0 10,0 0,5 -10,0z',
      'M0 0H10V5H0Z',
      'M0 0h10v5h-10z',
      'M 0 0 10 0 10 5 0 5',
    ])
      expect(area(only(`<path d="${d}"/>`)), d).toBe(50);
    expect(area(only('<path d="M.5.5l10-0 0 5.5-10 0z"/>'))).toBeCloseTo(55, 9);
  });

  it('curves: a cubic and its smooth form make a round', () => {
    const k = 0.5522847498;
    const d = `M10 0C10 ${10 * k} ${10 * k} 10 0 10S-10 ${10 * k} -10 0S${-10 * k} -10 0 -10S10 ${-10 * k} 10 0Z`;
    expect(area(only(`<path d="${d}"/>`)) / (Math.PI * 100)).toBeCloseTo(1, 2);
    // A parabola over a chord takes two thirds of its box.
    expect(area(only('<path d="M0 0Q5 10 10 0Z"/>'))).toBeCloseTo((2 / 3) * 10 * 5, 0);
    expect(area(only('<path d="M0 0Q5 10 10 0T20 0L20 -20L0 -20Z"/>'))).toBeCloseTo(400, 5);
  });

  it('arcs, their flags written close, large and small, this way and that', () => {
    const half = Math.PI * 50;
    expect(area(only('<path d="M-10 0A10 10 0 0 1 10 0Z"/>')) / half).toBeCloseTo(1, 2);
    expect(area(only('<path d="M-10 0a10 10 0 0120 0z"/>')) / half).toBeCloseTo(1, 2);
    const [small, large] = ['0', '1'].map((flag) => area(only(`<path d="M0 10A10 10 0 ${flag} 1 10 0Z"/>`)));
    expect(large! / (0.75 * Math.PI * 100 + 50)).toBeCloseTo(1, 2);
    expect(small! / (0.25 * Math.PI * 100 - 50)).toBeCloseTo(1, 1);
    // As fine as the 64 flats of a whole round, by the angle that it spans.
    expect(only('<path d="M-10 0A10 10 0 0 1 10 0Z"/>').points.length).toBe(33);
    expect(only('<path d="M0 10A10 10 0 0 1 10 0L10 10Z"/>').points.length).toBe(18);
    // Radii too small for the chord are made to fit.
    expect(size(only('<path d="M-10 0A1 1 0 0 1 10 0Z"/>'))[1]).toBeCloseTo(10, 6);
    expect(size(only('<path d="M-20 0A20 5 30 0 1 20 0A20 5 30 0 1 -20 0Z"/>'))[0]).toBeGreaterThan(39);
  });

  it('arcs of a turned ellipse lie on it, and go all the way round', () => {
    // Half axes 20 and 5, turned by 30°; y goes down in a drawing, so that it is turned the other way here.
    const [c, s] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
    const [x, y] = [20 * c, 20 * s];
    const { points } = only(`<path d="M${-x} ${-y}A20 5 30 0 1 ${x} ${y}A20 5 30 0 1 ${-x} ${-y}Z"/>`);
    for (const [u, v] of points) expect(((u * c - v * s) / 20) ** 2 + ((u * s + v * c) / 5) ** 2).toBeCloseTo(1, 6);
    expect(points.length).toBeGreaterThan(20);
    expect(area({ points, holes: [] }) / (Math.PI * 100)).toBeCloseTo(1, 1);
  });

  it('arcs without a radius are straight, those that end where they begin are none', () => {
    for (const d of ['M0 0A0 5 0 0 1 10 0L10 10Z', 'M0 0A5 0 0 0 1 10 0L10 10Z', 'M0 0A5 5 0 0 1 0 0L10 0L10 10Z'])
      expect(area(only(`<path d="${d}"/>`)), d).toBe(50);
    // Straight up, and straight across.
    expect(area(only('<path d="M0 -10A10 10 0 0 1 0 10Z"/>')) / (Math.PI * 50)).toBeCloseTo(1, 2);
    expect(area(only('<path d="M-10 0A10 10 0 0 0 10 0Z"/>')) / (Math.PI * 50)).toBeCloseTo(1, 2);
  });

  it('a path of several runs has an outline for each, closed or not', () => {
    const box = (x: number, end: string) => `M${x} 0h10v10h-10${end}`;
    for (const d of [
      `${box(0, 'z')}${box(20, 'z')}${box(40, 'z')}`,
      `${box(0, '')}${box(20, '')}${box(40, '')}`,
      `M5 5M7 7${box(0, 'z')}M90 90${box(20, '')}${box(40, 'z')}M1 1`,
    ])
      expect(read(`<path d="${d}"/>`).map(area), d).toEqual([100, 100, 100]);
    // After a closed run one goes on from where it began.
    expect(
      read('<path d="M0 0h10v10h-10zh-5v-5z"/>')
        .map(area)
        .sort((a, b) => a - b),
    ).toEqual([12.5, 100]);
  });

  it('a path that says nothing is none', () => {
    expect(area(only('<path/><path d=""/><rect width="4" height="4"/>'))).toBe(16);
  });

  it('transforms, nested, in the order that they stand', () => {
    expect(size(only('<g transform="scale(2)"><rect width="10" height="5" transform="rotate(90)"/></g>'))).toEqual([
      expect.closeTo(10, 9),
      expect.closeTo(20, 9),
    ]);
    expect(area(only('<rect width="10" height="5" transform="matrix(0 2 -3 0 7 8)"/>'))).toBeCloseTo(300, 9);
    expect(area(only('<rect width="10" height="5" transform="translate(5 5) skewX(30)"/>'))).toBeCloseTo(50, 9);
    const two = read('<rect width="2" height="2"/><rect width="2" height="2" transform="translate(10) scale(1 2)"/>');
    expect(two.map(area)).toEqual([4, 8]);
    // One may follow another without a gap.
    expect(size(only('<rect width="10" height="5" transform="translate(1)scale(2 3)"/>'))).toEqual([20, 15]);
    // Mirrored ones still go round the right way.
    expect(area(only('<rect width="10" height="5" transform="scale(-1 1)"/>'))).toBe(50);
  });

  it('holes by how they lie in each other, whatever way they run', () => {
    const ring = only('<path d="M0 0H20V20H0Z M5 5V15H15V5Z"/>');
    expect([ring.holes!.length, area(ring)]).toEqual([1, 300]);
    const island = read(
      '<rect width="30" height="30"/><rect x="5" y="5" width="20" height="20"/><rect x="10" y="10" width="10" height="10"/>',
    );
    expect(island.map((o) => [o.holes!.length, area(o)])).toEqual([
      [1, 500],
      [0, 100],
    ]);
    const m = prism(ring, 3);
    expect(areaAndVolume(m).volume).toBeCloseTo(900, 9);
  });

  it('fills by the fill rule, an outline that crosses itself, too', () => {
    const two = 'M0 0H20V20H0Z M5 5H15V15H5Z';
    expect([area(only(`<path d="${two}"/>`)), area(only(`<path fill-rule="evenodd" d="${two}"/>`))]).toEqual([
      400, 300,
    ]);
    expect(area(only(`<g style="fill-rule:evenodd"><path d="${two}"/></g>`))).toBe(300);
    expect(area(only(`<g fill-rule="evenodd"><path style="fill-rule: nonzero" d="${two}"/></g>`))).toBe(400);
    // A bow tie is two triangles; a star of five points is whole by one rule and hollow by the other.
    expect(read('<polygon points="0,0 10,10 10,0 0,10"/>').map(area)).toEqual([25, 25]);
    const star = Array.from({ length: 5 }, (_, i) =>
      [Math.sin((4 * Math.PI * i) / 5) * 10, Math.cos((4 * Math.PI * i) / 5) * 10].join(),
    ).join(' ');
    const [whole, hollow] = ['nonzero', 'evenodd'].map((rule) =>
      read(`<polygon fill-rule="${rule}" points="${star}"/>`),
    );
    const sum = (list: Outline[]) => list.reduce((s, o) => s + area(o), 0);
    const inner = (10 * Math.cos((2 * Math.PI) / 5)) / Math.cos(Math.PI / 5);
    const pentagon = 2.5 * inner ** 2 * Math.sin((2 * Math.PI) / 5);
    expect(whole!.length).toBe(1);
    expect(sum(whole!) - sum(hollow!)).toBeCloseTo(pentagon, 4);
  });

  it('leaves out what the standard does not paint', () => {
    const seen = '<rect width="4" height="4"/>';
    for (const hidden of [
      '<rect width="9" height="9" visibility="hidden"/>',
      '<g visibility="collapse"><rect width="9" height="9"/></g>',
      '<rect width="9" height="9" style="fill:none"/>',
      '<g fill="none" stroke="none"><circle r="5"/></g>',
      '<g style="display: none !important"><circle r="5"/></g>',
      '<symbol><circle r="5"/></symbol>',
    ])
      expect(read(seen + hidden).map(area), hidden).toEqual([16]);
    expect(area(only('<g visibility="hidden"><rect width="4" height="4" visibility="visible"/></g>'))).toBe(16);
    expect(area(only('<rect width="4" height="4" fill="none" stroke="#000"/>'))).toBe(16);
  });

  it('passes over what is no outline, and says how many', () => {
    const { outlines, warnings } = readSvg(
      svg(
        '<defs><rect width="1" height="1"/></defs><text>Hi</text><image href="http://example.invalid/x.png"/><rect width="4" height="4"/><rect width="9" height="9" display="none"/><g style="display:none"><circle r="3"/></g><script>alert(1)</script>',
      ),
    );
    expect(outlines.map(area)).toEqual([16]);
    expect(warnings).toEqual([
      '1 × text passed over: only outlines are read.',
      '1 × image passed over: only outlines are read.',
    ]);
  });
});

describe('a hostile or broken drawing', () => {
  it.each([
    ['no SVG', 'hello', /not an SVG/],
    ['outlines that are in no drawing', '<html><rect width="1" height="1"/></html>', /not an SVG/],
    ['an empty one', svg(''), /no closed outline/],
    ['only text', svg('<text>abc</text>'), /no closed outline/],
    ['lines without area', svg('<path d="M0 0L10 0"/>'), /no closed outline/],
    ['far beyond all measure', svg('<rect width="1e300" height="1e300"/>'), /beyond 1 km/],
    ['too deep', svg('<g>'.repeat(5000) + '<rect width="1" height="1"/>'), /nested more than/],
    [
      'too many outlines',
      svg('<rect width="1" height="1"/>'.repeat(2001)),
      /more than 2000 outlines or 100000 points. Simplify it first/,
    ],
    [
      'too many points',
      svg(`<polygon points="${Array.from({ length: 100_001 }, (_, i) => `${i},${i % 7}`).join(' ')}"/>`),
      /more than 2000 outlines or 100000 points/,
    ],
  ])('%s is refused in words', (_what, text, words) => {
    expect(() => readSvg(text)).toThrow(
      expect.objectContaining({ code: 'bad-file', message: expect.stringMatching(words) }),
    );
  });

  it('of more than 20 MB of text is not looked into', () => {
    expect(() => readSvg('x'.repeat(20_000_001))).toThrow(
      expect.objectContaining({ code: 'bad-file', message: expect.stringMatching(/over 20 MB of text/) }),
    );
    expect(() => readSvg('x'.repeat(20_000_000))).toThrow(/not an SVG/);
  });

  it('as many outlines as may be are read', () => {
    const rows = Array.from({ length: 2000 }, (_, i) => `<rect width="1" height="1" x="${2 * i}"/>`).join('');
    expect(readSvg(svg(rows)).outlines).toHaveLength(2000);
  });

  it('is read in no time, however it is made', () => {
    const rest = '<rect width="4" height="4"/>';
    for (const long of [
      `<svg ${'a'.repeat(400_000)}`,
      `<svg ${'a:'.repeat(100_000)}="1"`,
      `<svg ${'a '.repeat(200_000)}`,
    ])
      expect(() => readSvg(`${long}>`)).toThrow(MasonError);
    for (const d of [
      'M'.repeat(200_000),
      `M0 0${' 1e'.repeat(100_000)}`,
      `M0 0A${'1'.repeat(200_000)}`,
      '-'.repeat(300_000),
    ])
      expect(
        readSvg(`<svg><path d="${d}"/><g transform="${'matrix('.repeat(50_000)}">${rest}</g></svg>`).outlines.length,
      ).toBe(1);
    for (const bad of ['<a "', '<!--', '<![CDATA[', '<', '<path d="M', "<g x='", '<!DOCTYPE ['])
      expect(() => readSvg(`<svg>${bad.repeat(200_000)}${rest}`)).toThrow(MasonError);
    expect(readSvg(`<svg>${rest}${'<a "'.repeat(200_000)}`).outlines.length).toBe(1);
    const bombs = '<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;"><!ENTITY c SYSTEM "file:///etc/passwd">]>';
    expect(readSvg(`${bombs}<svg><text>&b;&c;</text>${rest}</svg>`).outlines.length).toBe(1);
  });

  it('ends a path at its first error, as the standard asks', () => {
    expect(area(only('<path d="M0 0H10V5H0Z M20 20 L abc"/>'))).toBe(50);
    expect(area(only('<path d="M0 0H10V5H0Z C1 2 3"/>'))).toBe(50);
  });

  it('never pollutes anything, and any noise is read or refused', () => {
    readSvg(svg('<rect width="4" height="4" __proto__="x" constructor="y"/>'));
    expect(({} as Record<string, unknown>).x).toBeUndefined();
    const random = seededRandom(9);
    const pieces = [
      '<path d="',
      'M',
      'L',
      'a',
      'z',
      '"',
      '/>',
      '<g transform="rotate(',
      ')',
      '>',
      ' 1e9',
      ' -3.5',
      ',',
      '<rect width="',
      '</g>',
      '&',
      '\u0000',
      'NaN',
    ];
    for (let i = 0; i < 400; i++) {
      const noise = Array.from({ length: 40 }, () => pieces[Math.floor(pieces.length * random())]!).join('');
      try {
        for (const o of readSvg(svg(noise)).outlines) expect(Number.isFinite(area(o))).toBe(true);
      } catch (e) {
        expect(e).toBeInstanceOf(MasonError);
      }
    }
  });
});
