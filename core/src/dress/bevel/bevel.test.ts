import { describe, expect, it } from 'vitest';
import { areaAndVolume, bounds, components, faceBend, faceCount, faceNormals, genus, isClosed, topologyOf, transformMesh, type Affine, type PolyMesh } from '../../mesh/index.ts'; // prettier-ignore
import { carve, type CutOperation } from '../../carve/index.ts';
import { ballFromRings, box, cone, cylinder, prism, sheet, tube, circleOutline } from '../../shapes/index.ts';
import { pairsThatMeet } from '../../survey/index.ts';
import { collar } from '../../mend/index.ts';
import { bevel, bevelHeadroom, bevelVertices, holdEdges, sharpEdges, type BevelWish } from '../index.ts';

const WISH: BevelWish = { width: 1, measure: 'offset', segments: 1, profile: 1, past: 'stop' };
const round = (m: PolyMesh, wish: Partial<BevelWish> = {}, edges = sharpEdges(m, 30)) => bevel(m, edges, { ...WISH, ...wish }); // prettier-ignore
const volume = (m: PolyMesh) => areaAndVolume(m).volume;
const moved = (m: PolyMesh, x: number, y: number, z: number) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z] as Affine); // prettier-ignore
const cut = (m: PolyMesh, cutter: PolyMesh, operation: CutOperation = 'subtract') => carve(m, [cutter], { operation }).mesh; // prettier-ignore
/** Edges of which both ends pass a test on their places. */
function edgesWhere(m: PolyMesh, test: (x: number, y: number, z: number) => boolean): number[] {
  const t = topologyOf(m);
  const fits = (v: number) => test(m.positions[3 * v]!, m.positions[3 * v + 1]!, m.positions[3 * v + 2]!);
  return sharpEdges(m, 30).filter((e) => fits(m.corners[t.edgeCorner[e]!]!) && fits(m.corners[t.next[t.edgeCorner[e]!]!]!)); // prettier-ignore
}
/** Closed, in as many pieces, of the same genus, and no face cuts through another. */
function sound(m: PolyMesh, before: PolyMesh): void {
  expect([isClosed(m), genus(m), components(m).count]).toEqual([isClosed(before), genus(before), components(before).count]); // prettier-ignore
  expect(pairsThatMeet(m, () => true)).toEqual([]);
}
/** Places of a quarter circle of s parts: how far in and how far down, from the face to the wall. */
const quarter = (w: number, s: number) => Array.from({ length: s + 1 }, (_, k) => {
  const a = (Math.PI / 2) * (k / s);
  return { inward: w - w * Math.sin(a), down: w - w * Math.cos(a) };
}); // prettier-ignore
/** What a rounded rim of an n-gon (apothem a) takes off or adds: frusta between n-gons of the apothems a + sign · inward. */
function rim(a: number, n: number, w: number, s: number, sign: 1 | -1): number {
  const q = quarter(w, s);
  let sum = 0;
  for (let k = 0; k < s; k++) {
    const [p, r] = [a + sign * q[k]!.inward, a + sign * q[k + 1]!.inward];
    sum += ((q[k + 1]!.down - q[k]!.down) / 3) * (p * p + p * r + r * r) - a * a * (q[k + 1]!.down - q[k]!.down);
  }
  return n * Math.tan(Math.PI / n) * sum;
}
/** The area that a rounding of s parts takes off a right angle. */
const corner = (w: number, s: number) => w * w - (s / 2) * w * w * Math.sin(Math.PI / 2 / s);
/** How far a place is from a box about the origin, outside. */
const offBox = (p: number[], half: number[]) => Math.hypot(...p.map((x, k) => Math.max(0, Math.abs(x) - half[k]!)));
const places = (m: PolyMesh) => Array.from({ length: m.positions.length / 3 }, (_, v) => [...m.positions.subarray(3 * v, 3 * v + 3)]); // prettier-ignore

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
    expect(volume(round(m, { width: 0.125, measure: 'share' }).mesh)).toBeCloseTo(volume(round(m, { width: 0.5 }).mesh), 11); // prettier-ignore
  });

  it('drawn from one side to the middle, and the same on the other half', () => {
    const m = box(4, 6, 8);
    const one = edgesWhere(m, (x, y) => x > 0 && y > 0);
    const areaOf = (profile: BevelWish['profile'], width = 1) => (192 - volume(round(m, { width, profile }, one).mesh)) / 8;
    // A step: straight in to the middle of the way, half way out in the middle. Between the edge and the profile lie a triangle of ½ and what the step takes of it.
    const triangle = (list: number[][]) => Math.abs(list.reduce((s, [x, y], i) => s + x! * list[(i + 1) % list.length]![1]! - y! * list[(i + 1) % list.length]![0]!, 0)) / 2;
    for (const profile of [[[1, 0.5]], [[0.4, 0], [0.6, 0.7], [1, 0.7]], [[0.5, 0.4]], [[0.5, -0.5], [1, -0.2]]] as [number, number][][]) {
      const at = (along: number, out: number): number[] => [1 - along / 2 - out / 2, along / 2 - out / 2];
      const half = profile.map(([a, o]) => at(a, o));
      const other = profile.filter(([a]) => a < 1).map(([a, o]) => [...at(a, o)].reverse()).reverse();
      expect(areaOf(profile)).toBeCloseTo(triangle([[1, 0], ...half, ...other, [0, 1], [0, 0]]), 11);
      sound(round(m, { profile, width: 0.5 }).mesh, m);
    }
    // Lit facet by facet.
    const { mesh } = round(m, { profile: [[0.5, 0.4]] }, one);
    const flat = faceNormals(mesh);
    for (let f = 6; f < faceCount(mesh); f++)
      for (let c = mesh.loopStart[f]!; c < mesh.loopStart[f + 1]!; c++) for (let k = 0; k < 3; k++) expect(mesh.layers.normal![3 * c + k]).toBeCloseTo(flat[3 * f + k]!, 6);
  }); // prettier-ignore
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
    // The floor's four edges, and none of the four that rise from it: ∫ 48 − (8 − 2 u)(6 − 2 u) du, u from 0 to w, is added.
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
        for (const [i, j] of [[w - 5, w - 5], [5 - w, w - 5], [w - 5, 5 - w], [5 - w, -1 - w], [-1 - w, 5 - w]] as const) least = Math.min(least, on(x! - i, y! - j), on(x! - i, y! - j, z! - h));
      }
      return Math.min(least, on(x! + 1 - w, y! + 1 - w));
    }; // prettier-ignore
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
      // Along top and bottom the outline goes in by u at each height: ∫ P u − (5 − 1) u² du. Six edges that rise, of which one fills; a sixth of a cube at each end.
      expect(volume(mesh)).toBeCloseTo(256 - 2 * (40 * h - (4 / 3) * w ** 3) - 4 * h * (4 - 2 * w) - (10 - 2) * (w ** 3 / 6), 10); // prettier-ignore
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
        for (const [x, y, z] of all as [number, number, number][]) expect(Math.min(...all.map((q) => Math.hypot(q[0]! - c * x + s * y, q[1]! - s * x - c * y, q[2]! - z)))).toBeLessThan(1e-9); // prettier-ignore
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
          const t = Math.max(0, Math.min(1, ((p[0]! - q[0]) * e[0]! + (p[1]! - q[1]) * e[1]!) / (e[0]! ** 2 + e[1]! ** 2))); // prettier-ignore
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
      const m = cut(cylinder(R, 120, n), transformMesh(cylinder(r, 120, n / 2), [0, 0, 1, 0, 0, 1, 0, 0, -1, 0, 0, 0] as Affine));
      const P = places(m);
      const hull = (p: number[]) => Math.abs(Math.hypot(p[0]!, p[1]!) - R);
      const port = (p: number[]) => Math.abs(Math.hypot(p[1]!, p[2]!) - r);
      // Walls of the port are square to the hull's ends, those of the hull to the port's.
      const N = faceNormals(m);
      const inPort = Array.from({ length: faceCount(m) }, (_, f) => Math.abs(N[3 * f]!) < 1e-9 && Math.abs(N[3 * f + 2]!) < 1 - 1e-9);
      const guide = {
        knows: () => true,
        normal: (f: number, [x, y, z]: readonly [number, number, number]) => (inPort[f] ? ([0, -y, -z] as const) : ([x, y, 0] as const)),
        off: (f: number, p: readonly [number, number, number]) => (inPort[f] ? port([...p]) : hull([...p])),
      };
      const t = topologyOf(m);
      const seam = [...t.edgeCorner].filter((c) => m.layers.seam![c] && P[m.corners[c]!]![0]! > 0).map((c) => t.edge[c]!);
      const { mesh } = round(m, { width: ball, measure: 'radius', segments: 4, course: 99, ...(rolls && { guide }) }, seam);
      sound(mesh, m);
      const Q = places(mesh);
      const { face } = topologyOf(mesh);
      const own = new Set([...mesh.corners.keys()].filter((c) => mesh.layers.source![3 * face[c]! + 2] === 99).map((c) => mesh.corners[c]!));
      // The middles of the ball: as far from both axes as it is to be.
      const path = Array.from({ length: 2000 }, (_, k) => {
        const a = (Math.PI * k) / 1000;
        const [y, z] = [(r + ball) * Math.cos(a), (r + ball) * Math.sin(a)];
        return [Math.sqrt((R - ball) ** 2 - y * y), y, z];
      });
      const off = [...own].map((v) => Math.abs(Math.min(...path.map((q) => Math.hypot(...q.map((x, k) => x - Q[v]![k]!)))) - ball));
      return Math.max(...off);
    };
    for (const n of [48, 96]) {
      const sagitta = R * (1 - Math.cos(Math.PI / n)) + r * (1 - Math.cos((2 * Math.PI) / n));
      expect(worst(n, true)).toBeLessThan(sagitta);
    }
    expect(worst(96, true)).toBeLessThan(0.5 * worst(96, false));
  }, 60_000); // prettier-ignore

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
      expect(ridge.map((p) => [Math.abs(p[0]!), p[1]])).toEqual([[expect.closeTo(9, 2), expect.closeTo(0, 9)], [expect.closeTo(9, 2), expect.closeTo(0, 9)]]);
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
    expect([apart.report.met, places(apart.mesh)]).toEqual([0, places(round(near, { width: 0.9, past: 'narrow' }).mesh)]);
  }); // prettier-ignore

  it('refuses what has nothing to round', () => {
    const m = box(4, 6, 8);
    expect(() => bevel(m, [], WISH)).toThrow(/no edge to bevel/);
  });
});

