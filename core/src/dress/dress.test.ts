import { describe, expect, it } from 'vitest';
import { carve } from '../carve/index.ts';
import {
  areaAndVolume,
  bounds,
  faceBend,
  faceCount,
  faceNormals,
  isClosed,
  meshFromFaces,
  topologyOf,
  transformMesh,
  vertexCount,
  withSource,
  type PolyMesh,
} from '../mesh/index.ts';
import { box, cylinder, sheet } from '../shapes/index.ts';
import { toQuads } from '../mend/index.ts';
import { bendByCage, fittedGuide, markEdges, relight, reseat, setHard, sharpEdges, subdivide } from './index.ts';
import { flatsOf } from './keepFlats.ts';

const normalsOf = (m: PolyMesh, f: number) => {
  const out: number[][] = [];
  for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++)
    out.push([...m.layers.normal!.subarray(3 * c, 3 * c + 3)]);
  return out;
};
const at = (m: PolyMesh, v: number) => [...m.positions.subarray(3 * v, 3 * v + 3)];

describe('relight', () => {
  it('fades towards cuts: at the cut the light is as it was, at the distance and beyond it is that of the guide', () => {
    const holed = carve(withSource(sheet(40, 40, [8, 8]), 1, 1), {
      cutters: [withSource(cylinder(4, 10, 16), 2, 2)],
      operation: 'subtract',
      course: 2,
    }).mesh;
    const guide = { knows: () => true, normal: (): [number, number, number] => [0.6, 0, 0.8], off: () => 0 };
    const { mesh } = relight(holed, { guide, wanted: () => true, fade: 10 });
    const at = (c: number) =>
      Math.hypot(mesh.positions[3 * mesh.corners[c]!]!, mesh.positions[3 * mesh.corners[c]! + 1]!) - 4;
    const tilt = (c: number) => mesh.layers.normal![3 * c]!;
    const corners = [...mesh.corners.keys()].sort((a, b) => at(a) - at(b));
    expect(corners.filter((c) => at(c) < 0.01).every((c) => Math.abs(tilt(c)) < 1e-3)).toBe(true);
    expect(corners.filter((c) => at(c) > 10.2).every((c) => Math.abs(tilt(c) - 0.6) < 1e-6)).toBe(true);
    const between = corners.filter((c) => at(c) > 2 && at(c) < 8);
    expect(between.length).toBeGreaterThan(10);
    for (const c of between) expect(tilt(c)).toBeGreaterThan(0.05);
    expect(tilt(between.at(-1)!)).toBeGreaterThan(tilt(between[0]!));
  });
});

describe('sharp edges', () => {
  it('by angle, and on over what turns hardly less', () => {
    expect(sharpEdges(box(2, 3, 4), 30)).toHaveLength(12);
    expect(sharpEdges(box(2, 3, 4), 91)).toHaveLength(0);
    // A roof whose ridge turns by 40° in one half, and by less in the other: the chain goes on over 25°, which would
    // begin none, but not over 15°.
    const ridge = (tilt: number) => Math.tan((tilt * Math.PI) / 360);
    const roof = (a: number, b: number) =>
      meshFromFaces(
        [
          0,
          -1,
          -ridge(a),
          0,
          0,
          0,
          0,
          1,
          -ridge(a),
          1,
          -1,
          -ridge(a),
          1,
          0,
          0,
          1,
          1,
          -ridge(a),
          2,
          -1,
          -ridge(b),
          2,
          0,
          0,
          2,
          1,
          -ridge(b),
        ],
        [
          [0, 3, 4, 1],
          [1, 4, 5, 2],
          [3, 6, 7, 4],
          [4, 7, 8, 5],
        ],
      );
    expect(sharpEdges(roof(40, 40), 30)).toHaveLength(2);
    expect(sharpEdges(roof(40, 10), 30)).toHaveLength(2);
    expect(sharpEdges(roof(40, -10), 30)).toHaveLength(1);
    expect(sharpEdges(roof(24, 24), 30)).toHaveLength(0);
  });
});

