import { describe, expect, it } from 'vitest';
import { carve } from '../../../carve/index.ts';
import {
  faceBegin,
  faceCount,
  faceEnd,
  isClosed,
  pairsThatMeet,
  topologyOf,
  transformMesh,
  vertexCount,
  vertexPlace,
  type PolyMesh,
} from '../../../mesh/index.ts';
import { ballFromPatches, ballFromRings, box, cone, cylinder, sheet, torus, tube } from '../../../shapes/index.ts';
import { surfaceDrift } from '../../../survey/index.ts';
import { collar } from '../../collar/collar.ts';
import { seamEdges } from '../../selectBy.ts';
import { toQuads } from '../toQuads.ts';
import { joinRows } from './joinRows.ts';
import { rimLots } from './rimLots.ts';
import { rowDrawing } from './rowDrawing.ts';

const all = () => true;
/** A cutter along x, its middle at a place. */
const alongX = (m: PolyMesh, x: number, y = 0, z = 0) => transformMesh(m, [0, 0, 1, x, 0, 1, 0, y, -1, 0, 0, z]);
const cut = (m: PolyMesh, ...cutters: PolyMesh[]) => carve(m, { cutters, operation: 'subtract', course: 2 }).mesh;
const sides = (m: PolyMesh, f: number) => faceEnd(m, f) - faceBegin(m, f);
const allQuads = (m: PolyMesh) => Array.from({ length: faceCount(m) }, (_, f) => sides(m, f)).every((n) => n === 4);
/** A face by the places of its corners, whatever their order. */
const faceName = (m: PolyMesh, f: number) =>
  Array.from({ length: sides(m, f) }, (_, i) => vertexPlace(m, m.corners[faceBegin(m, f) + i]!).join())
    .sort()
    .join(';');
const faceNames = (m: PolyMesh) => new Set(Array.from({ length: faceCount(m) }, (_, f) => faceName(m, f)));
/** How many vertices have no other one at their image in y. */
function unmirrored(m: PolyMesh): number {
  const name = (x: number, y: number, z: number) => [x, y, z].map((k) => Math.round(k * 1e5) + 0).join();
  const places = Array.from({ length: vertexCount(m) }, (_, v) => vertexPlace(m, v));
  const names = new Set(places.map((p) => name(p[0], p[1], p[2])));
  return places.filter((p) => !names.has(name(p[0], -p[1], p[2]))).length;
}

/** The sheet of six by six with a hole of 16 edges in its middle. */
const holed = cut(sheet(60, 60, [6, 6]), cylinder(12, 20, 16));
const [R, N] = [30, 48];
const drum = cut(cylinder(R, 60, N), alongX(cylinder(8, 60, 16), R));
const ball = cut(ballFromPatches(40, 12), alongX(cylinder(12, 60, 24), 40));

describe('lots round rims', () => {
  it('are the fewest whole rows and columns with room for quads', () => {
    const [lot, ...others] = rimLots(holed, all);
    expect(others).toEqual([]);
    expect([lot!.facets.length, lot!.outline.length, lot!.corners]).toEqual([16, 16, [0, 4, 8, 12]]);
    // Facets that may not be laid out are excluded: the rest is no rectangle.
    const one = lot!.facets.find((f) => sides(holed, f) > 4)!;
    expect(rimLots(holed, (f) => f !== one).flatMap((l) => l.facets)).not.toContain(one);
  });

  it('there are none on bodies without rows, nor where a rim has rows on both sides already', () => {
    expect(rimLots(cut(box(100, 60, 20), cylinder(10, 40, 24)), all)).toEqual([]);
    expect(rimLots(cylinder(R, 60, N), all)).toEqual([]);
    const { mesh } = toQuads(holed, {});
    expect(rimLots(mesh, all)).toEqual([]);
  });

  it('join when they share a facet', () => {
    const two = cut(cylinder(R, 60, N), alongX(cylinder(5, 60, 16), R, 0, -14), alongX(cylinder(5, 60, 16), R, 0, 14));
    const lots = rimLots(two, all);
    expect(lots.length).toBe(1);
    const { mesh, lots: joined } = joinRows(two, all, true);
    // One face with both holes.
    expect([...joined.keys()].map((f) => mesh.faceLoops[f + 1]! - mesh.faceLoops[f]!)).toEqual([3]);
  });

  it('unroll where they can: columns keep their width and stand upright', () => {
    const [lot] = rimLots(drum, all);
    const drawing = rowDrawing(drum, lot!)!;
    const width = 2 * R * Math.sin(Math.PI / N);
    const extent = ([0, 1] as const).map((k) => Math.max(...[...drawing.values()].map((p) => p[k])));
    const along = extent[0]! > extent[1]! ? 0 : 1;
    expect(extent[along]).toBeCloseTo(60, 6);
    for (const [v, at] of drawing) {
      const p = vertexPlace(drum, v);
      const column = (Math.atan2(p[1], p[0]) * N) / (2 * Math.PI);
      const across = at[1 - along]! / width;
      expect(Math.min(at[0], at[1])).toBeGreaterThan(-1e-9);
      // What stands on a column stands on one there; nothing else does.
      expect(Math.abs(across - Math.round(across)) < 1e-6).toBe(Math.abs(column - Math.round(column)) < 1e-9);
    }
  });
});

