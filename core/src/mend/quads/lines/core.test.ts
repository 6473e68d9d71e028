import { describe, expect, it } from 'vitest';
import type { Flat } from '../../../mesh/index.ts';
import { rectangleOutline } from '../../../shapes/outlines.ts';
import { ringArea } from '../flatMesh.ts';
import { lineLayout } from './lineLayout.ts';

const circle = (n: number, r: number, turn = 0): Flat[] =>
  Array.from({ length: n }, (_, i) => [
    r * Math.cos(turn + (2 * Math.PI * i) / n),
    r * Math.sin(turn + (2 * Math.PI * i) / n),
  ]);
const laid = (ring: Flat[], goal: 'shape' | 'fewest' = 'shape') => lineLayout([ring], { goal, price: () => Infinity });

describe('a face with a core', () => {
  it.each([8, 16, 24, 32, 48])('a disc of %i edges: as many lanes as edges, a square core, four poles', (n) => {
    const l = laid(circle(n, 30, 0.3))!;
    expect([l.quads.length, l.poles.length, l.mirrors]).toEqual([n + (n / 4) ** 2, 4, 4]);
    expect(l.splits.flat(2)).toEqual([]);
    const area = l.quads.reduce((s, q) => s + ringArea(q.map((v) => l.points[v]!)), 0);
    expect(area).toBeCloseTo(ringArea(circle(n, 30)), 6);
    for (const q of l.quads) expect(ringArea(q.map((v) => l.points[v]!))).toBeGreaterThan(0);
  });

  it('a disc whose edges four does not divide has a core that is no square', () => {
    const l = laid(circle(18, 30))!;
    expect([l.quads.length, l.poles.length]).toEqual([18 + 20, 4]);
  });

  it('rounded corners: rows and columns run on from the outline, corners stay above 45°', () => {
    const ring = rectangleOutline(80, 40, 12, 6) as Flat[];
    const l = laid(ring)!;
    // Half of a rounded corner, the straight side, half of a corner: seven columns and as many rows.
    expect([l.quads.length, l.poles.length]).toEqual([ring.length + 49, 4]);
  });

  it('fewer quads where the fewest are wanted', () => {
    expect(laid(circle(48, 30), 'fewest')!.quads.length).toBeLessThan(laid(circle(48, 30))!.quads.length);
  });

  it('there is none where the outline turns inward, or has an odd number of edges', () => {
    expect(laid(circle(15, 30))).toBeNull();
    const dented = circle(16, 30).map(([x, y], i): Flat => (i === 3 ? [x / 2, y / 2] : [x, y]));
    expect(laid(dented)).toBeNull();
  });
});
