import { describe, expect, it } from 'vitest';
import { addPicture, newProject, readProject, removePicture, setPicture, sizedByPoints, viewFacing } from '../index.ts';

const p = addPicture(newProject('p', 'P'), {
  name: 'Plan',
  hash: '0123456789abcdef',
  view: 'front',
  width: 200,
  aspect: 0.5,
});
const [picture] = p.pictures;

describe('reference pictures', () => {
  it('are kept in the document, changed and taken out', () => {
    expect(readProject(JSON.parse(JSON.stringify(p)))).toEqual(p);
    const dim = setPicture(p, picture!.id, { opacity: 0.2, locked: true });
    expect(readProject(dim).pictures[0]).toMatchObject({ opacity: 0.2, locked: true, width: 200, at: [0, 0] });
    expect(removePicture(dim, picture!.id).pictures).toEqual([]);
    expect(() => readProject(setPicture(p, picture!.id, { width: 0 }))).toThrow(/In "Plan": Width: more than 0/);
    expect(() => readProject({ ...p, nextId: picture!.id })).toThrow(/same number/);
  });

  it('sized by two points of known distance, the first of which stays', () => {
    const s = sizedByPoints(picture!, [-50, 10], [50, 10], 40);
    expect(s.width).toBeCloseTo(80, 12);
    // A place of the picture, as a share of its width from its middle, where it lies before and after.
    const where = (x: typeof s, u: number, v: number) => [x.at[0] + u * x.width, x.at[1] + v * x.width];
    const first = [-50 / 200, 10 / 200] as const;
    expect(where(s, ...first)).toEqual([-50, 10]);
    expect(where(s, 50 / 200, 10 / 200)[0]! - where(s, ...first)[0]!).toBeCloseTo(40, 12);
    for (const [b, d] of [
      [[-50, 10], 40],
      [[0, 0], 0],
    ] as const)
      expect(sizedByPoints(picture!, [-50, 10], b as [number, number], d)).toBe(picture);
  });

  it('belong to the view that one looks from', () => {
    expect(viewFacing([0, -1, 0], 0.99)).toBe('front');
    expect(viewFacing([0.01, 0, 1], 0.99)).toBe('top');
    expect(viewFacing([1, 0, 0], 0.99)).toBe('side');
    expect(viewFacing([0.6, -0.8, 0], 0.99)).toBeNull();
  });
});
