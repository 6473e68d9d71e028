import { describe, expect, it } from 'vitest';
import { faceNormals, topologyOf, triangulateMesh, type PolyMesh } from '../mesh/index.ts';
import { departure } from '../survey/index.ts';
import { addCut, addPart, Evaluator, findPart, intendedOf, newProject, Shape, type Project } from './index.ts';

const none = () => undefined;
const made = (p: Project, id = 2) => {
  const part = findPart(p, id)!;
  const { mesh } = new Evaluator(() => 0).evaluate(part, none);
  return { mesh, intended: intendedOf(part, mesh), look: departure(mesh, intendedOf(part, mesh)) };
};
const base = (shape: Record<string, unknown>) => addPart(newProject('p', 'P'), 'Hull', Shape.parse(shape));
const hull = { kind: 'cylinder', diameter: 76, height: 70, segments: 64 };
const port = (p: Project) =>
  addCut(p, 2, { name: 'Port', shape: Shape.parse({ kind: 'cylinder', diameter: 25, height: 60, segments: 48 }), placement: { position: [40, 0, 0], turn: [0, 90, 0] } }); // prettier-ignore

describe('how far the shading departs from the surface that is meant', () => {
  it.each([
    ['a round hull', hull],
    ['a tube', { kind: 'tube', diameter: 60, bore: 40, height: 30, segments: 32 }],
    ['a turned body', { kind: 'turned', segments: 48, points: [[0, 0], [20, 0], [20, 30], [0, 30]] }],
  ])('%s that is shaded smoothly departs nowhere at its corners and the middles of its flats', (_, shape) => {
    const { look } = made(base(shape));
    // Between two corners of a flat the interpolated normal is the radius itself.
    expect(look.worst.angle).toBeLessThan(1e-4);
  }); // prettier-ignore

  it('a cone departs by next to nothing at its corners, and inside of its flats by what triangles make of them', () => {
    const { look } = made(base({ kind: 'cone', foot: 60, top: 30, height: 30, segments: 48 }));
    // The mean of two leaning normals leans a little less than either.
    expect(Math.max(...look.values)).toBeLessThan(0.06);
    expect(look.worst.angle).toBeLessThan(360 / 48 / 4);
  });

  it('where the straight side of a slot goes over into its round end it is half a flat', () => {
    const { look } = made(base({ kind: 'slot', x: 60, y: 20, z: 10, segments: 24 }));
    // The shared normal of a side and the first flat, which leans by half of 180° / 24.
    expect(look.worst.angle).toBeCloseTo(180 / 24 / 4, 4);
  });

  it('a box is flat and meant to be', () => {
    expect(made(base({ kind: 'box', x: 3, y: 4, z: 5 })).look.worst.angle).toBeLessThan(1e-4);
  });

  it('at the rim of a hole in a hull it is as far as the rim is from the middle of its flat, in degrees round the axis', () => {
    const { mesh, look } = made(port(base(hull)));
    const t = topologyOf(mesh);
    const { source, seam } = mesh.layers;
    const flat = 360 / 64;
    let checked = 0;
    // Rim vertices with one face of the hull round them: its normal is theirs.
    const around = new Map<number, Set<number>>();
    mesh.corners.forEach((v, c) => {
      const f = t.face[c]!;
      if (source![3 * f] !== 1) return;
      around.set(v, (around.get(v) ?? new Set()).add(f));
    });
    const { triangles } = triangulateMesh(mesh);
    triangles.forEach((c, i) => {
      const v = mesh.corners[c]!;
      const f = t.face[c]!;
      if (source![3 * f] !== 1 || around.get(v)!.size !== 1 || !(seam![c] || seam![t.prev[c]!])) return;
      const [x, y] = [mesh.positions[3 * v]!, mesh.positions[3 * v + 1]!];
      if (Math.abs(Math.hypot(x, y) - 38) > 0.2) return;
      const azimuth = (Math.atan2(y, x) * 180) / Math.PI;
      const middle = (Math.floor(azimuth / flat) + 0.5) * flat;
      expect(look.values[i]).toBeCloseTo(Math.abs(azimuth - middle), 3);
      checked++;
    });
    expect(checked).toBeGreaterThan(20);
    expect(look.worst.angle).toBeGreaterThan(1);
    expect(look.worst.angle).toBeLessThan(flat);
  });

  it('a repeated cutter is told by its nearest instance, one that is stretched counts as it is', () => {
    const p = port(base(hull));
    const cut = findPart(p, 2)!.courses[1]!;
    const { intended } = made(p);
    // On the wall of the port, whose axis is x: square to that axis.
    const n = intended(faceOf(made(p).mesh, cut.kind === 'cut' ? cut.params.cutters[0]!.id : 0), [35, 12.5, 0]);
    expect(Math.abs(n[0])).toBeLessThan(1e-9);
    expect(Math.abs(n[1]) / Math.hypot(...n)).toBeCloseTo(1, 9);
  });
});

/** A wall face that a body made: one that does not look along x. */
const faceOf = (m: PolyMesh, body: number): number => {
  const n = faceNormals(m);
  return Array.from({ length: m.faceLoops.length - 1 }, (_, f) => f).find((f) => m.layers.source![3 * f] === body && Math.abs(n[3 * f]!) < 0.5)!; // prettier-ignore
};
