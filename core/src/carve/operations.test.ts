import { describe, expect, it } from 'vitest';
import {
  areaAndVolume,
  bounds,
  components,
  cornerCount,
  faceAreas,
  faceCount,
  faceNormals,
  isClosed,
  joinMeshes,
  placementAffine,
  takeFaces,
  topologyOf,
  transformMesh,
  vertexCount,
  type PolyMesh,
} from '../mesh/index.ts';
import { ballFromRings, box, cylinder, randomTurn, seededRandom, sheet, tube } from '../shapes/index.ts';
import { bodiesOf, carve, isOpen } from './index.ts';

const at = (m: PolyMesh, x: number, y: number, z: number) => transformMesh(m, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]);
const volume = (m: PolyMesh) => areaAndVolume(m).volume;
const area = (m: PolyMesh) => areaAndVolume(m).area;
const ngon = (r: number, n: number) => (n / 2) * r * r * Math.sin((2 * Math.PI) / n);
const seams = (m: PolyMesh) => [...(m.layers.seam ?? [])].filter((x) => x).length;
const borders = (m: PolyMesh) => topologyOf(m).opposite.reduce((n, o) => n + (o === -1 ? 1 : 0), 0);
const plate = () => box(100, 60, 20);
const pin = () => cylinder(8, 40, 64);

describe('split', () => {
  it('leaves the offcut in place as a second body, with both volumes whole', () => {
    const { mesh } = carve(plate(), { cutters: [pin()], operation: 'split' });
    expect(isClosed(mesh)).toBe(true);
    const [rest, offcut] = bodiesOf(mesh) as [PolyMesh, PolyMesh];
    expect(volume(rest)).toBeCloseTo(120000 - ngon(8, 64) * 20, 8);
    expect(volume(offcut)).toBeCloseTo(ngon(8, 64) * 20, 8);
    expect([faceCount(rest), faceCount(offcut)]).toEqual([70, 66]);
  });

  it('keeps one piece or the other by one switch', () => {
    for (const keeps of ['rest', 'offcut'] as const) {
      const { mesh } = carve(plate(), { cutters: [pin()], operation: 'split', keeps });
      const same = carve(plate(), { cutters: [pin()], operation: keeps === 'rest' ? 'subtract' : 'intersect' }).mesh;
      expect(volume(mesh)).toBe(volume(same));
      expect(faceCount(mesh)).toBe(faceCount(same));
    }
  });

  it('with cutters that cross gives all the pieces', () => {
    // Two slabs across a block: four corners, four arms, one middle.
    const slabs = [box(10, 200, 200), box(200, 10, 200)];
    const { mesh } = carve(box(60, 60, 20), { cutters: slabs, operation: 'split' });
    expect(components(mesh).count).toBe(9);
    expect(volume(mesh)).toBeCloseTo(60 * 60 * 20, 8);
    const pieces = bodiesOf(mesh)
      .flatMap((b) => volume(b))
      .sort((a, b) => a - b);
    expect(pieces[0]).toBeCloseTo(10 * 10 * 20, 8);
  });

  it('a cut through both bodies afterwards works on each, and a union on one', () => {
    const two = carve(plate(), { cutters: [pin()], operation: 'split' }).mesh;
    const slot = box(200, 4, 30);
    const { mesh } = carve(two, { cutters: [at(slot, 0, 0, 10)], operation: 'subtract' });
    expect(isClosed(mesh)).toBe(true);
    expect(volume(mesh)).toBeCloseTo(120000 - 100 * 4 * 15, 8);
    const plain = carve(plate(), { cutters: [at(slot, 0, 0, 10)], operation: 'subtract' }).mesh;
    expect(volume(mesh)).toBeCloseTo(volume(plain), 8);
    const far = carve(two, { cutters: [at(box(10, 10, 10), 45, 0, 12)], operation: 'union' }).mesh;
    expect(volume(far)).toBeCloseTo(120000 + 10 * 10 * 7, 8);
    expect(() => carve(two, { cutters: [at(box(30, 30, 10), 0, 0, 12)], operation: 'union' })).toThrow(
      /several bodies/,
    );
  });
});

