import { describe, expect, it } from 'vitest';
import { carve } from '../../carve/index.ts';
import { twistedBar } from '../../carve/suite/index.ts';
import {
  areaAndVolume,
  faceCount,
  FlatFace,
  genus,
  isClosed,
  topologyOf,
  transformMesh,
  vertexCount,
  vertexPlace,
  withSlot,
  type PolyMesh,
  pairsThatMeet,
} from '../../mesh/index.ts';
import { toldWhile } from '../../mesh/testProgress.ts';
import { ballFromPatches, box, cylinder, prism } from '../../shapes/index.ts';
import { surfaceDrift } from '../../survey/index.ts';
import { inTriangles } from '../testMeshes.ts';
import { seamVertices } from '../merge.ts';
import type { QuadOptions } from './quadReport.ts';
import { toQuads } from './toQuads.ts';

/** Whether a face has a corner that turns inward, seen squarely. */
const boundaryTurnsInward = (m: PolyMesh, f: number): boolean => {
  const flat = new FlatFace(m, f);
  return flat.boundaries.some((loop) => {
    const p = loop.map((c) => flat.at(c));
    return p.some((b, i) => {
      const [a, c] = [p.at(i - 1)!, p[(i + 1) % p.length]!];
      return (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]) < -1e-9;
    });
  });
};

const plain: QuadOptions = { goal: 'shape', split: true, pairs: 0 };
const all = () => true;
const moved = (m: PolyMesh, x: number, y = 0, z = 0) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
const holed = (sides: number) =>
  carve(box(60, 40, 10), { cutters: [cylinder(8, 30, sides)], operation: 'subtract', course: 3 }).mesh;
const sides = (m: PolyMesh) =>
  Array.from({ length: faceCount(m) }, (_, f) => m.loopStart[m.faceLoops[f + 1]!]! - m.loopStart[m.faceLoops[f]!]!);
const places = (m: PolyMesh, which: (v: number) => boolean) =>
  Array.from({ length: vertexCount(m) }, (_, v) => v)
    .filter(which)
    .map((v) => [...m.positions.subarray(3 * v, 3 * v + 3)].join());

