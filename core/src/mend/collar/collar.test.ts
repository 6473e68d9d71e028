import { describe, expect, it } from 'vitest';
import { carve } from '../../carve/index.ts';
import {
  areaAndVolume,
  faceCount,
  faceNormals,
  genus,
  isClosed,
  MasonError,
  nearestOn,
  placementAffine,
  takeFaces,
  topologyOf,
  transformMesh,
  vertexCount,
  withSlot,
  withSource,
  type PolyMesh,
  type Vec3,
  vertexPlace,
} from '../../mesh/index.ts';
import { toldWhile } from '../../mesh/testProgress.ts';
import { ballFromRings, box, cylinder, sheet, tube } from '../../shapes/index.ts';
import { findings, boundaryCrosses, surfaceDrift } from '../../survey/index.ts';
import { gatherRims } from '../gatherRims.ts';
import { collar, type CollarOptions } from './collar.ts';

const wish: Omit<CollarOptions, 'edges'> = { width: 2, rows: 2, aim: 'square', shift: 0, sides: 'both' };
const placed = (m: PolyMesh, position: [number, number, number], turn: [number, number, number] = [0, 0, 0]) =>
  transformMesh(m, placementAffine({ position, turn }));
const cut = (a: PolyMesh, b: PolyMesh, operation: 'union' | 'subtract' = 'subtract') =>
  carve(withSource(a, 1, 1), { cutters: [withSource(b, 2, 3)], operation, course: 3 }).mesh;
const seamOf = (m: PolyMesh) =>
  [...topologyOf(m).edgeCorner].filter((c) => m.layers.seam![c] || m.layers.seam![topologyOf(m).opposite[c]!]);
const at = (m: PolyMesh, v: number): Vec3 => vertexPlace(m, v);
const places = (m: PolyMesh) => Array.from({ length: vertexCount(m) }, (_, v) => at(m, v));
const name = (p: Vec3) => p.join();
/** Edges (by one corner each) with both ends where a rule says. */
const edgesAt = (m: PolyMesh, is: (p: Vec3) => boolean) =>
  [...topologyOf(m).edgeCorner].filter(
    (c) => is(at(m, m.corners[c]!)) && is(at(m, m.corners[topologyOf(m).next[c]!]!)),
  );
/** Places that a mesh has and another has not. */
const added = (after: PolyMesh, before: PolyMesh) => {
  const had = new Set(places(before).map(name));
  return places(after).filter((p) => !had.has(name(p)));
};
/**
 * Quads that lie in rows along the sides of the line, each counted once: on the walls of the cut, elsewhere, or on
 * both.
 */
function bandQuads(after: PolyMesh, rows: number, sides: CollarOptions['sides']): number {
  const t = topologyOf(after);
  const found = new Set<number>();
  const { seam, source } = after.layers;
  for (const c of seamOf(after).flatMap((x) => [x, t.opposite[x]!])) {
    const wall = source![3 * t.face[c]! + 2] === seam![c];
    if (sides !== 'both' && wall !== (sides === 'walls')) continue;
    for (let [k, at] = [0, c]; k < rows; k++) {
      const f = t.face[at]!;
      if (after.faceLoops[f + 1]! - after.faceLoops[f]! > 1 || t.next[t.next[t.next[t.next[at]!]!]!] !== at) break;
      found.add(f);
      at = t.opposite[t.next[t.next[at]!]!]!;
    }
  }
  return found.size;
}
/**
 * What every band must be: on a closed part that stays so, of quads, with no face that crosses itself, and its line
 * where it was: but for so much (mm) where short edges were joined.
 */
function isBand(
  before: PolyMesh,
  after: PolyMesh,
  quads: number,
  { rows = 2, sides = 'both', moved = 0 }: Partial<CollarOptions> & { moved?: number } = {},
): void {
  expect([isClosed(after), genus(after)]).toEqual([true, genus(before)]);
  for (let f = 0; f < faceCount(after); f++) expect(boundaryCrosses(after, f)).toBe(false);
  expect(bandQuads(after, rows, sides)).toBe(quads);
  const u = topologyOf(after);
  const line = seamOf(after).map((c) => [at(after, after.corners[c]!), at(after, after.corners[u.next[c]!]!)] as const);
  for (const c of seamOf(before)) {
    const p = at(before, before.corners[c]!);
    expect(Math.min(...line.map(([a, b]) => nearestOn(p, a, b).distance))).toBeLessThanOrEqual(moved);
  }
  if (!moved) expect(seamOf(after).length).toBe(seamOf(before).length);
  expect(findings(after).filter((x) => x.severity === 'error')).toEqual([]);
}

