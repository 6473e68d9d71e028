import { describe, expect, it, vi } from 'vitest';
import { box, cylinder, faceSketch } from '@dusky-mason/core/shapes';
import { carve } from '@dusky-mason/core/carve';
import { candidates, nearestPick, picked, unpicked, type Picking } from './picking.ts';

/** The top of a plate of 100 × 60 × 20 with a round hole of 20 mm at its middle, and which face that is. */
const plate = carve(box(100, 60, 20), [cylinder(10, 40, 32)], { operation: 'subtract' }).mesh;
const top = Array.from({ length: plate.faceLoops.length - 1 }, (_, f) => faceSketch(plate, f)).find((s) => s.axes[2][2] > 0.9 && s.outlines.length === 2)!; // prettier-ignore

describe('what can be picked on a face', () => {
  it('its edges, with the outline that each belongs to', () => {
    const edges = candidates(top, 'edge');
    expect(edges.length).toBe(4 + 32);
    const long = nearestPick(edges, [12, 25, 10])!;
    expect(long.edge!.map((p) => p[1])).toEqual([30, 30].map((y) => expect.closeTo(y, 9)));
    expect(long.outline!.length).toBe(4);
    expect(nearestPick(edges, [0, 11, 10])!.outline!.length).toBe(32);
    // A gauge wants a rim: of the four corners of the plate's own outline nothing is round.
    expect(candidates(top, 'edge', 5).length).toBe(32);
  });

  it('its points by name: its centre, an opening, vertices, edge middles', () => {
    const points = candidates(top, 'point');
    const at = (x: number, y: number) => nearestPick(points, [x, y, 10])!;
    expect(at(0.4, 0.3).name).toBe('face centre');
    expect([at(49, 29).name, at(49, 29).point.map(Math.round)]).toEqual(['vertex', [50, 30, 10]]);
    expect(at(50, 2).name).toBe('edge middle');
    expect(points.some((p) => p.name === 'circle centre')).toBe(true);
    expect(nearestPick([], [0, 0, 0])).toBeNull();
  });
});

it('picks are taken one after another, and taken back', () => {
  const done = vi.fn();
  const [a, b] = candidates(top, 'edge') as [ReturnType<typeof candidates>[0], ReturnType<typeof candidates>[0]];
  const start: Picking = { wants: 'edge', asks: ['one', 'the other'], got: [], done };
  const one = picked(start, a)!;
  expect([one.got, done.mock.calls.length]).toEqual([[a], 0]);
  expect(unpicked(one)!.got).toEqual([]);
  expect(unpicked(start)).toBeNull();
  expect(picked(one, b)).toBeNull();
  expect(done).toHaveBeenCalledWith([a, b]);
});