describe('holes in rows and columns', () => {
  it('a sheet: a ring of as many quads as the hole has edges, to the next row', () => {
    const { mesh, report } = toQuads(holed, {});
    expect([faceCount(mesh), report.quads, report.triangles, report.split, report.gathered]).toEqual([36, 16, 0, 0, 8]);
    // The corners of the box lie on the outline of the lot: five quads meet there.
    expect([report.poles, report.places.poles.map((p) => Math.hypot(p[0], p[1]))]).toEqual([
      4,
      [0, 1, 2, 3].map(() => expect.closeTo(20 * Math.SQRT2, 9) as number),
    ]);
    expect(allQuads(mesh)).toBe(true);
    expect(unmirrored(mesh)).toBe(0);
    expect(surfaceDrift(holed, mesh)!.distance).toBeLessThan(1e-9);
  });

  it('begin beyond a collar, which stays bit for bit', () => {
    const { mesh: collared } = collar(holed, { edges: seamEdges(holed), width: 2, rows: 1 });
    const band = [...faceNames(collared)].filter((name) => !faceNames(holed).has(name));
    const ring = Array.from({ length: faceCount(collared) }, (_, f) => f).filter(
      (f) => sides(collared, f) === 4 && band.includes(faceName(collared, f)),
    );
    expect(ring.length).toBe(24);
    const { mesh, report } = toQuads(collared, {});
    const names = faceNames(mesh);
    for (const f of ring) expect(names.has(faceName(collared, f))).toBe(true);
    expect([allQuads(mesh), report.triangles, report.split]).toEqual([true, 0, 0]);
    expect(faceCount(mesh)).toBe(20 + 24 + report.quads);
  });

  it('the rim keeps all its vertices on wish', () => {
    const { mesh, report } = toQuads(holed, { gather: false });
    expect(report.gathered).toBe(0);
    const names = new Set(Array.from({ length: vertexCount(mesh) }, (_, v) => vertexPlace(mesh, v).join()));
    const t = topologyOf(holed);
    const rim = Array.from(holed.corners.keys()).filter((c) => t.opposite[c]! < 0);
    expect(rim.length).toBe(24 + 24);
    for (const c of rim) expect(names.has(vertexPlace(holed, holed.corners[c]!).join())).toBe(true);
  });

  it.each([
    ['a ball of patches', ball, 24],
    ['a ball of rings', cut(ballFromRings(40, 32, 16), alongX(cylinder(12, 60, 24), 40)), 24],
    ['a cylinder of rows', cut(cylinder(30, 60, 32, 8), alongX(cylinder(12, 60, 24), 30)), 24],
    ['a ring', cut(torus(40, 14, 48, 24), alongX(cylinder(6, 60, 16), 50)), 16],
  ])('%s: quads alone, even, and what is out of reach stays bit for bit', (_, body, segments) => {
    const { mesh, report } = toQuads(body, {});
    expect([isClosed(mesh), report.triangles, report.left]).toEqual([true, 0, 0]);
    expect(pairsThatMeet(mesh)).toEqual([]);
    const seam = topologyOf(mesh).edgeCorner.filter((c) => mesh.layers.seam?.[c]);
    expect(seam.length % segments).toBe(0);
    expect(unmirrored(mesh)).toBe(0);
    const names = faceNames(mesh);
    const far = Array.from({ length: faceCount(body) }, (_, f) => f).filter((f) =>
      Array.from({ length: sides(body, f) }, (_, i) => vertexPlace(body, body.corners[faceBegin(body, f) + i]!)).every(
        (p) => p[0] < 20,
      ),
    );
    expect(far.length).toBeGreaterThan(100);
    expect(far.filter((f) => sides(body, f) === 4 && !names.has(faceName(body, f)))).toEqual([]);
    // Laid out again it stays as it is.
    expect(faceNames(toQuads(mesh, {}).mesh)).toEqual(names);
  });

  it.each([
    ['a tube', cut(tube(30, 24, 60, 48), alongX(cylinder(8, 60, 16), 30)), 31],
    ['a cone', cut(cone(30, 15, 60, 48), alongX(cylinder(8, 60, 24), 25)), 25],
    ['a drum', drum, 30],
    ['a drum, aside', cut(cylinder(R, 60, N), alongX(cylinder(12, 60, 24), R, 3, 5)), 25],
  ])('%s: rows and columns go on, and no corner is sharp', (_, body, least) => {
    const { mesh, report } = toQuads(body, {});
    expect([isClosed(mesh), allQuads(mesh), report.triangles]).toEqual([true, true, 0]);
    expect(pairsThatMeet(mesh)).toEqual([]);
    expect(report.sharpest).toBeGreaterThan(least);
    expect(surfaceDrift(body, mesh)!.distance).toBeLessThan(0.3);
  });
});
