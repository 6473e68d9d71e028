import { describe, expect, it } from 'vitest';
import { areaAndVolume, faceCount, isClosed, topologyOf } from '../../mesh/index.ts';
import { box, cylinder, sheet } from '../../shapes/index.ts';
import { bevelVertices, holdEdges, sharpEdges } from '../index.ts';
import { volume, cut, edgesWhere, sound, places } from './testing.ts';

describe('holding lines', () => {
  it('of a box: on both sides of all edges, the surface as it was', () => {
    const m = { ...box(4, 6, 8), layers: { hard: new Uint8Array(24).fill(1) } };
    const { mesh } = holdEdges(m, { edges: sharpEdges(m, 30), distance: 0.5 });
    expect(volume(mesh)).toBeCloseTo(192, 12);
    expect(areaAndVolume(mesh).area).toBeCloseTo(2 * (24 + 32 + 48), 11);
    // Six flats within, two bands along each of twelve edges, three quads at each of eight corners.
    expect(faceCount(mesh)).toBe(6 + 24 + 24);
    for (let f = 0; f < faceCount(mesh); f++) expect(mesh.loopStart[f + 1]! - mesh.loopStart[f]!).toBe(4);
    const lengths = [...Array(topologyOf(mesh).edgeCount).keys()].filter(
      (e) => mesh.layers.hard![topologyOf(mesh).edgeCorner[e]!],
    );
    // Each edge is still hard, in three parts.
    expect(lengths).toHaveLength(36);
    expect(sharpEdges(mesh, 30)).toHaveLength(36);
    expect(isClosed(mesh)).toBe(true);
  });

  it('of a round hole: rings in the flat and in the wall, no other vertex in the flat', () => {
    const m = cut(box(20, 20, 6), cylinder(4, 20, 32));
    const { mesh } = holdEdges(m, { edges: edgesWhere(m, (x, y) => Math.hypot(x, y) < 5), distance: 0.75 });
    expect(volume(mesh)).toBeCloseTo(volume(m), 10);
    const top = places(mesh).filter((p) => Math.abs(p[2]! - 3) < 1e-12);
    expect(top).toHaveLength(4 + 64);
    const a = (4 * Math.cos(Math.PI / 32) + 0.75) / Math.cos(Math.PI / 32);
    expect(top.filter((p) => Math.abs(Math.hypot(p[0]!, p[1]!) - a) < 1e-12)).toHaveLength(32);
    sound(mesh, m);
  });
});

describe('vertices cut off', () => {
  it('of a cube: a sixth of a small cube each, faces of eight corners', () => {
    const m = box(4, 4, 4);
    const {
      mesh,
      report: { narrowed },
    } = bevelVertices(m, { vertices: [...Array(8).keys()], width: 1 });
    expect(volume(mesh)).toBeCloseTo(64 - 8 / 6, 12);
    expect([faceCount(mesh), narrowed, isClosed(mesh)]).toEqual([14, 0, true]);
    // To the middles of the edges, and no further, both ends cut.
    const most = bevelVertices(m, { vertices: [...Array(8).keys()], width: 3 });
    expect(most.report.narrowed).toBe(8);
    expect(isClosed(most.mesh)).toBe(true);
    expect(volume(most.mesh)).toBeGreaterThan(64 * (5 / 6));
    expect(volume(bevelVertices(m, { vertices: [0], width: 3 }).mesh)).toBeCloseTo(64 - 27 / 6, 12);
    expect(() => bevelVertices(sheet(2, 2), { vertices: [0], width: 0.5 })).toThrow(/open border/);
  });
});
