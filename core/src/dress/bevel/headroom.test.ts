import { describe, expect, it } from 'vitest';
import { topologyOf, transformMesh, type Affine, type PolyMesh } from '../../mesh/index.ts';
import { toldWhile } from '../../mesh/testProgress.ts';
import { ballFromRings, box, cylinder, tube } from '../../shapes/index.ts';
import { collar } from '../../mend/index.ts';
import { bevel, bevelHeadroom, sharpEdges } from '../index.ts';
import { Bevelling } from './bevelling.ts';
import { headrooms } from './headroom.ts';
import { WISH, round, volume, moved, cut, edgesWhere, sound, places } from './testing.ts';

describe('headroom', () => {
  it('of a box: half its least side', () => {
    const m = box(4, 6, 8);
    const [chain] = bevelHeadroom(m, sharpEdges(m, 30), WISH);
    expect(chain!.headroom).toBeCloseTo(2, 12);
    expect([chain!.edges, chain!.what]).toEqual([12, 'used up']);
  });

  it('of a hole near an edge: half of what is between, and no further the other chain', () => {
    const m = cut(box(20, 20, 6), moved(cylinder(4, 20, 32), 4, 0, 0));
    const all = bevelHeadroom(m, sharpEdges(m, 30), WISH);
    // A corner of the hole points to the edge: its strip reaches w / cos(π / 32) there.
    const gap = 10 - (4 + 4);
    const least = Math.min(...all.map((x) => x.headroom));
    expect(least).toBeCloseTo(gap / (1 + 1 / Math.cos(Math.PI / 32)), 11);
    expect(all.map((x) => x.edges).sort((a, b) => a - b)).toEqual([12, 32, 32]);
    const wish = { segments: 3 };
    sound(round(m, { ...wish, width: 0.95 * least }).mesh, m);
    expect(() => round(m, { ...wish, width: 1.05 * least })).toThrow(/no room: two strips meet/);
    const past = round(m, { ...wish, width: 1.5 * least, past: 'narrow' });
    sound(past.mesh, m);
    expect(past.report.narrowed).toBeGreaterThan(0);
    expect(past.report.narrowed).toBeLessThan(40);
    expect(past.report.least).toBeGreaterThan(0.5);
    // Away from that place the strips are as wide as asked for: the far side of the box is.
    expect(places(past.mesh).some((p) => Math.abs(p[0]! + 10 - 1.5 * least) < 1e-9)).toBe(true);
    const held = round(m, { ...wish, width: 1.5 * least, past: 'clamp' });
    sound(held.mesh, m);
    expect(held.report.narrowed).toBe(0);
  });

  it('strips meet in a line where the face between them is used up: a hip roof on a rib, a circle on the rim of a tube', () => {
    const rib = box(20, 2, 8);
    const top = edgesWhere(rib, (_x, _y, z) => z > 0);
    for (const segments of [1, 3]) {
      const { mesh, report } = round(rib, { width: 1.5, segments, past: 'meet' }, top);
      sound(mesh, rib);
      expect(report.met).toBe(1);
      const ridge = places(mesh).filter((p) => Math.abs(p[2]! - 4) < 1e-9);
      expect(ridge.map((p) => [Math.abs(p[0]!), p[1]])).toEqual([
        [expect.closeTo(9, 2), expect.closeTo(0, 9)],
        [expect.closeTo(9, 2), expect.closeTo(0, 9)],
      ]);
      // Seven of eight mm stand as they were; the roof has the volume h b (2 a + ridge) / 6.
      if (segments === 1) expect(volume(mesh)).toBeCloseTo(280 + (2 * (2 * 20 + 18)) / 6, 2);
    }
    const ring = tube(8, 7, 12, 32);
    const { mesh, report } = round(ring, { width: 1, segments: 2, past: 'meet' });
    sound(mesh, ring);
    expect(report.met).toBe(64);
    const crest = places(mesh).filter((p) => Math.abs(Math.abs(p[2]!) - 6) < 1e-9);
    expect(crest).toHaveLength(64);
    const apothem = ((8 + 7) / 2) * Math.cos(Math.PI / 32);
    for (const p of crest) expect(Math.hypot(p[0]!, p[1]!) * Math.cos(Math.PI / 32)).toBeCloseTo(apothem, 2);
    // Where only a part of a face is used up strips stay apart, as far as any narrowed ones do.
    const near = cut(box(20, 20, 6), moved(cylinder(4, 20, 32), 5, 0, 0));
    const apart = round(near, { width: 0.9, past: 'meet' });
    sound(apart.mesh, near);
    expect([apart.report.met, places(apart.mesh)]).toEqual([
      0,
      places(round(near, { width: 0.9, past: 'narrow' }).mesh),
    ]);
  });

  it.each([0.9, 0.7, 0.5, 0.25])(
    'ends where something is in the way, though there is none at a greater width: at %d of it',
    (share) => {
      const m = box(4, 6, 8);
      const b = new Bevelling(m, sharpEdges(m, 30), WISH, undefined);
      const build = b.build.bind(b);
      // The box has room for 2 mm; round one lesser width it has none.
      b.build = (shares, scale = 1) => {
        const built = build(shares, scale);
        if (Math.abs(scale / (2 * share) - 1) < 0.03)
          built.troubles.push({ what: 'in the way', at: [1, 2, 3], vertices: [0] });
        return built;
      };
      const [chain] = headrooms(b, undefined);
      expect(chain).toEqual({
        edges: 12,
        vertex: 0,
        headroom: expect.closeTo(0.97 * 2 * share, 2),
        what: 'in the way',
        at: [1, 2, 3],
      });
      expect(chain!.headroom).toBeLessThanOrEqual(0.97 * 2 * share);
    },
  );

  it('tells how far it is, as the bevels do that are to keep to it', () => {
    const m = cut(box(20, 20, 6), moved(cylinder(4, 20, 12), 4, 0, 0));
    const edges = sharpEdges(m, 30);
    expect(toldWhile((ctx) => bevelHeadroom(m, edges, WISH, ctx), 0.25)).toEqual(['looking how wide it can get']);
    for (const past of ['narrow', 'meet', 'clamp'] as const)
      expect(toldWhile((ctx) => bevel(m, { edges, ...WISH, width: 6, past }, ctx), 0.15).length).toBeGreaterThan(0);
  });

  it('refuses what has nothing to round', () => {
    const m = box(4, 6, 8);
    expect(() => bevel(m, { edges: [], ...WISH })).toThrow(/no edge to bevel/);
  });
});