describe('hard edges', () => {
  it('hard: each side has its own light; soft: one, by angles, areas, or of the largest face', () => {
    const m = box(2, 2, 8);
    const all = [...Array(12).keys()];
    const hard = setHard(m, { edges: all, to: 'hard', weight: 'angle' }).mesh;
    for (let f = 0; f < 6; f++) for (const n of normalsOf(hard, f)) expect(Math.max(...n.map(Math.abs))).toBe(1);
    expect(hard.layers.hard!.every((x) => x === 1)).toBe(true);
    const soft = setHard(hard, { edges: all, to: 'soft', weight: 'angle' }).mesh;
    expect(soft.layers.hard!.every((x) => x === 0)).toBe(true);
    for (let f = 0; f < 6; f++)
      for (const n of normalsOf(soft, f)) for (const x of n) expect(Math.abs(x)).toBeCloseTo(Math.sqrt(1 / 3), 6);
    // By areas 16, 16 and 4: the long sides weigh four times as much as the ends.
    const [x, y, z] = normalsOf(setHard(m, { edges: all, to: 'soft', weight: 'area' }).mesh, 0)[0]!.map(Math.abs);
    expect([x! / z!, y! / z!].map((r) => +r.toFixed(5))).toEqual([4, 4]);
    const [, , end] = normalsOf(setHard(m, { edges: all, to: 'soft', weight: 'largest' }).mesh, 0)[0]!;
    expect(end).toBeCloseTo(0, 6);
  });
});

describe('Catmull–Clark, by what is published', () => {
  it('limit positions: on a regular grid those of the bicubic spline, at the rim those of the cubic one', () => {
    const flat = sheet(6, 6, [6, 6]);
    const P = flat.positions.slice();
    for (let v = 0; v < P.length / 3; v++) P[3 * v + 2] = 0.3 * P[3 * v]! ** 2;
    const m = { ...flat, positions: P };
    const { mesh } = subdivide(m, { levels: 1, limit: true });
    // A cubic B-spline over the values x² has x² + 1/3 as its limit, with steps of 1; after one round vertices lie on
    // the same surface.
    for (let v = 0; v < vertexCount(mesh); v++) {
      const [x, y, z] = at(mesh, v) as [number, number, number];
      if (Math.abs(x) > 1.9 || Math.abs(y) > 1.9) continue;
      expect(z).toBeCloseTo(0.3 * (x * x + 1 / 3), 12);
    }
  });

  it('the limit does not hang on the level at which it is taken', () => {
    const corner = (levels: number) => at(subdivide(box(2, 2, 2), { levels, limit: true }).mesh, 0);
    // Halstead, Kass and DeRose: (n² v + 4 Σ e + Σ f) / (n (n + 5)) of the once subdivided cube.
    const once = subdivide(box(2, 2, 2), { levels: 1 }).mesh;
    const t = topologyOf(once);
    const around = [...once.corners.keys()].filter((c) => once.corners[c] === 0);
    const sum = [0, 1, 2].map(
      (k) =>
        (9 * at(once, 0)[k]! +
          4 * around.reduce((s, c) => s + at(once, once.corners[t.next[c]!]!)[k]!, 0) +
          around.reduce((s, c) => s + at(once, once.corners[t.next[t.next[c]!]!]!)[k]!, 0)) /
        24,
    );
    corner(1).forEach((x, k) => expect(x).toBeCloseTo(sum[k]!, 12));
    for (const n of [2, 3]) corner(n).forEach((x, k) => expect(x).toBeCloseTo(sum[k]!, 10));
  });

  it('creases: for ever as hard edges, for one round as that round sharp, for half a round half way', () => {
    const m = box(2, 2, 2);
    const all = [...Array(12).keys()];
    const of = (sharpness: number, levels = 1) =>
      subdivide(markEdges(m, { edges: all, layer: 'crease', value: sharpness }).mesh, { levels }).mesh;
    expect(areaAndVolume(of(10, 3)).volume).toBeCloseTo(8, 10);
    // All three edges at a corner are sharp: it stays for one round.
    expect(at(of(1), 0).map(Math.abs)).toEqual([1, 1, 1]);
    expect(of(1).layers.crease!.every((x) => x === 0)).toBe(true);
    expect(of(2).layers.crease!.some((x) => x === 1)).toBe(true);
    at(of(0.5), 0).forEach((x) => expect(Math.abs(x)).toBeCloseTo((1 + 5 / 9) / 2, 12));
    expect(areaAndVolume(of(0)).volume).toBeCloseTo(areaAndVolume(subdivide(m, { levels: 1 }).mesh).volume, 12);
  });

  it('corners of a sheet stay, however many faces meet there; a hole of eight sides becomes round', () => {
    const holed = carve(sheet(400, 400), { cutters: [cylinder(80, 40, 8)], operation: 'subtract' }).mesh;
    const quads = toQuads(holed, { wanted: () => true, goal: 'shape', split: true, pairs: 20 }).mesh;
    const { mesh } = subdivide(quads, { levels: 3, corners: true });
    const P = mesh.positions;
    const places = Array.from({ length: P.length / 3 }, (_, v) => [P[3 * v]!, P[3 * v + 1]!] as const);
    for (const corner of [
      [-200, -200],
      [200, -200],
      [200, 200],
      [-200, 200],
    ] as const)
      expect(Math.min(...places.map(([x, y]) => Math.hypot(x - corner[0], y - corner[1])))).toBe(0);
    const { opposite } = topologyOf(mesh);
    const rim = [...mesh.corners]
      .filter((_, c) => opposite[c]! < 0)
      .map((v) => Math.hypot(...places[v]!))
      .filter((r) => r < 90);
    expect(Math.max(...rim) / Math.min(...rim)).toBeLessThan(80 / (80 * Math.cos(Math.PI / 8)));
  });

  it('corners of a sheet stay where that is asked for, and UVs go along', () => {
    const flat = sheet(8, 8, [4, 4]);
    const kept = subdivide(flat, { levels: 2, corners: true }).mesh;
    expect(bounds(kept)).toEqual(bounds(flat));
    expect(areaAndVolume(kept).area).toBeCloseTo(64, 10);
    const uv = new Float64Array(2 * flat.corners.length);
    flat.corners.forEach((v, c) => uv.set([flat.positions[3 * v]!, flat.positions[3 * v + 1]!], 2 * c));
    const mapped = { ...flat, layers: { ...flat.layers, uv } };
    const smooth = subdivide(mapped, { levels: 2, corners: true, uvs: 'smooth' }).mesh;
    // A map that is the place itself within the sheet stays so, rims apart, which are halved.
    smooth.corners.forEach((v, c) => {
      const p = at(smooth, v);
      if (Math.max(Math.abs(p[0]!), Math.abs(p[1]!)) > 2) return;
      expect([smooth.layers.uv![2 * c], smooth.layers.uv![2 * c + 1]].map((x, k) => x! - p[k]!)).toEqual([
        expect.closeTo(0, 12),
        expect.closeTo(0, 12),
      ]);
    });
  });
});

