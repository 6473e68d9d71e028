import { describe, expect, it, vi } from 'vitest';
import { box, cylinder, faceSketch } from '@dusky-mason/core/shapes';
import { carve } from '@dusky-mason/core/carve';
import { candidates, faceOn, finished, nearestPick, picked, stopOn, unpicked, type Picking } from './picking.ts';

/** The top of a plate of 100 × 60 × 20 with a round hole of 20 mm at its middle, and which face that is. */
const plate = carve(box(100, 60, 20), { cutters: [cylinder(10, 40, 32)], operation: 'subtract' }).mesh;
const top = Array.from({ length: plate.faceLoops.length - 1 }, (_, f) => faceSketch(plate, f)).find(
  (s) => s.axes[2][2] > 0.9 && s.boundaries.length === 2,
)!;

describe('what can be picked on a face', () => {
  it('its edges, with the boundary that each belongs to', () => {
    const edges = candidates(top, 'edge');
    expect(edges.length).toBe(4 + 32);
    const long = nearestPick(edges, [12, 25, 10])!;
    expect(long.edge!.map((p) => p[1])).toEqual([30, 30].map((y) => expect.closeTo(y, 9)));
    expect(long.boundary!.length).toBe(4);
    expect(nearestPick(edges, [0, 11, 10])!.boundary!.length).toBe(32);
    // A gauge wants a rim: of the four corners of the plate's own boundary nothing is round.
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

describe('stops of a line', () => {
  const edges = candidates(top, 'edge');
  const stop = (x: number, y: number, last?: [number, number, number]) =>
    stopOn(edges, { point: [x, y, 10], face: 4 }, 1, last)!;

  it('are drawn to the ends, the middle and the thirds of the nearest edge, else stand where they are', () => {
    expect([stop(0.4, 29).name, stop(0.4, 29).point.map((v) => +v.toFixed(9))]).toEqual(['middle', [0, 30, 10]]);
    expect(stop(49.7, 29.5).name).toBe('vertex');
    expect([stop(16.2, 29).name, Math.abs(stop(16.2, 29).point[0])]).toEqual(['third', expect.closeTo(50 / 3, 9)]);
    expect([stop(25, 29).name, stop(25, 29).point[0], stop(25, 29).face]).toEqual([
      expect.stringMatching(/^(25|75) %$/),
      expect.closeTo(25, 9),
      4,
    ]);
  });

  it('are drawn square to the stop before', () => {
    const s = stop(30.6, 29, [30, -30, 10]);
    expect([s.name, s.point[0]]).toEqual(['square', expect.closeTo(30, 9)]);
    expect(stopOn([], { point: [0, 0, 0], face: 0 }, 1)).toBeNull();
  });

  it('are as many as one likes, until it is said to be done', () => {
    const done = vi.fn();
    const start: Picking = { wants: 'stop', many: true, asks: ['begins', 'goes on'], got: [], done };
    expect(finished(start)).toBe(start);
    const three = [stop(0, 29), stop(20, 29), stop(40, 29)].reduce((now, p) => picked(now, p)!, start);
    expect([three.got.length, done.mock.calls.length]).toEqual([3, 0]);
    expect(finished(three)).toBeNull();
    expect(done).toHaveBeenCalledWith(three.got);
  });
});

it('a face is picked with its boundaries, and the course that made it', () => {
  const f = faceOn(top, { point: [20, 20, 10], face: 7, course: 3 });
  expect([f.face, f.course, f.boundaries!.map((l) => l.length), f.normal[2]]).toEqual([
    7,
    3,
    [4, 32],
    expect.closeTo(1, 9),
  ]);
});