describe('bevel after a collar', () => {
  const tilted = (m: PolyMesh, degrees: number, y: number) => {
    const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    return transformMesh(m, [1, 0, 0, 0, 0, c, -s, y, 0, s, c, 0] as Affine);
  };
  it.each([
    ['a tube into a ball', () => cut(ballFromRings(20, 48, 24), moved(tube(6, 4, 40, 32), 0, 0, 20), 'union'), 2],
    ['two tubes at 30°', () => cut(cylinder(10, 100, 48), tilted(cylinder(6, 60, 32), 30, -25), 'union'), 1.5],
    ['a box on a cylinder', () => cut(cylinder(20, 60, 64), moved(box(16, 40, 20), 0, 20, 0), 'union'), 1],
    ['a hole near an edge', () => cut(box(60, 40, 10), moved(cylinder(8, 30, 32), 0, 10, 0)), 3],
  ] as const)('%s: nine tenths of the band at its narrowest, closed and uncrossed', (_, make, width) => {
    const m = make();
    const t = topologyOf(m);
    const seam = [...t.edgeCorner].filter((c) => m.layers.seam![c] || m.layers.seam![t.opposite[c]!]);
    const { mesh: banded, report: band } = collar(m, {
      edges: seam,
      width,
      rows: 1,
      sides: 'both',
      aim: 'square',
      shift: 0,
    });
    const u = topologyOf(banded);
    const seams = [...u.edgeCorner]
      .filter((c) => banded.layers.seam![c] || banded.layers.seam![u.opposite[c]!])
      .map((c) => u.edge[c]!);
    expect(seams.length).toBe(band.seam.length);
    const { mesh, report } = bevel(banded, {
      edges: seams,
      ...WISH,
      width: 0.9 * band.narrowest,
      segments: 2,
      past: 'stop',
    });
    sound(mesh, m);
    expect(report.edges).toBe(seams.length);
  });

  it('takes nine tenths of the band: closed, uncrossed, and the band’s outer edge stays where it is', () => {
    const m = cut(box(40, 40, 10), cylinder(8, 30, 32));
    const t = topologyOf(m);
    const seam = edgesWhere(m, (x, y) => Math.hypot(x, y) < 9);
    const { mesh: banded } = collar(m, {
      edges: seam.map((e) => t.edgeCorner[e]!),
      width: 3,
      rows: 1,
      sides: 'both',
      aim: 'square',
      shift: 0,
    });
    const rims = edgesWhere(banded, (x, y) => Math.hypot(x, y) < 9);
    const { mesh, report } = bevel(banded, { edges: rims, ...WISH, width: 2.7, segments: 3 });
    sound(mesh, m);
    expect(report.narrowed).toBe(0);
    const outer = (x: PolyMesh) =>
      places(x).filter((p) => Math.abs(p[2]! - 5) < 1e-9 && Math.abs(Math.hypot(p[0]!, p[1]!) - 11) < 0.1);
    expect(outer(mesh)).toHaveLength(outer(banded).length);
  });
});
