import { describe, expect, it } from 'vitest';
import { carve, uncross } from '../../carve/index.ts';
import {
  areaAndVolume,
  components,
  faceCount,
  flipMesh,
  isClosed,
  joinMeshes,
  meshFromFaces,
  sizeOf,
  SpatialIndex,
  takeFaces,
  transformMesh,
  vertexCount,
  type PolyMesh,
  type Vec3,
} from '../../mesh/index.ts';
import { toldWhile } from '../../mesh/testProgress.ts';
import { ballFromPatches, ballFromRings, box, cylinder, seededRandom, sheet } from '../../shapes/index.ts';
import { findings } from '../../survey/index.ts';
import { grid, inTriangles } from '../testMeshes.ts';
import { damaged, DAMAGES, type Damage } from './testDamage.ts';
import { leastArea } from './fillSmooth.ts';
import { heal, HEAL_STEPS, type HealOptions } from './heal.ts';
import { gapsOf, suitableTolerance } from './tolerance.ts';
import type { Unite } from './unitePieces.ts';

const plain: HealOptions = { without: [], tolerance: 0, widest: 0, as: 'seen' };
const errors = (m: PolyMesh) =>
  findings(m)
    .filter((f) => f.severity === 'error')
    .map((f) => f.rule);
const done = (m: PolyMesh, step: string) => heal(m, plain).report.steps.find((s) => s.step === step)!.done;
const scaledBy = (m: PolyMesh, k: number) => transformMesh(m, [k, 0, 0, 0, 0, k, 0, 0, 0, 0, k, 0]);
const bodies = [
  () => ballFromRings(50, 16, 8),
  () => cylinder(30, 60, 14, 3),
  () => box(60, 40, 30, [4, 3, 3]),
  () => inTriangles(ballFromPatches(40, 4)),
];

