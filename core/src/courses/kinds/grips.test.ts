import { describe, expect, it } from 'vitest';
import {
  add,
  faceCount,
  faceNormals,
  lengthOf,
  nearestOn,
  sub,
  topologyOf,
  vertexCount,
  vertexPlace,
  type PolyMesh,
  type Vec3,
} from '../../mesh/index.ts';
import { carve } from '../../carve/index.ts';
import { deleteFaces, seamEdges } from '../../mend/index.ts';
import { box, cylinder, sheet } from '../../shapes/index.ts';
import { fieldsOf } from '../base/fields.ts';
import { pickOf, type PickedOn } from '../base/picks.ts';
import { type StrokeName, STROKES } from '../settings/strokes.ts';
import type { StrokeReport } from './courseKind.ts';
import { STROKE_KINDS } from './strokeList.ts';

const block = box(30, 20, 10);
const bored = carve(box(40, 40, 10), { cutters: [cylinder(8, 30, 24)], operation: 'subtract', course: 3 }).mesh;
const top = (m: PolyMesh) => [...Array(faceCount(m)).keys()].find((f) => faceNormals(m)[3 * f + 2]! > 0.9)!;
const longEdge = (m: PolyMesh) => {
  const t = topologyOf(m);
  return [...t.edgeCorner].find(
    (c) => Math.abs(m.positions[3 * m.corners[c]!]! - m.positions[3 * m.corners[t.next[c]!]!]!) > 29,
  )!;
};

function run(kind: StrokeName, m: PolyMesh, on: PickedOn, ids: number[], params: object) {
  const { settings } = STROKES[kind];
  const p = settings.parse({ ...params, pick: pickOf(m, on, ids) });
  const made = STROKE_KINDS[kind].run(undefined, m, p as never, { store: () => undefined, course: 9 });
  return { mesh: made.mesh, report: made.report as StrokeReport, params: p as Record<string, unknown> };
}
/** Where a grip stands with its setting as it is. */
function gripAt({ report, params }: { report: StrokeReport; params: Record<string, unknown> }, key: string): Vec3 {
  const g = report.grips!.find((x) => x.key === key)!;
  return add(g.at, g.along, params[key] as number);
}
/** How far a place is from the nearest edge of a mesh. */
function toEdge(m: PolyMesh, p: Vec3): number {
  const t = topologyOf(m);
  return Math.min(
    ...[...t.edgeCorner].map(
      (c) => nearestOn(p, vertexPlace(m, m.corners[c]!), vertexPlace(m, m.corners[t.next[c]!]!)).distance,
    ),
  );
}
const toVertex = (m: PolyMesh, p: Vec3): number =>
  Math.min(...[...Array(vertexCount(m)).keys()].map((v) => lengthOf(sub(p, vertexPlace(m, v)))));

