import { describe, expect, it } from 'vitest';
import { carve } from '../../carve/index.ts';
import {
  isClosed,
  MasonError,
  placementAffine,
  topologyOf,
  transformMesh,
  vertexPlace,
  withSource,
  type PolyMesh,
  pairsThatMeet,
} from '../../mesh/index.ts';
import { ballFromPatches, box, cylinder } from '../../shapes/index.ts';
import { bevel } from './bevel.ts';

const at = (m: PolyMesh, x: number, y: number, z: number) =>
  transformMesh(m, placementAffine({ position: [x, y, z], turn: [0, 0, 0] }));
const joined = (a: PolyMesh, b: PolyMesh, operation: 'union' | 'subtract') =>
  carve(withSource(a, 1, 1), { cutters: [withSource(b, 2, 3)], operation, course: 3 }).mesh;
const seamOf = (m: PolyMesh) => {
  const t = topologyOf(m);
  return [...t.edgeCorner].filter((c) => m.layers.seam![c] || m.layers.seam![t.opposite[c]!]).map((c) => t.edge[c]!);
};

describe('a bevel over what lies beneath', () => {
  it('is full along the seam of a dense ball, where the faces beside it leave no room', () => {
    const m = joined(cylinder(25, 120, 48), at(ballFromPatches(20, 12), 25, 0, 0), 'union');
    const edges = seamOf(m);
    const wish = { edges, width: 3.8, segments: 2, profile: 1 };
    const bare = bevel(m, wish).report;
    expect([bare.narrowed > 20, bare.least < 0.9, bare.full < 0.9, bare.bands]).toEqual([true, true, true, 0]);
    const { mesh, report } = bevel(m, { ...wish, over: true });
    expect([report.narrowed, report.least, report.full, report.bands]).toEqual([0, 1, 1, 2]);
    expect([isClosed(mesh), pairsThatMeet(mesh)]).toEqual([true, []]);
    // What was cut is all there but for the strips: along the seam the volume changes by a fillet.
    expect(report.edges).toBeLessThan(edges.length);
  });

  it('stays as it is where there is room, and where a band gives no more', () => {
    const plate = joined(box(60, 40, 10), cylinder(8, 30, 32), 'subtract');
    const roomy = { edges: seamOf(plate), width: 2, over: true };
    expect(bevel(plate, roomy).report).toMatchObject({ narrowed: 0, bands: 0, full: 1 });
    expect(bevel(plate, roomy).mesh.corners).toEqual(bevel(plate, { ...roomy, over: false }).mesh.corners);
    // Strips from both rims meet in the middle of the wall: no band makes room there.
    const tight = { edges: seamOf(plate), width: 6 };
    const bare = bevel(plate, tight);
    const over = bevel(plate, { ...tight, over: true });
    expect(over.report.full).toBeGreaterThanOrEqual(bare.report.full);
    expect(over.report.least).toBeGreaterThanOrEqual(bare.report.least);
    expect(() => bevel(plate, { ...tight, past: 'stop', over: true })).toThrow(MasonError);
  });

  it('takes the plain bevel where bands would leave it less: at a cut edge whose faces turn sharply', () => {
    const turned = transformMesh(box(20, 20, 20), placementAffine({ position: [20, 0, 20], turn: [30, 30, 30] }));
    const m = joined(box(40, 40, 40), turned, 'subtract');
    const wish = { edges: seamOf(m), width: 3, segments: 2, profile: 1 };
    const bare = bevel(m, wish);
    expect([bare.report.narrowed > 0, bare.report.full > 0.4]).toEqual([true, true]);
    const over = bevel(m, { ...wish, over: true });
    expect([over.report.bands, over.report.full]).toEqual([0, bare.report.full]);
    expect(over.mesh.positions).toEqual(bare.mesh.positions);
  });

  it('leaves the other edges of the bevel, their widths and the slots alone', () => {
    const m = joined(
      joined(cylinder(25, 120, 48), at(ballFromPatches(20, 12), 25, 0, 0), 'union'),
      at(box(10, 10, 10), -25, 0, 40),
      'subtract',
    );
    const t = topologyOf(m);
    const all = seamOf(m);
    const isPocket = (e: number) => m.positions[3 * m.corners[t.edgeCorner[e]!]!]! < 0;
    const widths = new Map(all.filter(isPocket).map((e) => [e, 0.5]));
    const { mesh, report } = bevel(m, { edges: all, width: 3.8, widths, over: true, slot: 'Edges' });
    expect(report).toMatchObject({ narrowed: 0, bands: 2 });
    // Progress goes on from the plain bevel to the bands and the bevel on these.
    const told: number[] = [];
    bevel(m, { edges: all, width: 3.8, widths, over: true }, { progress: (x) => told.push(x) });
    expect(told.every((x, i) => !i || x >= told[i - 1]!)).toBe(true);
    // The pocket's strips are half a millimetre wide, from 5 mm off its middle, on the hull's second facets.
    const slope = (1.5 * 2 * Math.PI) / 48;
    const wide = Array.from({ length: mesh.positions.length / 3 }, (_, v) => vertexPlace(mesh, v)).filter(
      (p) => p[0] < -10 && Math.abs(p[2] - 40) < 6 && Math.abs(p[1]) < 8,
    );
    expect(Math.max(...wide.map((p) => Math.abs(p[1])))).toBeCloseTo(5 + 0.5 * Math.cos(slope), 6);
    expect([isClosed(mesh), mesh.slots]).toEqual([true, ['Body', 'Edges']]);
  });
});