describe('scribe', () => {
  it('puts the boundary on all surfaces that the cutter meets, and takes nothing away', () => {
    const { mesh, report } = carve(plate(), { cutters: [pin()], operation: 'scribe', course: 7 });
    expect(isClosed(mesh)).toBe(true);
    expect(volume(mesh)).toBe(120000);
    // Two discs with 64 edges each, and nothing else.
    expect([faceCount(mesh), vertexCount(mesh), seams(mesh)]).toEqual([8, 8 + 128, 2 * 128]);
    expect(report.enclosed).toBe(2);
    const marked = [...mesh.layers.mark!].flatMap((k, f) => (k === 7 ? [faceAreas(mesh)[f]!] : []));
    expect(marked).toEqual([expect.closeTo(ngon(8, 64), 8), expect.closeTo(ngon(8, 64), 8)]);
  });

  it('only on the surface that is met first along a direction', () => {
    const down = carve(plate(), { cutters: [pin()], operation: 'scribe', nearest: [[0, 0, -1]] }).mesh;
    expect([faceCount(down), vertexCount(down)]).toEqual([7, 8 + 64]);
    const marked = [...down.layers.mark!].indexOf(1);
    const v = down.corners[down.loopStart[down.faceLoops[marked]!]!]!;
    expect(down.positions[3 * v + 2]).toBe(10);
    const two = [pin(), at(pin(), 30, 0, 0)];
    const both = carve(plate(), {
      cutters: two,
      operation: 'scribe',
      nearest: [
        [0, 0, 1],
        [0, 0, 1],
      ],
    }).mesh;
    expect(faceCount(both)).toBe(8);
    expect([...both.layers.mark!].filter((k) => k).length).toBe(2);
  });

  it('a cutter that stands flush on a face marks its footprint; a face wholly inside is marked as it is', () => {
    const stands = carve(plate(), { cutters: [at(box(20, 20, 10), 0, 0, 15)], operation: 'scribe' }).mesh;
    expect([faceCount(stands), vertexCount(stands)]).toEqual([7, 12]);
    expect(volume(stands)).toBe(120000);
    const around = carve(plate(), { cutters: [at(box(200, 200, 10), 0, 0, 10)], operation: 'scribe' }).mesh;
    expect(faceCount(around)).toBe(10);
    expect([...around.layers.mark!].filter((k) => k).length).toBe(5);
  });

  it('follows a curved surface, and leaves other faces bit for bit', () => {
    const ball = ballFromRings(30, 48, 24);
    const { mesh } = carve(ball, { cutters: [at(cylinder(8, 40, 32), 0, 0, 30)], operation: 'scribe' });
    expect(isClosed(mesh)).toBe(true);
    expect(volume(mesh)).toBeCloseTo(volume(ball), 7);
    expect(faceAreas(mesh).reduce((a, b) => a + b)).toBeCloseTo(area(ball), 7);
    const low = (m: PolyMesh) => [...m.positions].filter((_, i) => i % 3 === 2 && m.positions[i]! < 20).length;
    expect(low(mesh)).toBe(low(ball));
  });
});

describe('sheets', () => {
  it('a hole, and what lies in it, leave a sheet with its border untouched', () => {
    const s = sheet(60, 40, [3, 2]);
    const hole = carve(s, { cutters: [pin()], operation: 'subtract' }).mesh;
    expect(isOpen(hole)).toBe(true);
    expect(area(hole)).toBeCloseTo(2400 - ngon(8, 64), 9);
    expect(borders(hole)).toBe(10 + seams(hole));
    const disc = carve(s, { cutters: [pin()], operation: 'intersect' }).mesh;
    expect(area(disc)).toBeCloseTo(ngon(8, 64), 9);
    const both = carve(s, { cutters: [pin()], operation: 'split' }).mesh;
    expect(area(both)).toBeCloseTo(2400, 9);
    expect(bodiesOf(both)).toHaveLength(2);
    const marked = carve(s, { cutters: [pin()], operation: 'scribe' }).mesh;
    expect(borders(marked)).toBe(10);
    expect(area(marked)).toBeCloseTo(2400, 9);
    expect([...marked.layers.mark!].some((k) => k)).toBe(true);
  });

  it('over its border, by several cutters at once, and with a cutter face in the sheet', () => {
    const s = sheet(60, 40);
    const edge = carve(s, { cutters: [at(box(10, 10, 10), 30, 0, 0)], operation: 'subtract' }).mesh;
    expect([area(edge), faceCount(edge), vertexCount(edge)]).toEqual([expect.closeTo(2350, 9), 1, 8]);
    const slots = [-20, -10, 0, 10, 20].map((x) => at(box(4, 20, 10), x, 0, 0));
    const louvre = carve(s, { cutters: slots, operation: 'subtract' }).mesh;
    expect([area(louvre), faceCount(louvre)]).toEqual([expect.closeTo(2400 - 400, 9), 1]);
    const flush = carve(s, { cutters: [at(box(10, 10, 10), 0, 0, 5)], operation: 'subtract' }).mesh;
    expect(area(flush)).toBeCloseTo(2300, 9);
    const all = carve(s, { cutters: [at(box(100, 100, 10), 0, 0, 5)], operation: 'intersect' }).mesh;
    expect(area(all)).toBeCloseTo(2400, 9);
  });

  it('folded close on itself, and in any frame', () => {
    const r = seededRandom(5);
    for (let i = 0; i < 20; i++) {
      const t = randomTurn(r);
      const frame = [0, 1, 2].flatMap((k) => [t[3 * k]!, t[3 * k + 1]!, t[3 * k + 2]!, 100 * r()]) as never;
      const fold = joinMeshes([sheet(60, 40), at(sheet(60, 40), 0, 0, 0.01)]);
      const cut = carve(transformMesh(fold, frame), {
        cutters: [transformMesh(pin(), frame)],
        operation: 'subtract',
      }).mesh;
      expect(area(cut)).toBeCloseTo(2 * (2400 - ngon(8, 64)), 6);
      expect([faceCount(cut), cornerCount(cut)]).toEqual([2, 2 * 68]);
    }
  });

  it('a curved open sheet keeps closed forms too', () => {
    // A pipe without its ends, slit along its whole length.
    const pipe = tube(20, 18, 60, 48);
    const outer = carve(pipe, { cutters: [box(100, 4, 100)], operation: 'subtract' }).mesh;
    expect(isClosed(outer)).toBe(true);
    const skin = openPipe(20, 60, 48);
    const slit = carve(skin, { cutters: [at(box(40, 4, 100), 20, 0, 0)], operation: 'subtract' }).mesh;
    const facet = 2 * 20 * Math.sin(Math.PI / 48);
    // The slit takes the strip |y| < 2 of the two facets that meet on the x axis.
    const slope = Math.cos(Math.PI / 48);
    expect(facet).toBeGreaterThan(2);
    expect(area(slit)).toBeCloseTo(48 * facet * 60 - (2 * 2 * 60) / slope, 7);
  });

  it('refuses to add to a sheet, and to cut with one', () => {
    expect(() => carve(sheet(60, 40), { cutters: [pin()], operation: 'union' })).toThrow(/no inside/);
    expect(() => carve(plate(), { cutters: [sheet(60, 40)], operation: 'subtract' })).toThrow(/is not closed/);
    expect(() => carve(sheet(60, 40), { cutters: [at(pin(), 500, 0, 0)], operation: 'intersect' })).toThrow(
      /do not meet/,
    );
  });
});