describe('where settings are taken hold of', () => {
  it('an inset: on the edge of the smaller face, and in its middle', () => {
    const r = run('inset', block, 'face', [top(block)], { distance: 3, depth: 2 });
    const p = gripAt(r, 'distance');
    // The smaller face was raised by 2; the grip of the border stays on the old face.
    expect(toEdge(r.mesh, [p[0], p[1], p[2] + 2])).toBeLessThan(1e-12);
    expect(gripAt(r, 'depth')).toEqual([0, 0, 7]);
    expect(r.report.grips![0]!.most).toBeCloseTo(10, 4);
    expect(run('inset', block, 'face', [top(block)], { most: true }).report.grips!.map((g) => g.key)).toEqual([
      'depth',
    ]);
  });
  it('an extrusion: in the middle of the moved face, also along an axis', () => {
    expect(gripAt(run('extrude', block, 'face', [top(block)], { distance: 4 }), 'distance')).toEqual([0, 0, 9]);
    expect(gripAt(run('extrude', block, 'face', [top(block)], { distance: 4, along: 'x' }), 'distance')).toEqual([
      4, 0, 5,
    ]);
  });
  it('a face with a hole in its middle is held beside the hole', () => {
    const p = gripAt(run('extrude', bored, 'face', [top(bored)], { distance: 4 }), 'distance');
    expect(Math.hypot(p[0], p[1])).toBeGreaterThan(8);
    expect(p[2]).toBe(9);
  });
  it.each([
    ['offset', 2],
    // At a right angle the strip of a rounding begins a radius away, that of a flat √2 times its depth.
    ['radius', 2],
    ['depth', 2 * Math.SQRT2],
  ] as const)('a bevel measured by %s: where its strip begins, %s mm from the edge', (measure, far) => {
    const edge = longEdge(block);
    const r = run('bevel', block, 'edge', [edge], { width: 2, measure, over: false });
    const p = gripAt(r, 'width');
    expect(toEdge(r.mesh, p)).toBeLessThan(1e-9);
    expect(toEdge(block, p)).toBeCloseTo(far, 9);
  });
  it('a finish by a share of neighbours has none, as no one length says where it is', () => {
    expect(run('finish', block, 'edge', [longEdge(block)], { measure: 'share' }).report.grips).toEqual([]);
  });
  it('a loop and a split: at the vertex they make, from either end', () => {
    const edge = longEdge(block);
    for (const [kind, params, key] of [
      ['loop', { by: 'share', share: 0.2 }, 'share'],
      ['loop', { by: 'share', share: 0.2, flipped: true }, 'share'],
      ['loop', { by: 'distance', distance: 7 }, 'distance'],
      ['split', { by: 'share', share: 0.3 }, 'share'],
      ['split', { by: 'distance', distance: 11 }, 'distance'],
    ] as const) {
      const r = run(kind, block, 'edge', [edge], params);
      expect(toVertex(r.mesh, gripAt(r, key)), `${kind} ${JSON.stringify(params)}`).toBeLessThan(1e-9);
    }
    expect(run('loop', block, 'edge', [edge], { by: 'parts', parts: 3 }).report.grips).toEqual([]);
  });
  it('a corner that is cut off, lines that hold an edge, and a band', () => {
    const corner = run('cutOff', block, 'vertex', [0], { width: 3 });
    expect(toVertex(corner.mesh, gripAt(corner, 'width'))).toBeLessThan(1e-9);
    const held = run('hold', block, 'edge', [longEdge(block)], { distance: 1.5 });
    expect(toEdge(held.mesh, gripAt(held, 'distance'))).toBeLessThan(1e-9);
    const band = run('collar', bored, 'edge', seamEdges(bored), { width: 3, rows: 1 });
    expect(toEdge(band.mesh, gripAt(band, 'width'))).toBeLessThan(1e-9);
  });
  it('a thickness: on the far side of the sheet, half as far where it grows both ways', () => {
    const flat = sheet(20, 20, [2, 2]);
    const all = [...Array(faceCount(flat)).keys()];
    const far = (side: string) => gripAt(run('thicken', flat, 'face', all, { thickness: 4, side }), 'thickness')[2];
    expect([far('inside'), far('outside'), far('both')]).toEqual([-4, 4, 2]);
  });
  it('a plane: in the middle of the part, at its distance or share', () => {
    const all = [...Array(faceCount(block)).keys()];
    expect(gripAt(run('plane', block, 'face', all, { axis: 'x', by: 'distance', at: 4 }), 'at')).toEqual([4, 0, 0]);
    expect(gripAt(run('plane', block, 'face', all, { axis: 'y', by: 'share', share: 0.25 }), 'share')).toEqual([
      0, -5, 0,
    ]);
  });
  it('every setting that is taken hold of is one of the form, and a number', () => {
    const all = [...Array(faceCount(block)).keys()];
    for (const [kind, on, ids] of [
      ['inset', 'face', [0]],
      ['extrude', 'face', [0]],
      ['bevel', 'edge', [longEdge(block)]],
      ['ownWidth', 'edge', [longEdge(block)]],
      ['mirror', 'face', all],
    ] as const) {
      const fields = new Map(fieldsOf(STROKES[kind].settings).map((f) => [f.key, f.meta.as]));
      const { grips } = run(kind, block, on, [...ids], kind === 'mirror' ? { at: 2 } : {}).report;
      expect(grips!.length).toBeGreaterThan(0);
      for (const g of grips!) expect(['length', 'share']).toContain(fields.get(g.key));
    }
  });
});

describe('what one goes on with', () => {
  const normalsOf = (m: PolyMesh, ids: number[]) => ids.map((f) => [...faceNormals(m).slice(3 * f, 3 * f + 3)]);
  it('the smaller face of an inset, the moved one of an extrusion', () => {
    const inset = run('inset', block, 'face', [top(block)], { distance: 3, depth: 1 });
    expect(inset.report.made!.ids).toHaveLength(1);
    const f = inset.report.made!.ids[0]!;
    const corners = [...inset.mesh.corners.subarray(...faceRange(inset.mesh, f))].map((v) =>
      vertexPlace(inset.mesh, v),
    );
    expect(corners.every((p) => p[2] === 6 && Math.abs(p[0]) === 12 && Math.abs(p[1]) === 7)).toBe(true);
    const out = run('extrude', inset.mesh, 'face', [f], { distance: 2 });
    const g = out.report.made!.ids[0]!;
    expect(normalsOf(out.mesh, [g])).toEqual([[0, 0, 1]]);
    expect(vertexPlace(out.mesh, out.mesh.corners[faceRange(out.mesh, g)[0]]!)[2]).toBe(8);
  });
  it('two faces inset one by one: both smaller ones', () => {
    const r = run('inset', block, 'face', [0, 1], { distance: 2 });
    expect(r.report.made!.ids).toHaveLength(2);
    for (const f of r.report.made!.ids) {
      const places = [...r.mesh.corners.subarray(...faceRange(r.mesh, f))].map((v) => vertexPlace(r.mesh, v));
      // No corner of a smaller face is one of the block's.
      expect(places.every((p) => toVertex(block, p) > 1)).toBe(true);
    }
  });
  it('what fills an opening', () => {
    const { mesh: open } = deleteFaces(block, { faces: [top(block)] });
    const edges = [...topologyOf(open).edgeCorner];
    const r = run('fill', open, 'edge', edges, { way: 'fan' });
    expect(normalsOf(r.mesh, r.report.made!.ids)).toEqual(Array.from({ length: 4 }, () => [0, 0, 1]));
  });
});

const faceRange = (m: PolyMesh, f: number): [number, number] => [
  m.loopStart[m.faceLoops[f]!]!,
  m.loopStart[m.faceLoops[f + 1]!]!,
];
