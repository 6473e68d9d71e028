import { describe, expect, it } from 'vitest';
import { carve } from '../../carve/index.ts';
import {
  faceCount,
  genus,
  isClosed,
  placementAffine,
  topologyOf,
  transformMesh,
  vertexCount,
  vertexPlace,
  type PolyMesh,
} from '../../mesh/index.ts';
import { box, cylinder } from '../../shapes/index.ts';
import { surfaceDrift } from '../../survey/index.ts';
import { MeshEdit } from '../meshEdit.ts';
import { seamVertices } from '../merge.ts';
import { joinFacets, spreadOut } from './spread.ts';
import { toQuads } from './toQuads.ts';

const [R, N] = [20, 48];
const across = transformMesh(cylinder(5, 60, 24), placementAffine({ position: [0, 0, 0], turn: [90, 0, 0] }));
const hull = carve(cylinder(R, 40, N), { cutters: [across], operation: 'subtract', course: 3 }).mesh;
const all = () => true;
const sides = (m: PolyMesh, f: number) => m.loopStart[m.faceLoops[f + 1]!]! - m.loopStart[m.faceLoops[f]!]!;
const places = (m: PolyMesh) => {
  const on = seamVertices(m);
  return Array.from({ length: vertexCount(m) }, (_, v) => v)
    .filter((v) => on[v])
    .map((v) => [...m.positions.subarray(3 * v, 3 * v + 3)].join())
    .sort();
};

describe('facets of bent surfaces', () => {
  it('are joined round a boundary that cuts them, with the plain ones beside them; flats and hard edges are not', () => {
    const { mesh, of, lots } = joinFacets(hull, all, () => false);
    expect(isClosed(mesh)).toBe(true);
    expect([of.length, [...lots.values()].reduce((s, l) => s + l.length - 1, 0)]).toEqual([
      faceCount(mesh),
      faceCount(hull) - faceCount(mesh),
    ]);
    const outer = [...lots].filter(([, l]) => l.some((f) => sides(hull, f) > 4) && l.length > 3);
    expect(outer.length).toBeGreaterThanOrEqual(2);
    // A box has flats alone, a prism of eight sides edges.
    for (const m of [box(4, 4, 4, [3, 3, 3]), cylinder(4, 4, 8)])
      expect(joinFacets(m, all, () => false).lots.size).toBe(0);
    expect(
      joinFacets(
        hull,
        () => false,
        () => false,
      ).lots.size,
    ).toBe(0);
    expect(joinFacets(hull, all, all).lots.size).toBe(0);
  });

  it('are laid on a plane and found again there: every corner where it was, what is drawn together goes back', () => {
    const { mesh, lots } = joinFacets(hull, all, () => false);
    const e = new MeshEdit(mesh);
    for (const [f, lot] of lots) {
      const s = spreadOut(hull, lot, (c) => e.flatPoints(f, [vertexPlace(hull, hull.corners[c]!)])[0]!);
      for (const g of lot)
        for (let c = hull.loopStart[hull.faceLoops[g]!]!; c < hull.loopStart[hull.faceLoops[g + 1]!]!; c++) {
          const v = hull.corners[c]!;
          const p = [...hull.positions.subarray(3 * v, 3 * v + 3)] as [number, number, number];
          const at = e.flatPoints(f, [p])[0]!;
          s.lift(at).forEach((x, k) => expect(x).toBeCloseTo(p[k]!, 9));
          s.back(s.drawn(at)).forEach((x, k) => expect(x).toBeCloseTo(at[k]!, 9));
        }
    }
  });

  it('become quads alone, near the surface; the boundary stays, and flats do not drift', () => {
    const { mesh, report } = toQuads(hull, { wanted: all, goal: 'shape', gather: false, pairs: 0 });
    expect([isClosed(mesh), genus(mesh), report.triangles, report.left]).toEqual([true, genus(hull), 0, 0]);
    expect(new Set(Array.from({ length: faceCount(mesh) }, (_, f) => sides(mesh, f)))).toEqual(new Set([4]));
    expect(places(mesh)).toEqual(places(hull));
    expect(topologyOf(mesh).opposite.every((o) => o >= 0)).toBe(true);
    // Quads reach over little more than a facet, whose own arc stands off it by this.
    const sagitta = R * (1 - Math.cos(Math.PI / N));
    const drift = surfaceDrift(hull, mesh)!.distance;
    expect(drift).toBeGreaterThan(0);
    expect(drift).toBeLessThan(4 * sagitta);
  });
});
