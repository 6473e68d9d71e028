import { describe, expect, it } from 'vitest';
import { fillOpenings } from '../mend/index.ts';
import { flipMesh, joinMeshes, takeFaces, topologyOf, transformMesh, type PolyMesh } from '../mesh/index.ts';
import { box, cylinder } from '../shapes/index.ts';
import { dryFit, type Direction, type Fit } from './index.ts';

const at = (m: PolyMesh, x: number, y: number, z: number) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
const up: Direction = [0, 0, 1];
const plate = box(100, 60, 20);
const look = (cutter: PolyMesh, target = plate, operation: 'subtract' | 'union' = 'subtract'): Fit[] =>
  dryFit(target, [cutter], [up], operation);
const kinds = (cutter: PolyMesh, target = plate) => look(cutter, target).map((f) => f.kind);
const moved = (cutter: PolyMesh, f: Fit) => {
  if (f.remedy?.kind !== 'move') throw new Error('no move');
  return at(cutter, ...f.remedy.by);
};

/** The open edges of a mesh: how many, and how long in all. */
function boundary(m: PolyMesh): { count: number; length: number } {
  const t = topologyOf(m);
  const open = Array.from(t.opposite.keys()).filter((c) => t.opposite[c] === -1);
  const place = (v: number) => m.positions.subarray(3 * v, 3 * v + 3);
  const length = open.reduce((sum, c) => {
    const [p, q] = [place(m.corners[c]!), place(m.corners[t.next[c]!]!)];
    return sum + Math.hypot(p[0]! - q[0]!, p[1]! - q[1]!, p[2]! - q[2]!);
  }, 0);
  return { count: open.length, length };
}

