import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  bounds,
  faceBend,
  faceCount,
  faceNormals,
  genus,
  topologyOf,
  transformMesh,
  type Affine,
} from '../../mesh/index.ts';
import { box, cone, cylinder, prism, sheet, tube, circleOutline } from '../../shapes/index.ts';
import { bevelHeadroom, type BevelWish } from '../index.ts';
import { WISH, round, volume, moved, cut, edgesWhere, sound, quarter, rim, corner, offBox, places } from './testing.ts';

describe('bevel of a box', () => {
  it('chamfer: volume in closed form', () => {
    const { mesh, report } = round(box(4, 6, 8), { width: 0.5 });
    // Prisms along twelve edges, and 5/6 of a cube at each of eight corners.
    expect(volume(mesh)).toBeCloseTo(192 - 4 * 0.125 * (3 + 5 + 7) - (8 * 5 * 0.125) / 6, 12);
    expect([faceCount(mesh), report.strips, report.corners]).toEqual([26, 12, 8]);
    sound(mesh, box(4, 6, 8));
  });

  for (const s of [1, 2, 3, 4, 8])
    it(`${s} parts: every vertex is on the surface of the ball that rolls inside`, () => {
      const { mesh } = round(box(4, 6, 8), { width: 0.5, segments: s });
      for (const p of places(mesh)) expect(offBox(p, [1.5, 2.5, 3.5])).toBeCloseTo(0.5, 12);
      const flats = 192 - 4 * corner(0.5, s) * (3 + 5 + 7) - 8 * 0.125;
      const share = (volume(mesh) - flats) / (8 * 0.125);
      // At the corners an eighth of a ball is nearly filled, from below: more with more parts.
      expect(share).toBeLessThan(Math.PI / 6);
      expect(share).toBeGreaterThan([0, 1 / 6 - 1e-9, 0.4, 0.45, 0.48, 0, 0, 0, 0.51][s]!);
      sound(mesh, box(4, 6, 8));
    });

  it('one edge alone: its ends lie in the end faces', () => {
    const m = box(4, 6, 8);
    for (const s of [1, 3]) {
      const { mesh } = round(
        m,
        { width: 1, segments: s },
        edgesWhere(m, (x, y) => x > 0 && y > 0),
      );
      expect(volume(mesh)).toBeCloseTo(192 - 8 * corner(1, s), 11);
      for (let f = 0; f < faceCount(mesh); f++) expect(faceBend(mesh, f)).toBeLessThan(1e-12);
      expect(faceCount(mesh)).toBe(6 + s);
      sound(mesh, m);
    }
  });

  it('the edges round one face: mitred corners', () => {
    const m = box(4, 6, 8);
    const { mesh } = round(
      m,
      { segments: 2 },
      edgesWhere(m, (_x, _y, z) => z > 0),
    );
    // Layers of the top between rectangles.
    const q = quarter(1, 2);
    let top = 0;
    for (let k = 0; k < 2; k++) {
      const side = (i: number) => [4 - 2 * q[i]!.inward, 6 - 2 * q[i]!.inward] as const;
      const [[a, b], [c, d]] = [side(k), side(k + 1)];
      top += ((q[k + 1]!.down - q[k]!.down) / 6) * (a * b + c * d + (a + c) * (b + d));
    }
    expect(volume(mesh)).toBeCloseTo(24 * 7 + top, 11);
    sound(mesh, m);
  });

  it('three edges at one corner, two others run out in end faces', () => {
    const m = box(10, 10, 10);
    const near = edgesWhere(m, (x, y, z) => Number(x > 0) + Number(y > 0) + Number(z > 0) >= 2);
    expect(near).toHaveLength(3);
    const { mesh, report } = round(m, { segments: 3 }, near);
    // Round a middle triangle three quads, and three more between them.
    expect(report.corners).toBe(7);
    for (const p of places(mesh)) {
      const q = p.map((x) => Math.max(0, x - 4));
      if (q.filter((x) => x > 0).length > 1) expect(Math.hypot(...q)).toBeCloseTo(1, 10);
    }
    sound(mesh, m);
  });

  it('as radius and as depth: the same at a right angle', () => {
    const m = box(4, 6, 8);
    const a = round(m, { width: 0.5, segments: 3 }).mesh;
    const b = round(m, { width: 0.5, measure: 'radius', segments: 3 }).mesh;
    const c = round(m, { width: 0.5 * Math.SQRT1_2, measure: 'depth', segments: 3 }).mesh;
    for (const x of [b, c]) expect(volume(x)).toBeCloseTo(volume(a), 10);
  });

  it('straight, hollow and full profiles', () => {
    const m = box(4, 6, 8);
    const one = edgesWhere(m, (x, y) => x > 0 && y > 0);
    const taken = (profile: number) => (192 - volume(round(m, { segments: 4, profile }, one).mesh)) / 8;
    expect(taken(0)).toBeCloseTo(0.5, 11);
    expect(taken(1)).toBeCloseTo(corner(1, 4), 11);
    expect(taken(-1)).toBeCloseTo(1 - corner(1, 4), 11);
    expect(taken(2)).toBeCloseTo(0, 11);
  });
});