describe('holding lines', () => {
  it('of a box: on both sides of all edges, the surface as it was', () => {
    const m = { ...box(4, 6, 8), layers: { hard: new Uint8Array(24).fill(1) } };
    const { mesh } = holdEdges(m, sharpEdges(m, 30), 0.5);
    expect(volume(mesh)).toBeCloseTo(192, 12);
    expect(areaAndVolume(mesh).area).toBeCloseTo(2 * (24 + 32 + 48), 11);
    // Six flats within, two bands along each of twelve edges, three quads at each of eight corners.
    expect(faceCount(mesh)).toBe(6 + 24 + 24);
    for (let f = 0; f < faceCount(mesh); f++) expect(mesh.loopStart[f + 1]! - mesh.loopStart[f]!).toBe(4);
    const lengths = [...Array(topologyOf(mesh).edgeCount).keys()].filter((e) => mesh.layers.hard![topologyOf(mesh).edgeCorner[e]!]); // prettier-ignore
    // Each edge is still hard, in three parts.
    expect(lengths).toHaveLength(36);
    expect(sharpEdges(mesh, 30)).toHaveLength(36);
    expect(isClosed(mesh)).toBe(true);
  });

  it('of a round hole: rings in the flat and in the wall, no other vertex in the flat', () => {
    const m = cut(box(20, 20, 6), cylinder(4, 20, 32));
    const { mesh } = holdEdges(
      m,
      edgesWhere(m, (x, y) => Math.hypot(x, y) < 5),
      0.75,
    );
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
    const { mesh, narrowed } = bevelVertices(m, [...Array(8).keys()], 1);
    expect(volume(mesh)).toBeCloseTo(64 - 8 / 6, 12);
    expect([faceCount(mesh), narrowed, isClosed(mesh)]).toEqual([14, 0, true]);
    // To the middles of the edges, and no further, both ends cut.
    const most = bevelVertices(m, [...Array(8).keys()], 3);
    expect(most.narrowed).toBe(8);
    expect(isClosed(most.mesh)).toBe(true);
    expect(volume(most.mesh)).toBeGreaterThan(64 * (5 / 6));
    expect(volume(bevelVertices(m, [0], 3).mesh)).toBeCloseTo(64 - 27 / 6, 12);
    expect(() => bevelVertices(sheet(2, 2), [0], 0.5)).toThrow(/open border/);
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
    const { mesh: banded, report: band } = collar(m, seam, { width, rows: 1, sides: 'both', aim: 'square', shift: 0 });
    const u = topologyOf(banded);
    const seams = [...u.edgeCorner].filter((c) => banded.layers.seam![c] || banded.layers.seam![u.opposite[c]!]).map((c) => u.edge[c]!);
    expect(seams.length).toBeGreaterThanOrEqual(seam.length);
    const { mesh, report } = bevel(banded, seams, { ...WISH, width: 0.9 * band.narrowest, segments: 2, past: 'stop' });
    sound(mesh, m);
    expect(report.edges).toBe(seams.length);
  }); // prettier-ignore

  it('takes nine tenths of the band: closed, uncrossed, and the band’s outer edge stays where it is', () => {
    const m = cut(box(40, 40, 10), cylinder(8, 30, 32));
    const t = topologyOf(m);
    const seam = edgesWhere(m, (x, y) => Math.hypot(x, y) < 9);
    const { mesh: banded } = collar(
      m,
      seam.map((e) => t.edgeCorner[e]!),
      { width: 3, rows: 1, sides: 'both', aim: 'square', shift: 0 },
    );
    const rims = edgesWhere(banded, (x, y) => Math.hypot(x, y) < 9);
    const { mesh, report } = bevel(banded, rims, { ...WISH, width: 2.7, segments: 3 });
    sound(mesh, m);
    expect(report.narrowed).toBe(0);
    const outer = (x: PolyMesh) => places(x).filter((p) => Math.abs(p[2]! - 5) < 1e-9 && Math.abs(Math.hypot(p[0]!, p[1]!) - 11) < 0.1); // prettier-ignore
    expect(outer(mesh)).toHaveLength(outer(banded).length);
  });
});