describe('dry fit', () => {
  it('says nothing of a cutter that goes through clear of everything', () => {
    expect(look(cylinder(8, 40, 32))).toEqual([]);
  });

  it('misses: how far, and the move that makes it meet', () => {
    const pin = at(cylinder(8, 10, 32), 0, 0, 22);
    const [f] = look(pin);
    expect(f).toMatchObject({ kind: 'misses', length: expect.closeTo(7, 9), cutter: 0 });
    expect(kinds(moved(pin, f!))).not.toContain('misses');
    expect(kinds(at(pin, 0, 0, -7.5))).not.toContain('misses');
  });

  it('inside: a void, and how deep; near the skin it is not', () => {
    expect(look(at(box(10, 10, 10), 0, 0, 1))).toMatchObject([{ kind: 'inside', length: expect.closeTo(4, 9) }]);
    expect(kinds(at(box(10, 10, 10), 0, 0, 5.5))).not.toContain('inside');
  });

  it('swallows the part', () => {
    expect(kinds(box(200, 200, 200))).toEqual(['all']);
    expect(kinds(box(200, 200, 10))).not.toContain('all');
  });

  it('stops short: the skin that is left and where; not of a pocket that is meant', () => {
    const [f] = look(at(cylinder(8, 40, 32), 0, 0, 11));
    expect(f).toMatchObject({ kind: 'short', length: expect.closeTo(1, 9), remedy: { kind: 'through' } });
    expect(f!.point![2]).toBeCloseTo(-10, 9);
    expect(kinds(at(cylinder(8, 40, 32), 0, 0, 20))).toEqual([]);
    expect(look(at(cylinder(8, 40, 32), 0, 0, 11), plate, 'union')).toEqual([]);
  });

  it('flush: how many faces, as handled', () => {
    expect(look(at(box(10, 10, 10), 0, 0, 5))).toEqual([{ kind: 'flush', cutter: 0, count: 1 }]);
    expect(look(at(box(10, 10, 20), 45, 25, 0))).toMatchObject([{ kind: 'flush', count: 4 }]);
    expect(kinds(at(box(10, 10, 10), 0, 0, 6))).not.toContain('flush');
  });

  it('grazes a face or a vertex: how narrow, and the least move that clears it', () => {
    const nearly = at(box(10, 10, 10), 0, 0, 5.02);
    const low = at(box(10, 10, 10), 0, 0, 4.98);
    for (const cutter of [nearly, low]) {
      const f = look(cutter).find((x) => x.kind === 'graze');
      if (cutter === nearly) expect(f).toMatchObject({ length: expect.closeTo(0.02, 9) });
      if (f) expect(kinds(moved(cutter, f))).toEqual(['flush']);
    }
    // A round wall that passes a corner of the part at a twentieth of a millimetre.
    const pin = at(cylinder(20, 40, 128), 30.05, 30, 0);
    const f = look(pin).find((x) => x.kind === 'graze')!;
    expect(f.length).toBeCloseTo(0.05, 3);
    expect(kinds(moved(pin, f))).not.toContain('graze');
    expect(kinds(at(pin, 3, 0, 0))).not.toContain('graze');
    // A wall that passes four corners alike is reported; no move clears it.
    const round = cylinder(Math.hypot(50, 30) - 0.05, 40, 128);
    const [c, s] = [50 / Math.hypot(50, 30), 30 / Math.hypot(50, 30)];
    const all = look(transformMesh(round, [c, -s, 0, 0, s, c, 0, 0, 0, 0, 1, 0])).find((x) => x.kind === 'graze');
    expect(all?.length).toBeLessThan(0.06);
    expect(all?.remedy).toBe(undefined);
  });

  it('coarser or finer than the surface: both lengths', () => {
    const hull = cylinder(40, 60, 96);
    const flat = (r: number, n: number) => 2 * r * Math.sin(Math.PI / n);
    const aim = (m: PolyMesh) => transformMesh(m, [0, 0, 1, 40, 1, 0, 0, 0, 0, 1, 0, 0]);
    expect(look(aim(cylinder(15, 30, 12)), hull).find((f) => f.kind === 'coarse')).toMatchObject({
      length: expect.closeTo(flat(15, 12), 6),
      other: expect.closeTo(flat(40, 96), 6),
      remedy: { kind: 'flats', length: expect.closeTo(flat(40, 96), 6) },
    });
    expect(look(aim(cylinder(15, 30, 128)), hull).map((f) => f.kind)).toContain('fine');
    expect(look(aim(cylinder(15, 30, 36)), hull).map((f) => f.kind)).not.toContain('fine');
  });

  it('marks the surface met first: how far behind it the next one lies', () => {
    // A plate over another, 30 mm apart.
    const two = joinMeshes([plate, at(plate, 0, 0, -50)]);
    const pin = (height: number) => at(cylinder(8, height, 32), 0, 0, 20 - height / 2);
    const fits = dryFit(two, [pin(100)], [up], 'scribe', { nearest: true });
    expect(fits.find((f) => f.kind === 'behind')).toMatchObject({
      length: expect.closeTo(50, 3),
      remedy: { kind: 'fromBack' },
    });
    expect(dryFit(two, [pin(30)], [up], 'scribe', { nearest: true }).map((f) => f.kind)).not.toContain('behind');
    expect(dryFit(two, [pin(100)], [up], 'scribe').map((f) => f.kind)).not.toContain('behind');
  });

  it('a cutter without an inside: open or inside out, and nothing else is said of it', () => {
    const open = takeFaces(cylinder(8, 40, 32), (f) => f !== 0);
    const rim = boundary(open);
    expect(look(open)).toMatchObject([
      { kind: 'open', count: rim.count, length: expect.closeTo(rim.length, 9), remedy: { kind: 'close' } },
    ]);
    expect(kinds(fillOpenings(open))).toEqual([]);
    expect(look(flipMesh(cylinder(8, 40, 32)))).toEqual([{ kind: 'turned', cutter: 0, remedy: { kind: 'turn' } }]);
    expect(kinds(flipMesh(flipMesh(cylinder(8, 40, 32))))).toEqual([]);
  });

  it('aimed at the wrong part: which one it meets instead', () => {
    const others = [
      { id: 7, mesh: at(plate, 0, 200, 0) },
      { id: 8, mesh: at(plate, 0, 100, 0) },
    ];
    const fit = (y: number) =>
      dryFit(plate, [at(cylinder(8, 40, 32), 0, y, 0)], [up], 'subtract', { others: () => others });
    expect(fit(100).map((f) => f.kind)).toEqual(['misses', 'elsewhere']);
    expect(fit(100)[1]).toMatchObject({ part: 8, remedy: { kind: 'part', part: 8 } });
    expect(fit(200)[1]).toMatchObject({ part: 7 });
    expect(fit(50).map((f) => f.kind)).toEqual(['misses']);
    expect(fit(0)).toEqual([]);
    // Small in the material of the other one, it meets it as well.
    const seed = dryFit(plate, [at(box(2, 2, 2), 0, 100, 0)], [up], 'subtract', { others: () => others });
    expect(seed.map((f) => f.kind)).toContain('elsewhere');
  });

  it('another part in the way of what is marked first, and by how much', () => {
    const cover = (z: number) => [{ id: 5, mesh: at(box(100, 60, 2), 0, 0, z) }];
    const fit = (z: number, nearest = true) =>
      dryFit(plate, [at(cylinder(8, 60, 32), 0, 0, 20)], [up], 'scribe', { nearest, others: () => cover(z) });
    expect(fit(30).find((f) => f.kind === 'inTheWay')).toMatchObject({ part: 5, length: expect.closeTo(21, 9) });
    expect(fit(-30).map((f) => f.kind)).not.toContain('inTheWay');
    expect(fit(80).map((f) => f.kind)).not.toContain('inTheWay');
    expect(fit(30, false).map((f) => f.kind)).not.toContain('inTheWay');
  });

  it('leaves a thin wall: how thin', () => {
    const near = at(box(10, 10, 40), 44, 0, 0);
    expect(look(near).find((f) => f.kind === 'thin')).toMatchObject({ length: expect.closeTo(1, 9) });
    expect(kinds(at(box(10, 10, 40), 40, 0, 0))).not.toContain('thin');
  });
});
