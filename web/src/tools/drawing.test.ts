import { describe, expect, it } from 'vitest';
import { sketchPlane, type Point2 } from '@dusky-mason/core/shapes';
import type { DrawnKind } from '@dusky-mason/core/courses';
import {
  beginDraw,
  clicked,
  closed,
  dragged,
  moved,
  onPlaneOf,
  operationOf,
  outlineOf,
  pulled,
  shownRun,
  stepBack,
  tells,
  typed,
  wants,
  type Draw,
} from './drawing.ts';

const plane = sketchPlane([0, 0, 0], [0, 0, 1], [1, 0, 0]);
const start = (kind: DrawnKind, sides?: number): Draw => onPlaneOf(beginDraw(kind, sides), plane);
const clicks = (d: Draw, ...places: Point2[]): Draw => places.reduce(clicked, d);

describe('drawing with the pointer', () => {
  it.each([
    [
      'rectangle',
      [
        [0, 0],
        [40, 25],
      ],
      { from: [0, 0], to: [40, 25] },
    ],
    [
      'circle',
      [
        [10, 10],
        [13, 14],
      ],
      { centre: [10, 10], radius: 5 },
    ],
    [
      'polygon',
      [
        [0, 0],
        [0, 9],
      ],
      { centre: [0, 0], corner: [0, 9], sides: 6 },
    ],
    [
      'slot',
      [
        [0, 0],
        [30, 0],
        [17, 4],
      ],
      { from: [0, 0], to: [30, 0], width: 8 },
    ],
  ] as [DrawnKind, Point2[], object][])('%s: clicks make it whole, then it is pulled', (kind, places, want) => {
    const d = clicks(start(kind), ...places);
    expect(d.stage).toBe('pull');
    expect(d.drawn).toMatchObject({ kind, ...want });
    expect(shownRun(d).closed).toBe(true);
  });

  it('nothing is drawn before a face is there, and a face is not changed once drawing has begun', () => {
    expect(clicked(beginDraw(), [1, 1]).points).toEqual([]);
    const d = clicked(start('circle'), [1, 1]);
    expect(onPlaneOf(d, sketchPlane([9, 9, 9], [1, 0, 0], [0, 1, 0]))).toBe(d);
  });

  it('shows the outline as it would be, with its size', () => {
    const d = moved(clicked(start('rectangle'), [0, 0]), [-30, 20]);
    expect(outlineOf(d)).toMatchObject({ from: [0, 0], to: [-30, 20] });
    expect(tells(d, 'mm')).toBe('30 mm × 20 mm');
    expect(tells(moved(clicked(start('circle'), [0, 0]), [3, 4]), 'cm')).toBe('Ø 1 cm');
    expect(tells(start('circle'), 'mm')).toBe('');
    const slot = moved(clicks(start('slot'), [0, 0], [30, 0]), [5, 3]);
    expect(tells(slot, 'mm')).toBe('36 mm × 6 mm');
  });

  it('a second click in the same place is none', () => {
    expect(clicks(start('rectangle'), [3, 3], [3, 3]).stage).toBe('shape');
    expect(clicks(start('slot'), [3, 3], [3, 3]).points.length).toBe(1);
    expect(clicks(start('rectangle'), [3, 3], [9, 3]).stage).toBe('shape');
  });

  it('a free outline closes at its first point or by Enter, and not while it crosses itself', () => {
    const open = clicks(start('free'), [0, 0], [10, 0], [10, 8]);
    expect([open.stage, wants(open)]).toEqual(['shape', 'Click the next point; Enter or the first point closes it.']);
    expect(clicked(open, [0, 0]).drawn).toMatchObject({
      points: [
        [0, 0],
        [10, 0],
        [10, 8],
      ],
      bows: [0, 0],
    });
    expect(closed(open).stage).toBe('pull');
    const crossed = clicks(start('free'), [0, 0], [10, 10], [10, 0], [0, 10]);
    expect(closed(crossed)).toBe(crossed);
    expect(closed(clicks(start('free'), [0, 0], [10, 0]))).toMatchObject({ stage: 'shape' });
  });

  it('what is drawn by hand goes on from the last point, by its corners', () => {
    const start = clicks({ ...onPlaneOf(beginDraw('free'), plane) }, [0, 0]);
    const run = [
      ...Array.from({ length: 20 }, (_, i): Point2 => [i + 1, 0.05 * (i % 2)]),
      ...Array.from({ length: 20 }, (_, i): Point2 => [20, i + 1]),
    ];
    const d = dragged(start, run, 0.3);
    expect(d.points.map((p) => p.map(Math.round))).toEqual([
      [0, 0],
      [20, 0],
      [20, 20],
    ]);
    expect([d.bows, d.hover]).toEqual([
      [0, 0],
      [20, 20],
    ]);
    expect(closed(d).stage).toBe('pull');
    expect(dragged(clicked(onPlaneOf(beginDraw('circle'), plane), [0, 0]), run, 0.3).points.length).toBe(1);
    expect(dragged(onPlaneOf(beginDraw('free'), plane), run, 0.3).points).toEqual([]);
  });

  it('an arc piece is its end, then a place that it passes', () => {
    const d = clicks({ ...start('free'), arc: true }, [0, 0], [10, 0]);
    expect([d.bending, wants(d)]).toEqual([
      true,
      'Bend the arc: click a place that it passes, or Esc for a straight piece.',
    ]);
    const bent = clicked(d, [5, -5]);
    expect([bent.bending, bent.bows[0]]).toEqual([false, expect.closeTo(5, 12)]);
    expect(outlineOf(moved(d, [5, 5]))).toMatchObject({ bows: [expect.closeTo(-5, 12)] });
  });
});

