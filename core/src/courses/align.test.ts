import { describe, expect, it } from 'vitest';
import { placementAffine, unit, type Vec3 } from '../mesh/index.ts';
import { seededRandom } from '../shapes/index.ts';
import { centredOn, cutterBounds, CutterSchema, droppedTo, seatedOn, Shape, type Cutter } from './index.ts';

const cutter = (placement: Partial<Cutter['placement']> = {}, shape: Record<string, unknown> = { kind: 'box', x: 10, y: 20, z: 30 }): Cutter =>
  CutterSchema.parse({ id: 3, name: 'Pin', shape, placement }); // prettier-ignore
const wall = { min: [0, 0, 0], max: [100, 40, 60] } as const;
const middle = (c: Cutter) => cutterBounds(c)!.min.map((x, k) => +((x + cutterBounds(c)!.max[k]!) / 2).toFixed(9) + 0);

describe('placing a cutter by its box', () => {
  it('centred on a part, along the axes that are asked for', () => {
    const c = cutter({ position: [7, -3, 9], turn: [10, 20, 30] });
    expect(middle(centredOn(c, wall, [0, 1, 2]))).toEqual([50, 20, 30]);
    const along = centredOn(c, wall, [1]);
    expect(along.placement.position).toEqual([7, expect.closeTo(20, 9), 9]);
    expect(along.placement.turn).toEqual(c.placement.turn);
  });

  it('an uneven shape by its box, not by its origin', () => {
    const c = cutter({}, { kind: 'outline', height: 4, points: [[0, 0], [30, 0], [0, 12]] }); // prettier-ignore
    expect(middle(centredOn(c, wall, [0, 1, 2]))).toEqual([50, 20, 30]);
  });

  it('dropped to the ground, from above or from below', () => {
    for (const z of [80, -80]) expect(cutterBounds(droppedTo(cutter({ position: [1, 2, z], turn: [33, 0, 12] }), 0))!.min[2]).toBeCloseTo(0, 9); // prettier-ignore
    expect(cutterBounds(droppedTo(cutter(), 12))!.min[2]).toBeCloseTo(12, 9);
  });

  it('is left as it is where it has no box of its own', () => {
    const c = cutter({}, { kind: 'part', part: 4, title: 'Tool' });
    expect(cutterBounds(c)).toBeNull();
    expect(centredOn(c, wall, [0, 1, 2])).toBe(c);
    expect(droppedTo(c, 0)).toBe(c);
    const crossed = cutter({}, { kind: 'outline', height: 4, points: [[0, 0], [9, 9], [9, 0], [0, 9]] }); // prettier-ignore
    expect(cutterBounds(crossed)).toBeNull();
  });
});

describe('seated on a face', () => {
  const random = seededRandom(31);
  const dot = (a: readonly number[], b: readonly number[]) => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;

  it('stands square to it, its end in the face: below when it takes away, above when it adds', () => {
    for (let i = 0; i < 60; i++) {
      const normal = unit([random() - 0.5, random() - 0.5, random() - 0.5]);
      const point: Vec3 = [90 * random(), 90 * random(), 90 * random()];
      const before = cutter({ position: [5, 5, 5], turn: [360 * random(), 180 * random(), 360 * random()] });
      for (const adds of [false, true]) {
        const a = placementAffine(seatedOn(before, point, normal, adds).placement);
        const z = [a[2]!, a[6]!, a[10]!];
        expect(dot(z, normal)).toBeCloseTo(1, 9);
        const centre = [a[3]!, a[7]!, a[11]!].map((x, k) => x - point[k]!);
        expect(dot(centre, normal)).toBeCloseTo(adds ? 15 : -15, 6);
      }
    }
  });

  it('keeps its turn about the normal as far as can be: on its own face it does not move', () => {
    const c = cutter({ position: [40, 10, 45], turn: [0, 0, 25] });
    expect(seatedOn(c, [40, 10, 60], [0, 0, 1], false).placement).toEqual({ position: [40, 10, 45], turn: [0, 0, 25] });
    // Onto a face that its own x looked along, another way is chosen.
    const turned = seatedOn(cutter(), [0, 0, 0], [1, 0, 0], false);
    expect(cutterBounds(turned)!.max[0]).toBeCloseTo(0, 9);
    expect(Shape.parse(turned.shape)).toEqual(cutter().shape);
  });
});