describe('healing', () => {
  it('leaves a sound body as it is', () => {
    for (const make of bodies) {
      const m = make();
      const { mesh, report } = heal(m, plain);
      expect(mesh).toBe(m);
      expect(report.steps.every((s) => s.done === 0)).toBe(true);
      expect(report.steps.map((s) => s.step)).toEqual([...HEAL_STEPS]);
    }
  });

  it('closes a bent opening of very many edges by one face, and says so', () => {
    // A cylinder without its top, the rim going up and down.
    const m = cylinder(30, 40, 320, 1);
    const top = (v: number) => m.positions[3 * v + 2]! > 0;
    const open = takeFaces(
      m,
      (f) => ![...m.corners.subarray(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!)].every(top),
    );
    const bent = {
      ...open,
      positions: open.positions.map((x, i) =>
        i % 3 === 2 && x > 0 ? x + 8 * Math.sin(0.2 * open.positions[i - 1]!) : x,
      ),
    };
    const { mesh, report } = heal(bent, { ...plain, as: 'body' });
    expect([isClosed(mesh), report.plain, report.stay]).toEqual([true, 1, 0]);
    expect(heal(damaged(box(20, 20, 20, [4, 4, 4]), ['missing'], seededRandom(3), 20), plain).report.plain).toBe(0);
  });

  it('unites pieces that overlap, leaves those that only touch, and the hollow of a body', () => {
    const at = (m: PolyMesh, x: number, y = 0) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, 0]);
    const unite: Unite = (a, b) => carve(a, { cutters: [b], operation: 'union' }).mesh;
    const healed = (...list: PolyMesh[]) => heal(joinMeshes(list), { ...plain, unite });
    const b = box(20, 20, 20);
    // Three in a row, each 7 into the next; a fourth stands apart.
    const row = healed(b, at(b, 13, 3), at(b, 26, -4), at(b, 100));
    expect(row.report.steps.at(-1)).toEqual({ step: 'united', done: 2 });
    const shared = 7 * 20 * (20 - 3) + 7 * 20 * (20 - 7);
    expect([components(row.mesh).count, isClosed(row.mesh), areaAndVolume(row.mesh).volume]).toEqual([
      2,
      true,
      expect.closeTo(4 * 8000 - shared, 6),
    ]);
    expect(findings(row.mesh, { rules: ['crossingFaces'] })).toEqual([]);
    expect(row.report.many).toBe(false);
    expect(healed(...Array.from({ length: 501 }, (_, i) => at(b, 30 * i))).report.many).toBe(true);
    // Without a way to unite them they stay as they are.
    expect(components(heal(joinMeshes([b, at(b, 13, 3)]), plain).mesh).count).toBe(2);
    const hollow = joinMeshes([box(40, 40, 40), flipMesh(b)]);
    const kept = healed(hollow, at(b, 35));
    expect([components(kept.mesh).count, kept.report.steps.at(-1)!.done]).toEqual([3, 0]);
  });

  it('resolves a piece that crosses itself, and tells how many faces still do where it is not to', () => {
    const m = inTriangles(box(20, 20, 20, [3, 3, 3]));
    // A corner of the top is drawn out through a side.
    const hurt = {
      ...m,
      positions: m.positions.map((x, i) =>
        i % 3 === 0 && m.positions[i]! > 3 && m.positions[i]! < 4 && m.positions[i + 2]! > 9 ? x + 9 : x,
      ),
    };
    const left = heal(hurt, plain).report;
    expect([left.crossing! > 0, left.steps.find((s) => s.step === 'crossed')!.done]).toEqual([true, 0]);
    const { mesh, report } = heal(hurt, { ...plain, uncross: (x, pairs) => uncross(x, pairs, 1) });
    expect([isClosed(mesh), report.crossing, report.steps.find((s) => s.step === 'crossed')!.done]).toEqual([
      true,
      0,
      1,
    ]);
    expect(errors(mesh)).toEqual([]);
  });

  it.each(DAMAGES)('mends a body with %s', (kind) => {
    bodies.forEach((make, i) => {
      const m = make();
      const hurt = damaged(m, [kind], seededRandom(7 + i), sizeOf(m));
      const { mesh, report } = heal(hurt, plain);
      expect([isClosed(mesh), report.open, report.odd], `${kind} ${i}`).toEqual([true, 0, 0]);
      expect(errors(mesh), `${kind} ${i}`).toEqual([]);
      const body =
        kind === 'pinched' ? takeFaces(mesh, (f) => components(mesh).of[f] === components(mesh).of[0]) : mesh;
      expect(Math.abs(areaAndVolume(body).volume / areaAndVolume(m).volume - 1), `${kind} ${i}`).toBeLessThan(0.01);
    });
  });

  it.each(Array.from({ length: 20 }, (_, i) => 10 * i))(
    'brings ten bodies with damage of several kinds, from %i on, back to a closed, outward solid of their volume, and moves no face that is whole',
    (first) => {
      for (let run = first; run < first + 10; run++) {
        const random = seededRandom(run + 1);
        const m = bodies[run % bodies.length]!();
        const kinds = DAMAGES.filter(() => random() < 0.3);
        const hurt = damaged(m, kinds, random, sizeOf(m));
        const { mesh } = heal(hurt, plain);
        const told = `run ${run}: ${kinds.join()}`;
        expect(isClosed(mesh), told).toBe(true);
        expect(errors(mesh), told).toEqual([]);
        const of = components(mesh).of;
        const body = kinds.includes('pinched') ? takeFaces(mesh, (f) => of[f] === of[0]) : mesh;
        expect(Math.abs(areaAndVolume(body).volume / areaAndVolume(m).volume - 1), told).toBeLessThan(0.02);
        // Vertices stand where they stood, but for those of cracks.
        const surface = new SpatialIndex(m);
        const off = (v: number) =>
          surface.closest([0, 1, 2].map((k) => body.positions[3 * v + k]!) as unknown as Vec3)!.distance;
        for (let v = 0; v < vertexCount(body); v++)
          expect(off(v), told).toBeLessThan((kinds.includes('missing') ? 0.02 : 1.1e-3) * sizeOf(m));
      }
    },
  );

  it('leaves a sheet open, and fills its small openings only; closes it when it is told that it is a body', () => {
    const m = grid(8, 5);
    const holed = takeFaces(m, (f) => f !== 27);
    const { mesh, report } = heal(holed, plain);
    expect([faceCount(mesh), report.stay, isClosed(mesh)]).toEqual([64, 1, false]);
    expect(heal(holed, { ...plain, as: 'sheet' }).report).toMatchObject({ stay: 2 });
    expect(
      isClosed(
        heal(
          takeFaces(box(10, 10, 10), (f) => f > 0),
          { ...plain, as: 'body' },
        ).mesh,
      ),
    ).toBe(true);
    expect(heal(holed, { ...plain, widest: 3 }).report.stay).toBe(2);
    expect(isClosed(heal(sheet(30, 20, [4, 3]), plain).mesh)).toBe(false);
  });

  it('does each step alone, and leaves out what is not wanted', () => {
    const m = ballFromRings(50, 16, 8);
    const hurt = damaged(m, ['doubled', 'turned', 'missing'], seededRandom(3), 100);
    expect([done(hurt, 'doubled'), done(hurt, 'filled'), done(hurt, 'outward')]).toEqual([1, 1, 1]);
    const { mesh, report } = heal(hurt, { ...plain, without: ['filled', 'outward'] });
    expect([isClosed(mesh), report.steps.map((s) => s.step).includes('filled')]).toEqual([false, false]);
  });

  it.each([1e-5, 1e4])('works on a body %d times as large', (k) => {
    const m = scaledBy(
      damaged(ballFromRings(50, 16, 8), ['crack', 'missing', 'soup', 'side'], seededRandom(5), 100),
      k,
    );
    expect(isClosed(heal(m, plain).mesh)).toBe(true);
  });

  it('works on bodies of no size, on loose faces, and on very many pieces', () => {
    const flat = meshFromFaces(
      [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0],
      [
        [0, 1, 2, 3],
        [3, 2, 1, 0],
      ],
    );
    // Two faces back to back are one, which is a sheet.
    expect([faceCount(heal(flat, plain).mesh), heal(flat, plain).report.stay]).toEqual([1, 1]);
    const soup = meshFromFaces(
      Array.from({ length: 90 }, (_, i) => Math.sin(i * 12.9898) * 100),
      Array.from({ length: 10 }, (_, i) => [3 * i, 3 * i + 1, 3 * i + 2]),
    );
    const loose = heal(soup, plain);
    // A thousand loose triangles: none of their gaps is a crack, and no triangle is lost.
    const random = seededRandom(9);
    const heap = meshFromFaces(
      Array.from({ length: 9000 }, () => 100 * random()),
      Array.from({ length: 1000 }, (_, i) => [3 * i, 3 * i + 1, 3 * i + 2]),
    );
    expect(suitableTolerance(heap)).toBeLessThan(0.1);
    expect(faceCount(heal(heap, plain).mesh)).toBeGreaterThan(990);
    expect([loose.mesh.positions.every(Number.isFinite), faceCount(loose.mesh) > 0]).toEqual([true, true]);
    expect(
      heal(
        joinMeshes(
          Array.from({ length: 300 }, (_, i) => transformMesh(box(1, 1, 1), [1, 0, 0, 3 * i, 0, 1, 0, 0, 0, 0, 1, 0])),
        ),
        plain,
      ).report.open,
    ).toBe(0);
  });

  it('tells how far it is, also while pieces are united and looked through', () => {
    const unite: Unite = (a, b) => carve(a, { cutters: [b], operation: 'union' }).mesh;
    const two = joinMeshes([
      ballFromRings(50, 16, 8),
      transformMesh(box(40, 40, 40), [1, 0, 0, 45, 0, 1, 0, 0, 0, 0, 1, 0]),
    ]);
    const hurt = damaged(two, ['missing'], seededRandom(3), 100);
    for (const m of [two, hurt]) expect(toldWhile((ctx) => heal(m, { ...plain, unite }, ctx), 0.9)[0]).toBe('Healing');
  });

  it('can be stopped', () => {
    const signal = { aborted: true };
    expect(() => heal(ballFromRings(5, 8, 4), plain, { signal })).toThrow(/cancel|stop/i);
  });
});