describe('a collar', () => {
  it('lies round a hole in a plate and down its walls, parallel to the rim, exactly on the faces', () => {
    const m = withSlot(cut(box(60, 40, 10), cylinder(8, 30, 32)), 'Steel');
    const { mesh, report } = collar(m, { edges: seamOf(m), ...wish });
    isBand(m, mesh, 4 * 32 * 2);
    expect([report.bands, report.quads, report.narrowed, report.none, report.swallowed]).toEqual([4, 256, 0, [], 0]);
    expect(surfaceDrift(m, mesh)!.distance).toBe(0);
    expect(areaAndVolume(mesh)).toEqual({
      area: expect.closeTo(areaAndVolume(m).area, 8),
      volume: expect.closeTo(areaAndVolume(m).volume, 8),
    });
    // The flats of the rim are 8 cos(π/32) from the axis, those of the rows one and two mm more.
    const middle = 8 * Math.cos(Math.PI / 32);
    const radii = added(mesh, m)
      .filter((p) => Math.abs(p[2]) === 5)
      .map((p) => Math.hypot(p[0], p[1]) * Math.cos(Math.PI / 32));
    expect(radii.length).toBe(2 * 2 * 32);
    for (const r of radii) expect(Math.min(Math.abs(r - middle - 1), Math.abs(r - middle - 2))).toBeLessThan(1e-12);
    const deep = added(mesh, m).filter((p) => Math.abs(p[2]) !== 5);
    for (const p of deep) expect([3, 4]).toContain(+Math.abs(p[2]).toFixed(12));
    expect([mesh.slots, mesh.layers.slot!.length, mesh.layers.seam!.filter(Boolean).length]).toEqual([
      ['Steel'],
      faceCount(mesh),
      m.layers.seam!.filter(Boolean).length,
    ]);
  });

  it('swallows the faces and edges that lie under it, and counts them; those of no band stay', () => {
    const m = cut(box(60, 40, 10, [12, 8, 1]), cylinder(8, 30, 32));
    const { mesh, report } = collar(m, {
      edges: seamOf(m),
      ...wish,
      gather: false,
      width: 4,
      rows: 1,
      sides: 'surface',
    });
    isBand(m, mesh, 2 * 40, { rows: 1, sides: 'surface' });
    // Between the rim and a circle of 12 mm, on both flats.
    const t = topologyOf(m);
    const far = (v: number) => Math.hypot(...at(m, v).slice(0, 2));
    const under = (v: number) => far(v) < 11.9;
    const isFlat = (c: number) => [c, t.opposite[c]!].every((x) => Math.abs(faceNormals(m)[3 * t.face[x]! + 2]!) > 0.9);
    const faces = [...Array(faceCount(m)).keys()].filter(
      (f) =>
        Math.abs(faceNormals(m)[3 * f + 2]!) > 0.9 &&
        [...m.corners.subarray(m.loopStart[m.faceLoops[f]!], m.loopStart[m.faceLoops[f + 1]!])].every(under),
    );
    const edges = [...t.edgeCorner].filter((c) => isFlat(c) && under(m.corners[c]!) && under(m.corners[t.next[c]!]!));
    expect([report.swallowed, report.under]).toEqual([faces.length, edges.length]);
    expect(faces.length).toBe(16);
    expect(report.narrowest).toBeCloseTo(4, 9);
    expect(surfaceDrift(m, mesh)!.distance).toBe(0);
  });

  it('goes through corners of faces where its outer edge meets them', () => {
    const diamond = placed(box(15 * Math.SQRT2, 15 * Math.SQRT2, 30), [0, 0, 0], [0, 0, 45]);
    const m = cut(box(80, 80, 10, [8, 8, 1]), diamond);
    // From the square |x| + |y| = 15 to that of 30, which goes from corner to corner of the cells.
    const { mesh, report } = collar(m, {
      edges: seamOf(m),
      ...wish,
      width: 15 / Math.SQRT2,
      rows: 1,
      sides: 'surface',
    });
    isBand(m, mesh, 2 * seamOf(m).length * 0.5, { rows: 1, sides: 'surface' });
    expect([report.bands, report.narrowest]).toEqual([2, expect.closeTo(15 / Math.SQRT2, 9)]);
    expect(surfaceDrift(m, mesh)!.distance).toBe(0);
  });

  it('narrows where its outer edge would come to lie on itself, along the middle of a wall', () => {
    for (const turn of [
      [90, 0, 30],
      [0, 90, 30],
      [90, 90, 30],
    ] as const) {
      const m = cut(box(80, 80, 10, [20, 20, 1]), placed(cylinder(15, 100, 12), [0, 0, 0], [...turn]));
      // From both rims it would end on the edge that runs along at half the height.
      const { mesh, report } = collar(m, { edges: seamOf(m), ...wish, width: 5, rows: 1, shift: 1 });
      expect([isClosed(m), isClosed(mesh), genus(mesh)]).toEqual([true, true, genus(m)]);
      expect([report.narrowed > 0, report.narrowest < 5]).toEqual([true, true]);
    }
  });

  it('leaves no face that crosses itself where it goes over the bends of a wall', () => {
    for (const [radius, at, turn, of] of [
      [10, [5, 0, 0], [90, 0, 45], { width: 2, rows: 1, sides: 'walls' }],
      [5, [2.5, 5, 0], [90, 0, 30], { width: 5, rows: 2, sides: 'both' }],
    ] as const) {
      const m = cut(box(80, 80, 10, [8, 8, 1]), placed(cylinder(radius, 100, 12), [...at], [...turn]));
      const { mesh } = collar(m, { edges: seamOf(m), ...wish, ...of, shift: 1 });
      expect([isClosed(mesh), genus(mesh)]).toEqual([true, genus(m)]);
      for (let f = 0; f < faceCount(mesh); f++) expect(boundaryCrosses(mesh, f)).toBe(false);
    }
  });

  it('is none where less than a fiftieth of its width has room; the sides that have room get theirs', () => {
    // The wall of the hole is 0.15 mm from the side of the plate at the nearest.
    const near = (gap: number) => cut(box(60, 40, 10), placed(cylinder(8, 30, 32), [0, 12 - gap, 0]));
    for (const [gap, none] of [
      [0.1, 2],
      [1, 0],
    ] as const) {
      const m = near(gap);
      const { mesh, report } = collar(m, { edges: seamOf(m), ...wish, width: 8, rows: 1 });
      expect([report.none.length, report.bands, isClosed(mesh)]).toEqual([none, 4 - none, true]);
      expect(report.narrowest).toBeGreaterThan(0.02 * 8);
      // Where there was no room is reported: on the rims.
      for (const p of report.none)
        expect([Math.hypot(p[0], p[1] - 12 + gap), Math.abs(p[2])]).toEqual([expect.closeTo(8, 6), 5]);
    }
  });

  it('tells how far it is', () => {
    const m = cut(box(60, 40, 10), cylinder(8, 30, 16));
    expect(toldWhile((ctx) => collar(m, { edges: seamOf(m), ...wish }, ctx), 0)).toEqual(['Bands']);
  });

  it('is mitred at the corners of a square hole, on one side if that is asked for', () => {
    const m = cut(box(60, 40, 10), box(16, 16, 40));
    const { mesh, report } = collar(m, { edges: seamOf(m), ...wish, rows: 1, sides: 'surface' });
    isBand(m, mesh, 2 * 4, { rows: 1, sides: 'surface' });
    expect(report.bands).toBe(2);
    const corners = [-10, 10].flatMap((x) => [-10, 10].flatMap((y) => [-5, 5].map((z) => [x, y, z].join())));
    expect(
      added(mesh, m)
        .map((p) => p.map((x) => +x.toFixed(9)).join())
        .sort(),
    ).toEqual(corners.sort());
    const walls = collar(m, { edges: seamOf(m), ...wish, rows: 1, sides: 'walls' });
    // Down the walls the spokes run along their creases.
    expect(
      added(walls.mesh, m)
        .map((p) => [Math.abs(p[0]), Math.abs(p[1]), Math.abs(p[2])].map((x) => +x.toFixed(9)).join())
        .sort(),
    ).toEqual(Array(8).fill('8,8,3'));
  });

  it('lies on both surfaces where a tube goes into a ball', () => {
    const [R, outer, inner] = [20, 6, 4];
    const m = cut(ballFromRings(R, 48, 24), placed(tube(outer, inner, 40, 32), [0, 0, 20]), 'union');
    const { mesh, report } = collar(m, { edges: seamOf(m), ...wish });
    // Every second of the seam's edges is short beside the others: it is joined to the next one.
    isBand(m, mesh, report.quads, { moved: 0.04 * 2 });
    expect([report.bands, report.narrowed, report.none, report.others]).toEqual([4, 0, [], 0]);
    expect(report.quads).toBe(2 * 2 * seamOf(mesh).length);
    expect(seamOf(mesh).length).toBeGreaterThanOrEqual(64);
    expect(report.moved).toBeLessThanOrEqual(0.04 * 2);
    // Facets of the ball lie within it by their sagitta, those of the tube within its circles by theirs.
    const deep = R * (1 - Math.cos(Math.PI / 24) * Math.cos(Math.PI / 48));
    for (const p of added(mesh, m)) {
      const [far, wide] = [Math.hypot(...p), Math.hypot(p[0], p[1])];
      const onBall = far <= R + 1e-9 && far >= R - deep;
      const onTube = [outer, inner].some((r) => wide <= r + 1e-9 && wide >= r * Math.cos(Math.PI / 32) - 1e-9);
      expect(onBall || onTube).toBe(true);
    }
    expect(surfaceDrift(m, mesh)!.distance).toBeLessThan(deep + report.moved);
  });

  it('lies along the seam of two tubes that meet at 30°', () => {
    const m = cut(cylinder(10, 100, 48), placed(cylinder(6, 60, 32), [0, -25, 0], [30, 0, 0]), 'union');
    const { mesh, report } = collar(m, { edges: seamOf(m), ...wish, gather: false, width: 1.5 });
    expect([report.bands, report.none]).toEqual([2, []]);
    // In an acute corner two spokes share a place, and in an obtuse one stands a fan: quads everywhere else.
    expect(report.others).toBeLessThanOrEqual(2);
    isBand(m, mesh, 4 * seamOf(mesh).length - 2, { moved: 0.04 * 1.5 });
    // Full all round, in the acute corners too.
    expect([report.narrowest, report.narrowed]).toEqual([1.5, 0]);
    expect(surfaceDrift(m, mesh)!.distance).toBeLessThan(0.06 * 1.5 + report.moved);
  });

  it('has its spokes on the edges of a box where it stands on a cylinder', () => {
    const m = cut(cylinder(20, 60, 64), placed(box(16, 40, 20), [0, 20, 0]), 'union');
    const { mesh, report } = collar(m, { edges: seamOf(m), ...wish, width: 1, rows: 1 });
    // At each corner of the box a fan of two quads lies on the cylinder.
    expect([report.bands, report.none, report.quads]).toEqual([2, [], 2 * seamOf(m).length + 4]);
    isBand(m, mesh, report.quads - 4, { rows: 1 });
    const onEdges = added(mesh, m).filter(
      (p) => Math.abs(Math.abs(p[0]) - 8) < 1e-9 && Math.abs(Math.abs(p[2]) - 10) < 1e-9 && p[1] > 18,
    );
    expect(onEdges.length).toBe(4);
  });

  it('leaves a round hole as round as it is, however short its edges are beside the width', () => {
    const m = cut(box(60, 40, 10), cylinder(8, 30, 64));
    const { mesh, report } = collar(m, { edges: seamOf(m), ...wish, width: 5, rows: 1, sides: 'both' });
    expect([report.moved, report.narrowed > 0, seamOf(mesh).length]).toEqual([0, true, seamOf(m).length]);
    expect(areaAndVolume(mesh).volume).toBeCloseTo(areaAndVolume(m).volume, 8);
  });

  it('narrows beside an edge, and says how far and where', () => {
    // The rim comes to within 2 mm of the plate's side, where the band takes 0.7 of the way.
    const m = cut(box(60, 40, 10), placed(cylinder(8, 30, 32), [20, 0, 0]));
    const { mesh, report } = collar(m, { edges: seamOf(m), ...wish, width: 6, rows: 1, sides: 'surface' });
    isBand(m, mesh, 2 * 32, { rows: 1, sides: 'surface' });
    expect(report.narrowest).toBeCloseTo(0.7 * 2, 9);
    expect(report.at![0]).toBeCloseTo(28, 9);
    expect(report.narrowed).toBeGreaterThan(4);
    expect(surfaceDrift(m, mesh)!.distance).toBe(0);
  });

  it('lets its outer edge be moved along the line, and takes edges of either side for spokes', () => {
    const m = cut(box(60, 40, 10), cylinder(8, 30, 32));
    const { mesh } = collar(m, { edges: seamOf(m), ...wish, rows: 1, shift: 1, sides: 'surface' });
    isBand(m, mesh, 64, { rows: 1, sides: 'surface' });
    const turn = (p: Vec3) => ((Math.atan2(p[1], p[0]) * 32) / (2 * Math.PI) + 32) % 1;
    const turns = added(mesh, m).map(turn);
    // Each end is as far round from its own vertex: none is beside it, as without a shift.
    for (const x of turns) expect(Math.min(x, 1 - x)).toBeGreaterThan(0.2);
    const straight = collar(m, { edges: seamOf(m), ...wish, rows: 1, sides: 'surface' }).mesh;
    for (const x of added(straight, m).map(turn)) expect(Math.min(x, 1 - x)).toBeLessThan(1e-9);
    // On a hull the flats' own edges, which come to the rim askew, carry the spokes.
    const hull = cut(cylinder(20, 60, 64), placed(cylinder(6, 60, 32), [0, 0, 0], [90, 0, 0]));
    const own = collar(hull, {
      edges: seamOf(hull),
      ...wish,
      gather: false,
      rows: 1,
      aim: 'own',
      sides: 'surface',
    }).mesh;
    const onFlats = added(own, hull).filter(
      (p) => Math.abs(((Math.atan2(p[1], p[0]) * 64) / (2 * Math.PI)) % 1) < 1e-9,
    ).length;
    expect(onFlats).toBeGreaterThan(8);
    const across = collar(hull, { edges: seamOf(hull), ...wish, rows: 1, aim: 'across' });
    isBand(hull, across.mesh, across.report.quads, { rows: 1, moved: 0.06 * 2 });
  });

  it('keeps the segments of the cut alone on a closed seam, and its quads all round', () => {
    const hull = cut(cylinder(20, 60, 64), placed(cylinder(6, 60, 32), [0, 0, 0], [90, 0, 0]));
    const { mesh, report } = collar(hull, { edges: seamOf(hull), ...wish, rows: 1, width: 1 });
    expect(report.gathered).toBe(seamOf(hull).length - 2 * 32);
    expect([seamOf(mesh).length, report.quads, report.others]).toEqual([2 * 32, 4 * 32, 0]);
    isBand(gatherRims(hull, { edges: seamOf(hull) }).mesh, mesh, 4 * 32, { rows: 1 });
    expect(surfaceDrift(hull, mesh)!.distance).toBeLessThan(0.1);
    const all = collar(hull, { edges: seamOf(hull), ...wish, rows: 1, width: 1, gather: false });
    expect([all.report.gathered, seamOf(all.mesh).length > 2 * 32]).toEqual([0, true]);
  });

  it('lies round a run that ends within a flat, and on both sides of one from border to border of a sheet', () => {
    const m = box(20, 20, 20, [4, 4, 4]);
    const line = edgesAt(m, ([x, y, z]) => z === 10 && y === 0 && Math.abs(x) <= 5);
    expect(line.length).toBe(2);
    const round = collar(m, { edges: line, ...wish, rows: 1 });
    expect([round.report.bands, round.report.narrowed, round.report.others]).toEqual([1, 0, 0]);
    // Two quads on each side, and half a circle at each end.
    expect([isClosed(round.mesh), surfaceDrift(m, round.mesh)!.distance]).toEqual([true, 0]);
    const outer = added(round.mesh, m);
    for (const p of outer) expect(nearestOn(p, [-5, 0, 10], [5, 0, 10]).distance).toBeCloseTo(2, 9);
    expect(outer.length).toBe(2 * 5 + 2);
    const s = sheet(20, 20, [4, 4]);
    const across = edgesAt(s, (p) => Math.abs(p[1]) < 1e-9);
    expect(across.length).toBe(4);
    const { mesh, report } = collar(s, { edges: across, ...wish });
    expect([report.bands, report.quads, report.others, report.narrowed]).toEqual([2, 16, 0, 0]);
    expect(areaAndVolume(mesh).area).toBeCloseTo(400, 9);
    for (const p of added(mesh, s)) expect([1, 2]).toContain(+Math.abs(p[1]).toFixed(9));
    for (let f = 0; f < faceCount(mesh); f++) expect(boundaryCrosses(mesh, f)).toBe(false);
  });

  it('lies round the hole of an open sheet, whose border has one side alone', () => {
    const s = sheet(40, 40, [8, 8]);
    const inner = [...Array(faceCount(s)).keys()].filter((f) =>
      [...s.corners.subarray(s.loopStart[s.faceLoops[f]!]!, s.loopStart[s.faceLoops[f + 1]!]!)].every(
        (v) => Math.max(Math.abs(at(s, v)[0]), Math.abs(at(s, v)[1])) <= 5,
      ),
    );
    expect(inner.length).toBe(4);
    const holed = takeFaces(s, (f) => !inner.includes(f));
    const t = topologyOf(holed);
    const edges = [...t.edgeCorner].filter(
      (c) => t.opposite[c]! < 0 && Math.max(...at(holed, holed.corners[c]!).map(Math.abs)) <= 5,
    );
    const { mesh, report } = collar(holed, { edges, ...wish, width: 3, rows: 1 });
    expect([report.bands, report.narrowed, report.quads, report.others]).toEqual([1, 0, 8, 0]);
    expect(areaAndVolume(mesh).area).toBeCloseTo(1500, 9);
    // Mitred at the four corners.
    for (const p of added(mesh, holed)) expect(Math.max(Math.abs(p[0]), Math.abs(p[1]))).toBeCloseTo(8, 9);
  });

  it('narrows beside another line of the pick that comes near, and leaves a strip between', () => {
    const holes = [-10, 9].map((x, i) => withSource(placed(cylinder(8, 30, 32), [x, 0, 0]), 2 + i, 3));
    const m = carve(withSource(box(80, 40, 10), 1, 1), { cutters: holes, operation: 'subtract', course: 3 }).mesh;
    const { mesh, report } = collar(m, { edges: seamOf(m), ...wish, rows: 1, sides: 'surface', width: 4 });
    isBand(m, mesh, 4 * 32, { rows: 1, sides: 'surface' });
    // 3 mm lie between the rims: each band takes 0.85 of its half.
    expect(report.narrowest).toBeGreaterThan(0.8 * 1.5);
    expect(report.narrowest).toBeLessThan(0.9 * 1.5);
    expect(surfaceDrift(m, mesh)!.distance).toBe(0);
  });

  it('keeps marked and painted edges: a spoke runs along one that leaves the line, and carries its mark', () => {
    const m = cut(box(60, 40, 10, [2, 1, 1]), cylinder(8, 30, 32));
    const t = topologyOf(m);
    const middle = (c: number) => [c, t.next[c]!].every((x) => Math.abs(at(m, m.corners[x]!)[0]) < 1e-9);
    const top = (c: number) => at(m, m.corners[c]!)[2] === 5 && at(m, m.corners[t.next[c]!]!)[2] === 5;
    const hard = Uint8Array.from(m.corners, (_, c) => (middle(c) && top(c) ? 1 : 0));
    const marked = { ...m, layers: { ...m.layers, hard } };
    const { mesh } = collar(marked, { edges: seamOf(m), ...wish });
    const u = topologyOf(mesh);
    const length = [...u.edgeCorner]
      .filter((c) => mesh.layers.hard![c] || mesh.layers.hard![u.opposite[c]!])
      .map((c) =>
        Math.hypot(...[0, 1, 2].map((k) => at(mesh, mesh.corners[c]!)[k]! - at(mesh, mesh.corners[u.next[c]!]!)[k]!)),
      );
    // From the rim to both sides of the plate, through two rows of bands each.
    expect(length.reduce((a, b) => a + b, 0)).toBeCloseTo(2 * 12, 9);
    expect(length.length).toBe(2 * 3);
  });

  it('refuses sides that are not there', () => {
    const m = box(20, 20, 20, [4, 4, 4]);
    const t = topologyOf(m);
    const top = [...t.edgeCorner].filter((c) =>
      [m.corners[c]!, m.corners[t.next[c]!]!].every((v) => {
        const [x, y, z] = at(m, v);
        return z === 10 && Math.max(Math.abs(x), Math.abs(y)) === 10;
      }),
    );
    expect(top.length).toBe(16);
    expect(() => collar(m, { edges: top, ...wish, sides: 'walls' })).toThrow(MasonError);
    const { mesh, report } = collar(m, { edges: top, ...wish, rows: 1 });
    expect([report.bands, report.quads, report.narrowed, isClosed(mesh), surfaceDrift(m, mesh)!.distance]).toEqual([
      2,
      32,
      0,
      true,
      0,
    ]);
  });
});
