import { describe, expect, it } from 'vitest';
import { faceNormals, topologyOf, triangulateMesh, type PolyMesh } from '../../mesh/index.ts';
import { ballFromRings } from '../../shapes/index.ts';
import { departure } from '../../survey/index.ts';
import { addCut, addPart, Evaluator, findPart, guideOf, newProject, Shape, type Project } from '../index.ts';

const none = () => undefined;
const made = (p: Project, id = 2) => {
  const part = findPart(p, id)!;
  const { mesh } = new Evaluator(() => 0).evaluate(part, none);
  const guide = guideOf(part, mesh, none);
  return { mesh, guide, look: departure(mesh, guide.normal) };
};
const base = (shape: Record<string, unknown>) => addPart(newProject('p', 'P'), 'Hull', Shape.parse(shape));
const hull = { kind: 'cylinder', diameter: 76, height: 70, segments: 64 };
const port = (p: Project) =>
  addCut(p, 2, {
    name: 'Port',
    shape: Shape.parse({ kind: 'cylinder', diameter: 25, height: 60, segments: 48 }),
    placement: { position: [40, 0, 0], turn: [0, 90, 0] },
  });

describe('how far the shading departs from the surface that is meant', () => {
  it.each([
    ['a round hull', hull],
    ['a tube', { kind: 'tube', diameter: 60, bore: 40, height: 30, segments: 32 }],
    [
      'a turned body',
      {
        kind: 'turned',
        segments: 48,
        points: [
          [0, 0],
          [20, 0],
          [20, 30],
          [0, 30],
        ],
      },
    ],
  ])('%s that is shaded smoothly departs nowhere at its corners and the middles of its flats', (_, shape) => {
    const { look } = made(base(shape));
    // Between two corners of a flat the interpolated normal is the radius itself.
    expect(look.worst.angle).toBeLessThan(1e-4);
  });

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
    const { guide } = made(p);
    // On the wall of the port, whose axis is x: square to that axis.
    const n = guide.normal(faceOf(made(p).mesh, cut.kind === 'cut' ? cut.params.cutters[0]!.id : 0), [35, 12.5, 0]);
    expect(Math.abs(n[0])).toBeLessThan(1e-9);
    expect(Math.abs(n[1]) / Math.hypot(...n)).toBeCloseTo(1, 9);
  });
});