describe('a guide that is fitted to faces', () => {
  it('is the cylinder, the ball or the plane that they stand for, cut or not', () => {
    const port = carve(cylinder(20, 60, 40), {
      cutters: [transformMesh(cylinder(6, 60, 24), [0, 0, 1, 0, 0, 1, 0, 0, -1, 0, 0, 0])],
      operation: 'subtract',
    }).mesh;
    const N = faceNormals(port);
    const skin = (f: number) =>
      Math.abs(N[3 * f + 2]!) < 0.1 &&
      [...port.corners.subarray(port.loopStart[port.faceLoops[f]!]!, port.loopStart[port.faceLoops[f + 1]!]!)].every(
        (v) => Math.hypot(port.positions[3 * v]!, port.positions[3 * v + 1]!) > 20 * Math.cos(Math.PI / 40) - 1e-9,
      );
    const guide = fittedGuide(port, skin);
    for (const a of [0.1, 0.8, 2, 4]) {
      const [n, p] = [
        guide.normal(0, [20 * Math.cos(a), 20 * Math.sin(a), 7]),
        [20 * Math.cos(a), 20 * Math.sin(a), 7] as const,
      ];
      const cos = Math.abs(n[0] * Math.cos(a) + n[1] * Math.sin(a)) / Math.hypot(...n);
      expect((Math.acos(Math.min(1, cos)) * 180) / Math.PI).toBeLessThan(0.1);
      expect(guide.off(0, p)).toBeLessThan(0.07);
    }
    const {
      mesh,
      report: { corners },
    } = relight(port, { guide, wanted: skin, fade: 0 });
    expect(corners).toBeGreaterThan(20);
    let worst = 0;
    mesh.corners.forEach((v, c) => {
      const f = topologyOf(mesh).face[c]!;
      if (!skin(f)) return;
      const [x, y] = at(mesh, v) as [number, number];
      const n = mesh.layers.normal!.subarray(3 * c, 3 * c + 3);
      worst = Math.max(worst, Math.acos(Math.min(1, (n[0]! * x + n[1]! * y) / Math.hypot(x, y))));
    });
    expect((worst * 180) / Math.PI).toBeLessThan(0.1);
    const ball = transformMesh(subdivide(box(2, 2, 2), { levels: 0 }).mesh, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);
    expect(() => fittedGuide(ball, () => false)).toThrow(/do not define/);
  });
});

