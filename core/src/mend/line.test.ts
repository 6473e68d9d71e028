import { describe, expect, it } from 'vitest';
import { areaAndVolume, faceCount, isClosed, topologyOf, vertexCount } from '../mesh/index.ts';
import { box } from '../shapes/index.ts';
import { cutLine, lineThrough, stopsAlong } from './line.ts';
import { grid, placeOfVertex, vertexAt } from './testMeshes.ts';

const m = grid(4);
const t = topologyOf(m);
/** A path over the grid in small steps through some places, each with its face. */
function path(...through: [number, number][]) {
  const out: { face: number; point: [number, number, number] }[] = [];
  through.slice(1).forEach(([x1, y1], i) => {
    const [x0, y0] = through[i]!;
    for (let s = 0; s < 50; s++) {
      const [x, y] = [x0 + ((x1 - x0) * s) / 50, y0 + ((y1 - y0) * s) / 50];
      out.push({ face: Math.min(3, Math.floor(x)) + 4 * Math.min(3, Math.floor(y)), point: [x, y, 0] });
    }
  });
  return out;
}
const places = (stops: ReturnType<typeof stopsAlong>) =>
  stops.map(({ edge, share }) =>
    [0, 1].map(
      (k) =>
        m.positions[3 * m.corners[edge]! + k]! * (1 - share) + share * m.positions[3 * m.corners[t.next[edge]!]! + k]!,
    ),
  );

describe('a line drawn freehand', () => {
  it('stops where it passes from face to face, and on the nearest edges at its ends', () => {
    const stops = stopsAlong(m, path([0.1, 1.5], [2, 1.3], [3.97, 1.6]), 0);
    expect(stops).toHaveLength(5);
    expect(places(stops).map(([x]) => +x!.toFixed(9))).toEqual([0, 1, 2, 3, 4]);
    expect(places(stops)[0]![1]).toBeCloseTo(1.5, 9);
    expect(Math.abs(places(stops)[2]![1]! - 1.3)).toBeLessThan(0.02);
    const r = cutLine(m, { stops });
    expect([r.report.cut, r.report.added, faceCount(r.mesh), vertexCount(r.mesh)]).toEqual([4, 5, 20, 30]);
    expect(areaAndVolume(r.mesh).area).toBeCloseTo(16, 12);
  });

  it('goes through vertices that are within reach', () => {
    const stops = stopsAlong(m, path([1.02, 0.05], [1.05, 0.98], [2.9, 3.05], [3.5, 3.98]), 0.1);
    const at = places(stops).map((p) => p.map((x) => +x.toFixed(9)).join());
    expect(at).toContain('1,1');
    const r = cutLine(m, { stops });
    expect(areaAndVolume(r.mesh).area).toBeCloseTo(16, 12);
    expect(vertexAt(r.mesh, 1, 1)).toBeGreaterThan(0);
  });

  it('within one face leads nowhere, and without a path there is none', () => {
    expect(stopsAlong(m, [], 0)).toEqual([]);
    expect(stopsAlong(m, path([1.4, 1.1], [1.6, 1.1]), 0)).toHaveLength(1);
  });
});

describe('a line through to the back', () => {
  const b = box(10, 20, 30);
  const top = topologyOf(b);
  /** A stop on an edge of the top that runs along an axis, at a place of the other one. */
  const stop = (across: 0 | 1, at: number, share: number) => {
    const edge = [...top.edgeCorner].find((c) => {
      const [p, q] = [placeOfVertex(b, b.corners[c]!), placeOfVertex(b, b.corners[top.next[c]!]!)];
      return p[2] === 15 && q[2] === 15 && p[across] === at && q[across] === at;
    })!;
    return { edge, share };
  };

  it('parts the whole body along the plane of its ends, square to the face that both are on', () => {
    const r = lineThrough(b, { stops: [stop(1, -10, 0.5), stop(1, 10, 0.5)], size: 40 });
    expect([r.report.cut, faceCount(r.mesh), isClosed(r.mesh)]).toEqual([4, 10, true]);
    expect(areaAndVolume(r.mesh).volume).toBe(6000);
    const added = Array.from({ length: vertexCount(r.mesh) }, (_, v) => placeOfVertex(r.mesh, v)).filter(
      ([x]) => x === 0,
    ); // in the plane x = 0
    expect(added.length).toBe(4);
  });

  it('refuses a line without length', () => {
    expect(() => lineThrough(b, { stops: [stop(1, -10, 0.5), stop(1, -10, 0.5)], size: 40 })).toThrow(/has no length/);
  });
});