describe('the guide surface', () => {
  const arcs = {
    kind: 'outline',
    height: 10,
    segments: 64,
    points: [
      [-20, -10],
      [20, -10],
      [20, 10],
      [-20, 10],
    ],
    bows: [0, 6, 0, 0],
    radii: [0, 0, 0, 5],
  };

  it('of an outline with an arc and a rounded corner is round on their flats, flat elsewhere', () => {
    const { mesh, guide } = made(base(arcs));
    const n = faceNormals(mesh);
    const corner: [number, number] = [-15, 5];
    // The arc over the right side: chord 20, bow 6.
    const radius = 100 / 12 + 3;
    const bow: [number, number] = [20 + 6 - radius, 0];
    let [onBow, onCorner] = [0, 0];
    for (let f = 0; f < mesh.faceLoops.length - 1; f++) {
      if (Math.abs(n[3 * f + 2]!) > 0.5) continue;
      const c = [0, 1, 2].map((k) => {
        const list = [...mesh.corners.slice(mesh.loopStart[f], mesh.loopStart[f + 1])];
        return list.reduce((s, v) => s + mesh.positions[3 * v + k]!, 0) / list.length;
      }) as [number, number, number];
      const g = guide.normal(f, c);
      const [x, y] = [g[0] / Math.hypot(...g), g[1] / Math.hypot(...g)];
      const at = c[0] > 20 + 1e-9 ? bow : c[0] < -15 && c[1] > 5 ? corner : null;
      if (!at) {
        expect([x, y]).toEqual([expect.closeTo(n[3 * f]!, 9), expect.closeTo(n[3 * f + 1]!, 9)]);
        expect(guide.off(f, c)).toBeCloseTo(0, 9);
        continue;
      }
      const r = Math.hypot(c[0] - at[0], c[1] - at[1]);
      expect([x, y]).toEqual([expect.closeTo((c[0] - at[0]) / r, 9), expect.closeTo((c[1] - at[1]) / r, 9)]);
      // The middle of a flat is inside of the circle by the sagitta.
      expect(guide.off(f, c)).toBeCloseTo((at === bow ? radius : 5) - r, 9);
      if (at === bow) onBow++;
      else onCorner++;
    }
    expect(onBow).toBeGreaterThan(8);
    expect(onCorner).toBe(16);
  });

  it.each([
    ['a cylinder', { kind: 'cylinder', diameter: 20, height: 30, segments: 32 }, [10.5, 0, 3], 0.5],
    ['a ball', { kind: 'ball', diameter: 20, segments: 24, rings: 12 }, [0, 0, 12], 2],
    ['a torus', { kind: 'torus', diameter: 40, thickness: 10, segments: 24, rings: 16 }, [20, 0, 6], 1],
    ['a cone', { kind: 'cone', foot: 40, top: 20, height: 10, segments: 32 }, [17, 0, 0], Math.SQRT2],
  ])('of %s is as far off as its closed form says', (_, shape, p, far) => {
    const { mesh, guide } = made(base(shape as Record<string, unknown>));
    const n = faceNormals(mesh);
    const face = Array.from({ length: mesh.faceLoops.length - 1 }, (_, f) => f).find(
      (f) => Math.abs(n[3 * f + 2]!) < 0.95,
    )!;
    expect(guide.off(face, p as [number, number, number])).toBeCloseTo(far, 9);
  });

  it('of an imported mesh is what it was before the first cut: a hole leaves the departure that the hole makes', () => {
    const ball = ballFromRings(20, 48, 24);
    const store = () => ball;
    const p = base({ kind: 'mesh', hash: 'abcdef0123456789', title: 'Ball' });
    const cut = addCut(p, 2, {
      name: 'Hole',
      shape: Shape.parse({ kind: 'cylinder', diameter: 12, height: 60, segments: 32 }),
      placement: { position: [0, 0, 0], turn: [0, 90, 0] },
    });
    const look = (q: Project) => {
      const part = findPart(q, 2)!;
      const { mesh } = new Evaluator(() => 0).evaluate(part, store);
      return { mesh, ...departure(mesh, guideOf(part, mesh, store).normal) };
    };
    expect(look(p).worst.angle).toBeLessThan(1e-3);
    const holed = look(cut);
    expect(holed.worst.angle).toBeGreaterThan(1);
    // At a rim: 6 mm off the axis of the hole.
    expect(Math.hypot(holed.worst.point[1], holed.worst.point[2])).toBeCloseTo(6, 0);
  });

  it('of a face that nothing is known of is the smooth surface of the mesh itself, whatever normals it carries', () => {
    const m = ballFromRings(20, 32, 16);
    const part = findPart(base({ kind: 'box', x: 1, y: 1, z: 1 }), 2)!;
    const smooth = guideOf(part, m, none).normal;
    expect(departure(m, smooth).worst.angle).toBeLessThan(1e-3);
    const flat = faceNormals(m);
    const t = topologyOf(m);
    const faceted = {
      ...m,
      layers: {
        normal: Float32Array.from(
          { length: 3 * m.corners.length },
          (_, i) => flat[3 * t.face[Math.floor(i / 3)]! + (i % 3)]!,
        ),
      },
    };
    // A flat's own normal against that of its corner: half of what two rings and two flats lie apart.
    expect(departure(faceted, smooth).worst.angle).toBeGreaterThan(5);
  });
});

/** A wall face that a body made: one that does not look along x. */
const faceOf = (m: PolyMesh, body: number): number => {
  const n = faceNormals(m);
  return Array.from({ length: m.faceLoops.length - 1 }, (_, f) => f).find(
    (f) => m.layers.source![3 * f] === body && Math.abs(n[3 * f]!) < 0.5,
  )!;
};