describe('a part laid out in quads', () => {
  it('has quads alone round a hole, on the surface that was there, and every vertex of before', () => {
    const m = withSlot(holed(24), 'Steel');
    const { mesh, report } = toQuads(m, { wanted: all, ...plain });
    expect(new Set(sides(mesh))).toEqual(new Set([4]));
    expect([report.faces, report.triangles, report.left, report.mirrored, report.even]).toEqual([2, 0, 0, 2, 2]);
    expect([isClosed(mesh), genus(mesh), surfaceDrift(m, mesh)!.distance]).toEqual([true, 1, 0]);
    expect(areaAndVolume(mesh)).toEqual({
      area: expect.closeTo(areaAndVolume(m).area, 8),
      volume: expect.closeTo(areaAndVolume(m).volume, 8),
    });
    const now = new Set(places(mesh, () => true));
    for (const p of places(m, () => true)) expect(now.has(p)).toBe(true);
    // The rim has its own vertices and no other.
    const [before, after] = [m, mesh].map((x) => {
      const on = seamVertices(x);
      return places(x, (v) => !!on[v]).sort();
    });
    expect(after).toEqual(before);
    expect([mesh.slots, mesh.layers.source!.length]).toEqual([['Steel'], 3 * faceCount(mesh)]);
  });

  it('splits no edge where that is not allowed, and leaves a triangle in each odd face then', () => {
    const m = holed(7);
    const kept = toQuads(m, { wanted: all, ...plain, split: false });
    expect([kept.report.split, kept.report.triangles]).toEqual([0, 2]);
    const edges = (x: PolyMesh) =>
      new Set(
        [...topologyOf(x).edgeCorner].map((c) => [x.corners[c]!, x.corners[topologyOf(x).next[c]!]!].sort().join()),
      );
    const now = edges(kept.mesh);
    for (const e of edges(m)) expect(now.has(e)).toBe(true);
    // With splits the two odd faces are joined by a strip round the side.
    const { mesh, report } = toQuads(m, { wanted: all, ...plain });
    expect([report.triangles, report.rounded, isClosed(mesh), new Set(sides(mesh)).size]).toEqual([0, 0, true, 1]);
  });

  it('stops strips at faces that are not wanted, which stay as they are', () => {
    const m = holed(24);
    const top = sides(m).findIndex((n) => n > 4);
    const { mesh, report } = toQuads(m, { wanted: (f) => f === top, ...plain });
    expect([report.faces, report.split, isClosed(mesh)]).toEqual([1, 0, true]);
    expect(sides(mesh).filter((n) => n > 4)).toHaveLength(1);
  });

  it('makes pairs of triangles quads where the surface is level there, and not across hard or cut edges', () => {
    const m = inTriangles(box(10, 10, 10, [3, 3, 3]));
    expect(faceCount(m)).toBe(108);
    const { mesh, report } = toQuads(m, { wanted: all, ...plain, pairs: 1 });
    expect([report.paired, faceCount(mesh), new Set(sides(mesh))]).toEqual([108, 54, new Set([4])]);
    expect(areaAndVolume(mesh).volume).toBeCloseTo(1000, 9);
    const hard = { ...m, layers: { ...m.layers, hard: new Uint8Array(m.corners.length).fill(1) } };
    expect(toQuads(hard, { wanted: all, ...plain, pairs: 90 }).report.paired).toBe(0);
  });

  it('lays inner vertices of a bent face as far off its plane as the boundary is', () => {
    const ball = ballFromPatches(20, 6);
    const bore = carve(ball, { cutters: [cylinder(6, 60, 16)], operation: 'subtract', course: 2 }).mesh;
    const { mesh, report } = toQuads(bore, { wanted: all, ...plain });
    expect([report.left, isClosed(mesh)]).toEqual([0, true]);
    expect(surfaceDrift(bore, mesh)!.distance).toBeLessThan(0.02 * 20);
  });

  it('a quad that turns inward is no row of quads: it is laid out anew, and nothing lies over it', () => {
    const dart = prism(
      {
        points: [
          [0, 0],
          [30, 0],
          [8, 8],
          [0, 30],
        ],
      },
      10,
    );
    const { mesh, report } = toQuads(dart, { wanted: all, ...plain });
    expect(report.faces).toBe(2);
    expect(areaAndVolume(mesh).volume).toBeCloseTo(areaAndVolume(dart).volume, 9);
    expect(pairsThatMeet(mesh)).toEqual([]);
    for (let f = 0; f < faceCount(mesh); f++) expect(boundaryTurnsInward(mesh, f)).toBe(false);
  });

  describe('by lines across flat faces', () => {
    const bored = (depth: number) =>
      carve(box(300, 200, 20), {
        cutters: [moved(cylinder(50, 2 * depth, 32), 0, 0, 10)],
        operation: 'subtract',
        course: 2,
      }).mesh;

    it('a hole through a plate: places run on round it, and front and back are alike', () => {
      const { mesh, report } = toQuads(bored(40), { wanted: all, ...plain });
      expect([isClosed(mesh), report.triangles, report.left, report.faces]).toEqual([true, 0, 0, 2]);
      expect([report.poles, report.mirrored, report.even]).toEqual([8, 2, 2]);
      expect(report.sharpest).toBeGreaterThan(40);
      expect(report.quads).toBe(2 * 68);
      // Each place on top has one below it: a line of the wall leads there.
      const key = (p: readonly number[]) => p.map((x) => x.toFixed(6)).join();
      const at = new Set(Array.from({ length: vertexCount(mesh) }, (_, v) => key(vertexPlace(mesh, v))));
      for (let v = 0; v < vertexCount(mesh); v++) {
        const [x, y, z] = vertexPlace(mesh, v);
        if (Math.abs(Math.abs(x) - 150) < 1e-9 || Math.abs(Math.abs(y) - 100) < 1e-9)
          expect(at.has(key([x, y, -z]))).toBe(true);
      }
      expect(surfaceDrift(bored(40), mesh)!.distance).toBeLessThan(1e-9);
    });

    it('a blind hole: lines run round the part, and meet themselves', () => {
      const blind = bored(8);
      const { mesh, report } = toQuads(blind, { wanted: all, ...plain });
      expect([isClosed(mesh), report.triangles, report.left]).toEqual([true, 0, 0]);
      expect(new Set(sides(mesh))).toEqual(new Set([4]));
      expect(areaAndVolume(mesh).volume).toBeCloseTo(areaAndVolume(blind).volume, 6);
    });

    it('an opening with rounded corners: its straight sides are split, its corners are not', () => {
      const corner = (x: number, y: number, from: number) =>
        Array.from({ length: 7 }, (_, i): [number, number] => {
          const a = ((from + 15 * i) * Math.PI) / 180;
          return [x + 15 * Math.cos(a), y + 15 * Math.sin(a)];
        });
      const points = [...corner(45, -25, -90), ...corner(45, 25, 0), ...corner(-45, 25, 90), ...corner(-45, -25, 180)];
      const plate = carve(box(300, 200, 20), {
        cutters: [moved(prism({ points, holes: [] }, 60), 0, 0, -30)],
        operation: 'subtract',
        course: 2,
      }).mesh;
      const { mesh, report } = toQuads(plate, { wanted: all, ...plain });
      expect([isClosed(mesh), report.triangles, report.left, report.rounded]).toEqual([true, 0, 0, 0]);
      expect(report.split).toBeGreaterThan(8);
      expect(report.sharpest).toBeGreaterThan(25);
    });

    it('without splits edges stay whole, and the layout is that of before', () => {
      const { report } = toQuads(bored(40), { wanted: all, ...plain, split: false });
      expect([report.split, report.left]).toEqual([0, 0]);
    });
  });

  it('tells how far it is', () => {
    const two = carve(box(60, 40, 10), {
      cutters: [moved(cylinder(8, 30, 24), -12), moved(cylinder(8, 30, 24), 12)],
      operation: 'subtract',
      course: 3,
    }).mesh;
    expect(toldWhile((ctx) => toQuads(two, { wanted: all, ...plain }, ctx), 0.9)).toEqual([
      'Laying out quads',
      'looking for faces that cut through each other',
    ]);
  });

  it('has nothing to do on quads, and can be stopped', () => {
    const m = box(10, 10, 10);
    expect(toQuads(m, { wanted: all, ...plain }).mesh).toBe(m);
    const two = carve(box(60, 40, 10), {
      cutters: [moved(cylinder(8, 30, 24), -12), moved(cylinder(8, 30, 24), 12)],
      operation: 'subtract',
      course: 3,
    }).mesh;
    let asked = 0;
    const signal = {
      get aborted() {
        return ++asked > 3;
      },
    };
    expect(() => toQuads(two, { wanted: all, ...plain }, { signal })).toThrow(/cancel|stop/i);
  });

  it('splits do not run over quads that bend much: the surface stays', () => {
    const bar = carve(twistedBar(60, 90, 0.5), { cutters: [cylinder(8, 300, 24)], operation: 'subtract', course: 3 });
    const { mesh, report } = toQuads(bar.mesh, plain);
    expect([isClosed(mesh), report.split, report.left]).toEqual([true, 0, 0]);
    expect(surfaceDrift(bar.mesh, mesh)!.distance).toBeLessThan(1e-6);
  });

  it('triangles away from what is laid out stay as they are; on wish they become quads, too', () => {
    const ball = inTriangles(ballFromPatches(20, 8));
    const cut = carve(ball, { cutters: [moved(cylinder(3, 40, 12), 0, 0, 20)], operation: 'subtract', course: 3 }).mesh;
    const name = (m: PolyMesh, f: number) => {
      const begin = m.loopStart[m.faceLoops[f]!]!;
      return Array.from({ length: sides(m)[f]! }, (_, i) => vertexPlace(m, m.corners[begin + i]!).join())
        .sort()
        .join(';');
    };
    const triangles = (m: PolyMesh) => [...sides(m).entries()].filter(([, n]) => n === 3).map(([f]) => name(m, f));
    const near = toQuads(cut, {});
    const kept = new Set(triangles(near.mesh));
    const before = triangles(cut);
    expect(before.filter((x) => kept.has(x)).length).toBeGreaterThan(0.8 * before.length);
    expect(near.report.paired).toBeGreaterThan(0);
    const whole = toQuads(cut, { all: true });
    expect(whole.report.paired).toBeGreaterThan(0.8 * before.length);
    expect([isClosed(near.mesh), isClosed(whole.mesh)]).toEqual([true, true]);
    // Where there is nothing else, all do.
    expect(toQuads(ball, {}).report.paired).toBe(faceCount(ball));
  });
});