describe('reseat', () => {
  const [R, N] = [20, 48];
  const across = transformMesh(cylinder(5, 60, 24), [0, 0, 1, 0, 0, 1, 0, 0, -1, 0, 0, 0]);
  const hull = withSource(cylinder(R, 40, N), 1, 1);
  const ported = carve(hull, { cutters: [withSource(across, 2, 2)], operation: 'subtract', course: 2 }).mesh;
  const far = (m: PolyMesh, v: number) => Math.hypot(m.positions[3 * v]!, m.positions[3 * v + 1]!);
  /** The hull as it is meant: a cylinder. Its ends and the walls of the port are known to be none. */
  const guideOf = (m: PolyMesh) => {
    const normals = faceNormals(m);
    return {
      knows: (f: number) => m.layers.source![3 * f] === 1 && Math.abs(normals[3 * f + 2]!) < 0.5,
      normal: (_: number, p: readonly [number, number, number]): [number, number, number] => [p[0], p[1], 0],
      off: (_: number, p: readonly [number, number, number]) => Math.abs(Math.hypot(p[0], p[1]) - R),
    };
  };
  const sagitta = R * (1 - Math.cos(Math.PI / N));

  it('puts the rim of a port onto the round hull, along the walls of the port; the rest stays where it is', () => {
    const {
      mesh,
      report: { moved, furthest, spared },
    } = reseat(ported, { guide: guideOf(ported), wanted: () => true, most: 1 });
    const before = [...Array(vertexCount(ported)).keys()];
    const rim = before.filter(
      (v) =>
        Math.hypot(ported.positions[3 * v + 1]!, ported.positions[3 * v + 2]!) < 5 + 1e-9 &&
        Math.abs(ported.positions[3 * v]!) > 15,
    );
    const off = rim.filter((v) => R - far(ported, v) > 1e-9);
    expect([moved, spared]).toEqual([off.length, 0]);
    expect(off.length).toBeGreaterThan(30);
    for (const v of rim) {
      expect(far(mesh, v)).toBeCloseTo(R, 9);
      // The port goes through along x: its walls are kept.
      expect([mesh.positions[3 * v + 1], mesh.positions[3 * v + 2]]).toEqual(
        [ported.positions[3 * v + 1], ported.positions[3 * v + 2]].map((x) => expect.closeTo(x!, 9)),
      );
    }
    for (const v of before) if (!off.includes(v)) expect(at(mesh, v)).toEqual(at(ported, v));
    // Along the wall it is a little further than the sagitta itself.
    expect(furthest).toBeGreaterThan(0.5 * sagitta);
    expect(furthest).toBeLessThan(sagitta / Math.cos(Math.asin(5 / R)) + 1e-9);
  });

  it('leaves what would go too far and tells how many, and what is not wanted; a seated part stays as it is', () => {
    const near = reseat(ported, { guide: guideOf(ported), wanted: () => true, most: 0.3 * sagitta });
    const whole = reseat(ported, { guide: guideOf(ported), wanted: () => true, most: 1 });
    expect(near.report.spared).toBeGreaterThan(0);
    expect([near.report.moved + near.report.spared, near.report.furthest <= 0.3 * sagitta]).toEqual([
      whole.report.moved,
      true,
    ]);
    const none = reseat(ported, { guide: guideOf(ported), wanted: () => false, most: 1 });
    expect([none.report.moved, none.mesh.positions]).toEqual([0, ported.positions]);
    // Only the half that is wanted.
    const right = (f: number) => ported.positions[3 * ported.corners[ported.loopStart[ported.faceLoops[f]!]!]!]! > 0;
    const half = reseat(ported, { guide: guideOf(ported), wanted: right, most: 1 });
    expect(half.report.moved).toBe(whole.report.moved / 2);
    expect(reseat(whole.mesh, { guide: guideOf(whole.mesh), wanted: () => true, most: 1 }).report.moved).toBe(0);
  });

  it('without sources, over a surface of its own: along the normals', () => {
    // A strip of facets of a cylinder, divided along the middle of each.
    const chord = (i: number, z: number) => {
      const a = (Math.floor(i / 2) * 2 * Math.PI) / N;
      const b = a + (2 * Math.PI) / N;
      return i % 2
        ? [(R * (Math.cos(a) + Math.cos(b))) / 2, (R * (Math.sin(a) + Math.sin(b))) / 2, z]
        : [R * Math.cos(a), R * Math.sin(a), z];
    };
    const strip = meshFromFaces(
      [0, 1, 2].flatMap((row) => Array.from({ length: 9 }, (_, i) => chord(i, 10 * row)).flat()),
      Array.from({ length: 16 }, (_, k) => {
        const v = (k % 8) + 9 * Math.floor(k / 8);
        return [v, v + 1, v + 10, v + 9];
      }),
    );
    const all = { ...guideOf(hull), knows: () => true };
    const {
      mesh,
      report: { moved, furthest },
    } = reseat(strip, { guide: all, wanted: () => true, most: 1 });
    for (let v = 0; v < 27; v++)
      expect([far(mesh, v), mesh.positions[3 * v + 2]]).toEqual([expect.closeTo(R, 9), strip.positions[3 * v + 2]]);
    expect([moved, furthest]).toEqual([12, expect.closeTo(sagitta, 9)]);
  });
});

