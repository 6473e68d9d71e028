import { describe, expect, it } from 'vitest';
import { bounds, MasonError } from '../../mesh/index.ts';
import { checked } from './settingProblem.ts';
import { shapeMesh } from './shapeMesh.ts';
import { resizeShape, shapeSize } from './shapeSize.ts';
import { nameForKind, newShape, Shape, shapeKinds } from './shapeSpec.ts';

const none = () => undefined;
const extent = (s: Shape) => {
  const { min, max } = bounds(shapeMesh(s, none));
  return max.map((x, k) => x - min[k]!);
};
const shapes: [string, Shape][] = [
  ...shapeKinds(false).map((kind): [string, Shape] => [kind, newShape(kind)]),
  ['a cone that widens', Shape.parse({ kind: 'cone', foot: 10, top: 30, height: 20, segments: 32 })],
  ['a cone that narrows', Shape.parse({ kind: 'cone', foot: 30, top: 10, height: 20, segments: 32 })],
  ['a thick ring', Shape.parse({ kind: 'torus', diameter: 40, thickness: 15 })],
];

describe('the size of a shape along its axes', () => {
  it.each(shapes)('%s: is that of its mesh, facets within it', (_, s) => {
    const size = shapeSize(s);
    if (!size) return expect(['outline', 'mesh', 'part']).toContain(s.kind);
    extent(s).forEach((x, k) => {
      expect(x).toBeLessThanOrEqual(size[k]! + 1e-9);
      expect(x).toBeGreaterThanOrEqual(0.85 * size[k]!);
    });
  });

  it.each(shapes)('%s: becomes what it is set to along each axis, the others as before or in step', (_, s) => {
    const before = shapeSize(s);
    if (!before) return;
    for (const axis of [0, 1, 2] as const) {
      const next = resizeShape(s, axis, 37);
      const after = shapeSize(next)!;
      if (!(s.kind === 'sheet' && axis === 2)) expect(after[axis]).toBeCloseTo(37, 9);
      // The height is apart from what is round, but for balls.
      if (!/all|torus/.test(s.kind))
        for (const k of axis === 2 ? [0, 1] : [2]) expect(after[k]).toBeCloseTo(before[k]!, 9);
      expect(next.kind).toBe(s.kind);
    }
  });

  it('has no place for lengths of nothing', () => {
    for (const [, s] of shapes)
      for (const axis of [0, 1, 2] as const)
        for (const size of [0, -5])
          expect(shapeSize(resizeShape(s, axis, size))?.every((x) => x >= 0) ?? true).toBe(true);
  });
});

describe('a value that a schema refuses', () => {
  it('is thrown with its code and one sentence', () => {
    const wrong = () => checked(Shape, { kind: 'box', x: -1 });
    expect(wrong).toThrow(MasonError);
    expect(wrong).toThrow(
      expect.objectContaining({ code: 'bad-input', message: expect.stringMatching(/^Length: .*\.$/) }),
    );
  });
});

describe('the name of a shape that becomes another kind', () => {
  it('follows where it was made of the kind, with its number, and stays where it was typed', () => {
    expect(nameForKind('Box', 'box', 'ball')).toBe('Ball from rings');
    expect(nameForKind('Cylinder 7', 'cylinder', 'box')).toBe('Box 7');
    for (const name of ['Turned hull', 'Boxed in', 'Box for the pump', ''])
      expect(nameForKind(name, 'box', 'cone')).toBe(name);
  });
});