describe('the tolerance that suits the gaps', () => {
  it('lies above the cracks and below what is apart on purpose', () => {
    const cracked = damaged(ballFromRings(50, 16, 8), ['crack'] as Damage[], seededRandom(11), 100);
    const tolerance = suitableTolerance(cracked);
    const gaps = gapsOf(cracked);
    expect(gaps.length).toBeGreaterThan(3);
    expect(tolerance).toBeGreaterThan(gaps.at(-1)!);
    expect(tolerance).toBeLessThan(2);
    expect(suitableTolerance(box(10, 10, 10))).toBe(0);
    // Two sheets side by side, 4 mm apart, each of squares of 5 mm: no crack.
    const apart = joinMeshes([grid(3, 5), transformMesh(grid(3, 5), [1, 0, 0, 19, 0, 1, 0, 0, 0, 0, 1, 0])]);
    expect(suitableTolerance(apart)).toBe(0);
  });
});

describe('filling', () => {
  it('goes on from the surface round it: a cap of a ball is back within 2 % of the opening’s radius', () => {
    const m = ballFromPatches(50, 12);
    for (const height of [44, 40]) {
      const open = takeFaces(m, (f) => {
        let z = 0;
        for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++)
          z = Math.max(z, m.positions[3 * m.corners[c]! + 2]!);
        return z < height;
      });
      const { mesh } = heal(open, { ...plain, as: 'body' });
      expect(isClosed(mesh)).toBe(true);
      const top = Math.max(...Array.from({ length: vertexCount(mesh) }, (_, v) => mesh.positions[3 * v + 2]!));
      const radius = Math.sqrt(50 ** 2 - height ** 2);
      expect(Math.abs(top - 50) / radius, `${height}`).toBeLessThan(0.02);
    }
  });

  it('finds the triangles of the least area', () => {
    // A ring over two planes at an angle: the fold must run along the crease.
    const ring: Vec3[] = [
      [0, 0, 0],
      [1, 0, 0],
      [2, 0, 1],
      [2, 1, 1],
      [1, 1, 0],
      [0, 1, 0],
    ];
    const area = leastArea(ring).reduce((s, [i, j, k]) => {
      const [a, b, c] = [ring[i]!, ring[j]!, ring[k]!];
      const [u, v] = [b.map((x, n) => x - a[n]!), c.map((x, n) => x - a[n]!)];
      return (
        s + Math.hypot(u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!) / 2
      );
    }, 0);
    expect(area).toBeCloseTo(1 + Math.SQRT2, 12);
  });
});