describe('cage', () => {
  const all = (m: PolyMesh) => [...Array(vertexCount(m)).keys()];
  const still = { divisions: [1, 1, 1], moves: [], taper: { axis: 2, ratio: 1 }, smooth: true } as const;

  it('tapers by the ratio typed: a frustum', () => {
    const m = box(4, 4, 6);
    for (const smooth of [true, false]) {
      const {
        mesh,
        report: { moved },
      } = bendByCage(m, { vertices: all(m), ...still, taper: { axis: 2, ratio: 0.5 }, smooth });
      expect(areaAndVolume(mesh).volume).toBeCloseTo((6 / 3) * (16 + 8 + 4), 12);
      expect(moved).toBe(4);
    }
  });

  it('a point that is moved takes what is near it along: by Bernstein weights, or in its own cells alone', () => {
    const m = box(2, 2, 8, [1, 1, 8]);
    const moves = [0, 1].flatMap((i) =>
      [0, 1].map((j) => ({ point: [i, j, 1] as [number, number, number], by: [1, 0, 0] as [number, number, number] })),
    );
    const smooth = bendByCage(m, { vertices: all(m), ...still, divisions: [1, 1, 2], moves });
    const straight = bendByCage(m, { vertices: all(m), ...still, divisions: [1, 1, 2], moves, smooth: false });
    for (let v = 0; v < vertexCount(m); v++) {
      const t = (m.positions[3 * v + 2]! + 4) / 8;
      expect(smooth.mesh.positions[3 * v]! - m.positions[3 * v]!).toBeCloseTo(2 * t * (1 - t), 12);
      expect(straight.mesh.positions[3 * v]! - m.positions[3 * v]!).toBeCloseTo(1 - Math.abs(2 * t - 1), 12);
      expect(smooth.mesh.positions[3 * v + 2]).toBe(m.positions[3 * v + 2]);
    }
    expect([smooth.report.furthest, straight.report.furthest]).toEqual([
      expect.closeTo(0.5, 12),
      expect.closeTo(1, 12),
    ]);
    expect(smooth.report.lines).toHaveLength(6 * (2 * 2 * 2 + 3 * 2 * 2));
  });

  it.each([0, 1, 2, 3])(
    'in its own cells alone point %i of four says what a straight line up to it and down from it does',
    (k) => {
      const m = box(2, 2, 9, [1, 1, 18]);
      const moves = [0, 1].flatMap((i) =>
        [0, 1].map((j) => ({
          point: [i, j, k] as [number, number, number],
          by: [1, 0, 0] as [number, number, number],
        })),
      );
      const {
        mesh,
        report: { lines, rest },
      } = bendByCage(m, { vertices: all(m), ...still, divisions: [1, 1, 3], moves, smooth: false });
      for (const v of all(m)) {
        const t = (3 * (m.positions[3 * v + 2]! + 4.5)) / 9;
        expect(mesh.positions[3 * v]! - m.positions[3 * v]!).toBeCloseTo(Math.max(0, 1 - Math.abs(t - k)), 12);
      }
      // Sixteen points at rest; twelve edges a layer and the uprights between, where they stand now.
      expect([rest.length, lines.length / 6]).toEqual([16, 4 * 4 + 3 * 4]);
      const layer = lines.filter((_, i) => i % 3 === 0 && Math.abs(lines[i + 2]! - (3 * k - 4.5)) < 1e-9);
      expect([Math.min(...layer), Math.max(...layer)]).toEqual([0, 2]);
    },
  );

  it('where more flats meet than three, the vertex goes to what three of them have in common', () => {
    // A pyramid, whose tip is drawn aside: its four sides stay flats, since each is a triangle.
    const m = meshFromFaces(
      [-2, -2, 0, 2, -2, 0, 2, 2, 0, -2, 2, 0, 0, 0, 4],
      [
        [3, 2, 1, 0],
        [0, 1, 4],
        [1, 2, 4],
        [2, 3, 4],
        [3, 0, 4],
      ],
    );
    const moves = [0, 1].flatMap((i) =>
      [0, 1].map((j) => ({
        point: [i, j, 1] as [number, number, number],
        by: [0.5, 0.25, 0] as [number, number, number],
      })),
    );
    const { mesh } = bendByCage(m, { vertices: all(m), ...still, moves, flats: true });
    expect(at(mesh, 4).map((x) => +x.toFixed(9))).toEqual([0.5, 0.25, 4]);
    for (let v = 0; v < 4; v++) expect(at(mesh, v)).toEqual(at(m, v).map((x) => expect.closeTo(x, 12)));
  });

  it('flats with sharp edges all round stay flat where that is asked for; what is bent goes as it would', () => {
    // A bar with a hole through it, twisted at its far end: its sides would be bent.
    const bar = carve(box(6, 6, 20, [1, 1, 4]), {
      cutters: [transformMesh(cylinder(1.5, 20, 24), [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0])],
      operation: 'subtract',
    }).mesh;
    const moves = [
      { point: [1, 1, 2], by: [2, 0.5, 1] },
      { point: [0, 1, 2], by: [0, -1.5, 0] },
    ] as const;
    const wish = { ...still, divisions: [1, 1, 2], moves } as const;
    const bent = (m: PolyMesh) => Math.max(...Array.from({ length: faceCount(m) }, (_, f) => faceBend(m, f)));
    expect(bent(bendByCage(bar, { vertices: all(bar), ...wish }).mesh)).toBeGreaterThan(0.1);
    const {
      mesh,
      report: { furthest },
    } = bendByCage(bar, { vertices: all(bar), ...wish, flats: true });
    const { of, count } = flatsOf(bar);
    expect(count).toBe(6);
    const flat = faceNormals(mesh);
    for (let k = 0; k < count; k++) {
      const faces = [...of.keys()].filter((f) => of[f] === k);
      for (const f of faces) {
        expect(faceBend(mesh, f)).toBeLessThan(1e-12);
        for (let i = 0; i < 3; i++) expect(flat[3 * f + i]).toBeCloseTo(flat[3 * faces[0]! + i]!, 12);
      }
    }
    expect(furthest).toBeGreaterThan(1);
    expect(isClosed(mesh)).toBe(true);
    // With a vertex of each flat out of the pick there is nothing to keep.
    const upper = all(bar).filter((v) => bar.positions[3 * v + 2]! > -9);
    const part = {
      ...wish,
      divisions: [1, 1, 1] as const,
      moves: [{ point: [1, 1, 1] as const, by: [1, 0, 0] as const }],
    };
    const top = (m: PolyMesh) => [...m.positions].filter((_, i) => m.positions[i - (i % 3) + 2]! > 9);
    expect(top(bendByCage(bar, { vertices: upper, ...part, flats: true }).mesh).length).toBe(
      top(bendByCage(bar, { vertices: upper, ...part }).mesh).length,
    );
    for (const v of all(bar))
      if (bar.positions[3 * v + 2]! <= -9)
        expect(at(bendByCage(bar, { vertices: upper, ...part, flats: true }).mesh, v)).toEqual(at(bar, v));
  });

  it('only what is picked goes along; a point that is not there is told', () => {
    const m = box(2, 2, 8, [1, 1, 8]);
    const upper = all(m).filter((v) => m.positions[3 * v + 2]! >= 0);
    const { mesh } = bendByCage(m, { vertices: upper, ...still, taper: { axis: 2, ratio: 2 } });
    for (const v of all(m)) if (m.positions[3 * v + 2]! < 0) expect(at(mesh, v)).toEqual(at(m, v));
    expect(bounds(mesh).max[0]).toBeCloseTo(2, 12);
    expect(() => bendByCage(m, { vertices: upper, ...still, moves: [{ point: [0, 0, 5], by: [1, 0, 0] }] })).toThrow(
      /no point 0, 0, 5/,
    );
  });
});