describe('widths and profiles', () => {
  it('as a share of the shortest edge that meets the chain', () => {
    const m = box(4, 6, 8);
    const one = edgesWhere(m, (x, y) => x > 0 && y > 0);
    // The edge along z meets edges of 4 and 6 mm.
    const taken = (192 - volume(round(m, { width: 0.25, measure: 'share' }, one).mesh)) / 8;
    expect(taken).toBeCloseTo(0.5, 11);
    const room = bevelHeadroom(m, one, { ...WISH, width: 0.1, measure: 'share' })[0]!;
    expect(room.headroom).toBeCloseTo(1, 6);
    // All edges are one chain, which nothing else meets: a share of its own shortest.
    expect(volume(round(m, { width: 0.125, measure: 'share' }).mesh)).toBeCloseTo(
      volume(round(m, { width: 0.5 }).mesh),
      11,
    );
  });

  it('drawn from one side to the middle, and the same on the other half', () => {
    const m = box(4, 6, 8);
    const one = edgesWhere(m, (x, y) => x > 0 && y > 0);
    const areaOf = (profile: BevelWish['profile'], width = 1) =>
      (192 - volume(round(m, { width, profile }, one).mesh)) / 8;
    // A step: straight in to the middle of the way, half way out in the middle. Between the edge and the profile lie a
    // triangle of ½ and what the step takes of it.
    const triangle = (list: number[][]) =>
      Math.abs(
        list.reduce(
          (s, [x, y], i) => s + x! * list[(i + 1) % list.length]![1]! - y! * list[(i + 1) % list.length]![0]!,
          0,
        ),
      ) / 2;
    for (const profile of [
      [[1, 0.5]],
      [
        [0.4, 0],
        [0.6, 0.7],
        [1, 0.7],
      ],
      [[0.5, 0.4]],
      [
        [0.5, -0.5],
        [1, -0.2],
      ],
    ] as [number, number][][]) {
      const at = (along: number, out: number): number[] => [1 - along / 2 - out / 2, along / 2 - out / 2];
      const half = profile.map(([a, o]) => at(a, o));
      const other = profile
        .filter(([a]) => a < 1)
        .map(([a, o]) => [...at(a, o)].reverse())
        .reverse();
      expect(areaOf(profile)).toBeCloseTo(triangle([[1, 0], ...half, ...other, [0, 1], [0, 0]]), 11);
      sound(round(m, { profile, width: 0.5 }).mesh, m);
    }
    // Lit facet by facet.
    const { mesh } = round(m, { profile: [[0.5, 0.4]] }, one);
    const flat = faceNormals(mesh);
    for (let f = 6; f < faceCount(mesh); f++)
      for (let c = mesh.loopStart[f]!; c < mesh.loopStart[f + 1]!; c++)
        for (let k = 0; k < 3; k++) expect(mesh.layers.normal![3 * c + k]).toBeCloseTo(flat[3 * f + k]!, 6);
  });
});

