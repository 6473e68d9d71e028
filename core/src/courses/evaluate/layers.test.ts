import { describe, expect, it } from 'vitest';
import { skerryLight } from '../../demo/index.ts';
import { layerFaults, withSlot, type PolyMesh } from '../../mesh/index.ts';
import { sheet } from '../../shapes/index.ts';
import { addCourse, addCut, addPart, Evaluator, newProject, newShape, type Project } from '../index.ts';

const at = (x: number, y: number, z: number) => ({
  position: [x, y, z] as [number, number, number],
  turn: [0, 0, 0] as [number, number, number],
});
const box = (x: number, y: number, z: number) => ({ ...newShape('box'), x, y, z }) as ReturnType<typeof newShape>;

/** A part's result, with the result of every course checked. */
function whole(p: Project, part: number, store: (hash: string) => PolyMesh | undefined = () => undefined): PolyMesh {
  const evaluator = new Evaluator();
  evaluator.parts = p.parts;
  const of = p.parts.find((x) => x.id === part)!;
  let mesh: PolyMesh | null = null;
  for (let n = 1; n <= of.courses.length; n++) {
    const r = evaluator.evaluate({ ...of, courses: of.courses.slice(0, n) }, store);
    expect(r.courses.map((c) => c.error?.message).filter(Boolean)).toEqual([]);
    expect(layerFaults(r.mesh), `after ${of.courses[n - 1]!.name}`).toEqual([]);
    mesh = r.mesh;
  }
  return mesh!;
}

describe('layers are whole or absent', () => {
  it('a cutter with light of its own leaves none of the body dark', () => {
    let p = addPart(newProject('p', 'P'), 'Cutter', box(52, 36, 32), 'Body', at(0, 0, 20));
    const cutter = p.parts[0]!.id;
    p = addCourse(p, cutter, 'finish', 'Edge finish', { width: 4 });
    p = addPart(p, 'Base', box(80, 60, 40));
    const base = p.parts[1]!.id;
    p = addCut(p, base, {
      name: 'Pocket',
      shape: { kind: 'part', part: cutter, title: 'Cutter' },
      placement: at(0, 0, 0),
    });
    const mesh = whole(p, base);
    const { normal } = mesh.layers;
    // The body's own flats are lit square to them: its lower face looks down all over.
    let down = 0;
    for (let c = 0; c < mesh.corners.length; c++)
      if (mesh.positions[3 * mesh.corners[c]! + 2] === -20 && normal![3 * c + 2] === -1) down++;
    expect(down).toBe(4);
    const united = addCut(
      p,
      base,
      { name: 'More', shape: { kind: 'part', part: cutter, title: 'Cutter' }, placement: at(70, 0, 0) },
      'union',
    );
    whole(united, base);
  });

  it('texture coordinates that one side lacks are made, in both directions', () => {
    const bare = withSlot(sheet(40, 40, [4, 4]), 'Body');
    const mapped = {
      ...bare,
      layers: {
        ...bare.layers,
        uv: Float64Array.from(
          { length: 2 * bare.corners.length },
          (_, i) => 0.01 * bare.positions[3 * bare.corners[i >> 1]! + (i & 1)]!,
        ),
      },
    };
    const store = (hash: string) => ({ aaaaaaaa: bare, bbbbbbbb: mapped })[hash];
    for (const hash of ['aaaaaaaa', 'bbbbbbbb']) {
      let p = addPart(newProject('p', 'P'), 'Sheet', {
        kind: 'mesh',
        hash,
        title: 'Sheet',
        closed: false,
        turned: false,
      });
      const part = p.parts[0]!.id;
      p = addCourse(p, part, 'thicken', 'Thicken', { thickness: 5 });
      p = addPart(p, 'Other', box(10, 10, 30));
      const other = p.parts[1]!.id;
      const both = addCut(p, part, { name: 'Hole', shape: newShape('cylinder'), placement: at(0, 0, 0) });
      const { uv } = whole(both, part, store).layers;
      expect(!!uv).toBe(hash === 'bbbbbbbb');
      const back = addCut(
        p,
        other,
        { name: 'Slot', shape: { kind: 'part', part, title: 'Sheet' }, placement: at(0, 0, 0) },
        'union',
      );
      const made = whole(back, other, store);
      expect(!!made.layers.uv).toBe(hash === 'bbbbbbbb');
      // Spread out, not all at one place.
      if (made.layers.uv) expect(new Set(made.layers.uv).size).toBeGreaterThan(8);
    }
  });

  it('in every course of the sample scene, with a finish, a relight and a subdivision over each', () => {
    let p = skerryLight('p');
    for (const part of p.parts) whole(p, part.id);
    const clamp = p.parts.find((x) => x.name === 'Mast clamp')!.id;
    p = addCourse(p, clamp, 'finish', 'Edge finish', { width: 0.5 });
    p = addCourse(p, clamp, 'relight', 'Relight', {});
    p = addCut(p, clamp, { name: 'Hole', shape: newShape('cylinder'), placement: at(0, 0, 0) });
    whole(p, clamp);
  });
});
