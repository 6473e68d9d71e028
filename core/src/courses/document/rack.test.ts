import { describe, expect, it } from 'vitest';
import { areaAndVolume, isClosed, MasonError } from '../../mesh/index.ts';
import { checkSolid } from '../../carve/index.ts';
import {
  findOnRack,
  fitsRack,
  linePicture,
  newShape,
  rackPicture,
  readRack,
  Shape,
  shapeKinds,
  shapeMesh,
  STARTING_RACK,
  writeRack,
} from '../index.ts';

const none = () => undefined;

describe('the starting rack', () => {
  it('has sixteen shapes, each with a name and tags of its own', () => {
    expect(STARTING_RACK.length).toBe(16);
    for (const key of ['id', 'name'] as const) expect(new Set(STARTING_RACK.map((i) => i[key])).size).toBe(16);
    for (const i of STARTING_RACK) expect(i.tags.length, i.name).toBeGreaterThan(1);
  });

  it.each(STARTING_RACK.map((i) => [i.name, i] as const))('%s is fit to cut with', (_name, { shape }) => {
    const m = shapeMesh(shape, none);
    expect(isClosed(m)).toBe(true);
    expect(areaAndVolume(m).volume).toBeGreaterThan(0);
    expect(() => checkSolid(m, 'It')).not.toThrow();
  });

  it('a D hole is a circle with its flat at half its radius', () => {
    const d = STARTING_RACK.find((i) => i.name === 'D hole')!;
    const whole = Math.PI * 100 * 40;
    const away = (100 / 2) * ((2 * Math.PI) / 3 - Math.sin((2 * Math.PI) / 3)) * 40;
    expect(areaAndVolume(shapeMesh(d.shape, none)).volume / (whole - away)).toBeCloseTo(1, 2);
  });

  it('is found by name and by tag', () => {
    expect(findOnRack(STARTING_RACK, 'groove').map((i) => i.name)).toEqual(['Dovetail groove', 'T groove']);
    expect(findOnRack(STARTING_RACK, 'HOLE shaft').map((i) => i.name)).toEqual(['D hole', 'Double-D hole']);
    expect(findOnRack(STARTING_RACK, '').length).toBe(16);
    expect(findOnRack(STARTING_RACK, 'nothing')).toEqual([]);
  });
});

describe('a picture in lines', () => {
  it('of every shape fits its box', () => {
    for (const kind of shapeKinds(true)) {
      const d = linePicture(shapeMesh(newShape(kind), none));
      const numbers = d.match(/-?\d+\.\d/g)!.map(Number);
      expect(d.startsWith('M'), kind).toBe(true);
      expect(Math.min(...numbers), kind).toBeGreaterThanOrEqual(3.9);
      expect(Math.max(...numbers), kind).toBeLessThanOrEqual(96.1);
    }
    // Nine of a box's twelve edges are seen from a corner; of a cylinder its near rim, half the far one, and its two
    // sides.
    expect(linePicture(shapeMesh(newShape('box'), none)).split('M').length - 1).toBe(9);
    expect(linePicture(shapeMesh(Shape.parse({ kind: 'cylinder', segments: 32 }), none)).split('M').length - 1).toBe(
      32 + 16 + 2,
    );
  });
});

describe('a rack file', () => {
  it('comes back as it was written', () => {
    expect(readRack(writeRack(STARTING_RACK))).toEqual(STARTING_RACK);
  });

  it.each([
    ['no JSON', 'hello'],
    ['something else', '{"version":3,"parts":[]}'],
    ['a newer version', '{"rack":2,"items":[]}'],
    [
      'a size that is none',
      JSON.stringify({ rack: 1, items: [{ id: 'a', name: 'A', shape: { kind: 'box', x: -3 } }] }),
    ],
    [
      'a mesh that is not in it',
      JSON.stringify({
        rack: 1,
        items: [{ id: 'a', name: 'A', shape: { kind: 'mesh', hash: 'abcdef01', title: 'M' } }],
      }),
    ],
    ['too many', JSON.stringify({ rack: 1, items: Array(2001).fill({ id: 'a', name: 'A', shape: { kind: 'box' } }) })],
    ['too much text', `"${'x'.repeat(20_000_001)}"`],
  ])('%s is refused in words', (_what, text) => {
    expect(() => readRack(text)).toThrow(MasonError);
  });

  it('carries a mesh with its data and its picture, and refuses either when it is something else', () => {
    const shape = Shape.parse({ kind: 'mesh', hash: 'abcdef01', title: 'M' });
    const item = { id: 'm', name: 'Casting', tags: ['old'], shape, mesh: 'QUJD', picture: 'M1.0 2.0L3.0 4.0' };
    expect(readRack(writeRack([item]))).toEqual([item]);
    expect(rackPicture(item)).toBe(item.picture);
    for (const wrong of [
      { mesh: '<script>' },
      { mesh: 'a>QUJD' },
      { mesh: 'QUJD>' },
      { mesh: 'QU=JD' },
      { picture: 'url(x)' },
      { mesh: undefined },
    ])
      expect(() => readRack(JSON.stringify({ rack: 1, items: [{ ...item, ...wrong }] }))).toThrow(MasonError);
    const part = { ...item, shape: { kind: 'part', part: 3, title: 'P' } };
    expect(() => readRack(JSON.stringify({ rack: 1, items: [part] }))).toThrow(/stays in its project/);
  });

  it('takes no prototype with it', () => {
    const text =
      '{"rack":1,"items":[{"id":"a","name":"A","__proto__":{"taken":1},"shape":{"kind":"box","__proto__":{"taken":1}}}]}';
    expect(readRack(text)[0]!.name).toBe('A');
    expect(({} as Record<string, unknown>).taken).toBeUndefined();
  });

  it('keeps shapes that stand by themselves only', () => {
    expect(fitsRack(newShape('cylinder'))).toBe(true);
    expect(fitsRack(Shape.parse({ kind: 'mesh', hash: 'abcdef01', title: 'M' }))).toBe(false);
    expect(fitsRack({ kind: 'part', part: 3, title: 'P' })).toBe(false);
  });
});