describe('drawing with typed values', () => {
  it('a size round the pointer, or towards it from the first place', () => {
    expect(typed(moved(start('rectangle'), [5, 5]), '40 x 20', 'mm').drawn).toMatchObject({
      from: [-15, -5],
      to: [25, 15],
    });
    const from = moved(clicked(start('rectangle'), [0, 0]), [-3, 1]);
    expect(typed(from, '4 × 2 cm', 'mm').drawn).toMatchObject({ from: [0, 0], to: [-4, 20] });
    expect(typed(from, '1/2', 'in').drawn).toMatchObject({ to: [-12.7, 12.7] });
    expect(typed(moved(start('circle'), [1, 2]), '40', 'mm').drawn).toMatchObject({ centre: [1, 2], radius: 20 });
    expect(typed(start('circle'), '40', 'mm').drawn).toMatchObject({ centre: [0, 0] });
    expect(typed(moved(clicked(start('polygon', 5), [0, 0]), [0, 3]), '20', 'mm').drawn).toMatchObject({
      corner: [0, 10],
      sides: 5,
    });
  });

  it('a slot over both ends, by its width', () => {
    expect(typed(start('slot'), '60 x 12', 'mm').drawn).toMatchObject({ from: [-24, 0], to: [24, 0], width: 12 });
    const along = moved(clicked(start('slot'), [0, 0]), [0, 9]);
    expect(typed(along, '60, 12', 'mm').drawn).toMatchObject({ from: [0, 0], to: [0, 48], width: 12 });
  });

  it('pieces of a free outline by length, or length and angle', () => {
    const d = moved(clicked(start('free'), [0, 0]), [0, 7]);
    expect(typed(d, '30', 'mm').points[1]).toEqual([expect.closeTo(0, 12), expect.closeTo(30, 12)]);
    const square = ['30, 0', '30, 90', '30, 180'].reduce((x, t) => typed(x, t, 'mm'), d);
    expect(square.points.map((p) => p.map((x) => Math.round(x) + 0))).toEqual([
      [0, 0],
      [30, 0],
      [30, 30],
      [0, 30],
    ]);
    expect(closed(square).stage).toBe('pull');
  });

  it('a depth to the side that it is on, or to the one that its sign says, or through', () => {
    const d = clicks(start('circle'), [0, 0], [5, 0]);
    expect(typed(d, '12', 'mm').pull).toBe(-12);
    expect(typed(pulled(d, 3), '12', 'mm').pull).toBe(12);
    expect(typed(d, '+1 cm', 'mm').pull).toBe(10);
    expect(typed(pulled(d, 3), '-2', 'mm').pull).toBe(-2);
    expect(typed(d, 'through', 'mm').pull).toBe('through');
    expect(typed(d, 'T', 'mm').pull).toBe('through');
  });

  it.each([
    ['', /Type a size/],
    ['-4', /above 0/],
    ['40 x 0', /above 0/],
    ['abc', /./],
    ['1e99', /./],
  ])('%j is refused in words, and nothing changes', (text, why) => {
    const d = start('rectangle');
    expect(() => typed(d, text, 'mm')).toThrow(why);
    expect(d).toEqual(start('rectangle'));
    expect(() => typed(clicks(start('circle'), [0, 0], [5, 0]), text === '-4' || !text ? '0' : text, 'mm')).toThrow();
  });

  it('needs a face first, and a first point for lengths', () => {
    expect(() => typed(beginDraw(), '40', 'mm')).toThrow(/Point at a face/);
    expect(() => typed(start('free'), '40', 'mm')).toThrow(/first point/);
  });
});

describe('what it will do', () => {
  it('is told by the side that it is pulled to, or by what was chosen', () => {
    const d = clicks(start('circle'), [0, 0], [5, 0]);
    expect(operationOf(pulled(d, -3))).toBe('subtract');
    expect(operationOf(pulled(d, 3))).toBe('union');
    expect(operationOf(pulled(d, 'through'))).toBe('subtract');
    expect(operationOf(pulled({ ...d, operation: 'split' }, 3))).toBe('split');
    expect(tells(pulled(d, -12), 'mm')).toBe('removes 12 mm');
    expect(tells(pulled(d, 12), 'mm')).toBe('adds 12 mm');
    expect(tells(pulled(d, 'through'), 'mm')).toBe('removes through');
    expect(pulled(start('circle'), 4).pull).toBe(0);
  });
});

describe('a step back', () => {
  it('goes back by one act at a time, and ends when there is none left', () => {
    let d: Draw | null = clicks(start('slot'), [0, 0], [30, 0], [17, 4]);
    const seen: [string, number][] = [];
    while (d) {
      seen.push([d.stage, d.points.length]);
      d = stepBack(d);
    }
    expect(seen).toEqual([
      ['pull', 2],
      ['shape', 2],
      ['shape', 1],
      ['place', 0],
    ]);
  });

  it('of a free outline takes the last point, and of an arc first its bend', () => {
    const d = clicks({ ...start('free'), arc: true }, [0, 0], [10, 0]);
    const straight = stepBack(d)!;
    expect([straight.bending, straight.points.length, straight.bows]).toEqual([false, 2, [0]]);
    expect(stepBack(straight)!.points).toEqual([[0, 0]]);
    const whole = closed(clicks(start('free'), [0, 0], [10, 0], [10, 8]));
    expect(stepBack(whole)).toMatchObject({ stage: 'shape', drawn: null });
    expect(stepBack(whole)!.points.length).toBe(3);
  });
});
