import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  bounds,
  faceCount,
  isClosed,
  joinMeshes,
  meshFromFaces,
  vertexPlace,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, prism, sheet } from '../shapes/index.ts';
import { thicken } from './thicken.ts';

describe('thickness', () => {
  it('a flat sheet: a box', () => {
    for (const side of ['inside', 'outside', 'both'] as const) {
      const {
        mesh,
        report: { rim },
      } = thicken(sheet(6, 4, [3, 2]), { thickness: 0.5, side, far: 'Back', rim: '' });
      expect([isClosed(mesh), rim, faceCount(mesh)]).toEqual([true, 10, 12 + 10]);
      expect(areaAndVolume(mesh).volume).toBeCloseTo(12, 12);
      expect(bounds(mesh).max[2]).toBeCloseTo({ inside: 0, outside: 0.5, both: 0.25 }[side], 12);
      expect(mesh.slots.at(-1)).toBe('Back');
    }
  });

  it('a box without its lid: true distance at every corner', () => {
    const b = box(10, 8, 6);
    const open = meshFromFaces(
      [...b.positions],
      [...Array(6).keys()].filter((f) => f !== 5).map((f) => [...b.corners.subarray(4 * f, 4 * f + 4)]),
    );
    const { mesh } = thicken(open, { thickness: 1, side: 'inside', far: '', rim: 'Rim' });
    expect(areaAndVolume(mesh).volume).toBeCloseTo(480 - 8 * 6 * 5, 10);
    expect(isClosed(mesh)).toBe(true);
    expect([...mesh.layers.slot!].filter((s) => mesh.slots[s] === 'Rim')).toHaveLength(4);
  });

  it('refuses what is closed, and what would cut through itself, with the place', () => {
    expect(() => thicken(box(1, 1, 1), { thickness: 1, side: 'both', far: '', rim: '' })).toThrow(/closed/);
    const wall = prism(
      {
        points: [
          [0, 0],
          [10, 0],
          [10, 10],
          [9, 10],
          [9, 1],
          [0, 1],
        ],
        holes: [],
      },
      5,
    );
    const lidless = meshFromFaces(
      [...wall.positions],
      [...Array(faceCount(wall)).keys()]
        .slice(0, -1)
        .map((f) => [...wall.corners.subarray(wall.loopStart[f]!, wall.loopStart[f + 1]!)]),
    );
    expect(() => thicken(lidless, { thickness: 0.8, side: 'inside', far: '', rim: '' })).toThrow(/too thick/);
    expect(isClosed(thicken(lidless, { thickness: 0.3, side: 'inside', far: '', rim: '' }).mesh)).toBe(true);
  });

  it('a picked piece alone: the rest stays bit for bit, and what hangs together with others is refused', () => {
    const plate = sheet(6, 4, [3, 2]);
    const m = joinMeshes([box(2, 2, 2), plate]);
    const picked = [...Array(faceCount(plate)).keys()].map((f) => f + 6);
    const { mesh } = thicken(m, { thickness: 0.5, faces: picked });
    expect(isClosed(mesh)).toBe(true);
    expect(areaAndVolume(mesh).volume).toBeCloseTo(8 + 12, 12);
    const corners = (x: PolyMesh) => [...x.corners.slice(0, 24)].map((v) => vertexPlace(x, v));
    expect(corners(mesh)).toEqual(corners(m));
    expect(() => thicken(m, { thickness: 0.5, faces: picked.slice(1) })).toThrow(/Detach them first/);
    expect(() => thicken(m, { thickness: 0.5, faces: [0, 1, 2, 3, 4, 5] })).toThrow(/closed/);
  });
});