/** The skin of a cylinder without its caps; a vertex of it lies on the x axis. */
function openPipe(r: number, height: number, n: number): PolyMesh {
  const m = cylinder(r, height, n);
  const { min, max } = bounds(m);
  const side: number[] = [];
  for (let f = 0; f < faceCount(m); f++) {
    const z = [...m.corners.slice(m.loopStart[m.faceLoops[f]!]!, m.loopStart[m.faceLoops[f + 1]!]!)].map(
      (v) => m.positions[3 * v + 2]!,
    );
    if (z.includes(min[2]) && z.includes(max[2])) side.push(f);
  }
  return takeFaces(m, (f) => side.includes(f));
}

describe('layers through a cut', () => {
  /** Texture coordinates by box projection at 0.02 a millimetre, as an imported part may have. */
  function textured(m: PolyMesh): PolyMesh {
    const normals = faceNormals(m);
    const uv = new Float64Array(2 * m.corners.length);
    for (let f = 0; f < faceCount(m); f++) {
      const axis = [0, 1, 2].findIndex((k) => Math.abs(normals[3 * f + k]!) > 0.9);
      const [a, b] = [0, 1, 2].filter((k) => k !== axis) as [number, number];
      for (let c = m.loopStart[m.faceLoops[f]!]!; c < m.loopStart[m.faceLoops[f + 1]!]!; c++)
        uv.set([0.02 * m.positions[3 * m.corners[c]! + a]!, 0.02 * m.positions[3 * m.corners[c]! + b]!], 2 * c);
    }
    return { ...m, layers: { ...m.layers, uv } };
  }

  it('new walls are textured at the scale of the target, old faces as they were', () => {
    const { mesh } = carve(textured(plate()), {
      cutters: [at(box(20, 10, 40), 5, 0, 0)],
      operation: 'subtract',
      course: 3,
    });
    const uv = mesh.layers.uv!;
    for (let f = 0; f < faceCount(mesh); f++) {
      const [begin, end] = [mesh.loopStart[mesh.faceLoops[f]!]!, mesh.loopStart[mesh.faceLoops[f]! + 1]!];
      for (let c = begin; c < end; c++) {
        const d = c + 1 < end ? c + 1 : begin;
        const [v, w] = [3 * mesh.corners[c]!, 3 * mesh.corners[d]!];
        const length = Math.hypot(...[0, 1, 2].map((k) => mesh.positions[v + k]! - mesh.positions[w + k]!));
        expect(Math.hypot(uv[2 * c]! - uv[2 * d]!, uv[2 * c + 1]! - uv[2 * d + 1]!)).toBeCloseTo(0.02 * length, 9);
      }
    }
  });

  it('a mirrored cutter or part does not turn its faces', () => {
    const mirror = (m: PolyMesh) =>
      transformMesh(m, placementAffine({ position: [4, 0, 0], turn: [0, 0, 30], scale: [-1, 1, 1] }));
    const wedge = mirror(at(box(10, 10, 40), 12, 3, 0));
    expect(volume(wedge)).toBeCloseTo(4000, 9);
    const { mesh } = carve(mirror(plate()), { cutters: [wedge], operation: 'subtract' });
    expect(isClosed(mesh)).toBe(true);
    expect(volume(mesh)).toBeCloseTo(120000 - 2000, 8);
  });
});