describe('bevel of what cuts leave', () => {
  const plate = box(20, 20, 6);
  for (const s of [1, 2, 3])
    it(`the rims of a round hole, ${s} parts: stacked frusta`, () => {
      const m = cut(plate, cylinder(4, 20, 32));
      const a = 4 * Math.cos(Math.PI / 32);
      const { mesh } = round(
        m,
        { width: 1, segments: s },
        edgesWhere(m, (x, y) => Math.hypot(x, y) < 5),
      );
      expect(volume(mesh)).toBeCloseTo(volume(m) - 2 * rim(a, 32, 1, s, 1), 9);
      expect(genus(mesh)).toBe(1);
      sound(mesh, m);
    });

  it('a tube: outer and inner rims', () => {
    const m = tube(8, 5, 12, 48);
    const { mesh } = round(m, { width: 0.8, segments: 3 });
    const [o, i] = [8, 5].map((r) => r * Math.cos(Math.PI / 48)) as [number, number];
    expect(volume(mesh)).toBeCloseTo(volume(m) + 2 * rim(o, 48, 0.8, 3, -1) - 2 * rim(i, 48, 0.8, 3, 1), 9);
    sound(mesh, m);
  });

  it('a blind pocket: what the edges of its floor add, and inner corners on the ball that rolls in it', () => {
    const m = cut(plate, moved(box(8, 6, 6), 0, 0, 4));
    const floor = edgesWhere(m, (x, y, z) => Math.abs(x) < 5 && Math.abs(y) < 4 && z < 2.9);
    // The floor's four edges, and none of the four that rise from it: ∫ 48 − (8 − 2 u)(6 − 2 u) du, u from 0 to w, is
    // added.
    const { mesh } = round(m, { width: 0.5 }, floor);
    expect(volume(mesh)).toBeCloseTo(volume(m) + 14 * 0.5 ** 2 - (4 / 3) * 0.5 ** 3, 10);
    const all = edgesWhere(m, (x, y) => Math.abs(x) < 5 && Math.abs(y) < 4);
    for (const segments of [1, 3, 4]) {
      const r = round(m, { width: 0.5, segments }, all).mesh;
      sound(r, m);
      // Below the rim's strips the pocket is a box that a ball of 0.5 rolls in.
      for (const p of places(r)) {
        if (Math.abs(p[0]!) >= 4.0001 || Math.abs(p[1]!) >= 3.0001 || p[2]! > 2.4) continue;
        const q = [Math.max(0, Math.abs(p[0]!) - 3.5), Math.max(0, Math.abs(p[1]!) - 2.5), Math.max(0, 1.5 - p[2]!)];
        expect(Math.hypot(...q)).toBeCloseTo(0.5, 10);
      }
    }
  });

  describe('a saddle: an L of two bars, all edges', () => {
    const m = cut(box(10, 10, 4), moved(box(10, 10, 6), 4, 4, 0));
    const w = 0.6;
    /** How far a place is from all planes, roundings and balls that it may lie on. */
    const off = ([x, y, z]: number[]) => {
      const on = (...d: number[]) => Math.abs(Math.hypot(...d) - w);
      let least = Math.min(...[x! + 5, y! + 5, x! - 5, y! - 5, z! - 2, z! + 2, x! + 1, y! + 1].map(Math.abs));
      for (const h of [2 - w, w - 2]) {
        for (const k of [w - 5, 5 - w, -1 - w]) least = Math.min(least, on(y! - k, z! - h), on(x! - k, z! - h));
        for (const [i, j] of [
          [w - 5, w - 5],
          [5 - w, w - 5],
          [w - 5, 5 - w],
          [5 - w, -1 - w],
          [-1 - w, 5 - w],
        ] as const)
          least = Math.min(least, on(x! - i, y! - j), on(x! - i, y! - j, z! - h));
      }
      return Math.min(least, on(x! + 1 - w, y! + 1 - w));
    };
    for (const segments of [1, 2, 3, 4])
      it(`${segments} parts: every vertex but those within the two saddles lies on planes, cylinders and balls`, () => {
        for (const mitre of [false, true]) {
          const { mesh } = round(m, { width: w, segments, mitre });
          sound(mesh, m);
          const away = places(mesh).filter((p) => off(p) > 1e-9);
          for (const p of away) expect(Math.hypot(p[0]! + 1, p[1]! + 1, Math.abs(p[2]!) - 2)).toBeLessThan(2 * w);
        }
      });

    it('chamfered and mitred: volume in closed form', () => {
      const { mesh } = round(m, { width: w, mitre: true });
      const h = w ** 2 / 2;
      // Along top and bottom the boundary goes in by u at each height: ∫ P u − (5 − 1) u² du. Six edges that rise, of
      // which one fills; a sixth of a cube at each end.
      expect(volume(mesh)).toBeCloseTo(
        256 - 2 * (40 * h - (4 / 3) * w ** 3) - 4 * h * (4 - 2 * w) - (10 - 2) * (w ** 3 / 6),
        10,
      );
    });
  });

  it('corners of four, five and six edges: the tip of a pyramid, the same all round', () => {
    for (const n of [4, 5, 6])
      for (const segments of [1, 2, 3]) {
        const m = cone(4, 0, 5, n);
        const { mesh } = round(m, { width: 0.4, segments });
        sound(mesh, m);
        // Turned by one side it is the same.
        const [c, s] = [Math.cos((2 * Math.PI) / n), Math.sin((2 * Math.PI) / n)];
        const all = places(mesh);
        for (const [x, y, z] of all as [number, number, number][])
          expect(
            Math.min(...all.map((q) => Math.hypot(q[0]! - c * x + s * y, q[1]! - s * x - c * y, q[2]! - z))),
          ).toBeLessThan(1e-9);
        expect(bounds(mesh).max[2]).toBeLessThan(bounds(m).max[2] - 0.01);
      }
  });

  it('a prism of n sides, rolled by radius: every vertex at the radius from the prism within', () => {
    for (const n of [3, 5, 6, 8]) {
      const m = prism({ points: circleOutline(5, n), holes: [] }, 6);
      const { mesh } = round(m, { width: 0.5, measure: 'radius', segments: 4 });
      sound(mesh, m);
      const b = bounds(m);
      const inner = (p: number[]) => {
        const a = 5 * Math.cos(Math.PI / n) - 0.5;
        // Distance from the inner polygon: the greatest over its sides, or from its corners.
        const r = a / Math.cos(Math.PI / n);
        const ring = circleOutline(r, n);
        let d = Infinity;
        let inside = true;
        ring.forEach((q, i) => {
          const s = ring[(i + 1) % n]!;
          const e = [s[0] - q[0], s[1] - q[1]];
          const t = Math.max(
            0,
            Math.min(1, ((p[0]! - q[0]) * e[0]! + (p[1]! - q[1]) * e[1]!) / (e[0]! ** 2 + e[1]! ** 2)),
          );
          d = Math.min(d, Math.hypot(p[0]! - q[0] - t * e[0]!, p[1]! - q[1] - t * e[1]!));
          if (e[0]! * (p[1]! - q[1]) - e[1]! * (p[0]! - q[0]) < 0) inside = false;
        });
        const z = Math.max(0, b.min[2] + 0.5 - p[2]!, p[2]! - (b.max[2] - 0.5));
        return Math.hypot(inside ? 0 : d, z);
      };
      for (const p of places(mesh)) expect(inner(p)).toBeCloseTo(0.5, 9);
    }
  });

  it('a port in a round hull, rolled by radius on the surfaces that facets stand for: within their sagitta', () => {
    const [R, r, ball] = [40, 12, 2];
    const worst = (n: number, rolls: boolean) => {
      const m = cut(
        cylinder(R, 120, n),
        transformMesh(cylinder(r, 120, n / 2), [0, 0, 1, 0, 0, 1, 0, 0, -1, 0, 0, 0] as Affine),
      );
      const P = places(m);
      const hull = (p: number[]) => Math.abs(Math.hypot(p[0]!, p[1]!) - R);
      const port = (p: number[]) => Math.abs(Math.hypot(p[1]!, p[2]!) - r);
      // Walls of the port are square to the hull's ends, those of the hull to the port's.
      const N = faceNormals(m);
      const inPort = Array.from(
        { length: faceCount(m) },
        (_, f) => Math.abs(N[3 * f]!) < 1e-9 && Math.abs(N[3 * f + 2]!) < 1 - 1e-9,
      );
      const guide = {
        knows: () => true,
        normal: (f: number, [x, y, z]: readonly [number, number, number]) =>
          inPort[f] ? ([0, -y, -z] as const) : ([x, y, 0] as const),
        off: (f: number, p: readonly [number, number, number]) => (inPort[f] ? port([...p]) : hull([...p])),
      };
      const t = topologyOf(m);
      const seam = [...t.edgeCorner]
        .filter((c) => m.layers.seam![c] && P[m.corners[c]!]![0]! > 0)
        .map((c) => t.edge[c]!);
      const { mesh } = round(
        m,
        { width: ball, measure: 'radius', segments: 4, course: 99, ...(rolls && { guide }) },
        seam,
      );
      sound(mesh, m);
      const Q = places(mesh);
      const { face } = topologyOf(mesh);
      const own = new Set(
        [...mesh.corners.keys()]
          .filter((c) => mesh.layers.source![3 * face[c]! + 2] === 99)
          .map((c) => mesh.corners[c]!),
      );
      // The middles of the ball: as far from both axes as it is to be.
      const path = Array.from({ length: 2000 }, (_, k) => {
        const a = (Math.PI * k) / 1000;
        const [y, z] = [(r + ball) * Math.cos(a), (r + ball) * Math.sin(a)];
        return [Math.sqrt((R - ball) ** 2 - y * y), y, z];
      });
      const off = [...own].map((v) =>
        Math.abs(Math.min(...path.map((q) => Math.hypot(...q.map((x, k) => x - Q[v]![k]!)))) - ball),
      );
      return Math.max(...off);
    };
    for (const n of [48, 96]) {
      const sagitta = R * (1 - Math.cos(Math.PI / n)) + r * (1 - Math.cos((2 * Math.PI) / n));
      expect(worst(n, true)).toBeLessThan(sagitta);
    }
    expect(worst(96, true)).toBeLessThan(0.5 * worst(96, false));
  }, 60_000);

  it('flats keep their light, and layers go along', () => {
    const m = { ...box(4, 6, 8), slots: ['A', 'B'] };
    const slotted = {
      ...m,
      layers: { ...m.layers, slot: Int32Array.from({ length: 6 }, (_, f) => (f === 0 ? 1 : 0)) },
    };
    const { mesh } = round(slotted, { width: 0.5, segments: 3 });
    const { normal, slot } = mesh.layers;
    for (let f = 0; f < 6; f++)
      for (let c = mesh.loopStart[mesh.faceLoops[f]!]!; c < mesh.loopStart[mesh.faceLoops[f + 1]!]!; c++)
        expect(Math.max(...normal!.subarray(3 * c, 3 * c + 3).map(Math.abs))).toBe(1);
    expect(slot!.slice(0, 6)).toEqual(slotted.layers.slot);
    // Unit normals everywhere, and on the ball at a corner they point from its middle.
    for (let c = 0; c < mesh.corners.length; c++) {
      const n = [...normal!.subarray(3 * c, 3 * c + 3)];
      expect(Math.hypot(...n)).toBeCloseTo(1, 5);
      const p = [0, 1, 2].map((k) => mesh.positions[3 * mesh.corners[c]! + k]!);
      const from = p.map((x, k) => x - Math.sign(x) * Math.min(Math.abs(x), [1.5, 2.5, 3.5][k]!));
      expect(from.reduce((s, x, k) => s + x * n[k]!, 0)).toBeCloseTo(0.5, 5);
    }
  });

  it('an open sheet: a fold ends at its border', () => {
    const flat = sheet(8, 4, [2, 1]);
    const P = flat.positions.slice();
    for (let v = 0; v < P.length / 3; v++) if (P[3 * v]! > 1) P.set([0, P[3 * v + 1]!, P[3 * v]!], 3 * v);
    const fold = { ...flat, positions: P };
    const { mesh } = round(fold, { segments: 4 });
    // Two flats of 3 × 4, and four parts of a quarter round.
    const chord = 2 * Math.sin(Math.PI / 16);
    expect(areaAndVolume(mesh).area).toBeCloseTo(2 * 12 + 4 * chord * 4, 10);
    expect(faceCount(mesh)).toBe(6);
  });
});
